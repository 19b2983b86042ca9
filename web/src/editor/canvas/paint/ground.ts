import { frameColors } from '@basitax/core/color/scheme';
import { drawNotes } from './notes.ts';
import { type Picture, prepare, toScreen, visibleArea } from './picture.ts';

/** The lower canvas: grid points, frames, notes. */
export function drawGround(ctx: CanvasRenderingContext2D, picture: Picture): void {
  const { scene, view, width, height, colors } = picture;
  prepare(ctx, width, height);
  drawGrid(ctx, picture);
  const area = visibleArea(view, width, height, 40 / view.zoom);
  for (const { frame, rect, depth } of scene.frames) {
    if (
      rect.x > area.x + area.width ||
      rect.x + rect.width < area.x ||
      rect.y > area.y + area.height ||
      rect.y + rect.height < area.y
    )
      continue;
    const box = toScreen(view, rect);
    const own = frameColors(frame.color, colors.theme);
    ctx.fillStyle = own?.fill ?? colors.frame;
    ctx.globalAlpha = depth === 0 ? 0.75 : 0.9;
    ctx.fillRect(box.x, box.y, box.width, box.height);
    ctx.globalAlpha = 1;
    const chosen = picture.selected.has(frame.id);
    ctx.strokeStyle = chosen ? colors.accent : (own?.edge ?? colors.frameEdge);
    ctx.lineWidth = chosen ? 2 : 1;
    ctx.strokeRect(Math.round(box.x) + 0.5, Math.round(box.y) + 0.5, box.width, box.height);
  }
  drawNotes(ctx, picture);
}

/** Lines of the grid nearer than this on screen would be a haze: every second, fourth … is drawn. */
const leastGap = 14;

/**
 * Points are dashes of one pixel along a line for each row: some forty strokes in place of thousands of little squares.
 */
function drawGrid(ctx: CanvasRenderingContext2D, { view, width, height, colors, grid }: Picture): void {
  if (grid.look === 'none' || view.zoom <= 0.2) return;
  let gap = grid.step * view.zoom;
  while (gap < leastGap) gap *= 2;
  const first = (offset: number): number => ((offset % gap) + gap) % gap;
  ctx.beginPath();
  for (let y = first(view.y); y < height; y += gap) {
    ctx.moveTo(grid.look === 'points' ? first(view.x) - gap : 0, Math.round(y) + 0.5);
    ctx.lineTo(width, Math.round(y) + 0.5);
  }
  if (grid.look === 'lines')
    for (let x = first(view.x); x < width; x += gap) {
      ctx.moveTo(Math.round(x) + 0.5, 0);
      ctx.lineTo(Math.round(x) + 0.5, height);
    }
  ctx.strokeStyle = colors.line;
  ctx.lineWidth = 1;
  ctx.globalAlpha = grid.look === 'lines' ? 0.55 : 1;
  if (grid.look === 'points') ctx.setLineDash([1, gap - 1]);
  ctx.stroke();
  ctx.setLineDash([]);
  ctx.globalAlpha = 1;
}
