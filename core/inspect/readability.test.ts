import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { act } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { messyDoc } from '../tests/messy.ts';
import { faultTypes, scoring } from './faults.ts';
import { Crossings, cross } from './lines.ts';
import { measureGraph } from './measure.ts';
import { readability, scoreOf } from './readability.ts';
import { tryRemedies } from './remedies.ts';

const read = (doc: Doc) => readability(doc, testKinds, 'root');

describe('readability', () => {
  it('is 100 where nothing is wrong, and its parts are worth 100 together', () => {
    expect(faultTypes.reduce((sum, type) => sum + scoring[type].points, 0)).toBe(100);
    expect(read(sketchDoc().doc)).toMatchObject({ score: 100, nodes: 0, wires: 0, places: [] });
    const one = read(sketchDoc().node('Swell', 'src').node('Depth', 'round', { x: 300 }).doc);
    expect(one.score).toBe(100);
  });

  it('is worked by hand for a small case: half of the points are gone at the rate that is said', () => {
    // two nodes that overlap by a little: one overlap, two nodes, a rate of 0.5 over nodes, ten times the half rate of
    // 0.05
    const found = read(sketchDoc().node('Swell', 'src').node('Moon', 'src', { x: 90 }).doc);
    expect(found.parts.find((part) => part.type === 'overlap')).toEqual({
      type: 'overlap',
      count: 1,
      rate: 0.5,
      points: 14 / 11,
      of: 14,
    });
    expect(found.score).toBeCloseTo(86 + 14 / 11, 9);
    expect(found.places).toHaveLength(1);
    expect(found.places[0]).toMatchObject({ lost: 14 - 14 / 11, nodes: ['Moon', 'Swell'] });
    // where one hides the other, half of what there is cannot be read
    expect(read(sketchDoc().node('Swell', 'src').node('Moon', 'src', { x: 5 }).doc).score).toBeCloseTo(
      found.score / 2,
      9,
    );
  });

  it('counts the same as measuring does', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        const measured = measureGraph(doc, testKinds, 'root');
        const counts = Object.fromEntries(read(doc).parts.map((part) => [part.type, part.count]));
        expect(counts).toMatchObject({
          crossing: measured.crossings,
          through: measured.throughNodes,
          overlap: measured.overlaps,
          far: measured.windows,
          bend: measured.bends,
          backward: measured.backward,
        });
      }),
    );
  });

  it('loses in its worst places no more than it loses in all, with no fault twice, the worst first', () => {
    fc.assert(
      fc.property(docArbitrary(24), (doc) => {
        const found = read(doc);
        expect(found.score).toBeGreaterThanOrEqual(0);
        expect(found.score).toBeLessThanOrEqual(100);
        expect(found.places.length).toBeLessThanOrEqual(10);
        expect(found.places.reduce((sum, place) => sum + place.lost, 0)).toBeLessThanOrEqual(100 - found.score + 1e-6);
        for (const type of faultTypes) {
          const inPlaces = found.places
            .flatMap((place) => place.faults.filter((fault) => fault.type === type))
            .reduce((sum, fault) => sum + fault.count, 0);
          expect(inPlaces).toBeLessThanOrEqual(found.parts.find((part) => part.type === type)!.count + 1e-6);
        }
        const lost = found.places.map((place) => place.lost);
        expect(lost).toEqual([...lost].sort((a, b) => b - a));
        for (const place of found.places) for (const id of place.nodes) expect(doc.nodes.has(id)).toBe(true);
      }),
    );
  });

  it('rises by arranging a messy file, by much', async () => {
    const doc = messyDoc(3, 60);
    const { doc: after } = await act('arrange', doc, []);
    expect(read(after).score).toBeGreaterThan(read(doc).score + 15);
  });

  it('has the measures of Purchase (2002) by their formulas, worked by hand', () => {
    // three wires of which two share a node: the most crossings there could be are 3·2/2 − (1 pair at the shared node)
    // = 2
    const straight = (doc: Doc): Doc => ({ ...doc, head: { ...doc.head, wireStyle: 'straight' } });
    const base = sketchDoc()
      .node('s1', 'src')
      .node('s2', 'src', { y: 400 })
      .node('a', 'add', { x: 500, y: 400 })
      .node('b', 'round', { x: 500 });
    const crossed = straight(base.wire('s1.out', 'a.a').wire('s2.out', 'b.in').wire('s2.out', 'a.b').doc);
    const degrees = { s1: 1, s2: 2, a: 2, b: 1 };
    const impossible = Object.values(degrees).reduce((sum, d) => sum + (d * (d - 1)) / 2, 0);
    const { purchase } = read(crossed);
    expect(purchase.crossings).toBeCloseTo(1 - 1 / (3 - impossible), 9);
    expect(purchase.bends).toBe(1);
    expect(purchase.flow).toBe(1);
    // a level wire and one of 45° deviate by half on average
    const level = measureGraph(crossed, testKinds, 'root');
    expect(level.crossings).toBe(1);
    expect(purchase.orthogonality).toBeGreaterThan(0);
    expect(purchase.orthogonality).toBeLessThan(1);
    expect(
      read(sketchDoc().node('s', 'src').node('r', 'round', { x: 500 }).wire('s.out', 'r.in').doc).purchase,
    ).toEqual({ crossings: 1, bends: 1, orthogonality: 1, flow: 1 });
  });

  it('is one number for several graphs, weighted by nodes', () => {
    expect(
      scoreOf([
        { nodes: 30, score: 80 },
        { nodes: 10, score: 40 },
      ]),
    ).toBe(70);
    expect(scoreOf([])).toBe(100);
  });
});

describe('what would help', () => {
  it('is tried on a copy: it raises the score by what it says, the most first, for a place and for the whole graph', async () => {
    const doc = messyDoc(5, 50);
    const report = read(doc);
    const tried = [
      ...(await tryRemedies(doc, testKinds, 'root', report.places[0]!, report.score)),
      ...(await tryRemedies(doc, testKinds, 'root', undefined, report.score)),
    ];
    expect(tried.map((one) => one.items.length)).toContain(0);
    const gains = (await tryRemedies(doc, testKinds, 'root', report.places[0]!, report.score)).map((one) => one.gain);
    expect(gains).toEqual([...gains].sort((a, b) => b - a));
    for (const { operation, options, items, gain } of tried) {
      const { doc: after } = await act(operation, doc, items, options);
      expect(read(after).score - report.score).toBeCloseTo(gain, 9);
    }
  });

  it('is nothing that makes it worse, whatever the graph', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(14), async (doc) => {
        const report = read(doc);
        const [place] = report.places;
        if (!place) return;
        for (const { gain } of await tryRemedies(doc, testKinds, 'root', place, report.score))
          expect(gain).toBeGreaterThan(0);
      }),
      { numRuns: 25 },
    );
  });
});

describe('crossings', () => {
  it('are those that trying every pair of pieces finds, each at the point where both lines are', () => {
    const route = fc.array(fc.record({ x: fc.integer({ min: 0, max: 30 }), y: fc.integer({ min: 0, max: 30 }) }), {
      minLength: 2,
      maxLength: 4,
    });
    // half of them right-angled, as most pictures are
    const angled = route.map((points) =>
      points.flatMap((p, i) => (i === 0 ? [p] : [{ x: points[i - 1]!.x, y: p.y }, p])),
    );
    fc.assert(
      fc.property(fc.array(fc.oneof(route, angled), { maxLength: 14 }), (routes) => {
        const lines = routes.map((points, i) => ({ net: `n${i % 5}`, ends: ['a', 'b'] as const, route: points }));
        const found: string[] = [];
        new Crossings(lines).each((one, other, x, y) => {
          found.push([Math.min(one, other), Math.max(one, other)].join(' '));
          for (const line of [lines[one]!, lines[other]!]) {
            const distance = Math.min(...line.route.slice(1).map((b, i) => off({ x, y }, line.route[i]!, b)));
            expect(distance).toBeLessThan(1e-6);
          }
        });
        const brute: string[] = [];
        lines.forEach((one, i) => {
          lines.slice(i + 1).forEach((other, k) => {
            if (one.net === other.net) return;
            for (let p = 1; p < one.route.length; p++)
              for (let q = 1; q < other.route.length; q++)
                if (cross(one.route[p - 1]!, one.route[p]!, other.route[q - 1]!, other.route[q]!))
                  brute.push(`${i} ${i + 1 + k}`);
          });
        });
        expect(found.sort()).toEqual(brute.sort());
      }),
    );
  });
});

/** How far a point is from a piece. */
function off(p: { x: number; y: number }, a: { x: number; y: number }, b: { x: number; y: number }): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const t = Math.max(0, Math.min(1, ((p.x - a.x) * dx + (p.y - a.y) * dy) / Math.max(1e-9, dx * dx + dy * dy)));
  return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
}
