import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { editDistance, Finder, neighboursOf } from './find.ts';

const finderOf = (doc: Doc): Finder => {
  const finder = new Finder(testKinds);
  for (const _ of finder.follow(doc));
  return finder;
};
const ids = (doc: Doc, text: string): string[] =>
  finderOf(doc)
    .find(text)
    .map((hit) => hit.id);

const { doc } = sketchDoc()
  .graph('g1', { name: 'DomeFinish' })
  .frame('f', { title: 'Far kelp beds' })
  .node('m10', 'add', { name: 'Merge_10' })
  .node('m2', 'add', { name: 'Merge_2' })
  .node('m1', 'add', { name: 'Merge_1', label: 'Kelp over water' })
  .node('k', 'src', { name: 'KelpSway', params: { value: 42 } })
  .node('p', 'src', { name: 'RN0010_Plankton_Render', params: { path: 'shots/reef/plankton.exr' } })
  .node('h', builtin.nested, { name: 'Finish', inner: 'g1' })
  .node('deep', 'tint', { name: 'RimMatte', graph: 'g1' });

describe('finding', () => {
  it.each([
    ['whole names first', 'merge_1', 'm1'],
    ['parts of names', 'sway', 'k'],
    ['the middle of a word', 'ankton', 'p'],
    ['labels', 'over water', 'm1'],
    ['frame titles', 'kelp beds', 'f'],
    ['names of nested graphs', 'domefinish', 'h'],
    ['what lies in nested graphs', 'rimmatte', 'deep'],
    ['values of parameters', 'plankton.exr', 'p'],
    ['numbers', '42', 'k'],
    ['two words in any order', 'render plankton', 'p'],
    ['a typing mistake', 'plnakton', 'p'],
    ['two typing mistakes in a long word', 'planktn rendre', 'p'],
    ['kinds', 'tint', 'deep'],
  ])('knows %s: “%s”', (_what, text, first) => {
    expect(ids(doc, text)[0]).toBe(first);
  });

  it('does not take a short word for another: two mistakes are too many in five letters', () => {
    const { doc: two } = sketchDoc()
      .node('r', 'src', { name: 'Plankton_Read' })
      .node('w', 'src', { name: 'Plankton_Render' });
    expect(ids(two, 'plankton rendr')).toEqual(['w']);
  });

  // Levenshtein 1966: kitten to sitting takes three; Damerau 1964: neighbours that changed places are one mistake
  it.each([
    ['kitten', 'sitting', 3],
    ['rendre', 'render', 1],
    ['saturday', 'sunday', 3],
    // the optimal string alignment distance of this pair is 3, Damerau's own would be 2 (textbook example, from memory)
    ['ca', 'abc', 3],
    ['', 'abc', 3],
    ['same', 'same', 0],
  ])('counts the mistakes from “%s” to “%s”', (a, b, mistakes) => {
    expect(editDistance(a, b)).toBe(mistakes);
    expect(editDistance(b, a)).toBe(mistakes);
  });

  it('lists equals by the numbers in their names, names before labels before kinds', () => {
    expect(ids(doc, 'merge')).toEqual(['m1', 'm2', 'm10']);
    expect(ids(doc, 'kelp').slice(0, 3).sort()).toEqual(['f', 'k', 'm1']);
    expect(ids(doc, 'source')).toEqual(['k', 'p']);
    expect(ids(doc, 'nothing of the kind')).toEqual([]);
    expect(ids(doc, '  ')).toEqual([]);
  });

  it('follows the document: what was renamed, added or taken away is found so at once', () => {
    const finder = finderOf(doc);
    const nodes = new Map(doc.nodes);
    nodes.set('k', { ...nodes.get('k')!, name: 'Lantern' });
    nodes.set('new', { ...nodes.get('m2')!, id: 'new', name: 'Beam' });
    nodes.delete('p');
    for (const _ of finder.follow({ ...doc, nodes }));
    expect(finder.find('lantern').map((hit) => hit.id)).toEqual(['k']);
    expect(finder.find('beam').map((hit) => hit.id)).toEqual(['new']);
    expect(finder.find('plankton')).toEqual([]);
    expect(finder.find('sway')).toEqual([]);
  });

  it('finds every node of a random document by its whole name, among the first by far', () => {
    const random = docFromSeed(11, 60);
    const finder = finderOf(random);
    for (const node of random.nodes.values()) expect(finder.find(node.name, 3).map((hit) => hit.id)).toContain(node.id);
  });

  it('tells nodes of one name apart by what they are wired to', () => {
    const wired = sketchDoc(doc)
      .node('q', 'round', { x: 9 })
      .wire('k.out', 'm2.a')
      .wire('p.out', 'm2.b')
      .wire('m2.out', 'q.in').doc;
    const { before, after, more } = neighboursOf(wired, 'm2', 1);
    expect([before.map((node) => node.id), after.map((node) => node.id), more]).toEqual([['k'], ['q'], 1]);
  });
});
