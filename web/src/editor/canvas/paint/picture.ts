import type { Point, Rect } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { Region } from '@basitax/core/structure/propose';
import type { Grid, Trace } from '../../layout.ts';
import type { Moving, Outlines, View } from '../../store.ts';
import type { Colors } from '../colors.ts';
import type { Scene } from '../scene.ts';

/** From this zoom up nodes are full tickets that can be read, as elements. */
export const readingZoom = 0.5;

/**
 * The order in which things give way while the window moves out, each with the zoom below which it is gone: port names
 * and subtitles, port marks, small pictures, kind codes, node names as they stop fitting, nodes as tickets. Frame
 * titles never go.
 */
export const giveWay = {
  portNames: 0.5,
  subtitles: 0.5,
  marks: 0.4,
  pictures: 0.3,
  codes: 0.3,
  names: 0.1,
  tickets: 0.16,
} as const;

export interface Picture {
  readonly scene: Scene;
  readonly view: View;
  readonly width: number;
  readonly height: number;
  readonly colors: Colors;
  readonly selected: ReadonlySet<Id>;
  readonly moving: Moving | undefined;
  /** Nodes that stand as elements above the canvas and need no drawing. */
  readonly mounted: ReadonlySet<Id>;
  /** The scene before the change that is being previewed: its places are drawn as ghosts. */
  readonly ghosts: Scene | undefined;
  readonly outlines: Outlines | undefined;
  /** No element stands over the canvas, so that it shows everything itself. */
  readonly isAlone: boolean;
  /** Regions that are proposed as frames. */
  readonly regions: readonly Region[];
  /** Which lines between the ends of remote links are drawn. */
  readonly trace: Trace;
  /** How the grid is drawn, and how far its lines are apart in graph pixels. */
  readonly grid: { readonly look: Grid; readonly step: number };
}

/** A picture of a graph and nothing else: no selection, hand, preview, trace or grid. */
export const bare = {
  selected: new Set<Id>(),
  moving: undefined,
  mounted: new Set<Id>(),
  ghosts: undefined,
  outlines: undefined,
  isAlone: true,
  regions: [],
  trace: 'off',
  grid: { look: 'none', step: 20 },
} as const;

/** How long the ghosts of old places take to fade, in milliseconds. */
export const fadeTime = 900;

export const family = '"Atkinson Hyperlegible", sans-serif';

/** The part of the graph that the window shows, with a margin in graph pixels. */
export function visibleArea(view: View, width: number, height: number, margin = 0): Rect {
  return {
    x: -view.x / view.zoom - margin,
    y: -view.y / view.zoom - margin,
    width: width / view.zoom + 2 * margin,
    height: height / view.zoom + 2 * margin,
  };
}

export const toScreen = (view: View, rect: Rect): Rect => ({
  x: rect.x * view.zoom + view.x,
  y: rect.y * view.zoom + view.y,
  width: rect.width * view.zoom,
  height: rect.height * view.zoom,
});

/** Sizes a canvas for the window and the screen's density, and empties it. */
export function prepare(ctx: CanvasRenderingContext2D, width: number, height: number): void {
  const ratio = window.devicePixelRatio || 1;
  const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)];
  if (ctx.canvas.width !== w || ctx.canvas.height !== h) {
    ctx.canvas.width = w;
    ctx.canvas.height = h;
  }
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.clearRect(0, 0, width, height);
  ctx.fontKerning = 'none';
}

/** Words in a rounded plate of the accent around a place, with the context’s font, in the middle. */
export function drawPill(
  ctx: CanvasRenderingContext2D,
  text: string,
  { x, y }: Point,
  { wide, high }: { wide: number; high: number },
  colors: Colors,
): void {
  ctx.fillStyle = colors.accent;
  ctx.beginPath();
  ctx.roundRect(x - wide / 2, y - high / 2, wide, high, high / 2);
  ctx.fill();
  ctx.fillStyle = colors.ground;
  ctx.fillText(text, x, y + 0.5);
}
