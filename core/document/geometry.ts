import { builtin } from './builtin.ts';
import { type Doc, indexOf } from './doc.ts';
import type { Id } from './ids.ts';
import type { Kinds } from './kinds.ts';
import { ellipsis, textWidth } from './metrics.ts';
import type { Flow, Frame, GraphNode } from './schema.ts';

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

const cache = new WeakMap<Kinds, Record<Flow, WeakMap<GraphNode, NodeGeometry>>>();

/**
 * Size, captions and port places of a node: one answer for layout, routing, drawing, command line and server alike.
 * Widths come from the shipped font metrics, rounded up. Cached by node version; O(ports).
 */
export function geometryOf(kinds: Kinds, node: GraphNode, flow: Flow): NodeGeometry {
  let byFlow = cache.get(kinds);
  if (!byFlow) {
    byFlow = { right: new WeakMap(), left: new WeakMap(), down: new WeakMap(), up: new WeakMap() };
    cache.set(kinds, byFlow);
  }
  const known = byFlow[flow].get(node);
  if (known) return known;
  const geometry = measure(kinds, node, flow);
  byFlow[flow].set(node, geometry);
  return geometry;
}

function measure(kinds: Kinds, node: GraphNode, flow: Flow): NodeGeometry {
  if (node.kind === builtin.reroute) return small(node, flow, 'point', 16, 16, node.label ?? '');
  if (node.kind === builtin.beacon || node.kind === builtin.tap) {
    const text = ellipsis(node.kind === builtin.tap ? (node.beacon?.name ?? node.name) : (node.label ?? node.name), 'bold', 11, 140);
    return small(node, flow, node.kind === builtin.tap ? 'notch' : 'pennant', Math.ceil(textWidth(text, 'bold', 11)) + 28, 22, text);
  }
  const title = ellipsis(node.label || node.name, 'bold', ticket.titleSize, ticket.maxTitle);
  const kindTitle = kinds.title(node.kind);
  const subtitle = ellipsis(node.label ? `${kindTitle} · ${node.name}` : kindTitle, 'regular', ticket.subtitleSize, ticket.maxTitle);
  const ports = node.ports.map((port) => ({ ...port, text: ellipsis(port.name, 'regular', ticket.portSize, ticket.maxPort) }));
  const inputs = ports.filter((port) => port.direction === 'in');
  const outputs = ports.filter((port) => port.direction === 'out');
  const headWidth = ticket.spine + ticket.padX * 2 + Math.max(textWidth(title, 'bold', ticket.titleSize), textWidth(subtitle, 'regular', ticket.subtitleSize));
  const width = (rows: typeof ports): number => rows.reduce((most, port) => Math.max(most, textWidth(port.text, 'regular', ticket.portSize)), 0);
  return isVertical(flow)
    ? upright(node, flow, title, subtitle, inputs, outputs, headWidth)
    : lying(node, flow, title, subtitle, inputs, outputs, Math.max(headWidth, ticket.spine + ticket.padX * 2 + width(inputs) + width(outputs) + ticket.gapX));
}

type Labelled = { id: string; direction: 'in' | 'out'; type: string; text: string };

function lying(node: GraphNode, flow: Flow, title: string, subtitle: string, inputs: Labelled[], outputs: Labelled[], natural: number): NodeGeometry {
  const rows = Math.max(inputs.length, outputs.length);
  const width = node.size?.width ?? Math.max(ticket.minWidth, Math.ceil(natural));
  const height = node.size?.height ?? ticket.head + rows * ticket.row + (rows > 0 ? ticket.foot : 0);
  // a size that came with an import may be lower than the rows want: they share what there is
  const head = node.size ? Math.min(ticket.head, height * 0.3) : ticket.head;
  const row = node.size ? Math.min(ticket.row, (height - head) / Math.max(1, rows)) : ticket.row;
  const place = (port: Labelled, i: number): PlacedPort => {
    const side = sideOf[flow][port.direction];
    return { ...port, x: side === 'left' ? 0 : width, y: head + row * (i + 0.5), side };
  };
  return { width, height, title, subtitle, ports: [...inputs.map(place), ...outputs.map(place)], shape: 'ticket' };
}

function upright(node: GraphNode, flow: Flow, title: string, subtitle: string, inputs: Labelled[], outputs: Labelled[], headWidth: number): NodeGeometry {
  const slot = (ports: Labelled[]): number => ports.reduce((sum, port) => sum + Math.max(24, Math.ceil(textWidth(port.text, 'regular', ticket.portSize)) + 14), 0);
  const width = node.size?.width ?? Math.max(ticket.minWidth, Math.ceil(headWidth), slot(inputs) + ticket.spine, slot(outputs) + ticket.spine);
  const rowOf = (ports: Labelled[]): number => (ports.length > 0 ? ticket.row : 0);
  const height = node.size?.height ?? ticket.head + rowOf(inputs) + rowOf(outputs);
  const place = (ports: Labelled[]): PlacedPort[] => {
    const natural = slot(ports);
    const room = width - ticket.spine;
    let x = ticket.spine;
    return ports.map((port) => {
      const share = (Math.max(24, Math.ceil(textWidth(port.text, 'regular', ticket.portSize)) + 14) / Math.max(1, natural)) * room;
      const side = sideOf[flow][port.direction];
      const placed = { ...port, x: x + share / 2, y: side === 'top' ? 0 : height, side };
      x += share;
      return placed;
    });
  };
  return { width, height, title, subtitle, ports: [...place(inputs), ...place(outputs)], shape: 'ticket' };
}

function small(node: GraphNode, flow: Flow, shape: NodeGeometry['shape'], naturalWidth: number, naturalHeight: number, title: string): NodeGeometry {
  const width = node.size?.width ?? naturalWidth;
  const height = node.size?.height ?? naturalHeight;
  const ports = node.ports.map((port): PlacedPort => {
    const side = sideOf[flow][port.direction];
    const x = side === 'left' ? 0 : side === 'right' ? width : width / 2;
    const y = side === 'top' ? 0 : side === 'bottom' ? height : height / 2;
    return { id: port.id, direction: port.direction, type: port.type, text: '', x, y, side };
  });
  return { width, height, title, subtitle: '', ports, shape };
}

export function flowOf(doc: Doc, graph: Id): Flow {
  return doc.graphs.get(graph)?.flow ?? 'right';
}

export function rectOf(kinds: Kinds, node: GraphNode, flow: Flow): Rect {
  const { width, height } = geometryOf(kinds, node, flow);
  return { x: node.x, y: node.y, width, height };
}

/** Where a port's wire starts or ends, or undefined where the node lacks the port. */
export function portPoint(kinds: Kinds, node: GraphNode, flow: Flow, port: string, direction: 'in' | 'out'): (Point & { side: Side }) | undefined {
  const placed = geometryOf(kinds, node, flow).ports.find((candidate) => candidate.id === port && candidate.direction === direction);
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

/** True where two rectangles share more than an edge. */
export function overlaps(a: Rect, b: Rect): boolean {
  return a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
}

/** Margin between a frame and its members where nobody has set one; the title's tab has room on top. */
export const framePad = { left: 24, top: 44, right: 24, bottom: 24 } as const;

/** The rectangles of all frames of a graph: each fits its members and inner frames; an empty one stays as stored. O(nodes + frames). */
export function frameRects(doc: Doc, kinds: Kinds, graph: Id): Map<Id, Rect> {
  const index = indexOf(doc);
  const flow = flowOf(doc, graph);
  const rects = new Map<Id, Rect>();
  const fit = (frame: Frame, above: ReadonlySet<Id>): Rect => {
    const done = rects.get(frame.id);
    if (done) return done;
    const inside = [
      ...index.membersOf(frame.id).map((node) => rectOf(kinds, node, flow)),
      ...index
        .framesWithin(frame.id)
        .filter((inner) => !above.has(inner.id))
        .map((inner) => fit(inner, new Set([...above, inner.id]))),
    ];
    const bounds = unite(inside);
    const pad = frame.pad ?? framePad;
    const rect = bounds
      ? { x: bounds.x - pad.left, y: bounds.y - pad.top, width: bounds.width + pad.left + pad.right, height: bounds.height + pad.top + pad.bottom }
      : { x: frame.x, y: frame.y, width: frame.width, height: frame.height };
    rects.set(frame.id, rect);
    return rect;
  };
  for (const frame of index.framesIn(graph)) fit(frame, new Set([frame.id]));
  return rects;
}

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
