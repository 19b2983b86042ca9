import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, overlaps } from '../document/geometry.ts';
import { seededRandom } from '../document/ids.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { framesBackToFront } from '../structure/frames.ts';
import { act } from '../tests/acts.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';

const pair = () =>
  sketchDoc()
    .frame('bay')
    .frame('cove')
    .frame('pool', { parent: 'bay' })
    .node('a', 'src', { x: 0, y: 0, frame: 'bay' })
    .node('b', 'src', { x: 60, y: 30, frame: 'cove' })
    .node('c', 'src', { x: 90, y: 60 })
    .node('d', 'src', { x: 10, y: 10, frame: 'pool' });

const rectOfFrame = (doc: Doc, id: string) => frameRects(doc, testKinds, 'root').get(id)!;
const order = (doc: Doc): string[] =>
  framesBackToFront(doc, 'root', frameRects(doc, testKinds, 'root')).map(({ frame }) => frame.id);

describe('the shape of frames', () => {
  it('is what was asked for, as far as what it holds stays inside', async () => {
    const { doc } = pair();
    const rect = rectOfFrame(doc, 'cove');
    const wide = await act('frame-size', doc, ['cove'], {
      x: rect.x - 100,
      y: rect.y - 10,
      width: rect.width + 150,
      height: rect.height + 20,
    });
    expect(rectOfFrame(wide.doc, 'cove')).toEqual({
      x: rect.x - 100,
      y: rect.y - 10,
      width: rect.width + 150,
      height: rect.height + 20,
    });
    // and follows its members with that margin
    const moved = await act('move', wide.doc, ['b'], { dx: 7, dy: 5 });
    expect(rectOfFrame(moved.doc, 'cove').x).toBe(rect.x - 93);
    const narrow = await act('frame-size', doc, ['cove'], { x: 80, y: 60, width: 5, height: 5 });
    expect(narrow.doc.frames.get('cove')!.pad).toEqual({ left: 0, top: 22, right: 0, bottom: 0 });
    expect((await act('frame-fit', narrow.doc, ['cove'])).doc.frames.get('cove')!.pad).toBeUndefined();
    const empty = await act('frame-size', sketchDoc().frame('f').doc, ['f'], { x: 5, y: 6, width: 300, height: 2 });
    expect(empty.doc.frames.get('f')).toMatchObject({ x: 5, y: 6, width: 300, height: 44 });
  });

  it('has the larger behind the smaller, unless one is brought to the front or the back', async () => {
    const { doc } = pair();
    expect(order(doc)).toEqual(['bay', 'cove', 'pool']);
    const front = (await act('frame-front', doc, ['bay'])).doc;
    expect(order(front)).toEqual(['cove', 'bay', 'pool']);
    expect(order((await act('frame-front', front, ['cove'])).doc)).toEqual(['bay', 'cove', 'pool']);
    expect(order((await act('frame-back', doc, ['cove'])).doc)).toEqual(['cove', 'bay', 'pool']);
    expect(order((await act('frame-by-size', front, [])).doc)).toEqual(order(doc));
  });

  it('sorts the same from any start', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 0, max: 2 }), (seed, orders) => {
        const random = seededRandom(seed);
        const doc = docFromSeed(seed, 12);
        const frames = [...doc.frames.values()].map((frame) => ({
          ...frame,
          width: 100,
          height: 100,
          order: Math.floor(random() * (orders + 1)),
        }));
        const shuffled = [...frames].sort(() => random() - 0.5);
        const at = (rows: typeof frames): Doc => ({ ...doc, frames: new Map(rows.map((frame) => [frame.id, frame])) });
        expect(order(at(shuffled))).toEqual(order(at(frames)));
      }),
    );
  });

  it('gets room between frames, members with their frames, and nobody changes frames', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 2, max: 20 }), async (seed, size) => {
        const start = docFromSeed(seed, size);
        // pinned nodes stay, so that what stands there may not get away
        const doc = { ...start, nodes: new Map([...start.nodes].map(([id, { pinned: _, ...node }]) => [id, node])) };
        const after = apply(
          doc,
          (
            await runOperation(
              'frame-spacing',
              createContext(testKinds, 1),
              doc,
              { graph: 'root', items: [] },
              { gap: 40 },
            )
          ).edit,
        );
        const rects = frameRects(after, testKinds, 'root');
        const frames = indexOf(after).framesIn('root');
        for (const one of frames)
          for (const other of frames) {
            if (one === other || one.parent !== other.parent) continue;
            const { x, y, width, height } = rects.get(one.id)!;
            expect(
              overlaps({ x: x - 38, y: y - 38, width: width + 76, height: height + 76 }, rects.get(other.id)!),
            ).toBe(false);
          }
        for (const node of doc.nodes.values()) expect(after.nodes.get(node.id)!.frame).toBe(node.frame);
      }),
      { numRuns: 80 },
    );
  }, 60_000);
});

describe('members', () => {
  it('join and leave by a clear act, frames too, and never lie in themselves', async () => {
    const { doc } = pair();
    const joined = await act('to-frame', doc, ['c', 'cove'], { frame: 'bay' });
    expect([
      joined.doc.nodes.get('c')!.frame,
      joined.doc.frames.get('cove')!.parent,
      joined.doc.nodes.get('b')!.frame,
    ]).toEqual(['bay', 'bay', 'cove']);
    expect(joined.report.summary).toBe('Moved 1 node and 1 frame into “bay”.');
    await expect(act('to-frame', doc, ['bay'], { frame: 'pool' })).rejects.toThrow(
      'cannot become a member of what lies in it',
    );
    const left = await act('leave-frame', doc, ['d', 'b']);
    expect([left.doc.nodes.get('d')!.frame, left.doc.nodes.get('b')!.frame]).toEqual(['bay', undefined]);
    await expect(act('leave-frame', doc, ['c'])).rejects.toThrow('Nothing of the selection is in a frame.');
  });

  it('stay what they are by every act that places things', async () => {
    const acts: [string, object][] = [
      ['move', { dx: 40, dy: 3 }],
      ['nudge', {}],
      ['arrange', {}],
      ['unstack', {}],
      ['align-left', {}],
      ['distribute-x', {}],
      ['spread', { x: 2, y: 0.5 }],
      ['rotate', {}],
      ['make-room', {}],
      ['flow', { to: 'down' }],
      ['frame-spacing', {}],
      ['to-grid', {}],
    ];
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 1_000_000 }),
        fc.integer({ min: 3, max: 20 }),
        fc.constantFrom(...acts),
        async (seed, size, [id, options]) => {
          const random = seededRandom(seed);
          const doc = docFromSeed(seed, size);
          const items = [...indexOf(doc).nodesIn('root'), ...indexOf(doc).framesIn('root')]
            .map((item) => item.id)
            .filter(() => random() < 0.5);
          try {
            const after = apply(
              doc,
              (await runOperation(id, createContext(testKinds, 1), doc, { graph: 'root', items }, options)).edit,
            );
            for (const node of doc.nodes.values()) expect(after.nodes.get(node.id)!.frame).toBe(node.frame);
            for (const frame of doc.frames.values()) expect(after.frames.get(frame.id)!.parent).toBe(frame.parent);
          } catch (error) {
            if (!(error instanceof Refused)) throw error;
          }
        },
      ),
      { numRuns: 120 },
    );
  }, 60_000);
});

describe('notes that are tied', () => {
  const tied = () => {
    const { doc } = pair();
    const note = (id: string, tiedTo?: string) =>
      [
        id,
        {
          id,
          graph: 'root',
          x: 300,
          y: 300,
          width: 80,
          height: 40,
          text: 'Ask the dome team',
          ...(tiedTo && { tiedTo }),
        },
      ] as const;
    return { ...doc, notes: new Map([note('t1', 'c'), note('t2', 'bay'), note('t3')]) };
  };

  it('keep their places beside what they speak of', async () => {
    const moved = await act('move', tied(), ['c', 'a', 'd'], { dx: 10, dy: -5 });
    const at = (id: string): number[] => [moved.doc.notes.get(id)!.x, moved.doc.notes.get(id)!.y];
    expect([at('t1'), at('t2'), at('t3')]).toEqual([
      [310, 295],
      [310, 295],
      [300, 300],
    ]);
    // moved itself as well, it is not moved twice
    const both = await act('move', tied(), ['c', 't1'], { dx: 10, dy: 0 });
    expect(both.doc.notes.get('t1')!.x).toBe(310);
  });
});
