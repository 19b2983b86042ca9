import type { Rect } from '../document/geometry.ts';

export type Direction = 'right' | 'down' | 'left' | 'up';

/**
 * Pushes what is in the way of some rectangles to one side, just as far as it takes to keep `gap`, and what is in the
 * way of those in turn. Nothing else moves; along the direction the order stays. Returns the places of those that move,
 * by number.
 * O(n²) at worst, n log n on spread out graphs.
 */
export function makeRoom(
  rects: readonly Rect[],
  holding: ReadonlySet<number>,
  direction: Direction,
  gap: number,
): Map<number, Rect> {
  const along = direction === 'right' || direction === 'left' ? 'x' : 'y';
  const across = along === 'x' ? 'y' : 'x';
  const [length, breadth] = along === 'x' ? (['width', 'height'] as const) : (['height', 'width'] as const);
  const sign = direction === 'right' || direction === 'down' ? 1 : -1;
  // seen along the direction, all pushes go to higher places
  const start = (rect: Rect): number => (sign > 0 ? rect[along] : -rect[along] - rect[length]);
  const moved = new Map<number, Rect>();
  const settled: Rect[] = [...holding].map((i) => rects[i]!);
  // how far what was settled reaches: most rectangles are nowhere near it
  const reach = {
    start: Number.POSITIVE_INFINITY,
    end: Number.NEGATIVE_INFINITY,
    low: Number.POSITIVE_INFINITY,
    high: Number.NEGATIVE_INFINITY,
  };
  const extend = (rect: Rect): void => {
    reach.start = Math.min(reach.start, start(rect));
    reach.end = Math.max(reach.end, start(rect) + rect[length]);
    reach.low = Math.min(reach.low, rect[across]);
    reach.high = Math.max(reach.high, rect[across] + rect[breadth]);
  };
  settled.forEach(extend);
  const first = reach.start;
  const order: number[] = [];
  // pushes go to higher places, so that nothing before the first is ever met
  rects.forEach((rect, i) => {
    if (!holding.has(i) && start(rect) + rect[length] > first - gap) order.push(i);
  });
  order.sort((a, b) => start(rects[a]!) - start(rects[b]!) || a - b);
  for (const i of order) {
    let at = rects[i]!;
    if (at[across] > reach.high + gap || at[across] + at[breadth] < reach.low - gap) continue;
    // from here on everything lies behind all that was settled
    if (start(at) >= reach.end + gap) break;
    for (;;) {
      const hit = settled.find(
        (other) =>
          other[across] < at[across] + at[breadth] + gap / 2 &&
          other[across] + other[breadth] + gap / 2 > at[across] &&
          start(other) < start(at) + at[length] &&
          start(other) + other[length] + gap > start(at) &&
          start(other) + other[length] > start(rects[i]!) - gap,
      );
      if (!hit) break;
      const place = start(hit) + hit[length] + gap;
      if (place <= start(at)) break;
      at = { ...at, [along]: sign > 0 ? place : -place - at[length] };
    }
    if (at !== rects[i]) {
      moved.set(i, at);
      settled.push(at);
      extend(at);
    }
  }
  return moved;
}
