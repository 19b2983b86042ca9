import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf, nodesWithin } from '../../document/doc.ts';
import { frameRects, overlaps, rectOf, unite } from '../../document/geometry.ts';
import { compareFingerprints, fingerprint } from '../../inspect/fingerprint.ts';
import { measureGraph } from '../../inspect/measure.ts';
import { act } from '../../tests/acts.ts';
import { testKinds } from '../../tests/arbitrary.ts';
import { modulesDoc } from '../../tests/modules.ts';
import { compileWithLikeness } from '../compile.ts';
import { normalSpacing } from '../layered/graph.ts';
import { layOut } from '../layered/layout.ts';
import { Containers } from './containers.ts';
import { shareOut } from './hubs.ts';
import { Repeats } from './repeats.ts';
import { type Block, placeRows, rowsNow } from './rows.ts';
import { wrapped } from './wrap.ts';

const seeds = [1, 2, 3, 4, 5];

const covered = (doc: Doc) =>
  unite([
    ...indexOf(doc)
      .nodesIn('root')
      .map((node) => rectOf(doc, testKinds, node)),
    ...frameRects(doc, testKinds, 'root').values(),
  ])!;

const repeatsOf = (doc: Doc): Repeats => {
  const { graph } = compileWithLikeness(doc, testKinds, 'root', indexOf(doc).nodesIn('root'));
  return new Repeats(graph, new Containers(graph));
};

describe('a page', () => {
  it.each(seeds)(
    'of repeated parts has nothing over anything, the same function, and comes out the same again, seed %i',
    async (seed) => {
      const doc = modulesDoc(seed);
      const { doc: after } = await act('arrange', doc, []);
      expect(measureGraph(after, testKinds, 'root')).toMatchObject({ overlaps: 0, throughNodes: 0 });
      expect(compareFingerprints(fingerprint(doc, testKinds), fingerprint(after, testKinds))).toBe('same');
      const frames = [...frameRects(after, testKinds, 'root')];
      frames.forEach(([a, one], i) => {
        for (const [b, other] of frames.slice(i + 1)) expect(overlaps(one, other), `${a} on ${b}`).toBe(false);
        // no stranger stands in a frame's tint
        const inside = new Set(nodesWithin(after, a).map((node) => node.id));
        for (const node of after.nodes.values())
          if (!inside.has(node.id))
            expect(overlaps(one, rectOf(after, testKinds, node)), `${node.id} in ${a}`).toBe(false);
      });
      const { doc: again } = await act('arrange', after, []);
      for (const node of after.nodes.values()) expect(again.nodes.get(node.id)).toMatchObject({ x: node.x, y: node.y });
    },
  );

  it.each(seeds)('draws parts that are the same alike, and is not a tower, seed %i', async (seed) => {
    const { doc: after } = await act('arrange', modulesDoc(seed), []);
    const repeats = repeatsOf(after);
    expect(repeats.repeated()).toBeGreaterThan(20);
    expect(repeats.unlike()).toEqual([]);
    const { width, height } = covered(after);
    expect(width / height).toBeGreaterThan(0.7);
    expect(width / height).toBeLessThan(3);
  });

  it('puts the worst wires into links in the same step, with the function as it was', async () => {
    const doc = modulesDoc(2);
    const { doc: plain } = await act('arrange', doc, []);
    const { doc: linked } = await act('arrange', doc, [], { links: true });
    expect(compareFingerprints(fingerprint(doc, testKinds), fingerprint(linked, testKinds))).toBe('same');
    expect(measureGraph(linked, testKinds, 'root').crossings).toBeLessThan(
      measureGraph(plain, testKinds, 'root').crossings,
    );
  });

  it('arranges a selection where it is: other frames stay, unless something grows over them', async () => {
    const doc = (await act('arrange', modulesDoc(3), [])).doc;
    const frame = [...doc.frames.keys()][0]!;
    const chosen = nodesWithin(doc, frame).map((node) => node.id);
    const before = frameRects(doc, testKinds, 'root');
    const { doc: after } = await act('arrange', doc, chosen);
    const now = frameRects(after, testKinds, 'root');
    expect(Math.hypot(now.get(frame)!.x - before.get(frame)!.x, now.get(frame)!.y - before.get(frame)!.y)).toBeLessThan(
      2,
    );
    for (const [id, rect] of before) if (id !== frame) expect(now.get(id)).toEqual(rect);
  });
});

describe('sharing out', () => {
  it('takes hubs from modules: a source that feeds frames, a gatherer that they feed', () => {
    const doc = modulesDoc(1);
    const nodes = indexOf(doc).nodesIn('root');
    const { graph } = compileWithLikeness(doc, testKinds, 'root', nodes);
    const sharing = new Repeats(graph, new Containers(graph)).sharing.get(-1)!;
    expect(sharing.sources.length).toBeGreaterThan(0);
    expect(sharing.modules.length).toBeGreaterThanOrEqual([...doc.frames.keys()].length);
  });

  it('leaves a small container as the parts that its wires make', () => {
    const units = [0, 1, 2].map((v) => ({
      width: 100,
      height: 50,
      x: v * 200,
      y: 0,
      nodes: [v],
      dx: [0],
      dy: [0],
      frame: -1,
      sign: 0,
    }));
    const sharing = shareOut({
      units,
      from: [0],
      to: [1],
      fromOffset: [20],
      toOffset: [20],
      net: [0],
      wire: [0],
      outer: [],
    });
    expect(sharing).toEqual({ sources: [], ends: [], modules: [[0, 1]], strays: [2] });
  });
});

describe('rows', () => {
  const blocks = fc.array(
    fc.record({
      width: fc.integer({ min: 40, max: 900 }),
      height: fc.integer({ min: 40, max: 900 }),
      x: fc.integer({ min: 0, max: 4000 }),
      y: fc.integer({ min: 0, max: 4000 }),
    }),
    {
      minLength: 1,
      maxLength: 20,
    },
  );
  const blockOf = ({ width, height, x, y }: { width: number; height: number; x: number; y: number }): Block => ({
    width,
    height,
    cx: x + width / 2,
    cy: y + height / 2,
    nowWidth: width,
    nowHeight: height,
  });

  it('never lay one block on another, and stay inside what they say they cover', () => {
    fc.assert(
      fc.property(blocks, fc.double({ min: 0, max: 1, noNaN: true }), (rects, keep) => {
        const all = rects.map(blockOf);
        const { x, y, width, height } = placeRows(all, { proportion: 1.6, gapX: 30, gapY: 20, keep, beside: 0 });
        const placed = all.map((block, i) => ({ x: x[i]!, y: y[i]!, width: block.width, height: block.height }));
        placed.forEach((a, i) => {
          expect(a.x + a.width).toBeLessThanOrEqual(width + 1e-6);
          expect(a.y + a.height).toBeLessThanOrEqual(height + 1e-6);
          for (const b of placed.slice(i + 1)) expect(overlaps(a, b)).toBe(false);
        });
      }),
    );
  });

  it('are found in a rough grid as one sees them', () => {
    const grid = [0, 1, 2].flatMap((row) =>
      [0, 1, 2, 3].map((column) =>
        blockOf({ width: 200, height: 120, x: column * 300 + row * 7, y: row * 200 + ((column * 17) % 30) }),
      ),
    );
    expect(rowsNow(grid)).toEqual([
      [0, 1, 2, 3],
      [4, 5, 6, 7],
      [8, 9, 10, 11],
    ]);
  });
});

describe('wrapping', () => {
  it('puts a long chain into rows near the wanted proportion, in its order', () => {
    const count = 40;
    const chain = Array.from({ length: count - 1 }, (_, i) => i);
    const each = (value: number) => new Float64Array(count).fill(value);
    const graph = {
      count,
      width: each(120),
      height: each(60),
      x: each(0),
      y: each(0),
      from: Int32Array.from(chain),
      to: Int32Array.from(chain, (i) => i + 1),
      fromOffset: new Float64Array(count - 1).fill(30),
      toOffset: new Float64Array(count - 1).fill(30),
      net: Int32Array.from(chain),
    };
    const rows = wrapped(graph, layOut(graph, { spacing: normalSpacing, keep: 0 }), 1.6)!;
    const [width, height] = [Math.max(...rows.x) + 120, Math.max(...rows.y) + 60];
    expect(width / height).toBeGreaterThan(0.8);
    expect(width / height).toBeLessThan(4);
    // as one reads, each stands behind the one before
    for (let v = 1; v < count; v++) expect(rows.y[v]! > rows.y[v - 1]! || rows.x[v]! > rows.x[v - 1]!).toBe(true);
  });
});
