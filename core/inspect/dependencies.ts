import type { Doc } from '../document/doc.ts';
import { compareIds, type Id, idMaker } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { removeNodes } from '../structure/remove.ts';
import { isConcrete } from '../wiring/effective.ts';
import { type Guarded, guard } from '../wiring/guard.ts';
import { Wiring } from '../wiring/wiring.ts';
import { endsOf } from './fingerprint.ts';
import { type DependencyGraph, dependencyGraph, reachable } from './graph/dependency-graph.ts';
import { linksOf, reachSteps, withInside } from './reach.ts';
import { allOn, countingNow, type Standing, standings } from './standing.ts';

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

/** An input of a node that stays which would be open, and how that reaches an end. */
export interface Starved {
  readonly node: Id;
  readonly port: string;
  /** From the node to the end, both included, with what carries data between: a shortest way. */
  readonly way: readonly Id[];
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
  readonly gone: {
    /** Ends that would go with them. */
    readonly removed: readonly Id[];
    /** Ends behind inputs that would be open, with each of these and the way from there. */
    readonly starved: readonly { readonly end: Id; readonly inputs: readonly Starved[] }[];
    /** Ends that would compute something else, but lose nothing. */
    readonly otherwise: readonly Id[];
    /** Inputs that would be open, over whatever carries data to them, and taps that would hear nothing, in words. */
    readonly opened: readonly Finding[];
    /** Nodes that would serve no end any more, with all wires healed. */
    readonly idle: readonly Id[];
  };
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
  const graph = dependencyGraph(doc, kinds);
  const numbered = endsOf(doc, kinds, graph);
  const ends = new Set(numbered.map((i) => must(graph.nodes[i]).id));
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
    gone: withoutThem(doc, kinds, there, own, ends, numbered),
  };
}

function endsIfOn(doc: Doc, kinds: Kinds, own: readonly Id[], { nodes, ifOn }: Side): Id[] {
  const on = allOn(doc);
  if (on === doc) return [];
  const graph = dependencyGraph(on, kinds);
  const ends = new Set(endsOf(on, kinds, graph).map((i) => must(graph.nodes[i]).id));
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

/**
 * The nodes that compute next to one that only carries data. Where nothing comes to it, what hangs there by drawn wires
 * and remote links, so that it is seen who would starve.
 */
export function carriedBy(doc: Doc, kinds: Kinds, id: Id, direction: 'up' | 'down'): Id[] {
  const carries = (one: Id): boolean => {
    const node = doc.nodes.get(one);
    return node !== undefined && node.inner === undefined && !isConcrete(doc, node);
  };
  if (!carries(id)) return [];
  const hops = linksOf(doc, kinds);
  const found = new Set<Id>();
  const seen = new Set([id]);
  for (const one of seen)
    for (const hop of [...(hops.through.get(one) ?? []), ...(hops[direction].get(one) ?? [])]) {
      const next = direction === 'up' ? hop.from : hop.to;
      if (carries(next)) seen.add(next);
      else found.add(next);
    }
  return [...found];
}

function withoutThem(
  doc: Doc,
  kinds: Kinds,
  ids: readonly Id[],
  own: readonly Id[],
  ends: ReadonlySet<Id>,
  numbered: readonly number[],
): Dependencies['gone'] {
  const nodes = ids.flatMap((id) => doc.nodes.get(id) ?? []);
  // it is only asked what would be open: ids that would be made are thrown away
  const wiring = new Wiring(new Transaction(doc), kinds, idMaker(1));
  const findings = removeNodes(wiring, nodes, true);
  const guarded = guard(doc, kinds, wiring.tx.edit);
  const starved = starvedEnds(wiring.tx.doc, kinds, guarded, ends);
  const hit = endsBehind(
    wiring.tx.doc,
    kinds,
    guarded.changes.map(({ node }) => node.id),
    ends,
  );
  const isStarved = new Set(starved.map(({ end }) => end));
  return {
    removed: own.filter((id) => ends.has(id)),
    starved,
    otherwise: hit.filter((id) => !isStarved.has(id)),
    opened: [...findings, ...guarded.findings],
    idle: idleAfter(dependencyGraph(doc, kinds), numbered, own, wiring.tx.doc, kinds),
  };
}

/** The ends that depend on some nodes, themselves included, in order of ids. */
function endsBehind(doc: Doc, kinds: Kinds, ids: readonly Id[], ends: ReadonlySet<Id>): Id[] {
  const graph = dependencyGraph(doc, kinds);
  const behind = reachable(
    graph.after,
    ids.flatMap((id) => graph.at.get(id) ?? []),
  );
  return [...behind]
    .map((i) => must(graph.nodes[i]).id)
    .filter((id) => ends.has(id))
    .sort(compareIds);
}

/** Which ends lie behind inputs that are open now and were not, and by which way. O(open inputs · edges). */
function starvedEnds(
  after: Doc,
  kinds: Kinds,
  { changes }: Guarded,
  ends: ReadonlySet<Id>,
): { end: Id; inputs: Starved[] }[] {
  const graph = dependencyGraph(after, kinds);
  const found = new Map<Id, Starved[]>();
  for (const { node, input, before, after: now } of changes) {
    if (!before || now) continue;
    const start = graph.at.get(node.id);
    if (start === undefined) continue;
    const came = new Map<number, number>([[start, -1]]);
    for (const i of came.keys()) for (const k of must(graph.after[i])) if (!came.has(k)) came.set(k, i);
    for (const i of came.keys()) {
      const end = must(graph.nodes[i]).id;
      if (!ends.has(end)) continue;
      const list = found.get(end) ?? [];
      list.push({ node: node.id, port: input.id, way: wayBack(graph, came, i) });
      found.set(end, list);
    }
  }
  return [...found].map(([end, inputs]) => ({ end, inputs })).sort((a, b) => compareIds(a.end, b.end));
}

/** The way by which a walk came to a place, with what carries data between. */
function wayBack(graph: DependencyGraph, came: ReadonlyMap<number, number>, at: number): Id[] {
  const way: Id[] = [];
  for (let i = at; i !== -1; ) {
    way.unshift(must(graph.nodes[i]).id);
    const from = must(came.get(i));
    if (from !== -1) {
      const source = must(graph.inputs[i]).find((one) => one.source.node === must(graph.nodes[from]).id)?.source;
      way.unshift(...[...(source?.through ?? [])].reverse());
    }
    i = from;
  }
  return way;
}

/** Nodes that an end needs now, and that none would need any more afterwards. */
function idleAfter(
  graph: DependencyGraph,
  ends: readonly number[],
  own: readonly Id[],
  after: Doc,
  kinds: Kinds,
): Id[] {
  const now = reachable(graph.before, ends);
  const next = dependencyGraph(after, kinds);
  const then = reachable(next.before, endsOf(after, kinds, next));
  const gone = new Set(own);
  return graph.nodes.flatMap(({ id }, i) => {
    const at = next.at.get(id);
    return now.has(i) && !gone.has(id) && (at === undefined || !then.has(at)) ? [id] : [];
  });
}
