import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { editedProblems } from '../document/file.ts';
import { diff } from '../edit/diff.ts';
import { apply } from '../edit/step.ts';
import { act } from '../tests/acts.ts';
import { docArbitrary, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { denseArbitrary } from '../tests/dense.ts';
import { actedWidely } from '../tests/random-act.ts';
import { changeGroups, withoutGroups } from './change-groups.ts';

const groupsOf = (before: Doc, after: Doc) => {
  const edit = diff(before, after);
  return { edit, groups: changeGroups(before, after, edit, testKinds) };
};
const told = (before: Doc, after: Doc): string[] =>
  groupsOf(before, after).groups.map(({ what, of, said, things }) => `${what} | ${of} | ${said} | ${things}`);
const without = (before: Doc, after: Doc, isLeft: (what: string) => boolean): Doc => {
  const { edit, groups } = groupsOf(before, after);
  const left = new Set(groups.flatMap((group) => (isLeft(group.what) ? [group.key] : [])));
  const edited = withoutGroups(edit, groups, left);
  const doc = apply(before, edited);
  expect(editedProblems(doc, edited)).toEqual([]);
  return doc;
};

describe('groups of changes', () => {
  const base = sketchDoc()
    .node('a', 'src', { params: { value: 2 } })
    .node('b', 'src', { params: { value: 2 }, y: 90 })
    .node('m', 'add', { x: 200 })
    .node('e', 'end', { x: 400 })
    .wire('a.out', 'm.b')
    .wire('m.out', 'e.in').doc;

  it('put the same change of many nodes together, by kind, parameter and values', async () => {
    const { doc: valued } = await act('set-parameter', base, ['a', 'b'], { parameter: 'value', value: 5 });
    const { doc: moved } = await act('move', valued, ['a', 'm'], { dx: 8, dy: 0 });
    const { doc: off } = await act('bypass', moved, ['m']);
    const { doc } = await act('label', off, ['e'], { label: 'Sea' });
    expect(told(base, doc)).toEqual([
      'Value | Source | 2 → 5 | 2',
      'Place and size |  |  | 2',
      'Label | End | none → Sea | 1',
      'Bypassed | Add | off → on | 1',
    ]);
    const kept = without(base, doc, (what) => what === 'Place and size');
    expect(kept.nodes.get('a')).toMatchObject({ x: base.nodes.get('a')!.x, params: { value: 5 } });
    expect(kept.nodes.get('e')!.label).toBe('Sea');
  });

  it('have the same key in every file', () => {
    const set = (id: string, from: number, to: number) => {
      const doc = (value: number) => sketchDoc().node(id, 'src', { params: { value } }).doc;
      return groupsOf(doc(from), doc(to)).groups.map(({ key }) => key);
    };
    expect(set('a', 2, 5)).toEqual(set('other', 2, 5));
    expect(set('a', 2, 5)).not.toEqual(set('a', 2, 6));
  });

  it('keep what needs one another together: a node comes with its wires', async () => {
    const { doc } = await act('add-node', base, ['m'], { kind: 'add' });
    const { groups } = groupsOf(base, doc);
    const added = groups.filter(({ what }) => what === 'Nodes added');
    expect(added).toHaveLength(1);
    // without it all is as it was, the wires that were led over it, too
    const left = without(base, doc, (what) => what === 'Nodes added');
    expect(left.wires).toEqual(base.wires);
    expect(left.nodes.size).toBe(base.nodes.size);
  });

  it('exchange names together or not at all', () => {
    const named = (a: string, b: string) => sketchDoc().node('a', 'src', { name: a }).node('b', 'src', { name: b }).doc;
    const [before, after] = [named('One', 'Two'), named('Two', 'One')];
    expect(told(before, after)).toEqual(['Name | Source | different values | 2']);
  });

  it('are one where there are many different values', () => {
    const doc = (by: number) => {
      let pad = sketchDoc();
      for (let i = 0; i < 20; i++) pad = pad.node(`n${i}`, 'src', { params: { value: i * by } });
      return pad.doc;
    };
    expect(told(doc(1), doc(3))).toEqual(['Value | Source | different values | 19']);
  });

  it('hold each step once, and what is left of an edit without any of them can be stored', () => {
    fc.assert(
      fc.property(
        fc.oneof(docArbitrary(16), denseArbitrary()),
        fc.array(fc.nat(2 ** 30), { minLength: 1, maxLength: 6 }),
        fc.infiniteStream(fc.boolean()),
        (before, seeds, coins) => {
          const after = seeds.reduce((doc, seed) => actedWidely(doc, seed).doc, before);
          const { edit, groups } = groupsOf(before, after);
          expect(groups.flatMap((group) => group.steps).sort((a, b) => a - b)).toEqual(edit.steps.map((_, i) => i));
          const left = new Set(groups.flatMap(({ key }) => (coins.next().value ? [key] : [])));
          const part = withoutGroups(edit, groups, left);
          const doc = apply(before, part);
          expect(editedProblems(doc, part)).toEqual([]);
          if (left.size === groups.length) expect(plainDoc(doc)).toEqual(plainDoc(before));
        },
      ),
      { numRuns: 200 },
    );
  });
});
