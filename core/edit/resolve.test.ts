import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { acted } from '../tests/random-act.ts';
import { diff } from './diff.ts';
import { rebase } from './rebase.ts';
import { conflictPoints, resolve } from './resolve.ts';
import { apply } from './step.ts';

/** What comes of mine over theirs, with mine chosen in some conflicts, or in all. */
function resolved(base: Doc, mine: Doc, theirs: Doc, which: 'mine' | 'theirs' | readonly number[]) {
  const rebased = rebase(diff(base, mine), diff(base, theirs), theirs, testKinds);
  const chosen = new Set(which === 'theirs' ? [] : which === 'mine' ? rebased.conflicts.keys() : which);
  const { edit } = resolve({ base, mine, theirs }, rebased, chosen);
  return { doc: apply(theirs, edit), rebased, points: conflictPoints({ base, mine, theirs }, rebased.conflicts) };
}

const start = () =>
  sketchDoc()
    .node('a', 'src', { label: 'Old' })
    .node('b', 'round', { x: 300 })
    .node('c', 'src', { y: 200 })
    .wire('a.out', 'b.in');
const changed = (doc: Doc, id: string, fields: object): Doc => ({
  ...doc,
  nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, ...fields }),
});
const without = (doc: Doc, node: string): Doc => ({
  ...doc,
  nodes: new Map([...doc.nodes].filter(([id]) => id !== node)),
  wires: new Map([...doc.wires].filter(([, wire]) => wire.from.node !== node && wire.to.node !== node)),
});

describe('conflicts side by side', () => {
  it('say what it was, what I made of it and what they did', () => {
    const base = start().doc;
    const { points } = resolved(
      base,
      changed(base, 'a', { label: 'Mine', x: 40 }),
      changed(base, 'a', { label: 'Theirs', x: 80 }),
      'theirs',
    );
    expect(points.map(({ title, rows }) => [title, rows])).toEqual([
      ['“a”', [{ what: 'label', before: 'Old', mine: 'Mine', theirs: 'Theirs' }]],
      ['Place of “a”', [{ what: '“a” x', before: '0', mine: '40', theirs: '80' }]],
    ]);
  });

  it('of places are one choice, whatever was moved', () => {
    const base = start().doc;
    const moved = (dx: number): Doc => changed(changed(base, 'a', { x: dx }), 'b', { x: 300 + dx });
    expect(resolved(base, moved(10), moved(20), 'theirs').points).toMatchObject([
      { title: 'Places of 2 things', conflicts: [0, 1], ids: ['a', 'b'] },
    ]);
    const { doc } = resolved(base, moved(10), moved(20), 'mine');
    expect([doc.nodes.get('a')!.x, doc.nodes.get('b')!.x]).toEqual([10, 310]);
  });

  it('bring back what they deleted and I changed, with its wires; or delete what they changed', () => {
    const base = start().doc;
    const kept = resolved(base, changed(base, 'a', { label: 'Needed' }), without(base, 'a'), 'mine');
    expect(kept.points[0]!.rows).toEqual([
      { what: 'The thing itself', before: 'kept', mine: 'label: Needed', theirs: 'deleted' },
    ]);
    expect([kept.doc.nodes.get('a')?.label, [...kept.doc.wires.values()].map((wire) => wire.to.node)]).toEqual([
      'Needed',
      ['b'],
    ]);
    const gone = resolved(base, without(base, 'a'), changed(base, 'a', { label: 'Theirs' }), 'mine');
    expect([gone.doc.nodes.has('a'), gone.doc.wires.size]).toEqual([false, 0]);
    expect(
      resolved(base, without(base, 'a'), changed(base, 'a', { label: 'Theirs' }), 'theirs').doc.nodes.get('a')?.label,
    ).toBe('Theirs');
  });

  it('give an input the wire that was chosen', () => {
    const base = sketchDoc().node('a', 'src').node('b', 'round', { x: 300 }).node('c', 'src', { y: 200 }).doc;
    const mine = sketchDoc(base).wire('a.out', 'b.in').doc;
    const theirs = sketchDoc(base).wire('c.out', 'b.in').doc;
    const sources = (which: 'mine' | 'theirs') =>
      [...resolved(base, mine, theirs, which).doc.wires.values()].map((wire) => wire.from.node);
    expect([sources('mine'), sources('theirs')]).toEqual([['a'], ['c']]);
    expect(resolved(base, mine, theirs, 'mine').points[0]!.rows).toEqual([
      { what: 'What feeds in of “b”', before: 'nothing', mine: 'out of “a”', theirs: 'out of “c”' },
    ]);
  });

  it('end in a document that can be read, whatever is chosen, and as rebase alone where theirs is', async () => {
    let met = 0;
    await fc.assert(
      fc.asyncProperty(
        docArbitrary(14),
        fc.nat(1000),
        fc.nat(1000),
        fc.array(fc.nat(12)),
        async (base, one, other, some) => {
          const [mine, theirs] = [await acted(base, one), await acted(base, other)];
          const { rebased, points } = resolved(base, mine, theirs, 'theirs');
          met += rebased.conflicts.length;
          expect(resolve({ base, mine, theirs }, rebased, new Set()).edit).toBe(rebased.edit);
          for (const which of ['mine' as const, some])
            expect(problems(resolved(base, mine, theirs, which).doc)).toEqual([]);
          // each conflict is decided in one point
          expect(points.flatMap((point) => point.conflicts).sort((a, b) => a - b)).toEqual([
            ...rebased.conflicts.keys(),
          ]);
          // what I set stands where I am chosen, and what I deleted is gone
          const { doc } = resolved(base, mine, theirs, 'mine');
          for (const { mine: step } of rebased.conflicts) {
            if (step.table !== 'nodes') continue;
            if (step.type === 'remove') expect(doc.nodes.has(step.id)).toBe(false);
            else if (step.type === 'set' && step.path[0] === 'x') expect(doc.nodes.get(step.id)?.x).toBe(step.to);
          }
          expect(writeDoc(resolved(base, mine, base, 'mine').doc)).toBe(writeDoc(mine));
        },
      ),
    );
    expect(met).toBeGreaterThan(20);
  });
});
