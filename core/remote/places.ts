import Flatbush from 'flatbush';
import { Axes } from '../document/axes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, overlaps, type Point, type Rect, rectOf, titleTabs } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { stub } from '../route/paths.ts';

/**
 * How far the ends of remote links stand from the ports that they serve, so that a wire that is not level has room to
 * turn, and from other nodes; pixels at 100 % zoom.
 */
const aside = 2 * stub;
const apart = 4;
const [rows, columns] = [16, 8];

/** Nodes and titles of frames, with where they are. */
interface Taken {
  readonly boxes: readonly Rect[];
  readonly tree: Flatbush | undefined;
}

const known = new WeakMap<Doc, Map<Id, Taken>>();

function takenIn(doc: Doc, kinds: Kinds, graph: Id): Taken {
  const graphs = known.get(doc) ?? new Map<Id, Taken>();
  known.set(doc, graphs);
  let taken = graphs.get(graph);
  if (!taken) {
    const boxes = [
      ...indexOf(doc)
        .nodesIn(graph)
        .map((node) => rectOf(doc, kinds, node)),
      ...titleTabs(doc, kinds, graph),
    ];
    const tree = boxes.length > 0 ? new Flatbush(boxes.length) : undefined;
    for (const box of boxes) tree?.add(box.x, box.y, box.x + box.width, box.y + box.height);
    tree?.finish();
    taken = { boxes, tree };
    graphs.set(graph, taken);
  }
  return taken;
}

/** Free places for small nodes beside ports, found without moving anything else. One for a graph and an act. */
export class FreePlaces {
  private readonly axes: Axes;
  private readonly taken: Taken;
  private readonly added: Rect[] = [];

  /** The first for a graph of a document O(n log n), others O(1). */
  constructor(doc: Doc, kinds: Kinds, graph: Id) {
    this.axes = Axes.of(flowOf(doc, graph));
    this.taken = takenIn(doc, kinds, graph);
  }

  /** The point that data comes to first. */
  first(points: readonly Point[]): Point {
    const before = (a: Point, b: Point): boolean => a.x < b.x || (a.x === b.x && a.y < b.y);
    return points.reduce((a, b) => (before(this.axes.in(b), this.axes.in(a)) ? b : a));
  }

  private isFree(rect: Rect): boolean {
    const wide = {
      x: rect.x - apart,
      y: rect.y - apart,
      width: rect.width + 2 * apart,
      height: rect.height + 2 * apart,
    };
    if (this.added.some((box) => overlaps(box, wide))) return false;
    const { boxes, tree } = this.taken;
    return (tree?.search(wide.x, wide.y, wide.x + wide.width, wide.y + wide.height) ?? []).every(
      (i) => !overlaps(must(boxes[i]), wide),
    );
  }

  /**
   * A place for a box of a size: before a port that takes (`before`), or behind one that gives, level with it where
   * that is free; else the free one that is least far off, sideways before further away. Where nothing near is free,
   * level with it all the same.
   * O(places tried).
   */
  beside(port: Point, side: 'before' | 'behind', size: { readonly width: number; readonly height: number }): Point {
    const at = this.axes.in(port);
    const flat = this.axes.vertical ? { width: size.height, height: size.width } : size;
    const place = (column: number, row: number): Rect => {
      const step = column * (flat.width / 2 + apart);
      const x = side === 'before' ? at.x - aside - flat.width - step : at.x + aside + step;
      return this.axes.rectOut({
        x: Math.round(x),
        y: Math.round(at.y - flat.height / 2 + row * (flat.height / 2 + apart)),
        ...flat,
      });
    };
    const found = tries.map(({ column, row }) => place(column, row)).find((rect) => this.isFree(rect)) ?? place(0, 0);
    this.added.push(found);
    return { x: found.x, y: found.y };
  }
}

/** Places to try, nearest first. */
const tries = Array.from({ length: columns * (2 * rows + 1) }, (_, i) => ({
  column: Math.floor(i / (2 * rows + 1)),
  row: (i % (2 * rows + 1)) - rows,
})).sort(
  (a, b) => a.column * 3 + Math.abs(a.row) - (b.column * 3 + Math.abs(b.row)) || a.column - b.column || a.row - b.row,
);
