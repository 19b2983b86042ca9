/**
 * A graph compiled for layered layout: flat arrays, nodes numbered from 0. Data flows along x; y is across the flow.
 * Offsets are those of the ports on their node, across the flow, from the node's top edge. Lengths in pixels at 100 %
 * zoom.
 */
export interface LayeredGraph {
  readonly count: number;
  readonly width: Float64Array;
  readonly height: Float64Array;
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly fromOffset: Float64Array;
  readonly toOffset: Float64Array;
  /** Which output each edge comes from, as any number: edges of one output are one net and may share their way. */
  readonly net: Int32Array;
  /** Where the nodes lie now (top-left); what `keep` keeps, and what decides between equals. */
  readonly x: Float64Array;
  readonly y: Float64Array;
  /**
   * What each node is like but for names and values; nodes of different numbers are never laid out alike. All alike
   * where absent.
   */
  readonly sign?: Int32Array;
  /**
   * What each node's name says about its place among others that are alike: their stem as any number, and the place in
   * the order of names.
   */
  readonly names?: { readonly stem: Int32Array; readonly place: Int32Array };
  /** Frames that stay whole; none where absent. */
  readonly frames?: FrameTree;
}

/** Frames within frames, numbered from 0, with the margins around what they hold, in flow coordinates. */
export interface FrameTree {
  /** The innermost frame of each node, or −1. */
  readonly of: Int32Array;
  /** The frame around each frame, or −1. */
  readonly parent: Int32Array;
  readonly before: Float64Array;
  readonly after: Float64Array;
  readonly above: Float64Array;
  readonly below: Float64Array;
}

export interface Spacing {
  /** Between two layers, along the flow, before room for wires is added. */
  readonly along: number;
  /** Between two nodes of a layer, across the flow. */
  readonly across: number;
}

export const normalSpacing: Spacing = { along: 72, across: 26 };

/** Rows of neighbours in one flat array: the edges of node i are list[start[i] … start[i+1]). */
export interface Adjacency {
  readonly start: Int32Array;
  readonly list: Int32Array;
}

/** Groups edge numbers by one of their ends. O(nodes + edges), in edge order. */
export function adjacency(count: number, ends: Int32Array): Adjacency {
  const start = new Int32Array(count + 1);
  for (const end of ends) start[end + 1]!++;
  for (let i = 0; i < count; i++) start[i + 1]! += start[i]!;
  const at = start.slice();
  const list = new Int32Array(ends.length);
  ends.forEach((end, edge) => {
    list[at[end]!++] = edge;
  });
  return { start, list };
}
