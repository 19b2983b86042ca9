import { compileWithLikeness } from '../arrange/compile.ts';
import { Containers } from '../arrange/page/containers.ts';
import { Repeats } from '../arrange/page/repeats.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, framesAround, overlaps, type Rect, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import type { Boxes } from './boxes.ts';
import { type Line, readingWindow } from './lines.ts';

// What is wrong with a drawing as a whole, beside what is wrong with single wires and nodes.

/**
 * The share of all nodes that those drawn after them cover by more than half, from 0 to 1: what is hidden cannot be
 * read, whatever else is right. O(n log n + overlaps).
 */
export function hiddenShare(boxes: Boxes): number {
  const { rects, nodes } = boxes;
  if (nodes.length === 0) return 0;
  const covered = new Float64Array(nodes.length);
  for (const [i, k] of boxes.overlapping()) {
    const [a, b] = [must(rects[i]), must(rects[k])];
    const shared =
      (Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x)) *
      (Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y));
    covered[i] = must(covered[i]) + shared / (a.width * a.height);
  }
  return covered.filter((share) => share > 0.5).length / nodes.length;
}

/** Pairs of frames that overlap though neither holds the other. O(frames²). */
export function framesOnFrames(doc: Doc, kinds: Kinds, graph: Id): [Rect, Rect][] {
  const rects = [...frameRects(doc, kinds, graph)];
  const above = new Map(
    rects.map(([id]) => [id, new Set(framesAround(doc, must(doc.frames.get(id))).map((frame) => frame.id))]),
  );
  return rects.flatMap(([one, a], i) =>
    rects
      .slice(i + 1)
      .flatMap(([other, b]): [Rect, Rect][] =>
        overlaps(a, b) && !must(above.get(one)).has(other) && !must(above.get(other)).has(one) ? [[a, b]] : [],
      ),
  );
}

/**
 * Frames that lie on frames they have nothing to do with, and notes on nodes: the middle of what both share. O(frames²
 * + notes · nodes).
 */
export function covers(doc: Doc, kinds: Kinds, graph: Id, boxes: Boxes): { x: number; y: number; node: number }[] {
  const middle = (a: Rect, b: Rect): { x: number; y: number } => ({
    x: (Math.max(a.x, b.x) + Math.min(a.x + a.width, b.x + b.width)) / 2,
    y: (Math.max(a.y, b.y) + Math.min(a.y + a.height, b.y + b.height)) / 2,
  });
  const found = framesOnFrames(doc, kinds, graph).map(([a, b]) => ({ ...middle(a, b), node: -1 }));
  for (const note of indexOf(doc).notesIn(graph)) {
    if (note.mark) continue;
    boxes.rects.forEach((rect, node) => {
      if (overlaps(rect, note)) found.push({ ...middle(rect, note), node });
    });
  }
  return found;
}

/**
 * Wires of different outputs run side by side nearer than this, for longer than that, in pixels: they look like one.
 */
const [tooNear, tooLong] = [5, 60];

/**
 * Pairs of lines by number that run side by side too near, each pair of outputs once for each place. O(pieces · log
 * pieces + pairs).
 */
export function sideBySide(lines: readonly Line[]): { first: number; second: number; x: number; y: number }[] {
  interface Piece {
    readonly line: number;
    readonly at: number;
    readonly from: number;
    readonly to: number;
  }
  const found: { first: number; second: number; x: number; y: number }[] = [];
  for (const isLevel of [true, false]) {
    const pieces = new Map<string, Piece>();
    lines.forEach(({ route, net }, line) => {
      for (let i = 1; i < route.length; i++) {
        const [a, b] = [must(route[i - 1]), must(route[i])];
        if (isLevel ? a.y !== b.y : a.x !== b.x) continue;
        const [at, one, other] = isLevel ? [a.y, a.x, b.x] : [a.x, a.y, b.y];
        const [from, to] = [Math.min(one, other), Math.max(one, other)];
        // a trunk is one line, however many wires it holds
        if (to - from > tooLong) pieces.set(`${net} ${at} ${from}`, { line, at, from, to });
      }
    });
    const sorted = [...pieces.values()].sort((a, b) => a.at - b.at || a.from - b.from);
    sorted.forEach((piece, i) => {
      for (let k = i + 1; k < sorted.length && must(sorted[k]).at - piece.at < tooNear; k++) {
        const other = must(sorted[k]);
        const [from, to] = [Math.max(piece.from, other.from), Math.min(piece.to, other.to)];
        if (to - from <= tooLong || must(lines[piece.line]).net === must(lines[other.line]).net) continue;
        const along = (from + to) / 2;
        found.push({
          first: piece.line,
          second: other.line,
          x: isLevel ? along : piece.at,
          y: isLevel ? piece.at : along,
        });
      }
    });
  }
  return found;
}

/**
 * The room that a node takes in a fair drawing: so much more than its own each way; and how much larger than that a
 * drawing may be.
 */
const [roomAlong, roomAcross, roomy] = [72, 40, 2.4];

/**
 * What is left of what can be read where the whole has to be shown so much smaller, from 1 down: beyond half the size
 * it needs, words go.
 */
export const legibleAt = (lost: number): number => 1 / (1 + Math.max(0, lost - 1) / 8);

/**
 * How much smaller than it could be a graph has to be shown so that all of it fits a window: 0 where it is as large as
 * it can be. O(n).
 */
export function lostZoom({ rects }: Pick<Boxes, 'rects'>): number {
  const around = unite(rects);
  if (!around || rects.length < 2) return 0;
  const zoom = Math.min(1, readingWindow.width / around.width, readingWindow.height / around.height);
  const area = rects.reduce((sum, rect) => sum + (rect.width + roomAlong) * (rect.height + roomAcross), 0);
  const ideal = Math.min(1, Math.sqrt((readingWindow.width * readingWindow.height) / (roomy * area)));
  return Math.max(0, ideal / zoom - 1);
}

/** Nodes of a row of numbered names that stand before one with a lower number, as one reads: by number. O(n log n). */
export function outOfOrder({ nodes, rects }: Pick<Boxes, 'nodes' | 'rects'>): number[] {
  const series = new Map<string, { node: number; number: number }[]>();
  nodes.forEach(({ name, kind, frame }, node) => {
    const digits = [...name.matchAll(/\d+/g)];
    if (digits.length !== 1) return;
    const key = `${kind} ${frame ?? ''} ${name.replace(/\d+/, '#')}`;
    addTo(series, key, { node, number: Number(must(digits[0])[0]) });
  });
  return [...series.values()]
    .filter((list) => list.length >= 3)
    .flatMap((list) => {
      const [wide, high] = [
        spread(list.map(({ node }) => must(rects[node]).x)),
        spread(list.map(({ node }) => must(rects[node]).y)),
      ];
      const usual = must(rects[must(list[0]).node]);
      // a column is read down, a row across, a grid row by row
      const row = (node: number): number =>
        high < usual.height ? 0 : Math.round(must(rects[node]).y / Math.max(1, usual.height));
      list.sort((a, b) =>
        wide < usual.width
          ? must(rects[a.node]).y - must(rects[b.node]).y
          : row(a.node) - row(b.node) || must(rects[a.node]).x - must(rects[b.node]).x,
      );
      return list.slice(1).flatMap((one, i) => (one.number < must(list[i]).number ? [one.node] : []));
    });
}

const spread = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);

/** Larger graphs are not looked through for parts that should look alike. */
const mostCompared = 3000;

/**
 * Nodes of parts that are the same as another part but for names and values, and do not stand in it as its nodes do: by
 * number in `nodes`. O(graph · rounds).
 */
export function unlike(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[]): number[] {
  if (nodes.length < 4 || nodes.length > mostCompared) return [];
  const compiled = compileWithLikeness(doc, kinds, graph, nodes).graph;
  return new Repeats(compiled, new Containers(compiled)).unlike();
}

/**
 * Does a label say more than the node does without it? Not where it is its kind, has no word in it, or stands on many.
 */
export function saysSomething(node: GraphNode, kinds: Kinds, sameLabels: number): boolean {
  const label = (node.label ?? '').trim().toLowerCase();
  const plain = (text: string): string => text.replace(/[^\p{L}\p{N}]+/gu, '').toLowerCase();
  return /[\p{L}\p{N}]{2,}/u.test(label) && plain(label) !== plain(kinds.title(node.kind)) && sameLabels <= mostSame;
}

const mostSame = 3;
