/** Connected parts, each as ascending node numbers, in order of their first node. O(nodes + edges). */
export function connectedParts(count: number, from: ArrayLike<number>, to: ArrayLike<number>): number[][] {
  const parent = Int32Array.from({ length: count }, (_, i) => i);
  const find = (i: number): number => {
    let root = i;
    while (parent[root] !== root) {
      // halving the path keeps the trees flat
      parent[root] = parent[parent[root]!]!;
      root = parent[root]!;
    }
    return root;
  };
  for (let e = 0; e < from.length; e++) parent[find(from[e]!)] = find(to[e]!);
  const parts = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const root = find(i);
    const part = parts.get(root);
    if (part) part.push(i);
    else parts.set(root, [i]);
  }
  return [...parts.values()];
}
