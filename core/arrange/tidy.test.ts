import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overlaps, type Rect } from '../document/geometry.ts';
import { makeRoom } from './room.ts';
import { type Constraint, separate } from './separate.ts';
import { settle } from './settle.ts';
import { carried, mean, mirror, rotate, spread } from './transform.ts';
import { exactStacks, unstack } from './unstack.ts';

const rectArbitrary = fc.record({
  x: fc.integer({ min: -300, max: 300 }),
  y: fc.integer({ min: -300, max: 300 }),
  width: fc.integer({ min: 10, max: 120 }),
  height: fc.integer({ min: 10, max: 120 }),
});
const rectsArbitrary = fc.array(rectArbitrary, { minLength: 1, maxLength: 25 });
const anyOverlap = (rects: readonly Rect[]): boolean =>
  rects.some((a, i) =>
    rects.some(
      (b, k) =>
        k > i &&
        overlaps(
          { ...a, width: a.width - 0.01, height: a.height - 0.01 },
          { ...b, width: b.width - 0.01, height: b.height - 0.01 },
        ),
    ),
  );

describe('separation constraints (Dwyer, Marriott & Stuckey 2005)', () => {
  it('gives what a hand finds: two that want one place part by half the gap each; a chain keeps its mean', () => {
    expect([...separate([10, 10], [{ left: 0, right: 1, gap: 6 }])]).toEqual([7, 13]);
    const three = separate(
      [0, 0, 0],
      [
        { left: 0, right: 1, gap: 4 },
        { left: 1, right: 2, gap: 4 },
      ],
    );
    expect([...three]).toEqual([-4, 0, 4]);
  });

  it('splits what need not hang together: the third goes back to where it wants to be', () => {
    // 0 and 1 are pushed apart; 2 is only pushed by 1 until those two have settled
    const placed = separate(
      [0, 0, 3],
      [
        { left: 0, right: 1, gap: 2 },
        { left: 1, right: 2, gap: 2 },
      ],
    );
    expect([...placed].map((value) => Math.round(value * 100) / 100)).toEqual([-1, 1, 3]);
  });

  it('meets every constraint, and no small step that keeps them comes nearer to what is wanted', () => {
    const task = fc.record({
      wanted: fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 2, maxLength: 12 }),
      seed: fc.array(fc.tuple(fc.nat(11), fc.nat(11), fc.integer({ min: 1, max: 20 })), { maxLength: 14 }),
    });
    fc.assert(
      fc.property(task, ({ wanted, seed }) => {
        const constraints: Constraint[] = seed
          .filter(([a, b]) => a < b && b < wanted.length)
          .map(([left, right, gap]) => ({ left, right, gap }));
        const placed = separate(wanted, constraints);
        for (const { left, right, gap } of constraints)
          expect(placed[right]! - placed[left]!).toBeGreaterThanOrEqual(gap - 1e-4);
        const cost = (values: ArrayLike<number>): number =>
          wanted.reduce((sum, want, i) => sum + (values[i]! - want) ** 2, 0);
        const meets = (values: ArrayLike<number>): boolean =>
          constraints.every(({ left, right, gap }) => values[right]! - values[left]! >= gap - 1e-9);
        for (let i = 0; i < wanted.length; i++) {
          for (const step of [-0.5, 0.5]) {
            const moved = Float64Array.from(placed, (value, k) => (k === i ? value + step : value));
            if (meets(moved)) expect(cost(moved)).toBeGreaterThan(cost(placed) - 1e-3);
          }
        }
      }),
      { numRuns: 300 },
    );
  });
});

describe('unstack', () => {
  it('leaves no overlap, and what is clear already where it is', () => {
    fc.assert(
      fc.property(rectsArbitrary, fc.integer({ min: 0, max: 20 }), (rects, gap) => {
        const parted = unstack(rects, gap);
        expect(anyOverlap(parted)).toBe(false);
        expect(parted.map(({ width, height }) => [width, height])).toEqual(
          rects.map(({ width, height }) => [width, height]),
        );
        expect(
          unstack(parted, 0).every(
            (rect, i) => Math.abs(rect.x - parted[i]!.x) < 0.02 && Math.abs(rect.y - parted[i]!.y) < 0.02,
          ),
        ).toBe(true);
      }),
      { numRuns: 200 },
    );
  });

  it('moves two squares that overlap by 10 across by 5 each (worked by hand)', () => {
    const square = (x: number, y: number): Rect => ({ x, y, width: 40, height: 40 });
    const [a, b] = unstack([square(0, 0), square(30, 4)], 0);
    expect([a!.x, b!.x, a!.y, b!.y].map(Math.round)).toEqual([-5, 35, 0, 4]);
  });

  it('finds what lies exactly on one another', () => {
    const rect = { x: 1, y: 2, width: 3, height: 4 };
    expect(exactStacks([rect, { ...rect, x: 9 }, { ...rect }])).toEqual([[0, 2]]);
  });
});

describe('settle', () => {
  const options = { tolerance: 30, even: true };
  it('never changes which of two lies further left, or higher', () => {
    fc.assert(
      fc.property(rectsArbitrary, fc.boolean(), (rects, even) => {
        const { x, y } = settle(rects, { tolerance: 40, even });
        rects.forEach((a, i) =>
          rects.forEach((b, k) => {
            if (a.x < b.x) expect(x[i]!).toBeLessThanOrEqual(x[k]!);
            if (a.y < b.y) expect(y[i]!).toBeLessThanOrEqual(y[k]!);
          }),
        );
      }),
      { numRuns: 200 },
    );
  });

  it('finds the columns and rows of a sloppy grid, evens the gaps, and then has nothing left to do', () => {
    const slop = [3, -8, 5, 9, -4, 7, -2, 6, -9, 1, 8, -6];
    const rects = slop.map((by, i) => ({
      x: (i % 4) * 200 + by,
      y: Math.floor(i / 4) * 120 - by,
      width: 100,
      height: 60,
    }));
    const { x, y, columns, rows } = settle(rects, options);
    expect([columns, rows]).toEqual([4, 3]);
    const steps = [1, 2, 3].map((c) => x[c]! - x[c - 1]!);
    expect(Math.max(...steps) - Math.min(...steps)).toBeLessThanOrEqual(1);
    const again = settle(
      rects.map((rect, i) => ({ ...rect, x: x[i]!, y: y[i]! })),
      options,
    );
    expect([...again.x]).toEqual([...x]);
    expect([...again.y]).toEqual([...y]);
  });
});

describe('spread, mirror, rotate', () => {
  it('stretches about the mean: places worked by hand', () => {
    // mean of x: (0 + 10 + 50) / 3 = 20; 20 + (0 − 20) · 1.2 = −4, 8 and 56; y is lined up on its mean, 5
    const places = spread(
      [
        { x: 0, y: 0 },
        { x: 10, y: 5 },
        { x: 50, y: 10 },
      ],
      1.2,
      0,
    );
    expect(places.map((p) => Math.round(p.x * 1000) / 1000)).toEqual([-4, 8, 56]);
    expect(places.map((p) => p.y)).toEqual([5, 5, 5]);
  });

  it('keeps the mean and scales every distance by the factor', () => {
    fc.assert(
      fc.property(rectsArbitrary, fc.double({ min: 0, max: 5, noNaN: true }), (rects, k) => {
        const places = spread(rects, k, k);
        expect(mean(places).x).toBeCloseTo(mean(rects).x, 6);
        rects.forEach((rect, i) => expect(places[i]!.x - places[0]!.x).toBeCloseTo((rect.x - rects[0]!.x) * k, 6));
      }),
    );
  });

  it('carries the rest along in its order, as far as the edges moved', () => {
    const to = carried([100, 200], [50, 250]);
    expect([0, 100, 150, 200, 300].map(to)).toEqual([-50, 50, 150, 250, 350]);
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -500, max: 500 }), { minLength: 2, maxLength: 9 }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        (xs, k) => {
          const c = xs.reduce((sum, x) => sum + x, 0) / xs.length;
          const map = carried(
            xs,
            xs.map((x) => c + (x - c) * k),
          );
          for (let at = -600; at < 600; at += 50) expect(map(at + 50)).toBeGreaterThanOrEqual(map(at) - 1e-9);
        },
      ),
    );
  });

  it('mirrored twice, or rotated by 360° or four times by 90°, is where it was', () => {
    fc.assert(
      fc.property(rectsArbitrary, fc.constantFrom('x' as const, 'y' as const), (rects, axis) => {
        const put = (points: readonly { x: number; y: number }[]): Rect[] =>
          rects.map((rect, i) => ({ ...rect, ...points[i]! }));
        const close = (after: readonly Rect[]): void =>
          rects.forEach((rect, i) => {
            expect(after[i]!.x).toBeCloseTo(rect.x, 6);
            expect(after[i]!.y).toBeCloseTo(rect.y, 6);
          });
        close(put(mirror(put(mirror(rects, axis)), axis)));
        close(put(rotate(rects, 360)));
        let turned = rects;
        for (let k = 0; k < 4; k++) turned = put(rotate(turned, 90));
        close(turned);
      }),
    );
  });

  it('turns clockwise as seen on the page: what is right of the middle goes below it', () => {
    const square = (x: number, y: number): Rect => ({ x, y, width: 10, height: 10 });
    expect(rotate([square(0, 0), square(100, 0)], 90).map((p) => [p.x, p.y])).toEqual([
      [50, -50],
      [50, 50],
    ]);
  });
});

describe('make room', () => {
  const box = (x: number, y = 0, width = 40): Rect => ({ x, y, width, height: 40 });
  it('pushes what is in the way, and what that meets, and nothing else', () => {
    const rects = [box(0), box(20), box(65), box(300), box(20, 200)];
    const moved = makeRoom(rects, new Set([0]), 'right', 10);
    expect([...moved].map(([i, rect]) => [i, rect.x])).toEqual([
      [1, 50],
      [2, 100],
    ]);
    expect([...makeRoom(rects, new Set([2]), 'left', 10)].map(([i, rect]) => [i, rect.x])).toEqual([
      [1, 15],
      [0, -35],
    ]);
  });

  it('leaves nothing upon what holds its place, on any side, and moves only that way', () => {
    fc.assert(
      fc.property(
        rectsArbitrary,
        fc.constantFrom('right' as const, 'down' as const, 'left' as const, 'up' as const),
        (rects, side) => {
          const moved = makeRoom(rects, new Set([0]), side, 8);
          const axis = side === 'right' || side === 'left' ? 'x' : 'y';
          const sign = side === 'right' || side === 'down' ? 1 : -1;
          for (const [i, rect] of moved) expect((rect[axis] - rects[i]![axis]) * sign).toBeGreaterThan(0);
          const start = (rect: Rect): number =>
            sign > 0 ? rect[axis] : -rect[axis] - (axis === 'x' ? rect.width : rect.height);
          // what begins behind the beginning of the one that stays does not lie upon it afterwards
          rects.forEach((rect, i) => {
            if (i > 0 && start(rect) >= start(rects[0]!)) expect(overlaps(moved.get(i) ?? rect, rects[0]!)).toBe(false);
          });
        },
      ),
    );
  });
});
