import { indexOf } from '@basitax/core/document/doc';
import type { Point, Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Wire, WireStyle } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { chamfer, isHollow, markSize } from '@basitax/core/sheet/outlines';
import type { Moving, View } from '../../store.ts';
import { traceMark } from '../marks.ts';
import type { Corners, Scene } from '../scene.ts';
import { type Picture, readingZoom, visibleArea } from './picture.ts';

interface Drawn {
  readonly wire: Wire;
  readonly corners: Corners;
}

/**
 * With more wires than this in one picture, crossings and signs would make it late. No window at reading zoom is likely
 * to hold so many.
 */
const mostExact = 4000;

const hangingBy = new WeakMap<ReadonlySet<Id>, readonly Wire[]>();

/**
 * The wires at nodes in hand: those between two of them, and those that hang by one end and run anew. Worked out once a
 * drag.
 */
export function wiresInHand(scene: Scene, { ids }: Moving): readonly Wire[] {
  let hanging = hangingBy.get(ids);
  if (!hanging) {
    const index = indexOf(scene.doc);
    hanging = [...new Set([...ids].flatMap((id) => index.wiresOf(id)))];
    hangingBy.set(ids, hanging);
  }
  return hanging;
}

/**
 * Draws wires: by colour of their type in few strokes, and at reading zoom with crossings interrupted and the sign of
 * the type on each.
 */
export function drawWires(ctx: CanvasRenderingContext2D, picture: Picture, wires: readonly Wire[]): void {
  const { scene, view, colors, moving, selected } = picture;
  interface Batch {
    readonly width: number;
    readonly dash: number[];
    readonly color: string;
    readonly items: Drawn[];
  }
  const batches = new Map<number, Batch>();
  const all: Drawn[] = [];
  for (const wire of wires) {
    const corners = moving ? scene.movedCorners(wire, moving) : scene.corners(wire);
    if (corners.end - corners.start < 4) continue;
    const chosen = selected.size > 0 && selected.has(wire.id);
    const touched = chosen || (selected.size > 0 && (selected.has(wire.from.node) || selected.has(wire.to.node)));
    const { hue } = scene.typeOf(wire);
    const key = hue * 8 + (chosen ? 4 : 0) + (touched ? 2 : 0) + (wire.off ? 1 : 0);
    let batch = batches.get(key);
    if (!batch) {
      batch = {
        width: (chosen ? 3.2 : touched ? 2.2 : 1.4) * Math.max(0.55, Math.min(1, view.zoom)),
        dash: wire.off ? [2, 5] : [],
        color: chosen ? colors.accent : (colors.hues[hue] ?? colors.edge),
        items: [],
      };
      batches.set(key, batch);
    }
    const drawn = { wire, corners };
    batch.items.push(drawn);
    all.push(drawn);
  }
  ctx.lineJoin = 'round';
  const style = scene.doc.head.wireStyle ?? 'right-angled';
  const faint = view.zoom < 0.2 ? 0.55 : 0.9;
  for (const batch of batches.values()) {
    ctx.beginPath();
    for (const { corners } of batch.items) tracePath(ctx, corners, view, style);
    ctx.strokeStyle = batch.color;
    ctx.lineWidth = batch.width;
    ctx.globalAlpha = batch.color === colors.accent ? 1 : faint;
    ctx.setLineDash(batch.dash);
    ctx.stroke();
  }
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
  if (view.zoom < readingZoom || all.length > mostExact) return;
  interruptCrossings(ctx, picture, all);
  drawSigns(ctx, picture, all);
}

/** Corners are cut at 45°, by at most a third of the shorter leg; far out not at all. */
function tracePath(
  ctx: CanvasRenderingContext2D,
  { points, start, end }: Corners,
  { x, y, zoom }: View,
  style: WireStyle,
): void {
  ctx.moveTo(must(points[start]) * zoom + x, must(points[start + 1]) * zoom + y);
  const isCut = zoom >= 0.25 && style === 'right-angled';
  for (let i = start + 2; i + 2 < end; i += 2) {
    const [cx, cy] = [must(points[i]), must(points[i + 1])];
    const [ax, ay, bx, by] = [
      must(points[i - 2]) - cx,
      must(points[i - 1]) - cy,
      must(points[i + 2]) - cx,
      must(points[i + 3]) - cy,
    ];
    const [a, b] = isCut ? [Math.hypot(ax, ay), Math.hypot(bx, by)] : [0, 0];
    const cut = chamfer(a, b);
    if (cut < 0.5) {
      ctx.lineTo(cx * zoom + x, cy * zoom + y);
      continue;
    }
    ctx.lineTo((cx + (ax / a) * cut) * zoom + x, (cy + (ay / a) * cut) * zoom + y);
    ctx.lineTo((cx + (bx / b) * cut) * zoom + x, (cy + (by / b) * cut) * zoom + y);
  }
  ctx.lineTo(must(points[end - 2]) * zoom + x, must(points[end - 1]) * zoom + y);
}

interface Piece {
  readonly at: number;
  readonly from: number;
  readonly to: number;
  readonly net: string;
  readonly color: string;
}

/** The pieces of wires that run straight across and straight along the page, as far as the window shows them. */
function piecesOf(
  { scene, colors }: Picture,
  wires: readonly Drawn[],
  area: Rect,
): { across: Piece[]; along: Piece[] } {
  const [across, along]: [Piece[], Piece[]] = [[], []];
  for (const { wire, corners } of wires) {
    const { points, start, end } = corners;
    const piece = {
      net: `${wire.from.node} ${wire.from.port}`,
      color: colors.hues[scene.typeOf(wire).hue] ?? colors.edge,
    };
    for (let i = start; i + 3 < end; i += 2) {
      const [ax, ay, bx, by] = [must(points[i]), must(points[i + 1]), must(points[i + 2]), must(points[i + 3])];
      if (ay === by && ay >= area.y && ay <= area.y + area.height)
        across.push({ ...piece, at: ay, from: Math.min(ax, bx), to: Math.max(ax, bx) });
      else if (ax === bx && ax >= area.x && ax <= area.x + area.width)
        along.push({ ...piece, at: ax, from: Math.min(ay, by), to: Math.max(ay, by) });
    }
  }
  return { across, along };
}

/**
 * Where two wires of different sources cross, the one across the page gives way: it is interrupted around the other.
 */
function interruptCrossings(ctx: CanvasRenderingContext2D, picture: Picture, wires: readonly Drawn[]): void {
  const { view, width, height } = picture;
  const { across, along } = piecesOf(picture, wires, visibleArea(view, width, height));
  across.sort((a, b) => a.at - b.at);
  const gap = 4.5;
  const line = 1.4 * Math.min(1, view.zoom);
  for (const up of along) {
    // of those across, only the ones between its ends can cross it
    for (let i = firstFrom(across, up.from + gap); i < across.length && must(across[i]).at < up.to - gap; i++) {
      const level = must(across[i]);
      if (up.net === level.net || up.at <= level.from + gap || up.at >= level.to - gap) continue;
      const [x, y] = [up.at * view.zoom + view.x, level.at * view.zoom + view.y];
      ctx.clearRect(x - gap * view.zoom, y - 2.5, 2 * gap * view.zoom, 5);
      ctx.fillStyle = up.color;
      ctx.fillRect(x - line / 2, y - 2.5, line, 5);
    }
  }
}

/** The first piece at or behind a place; they are sorted by place. */
function firstFrom(pieces: readonly Piece[], at: number): number {
  let [low, high] = [0, pieces.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (must(pieces[middle]).at <= at) low = middle + 1;
    else high = middle;
  }
  return low;
}

/**
 * The second sign beside the colour: the mark of the type in the middle of each wire's longest piece, where there is
 * room.
 */
function drawSigns(
  ctx: CanvasRenderingContext2D,
  { scene, view, colors, width, height }: Picture,
  wires: readonly Drawn[],
): void {
  const room = 56 / view.zoom;
  ctx.lineWidth = 1.4;
  for (const { wire, corners } of wires) {
    const { points, start, end } = corners;
    let longest = room;
    let at: Point | undefined;
    for (let i = start; i + 3 < end; i += 2) {
      const length =
        Math.abs(must(points[i + 2]) - must(points[i])) + Math.abs(must(points[i + 3]) - must(points[i + 1]));
      if (length <= longest) continue;
      longest = length;
      at = { x: (must(points[i]) + must(points[i + 2])) / 2, y: (must(points[i + 1]) + must(points[i + 3])) / 2 };
    }
    if (!at) continue;
    const [x, y] = [at.x * view.zoom + view.x, at.y * view.zoom + view.y];
    if (x < -9 || y < -9 || x > width + 9 || y > height + 9) continue;
    const type = scene.typeOf(wire);
    const color = colors.hues[type.hue] ?? colors.edge;
    ctx.beginPath();
    traceMark(ctx, type.sign, x, y, markSize * 0.85 * Math.min(1, view.zoom));
    ctx.fillStyle = isHollow(type.sign) ? colors.ground : color;
    ctx.strokeStyle = isHollow(type.sign) ? color : colors.ground;
    ctx.stroke();
    ctx.fill();
    if (isHollow(type.sign)) ctx.stroke();
  }
}
