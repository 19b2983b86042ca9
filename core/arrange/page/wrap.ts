import type { LayeredGraph } from '../layered/graph.ts';
import type { Layout } from '../layered/layout.ts';

/** A drawing is wrapped from so many times the wanted proportion on, into at most so many rows. */
const [longFrom, mostRows] = [2.2, 8];
/** Wires that run from one row to the next: so many at the most at one cut, and their room. */
const [mostCut, rowGap, roomOfWire] = [4, 64, 10];

/**
 * A long layered drawing in rows, one below the other, cut between layers where few wires run (Rüegg & von Hanxleden,
 * “Wrapping layered graphs”,
 * Diagrams 2018, with cuts near even lengths). Undefined where it is not long, or no cut is thin enough. O(nodes log
 * nodes + wires).
 */
export function wrapped(graph: LayeredGraph, { x, y }: Layout, proportion: number): Layout | undefined {
  const [width, height] = [extent(x, graph.width), extent(y, graph.height)];
  const shape = width / Math.max(1, height);
  if (graph.count < 6 || shape < longFrom * proportion) return undefined;
  const cuts = cutsOf(graph, x);
  const step = (height + rowGap) * proportion;
  const rows = Math.min(mostRows, Math.max(2, Math.round(Math.sqrt(width / step))));
  const chosen: Cut[] = [];
  for (let k = 1; k < rows; k++) {
    const wanted = (k * width) / rows;
    const near = cuts.filter((cut) => Math.abs(cut.at - wanted) < (0.35 * width) / rows && cut.wires <= mostCut);
    if (near.length === 0) return undefined;
    chosen.push(near.reduce((best, cut) => (costOf(cut, wanted, width) < costOf(best, wanted, width) ? cut : best)));
  }
  const rowOf = Int32Array.from(x, (left) => chosen.filter((cut) => left >= cut.at).length);
  const starts = new Float64Array(rows).fill(Number.POSITIVE_INFINITY);
  const tops = new Float64Array(rows).fill(Number.POSITIVE_INFINITY);
  const bottoms = new Float64Array(rows).fill(Number.NEGATIVE_INFINITY);
  for (let v = 0; v < graph.count; v++) {
    const row = rowOf[v]!;
    starts[row] = Math.min(starts[row]!, x[v]!);
    tops[row] = Math.min(tops[row]!, y[v]!);
    bottoms[row] = Math.max(bottoms[row]!, y[v]! + graph.height[v]!);
  }
  const shift = new Float64Array(rows);
  let top = 0;
  for (let row = 0; row < rows; row++) {
    shift[row] = top - tops[row]!;
    top += bottoms[row]! - tops[row]! + rowGap + roomOfWire * (chosen[row]?.wires ?? 0);
  }
  return {
    x: x.map((left, v) => left - starts[rowOf[v]!]!),
    y: y.map((above, v) => Math.round(above + shift[rowOf[v]!]!)),
  };
}

interface Cut {
  /** Everything from here on stands behind it. */
  readonly at: number;
  /** Outputs whose wires run across. */
  readonly wires: number;
}

/** What a cut costs: the wires that it sends back to the start of a row, and how uneven it makes the rows. */
const costOf = (cut: Cut, wanted: number, width: number): number => cut.wires + (8 * Math.abs(cut.at - wanted)) / width;

/**
 * Where nothing stands from top to bottom, with the number of outputs that run across. O((nodes + wires) log nodes).
 */
function cutsOf(graph: LayeredGraph, x: Float64Array): Cut[] {
  const order = [...x.keys()].sort((a, b) => x[a]! - x[b]!);
  const edges: number[] = [];
  let reach = Number.NEGATIVE_INFINITY;
  for (const v of order) {
    if (x[v]! > reach && reach > Number.NEGATIVE_INFINITY) edges.push(x[v]!);
    reach = Math.max(reach, x[v]! + graph.width[v]!);
  }
  // for each output the first and the last place that its wires span
  const spans = new Map<number, [number, number]>();
  for (let e = 0; e < graph.from.length; e++) {
    const [a, b] = [x[graph.from[e]!]!, x[graph.to[e]!]!];
    const span = spans.get(graph.net[e]!) ?? [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    spans.set(graph.net[e]!, [Math.min(span[0], a, b), Math.max(span[1], a, b)]);
  }
  const [begin, end] = [
    [...spans.values()].map(([from]) => from).sort((a, b) => a - b),
    [...spans.values()].map(([, to]) => to).sort((a, b) => a - b),
  ];
  let [begun, ended] = [0, 0];
  return edges.map((at) => {
    while (begun < begin.length && begin[begun]! < at) begun++;
    while (ended < end.length && end[ended]! < at) ended++;
    return { at, wires: begun - ended };
  });
}

function extent(at: Float64Array, size: Float64Array): number {
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let v = 0; v < at.length; v++) {
    low = Math.min(low, at[v]!);
    high = Math.max(high, at[v]! + size[v]!);
  }
  return high - low;
}
