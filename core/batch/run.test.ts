import { describe, expect, it } from 'vitest';
import { catalogueSchema } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { seededRandom } from '../document/ids.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { checkRules } from '../rules/rules.ts';
import { sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { messyDoc } from '../tests/messy.ts';
import { recipeProblem } from './check.ts';
import { emptyMapping } from './mapping.ts';
import { type Recipe, recipeSchema } from './recipe.ts';
import { runRecipe } from './run.ts';
import { stepTitle } from './titles.ts';

const recipe = (...steps: object[]): Recipe => recipeSchema.parse({ steps });
async function run(doc: Doc, ...steps: object[]) {
  const outcome = await runRecipe(doc, recipe(...steps), { kinds: testKinds, seed: 1, catalogues: [newer] });
  const after = apply(doc, outcome.edit);
  expect(problems(after)).toEqual([]);
  return { ...outcome, after };
}

const raw = JSON.parse(JSON.stringify(testCatalogue)) as {
  kinds: { id: string; parameters: { default: unknown }[] }[];
};
raw.kinds.find((kind) => kind.id === 'src')!.parameters[0]!.default = 9;
const newer = catalogueSchema.parse({ ...raw, version: 2 });

const nested = sketchDoc()
  .graph('g')
  .node('s', 'src', { name: 'Sun' })
  .node('m', 'src', { name: 'Moon', y: 100 })
  .node('h', 'std.nested', { name: 'Host', inner: 'g', x: 300 })
  .node('i', 'src', { name: 'Inside', graph: 'g' }).doc;

describe('a recipe', () => {
  it('does its steps one after the other, in every graph or in the outermost', async () => {
    const all = await run(nested, {
      do: 'operation',
      operation: 'label',
      where: 'kind:source',
      options: { label: 'lit' },
    });
    expect(['s', 'm', 'i'].map((id) => all.after.nodes.get(id)!.label)).toEqual(['lit', 'lit', 'lit']);
    expect(all).toMatchObject({ result: 'changed', verdict: 'same', counts: { added: 0, removed: 0, changed: 3 } });
    expect(all.steps).toEqual([{ step: 0, summary: 'Labelled 2 nodes. And in 1 other graph.' }]);
    const outer = await run(nested, {
      do: 'operation',
      operation: 'label',
      where: 'kind:source',
      graphs: 'outermost',
      options: { label: 'lit' },
    });
    expect(outer.after.nodes.get('i')!.label).toBeUndefined();
  });

  it('arranges as the operation does, and says readability before and after', async () => {
    const doc = messyDoc(3, 60);
    const { after, score, verdict, result } = await run(doc, {
      do: 'operation',
      operation: 'arrange',
      graphs: 'outermost',
    });
    const { edit } = await runOperation('arrange', createContext(testKinds, 1), doc, { graph: 'root', items: [] }, {});
    expect(writeDoc(after)).toBe(writeDoc(apply(doc, edit)));
    expect(verdict).toBe('same');
    expect(result).toBe('changed');
    expect(score.after).toBeGreaterThan(score.before);
  });

  it('leaves a file as it is where readability falls, or does not rise enough', async () => {
    const doc = messyDoc(3, 60);
    const arrange = { do: 'operation', operation: 'arrange', graphs: 'outermost' };
    const { score } = await run(doc, arrange);
    const gain = score.after - score.before;
    expect(gain).toBeGreaterThan(1);
    expect(await run(doc, arrange, { do: 'better', by: gain / 2 })).toMatchObject({ result: 'changed' });
    const enough = await run(doc, arrange, { do: 'better', by: Math.min(100, gain + 1) });
    expect(enough).toMatchObject({ result: 'stopped', edit: { steps: [] } });
    expect(enough.why).toMatch(/^Readability goes from [\d.]+ to [\d.]+; it has to rise by/);
    const worse = await run(
      (await run(doc, arrange)).after,
      { do: 'script', source: 'for (const node of nodes) node.moveTo(0, 0);' },
      { do: 'better' },
    );
    expect(worse.result).toBe('stopped');
    expect((await run(doc, { do: 'better' })).result).toBe('unchanged');
  });

  it('goes on only with files in which rules find something, and stops at what is found anew', async () => {
    const one = sketchDoc()
      .node('a', 'src')
      .node('b', 'src', { x: 1 })
      .node('c', 'src', { x: 900 })
      .node('d', 'src', { x: 1800 }).doc;
    const rules = ['overlap'];
    const stack = { do: 'script', source: "graph.node('c').moveTo(1800, 1);" };
    expect((await run(one, { do: 'found', rules })).result).toBe('unchanged');
    expect((await run(one, { do: 'found', rules: ['cycle'] })).result).toBe('left-out');
    // what was there already stops nothing, though it is told with other numbers
    const nudged = { do: 'script', source: "graph.node('b').moveTo(2, 2);" };
    expect((await run(one, nudged, { do: 'no-new', rules, severity: 'info' })).result).toBe('changed');
    const stopped = await run(one, stack, { do: 'no-new', rules, severity: 'info' });
    expect(stopped).toMatchObject({ result: 'stopped', edit: { steps: [] } });
    expect(stopped.why).toMatch(/^House rules find something new: /);
    // what is less grave than asked for is let pass
    const severity = checkRules(apply(one, stopped.edit), testKinds).some((item) => item.severity === 'error');
    expect((await run(one, stack, { do: 'no-new', rules, severity: 'error' })).result).toBe(
      severity ? 'stopped' : 'changed',
    );
    for (const step of [
      { do: 'better', by: 3 },
      { do: 'found', rules },
      { do: 'no-new', rules },
    ])
      expect(stepTitle(recipe(step).steps[0]!)).toMatch(/^(Stop|Only)/);
    expect(recipeProblem(recipe({ do: 'no-new', rules: ['none'] }))?.message).toContain('not a house rule');
  });

  it('hears in one go what a script asks the asset store in every graph', async () => {
    const step = { do: 'script', source: 'for (const node of nodes) log(assets.exists(node.name));' };
    const tools = { kinds: testKinds, seed: 1, catalogues: [] };
    const { wanted } = await runRecipe(nested, recipe(step), { ...tools, assets: {} });
    expect([...wanted].sort()).toEqual(['Host', 'Inside', 'Moon', 'Sun']);
    const assets = Object.fromEntries(wanted.map((path) => [path, { exists: path === 'Inside', elsewhere: [] }]));
    const { log, wanted: rest } = await runRecipe(nested, recipe(step), { ...tools, assets });
    expect(rest).toEqual([]);
    expect(log.filter((line) => line.text === 'true')).toHaveLength(1);
  });

  it('runs scripts, with what they say, skip and give out', async () => {
    const source =
      "const { to } = options({ to: { type: 'number', default: 1 } });\nlog(file.title, nodes.length); nodes.set('value', to); output('names.txt', nodes[0].name);";
    const { after, log, outputs, verdict, findings } = await run(nested, {
      do: 'script',
      source,
      values: { to: 5 },
      where: 'name:moon or name:host',
    });
    expect(after.nodes.get('m')!.params).toEqual({ value: 5 });
    expect(log.map((line) => line.text)).toEqual(['Test 2']);
    expect(outputs).toEqual([{ name: 'names.txt', text: 'Moon' }]);
    expect(findings.map((one) => one.rule)).toEqual(['parameter-missing']);
    expect(verdict).toBe('changed');
  });

  it('leaves files out by a condition, and stops where the function changes or something is found', async () => {
    const set = {
      do: 'operation',
      operation: 'set-parameter',
      where: 'kind:source',
      options: { parameter: 'value', value: 5 },
    };
    expect(await run(nested, { do: 'only', where: 'kind:source', least: 4 }, set)).toMatchObject({
      result: 'left-out',
      why: '3 nodes are like kind:source.',
      edit: { steps: [] },
    });
    expect(await run(nested, { do: 'only', where: 'kind:source', least: 3 }, set)).toMatchObject({ result: 'changed' });
    expect(await run(nested, set, { do: 'keep' })).toMatchObject({
      result: 'stopped',
      why: 'The function fingerprint changes.',
      edit: { steps: [] },
      verdict: 'same',
    });
    expect(
      await run(nested, { do: 'operation', operation: 'label', options: { label: 'x' } }, { do: 'keep' }),
    ).toMatchObject({ result: 'changed' });
    const stacked = sketchDoc().node('a', 'src').node('b', 'src', { x: 5 }).doc;
    const [first] = checkRules(stacked, testKinds).filter((item) => item.severity === 'warning');
    expect(await run(stacked, { do: 'check', stop: 'warning' })).toMatchObject({
      result: 'stopped',
      why: first!.message,
    });
    expect(await run(stacked, { do: 'check', stop: 'never' })).toMatchObject({ result: 'unchanged' });
    const profile = { title: 'Lantern Reef', others: 'off', rules: { overlap: { severity: 'error' } } };
    expect(await run(stacked, { do: 'check', profile })).toMatchObject({
      result: 'stopped',
      why: '“a” and “b” lie on one another.',
    });
    expect(await run(stacked, { do: 'fix', profile }, { do: 'check', profile })).toMatchObject({
      result: 'changed',
      findings: [],
    });
    const unknown = recipeSchema.parse({ steps: [{ do: 'check', profile: { rules: { neat: {} } } }] });
    expect(recipeProblem(unknown)?.message).toMatch(/^Step 1: There is no house rule “neat”/);
    expect(recipeSchema.parse({ steps: [{ do: 'fix', profile }] }).steps.map(stepTitle)).toEqual([
      'Fix what house rules find as “Lantern Reef” has them',
    ]);
  });

  it('mends together what has the same fix: a heap of nodes is parted without pushing one onto the next', async () => {
    const random = seededRandom(3);
    const pad = sketchDoc();
    for (let i = 0; i < 40; i++) pad.node(`n${i}`, 'src', { x: random() * 900, y: random() * 500 });
    const { steps, after } = await run(pad.doc, { do: 'fix', rules: ['overlap'] });
    expect(steps[0]!.summary).toMatch(/^\d+ fixes done, 0 findings left\.$/);
    expect(checkRules(after, testKinds).filter((one) => one.rule === 'overlap')).toEqual([]);
  });

  it('does what house rules offer as a fix, until none is left', async () => {
    const doc = sketchDoc()
      .node('a', 'src', { name: 'src' })
      .node('b', 'src', { name: 'src_2', x: 5, y: 5 })
      .frame('f', { title: 'Nothing' }).doc;
    const { after, findings, steps } = await run(doc, { do: 'fix', rules: ['overlap', 'empty-frame'] });
    expect(checkRules(after, testKinds).filter((one) => one.rule === 'overlap' || one.rule === 'empty-frame')).toEqual(
      [],
    );
    expect(findings).toEqual([]);
    expect(steps[0]!.summary).toBe('2 fixes done, 0 findings left.');
    expect(after.frames.size).toBe(0);
  });

  it('fails whole, with the step that did and why', async () => {
    const label = { do: 'operation', operation: 'label', options: { label: 'x' } };
    expect(
      await run(nested, label, {
        do: 'operation',
        operation: 'set-parameter',
        where: 'kind:source',
        options: { parameter: 'value', value: 1000 },
      }),
    ).toMatchObject({
      result: 'failed',
      why: expect.stringMatching(/^Step 2, Set parameter: .*from 0 to 100/),
      edit: { steps: [] },
    });
    expect(await run(nested, { do: 'script', source: '\nnodes[0].nothing.x', title: 'Mine' })).toMatchObject({
      result: 'failed',
      why: expect.stringMatching(/^Step 1, Mine: line 2: A node has no “nothing”/),
    });
    expect(await run(nested, { do: 'only', where: 'nmae:x' })).toMatchObject({
      result: 'failed',
      why: expect.stringContaining('no field “nmae”'),
    });
    expect(await run(nested, { do: 'upgrade', to: { id: 'test', version: 7 }, mapping: emptyMapping })).toMatchObject({
      result: 'failed',
      why: expect.stringContaining('no version 7'),
    });
  });

  it('upgrades, and compares the function after its mapping', async () => {
    const to = { id: 'test', version: 2 };
    const kept = await run(nested, { do: 'upgrade', to, mapping: emptyMapping }, { do: 'keep' });
    expect(kept).toMatchObject({ result: 'changed', verdict: 'same' });
    expect(kept.kinds.catalogue.version).toBe(2);
    expect(kept.after.nodes.get('s')!.params).toEqual({ value: 1 });
    const before = {
      do: 'operation',
      operation: 'set-parameter',
      where: 'kind:source',
      options: { parameter: 'value', value: 5 },
    };
    expect(await run(nested, before, { do: 'upgrade', to, mapping: emptyMapping }, { do: 'keep' })).toMatchObject({
      result: 'stopped',
    });
  });

  it('gives the same each time, and knows its steps by title', async () => {
    const steps = [
      { do: 'operation', operation: 'arrange' },
      { do: 'script', source: "graph.add('src')", graphs: 'outermost' },
    ] as const;
    expect((await run(nested, ...steps)).edit).toEqual((await run(nested, ...steps)).edit);
    expect(
      recipe(...steps, { do: 'check', rules: ['overlap'] }, { do: 'keep', what: 'ends' }).steps.map(stepTitle),
    ).toEqual(['Arrange by wiring', 'Script', 'Check Overlap', 'Stop if the ends change']);
  });
});
