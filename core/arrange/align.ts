import { type Point, type Rect, unite } from '../document/geometry.ts';

export const sides = ['left', 'centre', 'right', 'top', 'middle', 'bottom'] as const;
export type SideName = (typeof sides)[number];

/** To the outer edge, or the centre, of what all cover together. O(n). */
export function aligned(rects: readonly Rect[], side: SideName): Point[] {
  const bounds = unite(rects);
  if (!bounds) return [];
  return rects.map((rect) => {
    const place = { x: rect.x, y: rect.y };
    if (side === 'left') place.x = bounds.x;
    else if (side === 'centre') place.x = bounds.x + (bounds.width - rect.width) / 2;
    else if (side === 'right') place.x = bounds.x + bounds.width - rect.width;
    else if (side === 'top') place.y = bounds.y;
    else if (side === 'middle') place.y = bounds.y + (bounds.height - rect.height) / 2;
    else place.y = bounds.y + bounds.height - rect.height;
    return place;
  });
}

/** In their order along an axis: by where they begin, then where they end, then as given. */
export function alongAxis(rects: readonly Rect[], axis: 'x' | 'y'): number[] {
  const extent = axis === 'x' ? 'width' : 'height';
  return rects
    .map((_, i) => i)
    .sort(
      (a, b) =>
        rects[a]![axis] - rects[b]![axis] ||
        rects[a]![axis] + rects[a]![extent] - rects[b]![axis] - rects[b]![extent] ||
        a - b,
    );
}

/** One after the other with the same gap between edges; the first stays. O(n log n). */
export function gapped(rects: readonly Rect[], axis: 'x' | 'y', gap: number): Point[] {
  const extent = axis === 'x' ? 'width' : 'height';
  const places = rects.map(({ x, y }) => ({ x, y }));
  const order = alongAxis(rects, axis);
  let at = rects[order[0]!]?.[axis] ?? 0;
  for (const i of order) {
    places[i]![axis] = at;
    at += rects[i]![extent] + gap;
  }
  return places;
}

/**
 * The gap that makes all gaps between edges equal while the first and the last stay; below 0 where they have to
 * overlap.
 */
export function equalGap(rects: readonly Rect[], axis: 'x' | 'y'): number {
  const extent = axis === 'x' ? 'width' : 'height';
  const order = alongAxis(rects, axis);
  const [first, last] = [rects[order[0]!]!, rects[order[order.length - 1]!]!];
  const filled = rects.reduce((sum, rect) => sum + rect[extent], 0);
  return (last[axis] + last[extent] - first[axis] - filled) / (rects.length - 1);
}

/** Centres on lines of the grid. */
export function ontoGrid(rects: readonly Rect[], step: number): Point[] {
  const onto = (middle: number): number => Math.round(middle / step) * step;
  return rects.map((rect) => ({
    x: onto(rect.x + rect.width / 2) - rect.width / 2,
    y: onto(rect.y + rect.height / 2) - rect.height / 2,
  }));
}
