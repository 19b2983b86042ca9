import { indexOf } from '@basitax/core/document/doc';
import type { Point, Rect } from '@basitax/core/document/geometry';
import { ellipsis, textWidth } from '@basitax/core/document/metrics';
import { must } from '@basitax/core/must';
import { heatColors } from '../../inspect/heat.ts';
import type { Differences, Marks } from '../../inspect/marks.ts';
import { drawPill, family, type Picture, toScreen, visibleArea } from './picture.ts';

/** How much of what is not meant is left to be seen. */
const veil = 0.78;
/** Below this zoom nothing is written on warm nodes. */
const writing = 0.35;

/** What inspecting has to show, over everything. */
export function drawMarks(ctx: CanvasRenderingContext2D, picture: Picture, marks: Marks): void {
  if (marks.lit) drawVeil(ctx, picture, marks.lit);
  if (marks.heat) drawHeat(ctx, picture, marks.heat);
  if (marks.chain) drawChain(ctx, picture, marks.chain);
  if (marks.found) drawFound(ctx, picture, marks.found);
  if (marks.differences) drawDifferences(ctx, picture, marks.differences);
  if (marks.places) drawPlaces(ctx, picture, marks.places, marks.place);
}

/** All but what is meant goes back; the wires between what is meant are drawn again above. */
function drawVeil(
  ctx: CanvasRenderingContext2D,
  { scene, view, width, height, colors }: Picture,
  lit: ReadonlySet<string>,
): void {
  const area = visibleArea(view, width, height, 60);
  ctx.globalAlpha = veil;
  ctx.fillStyle = colors.ground;
  ctx.fillRect(0, 0, width, height);
  ctx.globalAlpha = 1;
  for (const wire of scene.wiresWithin(area)) {
    if (!lit.has(wire.from.node) || !lit.has(wire.to.node)) continue;
    ctx.strokeStyle = colors.accent;
    ctx.lineWidth = Math.max(1, 2 * Math.min(1, view.zoom * 1.4));
    path(ctx, scene.path(wire), view);
    ctx.stroke();
  }
  for (const { node, rect } of scene.nodesWithin(area)) {
    if (!lit.has(node.id)) continue;
    const box = toScreen(view, rect);
    ctx.clearRect(box.x - 2, box.y - 2, box.width + 4, box.height + 4);
    ctx.strokeStyle = colors.accent;
    ctx.lineWidth = 1.5;
    ctx.strokeRect(box.x - 1.5, box.y - 1.5, box.width + 3, box.height + 3);
  }
}

/** Warm nodes under a wash of their heat, with the time in a corner where it can be read. */
function drawHeat(
  ctx: CanvasRenderingContext2D,
  { scene, view, width, height, colors }: Picture,
  heat: NonNullable<Marks['heat']>,
): void {
  const ramp = heatColors[colors.theme];
  ctx.font = `700 11px ${family}`;
  ctx.textBaseline = 'middle';
  for (const { node, rect } of scene.nodesWithin(visibleArea(view, width, height, 20))) {
    const warm = heat.get(node.id);
    if (!warm) continue;
    const box = toScreen(view, rect);
    const color = must(ramp[warm.step]);
    ctx.globalAlpha = view.zoom < writing ? 0.85 : 0.3;
    ctx.fillStyle = color.fill;
    ctx.fillRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 1;
    ctx.strokeStyle = color.fill;
    ctx.lineWidth = 2;
    ctx.strokeRect(box.x, box.y, box.width, box.height);
    if (view.zoom < writing) continue;
    const wide = textWidth(warm.text, 'bold', 11) + 10;
    ctx.fillStyle = color.fill;
    ctx.fillRect(box.x + box.width - wide, box.y - 15, wide, 15);
    ctx.fillStyle = color.ink;
    ctx.fillText(warm.text, box.x + box.width - wide + 5, box.y - 7);
  }
}

/**
 * A chain of nodes over the wires between them, with the turn of each; where no wire is drawn from one to the next, a
 * dashed line.
 */
function drawChain(ctx: CanvasRenderingContext2D, { scene, view, colors }: Picture, chain: readonly string[]): void {
  const links = chain.filter((id) => scene.get(id));
  const boxes = links.map((id) => toScreen(view, must(scene.get(id)).rect));
  ctx.strokeStyle = colors.accent;
  ctx.lineWidth = 3.5;
  boxes.slice(1).forEach((box, i) => {
    const wire = indexOf(scene.doc)
      .wiresFrom(must(links[i]))
      .find((one) => one.to.node === links[i + 1]);
    if (wire) path(ctx, scene.path(wire), view);
    else {
      ctx.setLineDash([9, 5]);
      ctx.beginPath();
      ctx.moveTo(centre(must(boxes[i])).x, centre(must(boxes[i])).y);
      ctx.lineTo(centre(box).x, centre(box).y);
    }
    ctx.stroke();
    ctx.setLineDash([]);
  });
  ctx.font = `700 11px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.textAlign = 'center';
  boxes.forEach((box, i) => {
    drawPill(
      ctx,
      String(i + 1),
      { x: box.x, y: box.y },
      { wide: Math.max(18, textWidth(String(i + 1), 'bold', 11) + 10), high: 18 },
      colors,
    );
  });
  ctx.textAlign = 'left';
}

/**
 * What house rules find: a ring, firm where it is an error, and a sign with their number at the corner; what is only
 * said has the sign alone.
 */
function drawFound(ctx: CanvasRenderingContext2D, picture: Picture, found: NonNullable<Marks['found']>): void {
  const { scene, view, width, height, colors } = picture;
  ctx.font = `700 12px ${family}`;
  ctx.textBaseline = 'middle';
  const things = [
    ...scene.nodesWithin(visibleArea(view, width, height, 20)).map(({ node, rect }) => ({ id: node.id, rect })),
    ...scene.frames.map(({ frame, rect }) => ({ id: frame.id, rect })),
  ];
  for (const { id, rect } of things) {
    const one = found.get(id);
    if (!one) continue;
    const box = toScreen(view, rect);
    const color = one.severity === 'info' ? colors.soft : colors.warn;
    ctx.strokeStyle = color;
    ctx.lineWidth = one.severity === 'error' ? 2.5 : 1.5;
    ctx.setLineDash(one.severity === 'error' ? [] : [5, 3]);
    if (one.severity !== 'info') ctx.strokeRect(box.x - 3, box.y - 3, box.width + 6, box.height + 6);
    ctx.setLineDash([]);
    const mark = one.severity === 'info' ? 'i' : '!';
    if (view.zoom >= writing) sign(ctx, picture, one.count > 1 ? `${mark} ${one.count}` : mark, box, color);
  }
}

const signs = { function: '!', words: 'Aa', layout: '↔' } as const;

/**
 * What came, went, moved and changed since the other document: a shape and a sign for each, so that no colour has to be
 * told apart.
 */
function drawDifferences(ctx: CanvasRenderingContext2D, picture: Picture, one: Differences): void {
  const { scene, view, colors } = picture;
  ctx.font = `700 12px ${family}`;
  ctx.textBaseline = 'middle';
  for (const { id, from } of one.moved) {
    const now = scene.get(id);
    if (!now) continue;
    const [old, at] = [toScreen(view, from), toScreen(view, now.rect)];
    ctx.strokeStyle = colors.soft;
    ctx.lineWidth = 1;
    ctx.setLineDash([3, 3]);
    ctx.strokeRect(old.x, old.y, old.width, old.height);
    ctx.beginPath();
    ctx.moveTo(centre(old).x, centre(old).y);
    ctx.lineTo(centre(at).x, centre(at).y);
    ctx.stroke();
  }
  for (const { rect, title } of one.removed) {
    const box = toScreen(view, rect);
    ctx.globalAlpha = 0.8;
    ctx.fillStyle = colors.ground;
    ctx.fillRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 1;
    ctx.strokeStyle = colors.warn;
    ctx.lineWidth = 1.5;
    ctx.setLineDash([5, 3]);
    ctx.strokeRect(box.x, box.y, box.width, box.height);
    ctx.beginPath();
    ctx.moveTo(box.x, box.y);
    ctx.lineTo(box.x + box.width, box.y + box.height);
    ctx.stroke();
    ctx.setLineDash([]);
    sign(ctx, picture, '−', box, colors.warn);
    if (box.width < 60) continue;
    ctx.fillStyle = colors.warn;
    ctx.fillText(ellipsis(title, 'bold', 12, box.width - 10), box.x + 5, box.y + Math.min(12, box.height / 2));
  }
  ctx.setLineDash([]);
  for (const id of one.rewired) {
    const wire = scene.doc.wires.get(id);
    if (!wire) continue;
    ctx.strokeStyle = colors.warn;
    ctx.lineWidth = 3;
    path(ctx, scene.path(wire), view);
    ctx.stroke();
  }
  const ring = (id: string, text: string, color: string, dash: readonly number[]): void => {
    const rect = scene.get(id)?.rect ?? scene.frameRect(id);
    if (!rect) return;
    const box = toScreen(view, rect);
    ctx.strokeStyle = color;
    ctx.lineWidth = 2.5;
    ctx.setLineDash([...dash]);
    ctx.strokeRect(box.x - 3, box.y - 3, box.width + 6, box.height + 6);
    ctx.setLineDash([]);
    sign(ctx, picture, text, box, color);
  };
  for (const id of one.added) ring(id, '+', colors.accent, []);
  for (const [id, layer] of one.changed)
    if (layer !== 'layout')
      ring(id, signs[layer], layer === 'function' ? colors.warn : colors.soft, layer === 'function' ? [] : [2, 3]);
}

/** A sign on a plate at the corner of a box. */
function sign(ctx: CanvasRenderingContext2D, { colors }: Picture, text: string, box: Rect, color: string): void {
  const wide = Math.max(16, textWidth(text, 'bold', 12) + 8);
  ctx.fillStyle = color;
  ctx.fillRect(box.x - 3, box.y - 12, wide, 16);
  ctx.fillStyle = colors.ground;
  ctx.fillText(text, box.x - 3 + (wide - textWidth(text, 'bold', 12)) / 2, box.y - 3.5);
}

/** Numbered windows; the one that is looked at is drawn firm. */
function drawPlaces(
  ctx: CanvasRenderingContext2D,
  { view, colors }: Picture,
  places: readonly Rect[],
  at: number | undefined,
): void {
  ctx.font = `700 13px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.textAlign = 'center';
  places.forEach((rect, i) => {
    const box = toScreen(view, rect);
    ctx.strokeStyle = colors.warn;
    ctx.lineWidth = i === at ? 3 : 1.5;
    ctx.setLineDash(i === at ? [] : [8, 5]);
    ctx.strokeRect(box.x, box.y, box.width, box.height);
    ctx.setLineDash([]);
    ctx.fillStyle = colors.warn;
    ctx.fillRect(box.x, box.y, 24, 20);
    ctx.fillStyle = colors.ground;
    ctx.fillText(String(i + 1), box.x + 12, box.y + 10.5);
  });
  ctx.textAlign = 'left';
}

const centre = ({ x, y, width, height }: Rect): Point => ({ x: x + width / 2, y: y + height / 2 });

function path(ctx: CanvasRenderingContext2D, points: readonly Point[], view: Picture['view']): void {
  ctx.beginPath();
  points.forEach((p, i) => {
    const [x, y] = [p.x * view.zoom + view.x, p.y * view.zoom + view.y];
    if (i === 0) ctx.moveTo(x, y);
    else ctx.lineTo(x, y);
  });
}
