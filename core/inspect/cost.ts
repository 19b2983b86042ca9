import { type Doc, nodesWithin } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { endsOf } from './fingerprint.ts';
import { schedule } from './graph/critical-path.ts';
import { type DependencyGraph, dependencyGraph, reachable } from './graph/dependency-graph.ts';
import { withInside } from './reach.ts';
import { countingNow } from './standing.ts';

/** Milliseconds that each node took, by id. */
export type Times = ReadonlyMap<Id, number>;

export interface NodeCost {
  readonly id: Id;
  readonly ms: number;
  /** Its part of the total, 0 to 1. */
  readonly share: number;
  /**
   * By how many milliseconds it could be slower without delaying the last end, if everything runs as soon as it can; 0
   * on the critical path, undefined where no end needs it.
   */
  readonly slack: number | undefined;
}

/** The cost of what lies in a frame, or in a nested graph. */
export interface PartCost {
  readonly id: Id;
  readonly ms: number;
  readonly share: number;
  /** How many nodes of it were measured. */
  readonly measured: number;
}

/** A chain of nodes, one after the other, and how long it lasts in milliseconds. */
export interface Chain {
  readonly ms: number;
  readonly path: readonly Id[];
}

/** What an end costs: all that it needs, itself included, one node after the other. */
export interface EndCost {
  readonly id: Id;
  readonly ms: number;
  readonly share: number;
  /** What no other end needs, and what others need too; both together are `ms`. */
  readonly own: number;
  readonly shared: number;
  /** How many nodes it needs that were measured. */
  readonly measured: number;
  /** How long one waits for it if everything runs as soon as it can. */
  readonly critical: Chain;
}

/** What is left apart: how long it takes, the most costly first. */
export interface ApartCost {
  readonly ms: number;
  readonly nodes: readonly { readonly id: Id; readonly ms: number }[];
}

/** What measured nodes cost: docs/inspect.md says which count. */
export interface Cost {
  /** One node after the other, in milliseconds: all that computes, whether an end needs it or not. */
  readonly total: number;
  /** The most costly first: what computes and was measured. */
  readonly nodes: readonly NodeCost[];
  /** The most costly first. */
  readonly ends: readonly EndCost[];
  /** What several ends need. */
  readonly shared: ApartCost;
  /** What computes and no end needs. */
  readonly waste: ApartCost;
  /** What is bypassed, or lies in a nested graph that is: it costs nothing now, and so much if it were on. */
  readonly off: ApartCost;
  readonly frames: readonly PartCost[];
  /** By the node that holds each nested graph. */
  readonly nested: readonly PartCost[];
  /** The longest of the critical paths of all ends. */
  readonly critical: Chain;
  /** Nodes that compute and were not measured. */
  readonly unmeasured: readonly Id[];
}

const byCost = <T extends { readonly id: Id; readonly ms: number }>(list: T[]): T[] =>
  list.sort((a, b) => b.ms - a.ms || compareIds(a.id, b.id));

/**
 * Adds up measured times, over ends, frames and nested graphs with all within them. O(ends · edges + nodes · depth).
 */
export function cost(doc: Doc, kinds: Kinds, times: Times): Cost {
  const graph = dependencyGraph(doc, kinds);
  const counts = countingNow(doc, kinds);
  const timed = (i: number): boolean => times.has(must(graph.nodes[i]).id);
  const isOff = (i: number): boolean => must(graph.nodes[i]).bypassed === true || !counts.has(i);
  const each = graph.nodes.map((node, i) => (isOff(i) ? 0 : (times.get(node.id) ?? 0)));
  const total = each.reduce((sum, ms) => sum + ms, 0);
  const share = (ms: number): number => (total === 0 ? 0 : ms / total);
  const numbered = endsOf(doc, kinds, graph).filter((i) => !isOff(i));
  const plan = schedule(graph.before, each, numbered);
  const chain = ({ length, path }: { length: number; path: readonly number[] }): Chain => ({
    ms: length,
    path: path.filter((i) => must(each[i]) > 0).map((i) => must(graph.nodes[i]).id),
  });
  const needs = numbered.map((end) => reachable(graph.before, [end]));
  const needed = new Uint32Array(graph.nodes.length);
  for (const set of needs) for (const i of set) needed[i] = must(needed[i]) + 1;
  const measured = (set: Iterable<number>): number[] => [...set].filter((i) => timed(i) && !isOff(i));
  const sum = (set: readonly number[]): number => set.reduce((ms, i) => ms + must(each[i]), 0);
  const all = measured(graph.nodes.keys());
  const apart = (set: readonly number[], ms: (i: number) => number): ApartCost => ({
    ms: set.reduce((most, i) => most + ms(i), 0),
    nodes: byCost(set.map((i) => ({ id: must(graph.nodes[i]).id, ms: ms(i) }))),
  });
  const part = (id: Id, inside: Iterable<Id>): PartCost => {
    const own = measured([...inside].flatMap((one) => graph.at.get(one) ?? []));
    return { id, ms: sum(own), share: share(sum(own)), measured: own.length };
  };
  const frames = [...doc.frames.keys()].map((frame) =>
    part(frame, new Set(nodesWithin(doc, frame).flatMap((node) => withInside(doc, node.id)))),
  );
  const nested = [...doc.nodes.values()]
    .filter((node) => node.inner !== undefined)
    .map((node) => part(node.id, withInside(doc, node.id)));
  return {
    total,
    nodes: byCost(
      all.map((i) => {
        const [ms, slack] = [must(each[i]), must(plan.slack[i])];
        return { id: must(graph.nodes[i]).id, ms, share: share(ms), slack: Number.isFinite(slack) ? slack : undefined };
      }),
    ),
    ends: byCost(
      numbered.map((end, k) => {
        const own = measured(must(needs[k]));
        const [ms, alone] = [sum(own), sum(own.filter((i) => needed[i] === 1))];
        return {
          id: must(graph.nodes[end]).id,
          ms,
          share: share(ms),
          own: alone,
          shared: sum(own.filter((i) => must(needed[i]) > 1)),
          measured: own.length,
          critical: chain(plan.until(end)),
        };
      }),
    ),
    shared: apart(
      all.filter((i) => must(needed[i]) > 1),
      (i) => must(each[i]),
    ),
    waste: apart(
      all.filter((i) => needed[i] === 0),
      (i) => must(each[i]),
    ),
    off: apart(
      [...graph.nodes.keys()].filter((i) => timed(i) && isOff(i)),
      (i) => times.get(must(graph.nodes[i]).id) ?? 0,
    ),
    frames: byCost(frames.filter((one) => one.measured > 0)),
    nested: byCost(nested.filter((one) => one.measured > 0)),
    critical: chain(plan),
    unmeasured: unmeasuredOf(graph, kinds, times).filter((id) => !isOff(must(graph.at.get(id)))),
  };
}

/** What computes and has no time: ports of the file cost nothing. */
function unmeasuredOf({ nodes }: DependencyGraph, kinds: Kinds, times: Times): Id[] {
  return nodes
    .filter((node) => !node.bypassed && !kinds.isFixture(node.kind) && !times.has(node.id))
    .map((node) => node.id);
}

/** The nodes that a render service can measure: all that compute, in all graphs. */
export function measurable(doc: Doc, kinds: Kinds): readonly Id[] {
  return unmeasuredOf(dependencyGraph(doc, kinds), kinds, new Map());
}

/**
 * Steps of a ramp from the cheapest to the dearest, 0 to `steps` − 1, by powers of two below the dearest; undefined
 * where nothing was spent.
 */
export function heatOf(ms: number, most: number, steps = 5): number | undefined {
  if (!(ms > 0) || !(most > 0)) return undefined;
  return Math.max(0, steps - 1 - Math.floor(Math.log2(most / ms)));
}
