import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Area } from './regions.ts';
import { type Gate, LaneGraph, type Trunk } from './trunks.ts';

const area = (left: number, top: number, width: number, height: number): Area => ({
  left,
  top,
  right: left + width,
  bottom: top + height,
});
const exit = (from: Area, level: number): Gate => ({ x: from.right, level, lanes: 'right', wires: 0 });
const entry = (to: Area, level: number): Gate => ({ x: to.left, level, lanes: 'left', wires: 1 });

/** Do all pieces of a way run level or upright, in turn, outside of all areas? */
function isFree(way: Trunk, areas: readonly Area[]): boolean {
  for (let i = 2; i + 1 < way.length; i += 2) {
    const [ax, ay, bx, by] = [way[i - 2]!, way[i - 1]!, way[i]!, way[i + 1]!];
    if (ax !== bx && ay !== by) return false;
    for (const { left, top, right, bottom } of areas)
      if (Math.min(ax, bx) < right && Math.max(ax, bx) > left && Math.min(ay, by) < bottom && Math.max(ay, by) > top)
        return false;
  }
  return true;
}

describe('the lanes between regions', () => {
  it('lead from every gate to every other, level and upright in turn, through no region', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 5 }),
        fc.integer({ min: 1, max: 4 }),
        fc.array(fc.integer({ min: 0, max: 30 }), { minLength: 20, maxLength: 20 }),
        (columns, rows, jitter) => {
          const areas = Array.from({ length: columns * rows }, (_, i) =>
            area(
              (i % columns) * 400 + jitter[i % 20]!,
              Math.floor(i / columns) * 260 + jitter[(i * 7) % 20]!,
              300,
              180,
            ),
          );
          const source = area(-400, 40, 200, 100);
          const all = [...areas, source];
          const tree = { exit: exit(source, 90), entries: areas.map((one) => entry(one, one.top + 60)) };
          const graph = new LaneGraph(all, [tree.exit, ...tree.entries], 2);
          graph.grow(tree).forEach((way, i) => {
            expect(way).toBeDefined();
            expect(isFree(way!, all)).toBe(true);
            expect([way![0], way![1]]).toEqual([source.right, 90]);
            expect(way!.slice(-2)).toEqual([areas[i]!.left, areas[i]!.top + 60]);
          });
          expect(graph.crossings()).toBe(0);
        },
      ),
    );
  });

  it('give a second tree a way that crosses less, where there is one, and forget a tree that is felled', () => {
    const parts = [0, 1, 2].map((i) => area(i * 400, 0, 300, 200));
    const [upper, lower] = [area(-500, 0, 150, 60), area(-500, 140, 150, 60)];
    const all = [...parts, upper, lower];
    const one = { exit: exit(upper, 30), entries: parts.map((part) => ({ ...entry(part, 40), wires: 5 })) };
    const two = { exit: exit(lower, 170), entries: parts.map((part) => ({ ...entry(part, 160), wires: 5 })) };
    const graph = new LaneGraph(all, [one.exit, ...one.entries, two.exit, ...two.entries], 2);
    graph.grow(one);
    graph.grow(two);
    let least = graph.crossings();
    // grown anew while the other stands, as routing does: one then runs above the row and one below it
    for (let round = 0; round < 4; round++) {
      for (const tree of [one, two]) {
        graph.fell(tree);
        graph.grow(tree);
      }
      least = Math.min(least, graph.crossings());
    }
    expect(least).toBe(0);
    graph.fell(one);
    graph.fell(two);
    expect(graph.crossings()).toBe(0);
    expect(graph.grow(one)).toEqual(
      new LaneGraph(all, [one.exit, ...one.entries, two.exit, ...two.entries], 2).grow(one),
    );
  });
});
