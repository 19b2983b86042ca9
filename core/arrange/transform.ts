import type { Point, Rect } from '../document/geometry.ts';

/**
 * Stretch of places about their mean, p′ = c + (p − c)·k, x and y apart: k = 1 leaves all, 1.2 means 120 %, 0 aligns.
 * O(n).
 */
export function spread(points: readonly Point[], kx: number, ky: number): Point[] {
  const c = mean(points);
  return points.map((p) => ({ x: c.x + (p.x - c.x) * kx, y: c.y + (p.y - c.y) * ky }));
}

export function mean(points: readonly Point[]): Point {
  const n = Math.max(1, points.length);
  return { x: points.reduce((sum, p) => sum + p.x, 0) / n, y: points.reduce((sum, p) => sum + p.y, 0) / n };
}

/**
 * Takes the rest of a graph along where a part was stretched: what lies beside the part moves as its edge does, what
 * lies among it is stretched with it. The order along each axis stays, so nothing is run over by what was clear of it.
 * `before` and `after` are the places of the part, one axis. O(1) for each point after O(n).
 */
export function carried(before: readonly number[], after: readonly number[]): (at: number) => number {
  const [low, high] = [
    before.reduce((a, b) => Math.min(a, b), Infinity),
    before.reduce((a, b) => Math.max(a, b), -Infinity),
  ];
  const [newLow, newHigh] = [
    after.reduce((a, b) => Math.min(a, b), Infinity),
    after.reduce((a, b) => Math.max(a, b), -Infinity),
  ];
  return (at) => {
    if (at <= low) return at + newLow - low;
    if (at >= high) return at + newHigh - high;
    return newLow + ((at - low) / (high - low)) * (newHigh - newLow);
  };
}

/** Mirrored at the middle line of what they cover; sizes stay. Twice gives the same places. O(n). */
export function mirror(rects: readonly Rect[], axis: 'x' | 'y'): Point[] {
  const extent = axis === 'x' ? 'width' : 'height';
  const low = rects.reduce((least, rect) => Math.min(least, rect[axis]), Infinity);
  const high = rects.reduce((most, rect) => Math.max(most, rect[axis] + rect[extent]), -Infinity);
  return rects.map((rect) => ({ x: rect.x, y: rect.y, [axis]: low + high - rect[axis] - rect[extent] }));
}

/**
 * Centres turned about the mean of all centres, clockwise as seen on the page (y grows downwards); sizes stay. Degrees.
 * O(n).
 */
export function rotate(rects: readonly Rect[], degrees: number): Point[] {
  const centres = rects.map((rect) => ({ x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 }));
  const c = mean(centres);
  const [cos, sin] = turnOf(degrees);
  return rects.map((rect, i) => {
    const [dx, dy] = [centres[i]!.x - c.x, centres[i]!.y - c.y];
    return { x: c.x + dx * cos - dy * sin - rect.width / 2, y: c.y + dx * sin + dy * cos - rect.height / 2 };
  });
}

/** Cosine and sine; exact for quarter turns, so that four of them are none. */
function turnOf(degrees: number): [number, number] {
  const quarters = [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ] as const;
  const turned = ((degrees % 360) + 360) % 360;
  if (turned % 90 === 0) return [...quarters[turned / 90]!];
  return [Math.cos((turned * Math.PI) / 180), Math.sin((turned * Math.PI) / 180)];
}
