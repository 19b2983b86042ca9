import type { Colors } from './colors.ts';
import { drawHand, drawWords } from './paint/hand.ts';
import type { Picture } from './paint/picture.ts';
import type { Join, Overlay } from './press.ts';
import type { Scene } from './scene.ts';
import type { Drawn } from './strokes.ts';
import type { Aim } from './wire-gestures.ts';

/**
 * Draws what goes on above everything: a selection box, a lasso, a stroke, what a node would be put into, a wire in
 * hand.
 */
export function drawOverlay(ctx: CanvasRenderingContext2D, overlay: Overlay, picture: Picture): void {
  const { scene, colors, view } = picture;
  const ratio = window.devicePixelRatio || 1;
  ctx.setTransform(ratio * view.zoom, 0, 0, ratio * view.zoom, ratio * view.x, ratio * view.y);
  if (overlay.box) {
    const { x, y, width, height } = overlay.box;
    ctx.strokeStyle = colors.accent;
    ctx.lineWidth = 1.5 / view.zoom;
    ctx.setLineDash([5 / view.zoom, 4 / view.zoom]);
    ctx.strokeRect(x, y, width, height);
  }
  if (overlay.lasso) {
    ctx.strokeStyle = colors.accent;
    ctx.fillStyle = colors.accent;
    ctx.lineWidth = 1.5 / view.zoom;
    ctx.setLineDash([5 / view.zoom, 4 / view.zoom]);
    ctx.beginPath();
    overlay.lasso.forEach((p, i) => (i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y)));
    ctx.closePath();
    ctx.stroke();
    ctx.globalAlpha = 0.08;
    ctx.fill();
    ctx.globalAlpha = 1;
  }
  if (overlay.stroke) drawLine(ctx, overlay.stroke, scene, colors, view.zoom);
  if (overlay.insert) drawAim(ctx, overlay.insert, picture);
  if (overlay.join) drawJoin(ctx, overlay.join, picture);
  if (overlay.hand) drawHand(ctx, overlay.hand, picture);
}

/** The frame that takes in what is in hand, outlined, with the words for it. */
function drawJoin(ctx: CanvasRenderingContext2D, { frame, words, at }: Join, picture: Picture): void {
  const rect = picture.scene.frameRect(frame);
  const { zoom } = picture.view;
  if (rect) {
    ctx.strokeStyle = picture.colors.accent;
    ctx.setLineDash([]);
    ctx.lineWidth = 4 / zoom;
    ctx.strokeRect(rect.x, rect.y, rect.width, rect.height);
  }
  drawWords(ctx, words, { x: at.x + 14 / zoom, y: at.y - 34 / zoom }, picture);
}

/** A line that is being drawn, with a mark where it crosses wires and an outline around the nodes that it joins. */
function drawLine(
  ctx: CanvasRenderingContext2D,
  { line, tool, wires, nodes }: Drawn,
  scene: Scene,
  colors: Colors,
  zoom: number,
): void {
  ctx.strokeStyle = tool === 'cut' ? colors.warn : colors.accent;
  ctx.lineWidth = 2.2 / zoom;
  ctx.setLineDash(tool === 'cut' ? [7 / zoom, 4 / zoom] : []);
  ctx.beginPath();
  line.forEach((p, i) => (i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y)));
  ctx.stroke();
  ctx.setLineDash([]);
  const half = 5 / zoom;
  ctx.beginPath();
  for (const { x, y } of wires) {
    if (tool === 'cut') {
      ctx.moveTo(x - half, y - half);
      ctx.lineTo(x + half, y + half);
      ctx.moveTo(x + half, y - half);
      ctx.lineTo(x - half, y + half);
    } else {
      ctx.moveTo(x + half, y);
      ctx.arc(x, y, half, 0, Math.PI * 2);
    }
  }
  for (const id of nodes) {
    const rect = scene.get(id)?.rect;
    if (rect) ctx.rect(rect.x - 3, rect.y - 3, rect.width + 6, rect.height + 6);
  }
  ctx.stroke();
}

/** The wire that a node in hand would be put into, or that it would leave behind healed, with the words for it. */
function drawAim(ctx: CanvasRenderingContext2D, aim: Aim, picture: Picture): void {
  const { scene, colors } = picture;
  const { zoom } = picture.view;
  const wire = aim.wire === undefined ? undefined : scene.doc.wires.get(aim.wire);
  ctx.strokeStyle = colors.accent;
  ctx.setLineDash([]);
  ctx.lineWidth = 4 / Math.min(1, zoom);
  if (wire) {
    ctx.beginPath();
    scene.path(wire).forEach((p, i) => (i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y)));
    ctx.stroke();
  }
  drawWords(ctx, aim.words, { x: aim.at.x, y: aim.at.y - 30 / zoom }, picture);
}
