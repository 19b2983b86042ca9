import Flatbush from 'flatbush';
import type { Point } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Flow, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Route } from '../route/route.ts';

export interface Line {
  readonly net: string;
  readonly ends: readonly [Id, Id];
  readonly route: Route;
}

/** A wire as a line, or undefined where it has no route. */
export const lineOf = (wire: Wire, route: Route | undefined): Line | undefined =>
  route && { net: `${wire.from.node} ${wire.from.port}`, ends: [wire.from.node, wire.to.node], route };

/** The window that readability is measured by, in pixels at 100 % zoom. */
export const readingWindow = { width: 1280, height: 800 };

/** Extra windows between the ends of a wire: 0 where both fit into one at 100 % zoom. */
export function windowsOf(route: Route): number {
  const [a, b] = [must(route[0]), must(route.at(-1))];
  return Math.max(
    Math.floor(Math.abs(b.x - a.x) / readingWindow.width),
    Math.floor(Math.abs(b.y - a.y) / readingWindow.height),
  );
}

export const lengthOf = (route: Route): number =>
  route.slice(1).reduce((sum, p, i) => sum + Math.hypot(p.x - must(route[i]).x, p.y - must(route[i]).y), 0);

/**
 * Points at which two routes of different nets cross. Touching ends and shared pieces do not count. O(pieces · log +
 * crossings).
 */
export function countRouteCrossings(lines: readonly Line[]): number {
  let count = 0;
  new Crossings(lines).each(() => count++);
  return count;
}

interface Piece {
  readonly a: Point;
  readonly b: Point;
  /** The number of its line. */
  readonly line: number;
}

const piecesOf = ({ route }: Line, line: number): Piece[] =>
  route.slice(1).map((b, i) => ({ a: must(route[i]), b, line }));

/**
 * Answers which lines cross which. Level and upright pieces are swept from left to right, as all of a right-angled
 * picture are, in O(pieces · log pieces + crossings); slanting ones are sought in an R-tree, which is made when it is
 * first asked.
 */
export class Crossings {
  private readonly lines: readonly Line[];
  private readonly pieces: readonly Piece[];
  private known: Flatbush | undefined;

  constructor(lines: readonly Line[]) {
    this.lines = lines;
    this.pieces = lines.flatMap(piecesOf);
  }

  /** Calls `found` for each point at which two lines cross, with their numbers and the point. */
  each(found: (line: number, other: number, x: number, y: number) => void): void {
    sweep(this.pieces, this.lines, found);
    this.pieces.forEach((piece, i) => {
      if (isLevel(piece) || isUpright(piece)) return;
      this.meet(piece, must(this.lines[piece.line]).net, (k) => {
        const other = must(this.pieces[k]);
        // two that slant are met from both sides
        if (k < i && !isLevel(other) && !isUpright(other)) return;
        const at = meeting(piece, other);
        found(piece.line, other.line, at.x, at.y);
      });
    });
  }

  /** The same for a line that is not among them, with the number of each line that it crosses. */
  with(line: Line, found: (other: number) => void): void {
    for (const piece of piecesOf(line, -1)) this.meet(piece, line.net, (k) => found(must(this.pieces[k]).line));
  }

  private meet({ a, b }: Piece, net: string, found: (piece: number) => void): void {
    if (this.pieces.length === 0) return;
    this.known ??= treeOf(this.pieces);
    this.known.search(Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y), (k) => {
      const other = must(this.pieces[k]);
      if (must(this.lines[other.line]).net !== net && cross(a, b, other.a, other.b)) found(k);
      return false;
    });
  }
}

function treeOf(pieces: readonly Piece[]): Flatbush {
  const tree = new Flatbush(pieces.length);
  for (const { a, b } of pieces)
    tree.add(Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y));
  tree.finish();
  return tree;
}

const isLevel = ({ a, b }: Piece): boolean => a.y === b.y && a.x !== b.x;
const isUpright = ({ a, b }: Piece): boolean => a.x === b.x && a.y !== b.y;

/**
 * Every level piece that crosses an upright one of another net: a line sweeps from left to right, over which the level
 * pieces are kept by height (Bentley & Ottmann, IEEE Trans. Computers 28, 1979, for right angles alone). Where several
 * things happen at one place, pieces end before uprights are looked at, and begin after: touching does not count.
 */
function sweep(
  pieces: readonly Piece[],
  lines: readonly Line[],
  found: (line: number, other: number, x: number, y: number) => void,
): void {
  const nets = new Map<string, number>();
  for (const { net } of lines) if (!nets.has(net)) nets.set(net, nets.size);
  const netOf = lines.map(({ net }) => must(nets.get(net)));
  const [ends, uprights, begins] = [0, 1, 2];
  const events: { x: number; what: number; piece: number }[] = [];
  pieces.forEach((piece, i) => {
    const { a, b } = piece;
    if (isUpright(piece)) events.push({ x: a.x, what: uprights, piece: i });
    else if (isLevel(piece))
      events.push({ x: Math.min(a.x, b.x), what: begins, piece: i }, { x: Math.max(a.x, b.x), what: ends, piece: i });
  });
  events.sort((one, other) => one.x - other.x || one.what - other.what);
  const over = new Sorted();
  for (const { x, what, piece } of events) {
    const { a, b, line } = must(pieces[piece]);
    if (what === begins) over.add(a.y, piece);
    else if (what === ends) over.remove(a.y, piece);
    else {
      const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
      for (let i = over.after(top); i < over.count && must(over.keys[i]) < bottom; i++) {
        const other = must(pieces[must(over.values[i])]).line;
        if (netOf[other] !== netOf[line]) found(line, other, x, must(over.keys[i]));
      }
    }
  }
}

/**
 * Numbers by a key, in order of the key. Adding and removing moves what lies behind: fast as long as it is some
 * thousands.
 */
class Sorted {
  keys = new Float64Array(1024);
  values = new Int32Array(1024);
  count = 0;

  /** The place of the first key above one. */
  after(key: number): number {
    let [low, high] = [0, this.count];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (must(this.keys[middle]) <= key) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  add(key: number, value: number): void {
    if (this.count === this.keys.length) {
      const [keys, values] = [this.keys, this.values];
      this.keys = new Float64Array(2 * this.count);
      this.keys.set(keys);
      this.values = new Int32Array(2 * this.count);
      this.values.set(values);
    }
    const at = this.after(key);
    this.keys.copyWithin(at + 1, at, this.count);
    this.values.copyWithin(at + 1, at, this.count);
    this.keys[at] = key;
    this.values[at] = value;
    this.count++;
  }

  remove(key: number, value: number): void {
    let at = this.after(key) - 1;
    while (this.values[at] !== value) at--;
    this.keys.copyWithin(at, at + 1, this.count);
    this.values.copyWithin(at, at + 1, this.count);
    this.count--;
  }
}

/** Do two pieces cross in a point inside both? Touching, and sharing a piece, does not count. */
export function cross(a: Point, b: Point, c: Point, d: Point): boolean {
  const side = (p: Point, q: Point, r: Point): number =>
    Math.sign((q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x));
  const [s1, s2, s3, s4] = [side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)];
  return s1 * s2 < 0 && s3 * s4 < 0;
}

/** Where two pieces cross that do. */
function meeting({ a, b }: Piece, { a: c, b: d }: Piece): Point {
  const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, d.x - c.x, d.y - c.y];
  const t = ((c.x - a.x) * vy - (c.y - a.y) * vx) / (ux * vy - uy * vx);
  return { x: a.x + t * ux, y: a.y + t * uy };
}

/** Does a wire end before it began, along the flow? */
export function runsBackward(route: Route, flow: Flow): boolean {
  const [start, end] = [must(route[0]), must(route[route.length - 1])];
  const along = { right: end.x - start.x, left: start.x - end.x, down: end.y - start.y, up: start.y - end.y }[flow];
  return along < 0;
}
