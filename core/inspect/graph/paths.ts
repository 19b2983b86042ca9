import { stronglyConnected } from './components.ts';
import { reachable } from './dependency-graph.ts';
import { dominators } from './dominators.ts';

/** The ways from some nodes to some others. */
export interface Ways {
  /** A shortest one, from first to last. */
  readonly shortest: readonly number[];
  /** Every node that lies on one of them, with cycles gone round. */
  readonly all: ReadonlySet<number>;
  /** The nodes that each of them passes, in order; the ends among them where there is but one. */
  readonly passed: readonly number[];
  /** How many there are; undefined where a cycle lies on one, so that there is no end to them. Exact up to 2⁵³. */
  readonly count: number | undefined;
}

/**
 * Undefined where no way leads there. `edges[i]` lists where node i leads, `back[i]` the same the other way round.
 * O(edges · log nodes).
 */
export function waysBetween(
  edges: readonly (readonly number[])[],
  back: readonly (readonly number[])[],
  from: ReadonlySet<number>,
  to: ReadonlySet<number>,
): Ways | undefined {
  const forward = reachable(edges, from);
  const backward = reachable(back, to);
  const all = new Set([...forward].filter((i) => backward.has(i)));
  const shortest = shortestWay(edges, from, to);
  if (!shortest) return undefined;
  // a source before all of `from` and a drain behind all of `to`, over what lies between
  const members = [...all].sort((a, b) => a - b);
  const at = new Map(members.map((i, k) => [i, k + 1]));
  const drain = members.length + 1;
  const inside: number[][] = [
    [...from].flatMap((i) => at.get(i) ?? []),
    ...members.map((i) => edges[i]!.flatMap((k) => at.get(k) ?? [])),
    [],
  ];
  for (const i of to) if (at.has(i)) inside[at.get(i)!]!.push(drain);
  const against: number[][] = inside.map(() => []);
  inside.forEach((list, i) => {
    for (const k of list) against[k]!.push(i);
  });
  const above = dominators(inside, against, 0);
  const passed: number[] = [];
  for (let i = above[drain]!; i > 0; i = above[i]!) passed.unshift(members[i - 1]!);
  return { shortest, all, passed, count: countWays(inside, drain) };
}

function shortestWay(
  edges: readonly (readonly number[])[],
  from: ReadonlySet<number>,
  to: ReadonlySet<number>,
): number[] | undefined {
  const came = new Map<number, number>([...from].map((i) => [i, -1]));
  let front: readonly number[] = [...from];
  while (front.length > 0) {
    const hit = front.find((i) => to.has(i));
    if (hit !== undefined) {
      const way: number[] = [];
      for (let i = hit; i !== -1; i = came.get(i)!) way.unshift(i);
      return way;
    }
    const next: number[] = [];
    for (const i of front)
      for (const k of edges[i]!)
        if (!came.has(k)) {
          came.set(k, i);
          next.push(k);
        }
    front = next;
  }
  return undefined;
}

function countWays(edges: readonly (readonly number[])[], drain: number): number | undefined {
  const components = stronglyConnected(edges);
  if (components.length < edges.length || edges.some((list, i) => list.includes(i))) return undefined;
  const ways = new Float64Array(edges.length);
  ways[drain] = 1;
  for (const [i] of components as [number][]) for (const k of edges[i]!) ways[i]! += ways[k]!;
  return ways[0]!;
}
