import { type Doc, nodesWithin } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { schedule } from './graph/critical-path.ts';
import { type DependencyGraph, dependencyGraph } from './graph/dependency-graph.ts';
import { withInside } from './reach.ts';

/** Milliseconds that each node took, by id. */
export type Times = ReadonlyMap<Id, number>;

export interface NodeCost {
  readonly id: Id;
  readonly ms: number;
  /** Its part of the total, 0 to 1. */
  readonly share: number;
  /**
   * By how many milliseconds it could be slower without delaying the whole, if everything runs as soon as it can; 0 on
   * the critical path.
   */
  readonly slack: number;
}

/** The cost of what lies in a frame, or in a nested graph. */
export interface PartCost {
  readonly id: Id;
  readonly ms: number;
  readonly share: number;
  /** How many nodes of it were measured. */
  readonly measured: number;
}

export interface Cost {
  /** One node after the other, in milliseconds. */
  readonly total: number;
  /** The most costly first. Bypassed nodes cost nothing. */
  readonly nodes: readonly NodeCost[];
  readonly frames: readonly PartCost[];
  /** By the node that holds each nested graph. */
  readonly nested: readonly PartCost[];
  /** What the whole takes if everything runs as soon as it can, and the chain of nodes that makes it so long. */
  readonly critical: { readonly ms: number; readonly path: readonly Id[] };
  /** Nodes that compute and were not measured. */
  readonly unmeasured: readonly Id[];
}

/** Adds up measured times, over frames and nested graphs with all within them. O(nodes · depth + edges). */
export function cost(doc: Doc, kinds: Kinds, times: Times): Cost {
  const graph = dependencyGraph(doc, kinds);
  const each = graph.nodes.map((node) => (node.bypassed ? 0 : (times.get(node.id) ?? 0)));
  const total = each.reduce((sum, ms) => sum + ms, 0);
  const share = (ms: number): number => (total === 0 ? 0 : ms / total);
  const plan = schedule(graph.before, each);
  const measured = graph.nodes.flatMap((node, i) =>
    times.has(node.id)
      ? [{ id: node.id, ms: must(each[i]), share: share(must(each[i])), slack: must(plan.slack[i]) }]
      : [],
  );
  const part = (id: Id, inside: Iterable<Id>): PartCost => {
    const own = [...inside].flatMap((one) => (times.has(one) ? (graph.at.get(one) ?? []) : []));
    const ms = own.reduce((sum, i) => sum + must(each[i]), 0);
    return { id, ms, share: share(ms), measured: own.length };
  };
  const byCost = <T extends { readonly id: Id; readonly ms: number }>(list: T[]): T[] =>
    list.sort((a, b) => b.ms - a.ms || compareIds(a.id, b.id));
  const frames = [...doc.frames.keys()].map((frame) =>
    part(frame, new Set(nodesWithin(doc, frame).flatMap((node) => withInside(doc, node.id)))),
  );
  const nested = [...doc.nodes.values()]
    .filter((node) => node.inner !== undefined)
    .map((node) => part(node.id, withInside(doc, node.id)));
  return {
    total,
    nodes: byCost(measured),
    frames: byCost(frames.filter((one) => one.measured > 0)),
    nested: byCost(nested.filter((one) => one.measured > 0)),
    critical: { ms: plan.length, path: plan.path.filter((i) => must(each[i]) > 0).map((i) => must(graph.nodes[i]).id) },
    unmeasured: unmeasuredOf(graph, kinds, times),
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
