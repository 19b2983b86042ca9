import { nodeColor } from '@basitax/core/color/scheme';
import type { TypeSpec } from '@basitax/core/document/catalogue';
import { isVertical, type Rect, ticket } from '@basitax/core/document/geometry';
import { middleEllipsis } from '@basitax/core/document/metrics';
import { must } from '@basitax/core/must';
import { isHollow, markSize } from '@basitax/core/sheet/outlines';
import type { Colors } from '../colors.ts';
import { inkOn } from '../ink.ts';
import { markHalo, traceMark } from '../marks.ts';
import { pictureOf } from '../pictures.ts';
import type { Scene, SceneNode } from '../scene.ts';
import { drawLink } from './links.ts';
import { family, giveWay, type Picture, readingZoom } from './picture.ts';

/** Nodes in graph coordinates; the context is set so that they fall on their places. */
export function drawNodes(ctx: CanvasRenderingContext2D, picture: Picture, items: readonly SceneNode[]): void {
  if (picture.view.zoom < giveWay.tickets) drawSpecks(ctx, picture, items);
  else for (const item of items) drawNode(ctx, item, picture);
}

/** Far out nodes are specks in the colour of their category. */
function drawSpecks(ctx: CanvasRenderingContext2D, picture: Picture, items: readonly SceneNode[]): void {
  const { scene, colors, selected, view } = picture;
  fillSpecks(ctx, items, 2 / view.zoom, (item) =>
    selected.size > 0 && selected.has(item.node.id) ? colors.accent : hueOf(scene, colors, item),
  );
  if (view.zoom < giveWay.names) return;
  for (const item of items)
    if (item.geometry.shape === 'ticket')
      drawName(ctx, item, picture, colors.theme === 'night' ? '#1a1a1a' : '#ffffff');
}

export const hueOf = (scene: Scene, colors: Colors, { node }: SceneNode): string =>
  nodeColor(scene.kinds, node, colors.scheme, colors.theme);

/** Nodes as filled rectangles of at least a size, in graph pixels; all of one colour at once. */
export function fillSpecks(
  ctx: CanvasRenderingContext2D,
  items: readonly SceneNode[],
  least: number,
  colorOf: (item: SceneNode) => string,
): void {
  const byColor = new Map<string, SceneNode[]>();
  for (const item of items) {
    const color = colorOf(item);
    const list = byColor.get(color);
    if (list) list.push(item);
    else byColor.set(color, [item]);
  }
  for (const [color, list] of byColor) {
    ctx.beginPath();
    for (const { rect } of list) ctx.rect(rect.x, rect.y, Math.max(rect.width, least), Math.max(rect.height, least));
    ctx.fillStyle = color;
    ctx.fill();
  }
}

/** A node as its element would look. */
function drawNode(ctx: CanvasRenderingContext2D, item: SceneNode, picture: Picture): void {
  const { scene, view, colors } = picture;
  const { node, geometry, rect } = item;
  const hue = hueOf(scene, colors, item);
  const chosen = picture.selected.has(node.id);
  const zoom = view.zoom;
  const link = geometry.shape === 'pennant' || geometry.shape === 'notch' ? scene.linkOf(node) : undefined;
  if (link) {
    drawLink(ctx, item, link, picture);
    if (zoom >= giveWay.marks) drawPorts(ctx, item, picture, link.type);
    return;
  }
  ctx.fillStyle = geometry.shape === 'ticket' ? colors.ticket : colors.panel;
  ctx.fillRect(rect.x, rect.y, rect.width, rect.height);
  ctx.strokeStyle = chosen ? colors.accent : colors.edge;
  ctx.lineWidth = (chosen ? 2.5 : 1) / Math.min(1, zoom * 1.5);
  if (node.bypassed) ctx.setLineDash([4, 3]);
  ctx.strokeRect(rect.x + 0.5, rect.y + 0.5, rect.width - 1, rect.height - 1);
  if (node.bypassed) ctx.setLineDash([]);
  if (geometry.shape === 'point') {
    drawPointLabel(ctx, item, picture);
    return;
  }
  drawPass(ctx, item, picture);
  ctx.fillStyle = hue;
  ctx.fillRect(rect.x + 1, rect.y + 1, ticket.spine - 1, rect.height - 2);
  ctx.textBaseline = 'alphabetic';
  drawName(ctx, item, picture, colors.ink);
  drawCaptions(ctx, item, picture);
  if (zoom >= giveWay.marks) drawPorts(ctx, item, picture);
}

function drawPass(ctx: CanvasRenderingContext2D, item: SceneNode, { scene, colors }: Picture): void {
  for (const { points, hue } of passLines(item, scene.kinds)) {
    ctx.beginPath();
    points.forEach(([x, y], i) =>
      i === 0 ? ctx.moveTo(item.rect.x + x, item.rect.y + y) : ctx.lineTo(item.rect.x + x, item.rect.y + y),
    );
    ctx.strokeStyle = colors.hues[hue] ?? colors.edge;
    ctx.lineWidth = 2;
    ctx.stroke();
  }
}

/** Its own label, or in soft letters that of the labelled reroute point upstream. */
function drawPointLabel(
  ctx: CanvasRenderingContext2D,
  { node, rect }: SceneNode,
  { scene, view, colors }: Picture,
): void {
  const label = view.zoom >= giveWay.codes ? scene.pointLabel(node) : undefined;
  if (!label) return;
  ctx.font = `${label.isOwn ? 700 : 400} 11px ${family}`;
  ctx.textAlign = 'center';
  ctx.textBaseline = 'alphabetic';
  ctx.fillStyle = label.isOwn ? colors.ink : colors.soft;
  ctx.fillText(label.text, rect.x + rect.width / 2, rect.y - 5);
  ctx.textAlign = 'left';
}

/**
 * From here down names keep the size that can still be read; between here and reading zoom they grow to it without a
 * jump.
 */
const steadyZoom = 0.4;
const leastName = 9;

function nameSize(zoom: number): number {
  if (zoom >= readingZoom) return ticket.titleSize;
  if (zoom <= steadyZoom) return leastName / zoom;
  const way = (readingZoom - zoom) / (readingZoom - steadyZoom);
  return (ticket.titleSize * readingZoom * (1 - way) + leastName * way) / zoom;
}

/** The name, larger than to scale far out, and shortened to what then fits. */
function drawName(
  ctx: CanvasRenderingContext2D,
  { geometry, rect }: SceneNode,
  { view }: Picture,
  color: string,
): void {
  if (geometry.title === '') return;
  const size = nameSize(view.zoom);
  const isFar = size > ticket.titleSize;
  const left = isFar && view.zoom < giveWay.tickets ? 4 / view.zoom : ticket.spine + ticket.padX;
  const room = rect.width - left - 4;
  const title = isFar ? middleEllipsis(geometry.title, 'bold', size, room) : geometry.title;
  if (room * view.zoom < 26 || title.length < 3 || (isFar && rect.height < size)) return;
  ctx.font = `700 ${size}px ${family}`;
  ctx.fillStyle = color;
  ctx.fillText(title, rect.x + left, rect.y + (isFar ? Math.min(rect.height - 4, size + 5) : 15));
}

function drawCaptions(
  ctx: CanvasRenderingContext2D,
  { node, geometry, rect }: SceneNode,
  { scene, view, colors }: Picture,
): void {
  if (view.zoom >= giveWay.pictures && geometry.picture) {
    const { x, y, width, height } = geometry.picture;
    const image = pictureOf(must(node.picture));
    if (image) ctx.drawImage(image, rect.x + x, rect.y + y, width, height);
    else ctx.strokeRect(rect.x + x, rect.y + y, width, height);
  }
  if (view.zoom < giveWay.codes) return;
  ctx.font = `700 11px ${family}`;
  ctx.fillStyle = inkOn(nodeColor(scene.kinds, node, colors.scheme, colors.theme), colors);
  ctx.textAlign = 'center';
  ctx.fillText(scene.kinds.code(node.kind), rect.x + ticket.spine / 2, rect.y + 21);
  if (geometry.hidden > 0 && rect.height >= 50)
    ctx.fillText(`+${geometry.hidden}`, rect.x + ticket.spine / 2, rect.y + rect.height - 6);
  ctx.textAlign = 'left';
  if (view.zoom < giveWay.subtitles) return;
  ctx.font = `400 11px ${family}`;
  ctx.fillStyle = colors.soft;
  ctx.fillText(geometry.subtitle, rect.x + ticket.spine + ticket.padX, rect.y + 29);
}

/** How far below its ports a pass line runs, so that it strikes no name through. */
const belowName = 8;

/**
 * What a bypassed node passes: corners from the input that stands for it to each output, in the node’s own pixels;
 * outputs that are open have none.
 */
export function passLines(
  { node, geometry }: SceneNode,
  kinds: Scene['kinds'],
): { points: readonly (readonly [number, number])[]; hue: number }[] {
  if (!node.bypassed || geometry.closed || geometry.shape !== 'ticket') return [];
  return geometry.ports.flatMap((output) => {
    const input = output.direction === 'out' ? kinds.passInput(node, output.id) : undefined;
    const from = input && geometry.ports.find((port) => port.direction === 'in' && port.id === input.id);
    if (!from) return [];
    const lies = from.side === 'left' || from.side === 'right';
    const aside = from.x < output.x ? belowName : -belowName;
    const way: [number, number][] = lies
      ? [
          [from.x + aside, from.y + belowName],
          [output.x - aside, output.y + belowName],
        ]
      : [];
    return [{ points: [[from.x, from.y], ...way, [output.x, output.y]] as const, hue: kinds.type(output.type).hue }];
  });
}

/** The marks of a closed node are one neutral bar for each side. */
export function closedMarks(geometry: SceneNode['geometry']): Rect[] {
  const sides = new Map(geometry.ports.map((port) => [port.side, port]));
  return [...sides.values()].map(({ x, y, side }) =>
    side === 'left' || side === 'right'
      ? { x: x - 2, y: y - 6, width: 4, height: 12 }
      : { x: x - 6, y: y - 2, width: 12, height: 4 },
  );
}

/** `carried`: the type of the ends of remote links, whose ports take anything. */
function drawPorts(
  ctx: CanvasRenderingContext2D,
  { geometry, rect }: SceneNode,
  { scene, view, colors }: Picture,
  carried?: TypeSpec,
): void {
  if (geometry.closed) {
    ctx.fillStyle = colors.edge;
    for (const mark of closedMarks(geometry)) ctx.fillRect(rect.x + mark.x, rect.y + mark.y, mark.width, mark.height);
    return;
  }
  for (const port of geometry.ports) {
    const type = carried ?? scene.kinds.type(port.type);
    ctx.beginPath();
    traceMark(ctx, type.sign, rect.x + port.x, rect.y + port.y, markSize);
    ctx.fillStyle = isHollow(type.sign) ? colors.ticket : (colors.hues[type.hue] ?? colors.edge);
    ctx.strokeStyle = colors.ticket;
    ctx.lineWidth = markHalo;
    ctx.stroke();
    ctx.strokeStyle = colors.hues[type.hue] ?? colors.edge;
    ctx.lineWidth = 1.6;
    ctx.fill();
    ctx.stroke();
  }
  if (view.zoom < giveWay.portNames || isVertical(scene.flow)) return;
  ctx.font = `400 ${ticket.portSize}px ${family}`;
  ctx.fillStyle = colors.ink;
  for (const port of geometry.ports) {
    ctx.textAlign = port.side === 'right' ? 'right' : 'left';
    ctx.fillText(
      port.text,
      rect.x + (port.side === 'right' ? rect.width - 10 : ticket.spine + ticket.padX),
      rect.y + port.y + 4,
    );
  }
  ctx.textAlign = 'left';
}
