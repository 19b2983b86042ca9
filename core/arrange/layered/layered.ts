import { channelDemand, type RouteTask } from '../../route/router.ts';
import { feedbackEdges } from './acyclic.ts';
import { placeWithFrames } from './frames.ts';
import type { FrameTree, LayeredGraph, Spacing } from './graph.ts';
import { type Layers, makeLayers } from './layers.ts';
import { orderLayers, type Quality } from './order.ts';
import { connectedParts } from './parts.ts';
import { placeAcross } from './place.ts';
import { ranks } from './rank.ts';
import { spans } from './spans.ts';

export interface LayeredOptions {
  readonly spacing: Spacing;
  /** 0 fresh … 1 keep the present order wherever wires allow. */
  readonly keep: number;
  readonly quality?: Quality;
  readonly tick?: (fraction: number, what: string) => void;
}

export interface LayeredResult {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly layers: number;
  /** Crossings between layers, long wires as chains. */
  readonly crossings: number;
}

/**
 * A pivot costs up to a walk over all nodes, so their number falls as the graph grows; small graphs reach the optimum
 * long before.
 */
const pivotWork: Record<Quality, number> = { quick: 4e6, best: 6e7 };

/**
 * Layered layout of one connected graph (Sugiyama, Tagawa & Toda 1981), as a row of stages:
 * break cycles → rank by network simplex → cut long edges → order each layer → place across the flow → place along it.
 * The same graph always gives the same result. Top-left at 0,0; pixels at 100 % zoom.
 */
export function layoutLayered(graph: LayeredGraph, options: LayeredOptions): LayeredResult {
  const tick = options.tick ?? (() => {});
  const reversed = feedbackEdges(graph.count, graph.from, graph.to);
  tick(0.05, 'ranking');
  const rank = rankNodes(graph, reversed, options.quality ?? 'quick');
  const layers = makeLayers(graph, rank, reversed);
  const rows = orderLayers(layers, {
    keep: options.keep,
    quality: options.quality ?? 'quick',
    ...(graph.frames && { frames: graph.frames }),
    tick: (part) => tick(0.2 + part * 0.6, 'ordering'),
  });
  tick(0.85, 'placing');
  const y = (
    graph.frames
      ? placeWithFrames(layers, rows, graph.frames, options.spacing.across)
      : placeAcross(layers, rows, options.spacing.across)
  ).map(Math.round);
  const isExact = options.quality === 'best' || layers.total <= mostExact;
  const x = placeAlong(graph, layers, y, options.spacing.along, isExact);
  return { ...toOrigin(graph, x, y.subarray(0, graph.count)), layers: layers.layerCount, crossings: rows.crossings() };
}

/**
 * Network simplex over the edges as they run once cycles are broken; equal pairs of ends are one heavier edge. Parts
 * that no wire joins, but a frame does, are tied with their first nodes side by side.
 */
function rankNodes(graph: LayeredGraph, reversed: Uint8Array, quality: Quality): Int32Array {
  const { count } = graph;
  const weights = new Map<number, number>();
  for (let edge = 0; edge < graph.from.length; edge++) {
    const [u, v] = reversed[edge] ? [graph.to[edge]!, graph.from[edge]!] : [graph.from[edge]!, graph.to[edge]!];
    if (u === v) continue;
    const key = u * count + v;
    weights.set(key, (weights.get(key) ?? 0) + 1);
  }
  const from = Array.from(weights.keys(), (key) => Math.floor(key / count));
  const to = Array.from(weights.keys(), (key) => key % count);
  const weight = [...weights.values()];
  const wires = from.length;
  const hasInput = new Uint8Array(count);
  for (const v of to) hasInput[v] = 1;
  const heads = connectedParts(count, from, to).map((part) => part.find((v) => !hasInput[v])!);
  for (const head of heads.slice(1)) {
    from.push(heads[0]!);
    to.push(head);
    weight.push(1);
  }
  return ranks(count, Int32Array.from(from), Int32Array.from(to), {
    weight: Float64Array.from(weight),
    minLength: Int32Array.from(from, (_, i) => (i < wires ? 1 : 0)),
    mostPivots: Math.ceil(pivotWork[quality] / Math.max(1, count)),
  });
}

/** The distance that upright pieces of different wires keep in the room between two layers. */
const trackDistance = 7;
const roomAtNodes = 24;

/**
 * Each layer is as wide as its widest node; between two layers there is room for the wires that turn there, side by
 * side.
 */
function placeAlong(graph: LayeredGraph, layers: Layers, y: Float64Array, gap: number, isExact: boolean): Float64Array {
  const { layerCount, rank } = layers;
  const width = new Float64Array(layerCount);
  for (let v = 0; v < graph.count; v++) width[rank[v]!] = Math.max(width[rank[v]!]!, graph.width[v]!);
  const start = new Float64Array(layerCount);
  for (let r = 1; r < layerCount; r++) start[r] = start[r - 1]! + width[r - 1]! + gap;
  const draft = Float64Array.from({ length: graph.count }, (_, v) => start[rank[v]!]!);
  const demand = isExact ? channelDemand(routeTaskOf(graph, draft, y)) : turnsBetween(layers, y);
  const margins = graph.frames ? frameMargins(graph.frames, rank, layerCount) : new Float64Array(layerCount);
  for (let r = 1; r < layerCount; r++)
    start[r] =
      start[r - 1]! +
      width[r - 1]! +
      Math.max(gap, 2 * roomAtNodes + (demand[r - 1] ?? 0) * trackDistance) +
      margins[r - 1]!;
  return Float64Array.from({ length: graph.count }, (_, v) => start[rank[v]!]!);
}

/**
 * Nodes and lanes up to which the room between layers is made by what routing will need; beyond, by a count of what
 * turns there.
 */
const mostExact = 2500;

/**
 * How many pieces of wires turn side by side behind each layer at the most, and a third more for their order.
 * O(segments · log).
 */
function turnsBetween(layers: Layers, y: Float64Array): Float64Array {
  const { out, segTo, segFromPort, segFromOffset, segToOffset, layerCount, rank, total } = layers;
  // starts and ends of the pieces, doubled and odd for ends, so that a start sorts before an end at the same place
  const events: number[][] = Array.from({ length: layerCount }, () => []);
  for (let v = 0; v < total; v++) {
    const end = out.start[v + 1]!;
    for (let k = out.start[v]!; k < end; ) {
      const port = segFromPort[out.list[k]!]!;
      const from = Math.round(y[v]! + segFromOffset[out.list[k]!]!);
      let [low, high] = [from, from];
      for (; k < end && segFromPort[out.list[k]!] === port; k++) {
        const to = Math.round(y[segTo[out.list[k]!]!]! + segToOffset[out.list[k]!]!);
        [low, high] = [Math.min(low, to), Math.max(high, to)];
      }
      if (high > low) events[rank[v]!]!.push(2 * (low - trackDistance), 2 * high + 1);
    }
  }
  return Float64Array.from(events, (list) => {
    let [open, most] = [0, 0];
    for (const event of Float64Array.from(list).sort()) {
      open += event % 2 === 0 ? 1 : -1;
      most = Math.max(most, open);
    }
    return Math.ceil(most * 1.35);
  });
}

/**
 * What the margins of frames that end at a layer and of those that begin at the next take of the room between, one in
 * the other added up.
 */
function frameMargins(frames: FrameTree, rank: Int32Array, layerCount: number): Float64Array {
  const { low, high } = spans(frames, rank);
  const [ending, beginning] = [new Float64Array(layerCount + 1), new Float64Array(layerCount + 1)];
  frames.parent.forEach((_, f) => {
    if (high[f]! < 0) return;
    let [after, before] = [0, 0];
    for (let g = f; g !== -1; g = frames.parent[g]!) {
      if (high[g] === high[f]) after += frames.after[g]!;
      if (low[g] === low[f]) before += frames.before[g]!;
    }
    ending[high[f]!] = Math.max(ending[high[f]!]!, after);
    beginning[low[f]!] = Math.max(beginning[low[f]!]!, before);
  });
  return Float64Array.from({ length: layerCount }, (_, r) => ending[r]! + beginning[r + 1]!);
}

/** The graph with its nodes at these places, as routing takes it. */
export function routeTaskOf(graph: LayeredGraph, x: ArrayLike<number>, y: ArrayLike<number>): RouteTask {
  const each = (of: (v: number) => number): Float64Array => Float64Array.from({ length: graph.count }, (_, v) => of(v));
  return {
    boxes: {
      count: graph.count,
      hard: graph.count,
      links: graph.count,
      left: each((v) => x[v]!),
      top: each((v) => y[v]!),
      right: each((v) => x[v]! + graph.width[v]!),
      bottom: each((v) => y[v]! + graph.height[v]!),
    },
    ends: Array.from(graph.from, (u, e) => {
      const v = graph.to[e]!;
      return {
        x1: x[u]! + graph.width[u]!,
        y1: y[u]! + graph.fromOffset[e]!,
        x2: x[v]!,
        y2: y[v]! + graph.toOffset[e]!,
      };
    }),
    nets: graph.net,
    stand: { from: graph.from, to: graph.to },
  };
}

function toOrigin(graph: LayeredGraph, x: Float64Array, y: Float64Array): { x: Float64Array; y: Float64Array } {
  let [left, top] = [Infinity, Infinity];
  for (let v = 0; v < graph.count; v++) {
    left = Math.min(left, x[v]!);
    top = Math.min(top, y[v]!);
  }
  return { x: x.map((value) => value - left), y: y.map((value) => value - top) };
}
