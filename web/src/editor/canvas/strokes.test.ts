import { sketchDoc, testKinds } from '@basitax/core/tests/arbitrary';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Scene } from './scene.ts';
import { crossing, type Drawn, meets } from './strokes.ts';

const size = { width: 100, height: 40 };
const scene = () => {
  const pad = sketchDoc()
    .node('a', 'src', { size })
    .node('b', 'round', { x: 300, size })
    .node('c', 'round', { x: 300, y: 200, size })
    .wire('a.out', 'b.in')
    .wire('a.out', 'c.in');
  return new Scene(pad.doc, testKinds, 'root');
};
const start = (tool: Drawn['tool'], x: number, y: number): Drawn => ({ tool, line: [{ x, y }], wires: [], nodes: [] });

describe('a drawn line', () => {
  it('crosses where both pieces are, and not where one would have to be longer', () => {
    expect(crossing({ x: 0, y: 0 }, { x: 10, y: 10 }, { x: 0, y: 10 }, { x: 10, y: 0 })).toEqual({ x: 5, y: 5 });
    expect(crossing({ x: 0, y: 0 }, { x: 4, y: 4 }, { x: 0, y: 10 }, { x: 10, y: 0 })).toBeUndefined();
    expect(crossing({ x: 0, y: 0 }, { x: 10, y: 0 }, { x: 0, y: 5 }, { x: 10, y: 5 })).toBeUndefined();
  });

  it('crosses the same point whichever piece comes first, and lies on both', () => {
    const place = fc.record({ x: fc.integer({ min: -500, max: 500 }), y: fc.integer({ min: -500, max: 500 }) });
    fc.assert(
      fc.property(place, place, place, place, (a, b, c, d) => {
        const [one, other] = [crossing(a, b, c, d), crossing(c, d, a, b)];
        expect(one === undefined).toBe(other === undefined);
        if (!one || !other) return;
        expect(one.x).toBeCloseTo(other.x, 3);
        expect(one.y).toBeCloseTo(other.y, 3);
        const off = (p: { x: number; y: number }, q: { x: number; y: number }): number =>
          Math.abs((q.x - p.x) * (one.y - p.y) - (q.y - p.y) * (one.x - p.x)) /
          Math.max(1, Math.hypot(q.x - p.x, q.y - p.y));
        expect(off(a, b)).toBeLessThan(0.01);
        expect(off(c, d)).toBeLessThan(0.01);
      }),
    );
  });

  it('meets each wire once, where it crosses it first, in order', () => {
    const own = scene();
    const ends = own.path(own.wires.find((wire) => wire.to.node === 'c')!);
    const y = ends.at(-1)!.y;
    const drawn = meets(own, start('cut', 280, -50), { x: 280, y: -50 }, { x: 280, y: 400 });
    expect(drawn.wires.map(({ wire }) => wire)).toEqual(['a.out>b.in', 'a.out>c.in']);
    expect(drawn.wires[1]).toMatchObject({ x: 280, y });
    expect(meets(own, drawn, { x: 280, y: 400 }, { x: 281, y: -50 }).wires).toEqual(drawn.wires);
    expect(drawn.nodes).toEqual([]);
  });

  it('passes nodes in the order in which it comes to them, and wires not at all while it joins', () => {
    const own = scene();
    const first = meets(own, start('join', 50, 20), { x: 50, y: 20 }, { x: 350, y: 20 });
    expect(first.nodes).toEqual(['a', 'b']);
    expect(first.wires).toEqual([]);
    expect(meets(own, first, { x: 350, y: 20 }, { x: 350, y: 220 }).nodes).toEqual(['a', 'b', 'c']);
    expect(meets(own, start('join', 0, 100), { x: 0, y: 100 }, { x: 400, y: 100 }).nodes).toEqual([]);
  });
});
