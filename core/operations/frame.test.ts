import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { indexOf } from '../document/doc.ts';
import { framesAround } from '../document/geometry.ts';
import { seededRandom } from '../document/ids.ts';
import { problems } from '../document/validate.ts';
import { apply, invert } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { act } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds, unpinned } from '../tests/arbitrary.ts';

const reef = () =>
  sketchDoc()
    .frame('bay', { title: 'Bay' })
    .frame('cove', { title: 'Cove', parent: 'bay' })
    .node('a', 'src', { name: 'Kelp_Rim_Level', frame: 'cove' })
    .node('b', 'add', { name: 'Kelp_Rim_Sum', frame: 'bay' })
    .node('c', 'tint', { name: 'Glow' })
    .node('d', 'src', { name: 'Source3' })
    .node('e', 'src', { name: 'Kelp_Floor', frame: 'cove' });

describe('framing', () => {
  it('puts a frame within the one that all were in, titled by what their names share; who leaves another is told', async () => {
    const { doc, report } = await act('frame', reef().doc, ['a', 'b']);
    const frame = doc.frames.get(report.select![0]!)!;
    expect(frame).toMatchObject({ title: 'Kelp Rim', parent: 'bay' });
    expect(['a', 'b', 'c'].map((id) => doc.nodes.get(id)!.frame)).toEqual([frame.id, frame.id, undefined]);
    expect(report.findings.map((item) => item.message)).toEqual(['“Kelp_Rim_Level” leaves the frame “Cove”.']);
  });

  it('takes frames into frames, with all that they hold', async () => {
    const { doc, report } = await act('frame', reef().doc, ['bay', 'a', 'c'], { title: 'Night' });
    const frame = report.select![0]!;
    expect(doc.frames.get('bay')!.parent).toBe(frame);
    // what lies in a frame that comes along stays where it is
    expect(['a', 'c'].map((id) => doc.nodes.get(id)!.frame)).toEqual(['cove', frame]);
    expect(report.summary).toBe('Framed 1 node and 1 frame as “Night”.');
  });

  it('takes a frame of which all nodes are selected as a whole, where something beside it is', async () => {
    const { doc, report } = await act('frame', reef().doc, ['a', 'b', 'e', 'c']);
    expect([doc.frames.get('bay')!.parent, doc.nodes.get('a')!.frame, doc.nodes.get('c')!.frame]).toEqual([
      report.select![0],
      'cove',
      report.select![0],
    ]);
    expect(report.findings).toEqual([]);
    const alone = await act('frame', reef().doc, ['a']);
    expect(alone.doc.frames.get(alone.report.select![0]!)!.parent).toBe('cove');
  });

  it.each([
    [['c', 'd'], 'Mathematics'],
    [['c'], 'Mathematics'],
    [['bay'], 'Bay'],
  ])('proposes a title for %s', async (items, title) => {
    const { doc, report } = await act('frame', reef().doc, items);
    expect(doc.frames.get(report.select![0]!)!.title).toBe(title);
  });

  it('is titled and noted, and says what it wants', async () => {
    const { doc } = await act('frame-title', reef().doc, ['bay'], { title: '  Harbour ' });
    expect(doc.frames.get('bay')!.title).toBe('Harbour');
    const noted = await act('frame-note', doc, ['bay'], { note: 'Wired after the rehearsal.' });
    expect(noted.doc.frames.get('bay')!.note).toBe('Wired after the rehearsal.');
    expect('note' in (await act('frame-note', noted.doc, ['bay'], { note: ' ' })).doc.frames.get('bay')!).toBe(false);
    await expect(act('frame-title', doc, ['a'], { title: 'x' })).rejects.toThrow('Select one frame first.');
    const wire = reef().wire('a.out', 'b.a').doc;
    await expect(act('frame', wire, ['a.out>b.a'])).rejects.toThrow('Select nodes or frames first.');
  });

  it('moves nothing but frames that would lie under the new one, changes no other member, makes no ring of frames, and is taken back exactly', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 1_000_000 }),
        fc.integer({ min: 1, max: 20 }),
        fc.integer({ min: 1, max: 5 }),
        async (seed, size, acts) => {
          const random = seededRandom(seed);
          // what is pinned stays before anything else
          let doc = unpinned(docFromSeed(seed, size));
          for (let i = 0; i < acts; i++) {
            const items = [...indexOf(doc).nodesIn('root'), ...indexOf(doc).framesIn('root')]
              .map((item) => item.id)
              .filter(() => random() < 0.3);
            let edit: Parameters<typeof apply>[1];
            try {
              ({ edit } = await runOperation('frame', createContext(testKinds, i + 1), doc, { graph: 'root', items }));
            } catch (error) {
              if (!(error instanceof Refused)) throw error;
              continue;
            }
            const after = apply(doc, edit);
            expect(problems(after)).toEqual([]);
            expect(plainDoc(apply(after, invert(edit)))).toEqual(plainDoc(doc));
            const chosen = new Set(items);
            for (const node of doc.nodes.values()) {
              const now = after.nodes.get(node.id)!;
              const around = framesAround(doc, node);
              const comesAlong = around.some((frame) => chosen.has(frame.id));
              if (chosen.has(node.id) || comesAlong || around.length === 0)
                expect([now.x, now.y]).toEqual([node.x, node.y]);
              if (!chosen.has(node.id) || comesAlong) expect(now.frame).toBe(node.frame);
              // nobody is in a frame that it was not in, but the new one
              if (now.frame !== node.frame) expect(doc.frames.has(now.frame!)).toBe(false);
            }
            doc = after;
          }
        },
      ),
      { numRuns: 120 },
    );
  }, 60_000);
});
