import type { Doc } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { isConcrete } from '../wiring/effective.ts';
import { type Gone, goneWithout } from './gone.ts';
import { dependencyGraph } from './graph/dependency-graph.ts';
import { carriedBy, reachSteps, withInside } from './reach.ts';
import { allOn, countingNow, endIds, type Standing, standings } from './standing.ts';

/** One node that others depend on, or that depends on them, and over how many others. */
export interface Reached {
  readonly id: Id;
  /** 1 where nothing that computes lies between. */
  readonly steps: number;
}

/** One direction of what depends on what. */
export interface Side {
  /** Nodes that compute and outer ports of the file, the nearest first: as the file stands now. */
  readonly nodes: readonly Reached[];
  /** What would come to these if all that is switched off were on, the nearest first. */
  readonly ifOn: readonly Reached[];
  /** What only carries data on the way: reroute points, beacons, taps, nested graphs and their ports. */
  readonly carriers: readonly Id[];
  /** The steps to the furthest of `nodes`. */
  readonly depth: number;
}

export interface Dependencies {
  /** How each of the asked nodes that compute stands; of a nested graph what lies in it. */
  readonly standing: readonly { readonly id: Id; readonly is: Standing }[];
  readonly up: Side;
  readonly down: Side;
  /** The ends that a change would reach, among them the nodes themselves where they are ends. */
  readonly ends: readonly Id[];
  /** The ends that it would reach besides if all that is switched off were on. */
  readonly endsIfOn: readonly Id[];
  /** What would happen if the nodes went and their wires healed. */
  readonly gone: Gone;
}

/**
 * What some nodes depend on, what depends on them, and what would be hit if they changed or went, as the file stands
 * now, and apart from that what there would be if all that is switched off were on. Over effective wiring: a node is in
 * `up` of another exactly where that is in `down` of the first. O(hops reached + nodes).
 */
export function dependencies(doc: Doc, kinds: Kinds, ids: readonly Id[]): Dependencies {
  const there = ids.filter((id) => doc.nodes.has(id));
  const own = there.flatMap((id) => withInside(doc, id));
  const [up, down] = [sideOf(doc, kinds, there, own, 'up'), sideOf(doc, kinds, there, own, 'down')];
  const ends = endIds(doc, kinds);
  const reached = [...own, ...down.nodes.map(({ id }) => id)].filter((id) => ends.has(id));
  const all = standings(doc, kinds);
  return {
    standing: own.flatMap((id) => {
      const is = all.get(id);
      return is ? [{ id, is }] : [];
    }),
    up,
    down,
    ends: reached,
    endsIfOn: endsIfOn(doc, kinds, own, down).filter((id) => !reached.includes(id)),
    gone: goneWithout(doc, kinds, there),
  };
}

function endsIfOn(doc: Doc, kinds: Kinds, own: readonly Id[], { nodes, ifOn }: Side): Id[] {
  const on = allOn(doc);
  if (on === doc) return [];
  const ends = endIds(on, kinds);
  return [...own, ...nodes.map(({ id }) => id), ...ifOn.map(({ id }) => id)].filter((id) => ends.has(id));
}

const byDistance = (a: Reached, b: Reached): number => a.steps - b.steps || compareIds(a.id, b.id);

function sideOf(doc: Doc, kinds: Kinds, ids: readonly Id[], own: readonly Id[], direction: 'up' | 'down'): Side {
  const isOwn = new Set(own);
  const now = steps(doc, kinds, own, direction, countingNow(doc, kinds));
  const on = allOn(doc);
  // one that is off is met where it stands, or where it would with all the others on
  const then = on === doc ? now : new Map([...steps(on, kinds, own, direction), ...steps(doc, kinds, own, direction)]);
  const list = (reached: ReadonlyMap<Id, number>): Reached[] =>
    [...reached].flatMap(([id, n]) => (isOwn.has(id) ? [] : [{ id, steps: n }])).sort(byDistance);
  const nodes = list(now);
  return {
    nodes,
    ifOn: list(then).filter(({ id }) => !now.has(id)),
    carriers: [...reachSteps(doc, kinds, ids, direction)]
      .map(([id, steps]) => ({ id, steps }))
      .filter(({ id }) => !isConcrete(doc, must(doc.nodes.get(id))))
      .sort(byDistance)
      .map(({ id }) => id),
    depth: nodes.at(-1)?.steps ?? 0,
  };
}

/** What is reached from some nodes, by hops, of those that count; from what only carries data, by what it carries. */
function steps(
  doc: Doc,
  kinds: Kinds,
  own: readonly Id[],
  direction: 'up' | 'down',
  counts?: ReadonlySet<number>,
): ReadonlyMap<Id, number> {
  const graph = dependencyGraph(doc, kinds);
  const edges = direction === 'up' ? graph.before : graph.after;
  const found = new Map<number, number>();
  let front: number[] = [];
  const reach = (i: number | undefined, step: number): void => {
    if (i === undefined || found.has(i) || counts?.has(i) === false) return;
    found.set(i, step);
    front.push(i);
  };
  for (const id of own) {
    const i = graph.at.get(id);
    if (i !== undefined) reach(i, 0);
  }
  const starts = front;
  front = [];
  for (const id of own) for (const near of carriedBy(doc, kinds, id, direction)) reach(graph.at.get(near), 1);
  for (let step = 1, from = starts; from.length > 0 || front.length > 0; step++) {
    for (const i of from) for (const k of must(edges[i])) reach(k, step);
    from = front;
    front = [];
  }
  return new Map([...found].map(([i, step]) => [must(graph.nodes[i]).id, step]));
}
