import type { Doc } from '../document/doc.ts';
import { compareIds, type Id, idMaker } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { removeNodes } from '../structure/remove.ts';
import { isConcrete } from '../wiring/effective.ts';
import { guarded } from '../wiring/guard.ts';
import { Wiring } from '../wiring/wiring.ts';
import { endsOf } from './fingerprint.ts';
import { type DependencyGraph, dependencyGraph, reachable } from './graph/dependency-graph.ts';
import { waysBetween } from './graph/paths.ts';
import { reach, reachSteps, withInside } from './reach.ts';

/** One node that others depend on, or that depends on them, and over how many others. */
export interface Reached {
  readonly id: Id;
  /** 1 where nothing that computes lies between. */
  readonly steps: number;
}

/** One direction of what depends on what. */
export interface Side {
  /** Nodes that compute and outer ports of the file, the nearest first. */
  readonly nodes: readonly Reached[];
  /** What only carries data on the way: reroute points, beacons, taps, nested graphs and their ports. */
  readonly carriers: readonly Id[];
  /** The steps to the furthest. */
  readonly depth: number;
}

export interface Dependencies {
  readonly up: Side;
  readonly down: Side;
  /** The ends that a change would reach, among them the nodes themselves where they are ends. */
  readonly ends: readonly Id[];
  /** What would happen if the nodes went and their wires healed. */
  readonly gone: {
    /** Inputs that would be open, over whatever carries data to them, and taps that would hear nothing, in words. */
    readonly opened: readonly Finding[];
    /** Nodes that would serve no end any more, since they do so by way of these alone. */
    readonly idle: readonly Id[];
  };
}

/**
 * What some nodes depend on, what depends on them, and what would be hit if they changed or went. Over effective
 * wiring; the same nodes as selecting upstream and downstream. O(hops reached + nodes).
 */
export function dependencies(doc: Doc, kinds: Kinds, ids: readonly Id[]): Dependencies {
  const side = (direction: 'up' | 'down'): Side => {
    const found = [...reachSteps(doc, kinds, ids, direction)]
      .map(([id, steps]) => ({ id, steps }))
      .sort((a, b) => a.steps - b.steps || compareIds(a.id, b.id));
    const computes = ({ id }: Reached): boolean => isConcrete(doc, must(doc.nodes.get(id)));
    const nodes = found.filter(computes);
    return {
      nodes,
      carriers: found.filter((one) => !computes(one)).map(({ id }) => id),
      depth: nodes.at(-1)?.steps ?? 0,
    };
  };
  const [up, down] = [side('up'), side('down')];
  const graph = dependencyGraph(doc, kinds);
  const numbered = endsOf(doc, kinds, graph);
  const ends = new Set(numbered.map((i) => must(graph.nodes[i]).id));
  const own = ids.flatMap((id) => withInside(doc, id));
  return {
    up,
    down,
    ends: [...own, ...down.nodes.map(({ id }) => id)].filter((id) => ends.has(id)),
    gone: { opened: openedWithout(doc, kinds, ids), idle: idleWithout(graph, numbered, own) },
  };
}

function openedWithout(doc: Doc, kinds: Kinds, ids: readonly Id[]): Finding[] {
  const nodes = ids.flatMap((id) => doc.nodes.get(id) ?? []);
  // it is only asked what would be open: ids that would be made are thrown away
  const wiring = new Wiring(new Transaction(doc), kinds, idMaker(1));
  const findings = removeNodes(wiring, nodes, true);
  return [...guarded(doc, kinds, wiring.tx.edit, { summary: '', findings }).findings];
}

/** Nodes that reach an end now and would not without the others. */
function idleWithout(graph: DependencyGraph, ends: readonly number[], ids: readonly Id[]): Id[] {
  const without = new Set(ids.flatMap((id) => graph.at.get(id) ?? []));
  const now = reachable(graph.before, ends);
  const then = reachable(graph.before, ends, without);
  return graph.nodes.flatMap((node, i) => (now.has(i) && !then.has(i) && !without.has(i) ? [node.id] : []));
}

/** The ways that data takes from one node to another. */
export interface Paths {
  readonly from: Id;
  readonly to: Id;
  readonly shortest: readonly Id[];
  /** Everything on any of them, with what carries data between. */
  readonly all: readonly Id[];
  /** What each of them passes, the two ends left out. */
  readonly passed: readonly Id[];
  /** Undefined where a cycle lies on the way, so that there is no end to them. */
  readonly count: number | undefined;
}

/**
 * The ways between two nodes, whichever comes first; undefined where neither depends on the other. O(edges · log
 * nodes).
 */
export function pathsBetween(doc: Doc, kinds: Kinds, one: Id, other: Id): Paths | undefined {
  return pathsFrom(doc, kinds, one, other) ?? pathsFrom(doc, kinds, other, one);
}

function pathsFrom(doc: Doc, kinds: Kinds, from: Id, to: Id): Paths | undefined {
  const graph = dependencyGraph(doc, kinds);
  const numbers = (id: Id, side: 'out' | 'in'): Set<number> =>
    new Set(standIns(doc, kinds, id, side).flatMap((one) => graph.at.get(one) ?? []));
  const ways = waysBetween(graph.after, graph.before, numbers(from, 'out'), numbers(to, 'in'));
  if (!ways) return undefined;
  const ids = (numbered: Iterable<number>): Id[] => [...numbered].map((i) => must(graph.nodes[i]).id);
  const all = ids(ways.all);
  const on = new Set(all);
  const carriers = new Set<Id>();
  for (const i of ways.all)
    for (const { source } of must(graph.inputs[i]))
      if (on.has(source.node)) for (const id of source.through) carriers.add(id);
  return {
    from,
    to,
    shortest: ids(ways.shortest),
    all: [...new Set([from, ...all, ...carriers, to])],
    passed: ids(ways.passed).filter((id) => id !== from && id !== to),
    count: ways.count,
  };
}

/**
 * The nodes that compute in place of one that holds others, or only carries data: those inside, or the nearest behind
 * and before it.
 */
function standIns(doc: Doc, kinds: Kinds, id: Id, side: 'in' | 'out'): Id[] {
  const node = doc.nodes.get(id);
  if (!node) return [];
  const near =
    node.inner !== undefined
      ? withInside(doc, id)
      : isConcrete(doc, node)
        ? [id]
        : reach(doc, kinds, [id], side === 'in' ? 'up' : 'down', 1);
  return near.filter((one) => isConcrete(doc, must(doc.nodes.get(one))));
}
