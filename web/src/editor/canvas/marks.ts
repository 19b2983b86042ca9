import type { signs } from '@basitax/core/document/catalogue';

type Sign = (typeof signs)[number];

/** Half the size of a port's mark, in pixels at 100 % zoom. */
export const markSize = 4.5;

/** The outline of a type's sign around 0,0, as polygons or a circle; the second sign beside the colour. */
const polygons: Partial<Record<Sign, readonly (readonly [number, number])[]>> = {
  square: [
    [-0.85, -0.85],
    [0.85, -0.85],
    [0.85, 0.85],
    [-0.85, 0.85],
  ],
  diamond: [
    [0, -1.15],
    [1.15, 0],
    [0, 1.15],
    [-1.15, 0],
  ],
  triangle: [
    [-0.9, -1],
    [1.1, 0],
    [-0.9, 1],
  ],
  bar: [
    [-0.45, -1.1],
    [0.45, -1.1],
    [0.45, 1.1],
    [-0.45, 1.1],
  ],
  hexagon: [
    [-1.1, 0],
    [-0.55, -0.95],
    [0.55, -0.95],
    [1.1, 0],
    [0.55, 0.95],
    [-0.55, 0.95],
  ],
  cross: [
    [-0.35, -1.05],
    [0.35, -1.05],
    [0.35, -0.35],
    [1.05, -0.35],
    [1.05, 0.35],
    [0.35, 0.35],
    [0.35, 1.05],
    [-0.35, 1.05],
    [-0.35, 0.35],
    [-1.05, 0.35],
    [-1.05, -0.35],
    [-0.35, -0.35],
  ],
};

/** Traces a mark onto a canvas path. */
export function traceMark(ctx: CanvasRenderingContext2D, sign: Sign, x: number, y: number, size: number): void {
  const polygon = polygons[sign];
  if (!polygon) {
    ctx.moveTo(x + size, y);
    ctx.arc(x, y, size, 0, Math.PI * 2);
    return;
  }
  polygon.forEach(([px, py], i) => {
    if (i === 0) ctx.moveTo(x + px * size, y + py * size);
    else ctx.lineTo(x + px * size, y + py * size);
  });
  ctx.closePath();
}

/** The same as an SVG path around 0,0. */
export function markPath(sign: Sign, size: number): string {
  const polygon = polygons[sign];
  if (!polygon) return `M${size} 0A${size} ${size} 0 1 1 ${-size} 0A${size} ${size} 0 1 1 ${size} 0Z`;
  return `${polygon.map(([x, y], i) => `${i === 0 ? 'M' : 'L'}${x * size} ${y * size}`).join('')}Z`;
}

/** Rings are open: they show the ground inside. */
export const isHollow = (sign: Sign): boolean => sign === 'ring';
