import type { LayeredGraph } from '../arrange/layered/graph.ts';
import { seededRandom } from '../document/ids.ts';

export interface Edges {
  readonly count: number;
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/** Gathers edges from lower to higher numbers, each pair once. */
class EdgeList {
  readonly from: number[] = [];
  readonly to: number[] = [];
  private readonly seen = new Set<number>();
  private readonly count: number;
  constructor(count: number) {
    this.count = count;
  }
  add(u: number, v: number): boolean {
    if (u >= v || u < 0 || v >= this.count || this.seen.has(u * this.count + v)) return false;
    this.seen.add(u * this.count + v);
    this.from.push(u);
    this.to.push(v);
    return true;
  }
  get length(): number {
    return this.from.length;
  }
  done(): Edges {
    return { count: this.count, from: Int32Array.from(this.from), to: Int32Array.from(this.to) };
  }
}

/** A connected acyclic graph: each node hangs on one of the last few, plus further edges with locality. */
export function randomDag(seed: number, count: number, edges: number): Edges {
  const random = seededRandom(seed);
  const list = new EdgeList(count);
  for (let v = 1; v < count; v++) list.add(Math.max(0, v - 1 - Math.floor(random() * 6)), v);
  for (let tries = 0; list.length < edges && tries < edges * 20; tries++) {
    const u = Math.floor(random() * (count - 1));
    list.add(u, Math.min(count - 1, u + 1 + Math.floor(random() * random() * 20)));
  }
  return list.done();
}

/** A connected acyclic graph without locality: nearly every wire is long. */
export function randomFar(seed: number, count: number, edges = Math.round(count * 1.5)): Edges {
  const random = seededRandom(seed);
  const list = new EdgeList(count);
  for (let v = 1; v < count; v++) list.add(v - 1 - Math.floor(random() * Math.min(v, 12 + count / 20)), v);
  for (let tries = 0; list.length < edges && tries < edges * 20; tries++) {
    const u = Math.floor(random() * (count - 1));
    list.add(u, u + 1 + Math.floor(random() * (count - 1 - u)));
  }
  return list.done();
}

/**
 * As files of a team look: sections of 6 to 24 nodes, each a few chains that merge; a section takes from one to three
 * earlier ones, mostly near; one output in eight fans out within its section; a few sources at the start feed sections
 * all over.
 */
export function fileLike(seed: number, count: number): Edges {
  const random = seededRandom(seed);
  const below = (n: number): number => Math.floor(random() * n);
  const list = new EdgeList(count);
  const globals = Math.max(1, Math.round(Math.sqrt(count) / 4));
  const ends: number[] = [];
  let next = globals;
  while (next < count) {
    const size = Math.min(count - next, 6 + below(19));
    const first = next;
    const chains = 1 + below(3);
    const tips: number[] = [];
    for (let i = 0; i < size; i++) {
      const v = next++;
      if (i < chains || tips.length === 0) {
        const back =
          ends.length > 0
            ? ends[Math.max(0, ends.length - 1 - Math.floor(-Math.log(1 - random()) * 2.5))]!
            : below(globals);
        list.add(back, v);
        tips.push(v);
      } else if (tips.length > 1 && random() < 0.25) {
        // a merge: two chains go on as one
        const [a, b] = [tips.splice(below(tips.length), 1)[0]!, tips.splice(below(tips.length), 1)[0]!];
        list.add(a, v);
        list.add(b, v);
        tips.push(v);
      } else {
        const k = below(tips.length);
        list.add(tips[k]!, v);
        if (random() < 0.12) tips.push(v);
        else tips[k] = v;
        if (random() < 0.25) list.add(first + below(v - first), v);
      }
    }
    const last = next - 1;
    for (const tip of tips) if (tip !== last && random() < 0.7) list.add(tip, last);
    if (random() < 0.4) list.add(below(globals), first + below(size));
    if (ends.length > 2 && random() < 0.35) list.add(ends[below(ends.length)]!, first + below(size));
    ends.push(last);
  }
  // every source at the start feeds something, so that the graph is in one piece
  for (let u = 0; u < globals; u++) list.add(u, globals + below(Math.min(count - globals, 40)));
  return list.done();
}

/**
 * The same with sizes and ports: every edge has an input of its own; a node has one output, and one in six a second
 * one.
 * Rows of ports as on the tickets of the application: 34 px of head, 18 px a row.
 */
export function withSizes(edges: Edges): LayeredGraph {
  const random = seededRandom(edges.count);
  const inputs = new Int32Array(edges.count);
  const toOffset = Float64Array.from(edges.to, (v) => 43 + 18 * inputs[v]!++);
  const outputs = Int32Array.from({ length: edges.count }, () => (random() < 1 / 6 ? 2 : 1));
  const port = Int32Array.from(edges.from, (u) => (outputs[u] === 2 && random() < 0.4 ? 1 : 0));
  const height = Float64Array.from(inputs, (n, v) => 40 + 18 * Math.max(n, outputs[v]!));
  const zero = new Float64Array(edges.count);
  return {
    ...edges,
    width: Float64Array.from(inputs, () => 104 + Math.floor(random() * 8) * 12),
    height,
    fromOffset: Float64Array.from(port, (k) => 43 + 18 * k),
    toOffset,
    net: Int32Array.from(edges.from, (u, e) => u * 2 + port[e]!),
    x: zero,
    y: zero,
  };
}

/** Crossings of straight lines from port to port of different outputs, by looking at every pair. */
export function straightCrossings(graph: LayeredGraph, x: ArrayLike<number>, y: ArrayLike<number>): number {
  const line = (e: number) => {
    const [u, v] = [graph.from[e]!, graph.to[e]!];
    return {
      net: graph.net[e]!,
      ax: x[u]! + graph.width[u]!,
      ay: y[u]! + graph.fromOffset[e]!,
      bx: x[v]!,
      by: y[v]! + graph.toOffset[e]!,
    };
  };
  const lines = Array.from(graph.from, (_, e) => line(e));
  const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number): number =>
    Math.sign((bx - ax) * (py - ay) - (by - ay) * (px - ax));
  let count = 0;
  for (let i = 0; i < lines.length; i++) {
    for (let k = i + 1; k < lines.length; k++) {
      const [p, q] = [lines[i]!, lines[k]!];
      if (p.net === q.net) continue;
      const a = side(p.ax, p.ay, p.bx, p.by, q.ax, q.ay) * side(p.ax, p.ay, p.bx, p.by, q.bx, q.by);
      const b = side(q.ax, q.ay, q.bx, q.by, p.ax, p.ay) * side(q.ax, q.ay, q.bx, q.by, p.bx, p.by);
      if (a < 0 && b < 0) count++;
    }
  }
  return count;
}
