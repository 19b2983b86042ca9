import type { LayeredGraph } from '../arrange/layered/graph.ts';
import { seededRandom } from '../document/ids.ts';

export interface Edges {
  readonly count: number;
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/** A connected acyclic graph: each node hangs on one of the last few, plus further edges with locality, as real files have them. */
export function randomDag(seed: number, count: number, edges: number): Edges {
  const random = seededRandom(seed);
  const seen = new Set<number>();
  const from: number[] = [];
  const to: number[] = [];
  const add = (u: number, v: number): void => {
    if (u === v || seen.has(u * count + v)) return;
    seen.add(u * count + v);
    from.push(u);
    to.push(v);
  };
  for (let v = 1; v < count; v++) add(Math.max(0, v - 1 - Math.floor(random() * 6)), v);
  for (let tries = 0; from.length < edges && tries < edges * 20; tries++) {
    const u = Math.floor(random() * (count - 1));
    add(u, Math.min(count - 1, u + 1 + Math.floor(random() * random() * 20)));
  }
  return { count, from: Int32Array.from(from), to: Int32Array.from(to) };
}

/** The same with sizes and port offsets: each edge has a port of its own, in the order in which they come. */
export function withSizes(edges: Edges): LayeredGraph {
  const next = new Map<string, number>();
  const port = (key: string): number => {
    const k = next.get(key) ?? 0;
    next.set(key, k + 1);
    return 43 + 18 * k;
  };
  const fromOffset = Float64Array.from(edges.from, (u) => port(`out ${u}`));
  const toOffset = Float64Array.from(edges.to, (v) => port(`in ${v}`));
  const height = Float64Array.from({ length: edges.count }, (_, v) => 40 + 18 * Math.max(1, next.get(`out ${v}`) ?? 0, next.get(`in ${v}`) ?? 0));
  const zero = new Float64Array(edges.count);
  return { ...edges, width: new Float64Array(edges.count).fill(140), height, fromOffset, toOffset, x: zero, y: zero };
}

/** Crossings of straight lines from port to port, by looking at every pair. */
export function straightCrossings(graph: LayeredGraph, x: ArrayLike<number>, y: ArrayLike<number>): number {
  const line = (e: number) => {
    const [u, v] = [graph.from[e]!, graph.to[e]!];
    return { ax: x[u]! + graph.width[u]!, ay: y[u]! + graph.fromOffset[e]!, bx: x[v]!, by: y[v]! + graph.toOffset[e]! };
  };
  const lines = Array.from(graph.from, (_, e) => line(e));
  const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number): number => Math.sign((bx - ax) * (py - ay) - (by - ay) * (px - ax));
  let count = 0;
  for (let i = 0; i < lines.length; i++) {
    for (let k = i + 1; k < lines.length; k++) {
      const [p, q] = [lines[i]!, lines[k]!];
      const a = side(p.ax, p.ay, p.bx, p.by, q.ax, q.ay) * side(p.ax, p.ay, p.bx, p.by, q.bx, q.by);
      const b = side(q.ax, q.ay, q.bx, q.by, p.ax, p.ay) * side(q.ax, q.ay, q.bx, q.by, p.bx, p.by);
      if (a < 0 && b < 0) count++;
    }
  }
  return count;
}
