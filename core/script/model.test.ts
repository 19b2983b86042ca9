import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { operations } from '../operations.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { computes, reads, upstream } from '../tests/naive.ts';
import { type AssetFacts, withAssets } from './assets.ts';
import { functionName } from './function-name.ts';
import { onlyLines } from './lines.ts';
import { reached, runScript } from './run.ts';
import { usualLimits } from './sandbox.ts';

async function run(source: string, doc: Doc, assets?: AssetFacts) {
  const context = createContext(testKinds, 1);
  const reach = reached(context, doc, 'root', { over: 'all' });
  const outcome = await runScript(context, doc, reach, source, {}, { ...usualLimits, assets });
  const after = apply(doc, outcome.edit);
  expect(problems(after)).toEqual([]);
  return { ...outcome, after, said: outcome.log.map((line) => line.text) };
}

const chain = () =>
  sketchDoc()
    .node('n1', 'src', { name: 'Moon', params: { value: 7 } })
    .node('n2', 'std.reroute', { name: 'Bend', x: 200 })
    .node('n3', 'add', { name: 'Mix', x: 400 })
    .node('n4', 'add', { name: 'End', x: 800 })
    .wire('n1.out', 'n2.in')
    .wire('n2.out', 'n3.b')
    .wire('n3.out', 'n4.a').doc;

describe('what feeds what', () => {
  it('is told over what only carries data, and by wires where that is asked for', async () => {
    const { said } = await run(
      `const names = (list) => list.map((node) => node.name).join();
      const [moon, mix, end] = ['Moon', 'Mix', 'End'].map((name) => graph.node(name));
      log(names(mix.sources), names(moon.consumers), names(mix.wiredFrom), names(moon.wiredTo));
      log(names(end.upstream()), names(end.upstream(1)), names(moon.downstream()), names(nodes.upstream()));
      log(names(graph.node('Bend').sources), names(graph.node('Bend').downstream()));`,
      chain(),
    );
    expect(said).toEqual(['Moon Mix Bend Bend', 'Moon,Mix Mix Mix,End ', 'Moon Mix,End']);
  });

  it('is what a naive walk over wires, links, feeds and expressions finds', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(), async (doc) => {
        const asked = [...doc.nodes.values()].filter((node) => computes(doc, node)).map((node) => node.id);
        const { log } = await run(
          `const by = new Map(file.nodes.map((node) => [node.id, node]));
          for (const id of ${JSON.stringify(asked)})
            log(JSON.stringify([by.get(id).sources.map((n) => n.id).sort(), by.get(id).upstream().map((n) => n.id).sort()]));`,
          doc,
        );
        asked.forEach((id, i) => {
          const node = doc.nodes.get(id)!;
          const all = new Set(upstream(doc, testKinds, id));
          all.delete(id);
          expect(JSON.parse(log[i]!.text)).toEqual([[...new Set(reads(doc, testKinds, node))].sort(), [...all].sort()]);
        });
      }),
      { numRuns: 40 },
    );
  });

  it('is looked at anew once a wire, a bypass or a feed is another', async () => {
    const { said } = await run(
      `const end = graph.node('End');
      log(end.upstream().length);
      graph.node('Moon').label = 'x';
      graph.node('Mix').bypassed = true;
      log(end.sources.map((node) => node.name).join());
      graph.wires[0].remove();
      log(end.upstream().length);`,
      chain(),
    );
    expect(said).toEqual(['2', 'Moon', '0']);
  });
});

it('tells of parameters with type, range and unit, and what they hold', async () => {
  const doc = sketchDoc()
    .node('n1', 'src', { name: 'Moon', params: { value: 7 } })
    .node('n2', 'add', { name: 'Mix', params: { own: { expression: [{ node: 'n1', parameter: 'value' }] } } }).doc;
  const { log, failure } = await run(
    `const [moon, mix] = [graph.node('Moon'), graph.node('Mix')];
    for (const one of [moon.parameter('value'), mix.parameter('own')]) log(JSON.stringify(one));
    log(moon.parameter('none'), catalogue.kind('src').title, catalogue.kind('none'));
    log(catalogue.kinds.map((kind) => kind.id).includes('add'));
    log(moon.parameter('value').tpye);`,
    doc,
  );
  const spec = testKinds.parameter('src', 'value')!;
  expect(JSON.parse(log[0]!.text)).toMatchObject({
    id: 'value',
    title: spec.title,
    type: spec.type,
    default: spec.default,
    value: 7,
    holds: 'value',
  });
  expect(JSON.parse(log[1]!.text)).toMatchObject({ holds: 'expression' });
  expect(log[2]!.text).toBe(`undefined ${testKinds.title('src')} undefined`);
  expect(log[3]!.text).toBe('true');
  expect(failure?.message).toMatch(/A parameter has no “tpye”\. Did you mean “type”\?/);
});

it('makes, changes and removes sets, settings, frames, notes, taps and feeds', async () => {
  const { said, failure, after } = await run(
    `const [moon, mix, end] = ['Moon', 'Mix', 'End'].map((name) => graph.node(name));
    const set = file.makeSet('Night', [moon, mix]);
    set.name = 'Nights'; set.add([end]); set.release([moon]);
    log(set.nodes.map((node) => node.name).join(), mix.sets[0] === set, file.set('nights') === set);
    moon.addSetting('dusk'); moon.set('value', 9); moon.chooseSetting(moon.settings[0]);
    log(moon.get('value'), moon.settings.join()); moon.removeSetting('dusk');
    moon.locked = true; log(moon.locked, moon.set('value', 1)); moon.locked = false;
    const frame = graph.frame([moon], 'Sky');
    frame.add([mix]); frame.release([moon]); frame.moveTo(1000, 500);
    log(frame.x, frame.y, frame.nodes.length, mix.frame === frame, moon.frame);
    frame.folded = true; log(frame.folded); frame.folded = false; frame.remove();
    const note = graph.note('hello', 0, 0); note.moveTo(70, 80); log(note.x, note.y); note.remove();
    const beacon = mix.outputs[0].beacon('Tide');
    const tap = graph.tap(beacon, { to: end.input('b'), x: 900, y: 300 });
    log(tap.beacon === beacon, beacon.taps[0] === tap, graph.taps.length, end.sources.length);
    log(graph.feed(moon, { types: 'num' }).kind, graph.feeds.length);
    set.remove(); log(file.sets.length, graph.frames.length, graph.notes.length);`,
    chain(),
  );
  expect(failure).toBeUndefined();
  expect(said).toEqual([
    'Mix,End true true',
    '7 dusk',
    'true false',
    '1000 500 1 true undefined',
    'true',
    '70 80',
    'true true 1 1',
    'std.feed 1',
    '0 0 0',
  ]);
  expect(after.head.sets ?? {}).toEqual({});
});

it('asks house rules and measures, and does the fix of a finding', async () => {
  const doc = sketchDoc()
    .frame('f', { title: '', x: 0, y: 0 })
    .node('n1', 'src', { x: 20, y: 20, frame: 'f' })
    .node('n2', 'src', { x: 25, y: 25 }).doc;
  const { said, failure } = await run(`const found = file.findings('node-overlap', 'overlap');`, doc);
  expect(said).toEqual([]);
  expect(failure?.message).toMatch(/There is no house rule “node-overlap”/);
  const mended = await run(
    `log(graph.measures.overlaps);
    for (const one of file.findings('overlap')) if (one.canFix) one.fix();
    log(graph.measures.overlaps, graph.measures.readability > 90, file.findings('overlap').length);`,
    doc,
  );
  expect(mended.failure).toBeUndefined();
  expect(mended.said[0]).not.toBe('0');
  expect(mended.said[1]).toMatch(/^0 .* 0$/);
});

it('has every operation as a function that does what run does', async () => {
  const names = operations.map((one) => functionName(one.id));
  expect(new Set(names).size).toBe(operations.length);
  for (const name of names) expect(name).toMatch(/^[a-z][A-Za-z]*$/);
  const [one, other] = await Promise.all([
    run("operations.alignLeft(nodes); operations.label(nodes, { label: 'x' })", chain()),
    run("run('align-left', nodes); nodes.run('label', { label: 'x' })", chain()),
  ]);
  expect(one.edit.steps.length).toBeGreaterThan(0);
  expect(one.edit).toEqual(other.edit);
  expect((await run('operations.alignLefd(nodes)', chain())).failure?.message).toMatch(/Did you mean “alignLeft”/);
});

describe('the asset store', () => {
  const source = `for (const path of ['a.exr', 'b.exr'])
    if (!assets.exists(path)) log(path, assets.find(path).filter((one) => assets.exists(one)).join());`;

  it('is asked for all that a script wants to know, and the script is run again with the answers', async () => {
    const there = new Set(['a.exr', 'old/b.exr']);
    const asked: string[][] = [];
    const outcome = await withAssets(
      (assets) => run(source, chain(), assets),
      async (paths) => {
        asked.push([...paths]);
        return Object.fromEntries(
          paths.map((path) => [
            path,
            { exists: there.has(path), elsewhere: [...there].filter((one) => one.endsWith(`/${path}`)) },
          ]),
        );
      },
    );
    expect(outcome.said).toEqual(['b.exr old/b.exr']);
    expect(asked).toEqual([['a.exr', 'b.exr'], ['old/b.exr']]);
  });

  it('is said to be missing where there is none, and questions without end are refused', async () => {
    const without = await withAssets((assets) => run(source, chain(), assets), undefined);
    expect(without.failure?.message).toMatch(/No asset store/);
    let round = 0;
    await expect(
      withAssets(
        async () => ({ wanted: [`${round++}`] }),
        async () => ({}),
      ),
    ).rejects.toThrow(/asked the asset store/);
    expect(round).toBeLessThan(20);
  });
});

it('tells what each line changed and said, opened out', async () => {
  const { touched, log } = await run(
    [
      "log('start');",
      'for (const node of nodes) {',
      "  node.label = 'x';",
      '  node.moveTo(node.x + 1, 0);',
      '}',
      'log(nodes[0], { list: [1, [2]], none: [] }, new Map([["k", nodes[1]]]));',
      'operations.bypass([graph.node("Mix")]);',
    ].join('\n'),
    chain(),
  );
  expect(touched.map(({ line, ids }) => [line, ids.length])).toEqual([
    [3, 4],
    [4, 4],
    [7, 1],
  ]);
  expect(log[0]).toEqual({ level: 'log', text: 'start', line: 1 });
  expect(log[1]!.values).toEqual([
    { is: 'node', id: 'n1', text: '“x”' },
    {
      is: 'object',
      text: '2 fields',
      more: 0,
      parts: [
        [
          'list',
          {
            is: 'list',
            text: 'list of 2',
            more: 0,
            parts: [
              ['0', { is: 'value', text: '1' }],
              ['1', { is: 'list', text: 'list of 1', more: 0, parts: [['0', { is: 'value', text: '2' }]] }],
            ],
          },
        ],
        ['none', { is: 'value', text: 'empty list' }],
      ],
    },
    { is: 'object', text: '1 field', more: 0, parts: [['k', { is: 'node', id: 'n2', text: '“x”' }]] },
  ]);
});

it('opens no more of a value than has room, whatever leads back to itself', async () => {
  const { log, failure } = await run(
    'const a = { deep: null, wide: Array.from({ length: 5000 }, (_, i) => [i]) }; a.deep = a; log(a);',
    chain(),
  );
  expect(failure).toBeUndefined();
  expect(JSON.stringify(log[0]!.values).length).toBeLessThan(200_000);
});

it('runs marked lines alone, with what the script declares', () => {
  const source = [
    "const { a } = options({ a: { type: 'number', default: 1, title: 'A (1)' },",
    "  b: { type: 'text', default: ')' } });",
    'log(a);',
    'nodes.remove();',
  ].join('\n');
  expect(onlyLines(source, 3, 3).split('\n')).toEqual([...source.split('\n').slice(0, 3), '']);
  expect(onlyLines('log(1);\nlog(2);', 2, 2)).toBe('\nlog(2);');
});
