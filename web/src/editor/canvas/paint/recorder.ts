import { noScheme } from '@basitax/core/color/scheme';
import type { View } from '../../store.ts';
import type { Scene } from '../scene.ts';
import { bare, type Picture } from './picture.ts';

// For tests of what is drawn when: a context that writes down, and a picture to draw.

interface Call {
  readonly name: string;
  readonly args: readonly unknown[];
  readonly font: string;
}

/**
 * A drawing context that writes down what is asked of it. What is drawn is tested in the browser; here it is when, and
 * in what order.
 */
export function recorder(): { ctx: CanvasRenderingContext2D; calls: Call[]; texts(): string[] } {
  const calls: Call[] = [];
  const state: Record<string, unknown> = { font: '', canvas: { width: 0, height: 0 } };
  const ctx = new Proxy(state, {
    get: (own, name: string) =>
      name in own ? own[name] : (...args: unknown[]) => void calls.push({ name, args, font: String(own.font) }),
    set: (own, name: string, value) => {
      own[name] = value;
      return true;
    },
  }) as unknown as CanvasRenderingContext2D;
  return {
    ctx,
    calls,
    texts: () => calls.filter((call) => call.name === 'fillText').map((call) => String(call.args[0])),
  };
}

const colors = {
  theme: 'paper',
  ground: '#g',
  ticket: '#t',
  ink: '#i',
  soft: '#s',
  line: '#l',
  edge: '#e',
  frame: '#f',
  frameEdge: '#fe',
  accent: '#a',
  warn: '#w',
  panel: '#p',
  hues: Array.from({ length: 8 }, (_, i) => `#hue${i}`),
  onHue: '#o',
  scheme: noScheme,
} as const;
export const pictureOf = (scene: Scene, view: View, more: Partial<Picture> = {}): Picture => ({
  scene,
  view,
  width: 1000,
  height: 700,
  colors,
  ...bare,
  grid: { look: 'points', step: 20 },
  ...more,
});
