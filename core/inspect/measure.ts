import Flatbush from 'flatbush';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, overlaps, type Point, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { Wire } from '../document/schema.ts';
import { type Route, routeWires } from '../route/route.ts';
import { foldedView } from '../structure/fold.ts';

/**
 * What makes a graph hard to read, in numbers (after Purchase, “Metrics for graph drawing aesthetics”, J. Visual Languages and Computing 2002).
 * Lengths in pixels at 100 % zoom, over the wires as they are drawn.
 */
export interface Measures {
  readonly nodes: number;
  readonly wires: number;
  readonly frames: number;
  /** Points at which wires of different sources cross. */
  readonly crossings: number;
  /** Pairs of a wire and a node that it runs through without belonging to it. */
  readonly throughNodes: number;
  readonly overlaps: number;
  readonly length: number;
  /** How many windows of 1280 × 800 wires reach beyond their own, all together. */
  readonly windows: number;
  readonly bends: number;
  /** Wires that run against the flow. */
  readonly backward: number;
  /** Nodes without a label that still have the name they were made with: their kind and a number. */
  readonly defaultNames: number;
}

export const noMeasures: Measures = { nodes: 0, wires: 0, frames: 0, crossings: 0, throughNodes: 0, overlaps: 0, length: 0, windows: 0, bends: 0, backward: 0, defaultNames: 0 };

export function addMeasures(a: Measures, b: Measures): Measures {
  return Object.fromEntries(Object.keys(noMeasures).map((field) => [field, a[field as keyof Measures] + b[field as keyof Measures]])) as unknown as Measures;
}

/** All graphs of the document together, as they are drawn: with frames folded that are. */
export function measureDoc(doc: Doc, kinds: Kinds): Measures {
  return [...doc.graphs.keys()].reduce((sum, graph) => addMeasures(sum, measureGraph(foldedView(doc, kinds), kinds, graph)), noMeasures);
}

/** Measures one graph. O((nodes + pieces) log n + crossings). */
export function measureGraph(doc: Doc, kinds: Kinds, graph: Id, routes: ReadonlyMap<Id, Route> = routeWires(doc, kinds, graph)): Measures {
  const index = indexOf(doc);
  const nodes = index.nodesIn(graph);
  const flow = flowOf(doc, graph);
  const wires = index.wiresIn(graph);
  let [length, windows, bends, backward] = [0, 0, 0, 0];
  for (const wire of wires) {
    const route = routes.get(wire.id);
    if (!route) continue;
    length += lengthOf(route);
    windows += windowsOf(route);
    // the points of a curve are no bends
    if (doc.head.wireStyle !== 'curved') bends += Math.max(0, route.length - 2);
    const [start, end] = [route[0]!, route[route.length - 1]!];
    if ((flow === 'right' && end.x < start.x) || (flow === 'left' && end.x > start.x) || (flow === 'down' && end.y < start.y) || (flow === 'up' && end.y > start.y)) backward++;
  }
  const lines = wires.flatMap((wire) => lineOf(wire, routes.get(wire.id)) ?? []);
  return {
    nodes: nodes.length,
    wires: wires.length,
    frames: index.framesIn(graph).length,
    crossings: countRouteCrossings(lines),
    ...boxMeasures(doc, kinds, graph, lines),
    length: Math.round(length),
    windows,
    bends,
    backward,
    defaultNames: nodes.filter((node) => !node.label && isDefaultName(node.name, node.kind, kinds)).length,
  };
}

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

  /** Calls `found` for each point at which two lines cross, with their numbers. */
  each(found: (line: number, other: number) => void): void {
    this.pieces.forEach((piece, i) => {
      this.meet(piece, this.lines[piece.line]!.net, (k) => {
        if (k > i) found(piece.line, this.pieces[k]!.line);
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

function boxMeasures(doc: Doc, kinds: Kinds, graph: Id, lines: readonly Line[]): { throughNodes: number; overlaps: number } {
  const nodes = indexOf(doc).nodesIn(graph);
  if (nodes.length === 0) return { throughNodes: 0, overlaps: 0 };
  const rects = nodes.map((node) => rectOf(doc, kinds, node));
  const tree = new Flatbush(nodes.length);
  for (const rect of rects) tree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  tree.finish();
  let over = 0;
  rects.forEach((rect, i) => {
    for (const k of tree.search(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height)) if (k > i && overlaps(rect, rects[k]!)) over++;
  });
  let through = 0;
  for (const line of lines) {
    const hit = new Set<number>();
    for (let i = 0; i + 1 < line.route.length; i++) {
      const [a, b] = [line.route[i]!, line.route[i + 1]!];
      const box = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
      for (const k of tree.search(box.x, box.y, box.x + box.width, box.y + box.height)) {
        const rect = rects[k]!;
        if (line.ends.includes(nodes[k]!.id) || hit.has(k)) continue;
        if (box.x < rect.x + rect.width && box.x + box.width > rect.x && box.y < rect.y + rect.height && box.y + box.height > rect.y && entersBox(a, b, rect)) hit.add(k);
      }
    }
    through += hit.size;
  }
  return { throughNodes: through, overlaps: over };
}

/** Does a straight piece run through the inside of a box? Liang & Barsky's clipping (1984). */
function entersBox(a: Point, b: Point, rect: { x: number; y: number; width: number; height: number }): boolean {
  let [from, to] = [0, 1];
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  for (const [p, q] of [
    [-dx, a.x - rect.x],
    [dx, rect.x + rect.width - a.x],
    [-dy, a.y - rect.y],
    [dy, rect.y + rect.height - a.y],
  ] as const) {
    if (p === 0) {
      if (q <= 0) return false;
    } else if (p < 0) from = Math.max(from, q / p);
    else to = Math.min(to, q / p);
  }
  return from < to;
}
