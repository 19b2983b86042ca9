import Flatbush from 'flatbush';
import { type Doc, indexOf } from '../document/doc.ts';
import { overlaps, type Point, type Rect, rectOf, titleTabs } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Note } from '../document/schema.ts';

/**
 * A note speaks of the nearest node no further from it than this; how far from it a free place is sought, and in what
 * steps. Pixels.
 */
const [nearest, farthest, step] = [600, 960, 24];

/**
 * Where notes go that are tied to nothing when nodes are arranged: each along with the node that it stands nearest to,
 * and from there to the nearest place where it lies on no node, title or other note. Marks only go along. What stands
 * free already stays. O((nodes + notes) · log · places tried).
 */
export function notesAlong(before: Doc, after: Doc, kinds: Kinds, graph: Id): Map<Id, Point> {
  const loose = indexOf(after)
    .notesIn(graph)
    .filter((note) => note.tiedTo === undefined);
  const places = new Map<Id, Point>();
  if (loose.length === 0) return places;
  const nodes = indexOf(before).nodesIn(graph);
  const was = new Tree(nodes.map((node) => rectOf(before, kinds, node)));
  const taken = new Tree([
    ...indexOf(after)
      .nodesIn(graph)
      .map((node) => rectOf(after, kinds, node)),
    ...titleTabs(after, kinds, graph),
  ]);
  const placed: Rect[] = indexOf(after)
    .notesIn(graph)
    .filter((note) => note.tiedTo !== undefined);
  for (const note of loose) {
    const anchor = nodes[was.nearest(note) ?? -1];
    const now = anchor && after.nodes.get(anchor.id);
    const wanted = now ? { ...note, x: note.x + now.x - anchor.x, y: note.y + now.y - anchor.y } : note;
    const isFree = (rect: Rect): boolean => !taken.meets(rect) && !placed.some((other) => overlaps(rect, other));
    const { x, y } = note.mark ? wanted : freeNear(wanted, isFree);
    placed.push({ ...note, x, y });
    if (x !== note.x || y !== note.y) places.set(note.id, { x: Math.round(x), y: Math.round(y) });
  }
  return places;
}

/** The nearest free place on ever wider rings; where it is, if there is none. */
function freeNear(note: Note, isFree: (rect: Rect) => boolean): Point {
  for (let away = 0; away <= farthest; away += step) {
    for (let along = -away; along <= away; along += step) {
      const ring = [
        { x: along, y: -away },
        { x: along, y: away },
        { x: -away, y: along },
        { x: away, y: along },
      ].sort((a, b) => Math.hypot(a.x, a.y) - Math.hypot(b.x, b.y));
      for (const { x, y } of ring)
        if (isFree({ ...note, x: note.x + x, y: note.y + y })) return { x: note.x + x, y: note.y + y };
    }
  }
  return note;
}

/** Rectangles that can be asked for by place. */
class Tree {
  private readonly rects: readonly Rect[];
  private readonly tree: Flatbush | undefined;

  constructor(rects: readonly Rect[]) {
    this.rects = rects;
    if (rects.length === 0) return;
    this.tree = new Flatbush(rects.length);
    for (const { x, y, width, height } of rects) this.tree.add(x, y, x + width, y + height);
    this.tree.finish();
  }

  meets(rect: Rect): boolean {
    return (this.tree?.search(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height) ?? []).some((i) =>
      overlaps(this.rects[i]!, rect),
    );
  }

  nearest({ x, y, width, height }: Rect): number | undefined {
    return this.tree?.neighbors(x + width / 2, y + height / 2, 1, nearest)[0];
  }
}
