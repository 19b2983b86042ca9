/**
 * Strongly connected components, those that others depend on first. `before[i]` lists what i depends on.
 * Tarjan, “Depth-first search and linear graph algorithms”, SIAM J. Comput. 1 (1972), without recursion. O(nodes +
 * edges).
 */
export function stronglyConnected(before: readonly (readonly number[])[]): number[][] {
  const count = before.length;
  const order = new Int32Array(count).fill(-1);
  const low = new Int32Array(count);
  const onStack = new Uint8Array(count);
  const stack: number[] = [];
  const components: number[][] = [];
  let clock = 0;
  const callNode: number[] = [];
  const callEdge: number[] = [];
  for (let root = 0; root < count; root++) {
    if (order[root] !== -1) continue;
    callNode.push(root);
    callEdge.push(0);
    while (callNode.length > 0) {
      const v = callNode[callNode.length - 1]!;
      const edge = callEdge[callEdge.length - 1]!;
      if (edge === 0) {
        order[v] = low[v] = clock++;
        stack.push(v);
        onStack[v] = 1;
      }
      const next = before[v]!;
      if (edge < next.length) {
        callEdge[callEdge.length - 1] = edge + 1;
        const w = next[edge]!;
        if (order[w] === -1) {
          callNode.push(w);
          callEdge.push(0);
        } else if (onStack[w]) low[v] = Math.min(low[v]!, order[w]!);
        continue;
      }
      callNode.pop();
      callEdge.pop();
      const parent = callNode[callNode.length - 1];
      if (parent !== undefined) low[parent] = Math.min(low[parent]!, low[v]!);
      if (low[v] === order[v]) {
        const component: number[] = [];
        for (;;) {
          const w = stack.pop()!;
          onStack[w] = 0;
          component.push(w);
          if (w === v) break;
        }
        components.push(component);
      }
    }
  }
  return components;
}

/** The components in which something depends on itself: several nodes, or one that reads itself. O(nodes + edges). */
export function cyclesOf(before: readonly (readonly number[])[]): number[][] {
  return stronglyConnected(before).filter(
    (component) => component.length > 1 || before[component[0]!]!.includes(component[0]!),
  );
}
