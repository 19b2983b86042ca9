import { stronglyConnected } from './components.ts';

/**
 * The fewest edges of a graph without cycles that lead to the same nodes: those that follow from others are left out.
 * Aho, Garey & Ullman, “The transitive reduction of a directed graph”, SIAM J. Comput. 1 (1972). Edges within a cycle,
 * and those of one node to itself, are kept, since there the reduction is not unique. O(nodes · edges / 32) by rows of
 * bits. `edges[i]` lists where node i leads.
 */
export function transitiveReduction(edges: readonly (readonly number[])[]): number[][] {
  const components = stronglyConnected(edges);
  const of = new Int32Array(edges.length);
  components.forEach((component, c) => {
    for (const i of component) of[i] = c;
  });
  const width = Math.ceil(components.length / 32);
  const reach = components.map(() => new Int32Array(width));
  const kept: number[][] = edges.map(() => []);
  // components come with what they lead to first
  components.forEach((component, c) => {
    const own = reach[c]!;
    const targets = new Map<number, [number, number]>();
    for (const i of component)
      for (const k of edges[i]!) {
        if (of[k] === c) kept[i]!.push(k);
        else if (!targets.has(of[k]!)) targets.set(of[k]!, [i, k]);
      }
    // the later a component was found, the more it leads to: an edge is left out where one before it leads there
    for (const target of [...targets.keys()].sort((a, b) => b - a)) {
      if (own[target >> 5]! & (1 << (target & 31))) continue;
      const [i, k] = targets.get(target)!;
      kept[i]!.push(k);
      own[target >> 5]! |= 1 << (target & 31);
      const further = reach[target]!;
      for (let w = 0; w < width; w++) own[w]! |= further[w]!;
    }
  });
  return kept.map((list) => list.sort((a, b) => a - b));
}
