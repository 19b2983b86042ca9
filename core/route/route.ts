import { compileGraph } from '../arrange/compile.ts';
import { leavesOf } from '../arrange/page/leaves.ts';
import { Axes } from '../document/axes.ts';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf, numberOutputs } from '../document/doc.ts';
import { flowOf, frameRects, type Point, portPoint, type Rect, rectOf, titleTabs } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { perGraph } from '../document/per-graph.ts';
import type { Flow, GraphNode, Wire, WireStyle } from '../document/schema.ts';
import { type Ends, type Path, stub } from './paths.ts';
import type { Area, LeafBoxes } from './regions.ts';
import { cornersOf, type RouteTask, routeAll } from './router.ts';
import type { Boxes } from './space.ts';

/** A wire's path: corners from the outer edge of the source port to that of the target port. Pixels at 100 % zoom. */
export type Route = readonly Point[];

function endsOf(doc: Doc, kinds: Kinds, wire: Wire, axes: Axes): Ends | undefined {
  const from = doc.nodes.get(wire.from.node);
  const to = doc.nodes.get(wire.to.node);
  const start = from && portPoint(doc, kinds, from, wire.from.port, 'out');
  const end = to && portPoint(doc, kinds, to, wire.to.port, 'in');
  if (!start || !end) return undefined;
  const [a, b] = [axes.in(start), axes.in(end)];
  return { x1: a.x, y1: a.y, x2: b.x, y2: b.y };
}

/** The path over a lane: out at `xa`, along the lane at `lane`, in at `xb`. Points that add no turn are left out. */
function overLane(ends: Ends, xa: number, lane: number, xb: number): Point[] {
  const points = [
    { x: ends.x1, y: ends.y1 },
    { x: xa, y: ends.y1 },
    { x: xa, y: lane },
    { x: xb, y: lane },
    { x: xb, y: ends.y2 },
    { x: ends.x2, y: ends.y2 },
  ];
  return simplify(points);
}

/** Takes out doubled points and points in the middle of a straight piece. */
export function simplify(points: readonly Point[]): Point[] {
  const kept: Point[] = [];
  for (const p of points) {
    const last = kept[kept.length - 1];
    if (last && last.x === p.x && last.y === p.y) continue;
    const before = kept[kept.length - 2];
    if (
      before &&
      last &&
      ((before.x === last.x && last.x === p.x && (last.y - before.y) * (p.y - last.y) >= 0) ||
        (before.y === last.y && last.y === p.y && (last.x - before.x) * (p.x - last.x) >= 0))
    )
      kept.pop();
    kept.push(p);
  }
  return kept;
}

/**
 * A wire in the file's style that asks for no way round anything: straight, curved, or a plain elbow. O(1). Undefined
 * where an end is missing.
 */
export function plainRoute(doc: Doc, kinds: Kinds, wire: Wire, flow: Flow): Route | undefined {
  const axes = Axes.of(flow);
  const ends = endsOf(doc, kinds, wire, axes);
  return ends && axes.outAll(styled(ends, doc.head.wireStyle));
}

function styled(ends: Ends, style: WireStyle | undefined): Point[] {
  if (style === 'straight')
    return [
      { x: ends.x1, y: ends.y1 },
      { x: ends.x2, y: ends.y2 },
    ];
  return style === 'curved' ? curve(ends) : plain(ends);
}

const curvePieces = 20;

/** A cubic curve that leaves and comes in along the flow, as a row of points; longer handles where it runs back. */
function curve({ x1, y1, x2, y2 }: Ends): Point[] {
  const handle = x2 > x1 ? Math.max(24, (x2 - x1) / 2) : Math.min(240, 60 + (x1 - x2) / 3);
  return Array.from({ length: curvePieces + 1 }, (_, i) => {
    const t = i / curvePieces;
    const [a, b, c, d] = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
    return { x: a * x1 + b * (x1 + handle) + c * (x2 - handle) + d * x2, y: (a + b) * y1 + (c + d) * y2 };
  });
}

/** As `plainRoute`, between any two points: what a wire in hand looks like. */
export function routeBetween(start: Point, end: Point, flow: Flow, style?: WireStyle): Route {
  const axes = Axes.of(flow);
  const [a, b] = [axes.in(start), axes.in(end)];
  return axes.outAll(styled({ x1: a.x, y1: a.y, x2: b.x, y2: b.y }, style));
}

function plain(ends: Ends): Point[] {
  if (ends.x2 - ends.x1 >= 2 * stub) {
    const middle = (ends.x1 + ends.x2) / 2;
    return overLane(ends, middle, ends.y2, ends.x2);
  }
  const lane = Math.abs(ends.y2 - ends.y1) > 60 ? (ends.y1 + ends.y2) / 2 : Math.max(ends.y1, ends.y2) + 60;
  return overLane(ends, ends.x1 + stub, lane, ends.x2 - stub);
}

/** What routing a graph takes, and which wire is which. */
interface Compiled {
  readonly wires: readonly Wire[];
  readonly task: RouteTask;
  readonly axes: Axes;
}

/**
 * The graph as flat boxes and ends in flow coordinates: its nodes, and the titles of its frames, which wires keep clear
 * of too. O(nodes + wires).
 */
export function compileRoutes(doc: Doc, kinds: Kinds, graph: Id): Compiled {
  const axes = Axes.of(flowOf(doc, graph));
  const index = indexOf(doc);
  const isLink = (node: GraphNode): boolean => node.kind === builtin.tap || node.kind === builtin.beacon;
  const all = index.nodesIn(graph);
  const nodes = [...all.filter((node) => !isLink(node)), ...all.filter(isLink)];
  const rects = [...nodes.map((node) => rectOf(doc, kinds, node)), ...titleTabs(doc, kinds, graph)];
  const boxes = boxesOf(rects, nodes.length - all.filter(isLink).length, axes, nodes.length);
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const wires = index.wiresIn(graph);
  return {
    wires,
    axes,
    task: {
      boxes,
      ends: wires.map((wire) => endsOf(doc, kinds, wire, axes)),
      nets: numberOutputs(wires),
      stand: {
        from: Int32Array.from(wires, (wire) => at.get(wire.from.node) ?? -1),
        to: Int32Array.from(wires, (wire) => at.get(wire.to.node) ?? -1),
      },
      leaves: leafBoxes(doc, kinds, graph, nodes, axes),
    },
  };
}

/** The leaves of the page that the nodes belong to, and the frames around them; titles belong to none. */
function leafBoxes(doc: Doc, kinds: Kinds, graph: Id, nodes: readonly GraphNode[], axes: Axes): LeafBoxes {
  const compiled = compileGraph(doc, kinds, graph, nodes);
  const leaves = leavesOf(compiled.graph);
  const rects = frameRects(doc, kinds, graph);
  const areaOf = (id: Id): Area => {
    const { x, y, width, height } = axes.rectIn(rects.get(id)!);
    return { left: x, top: y, right: x + width, bottom: y + height };
  };
  return {
    of: padded(leaves.of, nodes.length + rects.size),
    frameOf: leaves.frame,
    frames: compiled.frames.map(areaOf),
    parent: compiled.graph.frames?.parent ?? [],
  };
}

/** Numbers with −1 behind them up to a length. */
function padded(numbers: Int32Array, length: number): Int32Array {
  const all = new Int32Array(length).fill(-1);
  all.set(numbers);
  return all;
}

/**
 * Rectangles of the page as boxes in flow coordinates; the first `hard` of them are nodes, those up to `links` ends of
 * remote links.
 */
export function boxesOf(rects: readonly Rect[], hard: number, axes: Axes, links = hard): Boxes {
  const [left, top, right, bottom] = [0, 1, 2, 3].map(() => new Float64Array(rects.length)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  rects.forEach((rect, i) => {
    const box = axes.rectIn(rect);
    left[i] = box.x;
    top[i] = box.y;
    right[i] = box.x + box.width;
    bottom[i] = box.y + box.height;
  });
  return { count: rects.length, hard, links, left, top, right, bottom };
}

/**
 * Routes of all wires of a graph. Right-angled ones are clear of nodes and frame titles wherever there is a gap, apart
 * from one another, with few turns and crossings; straight and curved ones go where they go. Derived from geometry
 * only, so the same picture gives the same routes. Cost: that of `routeAll`.
 */
export function routeWires(doc: Doc, kinds: Kinds, graph: Id): Map<Id, Route> {
  const routes = new Map<Id, Route>();
  if (doc.head.wireStyle === 'straight' || doc.head.wireStyle === 'curved') {
    for (const wire of indexOf(doc).wiresIn(graph)) {
      const route = plainRoute(doc, kinds, wire, flowOf(doc, graph));
      if (route) routes.set(wire.id, route);
    }
    return routes;
  }
  const { wires, task, axes } = compileRoutes(doc, kinds, graph);
  routeAll(task).forEach((path, i) => {
    if (path) routes.set(wires[i]!.id, axes.outAll(pointsOf(path, task.ends[i]!)));
  });
  return routes;
}

/** The same, made once for each version of a document as it is drawn. */
export const routesOf: (doc: Doc, kinds: Kinds, graph: Id) => ReadonlyMap<Id, Route> = perGraph(routeWires);

export function pointsOf(path: Path, ends: Ends): Point[] {
  const corners = cornersOf(path, ends);
  const points: Point[] = [];
  for (let i = 0; i < corners.length; i += 2) points.push({ x: corners[i]!, y: corners[i + 1]! });
  return points;
}
