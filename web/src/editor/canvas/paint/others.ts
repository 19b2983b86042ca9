import type { Present } from '@basitax/api/live';
import { textWidth } from '@basitax/core/document/metrics';
import { family, type Picture, toScreen } from './picture.ts';

/**
 * What others have selected in the graph that is shown: an outline around each, and whose it is at the first. O(what
 * they selected).
 */
export function drawOthers(
  ctx: CanvasRenderingContext2D,
  { scene, view, width, height, colors }: Picture,
  others: readonly Present[],
  graph: string,
): void {
  ctx.font = `700 11px ${family}`;
  ctx.textBaseline = 'middle';
  ctx.lineWidth = 1.6;
  ctx.strokeStyle = colors.soft;
  for (const { graph: at, selection, name } of others) {
    if (at !== graph) continue;
    let isNamed = false;
    ctx.setLineDash([2, 3]);
    for (const id of selection) {
      const rect = scene.get(id)?.rect ?? scene.frameRect(id);
      if (!rect) continue;
      const box = toScreen(view, rect);
      if (box.x + box.width < 0 || box.y + box.height < 0 || box.x > width || box.y > height) continue;
      ctx.strokeRect(box.x - 5, box.y - 5, box.width + 10, box.height + 10);
      if (isNamed) continue;
      isNamed = true;
      ctx.fillStyle = colors.soft;
      const wide = textWidth(name, 'bold', 11) + 10;
      ctx.fillRect(box.x - 5.8, box.y - 21, wide, 16);
      ctx.fillStyle = colors.ground;
      ctx.fillText(name, box.x - 0.8, box.y - 12.5);
    }
  }
  ctx.setLineDash([]);
}
