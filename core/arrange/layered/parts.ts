/** Disjoint sets of numbers (Tarjan 1975): joining and finding take nearly constant time. */
export class Sets {
  private readonly parent: Int32Array;

  constructor(count: number) {
    this.parent = Int32Array.from({ length: count }, (_, i) => i);
  }

  /** The number that stands for the set of i. */
  find(i: number): number {
    const { parent } = this;
    let root = i;
    while (parent[root] !== root) {
      // halving the path keeps the trees flat
      parent[root] = parent[parent[root]!]!;
      root = parent[root]!;
    }
    return root;
  }

  join(a: number, b: number): void {
    this.parent[this.find(a)] = this.find(b);
  }
}

/** Connected parts, each as ascending node numbers, in order of their first node. O(nodes + edges). */
export function connectedParts(count: number, from: ArrayLike<number>, to: ArrayLike<number>): number[][] {
  const sets = new Sets(count);
  for (let e = 0; e < from.length; e++) sets.join(from[e]!, to[e]!);
  const parts = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const root = sets.find(i);
    const part = parts.get(root);
    if (part) part.push(i);
    else parts.set(root, [i]);
  }
  return [...parts.values()];
}
