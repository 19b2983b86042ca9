import Flatbush from 'flatbush';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, isVertical, type Point, portPoint, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Flow, Wire } from '../document/schema.ts';

/** A wire's path: corners from the outer edge of the source port to that of the target port. Pixels at 100 % zoom. */
export type Route = readonly Point[];

/** Straight piece that a wire keeps before its first and after its last turn. */
export const stub = 16;
const clearance = 8;
const track = 6;

/** One wire's ends in flow coordinates: x along the flow, y across. */
interface Ends {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

class Axes {
  private static readonly known = new Map<Flow, Axes>();
  private readonly vertical: boolean;
  private readonly sign: number;
  /** To the right, flow coordinates are those of the page. */
  private readonly same: boolean;
  private constructor(flow: Flow) {
    this.vertical = isVertical(flow);
    this.sign = flow === 'left' || flow === 'up' ? -1 : 1;
    this.same = flow === 'right';
  }
  static of(flow: Flow): Axes {
    const axes = Axes.known.get(flow) ?? new Axes(flow);
    Axes.known.set(flow, axes);
    return axes;
  }
  in(p: Point): Point {
    if (this.same) return p;
    const turned = this.vertical ? { x: p.y, y: p.x } : p;
    return { x: turned.x * this.sign, y: turned.y };
  }
  out(p: Point): Point {
    if (this.same) return p;
    const back = { x: p.x * this.sign, y: p.y };
    return this.vertical ? { x: back.y, y: back.x } : { x: back.x, y: back.y };
  }
  outAll(points: Point[]): Point[] {
    return this.same ? points : points.map((p) => this.out(p));
  }
}

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
      ((before.x === last.x && last.x === p.x && (last.y - before.y) * (p.y - last.y) >= 0) || (before.y === last.y && last.y === p.y && (last.x - before.x) * (p.x - last.x) >= 0))
    )
      kept.pop();
    kept.push(p);
  }
  return kept;
}

/** The plain elbow: for a first picture, and for wires that are being dragged. O(1). Undefined where an end is missing. */
export function elbow(doc: Doc, kinds: Kinds, wire: Wire, flow: Flow): Route | undefined {
  const axes = Axes.of(flow);
  const ends = endsOf(doc, kinds, wire, axes);
  return ends && axes.outAll(plain(ends));
}

/** As `elbow`, between any two points: what a wire in hand looks like. */
export function elbowBetween(start: Point, end: Point, flow: Flow): Route {
  const axes = Axes.of(flow);
  const [a, b] = [axes.in(start), axes.in(end)];
  return axes.outAll(plain({ x1: a.x, y1: a.y, x2: b.x, y2: b.y }));
}

function plain(ends: Ends): Point[] {
  if (ends.x2 - ends.x1 >= 2 * stub) {
    const middle = (ends.x1 + ends.x2) / 2;
    return overLane(ends, middle, ends.y2, ends.x2);
  }
  const lane = Math.abs(ends.y2 - ends.y1) > 60 ? (ends.y1 + ends.y2) / 2 : Math.max(ends.y1, ends.y2) + 60;
  return overLane(ends, ends.x1 + stub, lane, ends.x2 - stub);
}

/**
 * Right-angled routes of all wires of a graph. Each wire takes the path that runs through the fewest nodes among a handful:
 * turning early, turning late, or over a free lane beside what is in the way; sources of one column turn on tracks of their own.
 * O(wires · log nodes). Derived from geometry only, so the same picture gives the same routes.
 */
export function routeWires(doc: Doc, kinds: Kinds, graph: Id, only?: ReadonlySet<Id>): Map<Id, Route> {
  const flow = flowOf(doc, graph);
  const axes = Axes.of(flow);
  const index = indexOf(doc);
  const router = new Router(doc, kinds, graph, axes);
  const wires = index.wiresIn(graph).map((wire) => ({ wire, ends: endsOf(doc, kinds, wire, axes) }));
  const turns = turningPlaces(wires);
  const routes = new Map<Id, Route>();
  for (const { wire, ends } of wires) {
    if (!ends || (only && !only.has(wire.id))) continue;
    routes.set(wire.id, axes.outAll(router.route(ends, turns.get(wire.id) ?? ends.x1 + stub)));
  }
  return routes;
}

/** Where each wire turns after its source: sources whose turning pieces would overlap in one column get tracks side by side. */
function turningPlaces(wires: readonly { wire: Wire; ends: Ends | undefined }[]): Map<Id, number> {
  interface Net {
    wires: Id[];
    x: number;
    room: number;
    low: number;
    high: number;
  }
  const nets = new Map<string, Net>();
  for (const { wire, ends } of wires) {
    if (!ends) continue;
    const key = JSON.stringify(wire.from);
    const net = nets.get(key) ?? { wires: [], x: ends.x1, room: Infinity, low: ends.y1, high: ends.y1 };
    net.wires.push(wire.id);
    if (ends.x2 - ends.x1 >= 2 * stub) net.room = Math.min(net.room, ends.x2 - ends.x1 - 2 * stub);
    net.low = Math.min(net.low, ends.y2);
    net.high = Math.max(net.high, ends.y2);
    nets.set(key, net);
  }
  const columns = new Map<number, Net[]>();
  for (const net of nets.values()) {
    const column = Math.round(net.x / 48);
    columns.set(column, [...(columns.get(column) ?? []), net]);
  }
  const turns = new Map<Id, number>();
  for (const column of columns.values()) {
    // long rises turn furthest out, so that short ones nest inside them
    column.sort((a, b) => a.low - b.low || a.high - b.high || a.x - b.x);
    const base = Math.max(...column.map((net) => net.x));
    const tracks: number[] = [];
    const chosen = column.map((net) => {
      let t = tracks.findIndex((end) => end < net.low - clearance);
      if (t === -1) t = tracks.push(net.high) - 1;
      else tracks[t] = net.high;
      return t;
    });
    column.forEach((net, i) => {
      const wanted = base - net.x + stub + chosen[i]! * track;
      const most = net.room === Infinity ? wanted : Math.max(stub, stub + net.room);
      const at = net.x + (wanted <= most ? wanted : stub + ((chosen[i]! + 1) / (tracks.length + 1)) * (most - stub));
      for (const id of net.wires) turns.set(id, at);
    });
  }
  return turns;
}

class Router {
  private readonly boxes: { left: number; top: number; right: number; bottom: number }[] = [];
  private readonly tree: Flatbush | undefined;

  constructor(doc: Doc, kinds: Kinds, graph: Id, axes: Axes) {
    const nodes = indexOf(doc).nodesIn(graph);
    if (nodes.length === 0) return;
    this.tree = new Flatbush(nodes.length);
    for (const node of nodes) {
      const rect = rectOf(doc, kinds, node);
      const [a, b] = [axes.in(rect), axes.in({ x: rect.x + rect.width, y: rect.y + rect.height })];
      const box = { left: Math.min(a.x, b.x), top: Math.min(a.y, b.y), right: Math.max(a.x, b.x), bottom: Math.max(a.y, b.y) };
      this.boxes.push(box);
      this.tree.add(box.left, box.top, box.right, box.bottom);
    }
    this.tree.finish();
  }

  route(ends: Ends, turn: number): Point[] {
    const forward = ends.x2 - ends.x1 >= 2 * stub;
    const xa = forward ? Math.min(turn, ends.x2 - stub) : ends.x1 + stub + Math.max(0, Math.min(turn - ends.x1 - stub, 40));
    const xb = ends.x2 - stub;
    const first = forward ? overLane(ends, xa, ends.y2, ends.x2) : plain(ends);
    let best = first;
    let least = this.hits(first);
    if (least === 0) return first;
    const tried = new Set<number>();
    const attempt = (points: Point[]): void => {
      const hits = this.hits(points);
      if (hits < least || (hits === least && hits > 0 && points.length < best.length)) [best, least] = [points, hits];
    };
    if (forward) attempt(overLane(ends, xb, ends.y2, ends.x2));
    // lanes beside whatever is in the way between the two ends, nearest to the straight line first
    const [left, right] = [Math.min(xa, xb), Math.max(xa, xb)];
    const middle = (ends.y1 + ends.y2) / 2;
    for (let reach = 0; reach < 4 && least > 0; reach++) {
      const [top, bottom] = [Math.min(ends.y1, ends.y2) - 60 * reach ** 2, Math.max(ends.y1, ends.y2) + 60 * reach ** 2];
      const lanes: number[] = [];
      for (const i of this.tree?.search(left, top, right, bottom) ?? []) {
        const box = this.boxes[i]!;
        lanes.push(box.top - clearance, box.bottom + clearance);
      }
      lanes.sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle) || a - b);
      for (const lane of lanes.slice(0, 24)) {
        if (tried.has(lane)) continue;
        tried.add(lane);
        attempt(overLane(ends, xa, lane, xb));
        if (least === 0) break;
      }
    }
    return best;
  }

  /** How many nodes the inner part of a path runs through. */
  private hits(points: readonly Point[]): number {
    let count = 0;
    for (let i = 0; i + 1 < points.length; i++) {
      const [a, b] = [points[i]!, points[i + 1]!];
      const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)];
      const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)];
      for (const k of this.tree?.search(left, top, right, bottom) ?? []) {
        const box = this.boxes[k]!;
        // the edges of the boxes do not count: wires start and end there
        if (left < box.right && right > box.left && top < box.bottom && bottom > box.top) count++;
      }
    }
    return count;
  }
}
