import { adjacency, type FrameTree } from './graph.ts';
import type { Layers } from './layers.ts';
import { placeAcross } from './place.ts';
import { Rows } from './rows.ts';
import { spans } from './spans.ts';

/**
 * Places across the flow with frames: in every layer that a frame spans, its upper and its lower edge are nodes of
 * their own, as high as its margins, wired into two chains that stay straight. So no stranger comes between them, in
 * whatever layer (after
 * Sander 1996).
 * Every layer of `rows` has to hold each frame's nodes in one row. Returns the top of each node and lane. O(nodes +
 * frames · layers).
 */
export function placeWithFrames(layers: Layers, rows: Rows, frames: FrameTree, gap: number): Float64Array {
  const { low, high } = spans(frames, layers.rank);
  const base = layers.total;
  const first = new Int32Array(frames.parent.length);
  let total = base;
  for (let f = 0; f < first.length; f++) {
    first[f] = total;
    if (high[f]! >= 0) total += 2 * (high[f]! - low[f]! + 1);
  }
  const grow = (from: Int32Array, rest: number): Int32Array => {
    const grown = new Int32Array(total).fill(rest);
    grown.set(from);
    return grown;
  };
  const rank = grow(layers.rank, 0);
  const height = new Float64Array(total);
  height.set(layers.height);
  const [segFrom, segTo] = [Array.from(layers.segFrom), Array.from(layers.segTo)];
  // the two edges of frame f in layer r are first[f] + 2 (r − low) and the one behind it
  const edge = (f: number, r: number, which: 0 | 1): number => first[f]! + 2 * (r - low[f]!) + which;
  for (let f = 0; f < first.length; f++) {
    for (let r = low[f]!; r <= high[f]!; r++) {
      for (const which of [0, 1] as const) {
        const v = edge(f, r, which);
        rank[v] = r;
        height[v] = which === 0 ? frames.above[f]! : frames.below[f]!;
        if (r > low[f]!) {
          segFrom.push(edge(f, r - 1, which));
          segTo.push(v);
        }
      }
    }
  }
  const extend = (from: Float64Array): Float64Array => {
    const grown = new Float64Array(segFrom.length);
    grown.set(from);
    return grown;
  };
  const [from, to] = [Int32Array.from(segFrom), Int32Array.from(segTo)];
  const zeros = new Int32Array(segFrom.length);
  const framed: Layers = {
    ...layers,
    total,
    rank,
    height,
    segFrom: from,
    segTo: to,
    segFromOffset: extend(layers.segFromOffset),
    segToOffset: extend(layers.segToOffset),
    segFromPort: zeros,
    segToPort: zeros,
    segWeight: zeros,
    outPorts: new Int32Array(total).fill(1),
    inPorts: new Int32Array(total).fill(1),
    out: adjacency(total, from),
    into: adjacency(total, to),
  };
  const framedRows = new Rows(framed);
  for (let r = 0; r < layers.layerCount; r++) {
    const row = withEdges(layers, rows, frames, r, edge);
    framedRows.row.set(row, framedRows.start[r]!);
    framedRows.renumber(r);
  }
  return placeAcross(framed, framedRows, gap, base);
}

/** A layer's row with the edges of frames put in: opened before a frame's first node, closed behind its last. */
function withEdges(
  layers: Layers,
  rows: Rows,
  frames: FrameTree,
  r: number,
  edge: (frame: number, r: number, which: 0 | 1) => number,
): number[] {
  const row: number[] = [];
  const open: number[] = [];
  const pathOf = (frame: number): number[] => {
    const path: number[] = [];
    for (let f = frame; f !== -1; f = frames.parent[f]!) path.unshift(f);
    return path;
  };
  for (let i = rows.start[r]!; i < rows.start[r + 1]!; i++) {
    const v = rows.row[i]!;
    const path = pathOf(layers.frame![v]!);
    while (open.length > 0 && path[open.length - 1] !== open[open.length - 1]) row.push(edge(open.pop()!, r, 1));
    for (const f of path.slice(open.length)) {
      open.push(f);
      row.push(edge(f, r, 0));
    }
    row.push(v);
  }
  while (open.length > 0) row.push(edge(open.pop()!, r, 1));
  return row;
}
