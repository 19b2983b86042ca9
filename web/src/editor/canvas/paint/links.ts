import { builtin } from '@basitax/core/document/builtin';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { ellipsis } from '@basitax/core/document/metrics';
import type { GraphNode } from '@basitax/core/document/schema';
import { seenFrom } from '@basitax/core/inspect/reach';
import { must } from '@basitax/core/must';
import { isEnd, otherEnds } from '@basitax/core/remote/ends';
import { linkCut, linkShape, linkTextLeft, type Polygon } from '@basitax/core/sheet/outlines';
import { effectiveWiring } from '@basitax/core/wiring/effective';
import type { Trace } from '../../layout.ts';
import type { LinkLook, Scene, SceneNode } from '../scene.ts';
import { family, giveWay, type Picture, toScreen } from './picture.ts';

/** Is the band filled? It is hollow where an end has nobody on the other side, or nothing comes. */
export const isWhole = ({ state }: LinkLook): boolean => state === 'heard' || state === 'fed';

/** How an end stands, in words. */
export function linkWords(kind: string, state: LinkLook['state']): string {
  const isFeed = kind === builtin.feed;
  return {
    heard: isFeed ? 'supplies inputs' : 'heard',
    unheard: isFeed ? 'supplies nothing' : 'heard by none',
    fed: 'fed',
    open: 'no source',
    lost: 'has lost its beacon',
  }[state];
}

function trace(ctx: CanvasRenderingContext2D, polygon: Polygon, { x, y }: Point): void {
  ctx.beginPath();
  polygon.forEach(([px, py], i) => (i === 0 ? ctx.moveTo(x + px, y + py) : ctx.lineTo(x + px, y + py)));
  ctx.closePath();
}

/** A beacon or tap as its element would look. */
export function drawLink(ctx: CanvasRenderingContext2D, item: SceneNode, look: LinkLook, picture: Picture): void {
  const { colors, view, selected } = picture;
  const { rect, geometry } = item;
  const shape = linkShape(geometry);
  const chosen = selected.has(item.node.id);
  const hue = look.state === 'lost' ? colors.warn : (colors.hues[look.type.hue] ?? colors.edge);
  trace(ctx, shape.outline, rect);
  ctx.fillStyle = colors.ticket;
  ctx.fill();
  ctx.strokeStyle = chosen ? colors.accent : look.state === 'lost' ? colors.warn : colors.edge;
  ctx.lineWidth = (chosen ? 2.5 : 1) / Math.min(1, view.zoom * 1.5);
  ctx.setLineDash(look.state === 'lost' ? [3, 2] : []);
  ctx.stroke();
  trace(ctx, shape.band, rect);
  ctx.setLineDash([]);
  ctx.fillStyle = ctx.strokeStyle = hue;
  ctx.lineWidth = 1.2;
  if (isWhole(look)) ctx.fill();
  else ctx.stroke();
  if (view.zoom < giveWay.codes) return;
  ctx.font = `700 11px ${family}`;
  ctx.textBaseline = 'alphabetic';
  ctx.fillStyle = colors.ink;
  ctx.fillText(geometry.title, rect.x + linkTextLeft(geometry.shape), rect.y + 13);
}

const widestFeed = 110;

/** Away from a node, at each of its sides. */
const outwards = { left: [-1, 0], right: [1, 0], top: [0, -1], bottom: [0, 1] } as const;

/** A mark before each input that a standing feed supplies, with what feeds it where there is room to read. */
export function drawFed(
  ctx: CanvasRenderingContext2D,
  { scene, view, colors }: Picture,
  items: readonly SceneNode[],
): void {
  if (!scene.hasFeeds || view.zoom < giveWay.marks) return;
  ctx.textBaseline = 'middle';
  const size = Math.max(10, 8.5 / view.zoom);
  ctx.font = `400 ${size}px ${family}`;
  for (const { node, geometry } of items) {
    for (const port of geometry.closed ? [] : geometry.ports) {
      const feed = port.direction === 'in' ? scene.feedOf(node, port.id) : undefined;
      if (feed === undefined) continue;
      const [x, y] = [node.x + port.x, node.y + port.y];
      const [dx, dy] = outwards[port.side];
      ctx.strokeStyle = colors.hues[scene.kinds.type(port.type).hue] ?? colors.edge;
      ctx.lineWidth = 1.6;
      ctx.beginPath();
      for (const at of [8, 12, 16]) {
        const half = (at - 4) / 2.4;
        ctx.moveTo(x + dx * at - dy * half, y + dy * at - dx * half);
        ctx.lineTo(x + dx * at + dy * half, y + dy * at + dx * half);
      }
      ctx.stroke();
      if (view.zoom < giveWay.subtitles) continue;
      const words = ellipsis(feed, 'regular', size, widestFeed);
      ctx.textAlign = dx < 0 ? 'right' : dx > 0 ? 'left' : 'center';
      const [wx, wy] = [x + dx * 21, y + dy * 25];
      // wires may run behind the words
      ctx.strokeStyle = colors.ground;
      ctx.lineWidth = 3;
      ctx.strokeText(words, wx, wy);
      ctx.fillStyle = colors.soft;
      ctx.fillText(words, wx, wy);
    }
  }
  ctx.textAlign = 'left';
}

/** More lines than this are not drawn: nobody could follow one. */
const mostLines = 600;

/** With more lines than this none is drawn strongly, nor its other end outlined. */
const mostStrong = 60;

interface Line {
  readonly from: Id;
  readonly to: Id;
  readonly hue: number;
  readonly isStrong: boolean;
}

const known = new WeakMap<Scene, { selected: ReadonlySet<Id>; what: Trace; lines: readonly Line[] }>();

/**
 * The lines between ends: those of what is selected, or all. Ends in nested graphs are shown at the node that holds
 * them.
 */
function linesOf(scene: Scene, selected: ReadonlySet<Id>, what: Trace): readonly Line[] {
  const before = known.get(scene);
  if (before?.selected === selected && before.what === what) return before.lines;
  const lines = new Map<string, Line>();
  const starts =
    what === 'all'
      ? scene.nodes.map((item) => item.node).filter((node) => isEnd(node.kind))
      : [...selected].flatMap((id) => scene.get(id)?.node ?? []);
  for (const node of starts) {
    if (lines.size > mostLines) break;
    addLines(scene, node, selected.has(node.id), lines);
  }
  const found = [...lines.values()];
  known.set(scene, { selected, what, lines: found });
  return found;
}

function addLines(scene: Scene, node: GraphNode, isStrong: boolean, lines: Map<string, Line>): void {
  if (!isEnd(node.kind) && !scene.hasFeeds) return;
  const { whole } = scene;
  const others = otherEnds(whole, effectiveWiring(whole, scene.kinds), node);
  // a tap shows its beacon; the beacon shows all
  const meant = scene.linkOf(node) && node.beacon ? others.slice(0, 1) : others;
  for (const other of meant) {
    const at = seenFrom(whole, scene.graph, [other.id])[0];
    if (at === undefined || at === node.id || !scene.get(at)) continue;
    const key = [node.id, at].sort().join(' ');
    if (!lines.has(key))
      lines.set(key, {
        from: node.id,
        to: at,
        hue: (scene.linkOf(node) ?? scene.linkOf(other))?.type.hue ?? 0,
        isStrong,
      });
  }
}

/** Where a line meets a node: its middle for the small ends, else the side that faces the other one. */
function anchor({ rect, geometry }: SceneNode, towards: SceneNode): Point {
  const y = rect.y + rect.height / 2;
  if (geometry.shape === 'pennant') return { x: rect.x + rect.width, y };
  if (geometry.shape === 'notch') return { x: rect.x + linkCut, y };
  return { x: towards.rect.x > rect.x + rect.width / 2 ? rect.x + rect.width : rect.x, y };
}

/** Dashed lines from each selected end to the others. */
export function drawTraces(ctx: CanvasRenderingContext2D, picture: Picture, what: Trace): void {
  const { scene, view, colors, selected, moving } = picture;
  if (what === 'off' || (what === 'selected' && selected.size === 0) || scene.nodes.length === 0) return;
  const shift = (id: Id, p: Point): Point => (moving?.ids.has(id) ? { x: p.x + moving.dx, y: p.y + moving.dy } : p);
  const lines = linesOf(scene, selected, what);
  const isCrowd = lines.length > mostStrong;
  for (const { from, to, hue, isStrong: isMeant } of lines) {
    const isStrong = isMeant && !isCrowd;
    const [a, b] = [must(scene.get(from)), must(scene.get(to))];
    const [p, q] = [shift(from, anchor(a, b)), shift(to, anchor(b, a))];
    ctx.strokeStyle = colors.hues[hue] ?? colors.edge;
    ctx.lineWidth = isStrong ? 1.8 : 1;
    ctx.globalAlpha = isStrong ? 1 : 0.7;
    ctx.setLineDash([8, 6]);
    ctx.beginPath();
    ctx.moveTo(p.x * view.zoom + view.x, p.y * view.zoom + view.y);
    ctx.lineTo(q.x * view.zoom + view.x, q.y * view.zoom + view.y);
    ctx.stroke();
    ctx.setLineDash([]);
    if (!isStrong || to === from) continue;
    ctx.lineWidth = 2;
    const box = toScreen(view, { ...b.rect, ...shift(to, b.rect) });
    ctx.strokeRect(box.x - 3, box.y - 3, box.width + 6, box.height + 6);
  }
  ctx.globalAlpha = 1;
}
