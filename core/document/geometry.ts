import { must } from '../must.ts';
import { builtin } from './builtin.ts';
import { type Doc, indexOf } from './doc.ts';
import type { Id } from './ids.ts';
import type { Kinds } from './kinds.ts';
import { ellipsis, textWidth } from './metrics.ts';
import { portAt } from './port-at.ts';
import type { Flow, Frame, GraphNode, Port, Wire } from './schema.ts';

export interface Rect {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

export type Side = 'left' | 'right' | 'top' | 'bottom';

/** A port where it is drawn: offset from the node's top-left corner, in pixels at 100 % zoom. */
export interface PlacedPort {
  readonly id: string;
  readonly direction: 'in' | 'out';
  readonly type: string;
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly side: Side;
}

export interface NodeGeometry {
  readonly width: number;
  readonly height: number;
  readonly title: string;
  readonly subtitle: string;
  readonly ports: readonly PlacedPort[];
  /** Carriers are drawn as a mark instead of a ticket. */
  readonly shape: 'ticket' | 'point' | 'pennant' | 'notch';
  readonly closed: boolean;
  /** How many ports its rule hides. */
  readonly hidden: number;
  /** Where its picture stands, from the top-left corner. */
  readonly picture?: Rect;
}

/** The measures of a ticket, in pixels at 100 % zoom; drawing uses the same. */
export const ticket = {
  spine: 26,
  head: 34,
  row: 18,
  foot: 6,
  padX: 10,
  gapX: 14,
  titleSize: 13,
  subtitleSize: 11,
  portSize: 11,
  minWidth: 104,
  maxTitle: 190,
  maxPort: 92,
  pictureWidth: 96,
  pictureHeight: 54,
} as const;

const sideOf: Record<Flow, { in: Side; out: Side }> = {
  right: { in: 'left', out: 'right' },
  left: { in: 'right', out: 'left' },
  down: { in: 'top', out: 'bottom' },
  up: { in: 'bottom', out: 'top' },
};

export function isVertical(flow: Flow): boolean {
  return flow === 'down' || flow === 'up';
}

/** Height of a beacon or tap: those of neighbouring ports stand one above the other. */
const linkHeight = 18;

interface Known {
  readonly geometry: NodeGeometry;
  /** The wired ports that it was measured with, where they matter. */
  readonly wired: string;
}
const cache = new WeakMap<Kinds, Record<Flow, WeakMap<GraphNode, Known>>>();

/** The wired ports of a node that hides some, as one text; nothing for all others, whose looks do not depend on it. */
function wiredOf(doc: Doc, node: GraphNode): string {
  if (!node.show || node.closed) return '';
  const of = (wire: Wire): string =>
    `${wire.to.node === node.id ? `in ${wire.to.port}\n` : ''}${wire.from.node === node.id ? `out ${wire.from.port}\n` : ''}`;
  return indexOf(doc).wiresOf(node.id).map(of).join('');
}

/**
 * Size, captions and port places of a node: one answer for layout, routing, drawing, command line and server alike.
 * Follows from its kind, its detail (closed, which ports show, caption, picture) and, where it hides ports, from which
 * are wired: those never hide.
 * Widths come from the shipped font metrics, rounded up. Cached by node version; O(ports).
 */
export function geometryOf(doc: Doc, kinds: Kinds, node: GraphNode): NodeGeometry {
  let byFlow = cache.get(kinds);
  if (!byFlow) {
    byFlow = { right: new WeakMap(), left: new WeakMap(), down: new WeakMap(), up: new WeakMap() };
    cache.set(kinds, byFlow);
  }
  const flow = flowOf(doc, node.graph);
  const known = byFlow[flow].get(node);
  const wired = wiredOf(doc, node);
  if (known && known.wired === wired) return known.geometry;
  const geometry = measure(kinds, node, flow, wired);
  byFlow[flow].set(node, { geometry, wired });
  return geometry;
}

/** Text of several lines in one, as it is drawn on a node. */
const oneLine = (text: string): string => (text.includes('\n') ? text.replace(/\s*\n\s*/g, ' ') : text);

/** What stands on a node, in two lines. */
export function captionsOf(kinds: Kinds, node: GraphNode): { title: string; subtitle: string } {
  const types = node.kind === builtin.feed ? kinds.feedTypes(node) : [];
  const kind = [kinds.title(node.kind), types.map((type) => kinds.type(type).title).join(', ')]
    .filter(Boolean)
    .join(': ');
  switch (node.caption) {
    case 'name':
      return { title: node.name, subtitle: kind };
    case 'label':
      return { title: oneLine(node.label || node.name), subtitle: '' };
    case 'kind':
      return { title: kind, subtitle: '' };
    case 'nothing':
      return { title: '', subtitle: '' };
    default:
      return { title: oneLine(node.label || node.name), subtitle: node.label ? `${kind} · ${node.name}` : kind };
  }
}

interface Fitted {
  readonly text: string;
  readonly width: number;
}
const fittedPorts = new Map<string, Fitted>();
const mostFitted = 10_000;

/** A port's name as it is drawn, with its width; ports of thousands of nodes share a few dozen names. */
function fitPort(name: string): Fitted {
  let fitted = fittedPorts.get(name);
  if (!fitted) {
    const text = ellipsis(name, 'regular', ticket.portSize, ticket.maxPort);
    fitted = { text, width: textWidth(text, 'regular', ticket.portSize) };
    if (fittedPorts.size >= mostFitted) fittedPorts.clear();
    fittedPorts.set(name, fitted);
  }
  return fitted;
}

/** Does the node's rule let an unwired port show? */
function isShown(kinds: Kinds, node: GraphNode, port: Port): boolean {
  const rule = node.show;
  if (!rule) return true;
  const text = rule.text?.toLowerCase();
  return (
    (rule.main === true && kinds.isMain(node, port)) ||
    (text !== undefined && text !== '' && port.name.toLowerCase().includes(text))
  );
}

function measure(kinds: Kinds, node: GraphNode, flow: Flow, wired: string): NodeGeometry {
  if (node.kind === builtin.reroute) return small(node, flow, 'point', 16, 16, node.label ?? '');
  if (node.kind === builtin.beacon || node.kind === builtin.tap) {
    const text = ellipsis(node.kind === builtin.tap ? (node.beacon?.name ?? node.name) : node.name, 'bold', 11, 140);
    return small(
      node,
      flow,
      node.kind === builtin.tap ? 'notch' : 'pennant',
      Math.ceil(textWidth(text, 'bold', 11)) + 28,
      linkHeight,
      text,
    );
  }
  const said = captionsOf(kinds, node);
  const title = ellipsis(said.title, 'bold', ticket.titleSize, ticket.maxTitle);
  const subtitle = ellipsis(said.subtitle, 'regular', ticket.subtitleSize, ticket.maxTitle);
  const isWired = new Set(wired.split('\n'));
  const shown = node.show
    ? node.ports.filter((port) => isWired.has(`${port.direction} ${port.id}`) || isShown(kinds, node, port))
    : node.ports;
  const ports = shown.map(({ id, direction, type, name }): Labelled => ({ id, direction, type, ...fitPort(name) }));
  const pictured = node.picture !== undefined && !node.pictureOff && !node.size;
  const parts: Parts = {
    title,
    subtitle,
    hidden: node.ports.length - shown.length,
    inputs: ports.filter((port) => port.direction === 'in'),
    outputs: ports.filter((port) => port.direction === 'out'),
    head: Math.max(
      ticket.spine +
        ticket.padX * 2 +
        Math.max(textWidth(title, 'bold', ticket.titleSize), textWidth(subtitle, 'regular', ticket.subtitleSize)),
      pictured ? ticket.spine + ticket.padX * 2 + ticket.pictureWidth : 0,
    ),
    least: node.caption === 'nothing' ? ticket.spine + ticket.padX * 2 : ticket.minWidth,
    picture: pictured ? ticket.pictureHeight + ticket.foot : 0,
  };
  if (node.closed) return shut(node, flow, parts);
  return isVertical(flow) ? upright(node, flow, parts) : lying(node, flow, parts);
}

type Labelled = { id: string; direction: 'in' | 'out'; type: string; text: string; width: number };

/** What a ticket is put together from. */
interface Parts {
  readonly title: string;
  readonly subtitle: string;
  readonly hidden: number;
  readonly inputs: readonly Labelled[];
  readonly outputs: readonly Labelled[];
  /** Width that the captions want, and the least that a ticket has. */
  readonly head: number;
  readonly least: number;
  /** Height that the picture takes, with the gap under it; 0 without one. */
  readonly picture: number;
}

const pictureAt = (parts: Parts, y: number): Pick<NodeGeometry, 'picture'> =>
  parts.picture > 0
    ? { picture: { x: ticket.spine + ticket.padX, y, width: ticket.pictureWidth, height: ticket.pictureHeight } }
    : {};

/** A closed node: its head, with all inputs at the middle of one side and all outputs at that of the other. */
function shut(node: GraphNode, flow: Flow, parts: Parts): NodeGeometry {
  const width = node.size?.width ?? Math.max(parts.least, Math.ceil(parts.head));
  const height = ticket.head + parts.picture;
  const ports = node.ports.map((port): PlacedPort => {
    const side = sideOf[flow][port.direction];
    const place = {
      left: { x: 0, y: ticket.head / 2 },
      right: { x: width, y: ticket.head / 2 },
      top: { x: width / 2, y: 0 },
      bottom: { x: width / 2, y: height },
    }[side];
    return { id: port.id, direction: port.direction, type: port.type, text: '', side, ...place };
  });
  return {
    width,
    height,
    title: parts.title,
    subtitle: parts.subtitle,
    ports,
    shape: 'ticket',
    closed: true,
    hidden: 0,
    ...pictureAt(parts, ticket.head),
  };
}

function lying(node: GraphNode, flow: Flow, parts: Parts): NodeGeometry {
  const { title, subtitle, hidden, inputs, outputs } = parts;
  const rows = Math.max(inputs.length, outputs.length);
  const widest = (row: readonly Labelled[]): number => row.reduce((most, port) => Math.max(most, port.width), 0);
  const natural = Math.max(parts.head, ticket.spine + ticket.padX * 2 + widest(inputs) + widest(outputs) + ticket.gapX);
  const width = node.size?.width ?? Math.max(parts.least, Math.ceil(natural));
  const height = node.size?.height ?? ticket.head + parts.picture + rows * ticket.row + (rows > 0 ? ticket.foot : 0);
  // a size that came with an import may be lower than the rows want: they share what there is
  const head = node.size ? Math.min(ticket.head, height * 0.3) : ticket.head + parts.picture;
  const row = node.size ? Math.min(ticket.row, (height - head) / Math.max(1, rows)) : ticket.row;
  const place = (port: Labelled, i: number): PlacedPort => {
    const side = sideOf[flow][port.direction];
    return {
      id: port.id,
      direction: port.direction,
      type: port.type,
      text: port.text,
      x: side === 'left' ? 0 : width,
      y: head + row * (i + 0.5),
      side,
    };
  };
  return {
    width,
    height,
    title,
    subtitle,
    ports: [...inputs.map(place), ...outputs.map(place)],
    shape: 'ticket',
    closed: false,
    hidden,
    ...pictureAt(parts, ticket.head),
  };
}

function upright(node: GraphNode, flow: Flow, parts: Parts): NodeGeometry {
  const { title, subtitle, hidden, inputs, outputs } = parts;
  const slotOf = (port: Labelled): number => Math.max(24, Math.ceil(port.width) + 14);
  const slot = (ports: readonly Labelled[]): number => ports.reduce((sum, port) => sum + slotOf(port), 0);
  const rowOf = (ports: readonly Labelled[]): number => (ports.length > 0 ? ticket.row : 0);
  const width =
    node.size?.width ??
    Math.max(parts.least, Math.ceil(parts.head), ticket.spine + Math.max(slot(inputs), slot(outputs)));
  const height = node.size?.height ?? ticket.head + rowOf(inputs) + parts.picture + rowOf(outputs);
  const place = (ports: readonly Labelled[]): PlacedPort[] => {
    const natural = slot(ports);
    const room = width - ticket.spine;
    let x = ticket.spine;
    return ports.map((port) => {
      const share = (slotOf(port) / Math.max(1, natural)) * room;
      const side = sideOf[flow][port.direction];
      const placed = {
        id: port.id,
        direction: port.direction,
        type: port.type,
        text: port.text,
        x: x + share / 2,
        y: side === 'top' ? 0 : height,
        side,
      };
      x += share;
      return placed;
    });
  };
  const above = flow === 'down' ? rowOf(inputs) : rowOf(outputs);
  return {
    width,
    height,
    title,
    subtitle,
    ports: [...place(inputs), ...place(outputs)],
    shape: 'ticket',
    closed: false,
    hidden,
    ...pictureAt(parts, ticket.head + above),
  };
}

function small(
  node: GraphNode,
  flow: Flow,
  shape: NodeGeometry['shape'],
  naturalWidth: number,
  naturalHeight: number,
  title: string,
): NodeGeometry {
  const width = node.size?.width ?? naturalWidth;
  const height = node.size?.height ?? naturalHeight;
  const ports = node.ports.map((port): PlacedPort => {
    const side = sideOf[flow][port.direction];
    const x = side === 'left' ? 0 : side === 'right' ? width : width / 2;
    const y = side === 'top' ? 0 : side === 'bottom' ? height : height / 2;
    return { id: port.id, direction: port.direction, type: port.type, text: '', x, y, side };
  });
  return { width, height, title, subtitle: '', ports, shape, closed: false, hidden: 0 };
}

export function flowOf(doc: Doc, graph: Id): Flow {
  return doc.graphs.get(graph)?.flow ?? 'right';
}

export function rectOf(doc: Doc, kinds: Kinds, node: GraphNode): Rect {
  const { width, height } = geometryOf(doc, kinds, node);
  return { x: node.x, y: node.y, width, height };
}

/** Where a port's wire starts or ends, or undefined where the node lacks the port or hides it. */
export function portPoint(
  doc: Doc,
  kinds: Kinds,
  node: GraphNode,
  port: string,
  direction: 'in' | 'out',
): (Point & { side: Side }) | undefined {
  const placed = portAt(geometryOf(doc, kinds, node).ports, port, direction);
  return placed && { x: node.x + placed.x, y: node.y + placed.y, side: placed.side };
}

export function unite(rects: Iterable<Rect>): Rect | undefined {
  let left = Infinity;
  let top = Infinity;
  let right = -Infinity;
  let bottom = -Infinity;
  for (const rect of rects) {
    left = Math.min(left, rect.x);
    top = Math.min(top, rect.y);
    right = Math.max(right, rect.x + rect.width);
    bottom = Math.max(bottom, rect.y + rect.height);
  }
  return left > right ? undefined : { x: left, y: top, width: right - left, height: bottom - top };
}

export const sameRect = (a: Rect, b: Rect): boolean =>
  a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height;

/** True where two rectangles share more than an edge. */
export function overlaps(a: Rect, b: Rect): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** Margin between a frame and its members where nobody has set one; the title's tab has room on top. */
export const framePad = { left: 24, top: 44, right: 24, bottom: 24 } as const;

const padded = (rect: Rect, pad: NonNullable<Frame['pad']>): Rect => ({
  x: rect.x - pad.left,
  y: rect.y - pad.top,
  width: rect.width + pad.left + pad.right,
  height: rect.height + pad.top + pad.bottom,
});

/** The rectangle that a new frame around some others has. */
export const framedRect = (rects: Iterable<Rect>): Rect =>
  padded(unite(rects) ?? { x: 0, y: 0, width: 0, height: 0 }, framePad);

/**
 * The rectangles of all frames of a graph: each fits its members and inner frames; an empty one stays as stored.
 * O(nodes + frames).
 */
export function frameRects(doc: Doc, kinds: Kinds, graph: Id): Map<Id, Rect> {
  const index = indexOf(doc);
  const rects = new Map<Id, Rect>();
  const fit = (frame: Frame, above: ReadonlySet<Id>): Rect => {
    const done = rects.get(frame.id);
    if (done) return done;
    const inside = [
      ...index.membersOf(frame.id).map((node) => rectOf(doc, kinds, node)),
      ...index
        .framesWithin(frame.id)
        .filter((inner) => !above.has(inner.id))
        .map((inner) => fit(inner, new Set([...above, inner.id]))),
    ];
    const bounds = unite(inside);
    const rect = bounds
      ? padded(bounds, frame.pad ?? framePad)
      : { x: frame.x, y: frame.y, width: frame.width, height: frame.height };
    rects.set(frame.id, rect);
    return rect;
  };
  for (const frame of index.framesIn(graph)) fit(frame, new Set([frame.id]));
  return rects;
}

/** Height of the tab that a frame's title stands on, and the size of its letters. */
export const tab = { height: 22, titleSize: 13, padX: 6 } as const;

/**
 * Where the titles of a graph's frames stand at 100 % zoom: on the top-left corner, as long as the title but no longer
 * than the frame. O(frames).
 */
export function titleTabs(doc: Doc, kinds: Kinds, graph: Id): Rect[] {
  const rects = frameRects(doc, kinds, graph);
  return indexOf(doc)
    .framesIn(graph)
    .map((frame) => {
      const rect = must(rects.get(frame.id));
      const width = Math.ceil(textWidth(titleOf(frame), 'bold', tab.titleSize)) + 2 * tab.padX;
      return { x: rect.x, y: rect.y, width: Math.min(width, rect.width), height: tab.height };
    });
}

/** What stands on the tab of a frame without a title. */
export const untitledFrame = 'Untitled frame';

/** How a frame is spoken of: its title, or what stands in place of one. */
export const titleOf = (frame: Frame | undefined): string => frame?.title || untitledFrame;

/** The frames around a node or frame, innermost first. */
export function framesAround(doc: Doc, item: GraphNode | Frame): Frame[] {
  const around: Frame[] = [];
  let at = 'kind' in item ? item.frame : item.parent;
  while (at !== undefined) {
    const frame = doc.frames.get(at);
    if (!frame || around.includes(frame)) break;
    around.push(frame);
    at = frame.parent;
  }
  return around;
}
