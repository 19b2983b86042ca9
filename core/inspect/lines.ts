import Flatbush from 'flatbush';
import type { Point } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Wire } from '../document/schema.ts';
import type { Route } from '../route/route.ts';

export interface Line {
  readonly net: string;
  readonly ends: readonly [Id, Id];
  readonly route: Route;
}

/** A wire as a line, or undefined where it has no route. */
export const lineOf = (wire: Wire, route: Route | undefined): Line | undefined =>
  route && { net: `${wire.from.node} ${wire.from.port}`, ends: [wire.from.node, wire.to.node], route };

const window = { width: 1280, height: 800 };

/** Extra windows between the ends of a wire: 0 where both fit into one at 100 % zoom. */
export function windowsOf(route: Route): number {
  const [a, b] = [route[0]!, route.at(-1)!];
  return Math.max(Math.floor(Math.abs(b.x - a.x) / window.width), Math.floor(Math.abs(b.y - a.y) / window.height));
}

export const lengthOf = (route: Route): number => route.slice(1).reduce((sum, p, i) => sum + Math.hypot(p.x - route[i]!.x, p.y - route[i]!.y), 0);

/** Points at which two routes of different nets cross. Touching ends and shared pieces do not count. O(pieces · log + crossings). */
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

const piecesOf = ({ route }: Line, line: number): Piece[] => route.slice(1).map((b, i) => ({ a: route[i]!, b, line }));

/** Answers which lines cross which. Made in O(pieces · log pieces). */
export class Crossings {
  private readonly lines: readonly Line[];
  private readonly pieces: readonly Piece[];
  private readonly tree: Flatbush | undefined;

  constructor(lines: readonly Line[]) {
    this.lines = lines;
    this.pieces = lines.flatMap(piecesOf);
    if (this.pieces.length === 0) return;
    this.tree = new Flatbush(this.pieces.length);
    for (const { a, b } of this.pieces) this.tree.add(Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y));
    this.tree.finish();
  }

  /** Calls `found` for each point at which two lines cross, with their numbers and the point. */
  each(found: (line: number, other: number, at: Point) => void): void {
    this.pieces.forEach((piece, i) => {
      this.meet(piece, this.lines[piece.line]!.net, (k) => {
        if (k > i) found(piece.line, this.pieces[k]!.line, meeting(piece, this.pieces[k]!));
      });
    });
  }

  /** The same for a line that is not among them, with the number of each line that it crosses. */
  with(line: Line, found: (other: number) => void): void {
    for (const piece of piecesOf(line, -1)) this.meet(piece, line.net, (k) => found(this.pieces[k]!.line));
  }

  private meet({ a, b }: Piece, net: string, found: (piece: number) => void): void {
    this.tree?.search(Math.min(a.x, b.x), Math.min(a.y, b.y), Math.max(a.x, b.x), Math.max(a.y, b.y), (k) => {
      const other = this.pieces[k]!;
      if (this.lines[other.line]!.net !== net && cross(a, b, other.a, other.b)) found(k);
      return false;
    });
  }
}

/** Do two pieces cross in a point inside both? Touching, and sharing a piece, does not count. */
export function cross(a: Point, b: Point, c: Point, d: Point): boolean {
  const side = (p: Point, q: Point, r: Point): number => Math.sign((q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x));
  const [s1, s2, s3, s4] = [side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)];
  return s1 * s2 < 0 && s3 * s4 < 0;
}

/** Where two pieces cross that do. */
function meeting({ a, b }: Piece, { a: c, b: d }: Piece): Point {
  const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, d.x - c.x, d.y - c.y];
  const t = ((c.x - a.x) * vy - (c.y - a.y) * vx) / (ux * vy - uy * vx);
  return { x: a.x + t * ux, y: a.y + t * uy };
}
