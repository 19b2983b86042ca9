import { packShelves } from '../pack.ts';
import { boundsOf } from './bounds.ts';
import type { FrameTree, LayeredGraph } from './graph.ts';
import { type LayeredOptions, layoutLayered } from './layered.ts';
import { connectedParts } from './parts.ts';

/** Top-left corners of all nodes. */
export interface Layout {
  readonly x: Float64Array;
  readonly y: Float64Array;
}

/**
 * Layered layout of any graph: what wires or a frame join is laid out together, and the parts are packed into the
 * proportion of a window, the largest first. Top-left at 0,0. The same graph always gives the same result. Cost: that
 * of `layoutLayered` for each part.
 */
export function layOut(graph: LayeredGraph, options: LayeredOptions, proportion?: number): Layout {
  const { from, to } = ties(graph);
  const parts = connectedParts(graph.count, from, to);
  const x = new Float64Array(graph.count);
  const y = new Float64Array(graph.count);
  let done = 0;
  const drawn = parts.map((part) => {
    const piece = pickPart(graph, part);
    const tick =
      options.tick &&
      ((fraction: number, what: string) => options.tick?.((done + fraction * part.length) / graph.count, what));
    const laid = layoutLayered(piece, { ...options, ...(tick && { tick }) });
    done += part.length;
    return { part, laid, bounds: boundsOf(piece, part.keys(), laid) };
  });
  const order = drawn.map((_, i) => i).sort((a, b) => drawn[b]!.part.length - drawn[a]!.part.length || a - b);
  const places = packShelves(
    order.map((i) => drawn[i]!.bounds),
    options.spacing.across * 2,
    proportion,
  );
  order.forEach((i, k) => {
    const { part, laid, bounds } = drawn[i]!;
    part.forEach((v, n) => {
      x[v] = laid.x[n]! - bounds.x + places[k]!.x;
      y[v] = laid.y[n]! - bounds.y + places[k]!.y;
    });
  });
  return { x, y };
}

/** Edges, and for each frame ties from node to node, so that connected parts hold whole frames. */
function ties(graph: LayeredGraph): { from: number[]; to: number[] } {
  const [from, to] = [Array.from(graph.from), Array.from(graph.to)];
  if (!graph.frames) return { from, to };
  const last = new Map<number, number>();
  graph.frames.of.forEach((innermost, v) => {
    for (let f = innermost; f !== -1; f = graph.frames!.parent[f]!) {
      if (last.has(f)) {
        from.push(last.get(f)!);
        to.push(v);
      }
      last.set(f, v);
    }
  });
  return { from, to };
}

/**
 * The nodes of a part as a graph of its own; frames keep only those that it holds. O(part + edges of the graph over the
 * parts).
 */
export function pickPart(graph: LayeredGraph, part: readonly number[]): LayeredGraph {
  if (part.length === graph.count) return graph;
  const local = new Map(part.map((v, i) => [v, i]));
  const edges = [...graph.from.keys()].filter((e) => local.has(graph.from[e]!));
  const nodes = (values: Float64Array): Float64Array => Float64Array.from(part, (v) => values[v]!);
  const wires = (values: Float64Array): Float64Array => Float64Array.from(edges, (e) => values[e]!);
  const frames = graph.frames && pickFrames(graph.frames, part);
  return {
    count: part.length,
    width: nodes(graph.width),
    height: nodes(graph.height),
    x: nodes(graph.x),
    y: nodes(graph.y),
    from: Int32Array.from(edges, (e) => local.get(graph.from[e]!)!),
    to: Int32Array.from(edges, (e) => local.get(graph.to[e]!)!),
    fromOffset: wires(graph.fromOffset),
    toOffset: wires(graph.toOffset),
    net: Int32Array.from(edges, (e) => graph.net[e]!),
    ...(frames && { frames }),
  };
}

function pickFrames(frames: FrameTree, part: readonly number[]): FrameTree | undefined {
  const used = new Set<number>();
  for (const v of part) for (let f = frames.of[v]!; f !== -1; f = frames.parent[f]!) used.add(f);
  if (used.size === 0) return undefined;
  const kept = [...used].sort((a, b) => a - b);
  const local = new Map(kept.map((f, i) => [f, i]));
  const at = (f: number): number => (f === -1 ? -1 : local.get(f)!);
  const pads = (values: Float64Array): Float64Array => Float64Array.from(kept, (f) => values[f]!);
  return {
    of: Int32Array.from(part, (v) => at(frames.of[v]!)),
    parent: Int32Array.from(kept, (f) => at(frames.parent[f]!)),
    before: pads(frames.before),
    after: pads(frames.after),
    above: pads(frames.above),
    below: pads(frames.below),
  };
}
