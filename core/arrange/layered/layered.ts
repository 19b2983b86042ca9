import { feedbackEdges } from './acyclic.ts';
import type { LayeredGraph, Spacing } from './graph.ts';
import { makeLayers } from './layers.ts';
import { layerCrossings, orderLayers } from './order.ts';
import { placeAcross } from './place.ts';
import { ranks } from './rank.ts';

export interface LayeredOptions {
  readonly spacing: Spacing;
  /** 0 fresh … 1 keep the present order wherever wires allow. */
  readonly keep: number;
  readonly tick?: (fraction: number, what: string) => void;
}

export interface LayeredResult {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly width: number;
  readonly height: number;
  readonly layers: number;
  /** Crossings between layers, long wires as chains. */
  readonly crossings: number;
}

const sweeps = 16;
const pivotsPerNode = 8;

/**
 * Layered layout of one connected graph (Sugiyama, Tagawa & Toda 1981), as a row of stages:
 * break cycles → rank by network simplex → cut long edges → order each layer → place across the flow → place along it.
 * The same graph always gives the same result. Top-left at 0,0; pixels at 100 % zoom.
 */
export function layoutLayered(graph: LayeredGraph, options: LayeredOptions): LayeredResult {
  const tick = options.tick ?? (() => {});
  const reversed = feedbackEdges(graph.count, graph.from, graph.to);
  tick(0.05, 'ranking');
  const rank = rankNodes(graph, reversed);
  const layers = makeLayers(graph, rank, reversed);
  const rows = orderLayers(layers, { keep: options.keep, sweeps, tick: (part) => tick(0.2 + part * 0.6, 'ordering') });
  tick(0.85, 'placing');
  const y = placeAcross(layers, rows, options.spacing.across);
  const x = placeAlong(graph, rank, layers.layerCount, options.spacing.along);
  const crossings = layerCrossings(layers, rows);
  return { ...toOrigin(graph, x, y.subarray(0, graph.count)), layers: layers.layerCount, crossings };
}

/** Network simplex over the edges as they run once cycles are broken; equal pairs of ends are one heavier edge. */
function rankNodes(graph: LayeredGraph, reversed: Uint8Array): Int32Array {
  const weights = new Map<number, number>();
  for (let edge = 0; edge < graph.from.length; edge++) {
    const [u, v] = reversed[edge] ? [graph.to[edge]!, graph.from[edge]!] : [graph.from[edge]!, graph.to[edge]!];
    if (u === v) continue;
    const key = u * graph.count + v;
    weights.set(key, (weights.get(key) ?? 0) + 1);
  }
  const from = Int32Array.from(weights.keys(), (key) => Math.floor(key / graph.count));
  const to = Int32Array.from(weights.keys(), (key) => key % graph.count);
  return ranks(graph.count, from, to, { weight: Float64Array.from(weights.values()), mostPivots: Math.max(200, graph.count * pivotsPerNode) });
}

/** Each layer is as wide as its widest node; between two layers there is room for the wires that turn there. */
function placeAlong(graph: LayeredGraph, rank: Int32Array, layerCount: number, gap: number): Float64Array {
  const width = new Float64Array(layerCount);
  const turning = new Float64Array(layerCount + 1);
  for (let v = 0; v < graph.count; v++) width[rank[v]!] = Math.max(width[rank[v]!]!, graph.width[v]!);
  const sources = new Set<string>();
  for (let edge = 0; edge < graph.from.length; edge++) {
    const low = Math.min(rank[graph.from[edge]!]!, rank[graph.to[edge]!]!);
    const once = `${low} ${graph.from[edge]} ${graph.fromOffset[edge]}`;
    if (!sources.has(once)) turning[low]!++;
    sources.add(once);
  }
  const start = new Float64Array(layerCount);
  for (let r = 1; r < layerCount; r++) start[r] = start[r - 1]! + width[r - 1]! + gap + Math.min(180, Math.max(0, turning[r - 1]! - 4) * 5);
  return Float64Array.from(rank, (r) => start[r]!);
}

function toOrigin(graph: LayeredGraph, x: Float64Array, y: Float64Array): { x: Float64Array; y: Float64Array; width: number; height: number } {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let v = 0; v < graph.count; v++) {
    left = Math.min(left, x[v]!);
    top = Math.min(top, y[v]!);
    right = Math.max(right, x[v]! + graph.width[v]!);
    bottom = Math.max(bottom, y[v]! + graph.height[v]!);
  }
  if (graph.count === 0) return { x, y: y.slice(), width: 0, height: 0 };
  return { x: x.map((value) => value - left), y: y.map((value) => Math.round(value - top)), width: right - left, height: bottom - top };
}
