import { builtin } from '@basitax/core/document/builtin';
import type { TypeSpec } from '@basitax/core/document/catalogue';
import { caption, type Doc, indexOf, nodesWithin } from '@basitax/core/document/doc';
import {
  flowOf,
  frameRects,
  geometryOf,
  type NodeGeometry,
  type Point,
  portPoint,
  type Rect,
  tab,
  unite,
} from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Kinds } from '@basitax/core/document/kinds';
import type { Flow, Frame, GraphNode, Note, Wire } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { type EndState, endState, isEnd } from '@basitax/core/remote/ends';
import { LiveRoutes } from '@basitax/core/route/live';
import { plainRoute, routeBetween } from '@basitax/core/route/route';
import { foldAround, foldedView, realPort } from '@basitax/core/structure/fold';
import { framesBackToFront } from '@basitax/core/structure/frames';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import { rerouteLabel } from '@basitax/core/wiring/reroute';
import { carriedType } from '@basitax/core/wiring/types';
import Flatbush from 'flatbush';
import type { Moving } from '../store.ts';

/** A route as it came from the worker, good as long as both its nodes are the ones it was made for. */
export interface KnownRoute {
  readonly from: GraphNode;
  readonly to: GraphNode;
  /** The corners, as x, y, x, y … from `start` to `end` of an array that all routes share. */
  readonly corners: Float64Array;
  readonly start: number;
  readonly end: number;
}

/** The corners of a wire: x, y, x, y … from `start` to `end` of an array that it may share with others. */
export interface Corners {
  readonly points: Float64Array;
  readonly start: number;
  readonly end: number;
}

function packed(path: readonly Point[]): Corners {
  const points = new Float64Array(path.length * 2);
  path.forEach((p, i) => {
    points[2 * i] = p.x;
    points[2 * i + 1] = p.y;
  });
  return { points, start: 0, end: points.length };
}

export interface SceneNode {
  readonly node: GraphNode;
  readonly geometry: NodeGeometry;
  readonly rect: Rect;
}

/** How one end of a remote link looks. */
export interface LinkLook {
  readonly state: EndState;
  /** The type that it carries. */
  readonly type: TypeSpec;
}

export type Hit =
  | { readonly type: 'port'; readonly node: GraphNode; readonly port: string; readonly direction: 'in' | 'out' }
  | { readonly type: 'node' | 'frame' | 'note' | 'wire'; readonly id: Id };

/** Nodes in hand up to which their wires find their way while they move. */
const mostLive = 12;

/** Height of a frame's tab, in graph pixels at 100 % and never less on screen than what can be read. */
export const tabHeight = tab.height;

/**
 * One graph of a document, ready to be drawn and hit: made anew for each version, geometry shared by the nodes that
 * stay.
 */
export class Scene {
  readonly doc: Doc;
  readonly whole: Doc;
  readonly kinds: Kinds;
  readonly graph: Id;
  readonly flow: Flow;
  readonly nodes: readonly SceneNode[];
  readonly frames: readonly { readonly frame: Frame; readonly rect: Rect; readonly depth: number }[];
  readonly notes: readonly Note[];
  readonly wires: readonly Wire[];
  readonly bounds: Rect | undefined;
  private readonly nodeTree: Flatbush | undefined;
  private readonly at = new Map<Id, SceneNode>();
  private routes: ReadonlyMap<Id, KnownRoute> = new Map();
  private readonly cornersOf = new Map<Id, Corners>();
  private readonly types = new Map<Id, TypeSpec>();
  private readonly links = new Map<Id, LinkLook>();
  readonly hasFeeds: boolean;
  private readonly labels = new Map<Id, { text: string; isOwn: boolean } | null>();
  /** Raised when routes come, so that what was drawn without them can be told. */
  version = 0;
  private wireTree: Flatbush | undefined;
  /** Routes of the wires at the nodes in hand; with very many in hand plain elbows do. */
  private live: { readonly ids: ReadonlySet<Id>; readonly routes: LiveRoutes | undefined } | undefined;

  /**
   * `whole`: the document that `doc` is a part of, where only a part is shown; what links and feeds are is asked there.
   */
  constructor(unfolded: Doc, kinds: Kinds, graph: Id, whole: Doc = unfolded) {
    const doc = foldedView(unfolded, kinds);
    const index = indexOf(doc);
    this.doc = doc;
    this.whole = whole;
    this.kinds = kinds;
    this.graph = graph;
    this.flow = flowOf(doc, graph);
    this.hasFeeds = indexOf(whole).nodesOfKind(builtin.feed).length > 0;
    this.nodes = index.nodesIn(graph).map((node) => {
      const geometry = geometryOf(doc, kinds, node);
      return { node, geometry, rect: { x: node.x, y: node.y, width: geometry.width, height: geometry.height } };
    });
    for (const item of this.nodes) this.at.set(item.node.id, item);
    this.wires = index.wiresIn(graph);
    this.notes = index.notesIn(graph);
    const rects = frameRects(doc, kinds, graph);
    this.frames = framesBackToFront(doc, graph, rects);
    this.bounds = unite([...this.nodes.map((item) => item.rect), ...rects.values(), ...this.notes]);
    if (this.nodes.length > 0) {
      this.nodeTree = new Flatbush(this.nodes.length);
      for (const { rect } of this.nodes) this.nodeTree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
      this.nodeTree.finish();
    }
  }

  get(id: Id): SceneNode | undefined {
    return this.at.get(id);
  }

  /** Takes routes over as the worker finds them; what was drawn as an elbow gets its own. */
  takeRoutes(routes: ReadonlyMap<Id, KnownRoute>): void {
    if (routes === this.routes) return;
    this.routes = routes;
    this.cornersOf.clear();
    this.version++;
    this.wireTree = undefined;
  }

  private knownRoute(wire: Wire): KnownRoute | undefined {
    const known = this.routes.get(wire.id);
    return known && known.from === this.doc.nodes.get(wire.from.node) && known.to === this.doc.nodes.get(wire.to.node)
      ? known
      : undefined;
  }

  /** The corners of a wire; its route where that is known, else a plain elbow. */
  corners(wire: Wire): Corners {
    let corners = this.cornersOf.get(wire.id);
    if (!corners) {
      const known = this.knownRoute(wire);
      corners = known
        ? { points: known.corners, start: known.start, end: known.end }
        : packed(plainRoute(this.doc, this.kinds, wire, this.flow) ?? []);
      this.cornersOf.set(wire.id, corners);
    }
    return corners;
  }

  /** The same as points. */
  path(wire: Wire): Point[] {
    const { points, start, end } = this.corners(wire);
    const path: Point[] = [];
    for (let i = start; i < end; i += 2) path.push({ x: must(points[i]), y: must(points[i + 1]) });
    return path;
  }

  /** Where a wire runs while one or both ends are being dragged. */
  movedCorners(wire: Wire, { ids, dx, dy }: Moving): Corners {
    const [a, b] = [ids.has(wire.from.node), ids.has(wire.to.node)];
    if (!a && !b) return this.corners(wire);
    const shift = (p: Point): Point => ({ x: p.x + dx, y: p.y + dy });
    if (a && b) return packed(this.path(wire).map(shift));
    const style = this.doc.head.wireStyle ?? 'right-angled';
    if (style === 'right-angled' && this.live?.ids !== ids)
      this.live = {
        ids,
        routes: ids.size <= mostLive ? new LiveRoutes(this.doc, this.kinds, this.graph, ids) : undefined,
      };
    const live = style === 'right-angled' ? this.live?.routes?.route(wire, dx, dy) : undefined;
    if (live) return packed(live);
    const start = portPoint(this.doc, this.kinds, must(this.doc.nodes.get(wire.from.node)), wire.from.port, 'out');
    const end = portPoint(this.doc, this.kinds, must(this.doc.nodes.get(wire.to.node)), wire.to.port, 'in');
    return packed(start && end ? routeBetween(a ? shift(start) : start, b ? shift(end) : end, this.flow, style) : []);
  }

  wireInto(node: Id, port: string): Wire | undefined {
    return indexOf(this.doc).wireInto(node, port);
  }

  /** The type of what a wire carries, through reroute points too. */
  typeOf(wire: Wire): TypeSpec {
    let type = this.types.get(wire.id);
    if (!type) {
      type = this.kinds.type(carriedType(this.doc, this.kinds, wire.from));
      this.types.set(wire.id, type);
    }
    return type;
  }

  /** What stands at a reroute point; the same object for as long as the scene stands. */
  pointLabel(node: GraphNode): { text: string; isOwn: boolean } | undefined {
    if (node.kind !== builtin.reroute) return undefined;
    let label = this.labels.get(node.id);
    if (label === undefined) {
      label = rerouteLabel(this.doc, node) ?? null;
      this.labels.set(node.id, label);
    }
    return label ?? undefined;
  }

  /** How a beacon, tap or feed stands, with what it carries; the same object for as long as the scene stands. */
  linkOf(node: GraphNode): LinkLook | undefined {
    if (!isEnd(node.kind)) return undefined;
    let look = this.links.get(node.id);
    if (!look) {
      const [first] = node.kind === builtin.feed ? this.kinds.feedTypes(node) : [];
      const type =
        node.kind === builtin.feed
          ? (first ?? 'any')
          : carriedType(this.whole, this.kinds, { node: node.id, port: 'out' });
      look = {
        state: must(endState(this.whole, effectiveWiring(this.whole, this.kinds), node)),
        type: this.kinds.type(type),
      };
      this.links.set(node.id, look);
    }
    return look;
  }

  /** The standing feed that supplies an input, by what it is called. */
  feedOf(node: GraphNode, port: string): string | undefined {
    if (!this.hasFeeds || !this.kinds.feedable(node, port)) return undefined;
    const feed = effectiveWiring(this.whole, this.kinds).feedOf(node.id, port);
    return feed && caption(must(this.whole.nodes.get(feed)));
  }

  /** The inputs of a node that standing feeds supply, in words; undefined where there are none. */
  fedWords(node: GraphNode): string | undefined {
    if (!this.hasFeeds) return undefined;
    const fed = node.ports.flatMap((port) => {
      const feed = port.direction === 'in' ? this.feedOf(node, port.id) : undefined;
      return feed === undefined ? [] : [`${port.name} fed by ${feed}`];
    });
    return fed.length > 0 ? fed.join(', ') : undefined;
  }

  frameRect(id: Id): Rect | undefined {
    return this.frames.find((item) => item.frame.id === id)?.rect;
  }

  /** The rectangle of a node, frame or note; of what a folded frame hides, that of its block. */
  rectOf(id: Id): Rect | undefined {
    const own = this.at.get(id)?.rect ?? this.frameRect(id) ?? this.notes.find((note) => note.id === id);
    const hidden = own ? undefined : (this.whole.nodes.get(id) ?? this.whole.frames.get(id));
    return own ?? (hidden && this.at.get(foldAround(this.whole, hidden)?.id ?? '')?.rect);
  }

  /** The blocks of folded frames of which everything inside is in a selection. */
  blocksOf(selection: ReadonlySet<Id>): Id[] {
    const blocks = this.nodes.filter(({ node }) => node.kind === builtin.fold);
    return blocks.flatMap(({ node }) =>
      nodesWithin(this.whole, node.id).every((inner) => selection.has(inner.id)) ? [node.id] : [],
    );
  }

  private indexWires(): Flatbush | undefined {
    if (this.wires.length === 0) return undefined;
    if (!this.wireTree) {
      this.wireTree = new Flatbush(this.wires.length);
      for (const wire of this.wires) {
        const { points, start, end } = this.corners(wire);
        let [left, top, right, bottom] = [
          Number.POSITIVE_INFINITY,
          Number.POSITIVE_INFINITY,
          Number.NEGATIVE_INFINITY,
          Number.NEGATIVE_INFINITY,
        ];
        for (let i = start; i < end; i += 2) {
          left = Math.min(left, must(points[i]));
          right = Math.max(right, must(points[i]));
          top = Math.min(top, must(points[i + 1]));
          bottom = Math.max(bottom, must(points[i + 1]));
        }
        this.wireTree.add(left, top, right, bottom);
      }
      this.wireTree.finish();
    }
    return this.wireTree;
  }

  /** Does an area hold all of the graph? Then no index is asked. */
  private isAll(area: Rect): boolean {
    const b = this.bounds;
    return (
      !b ||
      (area.x <= b.x && area.y <= b.y && area.x + area.width >= b.x + b.width && area.y + area.height >= b.y + b.height)
    );
  }

  /** How many nodes an area meets; all are counted where they are fewer than `enough`. */
  countWithin(area: Rect, enough: number): number {
    if (this.nodes.length < enough || this.isAll(area)) return this.nodes.length;
    let count = 0;
    this.nodeTree?.search(area.x, area.y, area.x + area.width, area.y + area.height, () => {
      count++;
      return false;
    });
    return count;
  }

  nodesWithin(area: Rect): readonly SceneNode[] {
    if (this.isAll(area)) return this.nodes;
    const found = this.nodeTree?.search(area.x, area.y, area.x + area.width, area.y + area.height) ?? [];
    return found.sort((a, b) => a - b).map((i) => must(this.nodes[i]));
  }

  /**
   * Wires that an area may show. The index of wires is made when a part is asked for first: a first picture of
   * everything needs none.
   */
  wiresWithin(area: Rect): readonly Wire[] {
    if (this.isAll(area)) return this.wires;
    const found = this.indexWires()?.search(area.x, area.y, area.x + area.width, area.y + area.height) ?? [];
    return found.sort((a, b) => a - b).map((i) => must(this.wires[i]));
  }

  /** The node and port that a drawn port stands for: those inside, where it is that of a folded frame. */
  real(node: GraphNode, port: string): { readonly node: GraphNode; readonly port: string } {
    const ref = realPort(node, port);
    return { node: this.whole.nodes.get(ref.node) ?? node, port: ref.port };
  }

  /**
   * Where a port is drawn: at the block of the folded frame that hides its node, where one does. The middle of the node
   * where the port itself is not shown; undefined in another graph.
   */
  portPlace(id: Id, port: string, direction: 'in' | 'out'): Point | undefined {
    const hidden = this.at.has(id) ? undefined : this.whole.nodes.get(id);
    const item = this.at.get(id) ?? this.at.get((hidden && foldAround(this.whole, hidden)?.id) ?? '');
    if (!item) return undefined;
    const placed = item.geometry.ports.find((one) => {
      if (one.direction !== direction) return false;
      const ref = realPort(item.node, one.id);
      return ref.node === id && ref.port === port;
    });
    return placed
      ? { x: item.rect.x + placed.x, y: item.rect.y + placed.y }
      : { x: item.rect.x + item.rect.width / 2, y: item.rect.y + item.rect.height / 2 };
  }

  /** The innermost frame over a point, but for those left out. */
  frameAt(p: Point, without: (frame: Id) => boolean): Frame | undefined {
    return this.frames.findLast(
      ({ frame, rect }) =>
        !without(frame.id) &&
        p.x >= rect.x &&
        p.x <= rect.x + rect.width &&
        p.y >= rect.y &&
        p.y <= rect.y + rect.height,
    )?.frame;
  }

  /**
   * What lies under a point of the graph; `slack` is how far off one may be, in graph pixels. Ports before nodes, nodes
   * before wires.
   */
  hit(p: Point, slack: number): Hit | undefined {
    const near = this.nodesWithin({ x: p.x - slack, y: p.y - slack, width: 2 * slack, height: 2 * slack });
    for (let i = near.length - 1; i >= 0; i--) {
      const { node, geometry, rect } = must(near[i]);
      // the middle of a reroute point is taken to move it, its sides to split a wire off
      if (
        geometry.shape === 'point' &&
        Math.abs(p.x - rect.x - rect.width / 2) <= rect.width / 4 &&
        Math.abs(p.y - rect.y - rect.height / 2) <= rect.height / 2
      )
        return { type: 'node', id: node.id };
      // the ports of a closed node lie on one another: none can be meant
      const port = geometry.closed
        ? undefined
        : geometry.ports.find((one) => Math.hypot(node.x + one.x - p.x, node.y + one.y - p.y) <= slack);
      if (port) return { type: 'port', ...this.real(node, port.id), direction: port.direction };
    }
    const inside = near.findLast(
      ({ rect }) => p.x >= rect.x && p.x <= rect.x + rect.width && p.y >= rect.y && p.y <= rect.y + rect.height,
    );
    if (inside) return { type: 'node', id: inside.node.id };
    const note = this.notes.findLast((one) => isOnNote(one, p, slack));
    if (note) return { type: 'note', id: note.id };
    const wire = this.wiresWithin({ x: p.x - slack, y: p.y - slack, width: 2 * slack, height: 2 * slack }).findLast(
      (one) => distanceTo(this.path(one), p) <= slack * 0.7,
    );
    if (wire) return { type: 'wire', id: wire.id };
    const tab = this.frames.findLast(
      ({ rect }) =>
        p.x >= rect.x &&
        p.x <= rect.x + Math.max(60, rect.width * 0.6) &&
        p.y >= rect.y &&
        p.y <= rect.y + Math.max(tabHeight, slack * 2.6),
    );
    return tab && { type: 'frame', id: tab.frame.id };
  }
}

/** Is a point on a note: in its rectangle, or near the line of a mark? */
function isOnNote(note: Note, p: Point, slack: number): boolean {
  const isIn =
    p.x >= note.x - slack &&
    p.x <= note.x + note.width + slack &&
    p.y >= note.y - slack &&
    p.y <= note.y + note.height + slack;
  if (!isIn || note.mark === undefined) return isIn;
  if (note.mark === 'ring') {
    const [rx, ry] = [note.width / 2, note.height / 2];
    const far = Math.hypot((p.x - note.x - rx) / rx, (p.y - note.y - ry) / ry);
    return Math.abs(far - 1) * Math.min(rx, ry) <= slack;
  }
  const [from, to] = markEnds(note);
  return distanceTo([from, to], p) <= slack;
}

/** Where the line of an arrow or line begins and ends. */
export function markEnds(note: Note): [Point, Point] {
  const towards = note.towards ?? 'bottom-right';
  const [right, bottom] = [towards.endsWith('right'), towards.startsWith('bottom')];
  const at = (x: boolean, y: boolean): Point => ({
    x: note.x + (x ? note.width : 0),
    y: note.y + (y ? note.height : 0),
  });
  return [at(!right, !bottom), at(right, bottom)];
}

function distanceTo(path: readonly Point[], p: Point): number {
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i + 1 < path.length; i++) {
    const [a, b] = [must(path[i]), must(path[i + 1])];
    const length = (b.x - a.x) ** 2 + (b.y - a.y) ** 2;
    const t =
      length === 0 ? 0 : Math.max(0, Math.min(1, ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / length));
    least = Math.min(least, Math.hypot(a.x + t * (b.x - a.x) - p.x, a.y + t * (b.y - a.y) - p.y));
  }
  return least;
}
