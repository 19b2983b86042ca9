import { describe, expect, it } from 'vitest';
import { recipeSchema } from '../batch/recipe.ts';
import { runRecipe } from '../batch/run.ts';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { act } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { checkRules, leftoverRules } from './rules.ts';

const feed = (name: string, more = {}) => ({
  name,
  params: { types: 'num' },
  ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' as const }],
  ...more,
});
const found = (doc: Doc, rule: string) => checkRules(doc, testKinds).filter((item) => item.rule === rule);

/** Two lamps, two feeds and a render that would take from either. */
const clash = () =>
  sketchDoc()
    .node('s', 'src', { name: 'Sun' })
    .node('m', 'src', { name: 'Moon', y: 200, params: { value: 3 } })
    .node('f1', builtin.feed, feed('Day'))
    .node('f2', builtin.feed, feed('Night'))
    .node('x', 'tint', { name: 'Kelp' })
    .node('e', 'end')
    .wire('s.out', 'f1.in')
    .wire('m.out', 'f2.in')
    .wire('x.out', 'e.in');

describe('feeds that clash', () => {
  it('are a finding with a choice for each, and what stands behind them is not taken for unused', async () => {
    const [one, ...more] = found(clash().doc, 'feed-clash');
    expect(more).toEqual([]);
    expect(one!.choices!.map(({ title }) => title)).toEqual(['Bypass “Day”', 'Bypass “Night”']);
    expect(checkRules(clash().doc, testKinds, leftoverRules).map((item) => item.rule)).toEqual(['feed-clash']);
    const { operation, selection, options } = one!.choices![0]!;
    const { doc } = await act(operation, clash().doc, [...selection], options);
    expect(effectiveWiring(doc, testKinds).source('x', 'amount')).toMatchObject({ node: 'm', feed: 'f2' });
  });

  it('are left to be chosen by fixing all and clearing out, which say so', async () => {
    const recipe = recipeSchema.parse({ steps: [{ do: 'fix', rules: leftoverRules.map(({ id }) => id) }] });
    const outcome = await runRecipe(clash().doc, recipe, { kinds: testKinds, seed: 1, catalogues: [] });
    expect(outcome.doc.nodes.size).toBe(clash().doc.nodes.size);
    expect(outcome.steps[0]!.summary).toBe('0 fixes done, 1 finding left, for you to choose.');
    const cleared = await act('clear-out', clash().doc, []);
    expect([...cleared.doc.nodes.keys()].sort()).toEqual(['e', 'f1', 'f2', 'm', 's', 'x']);
  });
});

describe('feeds beside one another', () => {
  it('are told where they supply nothing, with why', () => {
    const { doc } = sketchDoc()
      .frame('bay', { title: 'Bay' })
      .node('s', 'src')
      .node('f1', builtin.feed, feed('Day'))
      .node('f2', builtin.feed, feed('Night', { frame: 'bay' }))
      .node('f3', builtin.feed, feed('Noon', { params: { types: 'int' } }))
      .node('f4', builtin.feed, feed('Dusk', { params: { types: 'col' } }))
      .node('x', 'tint', { name: 'Kelp', frame: 'bay' })
      .wire('s.out', 'f1.in')
      .wire('s.out', 'f2.in')
      .wire('s.out', 'f4.in');
    expect(found(doc, 'idle-feed').map((item) => item.message)).toEqual([
      'The standing feed “Day” supplies nothing: all inputs that it could supply take from “Night”, which is nearer.',
      'The standing feed “Noon” takes nothing, so it supplies nothing.',
      'The standing feed “Dusk” supplies nothing: no input in “Main” that is open takes its type.',
    ]);
  });

  it('are told where a nearer one takes some of their inputs', () => {
    const { doc } = clash().frame('bay').node('y', 'tint', { frame: 'bay' });
    const inBay = { ...doc, nodes: new Map(doc.nodes).set('f2', { ...doc.nodes.get('f2')!, frame: 'bay' }) };
    expect(found(inBay, 'shadowed-feed').map((item) => item.message)).toEqual([
      'The standing feed “Day” supplies 1 input; 1 other in its place takes from “Night”, which is nearer.',
    ]);
    expect(found(inBay, 'feed-clash')).toEqual([]);
  });

  it('are told where they lie in a ring', () => {
    const { doc } = sketchDoc()
      .node('a', 'shade', { name: 'Kelp' })
      .node('b', 'shade', { name: 'Coral', y: 200 })
      .node('f1', builtin.feed, feed('Day', { params: { types: 'col' } }))
      .node('f2', builtin.feed, feed('Night', { params: { types: 'int' } }))
      .wire('a.out', 'f1.in')
      .wire('b.count', 'f2.in');
    const [one] = found(doc, 'feed-loop');
    expect(one!.choices!.map(({ title }) => title)).toEqual(['Bypass “Day”', 'Bypass “Night”']);
  });
});

describe('expressions and beacons', () => {
  it('whose other end is gone or doubtful are told, and not reset unasked', () => {
    const doc = sketchDoc()
      .graph('g', { name: 'Reef' })
      .node('h', builtin.nested, { inner: 'g', ports: [] })
      .node('s', 'src')
      .node('b1', builtin.beacon, { name: 'Light' })
      .node('b2', builtin.beacon, { name: 'Light', graph: 'g' })
      .node('t', builtin.tap, { graph: 'g', beacon: { id: 'b1', name: 'Light' } })
      .node('x', 'src', { params: { value: { expression: [{ node: 'gone', parameter: 'value' }] } } })
      .wire('s.out', 'b1.in');
    const lost = found(doc.doc, 'lost-end').find((item) => item.code === 'rules.lost-expression');
    expect([lost!.fix, lost!.choices!.map(({ title }) => title)]).toEqual([undefined, ['Take it back to its default']]);
    expect(found(doc.doc, 'repeated-beacon')).toHaveLength(1);
  });
});
