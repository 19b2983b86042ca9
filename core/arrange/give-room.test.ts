import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, nodesWithin } from '../document/doc.ts';
import { frameRects, overlaps, rectOf } from '../document/geometry.ts';
import { measureGraph } from '../inspect/measure.ts';
import { operationById } from '../operations.ts';
import { Refused } from '../said.ts';
import { act } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds, unpinned } from '../tests/arbitrary.ts';
import { messyDoc } from '../tests/messy.ts';
import { giveRoom } from './give-room.ts';
import { moved } from './selection.ts';

/** Pairs of frames that overlap though neither holds the other, as text. */
function framesOnFrames(doc: Doc): Set<string> {
  const rects = [...frameRects(doc, testKinds, 'root')];
  const around = (id: string): Set<string> => {
    const found = new Set<string>();
    for (let at = doc.frames.get(id)?.parent; at !== undefined && !found.has(at); at = doc.frames.get(at)?.parent)
      found.add(at);
    return found;
  };
  return new Set(
    rects.flatMap(([a, one], i) =>
      rects
        .slice(i + 1)
        .flatMap(([b, other]) => (overlaps(one, other) && !around(a).has(b) && !around(b).has(a) ? [`${a} ${b}`] : [])),
    ),
  );
}

describe('making room', () => {
  it('leaves no frames on one another that were apart, whatever node is moved where', () => {
    fc.assert(
      fc.property(
        docArbitrary(14),
        fc.nat(),
        fc.integer({ min: -600, max: 600 }),
        fc.integer({ min: -400, max: 400 }),
        (any, pick, dx, dy) => {
          const doc = unpinned(any);
          const mine = [...doc.nodes.values()].filter((node) => node.graph === 'root');
          if (mine.length === 0) return;
          const node = mine[pick % mine.length]!;
          const after = moved(doc, new Map([[node.id, { x: node.x + dx, y: node.y + dy }]]));
          const roomy = moved(after, giveRoom(doc, after, testKinds, 'root'));
          const before = framesOnFrames(doc);
          for (const pair of framesOnFrames(roomy)) expect(before.has(pair), pair).toBe(true);
          // what was put there stays
          if (node.frame === undefined)
            expect(roomy.nodes.get(node.id)).toMatchObject({ x: node.x + dx, y: node.y + dy });
        },
      ),
      { numRuns: 150 },
    );
  });

  it('is done by every act that moves nodes or frames them: no frame comes to lie on one that it was clear of', async () => {
    const acts: readonly [string, Record<string, unknown>][] = [
      ['move', { dx: 260, dy: 40 }],
      ['nudge', { direction: 'down' }],
      ['align-left', {}],
      ['distribute-x', {}],
      ['spread', {}],
      ['to-grid', {}],
      ['mirror-x', {}],
      ['rotate', {}],
      ['frame', { title: 'Bay' }],
      ['settle', {}],
    ];
    await fc.assert(
      fc.asyncProperty(docArbitrary(14), fc.nat(), fc.nat(), async (any, which, bits) => {
        const doc = unpinned(any);
        const some = [...doc.nodes.values()]
          .filter((node, i) => node.graph === 'root' && (bits >> (i % 16)) % 2 === 0)
          .map((node) => node.id);
        const [id, options] = acts[which % acts.length]!;
        operationById(id);
        let after: Doc;
        try {
          ({ doc: after } = await act(id, doc, some, options));
        } catch (error) {
          if (error instanceof Refused) return;
          throw error;
        }
        const before = framesOnFrames(doc);
        for (const pair of framesOnFrames(after)) expect(before.has(pair), `${id}: ${pair}`).toBe(true);
      }),
      { numRuns: 200 },
    );
  });

  it('moves a frame with all that it holds out of the way of a node that is put into its tint', async () => {
    const base = sketchDoc()
      .node('a', 'src', { x: 0, y: 0 })
      .node('b', 'round', { x: 420, y: 0 })
      .node('c', 'round', { x: 640, y: 0 })
      .wire('a.out', 'b.in').doc;
    const { doc } = await act('frame', base, ['b', 'c'], { title: 'Tail' });
    const { doc: after } = await act('add-node', doc, ['a'], { kind: 'add' });
    const frame = [...after.frames.keys()][0]!;
    const added = [...after.nodes.values()].find((node) => !doc.nodes.has(node.id))!;
    expect(added.frame).toBeUndefined();
    const rect = frameRects(after, testKinds, 'root').get(frame)!;
    expect(overlaps(rect, rectOf(after, testKinds, added))).toBe(false);
    // the frame went as a whole
    const [was, is] = [doc, after].map((one) => nodesWithin(one, frame).map((node) => node.x)) as [number[], number[]];
    expect(is[1]! - is[0]!).toBe(was[1]! - was[0]!);
  });
});

describe('settling', () => {
  it('never adds a crossing, an overlap or a wire through a node', async () => {
    for (const seed of [1, 2, 3, 4]) {
      const doc = messyDoc(seed, 40 + seed * 20);
      const [before, after] = [
        measureGraph(doc, testKinds, 'root'),
        measureGraph((await act('settle', doc, [])).doc, testKinds, 'root'),
      ];
      expect(after.crossings).toBeLessThanOrEqual(before.crossings);
      expect(after.overlaps).toBeLessThanOrEqual(before.overlaps);
      expect(after.throughNodes).toBeLessThanOrEqual(before.throughNodes);
    }
  });
});
