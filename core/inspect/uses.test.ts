import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { diff } from '../edit/diff.ts';
import { docArbitrary, sketchDoc, testKinds, wideKinds } from '../tests/arbitrary.ts';
import { countUses, nodesUsing, textOfUse, type UseCount, useChanges } from './uses.ts';

const sum = (counts: readonly UseCount[]): Map<string, number> => {
  const all = new Map<string, number>();
  for (const { what, name, value, count } of counts) {
    const key = JSON.stringify([what, name, value]);
    all.set(key, (all.get(key) ?? 0) + count);
  }
  return new Map([...all].filter(([, count]) => count !== 0).sort(([a], [b]) => (a < b ? -1 : 1)));
};

describe('where things are used', () => {
  const { doc } = sketchDoc()
    .node('a', 'reader', { params: { file: 'maps/kelp.exr', gain: 2 } })
    .node('b', 'reader', { params: { file: '' } })
    .node('c', 'shared.glow.2', { params: { value: { expression: ['2 * ', { node: 'a', parameter: 'gain' }] } } })
    .node('bc', builtin.beacon, { name: 'Moon' })
    .node('tp', builtin.tap, { beacon: { id: 'bc', name: 'Moon' } });

  it('is found by kind, shared kind, value, asset and beacon', () => {
    const found = (query: Parameters<typeof nodesUsing>[2]): string[] => nodesUsing(doc, wideKinds, query);
    expect(found({ what: 'kind', name: 'reader' })).toEqual(['a', 'b']);
    expect(found({ what: 'shared', name: 'glow' })).toEqual(['c']);
    expect(found({ what: 'shared', name: 'glow', value: '1' })).toEqual([]);
    expect(found({ what: 'asset', name: 'maps/kelp.exr' })).toEqual(['a']);
    expect(found({ what: 'value', name: 'gain', value: '2' })).toEqual(['a']);
    expect(found({ what: 'value', value: '2' })).toEqual(['a']);
    expect(found({ what: 'value', name: 'value', value: '= 2 * [gain]' })).toEqual(['c']);
    expect(found({ what: 'asset', name: 'maps/', match: 'starts' })).toEqual(['a']);
    expect([
      found({ what: 'asset', name: 'maps/kelp.exr', value: 'read' }),
      found({ what: 'asset', name: 'maps/kelp.exr', value: 'written' }),
    ]).toEqual([['a'], []]);
    expect(found({ what: 'beacon', name: 'Moon' })).toEqual(['bc', 'tp']);
    expect(found({ what: 'beacon', name: 'Moon', value: 'tap' })).toEqual(['tp']);
  });

  it('is counted, and long text is kept by its beginning', () => {
    expect(countUses(doc, wideKinds).find((use) => use.what === 'kind' && use.name === 'reader')?.count).toBe(2);
    expect(textOfUse('x'.repeat(500))).toHaveLength(180);
    expect(textOfUse([1, 0.5, -0])).toBe('[1,0.5,0]');
  });

  it('changes by an edit as much as counting anew says', () => {
    fc.assert(
      fc.property(docArbitrary(14), docArbitrary(14), (one, other) => {
        const changes = useChanges(one, other, diff(one, other), { before: testKinds, after: testKinds });
        expect(sum([...countUses(one, testKinds), ...changes])).toEqual(sum(countUses(other, testKinds)));
      }),
    );
  });

  it('counts all anew where the kinds are others: a path may be one no more', () => {
    const changes = useChanges(doc, doc, { steps: [] }, { before: wideKinds, after: testKinds });
    expect(sum([...countUses(doc, wideKinds), ...changes])).toEqual(sum(countUses(doc, testKinds)));
    expect(changes.length).toBeGreaterThan(0);
  });
});

it('is looked up by part of a title or an id, whatever its capitals', () => {
  const { doc } = sketchDoc()
    .node('a', 'reader', { params: { file: 'maps/Kelp_v2.exr' } })
    .node('b', 'shared.glow.2')
    .node('c', 'src', { params: { value: 4 } });
  const found = (what: 'kind' | 'shared' | 'asset' | 'value', name: string) =>
    nodesUsing(doc, wideKinds, { what, name, match: 'part' });
  expect(found('kind', 'map READ')).toEqual(['a']);
  expect(found('kind', 'src')).toEqual(['c']);
  expect(found('asset', 'kelp')).toEqual(['a']);
  expect(found('shared', 'glo')).toEqual(['b']);
  expect(found('value', 'Valu')).toEqual(['c']);
  expect(found('kind', 'nothing of the kind')).toEqual([]);
});
