import Flatbush from 'flatbush';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, isVertical, type Point, portPoint, type Rect, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

/** What a node can snap to: the nodes of its graph that do not move with it. */
export interface SnapTargets {
  readonly rects: readonly Rect[];
  readonly tree: Flatbush | undefined;
  readonly moving: ReadonlySet<Id>;
}

/** O(n log n) once; a snap then is O(log n + neighbours). */
export function snapTargets(doc: Doc, kinds: Kinds, graph: Id, moving: ReadonlySet<Id>): SnapTargets {
  const rects = indexOf(doc)
    .nodesIn(graph)
    .filter((node) => !moving.has(node.id))
    .map((node) => rectOf(doc, kinds, node));
  if (rects.length === 0) return { rects, tree: undefined, moving };
  const tree = new Flatbush(rects.length);
  for (const rect of rects) tree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  tree.finish();
  return { rects, tree, moving };
}

/** How far around a node its neighbours are looked for, in pixels. */
const neighbourhood = 500;

/**
 * The place near `at` where a wire of the node runs straight, across the flow, or else its edge or middle lines up with
 * that of a near neighbour; each axis by itself, no farther than `within`, the nearest first. The place itself where
 * there is nothing to snap to.
 */
export function snapPlace(
  doc: Doc,
  kinds: Kinds,
  node: GraphNode,
  at: Point,
  targets: SnapTargets,
  within: number,
): Point {
  const size = rectOf(doc, kinds, node);
  const rect = { x: at.x, y: at.y, width: size.width, height: size.height };
  const across = isVertical(flowOf(doc, node.graph)) ? 'x' : 'y';
  const place = { x: at.x, y: at.y };
  const straight = nearest(straightShifts(doc, kinds, node, at, across, targets.moving), within);
  for (const axis of ['x', 'y'] as const) {
    const by = (axis === across ? straight : undefined) ?? nearest(edgeShifts(rect, axis, targets), within);
    if (by !== undefined) place[axis] = at[axis] + by;
  }
  return place;
}

/** How far a node at `at` is from having each of its wires straight. */
function straightShifts(
  doc: Doc,
  kinds: Kinds,
  node: GraphNode,
  at: Point,
  across: 'x' | 'y',
  moving: ReadonlySet<Id>,
): number[] {
  const shifts: number[] = [];
  for (const wire of indexOf(doc).wiresOf(node.id)) {
    const isSource = wire.from.node === node.id;
    const other = doc.nodes.get(isSource ? wire.to.node : wire.from.node);
    if (!other || other.id === node.id || moving.has(other.id)) continue;
    const own = portPoint(doc, kinds, node, isSource ? wire.from.port : wire.to.port, isSource ? 'out' : 'in');
    const theirs = portPoint(doc, kinds, other, isSource ? wire.to.port : wire.from.port, isSource ? 'in' : 'out');
    if (own && theirs) shifts.push(theirs[across] - own[across] - (at[across] - node[across]));
  }
  return shifts;
}

function edgeShifts(rect: Rect, axis: 'x' | 'y', { rects, tree }: SnapTargets): number[] {
  const extent = axis === 'x' ? 'width' : 'height';
  const near =
    tree?.search(
      rect.x - neighbourhood,
      rect.y - neighbourhood,
      rect.x + rect.width + neighbourhood,
      rect.y + rect.height + neighbourhood,
    ) ?? [];
  return near.flatMap((i) => {
    const other = rects[i]!;
    const start = other[axis] - rect[axis];
    const grown = other[extent] - rect[extent];
    return [start, start + grown / 2, start + grown];
  });
}

function nearest(shifts: readonly number[], within: number): number | undefined {
  let best: number | undefined;
  for (const shift of shifts)
    if (Math.abs(shift) <= within && (best === undefined || Math.abs(shift) < Math.abs(best))) best = shift;
  return best;
}
