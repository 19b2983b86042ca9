import Flatbush from 'flatbush';
import type { LayeredGraph } from '../arrange/layered/graph.ts';
import type { Laid } from './engines.ts';

/** What a drawing is judged by; it knows no engine. Lengths in pixels. */
export interface Verdict {
  /** Points at which wires of different outputs cross, for every pair of wires. */
  readonly crossings: number;
  /** Pairs of a wire and a node that it runs through. */
  readonly through: number;
  readonly overlaps: number;
  readonly length: number;
  readonly bends: number;
  readonly backward: number;
  readonly area: number;
  /** Length of the pieces on which right-angled wires of different outputs lie upon one another. */
  readonly shared: number;
}

interface Piece {
  readonly ax: number;
  readonly ay: number;
  readonly bx: number;
  readonly by: number;
  readonly edge: number;
}

/** Judges nodes and wires as they were drawn. O((nodes + pieces) log n + crossings). */
export function judge(graph: LayeredGraph, laid: Laid): Verdict {
  const pieces: Piece[] = [];
  let [length, bends, backward] = [0, 0, 0];
  laid.wires.forEach((wire, edge) => {
    const before = pieces.length;
    for (let i = 0; i + 3 < wire.length; i += 2) {
      const [ax, ay, bx, by] = [wire[i]!, wire[i + 1]!, wire[i + 2]!, wire[i + 3]!];
      if (ax === bx && ay === by) continue;
      pieces.push({ ax, ay, bx, by, edge });
      length += Math.hypot(bx - ax, by - ay);
    }
    bends += Math.max(0, pieces.length - before - 1);
    if (wire.length > 0 && wire[wire.length - 2]! < wire[0]!) backward++;
  });
  const tree = indexOf(
    pieces.map(
      (p) => [Math.min(p.ax, p.bx), Math.min(p.ay, p.by), Math.max(p.ax, p.bx), Math.max(p.ay, p.by)] as const,
    ),
  );
  let [crossings, shared] = [0, 0];
  pieces.forEach((p, i) => {
    tree?.search(Math.min(p.ax, p.bx), Math.min(p.ay, p.by), Math.max(p.ax, p.bx), Math.max(p.ay, p.by), (k) => {
      if (k <= i) return false;
      const q = pieces[k]!;
      if (graph.net[p.edge] === graph.net[q.edge]) return false;
      if (crosses(p, q)) crossings++;
      else shared += common(p, q);
      return false;
    });
  });
  const boxes = Array.from(
    { length: graph.count },
    (_, v) => [laid.x[v]!, laid.y[v]!, laid.x[v]! + graph.width[v]!, laid.y[v]! + graph.height[v]!] as const,
  );
  const nodes = indexOf(boxes);
  let [through, overlaps] = [0, 0];
  boxes.forEach((a, v) => {
    for (const w of nodes?.search(...a) ?? []) {
      const b = boxes[w]!;
      if (w > v && a[0] + 0.5 < b[2] && b[0] + 0.5 < a[2] && a[1] + 0.5 < b[3] && b[1] + 0.5 < a[3]) overlaps++;
    }
  });
  const seen = new Set<number>();
  for (const p of pieces) {
    for (const v of nodes?.search(
      Math.min(p.ax, p.bx),
      Math.min(p.ay, p.by),
      Math.max(p.ax, p.bx),
      Math.max(p.ay, p.by),
    ) ?? []) {
      if (v === graph.from[p.edge] || v === graph.to[p.edge] || seen.has(p.edge * graph.count + v)) continue;
      if (enters(p, boxes[v]!)) {
        through++;
        seen.add(p.edge * graph.count + v);
      }
    }
  }
  const [left, top, right, bottom] = boxes.reduce(
    (all, b) =>
      [Math.min(all[0], b[0]), Math.min(all[1], b[1]), Math.max(all[2], b[2]), Math.max(all[3], b[3])] as const,
    [Infinity, Infinity, -Infinity, -Infinity] as readonly [number, number, number, number],
  );
  return {
    crossings,
    through,
    overlaps,
    length: Math.round(length),
    bends,
    backward,
    area: Math.round(((right - left) * (bottom - top)) / 1000),
    shared: Math.round(shared),
  };
}

function indexOf(boxes: readonly (readonly [number, number, number, number])[]): Flatbush | undefined {
  if (boxes.length === 0) return undefined;
  const tree = new Flatbush(boxes.length);
  for (const box of boxes) tree.add(...box);
  tree.finish();
  return tree;
}

function crosses(p: Piece, q: Piece): boolean {
  const side = (a: Piece, x: number, y: number): number =>
    Math.sign((a.bx - a.ax) * (y - a.ay) - (a.by - a.ay) * (x - a.ax));
  return side(p, q.ax, q.ay) * side(p, q.bx, q.by) < 0 && side(q, p.ax, p.ay) * side(q, p.bx, p.by) < 0;
}

/** Length on which two parallel right-angled pieces lie less than half a pixel apart. */
function common(p: Piece, q: Piece): number {
  if (p.ay === p.by && q.ay === q.by && Math.abs(p.ay - q.ay) < 0.5)
    return Math.max(
      0,
      Math.min(Math.max(p.ax, p.bx), Math.max(q.ax, q.bx)) - Math.max(Math.min(p.ax, p.bx), Math.min(q.ax, q.bx)),
    );
  if (p.ax === p.bx && q.ax === q.bx && Math.abs(p.ax - q.ax) < 0.5)
    return Math.max(
      0,
      Math.min(Math.max(p.ay, p.by), Math.max(q.ay, q.by)) - Math.max(Math.min(p.ay, p.by), Math.min(q.ay, q.by)),
    );
  return 0;
}

/** Does a piece run through a box by more than half a pixel? Liang & Barsky's clipping (1984). */
function enters(p: Piece, [left, top, right, bottom]: readonly [number, number, number, number]): boolean {
  let [from, to] = [0, 1];
  const [dx, dy] = [p.bx - p.ax, p.by - p.ay];
  for (const [a, b] of [
    [-dx, p.ax - left - 0.5],
    [dx, right - 0.5 - p.ax],
    [-dy, p.ay - top - 0.5],
    [dy, bottom - 0.5 - p.ay],
  ] as const) {
    if (a === 0) {
      if (b <= 0) return false;
    } else if (a < 0) from = Math.max(from, b / a);
    else to = Math.min(to, b / a);
  }
  return from < to;
}
