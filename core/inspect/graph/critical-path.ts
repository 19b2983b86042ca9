import { stronglyConnected } from './components.ts';

/** When each node can begin and must end at the latest so that nothing takes longer, in the unit of the times. */
export interface Schedule {
  /** The time of the whole. */
  readonly length: number;
  readonly earliest: Float64Array;
  readonly latest: Float64Array;
  /** By how much a node can take longer, or begin later, without delaying the whole; nodes without any are critical. */
  readonly slack: Float64Array;
  /** One chain of critical nodes from first to last, those of one cycle next to one another. */
  readonly path: readonly number[];
  /** When a node, or its cycle, is done at the earliest, and one chain of nodes that makes it so late, itself last. */
  until(node: number): { readonly length: number; readonly path: readonly number[] };
}

/**
 * The critical path method, Kelley & Walker, “Critical-path planning and scheduling”, Proc. Eastern Joint Computer
 * Conference 1959: a forward pass for the earliest starts, a backward pass for the latest. The nodes of a cycle count
 * as one that takes as long as all of them. Begins are those of the node, or of its cycle. `before[i]` lists what node
 * i waits for, `times[i]` ≥ 0. `ends`: what has to be done; without it all nodes. What no end waits for may begin as
 * late as one likes: its slack is infinite. O(nodes + edges).
 */
export function schedule(
  before: readonly (readonly number[])[],
  times: ArrayLike<number>,
  ends?: Iterable<number>,
): Schedule {
  const components = stronglyConnected(before);
  const of = new Int32Array(before.length);
  components.forEach((component, c) => {
    for (const i of component) of[i] = c;
  });
  const lasts = components.map((component) => component.reduce((sum, i) => sum + times[i]!, 0));
  const waits = components.map((component, c) =>
    [...new Set(component.flatMap((i) => before[i]!.map((k) => of[k]!)))].filter((one) => one !== c),
  );
  const begin = new Float64Array(components.length);
  const through = new Int32Array(components.length).fill(-1);
  // sources come first in the list of components
  components.forEach((_, c) => {
    for (const one of waits[c]!) {
      const end = begin[one]! + lasts[one]!;
      if (through[c] === -1 || end > begin[c]!) {
        begin[c] = end;
        through[c] = one;
      }
    }
  });
  const endOf = (c: number): number => begin[c]! + lasts[c]!;
  const goals = ends === undefined ? [...components.keys()] : [...new Set([...ends].map((i) => of[i]!))];
  const length = goals.reduce((most, c) => Math.max(most, endOf(c)), 0);
  const due = new Float64Array(components.length).fill(Number.POSITIVE_INFINITY);
  for (const c of goals) due[c] = length;
  for (let c = components.length - 1; c >= 0; c--)
    for (const one of waits[c]!) due[one] = Math.min(due[one]!, due[c]! - lasts[c]!);
  const last = goals.sort((a, b) => a - b).find((c) => endOf(c) === length) ?? -1;
  const chain = (goal: number): number[] => {
    const path: number[] = [];
    for (let c = goal; c >= 0; c = through[c]!) path.unshift(...[...components[c]!].reverse());
    return path;
  };
  const each = (value: (c: number) => number): Float64Array => Float64Array.from(before, (_, i) => value(of[i]!));
  return {
    length,
    earliest: each((c) => begin[c]!),
    latest: each((c) => due[c]! - lasts[c]!),
    slack: each((c) => due[c]! - lasts[c]! - begin[c]!),
    path: chain(last),
    until: (node) => ({ length: endOf(of[node]!), path: chain(of[node]!) }),
  };
}
