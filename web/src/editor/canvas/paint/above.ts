import { differs, frameColors } from '@basitax/core/color/scheme';
import { framedRect, overlaps, type Rect, titleOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { ellipsis, textWidth } from '@basitax/core/document/metrics';
import type { Region } from '@basitax/core/structure/propose';
import type { Outlines } from '../../store.ts';
import { handlePlace, handles, sizable } from '../frame-edges.ts';
import { type Scene, tabHeight } from '../scene.ts';
import { drawPill, fadeTime, family, giveWay, type Picture, toScreen, visibleArea } from './picture.ts';

/** Longest tab on screen where a frame is narrower than its title, in pixels. */
const widestTab = 190;

/**
 * Frame titles are the last thing to give way: they lie above wires and nodes and keep a legible size. Far out a title
 * may be longer than its frame, as long as it covers no other title; outer frames come first.
 */
export function drawTabs(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, width, height, colors, selected } = picture;
  const taken: Rect[] = [];
  const size = Math.min(15, Math.max(11, 13 * view.zoom));
  const tall = Math.max(size + 5, Math.min(tabHeight, tabHeight * view.zoom));
  ctx.font = `700 ${size}px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.textAlign = 'left';
  for (const { frame, rect } of scene.frames) {
    const box = toScreen(view, rect);
    if (box.x > width || box.x + Math.max(box.width, widestTab) < 0 || box.y - tall > height || box.y + box.height < 0)
      continue;
    // far out the tab keeps its size and grows upwards, off the nodes
    const top = box.y + Math.min(tall, tabHeight * view.zoom) - tall;
    const title = titleOf(frame);
    const place = (most: number): { text: string; tab: Rect } => {
      const text = ellipsis(title, 'bold', size, most);
      return { text, tab: { x: box.x, y: top, width: textWidth(text, 'bold', size) + 12, height: tall } };
    };
    const free = [place(Math.max(box.width - 12, widestTab)), place(box.width - 12)].find(
      ({ text, tab }) => text !== '…' && !taken.some((other) => overlaps(other, tab)),
    );
    if (!free) continue;
    taken.push(free.tab);
    const chosen = selected.has(frame.id);
    const own = frameColors(frame.color, colors.theme);
    ctx.fillStyle = chosen ? colors.accent : (own?.edge ?? colors.frameEdge);
    ctx.fillRect(free.tab.x, free.tab.y, free.tab.width, free.tab.height);
    ctx.fillStyle = chosen ? colors.ground : (own?.onEdge ?? (colors.theme === 'night' ? colors.ink : '#26241f'));
    ctx.fillText(free.text, free.tab.x + 6, top + tall / 2 + 0.5);
  }
}

/** The handles of the one selected frame or note, by which it is resized. */
export function drawHandles(ctx: CanvasRenderingContext2D, { scene, view, colors, selected, moving }: Picture): void {
  const [frame] = selected;
  const rect = frame !== undefined && selected.size === 1 && !moving ? sizable(scene, frame) : undefined;
  if (!rect) return;
  ctx.fillStyle = colors.ticket;
  ctx.strokeStyle = colors.accent;
  ctx.lineWidth = 1.5;
  ctx.setLineDash([]);
  for (const one of handles) {
    const at = handlePlace(rect, one);
    const [x, y] = [Math.round(at.x * view.zoom + view.x), Math.round(at.y * view.zoom + view.y)];
    ctx.fillRect(x - 4, y - 4, 8, 8);
    ctx.strokeRect(x - 4, y - 4, 8, 8);
  }
}

/** Where nodes would go: a firm outline. Where they were: a dashed one that fades. */
export function drawOutlines(
  ctx: CanvasRenderingContext2D,
  { scene, view, colors }: Picture,
  outlines: Outlines,
): void {
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

/** The places from before what is being previewed; what would go is crossed out. */
export function drawGhosts(ctx: CanvasRenderingContext2D, picture: Picture, before: Scene): void {
  const { view, width, height, colors, scene } = picture;
  ctx.strokeStyle = colors.soft;
  ctx.lineWidth = 1;
  ctx.globalAlpha = 0.55;
  ctx.setLineDash([3, 3]);
  for (const { node, rect } of before.nodesWithin(visibleArea(view, width, height))) {
    const now = scene.get(node.id);
    if (now && now.rect.x === rect.x && now.rect.y === rect.y) continue;
    const box = toScreen(view, rect);
    ctx.strokeStyle = now ? colors.soft : colors.warn;
    ctx.globalAlpha = now ? 0.55 : 0.9;
    ctx.strokeRect(box.x, box.y, box.width, box.height);
    if (now) continue;
    ctx.beginPath();
    ctx.moveTo(box.x, box.y);
    ctx.lineTo(box.x + box.width, box.y + box.height);
    ctx.moveTo(box.x, box.y + box.height);
    ctx.lineTo(box.x + box.width, box.y);
    ctx.stroke();
    if (view.zoom < giveWay.names) continue;
    ctx.font = `400 ${Math.max(9, 12 * view.zoom)}px ${family}`;
    ctx.fillStyle = colors.warn;
    ctx.fillText(
      ellipsis(node.label || node.name, 'regular', Math.max(9, 12 * view.zoom), box.width - 8),
      box.x + 4,
      box.y + 12 * view.zoom + 2,
    );
  }
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
}

/** What has another colour than the scheme gives it: a dashed ring, with a sign at its corner. */
export function drawDiffering(ctx: CanvasRenderingContext2D, { scene, view, width, height, colors }: Picture): void {
  const area = visibleArea(view, width, height, 20);
  const nodes = scene.nodesWithin(area).filter(({ node }) => differs(scene.kinds, node, colors.scheme));
  const frames = scene.frames.filter(({ frame }) => differs(scene.kinds, frame, colors.scheme));
  ctx.strokeStyle = colors.warn;
  ctx.fillStyle = colors.warn;
  ctx.lineWidth = 2;
  ctx.setLineDash([5, 3]);
  ctx.font = `700 13px ${family}`;
  ctx.textBaseline = 'middle';
  for (const { rect } of [...nodes, ...frames]) {
    const box = toScreen(view, rect);
    ctx.strokeRect(box.x - 4, box.y - 4, box.width + 8, box.height + 8);
    ctx.fillText('≠', box.x + box.width + 6, box.y - 2);
  }
  ctx.setLineDash([]);
}

/** Regions that are proposed as frames: ghosts with their titles. */
export function drawRegions(
  ctx: CanvasRenderingContext2D,
  { scene, view, colors }: Picture,
  regions: readonly Region[],
): void {
  ctx.font = `700 12px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.lineWidth = 1.5;
  for (const { title, nodes } of regions) {
    const rects = nodes.flatMap((id) => scene.get(id)?.rect ?? []);
    if (rects.length === 0) continue;
    const box = toScreen(view, framedRect(rects));
    ctx.setLineDash([7, 5]);
    ctx.strokeStyle = colors.accent;
    ctx.strokeRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 0.06;
    ctx.fillStyle = colors.accent;
    ctx.fillRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 1;
    ctx.setLineDash([]);
    const text = ellipsis(title, 'bold', 12, Math.max(widestTab, box.width - 12));
    const wide = textWidth(text, 'bold', 12) + 12;
    ctx.fillStyle = colors.panel;
    ctx.fillRect(box.x, box.y - 9, wide, 18);
    ctx.strokeRect(box.x, box.y - 9, wide, 18);
    ctx.fillStyle = colors.accent;
    ctx.fillText(text, box.x + 6, box.y + 0.5);
  }
}

const mostNumbers = 1000;

/** The order of selection: a number at the corner of each selected node or frame. */
export function drawOrder(ctx: CanvasRenderingContext2D, picture: Picture, selection: readonly Id[]): void {
  const { scene, view, width, height, colors, moving } = picture;
  ctx.font = `700 12px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.textAlign = 'center';
  let drawn = 0;
  selection.forEach((id, i) => {
    const rect = scene.get(id)?.rect ?? scene.frameRect(id);
    if (!rect || drawn > mostNumbers) return;
    const shift = moving?.ids.has(id) ? moving : { dx: 0, dy: 0 };
    const [x, y] = [(rect.x + shift.dx) * view.zoom + view.x, (rect.y + shift.dy) * view.zoom + view.y];
    if (x < -20 || y < -20 || x > width + 20 || y > height + 20) return;
    drawn++;
    const text = String(i + 1);
    const wide = Math.max(18, textWidth(text, 'bold', 12) + 10);
    drawPill(ctx, text, { x, y }, { wide, high: 18 }, colors);
  });
  ctx.textAlign = 'left';
}
