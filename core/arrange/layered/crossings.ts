/**
 * Crossings between two layers. Each edge is a pair of places: `upper[i]` on one layer, `lower[i]` on the other; edges
 * that share a place do not cross. Barth, Jünger & Mutzel, “Simple and efficient bilayer cross counting”, GD 2002:
 * inversions in an accumulator tree.
 * Places are whole numbers from 0; O(E log E) time, O(places) room.
 */
export function countCrossings(upper: ArrayLike<number>, lower: ArrayLike<number>): number {
  const edges = upper.length;
  if (edges < 2) return 0;
  const order = new Uint32Array(edges);
  let lowerPlaces = 1;
  for (let i = 0; i < edges; i++) {
    order[i] = i;
    lowerPlaces = Math.max(lowerPlaces, lower[i]! + 1);
  }
  order.sort((a, b) => upper[a]! - upper[b]! || lower[a]! - lower[b]!);
  let first = 1;
  while (first < lowerPlaces) first *= 2;
  const tree = new Int32Array(2 * first - 1);
  const leaves = first - 1;
  let count = 0;
  for (let k = 0; k < edges; k++) {
    let at = lower[order[k]!]! + leaves;
    tree[at]!++;
    while (at > 0) {
      if (at % 2 === 1) count += tree[at + 1]!;
      at = (at - 1) >> 1;
      tree[at]!++;
    }
  }
  return count;
}
