import { indexOf } from '@basitax/core/document/doc';
import { isVertical, type Point, type Rect, ticket } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { ellipsis } from '@basitax/core/document/metrics';
import type { Wire } from '@basitax/core/document/schema';
import type { Moving, Outlines, View } from '../store.ts';
import type { Colors } from './colors.ts';
import { isHollow, markSize, traceMark } from './marks.ts';
import { type Scene, type SceneNode, tabHeight } from './scene.ts';

/** From this zoom up nodes are full tickets that can be read. */
export const readingZoom = 0.5;

export interface Picture {
  readonly scene: Scene;
  readonly view: View;
  readonly width: number;
  readonly height: number;
  readonly colors: Colors;
  readonly selected: ReadonlySet<Id>;
  readonly moving: Moving | undefined;
  /** Nodes that stand as elements above the canvas and need no drawing. */
  readonly mounted: ReadonlySet<Id>;
  /** The scene before the change that is being previewed: its places are drawn as ghosts. */
  readonly ghosts: Scene | undefined;
  readonly outlines: Outlines | undefined;
}

/** How long the ghosts of old places take to fade, in milliseconds. */
export const fadeTime = 900;

const family = '"Atkinson Hyperlegible", sans-serif';

/** The part of the graph that the window shows, with a margin in graph pixels. */
export function visibleArea(view: View, width: number, height: number, margin = 0): Rect {
  return { x: -view.x / view.zoom - margin, y: -view.y / view.zoom - margin, width: width / view.zoom + 2 * margin, height: height / view.zoom + 2 * margin };
}

function prepare(ctx: CanvasRenderingContext2D, width: number, height: number): void {
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (ctx.canvas.width !== w || ctx.canvas.height !== h) {
    ctx.canvas.width = w;
    ctx.canvas.height = h;
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.clearRect(0, 0, width, height);
  ctx.fontKerning = 'none';
}

const toScreen = (view: View, rect: Rect): Rect => ({
  x: rect.x * view.zoom + view.x,
  y: rect.y * view.zoom + view.y,
  width: rect.width * view.zoom,
  height: rect.height * view.zoom,
});

/** The lower canvas: grid points, frames with their tabs, notes. */
export function drawGround(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, width, height, colors } = picture;
  prepare(ctx, width, height);
  if (view.zoom > 0.4) drawGrid(ctx, view, width, height, colors);
  const area = visibleArea(view, width, height, 40 / view.zoom);
  for (const { frame, rect, depth } of scene.frames) {
    if (rect.x > area.x + area.width || rect.x + rect.width < area.x || rect.y > area.y + area.height || rect.y + rect.height < area.y) continue;
    const box = toScreen(view, rect);
    ctx.fillStyle = colors.frame;
    ctx.globalAlpha = depth === 0 ? 0.75 : 0.9;
    ctx.fillRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 1;
    const chosen = picture.selected.has(frame.id);
    ctx.strokeStyle = chosen ? colors.accent : colors.frameEdge;
    ctx.lineWidth = chosen ? 2 : 1;
    ctx.strokeRect(Math.round(box.x) + 0.5, Math.round(box.y) + 0.5, box.width, box.height);
  }
  for (const note of scene.notes) drawNote(ctx, toScreen(view, note), note.text, view.zoom, colors, picture.selected.has(note.id));
}

function drawGrid(ctx: CanvasRenderingContext2D, view: View, width: number, height: number, colors: Colors): void {
  const gap = 32 * view.zoom;
  ctx.fillStyle = colors.line;
  for (let x = ((view.x % gap) + gap) % gap; x < width; x += gap) for (let y = ((view.y % gap) + gap) % gap; y < height; y += gap) ctx.fillRect(x, y, 1, 1);
}

function drawTab(ctx: CanvasRenderingContext2D, box: Rect, title: string, zoom: number, colors: Colors, chosen: boolean): void {
  const size = Math.min(15, Math.max(11, 13 * zoom));
  if (box.width < 34) return;
  const text = ellipsis(title, 'bold', size, box.width - 12);
  if (text === '…') return;
  ctx.font = `700 ${size}px ${family}`;
  const tall = Math.max(size + 5, Math.min(tabHeight, tabHeight * zoom));
  ctx.fillStyle = chosen ? colors.accent : colors.frameEdge;
  // far out the tab keeps its size and grows upwards, off the nodes
  const top = box.y + Math.min(tall, tabHeight * zoom) - tall;
  ctx.fillRect(box.x, top, ctx.measureText(text).width + 12, tall);
  ctx.fillStyle = colors.theme === 'night' && !chosen ? colors.ink : chosen ? colors.ground : '#26241f';
  ctx.textBaseline = 'middle';
  ctx.fillText(text, box.x + 6, top + tall / 2 + 0.5);
}

function drawNote(ctx: CanvasRenderingContext2D, box: Rect, text: string, zoom: number, colors: Colors, chosen: boolean): void {
  ctx.fillStyle = colors.panel;
  ctx.strokeStyle = chosen ? colors.accent : colors.frameEdge;
  ctx.lineWidth = chosen ? 2 : 1;
  ctx.setLineDash([4, 3]);
  ctx.fillRect(box.x, box.y, box.width, box.height);
  ctx.strokeRect(box.x, box.y, box.width, box.height);
  ctx.setLineDash([]);
  if (zoom < 0.4) return;
  const size = 12 * zoom;
  ctx.font = `400 ${size}px ${family}`;
  ctx.fillStyle = colors.ink;
  ctx.textBaseline = 'top';
  let line = '';
  let y = box.y + 7 * zoom;
  const flush = (): void => {
    if (y + size < box.y + box.height) ctx.fillText(line, box.x + 8 * zoom, y);
    y += size * 1.3;
  };
  for (const word of text.split(/\s+/)) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (ctx.measureText(longer).width > box.width - 16 * zoom && line !== '') {
      flush();
      line = word;
    } else line = longer;
  }
  flush();
}

/** The upper canvas: wires, then the nodes that are not elements, then ghosts. */
export function drawGraph(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, width, height, colors, moving, selected } = picture;
  prepare(ctx, width, height);
  if (picture.ghosts) drawGhosts(ctx, picture, picture.ghosts);
  const area = visibleArea(view, width, height, 60);
  const wires = moving ? wiresWhileMoving(scene, area, moving) : scene.wiresWithin(area);
  drawWires(ctx, picture, wires);
  const still = scene.nodesWithin(area);
  const inHand = moving ? scene.nodesWithin({ ...area, x: area.x - moving.dx, y: area.y - moving.dy }).filter((item) => moving.ids.has(item.node.id)) : [];
  const nodes = moving ? [...still.filter((item) => !moving.ids.has(item.node.id)), ...inHand] : still;
  ctx.save();
  ctx.translate(view.x, view.y);
  ctx.scale(view.zoom, view.zoom);
  for (const item of nodes) {
    const shifted = moving?.ids.has(item.node.id);
    if (picture.mounted.has(item.node.id)) continue;
    if (shifted) {
      ctx.save();
      ctx.translate(moving!.dx, moving!.dy);
    }
    drawNode(ctx, item, picture, colors);
    if (shifted) ctx.restore();
  }
  ctx.restore();
  if (picture.outlines) drawOutlines(ctx, picture, picture.outlines);
  // titles are the last thing to give way: they lie above wires and nodes
  for (const { frame, rect } of scene.frames) drawTab(ctx, toScreen(view, rect), frame.title || 'Untitled frame', view.zoom, colors, selected.has(frame.id));
}

const hangingBy = new WeakMap<ReadonlySet<Id>, readonly Wire[]>();

/** What is in the window, and what is at the nodes in hand, whose wires have left their places. */
function wiresWhileMoving(scene: Scene, area: Rect, moving: Moving): readonly Wire[] {
  const { ids, dx, dy } = moving;
  const ends = (wire: Wire): number => Number(ids.has(wire.from.node)) + Number(ids.has(wire.to.node));
  const still = scene.wiresWithin(area).filter((wire) => ends(wire) === 0);
  const whole = scene.wiresWithin({ ...area, x: area.x - dx, y: area.y - dy }).filter((wire) => ends(wire) === 2);
  // those that hang by one end run anew; which they are is worked out once a drag
  let hanging = hangingBy.get(ids);
  if (!hanging) {
    const index = indexOf(scene.doc);
    hanging = [...new Set([...ids].flatMap((id) => index.wiresOf(id)))].filter((wire) => ends(wire) === 1);
    hangingBy.set(ids, hanging);
  }
  return [...still, ...whole, ...hanging];
}

function drawWires(ctx: CanvasRenderingContext2D, picture: Picture, wires: readonly Wire[]): void {
  const { scene, view, colors, moving, selected } = picture;
  const paths = wires.map((wire) => ({ wire, points: moving ? scene.movedPath(wire, moving) : scene.path(wire) }));
  const batches = new Map<string, { width: number; dash: number[]; color: string; items: (readonly Point[])[] }>();
  for (const { wire, points } of paths) {
    if (points.length < 2) continue;
    const from = scene.doc.nodes.get(wire.from.node)!;
    const type = from.ports.find((port) => port.direction === 'out' && port.id === wire.from.port)?.type ?? 'any';
    const chosen = selected.has(wire.id);
    const touched = chosen || selected.has(wire.from.node) || selected.has(wire.to.node);
    const hue = scene.kinds.type(type).hue;
    const key = `${chosen} ${touched} ${wire.off} ${hue}`;
    const batch = batches.get(key) ?? {
      width: (chosen ? 3.2 : touched ? 2.2 : 1.4) * Math.max(0.55, Math.min(1, view.zoom)),
      dash: wire.off ? [2, 5] : [],
      color: chosen ? colors.accent : (colors.hues[hue] ?? colors.edge),
      items: [],
    };
    batch.items.push(points);
    batches.set(key, batch);
  }
  ctx.lineJoin = 'round';
  const faint = view.zoom < 0.2 ? 0.55 : 0.9;
  for (const batch of batches.values()) {
    ctx.beginPath();
    for (const points of batch.items) tracePath(ctx, points, view);
    ctx.strokeStyle = batch.color;
    ctx.lineWidth = batch.width;
    ctx.globalAlpha = batch.color === colors.accent ? 1 : faint;
    ctx.setLineDash(batch.dash);
    ctx.stroke();
  }
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
  if (view.zoom >= readingZoom && paths.length < 700) interruptCrossings(ctx, picture, paths);
}

/** Corners are cut at 45°, by at most a third of the shorter leg. */
function tracePath(ctx: CanvasRenderingContext2D, points: readonly Point[], view: View): void {
  const sx = (p: Point): number => p.x * view.zoom + view.x;
  const sy = (p: Point): number => p.y * view.zoom + view.y;
  ctx.moveTo(sx(points[0]!), sy(points[0]!));
  for (let i = 1; i + 1 < points.length; i++) {
    const [before, corner, after] = [points[i - 1]!, points[i]!, points[i + 1]!];
    if (view.zoom < 0.25) {
      ctx.lineTo(sx(corner), sy(corner));
      continue;
    }
    const [a, b] = [Math.hypot(corner.x - before.x, corner.y - before.y), Math.hypot(after.x - corner.x, after.y - corner.y)];
    const cut = Math.min(9, a / 3, b / 3);
    const toward = (p: Point, length: number): [number, number] => [
      (corner.x + ((p.x - corner.x) / length) * cut) * view.zoom + view.x,
      (corner.y + ((p.y - corner.y) / length) * cut) * view.zoom + view.y,
    ];
    if (cut < 0.5) ctx.lineTo(sx(corner), sy(corner));
    else {
      ctx.lineTo(...toward(before, a));
      ctx.lineTo(...toward(after, b));
    }
  }
  ctx.lineTo(sx(points[points.length - 1]!), sy(points[points.length - 1]!));
}

/** Where two wires of different sources cross, the one across the page gives way: it is interrupted around the other. */
function interruptCrossings(ctx: CanvasRenderingContext2D, { scene, view, width, height, colors }: Picture, paths: readonly { wire: Wire; points: readonly Point[] }[]): void {
  interface Piece {
    at: number;
    from: number;
    to: number;
    net: string;
    color: string;
  }
  const area = visibleArea(view, width, height);
  const [across, along]: [Piece[], Piece[]] = [[], []];
  for (const { wire, points } of paths) {
    const from = scene.doc.nodes.get(wire.from.node)!;
    const hue = scene.kinds.type(from.ports.find((port) => port.direction === 'out' && port.id === wire.from.port)?.type ?? 'any').hue;
    const piece = { net: `${wire.from.node} ${wire.from.port}`, color: colors.hues[hue] ?? colors.edge };
    for (let i = 0; i + 1 < points.length; i++) {
      const [a, b] = [points[i]!, points[i + 1]!];
      if (a.y === b.y && a.y >= area.y && a.y <= area.y + area.height) across.push({ ...piece, at: a.y, from: Math.min(a.x, b.x), to: Math.max(a.x, b.x) });
      else if (a.x === b.x && a.x >= area.x && a.x <= area.x + area.width) along.push({ ...piece, at: a.x, from: Math.min(a.y, b.y), to: Math.max(a.y, b.y) });
    }
  }
  if (across.length * along.length > 60_000) return;
  const gap = 4.5;
  const line = 1.4 * Math.min(1, view.zoom);
  for (const up of along) {
    for (const level of across) {
      if (up.net === level.net || up.at <= level.from + gap || up.at >= level.to - gap || level.at <= up.from + gap || level.at >= up.to - gap) continue;
      const [x, y] = [up.at * view.zoom + view.x, level.at * view.zoom + view.y];
      ctx.clearRect(x - gap * view.zoom, y - 2.5, 2 * gap * view.zoom, 5);
      ctx.fillStyle = up.color;
      ctx.fillRect(x - line / 2, y - 2.5, line, 5);
    }
  }
}

/** Where nodes would go: a firm outline. Where they were: a dashed one that fades. */
function drawOutlines(ctx: CanvasRenderingContext2D, { scene, view, colors }: Picture, outlines: Outlines): void {
  const fading = outlines.since !== undefined;
  ctx.strokeStyle = fading ? colors.soft : colors.accent;
  ctx.lineWidth = fading ? 1 : 1.6;
  ctx.globalAlpha = fading ? Math.max(0, 0.8 * (1 - (performance.now() - outlines.since) / fadeTime)) : 1;
  ctx.setLineDash([4, 3]);
  for (const [id, place] of outlines.places) {
    const item = scene.get(id);
    if (!item) continue;
    const box = toScreen(view, { ...place, width: item.rect.width, height: item.rect.height });
    ctx.strokeRect(box.x, box.y, box.width, box.height);
  }
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
}

function drawGhosts(ctx: CanvasRenderingContext2D, picture: Picture, before: Scene): void {
  const { view, width, height, colors, scene } = picture;
  ctx.strokeStyle = colors.soft;
  ctx.lineWidth = 1;
  ctx.globalAlpha = 0.55;
  ctx.setLineDash([3, 3]);
  for (const { node, rect } of before.nodesWithin(visibleArea(view, width, height))) {
    const now = scene.get(node.id);
    if (now && now.rect.x === rect.x && now.rect.y === rect.y) continue;
    const box = toScreen(view, rect);
    ctx.strokeRect(box.x, box.y, box.width, box.height);
  }
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
}

/** A node as its element would look, in graph coordinates; details give way with the zoom: port names, then marks, subtitle, title. */
function drawNode(ctx: CanvasRenderingContext2D, { node, geometry, rect }: SceneNode, picture: Picture, colors: Colors): void {
  const { scene, view } = picture;
  const hue = colors.hues[scene.kinds.category(node.kind).hue] ?? colors.soft;
  const chosen = picture.selected.has(node.id);
  const zoom = view.zoom;
  if (zoom < 0.16) {
    ctx.fillStyle = chosen ? colors.accent : hue;
    ctx.fillRect(rect.x, rect.y, Math.max(rect.width, 2 / zoom), Math.max(rect.height, 2 / zoom));
    return;
  }
  ctx.fillStyle = geometry.shape === 'ticket' ? colors.ticket : colors.panel;
  ctx.fillRect(rect.x, rect.y, rect.width, rect.height);
  ctx.strokeStyle = chosen ? colors.accent : colors.edge;
  ctx.lineWidth = (chosen ? 2.5 : 1) / Math.min(1, zoom * 1.5);
  if (node.bypassed) ctx.setLineDash([4, 3]);
  ctx.strokeRect(rect.x + 0.5, rect.y + 0.5, rect.width - 1, rect.height - 1);
  ctx.setLineDash([]);
  if (geometry.shape === 'point') return;
  ctx.fillStyle = hue;
  if (geometry.shape === 'ticket') ctx.fillRect(rect.x + 1, rect.y + 1, ticket.spine - 1, rect.height - 2);
  else ctx.fillRect(geometry.shape === 'notch' ? rect.x + 1 : rect.x + rect.width - 7, rect.y + 1, 6, rect.height - 2);
  ctx.textBaseline = 'alphabetic';
  if (geometry.shape !== 'ticket') {
    if (zoom < 0.3) return;
    ctx.font = `700 11px ${family}`;
    ctx.fillStyle = colors.ink;
    ctx.fillText(geometry.title, rect.x + 12, rect.y + 15);
    return;
  }
  drawCaptions(ctx, geometry, rect, zoom, colors, scene.kinds.code(node.kind));
  if (zoom < 0.42) return;
  drawPorts(ctx, { node, geometry, rect }, picture, colors);
}

function drawCaptions(ctx: CanvasRenderingContext2D, geometry: SceneNode['geometry'], rect: Rect, zoom: number, colors: Colors, code: string): void {
  // far out the title is drawn larger than to scale, and shortened to what then fits
  const size = Math.max(ticket.titleSize, 9 / zoom);
  const room = rect.width - ticket.spine - 12;
  const title = size === ticket.titleSize ? geometry.title : ellipsis(geometry.title, 'bold', size, room);
  if (room * zoom >= 26 && title !== '…') {
    ctx.font = `700 ${size}px ${family}`;
    ctx.fillStyle = colors.ink;
    ctx.fillText(title, rect.x + ticket.spine + ticket.padX, rect.y + (size === ticket.titleSize ? 15 : Math.min(rect.height - 4, size + 5)));
  }
  if (zoom < 0.3) return;
  ctx.font = `700 11px ${family}`;
  ctx.fillStyle = colors.onHue;
  ctx.textAlign = 'center';
  ctx.fillText(code, rect.x + ticket.spine / 2, rect.y + 21);
  ctx.textAlign = 'left';
  if (zoom < 0.42) return;
  ctx.font = `400 11px ${family}`;
  ctx.fillStyle = colors.soft;
  ctx.fillText(geometry.subtitle, rect.x + ticket.spine + ticket.padX, rect.y + 29);
}

function drawPorts(ctx: CanvasRenderingContext2D, { geometry, rect }: SceneNode, picture: Picture, colors: Colors): void {
  const { scene, view } = picture;
  for (const port of geometry.ports) {
    const type = scene.kinds.type(port.type);
    ctx.beginPath();
    traceMark(ctx, type.sign, rect.x + port.x, rect.y + port.y, markSize);
    ctx.fillStyle = isHollow(type.sign) ? colors.ticket : (colors.hues[type.hue] ?? colors.edge);
    ctx.strokeStyle = colors.hues[type.hue] ?? colors.edge;
    ctx.lineWidth = 1.6;
    ctx.fill();
    ctx.stroke();
  }
  if (view.zoom < readingZoom || isVertical(scene.flow)) return;
  ctx.font = `400 ${ticket.portSize}px ${family}`;
  ctx.fillStyle = colors.ink;
  for (const port of geometry.ports) {
    ctx.textAlign = port.side === 'right' ? 'right' : 'left';
    ctx.fillText(port.text, rect.x + (port.side === 'right' ? rect.width - 10 : ticket.spine + ticket.padX), rect.y + port.y + 4);
  }
  ctx.textAlign = 'left';
}
