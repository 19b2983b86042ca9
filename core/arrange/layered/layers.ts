import { type Adjacency, adjacency, type FrameTree, type LayeredGraph } from './graph.ts';
import { spans } from './spans.ts';

/**
 * The layered graph with long edges cut: nodes 0 … count−1 are real, those behind are lanes, places of no height where
 * wires pass a layer. Edges of one output share a lane in each layer as far as they run together, so that a fan-out is
 * one trunk with branches.
 * Every segment leads from one layer to the next; `rank` grows along the flow.
 */
export interface Layers {
  readonly total: number;
  readonly real: number;
  readonly rank: Int32Array;
  readonly height: Float64Array;
  /** Where a node lies now across the flow (its top); lanes lie on the straight line of their longest edge. */
  readonly y: Float64Array;
  readonly segFrom: Int32Array;
  readonly segTo: Int32Array;
  readonly segFromOffset: Float64Array;
  readonly segToOffset: Float64Array;
  /** How many edges run through a segment. */
  readonly segWeight: Int32Array;
  /**
   * Which port of its node a segment leaves from and comes in at: numbered along the side, equal places have equal
   * numbers.
   */
  readonly segFromPort: Int32Array;
  readonly segToPort: Int32Array;
  /** How many ports a node has on each side; 1 for lanes. */
  readonly outPorts: Int32Array;
  readonly inPorts: Int32Array;
  /** Segments at each node in the order of its ports. */
  readonly out: Adjacency;
  readonly into: Adjacency;
  readonly layerCount: number;
  /** The first lane of each edge, whose further lanes follow by number, or −1 where it has none. */
  readonly firstLane: Int32Array;
  /**
   * The frame that each node and lane lies in, or −1; absent where there are no frames. A lane lies in the frame that
   * holds both its ends.
   */
  readonly frame?: Int32Array;
}

interface Strand {
  readonly edge: number;
  readonly u: number;
  readonly v: number;
  readonly uOffset: number;
  readonly vOffset: number;
}

/**
 * Cuts long edges into segments. `reversed` edges run against the flow and are turned round. Self-loops are left out.
 * O(E log E + lanes).
 */
export function makeLayers(graph: LayeredGraph, rank: Int32Array, reversed: Uint8Array): Layers {
  const ranks = Array.from(rank);
  const ys = Array.from(graph.y);
  const frame = graph.frames && Array.from(graph.frames.of);
  const [segFrom, segTo, weight] = [[] as number[], [] as number[], [] as number[]];
  const [fromOffset, toOffset] = [[] as number[], [] as number[]];
  const segment = (u: number, v: number, uOffset: number, vOffset: number, wires: number): void => {
    segFrom.push(u);
    segTo.push(v);
    fromOffset.push(uOffset);
    toOffset.push(vOffset);
    weight.push(wires);
  };
  const firstLane = new Int32Array(graph.from.length).fill(-1);
  let layerCount = 0;
  for (const r of rank) layerCount = Math.max(layerCount, r + 1);

  for (const strands of trunks(graph, reversed)) {
    strands.sort((a, b) => rank[a.v]! - rank[b.v]!);
    const far = strands[strands.length - 1]!;
    const [first, last] = [rank[far.u]!, rank[far.v]!];
    const [startY, endY] = [graph.y[far.u]! + far.uOffset, graph.y[far.v]! + far.vOffset];
    let [at, atOffset] = [far.u, far.uOffset];
    let k = 0;
    for (const one of strands) if (rank[one.v]! > first + 1) firstLane[one.edge] = ranks.length;
    const common =
      graph.frames &&
      strands.reduce((at, one) => commonFrame(graph.frames!, at, graph.frames!.of[one.v]!), graph.frames.of[far.u]!);
    for (let r = first + 1; r <= last; r++) {
      for (; k < strands.length && rank[strands[k]!.v] === r; k++)
        segment(at, strands[k]!.v, atOffset, strands[k]!.vOffset, 1);
      if (r === last) break;
      const lane = ranks.length;
      ranks.push(r);
      if (common !== undefined) frame?.push(common);
      ys.push(startY + ((endY - startY) * (r - first)) / (last - first));
      segment(at, lane, atOffset, 0, strands.length - k);
      [at, atOffset] = [lane, 0];
    }
  }

  if (graph.frames && frame) holdPlaces(graph.frames, graph.count, ranks, ys, frame);
  const total = ranks.length;
  const height = new Float64Array(total);
  height.set(graph.height);
  const from = Int32Array.from(segFrom);
  const to = Int32Array.from(segTo);
  const [segFromOffset, segToOffset] = [Float64Array.from(fromOffset), Float64Array.from(toOffset)];
  const out = portOrder(adjacency(total, from), segFromOffset);
  const into = portOrder(adjacency(total, to), segToOffset);
  const [segFromPort, outPorts] = numberPorts(out, segFromOffset);
  const [segToPort, inPorts] = numberPorts(into, segToOffset);
  return {
    total,
    real: graph.count,
    rank: Int32Array.from(ranks),
    height,
    y: Float64Array.from(ys),
    segFrom: from,
    segTo: to,
    segFromOffset,
    segToOffset,
    segWeight: Int32Array.from(weight),
    segFromPort,
    segToPort,
    outPorts,
    inPorts,
    out,
    into,
    layerCount,
    firstLane,
    ...(frame && { frame: Int32Array.from(frame) }),
  };
}

/**
 * A frame that has nothing in one of the layers that it spans gets a place of no height there, so that it has its place
 * in the order.
 */
function holdPlaces(frames: FrameTree, count: number, ranks: number[], ys: number[], frame: number[]): void {
  const { low, high } = spans(frames, ranks);
  const taken = frames.parent.length === 0 ? [] : Array.from(frames.parent, () => new Set<number>());
  frame.forEach((innermost, v) => {
    for (let f = innermost; f !== -1; f = frames.parent[f]!) taken[f]!.add(ranks[v]!);
  });
  const middle = new Float64Array(frames.parent.length);
  const members = new Int32Array(frames.parent.length);
  for (let v = 0; v < count; v++) {
    for (let f = frames.of[v]!; f !== -1; f = frames.parent[f]!) {
      middle[f]! += ys[v]!;
      members[f]!++;
    }
  }
  frames.parent.forEach((_, f) => {
    for (let r = low[f]!; r <= high[f]!; r++) {
      if (taken[f]!.has(r)) continue;
      for (let g = f; g !== -1; g = frames.parent[g]!) taken[g]!.add(r);
      ranks.push(r);
      ys.push(middle[f]! / members[f]!);
      frame.push(f);
    }
  });
}

/** The innermost frame that holds both, or −1. O(depth). */
function commonFrame(frames: FrameTree, a: number, b: number): number {
  const around = new Set<number>();
  for (let at = a; at !== -1; at = frames.parent[at]!) around.add(at);
  for (let at = b; at !== -1; at = frames.parent[at]!) if (around.has(at)) return at;
  return -1;
}

/** Edges that share their way: those of one output that run along the flow; one that is turned round goes alone. */
function trunks(graph: LayeredGraph, reversed: Uint8Array): Strand[][] {
  const byNet = new Map<number, Strand[]>();
  const all: Strand[][] = [];
  for (let edge = 0; edge < graph.from.length; edge++) {
    const [u, v, uOffset, vOffset] = [
      graph.from[edge]!,
      graph.to[edge]!,
      graph.fromOffset[edge]!,
      graph.toOffset[edge]!,
    ];
    if (u === v) continue;
    if (reversed[edge]) {
      all.push([{ edge, u: v, v: u, uOffset: vOffset, vOffset: uOffset }]);
      continue;
    }
    const known = byNet.get(graph.net[edge]!);
    if (known) known.push({ edge, u, v, uOffset, vOffset });
    else {
      const fresh = [{ edge, u, v, uOffset, vOffset }];
      byNet.set(graph.net[edge]!, fresh);
      all.push(fresh);
    }
  }
  return all;
}

function portOrder(at: Adjacency, offset: Float64Array): Adjacency {
  for (let v = 0; v + 1 < at.start.length; v++) {
    const [start, end] = [at.start[v]!, at.start[v + 1]!];
    if (end - start > 1) at.list.subarray(start, end).sort((a, b) => offset[a]! - offset[b]! || a - b);
  }
  return at;
}

function numberPorts(at: Adjacency, offset: Float64Array): [Int32Array, Int32Array] {
  const port = new Int32Array(offset.length);
  const ports = new Int32Array(at.start.length - 1).fill(1);
  for (let v = 0; v + 1 < at.start.length; v++) {
    let number = 0;
    for (let k = at.start[v]!; k < at.start[v + 1]!; k++) {
      if (k > at.start[v]! && offset[at.list[k]!] !== offset[at.list[k - 1]!]) number++;
      port[at.list[k]!] = number;
    }
    ports[v] = number + 1;
  }
  return [port, ports];
}
