import { caption, indexOf } from '@basitax/core/document/doc';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { textWidth } from '@basitax/core/document/metrics';
import { must } from '@basitax/core/must';
import { routeBetween } from '@basitax/core/route/route';
import { markSize } from '@basitax/core/sheet/outlines';
import type { Candidates } from '@basitax/core/wiring/candidates';
import { candidatesNow, useHand } from '../../hand.ts';
import type { Colors } from '../colors.ts';

import type { SceneNode } from '../scene.ts';
import { portNear } from '../wire-gestures.ts';
import { drawPill, family, type Picture, readingZoom, visibleArea } from './picture.ts';

/** A port of a node with what the wire in hand makes of it. */
interface Seen {
  readonly fits: boolean;
  readonly x: number;
  readonly y: number;
}

let seen: { candidates: Candidates; ports: Map<Id, readonly Seen[]> } | undefined;

/** Which drawn ports of a node take the wire; worked out once for a wire in hand. */
function portsSeen(candidates: Candidates, { node, geometry }: SceneNode): readonly Seen[] {
  if (seen?.candidates !== candidates) seen = { candidates, ports: new Map() };
  let ports = seen.ports.get(node.id);
  if (!ports) {
    const byId = new Map(node.ports.map((port) => [`${port.direction} ${port.id}`, port]));
    ports = geometry.ports.flatMap(({ id, direction, x, y }) => {
      const port = byId.get(`${direction} ${id}`);
      return port ? [{ x, y, fits: candidates.refusal(node, port) === undefined }] : [];
    });
    seen.ports.set(node.id, ports);
  }
  return ports;
}

/**
 * A wire in hand: what fits lights up, all else dims; the nearest fitting port draws it in; what fits outside the
 * window is counted at its edges.
 */
export function drawHand(ctx: CanvasRenderingContext2D, pointer: Point, picture: Picture): void {
  const found = candidatesNow();
  const { inHand } = useHand.getState();
  if (!found || !inHand) return;
  const { scene, view, width, height, colors } = picture;
  const { candidates, fitting } = found;
  const { zoom } = view;
  const { fixed } = candidates.hand;
  const near = inHand.body === undefined ? portNear(scene, pointer) : undefined;
  const items = scene.nodesWithin(visibleArea(view, width, height));
  dim(ctx, items, colors, (item) => fitting.has(item.node.id) || item.node.id === fixed.node);
  if (zoom >= readingZoom)
    for (const item of items) if (fitting.has(item.node.id)) drawPortsSeen(ctx, item, candidates, colors, zoom);
  outlineFitting(ctx, items, fitting, colors, zoom);
  const start = scene.portPlace(fixed.node, fixed.port, candidates.hand.direction) ?? {
    x: -view.x / zoom + 8 / zoom,
    y: -view.y / zoom + height / 2 / zoom,
  };
  const end =
    (near && scene.portPlace(near.node, near.port, candidates.hand.direction === 'out' ? 'in' : 'out')) ?? pointer;
  const [from, to] = candidates.hand.direction === 'out' ? [start, end] : [end, start];
  ctx.strokeStyle = colors.hues[scene.kinds.type(candidates.type).hue] ?? colors.edge;
  ctx.lineWidth = 2.6 / Math.min(1, zoom);
  ctx.setLineDash([]);
  ctx.beginPath();
  routeBetween(from, to, scene.flow, scene.doc.head.wireStyle).forEach((p, i) =>
    i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y),
  );
  ctx.stroke();
  if (near) {
    ctx.strokeStyle = colors.accent;
    ctx.lineWidth = 3 / zoom;
    ctx.beginPath();
    ctx.arc(end.x, end.y, 11 / zoom, 0, Math.PI * 2);
    ctx.stroke();
  }
  const words = near ? fitWords(picture, near.node, near.port) : whyNot(picture, pointer, candidates, fitting);
  if (words) drawWords(ctx, words, { x: pointer.x + 16 / zoom, y: pointer.y + 26 / zoom }, picture);
  drawCounts(ctx, fitting, picture);
}

/** Nodes that cannot take the wire step back behind a veil of the ground. */
function dim(
  ctx: CanvasRenderingContext2D,
  items: readonly SceneNode[],
  colors: Colors,
  stays: (item: SceneNode) => boolean,
): void {
  ctx.beginPath();
  for (const item of items)
    if (!stays(item)) ctx.rect(item.rect.x - 7, item.rect.y - 3, item.rect.width + 14, item.rect.height + 6);
  ctx.fillStyle = colors.ground;
  ctx.globalAlpha = 0.68;
  ctx.fill();
  ctx.globalAlpha = 1;
}

function outlineFitting(
  ctx: CanvasRenderingContext2D,
  items: readonly SceneNode[],
  fitting: ReadonlySet<Id>,
  colors: Colors,
  zoom: number,
): void {
  ctx.beginPath();
  for (const { node, rect } of items)
    if (fitting.has(node.id)) ctx.rect(rect.x - 1, rect.y - 1, rect.width + 2, rect.height + 2);
  ctx.strokeStyle = colors.accent;
  ctx.lineWidth = 1.6 / Math.min(1, zoom);
  ctx.setLineDash([]);
  ctx.stroke();
}

/** A halo around each port that takes the wire; the others fade. */
function drawPortsSeen(
  ctx: CanvasRenderingContext2D,
  item: SceneNode,
  candidates: Candidates,
  colors: Colors,
  zoom: number,
): void {
  const ports = portsSeen(candidates, item);
  ctx.fillStyle = colors.ticket;
  ctx.globalAlpha = 0.72;
  ctx.beginPath();
  for (const { x, y, fits } of ports) if (!fits) ctx.rect(item.rect.x + x - 8, item.rect.y + y - 8, 16, 16);
  ctx.fill();
  ctx.globalAlpha = 1;
  ctx.strokeStyle = colors.accent;
  ctx.lineWidth = 2 / Math.min(1, zoom);
  ctx.beginPath();
  for (const { x, y, fits } of ports) {
    if (!fits) continue;
    ctx.moveTo(item.rect.x + x + markSize * 1.9, item.rect.y + y);
    ctx.arc(item.rect.x + x, item.rect.y + y, markSize * 1.9, 0, Math.PI * 2);
  }
  ctx.stroke();
}

function fitWords({ scene }: Picture, id: Id, port: string): string {
  const node = must(scene.whole.nodes.get(id));
  const name = node.ports.find((one) => one.id === port)?.name ?? port;
  const { inHand } = useHand.getState();
  const wire = inHand?.hand.direction === 'out' ? indexOf(scene.whole).wireInto(id, port) : undefined;
  const gives =
    wire && wire.id !== inHand?.wire
      ? `, takes the place of “${caption(must(scene.whole.nodes.get(wire.from.node)))}”`
      : '';
  return `${name} of ${caption(node)}${gives}`;
}

/** Why the port or node under the pointer does not take the wire. */
function whyNot(
  { scene, view }: Picture,
  pointer: Point,
  candidates: Candidates,
  fitting: ReadonlySet<Id>,
): string | undefined {
  const hit = scene.hit(pointer, 10 / view.zoom);
  if (hit?.type === 'port' && hit.node.id !== candidates.hand.fixed.node) {
    const port = hit.node.ports.find((one) => one.id === hit.port && one.direction === hit.direction);
    return port && candidates.refusal(hit.node, port)?.message;
  }
  const node = hit?.type === 'node' ? scene.get(hit.id)?.node : undefined;
  if (!node || node.id === candidates.hand.fixed.node || fitting.has(node.id)) return undefined;
  const other = node.ports.find((port) => port.direction !== candidates.hand.direction);
  return other
    ? candidates.refusal(node, other)?.message
    : `“${caption(node)}” has no ${candidates.hand.direction === 'out' ? 'input' : 'output'}.`;
}

/** Words on a small plate, the same size at any zoom; broken in two lines where they are long. */
export function drawWords(
  ctx: CanvasRenderingContext2D,
  words: string,
  at: Point,
  { colors, view, width, height }: Picture,
): void {
  const size = 12;
  const lines = broken(words, size, 340);
  const [wide, high] = [Math.max(...lines.map((line) => textWidth(line, 'regular', size))) + 14, lines.length * 16 + 8];
  // within the window, whatever the pointer is near
  const [x, y] = [
    Math.max(4, Math.min(width - wide - 4, at.x * view.zoom + view.x)),
    Math.max(4, Math.min(height - high - 4, at.y * view.zoom + view.y)),
  ];
  ctx.save();
  ctx.translate((x - view.x) / view.zoom, (y - view.y) / view.zoom);
  ctx.scale(1 / view.zoom, 1 / view.zoom);
  ctx.fillStyle = colors.panel;
  ctx.strokeStyle = colors.edge;
  ctx.lineWidth = 1;
  ctx.setLineDash([]);
  ctx.fillRect(0, 0, wide, high);
  ctx.strokeRect(0.5, 0.5, wide - 1, high - 1);
  ctx.fillStyle = colors.ink;
  ctx.font = `400 ${size}px ${family}`;
  ctx.textBaseline = 'alphabetic';
  ctx.textAlign = 'left';
  lines.forEach((line, i) => ctx.fillText(line, 7, 16 + i * 16));
  ctx.restore();
}

function broken(words: string, size: number, room: number): string[] {
  const lines: string[] = [];
  let line = '';
  for (const word of words.split(' ')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line !== '' && textWidth(longer, 'regular', size) > room) {
      lines.push(line);
      line = word;
    } else line = longer;
  }
  return [...lines, line];
}

type Edge = 'left' | 'right' | 'top' | 'bottom';

/** How many nodes that take the wire lie beyond each edge of the window. O(fitting nodes). */
function beyond({ scene, view, width, height }: Picture, fitting: ReadonlySet<Id>): Record<Edge, number> {
  const area = visibleArea(view, width, height);
  const counts: Record<Edge, number> = { left: 0, right: 0, top: 0, bottom: 0 };
  for (const id of fitting) {
    const rect = scene.get(id)?.rect;
    if (!rect) continue;
    // beyond a corner counts where it is further off
    const [dx, dy] = [
      rect.x + rect.width < area.x ? rect.x + rect.width - area.x : Math.max(0, rect.x - area.x - area.width),
      rect.y + rect.height < area.y ? rect.y + rect.height - area.y : Math.max(0, rect.y - area.y - area.height),
    ];
    if (dx === 0 && dy === 0) continue;
    if (Math.abs(dx) >= Math.abs(dy)) counts[dx < 0 ? 'left' : 'right']++;
    else counts[dy < 0 ? 'top' : 'bottom']++;
  }
  return counts;
}

const arrows: Record<Edge, string> = { left: '◂', right: '▸', top: '▴', bottom: '▾' };

function drawCounts(ctx: CanvasRenderingContext2D, fitting: ReadonlySet<Id>, picture: Picture): void {
  const { view, width, height, colors } = picture;
  const counts = beyond(picture, fitting);
  const middle: Record<Edge, Point> = {
    left: { x: 34, y: height / 2 },
    right: { x: width - 34, y: height / 2 },
    top: { x: width / 2, y: 20 },
    bottom: { x: width / 2, y: height - 20 },
  };
  ctx.save();
  ctx.translate(-view.x / view.zoom, -view.y / view.zoom);
  ctx.scale(1 / view.zoom, 1 / view.zoom);
  ctx.font = `700 12px ${family}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'middle';
  for (const edge of ['left', 'right', 'top', 'bottom'] as const) {
    if (counts[edge] === 0) continue;
    const number = counts[edge].toLocaleString('en');
    const text = edge === 'left' ? `${arrows.left} ${number}` : `${number} ${arrows[edge]}`;
    drawPill(ctx, text, middle[edge], { wide: ctx.measureText(text).width + 18, high: 24 }, colors);
  }
  ctx.restore();
}
