import { Axes } from '../document/axes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Point, portPoint, rectOf, titleTabs } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Wire } from '../document/schema.ts';
import { findPath } from './paths.ts';
import { boxesOf, pointsOf, type Route } from './route.ts';
import { Space } from './space.ts';

/**
 * Routes of the wires at some nodes while these are in hand: only such wires are routed anew, round everything that
 * stands still, each by itself; how all of them keep apart is worked out when the nodes are put down. Made once a drag,
 * O(n log n); a wire is
 * O(log n).
 */
export class LiveRoutes {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly moving: ReadonlySet<Id>;
  private readonly axes: Axes;
  private readonly space: Space;

  constructor(doc: Doc, kinds: Kinds, graph: Id, moving: ReadonlySet<Id>) {
    this.doc = doc;
    this.kinds = kinds;
    this.moving = moving;
    this.axes = Axes.of(flowOf(doc, graph));
    const still = indexOf(doc)
      .nodesIn(graph)
      .filter((node) => !moving.has(node.id));
    const rects = [...still.map((node) => rectOf(doc, kinds, node)), ...titleTabs(doc, kinds, graph)];
    this.space = new Space(boxesOf(rects, still.length, this.axes));
  }

  /** The way of a wire of which one end is in hand, (dx, dy) from its place; undefined where an end is missing. */
  route(wire: Wire, dx: number, dy: number): Route | undefined {
    const end = (which: 'from' | 'to'): Point | undefined => {
      const node = this.doc.nodes.get(wire[which].node);
      const at = node && portPoint(this.doc, this.kinds, node, wire[which].port, which === 'from' ? 'out' : 'in');
      return at && this.axes.in(this.moving.has(node.id) ? { x: at.x + dx, y: at.y + dy } : at);
    };
    const [a, b] = [end('from'), end('to')];
    if (!a || !b) return undefined;
    const ends = { x1: a.x, y1: a.y, x2: b.x, y2: b.y };
    return this.axes.outAll(pointsOf(findPath(this.space, ends), ends));
  }
}
