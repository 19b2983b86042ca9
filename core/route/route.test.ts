import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Point } from '../document/geometry.ts';
import { isDefaultName } from '../document/names.ts';
import { countRouteCrossings, cross } from '../inspect/lines.ts';
import { measureGraph } from '../inspect/measure.ts';
import { review } from '../inspect/review.ts';
import { sketch } from '../inspect/sketch.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { plainRoute, routeBetween, routeWires, simplify } from './route.ts';

const rightAngled = (route: readonly Point[]): boolean =>
  route.slice(1).every((p, i) => p.x === route[i]!.x || p.y === route[i]!.y);

describe('routes', () => {
  it('run at right angles from port to port, for every wire, and repeat', () => {
    fc.assert(
      fc.property(docArbitrary(24), (doc) => {
        for (const graph of doc.graphs.keys()) {
          const routes = routeWires(doc, testKinds, graph);
          expect([...routes.keys()].sort()).toEqual(
            indexOf(doc)
              .wiresIn(graph)
              .map((wire) => wire.id)
              .sort(),
          );
          for (const [id, route] of routes) {
            const plain = plainRoute(doc, testKinds, doc.wires.get(id)!, doc.graphs.get(graph)!.flow ?? 'right')!;
            expect(rightAngled(route)).toBe(true);
            expect([route[0], route.at(-1)]).toEqual([plain[0], plain.at(-1)]);
          }
          expect([...routeWires(doc, testKinds, graph)]).toEqual([...routes]);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('go round a node that stands in the way, where there is room', () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('block', 'tint', { x: 250, y: -10 })
      .node('b', 'round', { x: 600, y: 0 })
      .wire('a.out', 'b.in');
    expect(measureGraph(doc, testKinds, 'root')).toMatchObject({
      throughNodes: 0,
      crossings: 0,
      wires: 1,
      backward: 0,
    });
  });

  it('take out points that add no turn', () => {
    expect(
      simplify([
        { x: 0, y: 0 },
        { x: 5, y: 0 },
        { x: 5, y: 0 },
        { x: 9, y: 0 },
        { x: 9, y: 4 },
      ]),
    ).toEqual([
      { x: 0, y: 0 },
      { x: 9, y: 0 },
      { x: 9, y: 4 },
    ]);
  });

  it('of a wire in hand follow the flow', () => {
    for (const flow of ['right', 'down', 'left', 'up'] as const) {
      const route = routeBetween({ x: 0, y: 0 }, { x: 200, y: 150 }, flow);
      expect(rightAngled(route)).toBe(true);
      expect([route[0], route.at(-1)]).toEqual([
        { x: 0, y: 0 },
        { x: 200, y: 150 },
      ]);
    }
  });
});

describe('measures', () => {
  const lines = (list: number[][]) =>
    list.map(([ax, ay, bx, by], i) => ({
      net: String(i),
      ends: ['', ''] as const,
      route: [
        { x: ax!, y: ay! },
        { x: bx!, y: by! },
      ],
    }));

  it('count crossings as a look at every pair does', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.integer({ min: 0, max: 40 }), { minLength: 4, maxLength: 4 }), { maxLength: 25 }),
        (list) => {
          const all = lines(list);
          let brute = 0;
          all.forEach((p, i) =>
            all.slice(i + 1).forEach((q) => cross(p.route[0]!, p.route[1]!, q.route[0]!, q.route[1]!) && brute++),
          );
          expect(countRouteCrossings(all)).toBe(brute);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('do not count wires of one source, nor touching', () => {
    expect(
      countRouteCrossings(
        lines([
          [0, 0, 10, 10],
          [0, 10, 10, 0],
        ]),
      ),
    ).toBe(1);
    expect(
      countRouteCrossings(
        lines([
          [0, 0, 10, 10],
          [0, 10, 10, 0],
        ]).map((line) => ({ ...line, net: 'same' })),
      ),
    ).toBe(0);
    expect(
      countRouteCrossings(
        lines([
          [0, 0, 10, 0],
          [5, 0, 5, 9],
        ]),
      ),
    ).toBe(0);
  });

  const messy = (): Doc =>
    sketchDoc()
      .node('a', 'src', { x: 500 })
      .node('Add', 'add', { name: 'Add2', x: 0 })
      .node('c', 'src', { x: 510, y: 5 })
      .wire('a.out', 'Add.a').doc;

  it('say what is hard to read: overlaps, backward wires, default names', () => {
    expect(measureGraph(messy(), testKinds, 'root')).toMatchObject({
      nodes: 3,
      overlaps: 1,
      backward: 1,
      defaultNames: 1,
    });
    expect([
      isDefaultName('Add', 'add', testKinds),
      isDefaultName('KelpAdd', 'add', testKinds),
      isDefaultName('node17', 'x', testKinds),
    ]).toEqual([true, false, true]);
  });

  it('are compared before and after, with the fingerprint and how far nodes move', () => {
    const doc = messy();
    const seen = review(doc, testKinds, 'root', {
      steps: [{ type: 'set', table: 'nodes', id: 'c', path: ['y'], from: 5, to: 405 }],
    });
    expect(seen).toMatchObject({
      before: { overlaps: 1 },
      after: { overlaps: 0 },
      fingerprint: { verdict: 'same' },
      moves: { count: 1, mean: 400, most: 400 },
    });
  });

  it('make a sketch that lies within its picture', () => {
    fc.assert(
      fc.property(docArbitrary(30), (doc) => {
        const small = sketch(doc, testKinds);
        for (let i = 0; i < small.nodes.length; i += 5) {
          const [x, y, width, height] = small.nodes.slice(i, i + 4) as [number, number, number, number];
          expect(x >= 0 && y >= 0 && x + width <= small.width + 1 && y + height <= small.height + 1).toBe(true);
        }
      }),
    );
  });
});
