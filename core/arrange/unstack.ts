import Flatbush from 'flatbush';
import type { Rect } from '../document/geometry.ts';
import { addTo } from '../group-by.ts';
import { type Constraint, separate } from './separate.ts';

/**
 * Places without overlaps, as near as can be to the present ones and in the present order along each axis: Dwyer,
 * Marriott & Stuckey (2005).
 * First pairs that are quicker parted along x, then all that still overlap along y. `gap` is kept between edges.
 * Rectangles that may not move have `fixed`. O((n + overlaps) log n · rounds).
 */
export function unstack(rects: readonly Rect[], gap: number, fixed: (i: number) => boolean = () => false): Rect[] {
  const weight = rects.map((_, i) => (fixed(i) ? 1e6 : 1));
  let now = rects.map((rect) => ({ ...rect }));
  for (let round = 0; round < 4; round++) {
    const sideways = pairs(now, gap, (a, b) => overlap(a, b, 'x', gap) <= overlap(a, b, 'y', gap));
    now = shift(now, 'x', sideways, gap, weight, rects);
    const rest = pairs(now, gap, () => true);
    now = shift(now, 'y', rest, gap, weight, rects);
    if (pairs(now, gap, () => true).length === 0) break;
  }
  return now.map((rect, i) => (fixed(i) ? rects[i]! : rect));
}

type Axis = 'x' | 'y';
const extentOf = { x: 'width', y: 'height' } as const;

/** How far two rectangles reach into one another along an axis, the gap included; not above 0 where they do not. */
function overlap(a: Rect, b: Rect, axis: Axis, gap: number): number {
  const extent = extentOf[axis];
  return Math.min(a[axis] + a[extent], b[axis] + b[extent]) + gap - Math.max(a[axis], b[axis]);
}

function pairs(rects: readonly Rect[], gap: number, wanted: (a: Rect, b: Rect) => boolean): [number, number][] {
  if (rects.length === 0) return [];
  const tree = new Flatbush(rects.length);
  for (const rect of rects) tree.add(rect.x, rect.y, rect.x + rect.width, rect.y + rect.height);
  tree.finish();
  const found: [number, number][] = [];
  rects.forEach((a, i) => {
    for (const k of tree.search(a.x - gap, a.y - gap, a.x + a.width + gap, a.y + a.height + gap)) {
      const b = rects[k]!;
      if (k > i && overlap(a, b, 'x', gap) > 0.01 && overlap(a, b, 'y', gap) > 0.01 && wanted(a, b)) found.push([i, k]);
    }
  });
  return found;
}

/** Parts the pairs along one axis; whatever stands beside them on that axis and could be run over is held apart too. */
function shift(
  now: Rect[],
  axis: Axis,
  parted: readonly [number, number][],
  gap: number,
  weight: readonly number[],
  before: readonly Rect[],
): Rect[] {
  if (parted.length === 0) return now;
  const extent = extentOf[axis];
  const middle = (i: number): number => now[i]![axis] + now[i]![extent] / 2;
  const first = (i: number, k: number): boolean =>
    middle(i) < middle(k) ||
    (middle(i) === middle(k) &&
      (before[i]![axis] < before[k]![axis] || (before[i]![axis] === before[k]![axis] && i < k)));
  const constraints: Constraint[] = [];
  const add = (i: number, k: number): void => {
    const [a, b] = first(i, k) ? [i, k] : [k, i];
    constraints.push({ left: a, right: b, gap: (now[a]![extent] + now[b]![extent]) / 2 + gap });
  };
  for (const [i, k] of parted) add(i, k);
  // neighbours that see one another along the axis keep their order and the distance that they have, up to the gap
  const other: Axis = axis === 'x' ? 'y' : 'x';
  const order = now.map((_, i) => i).sort((i, k) => (first(i, k) ? -1 : 1));
  const open: number[] = [];
  for (const i of order) {
    for (let n = open.length - 1, seen = 0; n >= 0 && seen < 6; n--) {
      const k = open[n]!;
      if (overlap(now[i]!, now[k]!, other, gap) <= 0.01) continue;
      seen++;
      const distance = middle(i) - middle(k);
      const wanted = (now[i]![extent] + now[k]![extent]) / 2 + gap;
      constraints.push({ left: k, right: i, gap: Math.min(distance, wanted) });
    }
    open.push(i);
  }
  const centres = separate(
    before.map((rect) => rect[axis] + rect[extent] / 2),
    constraints,
    weight,
  );
  return now.map((rect, i) => ({ ...rect, [axis]: centres[i]! - rect[extent] / 2 }));
}

/** Groups of rectangles with the same place and size, as numbers: hidden duplicates. O(n). */
export function exactStacks(rects: readonly Rect[]): number[][] {
  const at = new Map<string, number[]>();
  rects.forEach(({ x, y, width, height }, i) => {
    const key = `${x} ${y} ${width} ${height}`;
    addTo(at, key, i);
  });
  return [...at.values()].filter((group) => group.length > 1);
}
