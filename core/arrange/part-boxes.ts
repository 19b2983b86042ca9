import type { Rect } from '../document/geometry.ts';
import { type Constraint, separate } from './separate.ts';

/** What has to be parted: its sides, and how much it resists. Along is the flow's direction, across the other. */
export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** The least of its nodes, which decides where two stand the same. */
  readonly first: number;
  readonly weight: number;
}

/** A rectangle as a box; `first` decides where two stand the same. */
export const boxOf = ({ x, y, width, height }: Rect, first: number): Box => ({
  left: x,
  right: x + width,
  top: y,
  bottom: y + height,
  first,
  weight: 1,
});

/** How many nearest ones each box is kept apart from. */
const mostNear = 16;

const clash = (a: Box, b: Box): boolean => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/** Do any two boxes lie on one another, of the pairs that count? O(n log n + pairs that stand above one another). */
export function anyClash(boxes: readonly Box[], counts: (a: Box, b: Box) => boolean = () => true): boolean {
  const sorted = [...boxes].sort((a, b) => a.left - b.left);
  for (let i = 0; i < sorted.length; i++) {
    const a = sorted[i]!;
    for (let k = i + 1; k < sorted.length && sorted[k]!.left < a.right; k++)
      if (clash(a, sorted[k]!) && counts(a, sorted[k]!)) return true;
  }
  return false;
}

/**
 * Moves boxes across the flow until none overlap, with the least movement and in their order; what was clear keeps what
 * distance it has, up to the gap.
 * Gives how far each moves, or undefined where none overlap. `apart` leaves out pairs that are parted otherwise. O(n² +
 * n log n · near ones).
 */
export function partAcross(
  boxes: readonly Box[],
  gap: number,
  apart: (a: Box, b: Box) => boolean = () => true,
): number[] | undefined {
  const order = boxes
    .map((_, i) => i)
    .sort(
      (a, b) =>
        boxes[a]!.top + boxes[a]!.bottom - boxes[b]!.top - boxes[b]!.bottom || boxes[a]!.first - boxes[b]!.first,
    );
  if (!anyClash(boxes, apart)) return undefined;
  const constraints: Constraint[] = [];
  order.forEach((i, n) => {
    const a = boxes[i]!;
    for (let m = n - 1, seen = 0; m >= 0 && seen < mostNear; m--) {
      const b = boxes[order[m]!]!;
      if (a.left >= b.right || b.left >= a.right || !apart(a, b)) continue;
      seen++;
      const height = b.bottom - b.top;
      const present = a.top - b.bottom;
      constraints.push({ left: order[m]!, right: i, gap: height + (present >= 0 ? Math.min(present, gap) : gap) });
    }
  });
  const placed = separate(
    boxes.map((box) => box.top),
    constraints,
    boxes.map((box) => box.weight),
  );
  return boxes.map((box, i) => Math.round(placed[i]! - box.top));
}

/**
 * Parts boxes in both directions: first along the flow those that reach less into one another that way, then across it
 * all others. Moves them.
 */
export function partBoth(boxes: readonly Box[], gap: number): void {
  const isLessAlong = (a: Box, b: Box): boolean =>
    Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) < Math.min(a.right, b.right) - Math.max(a.left, b.left);
  const turned = boxes.map(
    (box): Box => ({ ...box, left: box.top, right: box.bottom, top: box.left, bottom: box.right }),
  );
  partAcross(turned, gap, (a, b) => clash(a, b) && isLessAlong(a, b))?.forEach((by, i) => {
    boxes[i]!.left += by;
    boxes[i]!.right += by;
  });
  for (let round = 0; round < mostRounds; round++) {
    const by = partAcross(boxes, gap);
    if (!by) return;
    by.forEach((dy, i) => {
      boxes[i]!.top += dy;
      boxes[i]!.bottom += dy;
    });
  }
}

/** Each box is kept from its nearest ones only, so that it can take more than one round. */
const mostRounds = 12;
