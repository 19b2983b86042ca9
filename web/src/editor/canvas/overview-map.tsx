import { must } from '@basitax/core/must';
import { type KeyboardEvent, type PointerEvent, type ReactNode, useEffect, useRef } from 'react';
import { useLayout } from '../layout.ts';
import { useEditor, type View, viewControl } from '../store.ts';
import type { Colors } from './colors.ts';
import { fillSpecks, hueOf } from './paint/nodes.ts';
import { visibleArea } from './paint/picture.ts';
import type { Scene } from './scene.ts';

const { getState } = useEditor;

/** Size of the map in pixels, and its margin. */
const [width, height, margin] = [212, 132, 6];

/** From graph coordinates to those of the map: the whole graph, as large as fits. */
function scaleOf(scene: Scene): { scale: number; x: number; y: number } {
  const b = scene.bounds ?? { x: 0, y: 0, width: 1, height: 1 };
  const scale = Math.min((width - 2 * margin) / Math.max(1, b.width), (height - 2 * margin) / Math.max(1, b.height));
  return { scale, x: (width - b.width * scale) / 2 - b.x * scale, y: (height - b.height * scale) / 2 - b.y * scale };
}

/** Does anything of the graph lie outside the window? */
function isCut(scene: Scene, view: View, size: { width: number; height: number }): boolean {
  const b = scene.bounds;
  if (!b || size.width === 0) return false;
  const area = visibleArea(view, size.width, size.height, 1);
  return b.x < area.x || b.y < area.y || b.x + b.width > area.x + area.width || b.y + b.height > area.y + area.height;
}

/** The whole graph in small, with the window on it; it shows itself while something lies outside the window. */
export function OverviewMap({ scene, colors }: { scene: Scene; colors: Colors }): ReactNode {
  const wish = useLayout((state) => state.overview);
  const cut = useEditor((state) => isCut(scene, state.view, state.window));
  // a preview has the window to itself
  const isPreviewing = useEditor((state) => state.preview !== undefined);
  if (!scene.bounds || isPreviewing || wish === 'off' || (wish === 'auto' && !cut)) return null;
  return <MapView scene={scene} colors={colors} />;
}

function MapView({ scene, colors }: { scene: Scene; colors: Colors }): ReactNode {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const ctx = canvas.current?.getContext('2d');
    if (ctx) drawMap(ctx, scene, colors);
  }, [scene, colors]);
  useEffect(() => {
    const place = (): void => {
      const { view, window: size } = getState();
      const own = scaleOf(scene);
      const area = visibleArea(view, size.width, size.height);
      if (!frame.current) return;
      const [left, top] = [area.x * own.scale + own.x, area.y * own.scale + own.y];
      const [right, bottom] = [left + area.width * own.scale, top + area.height * own.scale];
      const within = (value: number, most: number): number => Math.max(0, Math.min(most, value));
      const box = {
        left: within(left, width - 4),
        top: within(top, height - 4),
        right: within(right, width),
        bottom: within(bottom, height),
      };
      Object.assign(frame.current.style, {
        left: `${box.left}px`,
        top: `${box.top}px`,
        width: `${Math.max(4, box.right - box.left)}px`,
        height: `${Math.max(4, box.bottom - box.top)}px`,
      });
    };
    place();
    return useEditor.subscribe(
      (state, before) => (state.view !== before.view || state.window !== before.window) && place(),
    );
  }, [scene]);

  const centre = (event: PointerEvent<HTMLElement>): void => {
    const box = event.currentTarget.getBoundingClientRect();
    const own = scaleOf(scene);
    const { view, window: size } = getState();
    const [x, y] = [(event.clientX - box.left - own.x) / own.scale, (event.clientY - box.top - own.y) / own.scale];
    viewControl.set({ zoom: view.zoom, x: size.width / 2 - x * view.zoom, y: size.height / 2 - y * view.zoom });
  };
  const step = (event: KeyboardEvent<HTMLElement>): void => {
    const by = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const { view, window: size } = getState();
    viewControl.set({
      ...view,
      x: view.x + (must(by[0]) * size.width) / 2,
      y: view.y + (must(by[1]) * size.height) / 2,
    });
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a map that is dragged in is no fieldset
    <div
      data-above
      role="group"
      aria-label="Overview map; arrow keys move the window"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the arrow keys move the window in it
      tabIndex={0}
      className="absolute right-3 bottom-3 z-10 cursor-crosshair touch-none overflow-hidden rounded border border-edge bg-panel shadow-md"
      style={{ width, height }}
      onKeyDown={step}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        centre(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && centre(event)}
    >
      <canvas ref={canvas} style={{ width, height }} aria-hidden="true" />
      <div ref={frame} className="pointer-events-none absolute border-2 border-accent bg-accent/10" />
    </div>
  );
}

function drawMap(ctx: CanvasRenderingContext2D, scene: Scene, colors: Colors): void {
  const ratio = window.devicePixelRatio || 1;
  Object.assign(ctx.canvas, { width: width * ratio, height: height * ratio });
  const { scale, x, y } = scaleOf(scene);
  ctx.setTransform(ratio * scale, 0, 0, ratio * scale, ratio * x, ratio * y);
  const hair = 1 / scale;
  ctx.lineWidth = hair;
  for (const { rect } of scene.frames) {
    ctx.fillStyle = colors.frame;
    ctx.fillRect(rect.x, rect.y, rect.width, rect.height);
    ctx.strokeStyle = colors.frameEdge;
    ctx.strokeRect(rect.x, rect.y, rect.width, rect.height);
  }
  fillSpecks(ctx, scene.nodes, hair, (item) => hueOf(scene, colors, item));
}
