import { routeBetween } from '@basitax/core/route/route';
import { useEditor } from '../store.ts';
import type { Colors } from './colors.ts';
import type { Overlay } from './gestures.ts';
import type { Scene } from './scene.ts';

/** Draws what goes on above everything: a selection box, a lasso, a wire in hand. */
export function drawOverlay(ctx: CanvasRenderingContext2D, overlay: Overlay, scene: Scene, colors: Colors): void {
  const { view } = useEditor.getState();
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
  if (overlay.wire) {
    const route = routeBetween(overlay.wire.from, overlay.wire.to, scene.flow, scene.doc.head.wireStyle);
    ctx.strokeStyle = colors.hues[scene.kinds.type(overlay.wire.type).hue] ?? colors.edge;
    ctx.lineWidth = 2.2 / Math.min(1, view.zoom);
    ctx.beginPath();
    route.forEach((p, i) => (i === 0 ? ctx.moveTo(p.x, p.y) : ctx.lineTo(p.x, p.y)));
    ctx.stroke();
  }
}
