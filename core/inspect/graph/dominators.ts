/**
 * The immediate dominator of each node that `root` reaches: the last one that every path from the root passes before
 * it. −1 for the root and for what it does not reach. Lengauer & Tarjan, “A fast algorithm for finding dominators in a
 * flowgraph”, ACM
 * TOPLAS 1 (1979), with path compression alone: O(edges · log nodes). `edges[i]` lists where node i leads, `back[i]`
 * where it is led from.
 */
export function dominators(
  edges: readonly (readonly number[])[],
  back: readonly (readonly number[])[],
  root: number,
): Int32Array {
  const count = edges.length;
  const { order, number, parent } = depthFirst(edges, root);
  // from here on nodes are their numbers in depth-first order, as in the paper
  const semi = Int32Array.from(order, (_, i) => i);
  const label = Int32Array.from(order, (_, i) => i);
  const ancestor = new Int32Array(order.length).fill(-1);
  const dominator = new Int32Array(order.length).fill(-1);
  const bucket: number[][] = order.map(() => []);
  const evaluate = (v: number): number => {
    if (ancestor[v] === -1) return v;
    compress(v, ancestor, label, semi);
    return label[v]!;
  };
  for (let w = order.length - 1; w > 0; w--) {
    for (const from of back[order[w]!]!) {
      const v = number[from]!;
      if (v === -1) continue;
      const u = evaluate(v);
      if (semi[u]! < semi[w]!) semi[w] = semi[u]!;
    }
    bucket[semi[w]!]!.push(w);
    ancestor[w] = parent[w]!;
    for (const v of bucket[parent[w]!]!.splice(0)) {
      const u = evaluate(v);
      dominator[v] = semi[u]! < semi[v]! ? u : parent[w]!;
    }
  }
  for (let w = 1; w < order.length; w++) if (dominator[w] !== semi[w]) dominator[w] = dominator[dominator[w]!]!;
  const answer = new Int32Array(count).fill(-1);
  for (let w = 1; w < order.length; w++) answer[order[w]!] = order[dominator[w]!]!;
  return answer;
}

/** Makes the way up to the root of the forest one step long, carrying the label with the least semidominator along. */
function compress(v: number, ancestor: Int32Array, label: Int32Array, semi: Int32Array): void {
  const way: number[] = [];
  for (let at = v; ancestor[ancestor[at]!] !== -1; at = ancestor[at]!) way.push(at);
  for (let i = way.length - 1; i >= 0; i--) {
    const at = way[i]!;
    const above = ancestor[at]!;
    if (semi[label[above]!]! < semi[label[at]!]!) label[at] = label[above]!;
    ancestor[at] = ancestor[above]!;
  }
}

function depthFirst(
  edges: readonly (readonly number[])[],
  root: number,
): { order: number[]; number: Int32Array; parent: number[] } {
  const number = new Int32Array(edges.length).fill(-1);
  const order: number[] = [];
  const parent: number[] = [];
  const stack: { node: number; parent: number }[] = [{ node: root, parent: -1 }];
  for (let at = stack.pop(); at; at = stack.pop()) {
    if (number[at.node] !== -1) continue;
    const mine = order.length;
    number[at.node] = mine;
    order.push(at.node);
    parent.push(at.parent);
    const next = edges[at.node]!;
    for (let i = next.length - 1; i >= 0; i--)
      if (number[next[i]!] === -1) stack.push({ node: next[i]!, parent: mine });
  }
  return { order, number, parent };
}
