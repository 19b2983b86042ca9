import { type Adjacency, adjacency, type LayeredGraph } from './graph.ts';

/**
 * The layered graph with long edges cut into chains: nodes 0 … count−1 are real, those behind are dummies of no height.
 * Every segment leads from one layer to the next; `rank` grows along the flow.
 */
export interface Layers {
  readonly total: number;
  readonly real: number;
  readonly rank: Int32Array;
  readonly height: Float64Array;
  /** Where a node lies now across the flow (its top); dummies lie on the straight line of their edge. */
  readonly y: Float64Array;
  readonly segFrom: Int32Array;
  readonly segTo: Int32Array;
  readonly segFromOffset: Float64Array;
  readonly segToOffset: Float64Array;
  readonly out: Adjacency;
  readonly into: Adjacency;
  readonly layerCount: number;
}

/** Cuts long edges into segments. `reversed` edges run against the flow and are turned round. Self-loops are left out. O(nodes + dummies). */
export function makeLayers(graph: LayeredGraph, rank: Int32Array, reversed: Uint8Array): Layers {
  const [ranks, heights, ys] = [Array.from(rank), Array.from(graph.height), Array.from(graph.y)];
  const [segFrom, segTo, fromOffset, toOffset] = [[] as number[], [] as number[], [] as number[], [] as number[]];
  const segment = (u: number, v: number, uOffset: number, vOffset: number): void => {
    segFrom.push(u);
    segTo.push(v);
    fromOffset.push(uOffset);
    toOffset.push(vOffset);
  };
  let layerCount = 0;
  for (const r of rank) layerCount = Math.max(layerCount, r + 1);
  for (let edge = 0; edge < graph.from.length; edge++) {
    let [u, v, uOffset, vOffset] = [graph.from[edge]!, graph.to[edge]!, graph.fromOffset[edge]!, graph.toOffset[edge]!];
    if (u === v) continue;
    if (reversed[edge]) [u, v, uOffset, vOffset] = [v, u, vOffset, uOffset];
    const [top, bottom] = [rank[u]!, rank[v]!];
    const [startY, endY] = [graph.y[u]! + uOffset, graph.y[v]! + vOffset];
    let [at, atOffset] = [u, uOffset];
    for (let r = top + 1; r < bottom; r++) {
      const dummy = ranks.length;
      ranks.push(r);
      heights.push(0);
      ys.push(startY + ((endY - startY) * (r - top)) / (bottom - top));
      segment(at, dummy, atOffset, 0);
      [at, atOffset] = [dummy, 0];
    }
    segment(at, v, atOffset, vOffset);
  }
  const from = Int32Array.from(segFrom);
  const to = Int32Array.from(segTo);
  return {
    total: ranks.length,
    real: graph.count,
    rank: Int32Array.from(ranks),
    height: Float64Array.from(heights),
    y: Float64Array.from(ys),
    segFrom: from,
    segTo: to,
    segFromOffset: Float64Array.from(fromOffset),
    segToOffset: Float64Array.from(toOffset),
    out: adjacency(ranks.length, from),
    into: adjacency(ranks.length, to),
    layerCount,
  };
}
