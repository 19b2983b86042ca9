import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { rectOf } from '../document/geometry.ts';
import type { Json } from '../document/json.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { into } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { compileScript, ScriptSyntax } from './compile.ts';
import { ScriptHost } from './host.ts';
import type { ScriptReach } from './job.ts';
import { type ScriptValues, valueFromText } from './options.ts';
import { describeScript, reached, runScript } from './run.ts';

const small = () =>
  sketchDoc()
    .frame('f', { title: 'Far', x: 0, y: 0 })
    .node('n1', 'src', { name: 'Moon', params: { value: 7 }, frame: 'f' })
    .node('n2', 'src', { name: 'Sun', x: 0, y: 200 })
    .node('n10', 'add', {
      name: 'Mix',
      x: 400,
      y: 100,
      params: { own: { expression: ['2 * ', { node: 'n1', parameter: 'value' }] } },
    })
    .wire('n1.out', 'n10.a').doc;

/** Runs a script on a document; what comes of it is whole. */
async function run(
  source: string,
  doc: Doc = small(),
  reach: ScriptReach = { over: 'all' },
  values: ScriptValues = {},
) {
  const context = createContext(testKinds, 1);
  const outcome = await runScript(context, doc, reached(context, doc, 'root', reach), source, values);
  const after = apply(doc, outcome.edit);
  expect(problems(after)).toEqual([]);
  return { ...outcome, after, said: outcome.log.map((line) => line.text) };
}

describe('a slip of the pen', () => {
  it.each([
    ["nodes[0].lable = 'x'", /A node has no “lable”\. Did you mean “label”\?/],
    ['nodes[0].bypased = true', /Did you mean “bypassed”\?/],
    ['log(nodes[0].lable)', /Did you mean “label”\?/],
    ["nodes.label = 'x'", /A list of nodes has no “label”/],
    ['graph.frames[0].titel', /A frame has no “titel”\. Did you mean “title”\?/],
    ['graph.wires[0].form', /A wire has no “form”\. Did you mean “from”\?/],
    ['nodes[0].outputs[0].nmae', /A port has no “nmae”\. Did you mean “name”\?/],
    ['graph.nodez', /A graph has no “nodez”\. Did you mean “nodes”\?/],
    ['file.grahps', /The file has no “grahps”\. Did you mean “graphs”\?/],
    ["nodes.set('valeu', 1)", /No kind and no node here has a parameter “valeu”\. Did you mean “value”\?/],
    ["run('arrange', nodes, { keeep: 3 })", /there is no option “keeep”\. Did you mean “keep”\?/],
    ['const x = await nodes', /A script has no “await”/],
    ['nodes[0].name.shout()', /^“name\.shout” is not a function\./],
    ["run('arange', nodes)", /There is no operation “arange”\. Did you mean “arrange”\?/],
  ])('is told with the line and the word that was meant, and changes nothing: %s', async (source, message) => {
    const { failure, edit } = await run(`const before = nodes.length;\n${source}`);
    expect(failure).toMatchObject({ line: 2, message: expect.stringMatching(message) });
    expect(edit.steps).toEqual([]);
  });

  it('is not what a name means that a thing has, or that the language asks for', async () => {
    const { failure, said } = await run(
      "for (const one of [nodes[0], graph, file, graph.wires[0], graph.frames[0]]) log('lable' in one, String(one) !== '');",
    );
    expect(failure).toBeUndefined();
    expect(said.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => 'false true'));
  });
});

describe('a script', () => {
  it('reads what is there, in the order of ids as people count', async () => {
    const { said } = await run(`
      log(nodes.map((node) => node.name).join(' '));
      const mix: ScriptNode = graph.node('Mix');
      log(mix.kind, mix.kindTitle, mix.sources.map((node) => node.path).join(), mix.inputs.map((port) => port.name + ':' + port.wires.length).join());
      log(nodes[0].get('value'), nodes[1].get('value'), mix.get('value'), mix.get('own'), mix.has('own'), mix.isSet('own'), nodes[1].isSet('value'));
      log(nodes[0].frame.title, nodes[0].frame.nodes.length, graph.frames.length, graph.wires[0].from.node.name, file.title, file.at('Mix').id);
      log(nodes[0]);
    `);
    expect(said).toEqual([
      'Moon Sun Mix',
      'add Add Moon a:1,b:0',
      '7 1 undefined undefined true true false',
      'Far 1 1 Moon Test n10',
      '“Moon”',
    ]);
  });

  it('knows the sizes that everything else uses, also of what it has just labelled', async () => {
    const { said, after } = await run(
      `const moon = graph.node('Moon'); moon.label = 'A label that is rather long'; log(moon.width, moon.height)`,
    );
    const rect = rectOf(after, testKinds, after.nodes.get('n1')!);
    expect(said).toEqual([`${rect.width} ${rect.height}`]);
  });

  it('runs over the selection, the first selected first', async () => {
    const { said } = await run('log(nodes.map((node) => node.id).join())', small(), {
      over: 'selection',
      items: ['n10', 'gone', 'n1'],
    });
    expect(said).toEqual(['n10,n1']);
  });

  it('runs over what fits a query, and asks queries of its own', async () => {
    const { said } = await run(`log(nodes.length, select('kind:add').length)`, small(), {
      over: 'query',
      query: 'value<5',
    });
    expect(said).toEqual(['1 1']);
    const { failure } = await run(`\n\nselect('nmae:x')`);
    expect(failure).toMatchObject({ line: 3, message: expect.stringContaining('no field “nmae”') });
  });

  it('passes over what lacks a parameter, is locked or holds an expression, and says why', async () => {
    const doc = sketchDoc(small()).node('n3', 'src', { name: 'Star', locked: true }).doc;
    const { report, after, said } = await run(`log(nodes.set('value', 5), graph.node('Mix').set('own', 1))`, doc);
    expect(said).toEqual(['2 false']);
    expect(report.findings.map((one) => one.rule)).toEqual(['locked', 'parameter-missing', 'parameter-opaque']);
    expect([...after.nodes.values()].map((node) => node.params?.value)).toEqual([5, 5, undefined, undefined]);
    const replaced = await run(
      `log(graph.node('Mix').set('own', 1, { replace: true }), graph.node('Mix').get('own'))`,
      doc,
    );
    expect(replaced.said).toEqual(['true 1']);
  });

  it('fails where a parameter must be there, with line and node, and changes nothing', async () => {
    const { failure, edit } = await run(`nodes[0].set('value', 3);\nnodes[2].set('value', 3, { must: true });`);
    expect(failure).toEqual({ line: 2, node: 'n10', message: '“Mix” (Add) has no parameter value.' });
    expect(edit.steps).toEqual([]);
  });

  it('fails on a value that does not fit, on the node that is at hand', async () => {
    expect((await run(`\nfor (const node of nodes) node.set('value', 1000)`)).failure).toMatchObject({
      line: 2,
      node: 'n1',
      message: expect.stringContaining('from 0 to 100'),
    });
    expect(
      (await run(`for (const node of nodes) {\n  const port = node.inputs[0];\n  log(port.name);\n}`)).failure,
    ).toMatchObject({
      line: 3,
      node: 'n1',
      message: expect.stringContaining('TypeError'),
    });
  });

  it('writes names, labels, places, colours, marks, frames and notes by the rules', async () => {
    const { after } = await run(`
      const [moon, sun, mix] = nodes;
      moon.name = 'High_moon'; sun.name = 'Moon'; mix.label = 'both'; mix.bypassed = true; mix.pinned = true; mix.color = '#2F6F8F';
      mix.x = 500.126; sun.moveTo(-20, 30);
      graph.frames[0].title = 'Near'; graph.frames[0].note = 'what it is'; graph.note('Mind this', 10, 20).text += '!';
    `);
    expect(after.nodes.get('n1')!.name).toBe('High_moon');
    expect(after.nodes.get('n2')).toMatchObject({ name: 'Moon', x: -20, y: 30 });
    expect(after.nodes.get('n10')).toMatchObject({
      label: 'both',
      bypassed: true,
      pinned: true,
      color: '#2f6f8f',
      x: 500.13,
    });
    expect(after.frames.get('f')).toMatchObject({ title: 'Near', note: 'what it is' });
    expect([...after.notes.values()]).toMatchObject([{ text: 'Mind this!', x: 10, y: 20 }]);
  });

  it.each([
    [`nodes[0].name = 'Sun'`, 'is taken'],
    [`nodes[0].name = 'two words'`, 'not a legal name'],
    [`nodes[0].color = 'blue-ish'`, 'not a colour'],
    [`nodes[0].x = NaN`, 'cannot be moved'],
    [`nodes[0].label = 'x'.repeat(10_001)`, 'label does not fit'],
    [`graph.add('nothing')`, 'no kind “nothing”'],
    [`nodes[2].connect(nodes[2].graph.node('Sun'))`, 'takes what “Mix” gives'],
    [`nodes[0].connect(nodes[2], { input: 'z' })`, 'has no input “z”'],
    [`run('polish', nodes)`, 'no operation “polish”'],
    [`run('align-left', [nodes[0]])`, 'Select at least 2 nodes'],
    [`nodes[1].remove(); nodes[1].label = 'x'`, 'is not in this file'],
    [`nodes[0].set('value', undefined)`, 'cannot be set to undefined'],
    [`fail('Not today.')`, 'Not today.'],
    [`options({}); options({})`, 'called once'],
    [`output('../up.csv', '')`, 'not a name of a file'],
    [`Promise.resolve().then(() => log('later'))`, 'straight through'],
    [`throw 'a word'`, 'a word'],
  ])('refuses %s', async (source, message) => {
    const { failure, edit } = await run(source);
    expect(failure?.message).toContain(message);
    expect(edit.steps).toEqual([]);
  });

  it('adds, wires, cuts, frames and deletes by the operations', async () => {
    const { after, said } = await run(`
      const added = graph.add('add', { name: 'Sum', x: 800, y: 0 });
      graph.node('Mix').connect(added, { input: 'b' });
      graph.node('Sun').outputs[0].connect(added.input('a'));
      log(added.sources.map((node) => node.name).join(), added.input('a').wires[0].off);
      graph.node('Mix').input('a').wires[0].off = true;
      log(graph.node('Mix').input('a').wires[0].off);
      const frame = graph.frame([added], 'New');
      log(frame.title, frame.nodes.length, added.frame === frame, frame.width > added.width);
      log(graph.node('Mix').remove().summary, added.input('b').wires.length);
      const beacon = graph.node('Sun').outputs[0].beacon('Light');
      log(beacon.kind, graph.beacons.length);
    `);
    expect(said).toEqual([
      'Sun,Mix false',
      'true',
      'New 1 true true',
      'Deleted 1 node. 1 input has lost its number: “Sum”. 0',
      'std.beacon 1',
    ]);
    const sum = [...after.nodes.values()].find((node) => node.name === 'Sum')!;
    expect(into(after, `${sum.id}.a`)).toBe('n2.out');
  });

  it('does any operation as it is done elsewhere', async () => {
    await fc.assert(
      fc.asyncProperty(
        docArbitrary(),
        fc.constantFrom('arrange', 'unstack', 'align-left', 'level'),
        async (doc, id) => {
          const all = reached(createContext(testKinds, 1), doc, 'root', { over: 'all' });
          const direct = await runOperation(id, createContext(testKinds, 1), doc, all).then(
            ({ edit }) => writeDoc(apply(doc, edit)),
            (error: Error) => error.message,
          );
          const { after, failure } = await run(`nodes.run('${id}')`, doc);
          // an empty list names no graph of its own, and means the one that the script is in
          expect(failure ? failure.message : writeDoc(after)).toBe(direct);
        },
      ),
      { numRuns: 15 },
    );
  });

  it('keeps a note beside the node that it moves', async () => {
    const doc = small();
    const note = { id: 't', graph: 'root', x: 10, y: -100, width: 100, height: 50, text: 'Moon', tiedTo: 'n1' };
    const { after } = await run(`nodes[0].moveTo(300, 40); nodes.run('align-left'); nodes[0].x += 7`, {
      ...doc,
      notes: new Map([['t', note]]),
    });
    const moon = after.nodes.get('n1')!;
    expect([after.notes.get('t')!.x - moon.x, after.notes.get('t')!.y - moon.y]).toEqual([10, -100]);
  });

  it('gives the same edit each time, chance included', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(12), async (doc) => {
        const source =
          'for (const node of nodes) node.moveTo(Math.round(random() * 500), Math.round(Math.random() * 500)); if (nodes.length > 0) graph.add("src")';
        const [one, two] = [await run(source, doc), await run(source, doc)];
        expect(two.edit).toEqual(one.edit);
      }),
      { numRuns: 10 },
    );
  });

  it('orders by flow and by place', async () => {
    const { said } = await run(
      `log(select('').inFlowOrder().map((node) => node.name).join(), nodes.byPlace().map((node) => node.name).join(), JSON.stringify(nodes.bounds.x))`,
    );
    expect(said).toEqual(['Moon,Sun,Mix Moon,Sun,Mix 0']);
  });

  it('says no more than there is room for', async () => {
    const { log } = await run('for (let i = 0; i < 5000; i++) log(i)');
    expect(log).toHaveLength(1001);
    expect(log.at(-1)).toEqual({ level: 'warn', text: 'The console is full; what else is said is left out.' });
  });

  it('quotes CSV as RFC 4180 has it', async () => {
    // RFC 4180, section 2, rules 5 to 7
    const { outputs } = await run(`output('a.csv', csv([{ a: 'x,y', 'b "c"': 'l1\\nl2' }, { a: null, 'b "c"': 2 }]))`);
    expect(outputs).toEqual([{ name: 'a.csv', text: 'a,"b ""c"""\r\n"x,y","l1\nl2"\r\n,2\r\n' }]);
  });
});

describe('the host', () => {
  it.each([
    'nothing',
    '{}',
    '{"do":"set","node":"__proto__","parameter":"constructor","value":1}',
    '{"do":"field","table":"head","id":"doc","field":"title","value":"x"}',
    '{"do":"field","table":"nodes","id":"n1","field":"kind","value":"add"}',
    '{"do":"field","table":"nodes","id":"n1","field":"id","value":"n7"}',
    '{"do":"run","operation":"paste","graph":"nowhere","items":[],"options":{}}',
    '{"do":"output"}',
    '{"do":"select","query":5,"graph":"root"}',
    '{"do":"skip","node":7}',
  ])('takes nothing that does not fit: %s', (request) => {
    const doc = small();
    const host = new ScriptHost(createContext(testKinds, 1), doc, { graph: 'root', items: [] }, {});
    const answer = JSON.parse(host.answer(request)) as { error?: string };
    expect(answer.error).toMatch(/\.$/);
    expect(host.edit().steps).toEqual([]);
  });
});

describe('options of a script', () => {
  const source = `const { amount, word } = options({ amount: { type: 'number', default: 2, min: 0, max: 10, title: 'Amount' }, word: { type: 'choice', default: 'a', choices: ['a', 'b'] } });\nlog(amount, word); nodes[99].x = 1;`;

  it('are told without running the script any further', async () => {
    const { options, failure } = await describeScript(createContext(testKinds, 1), source);
    expect(failure).toBeUndefined();
    expect(options).toEqual({
      amount: { type: 'number', default: 2, min: 0, max: 10, title: 'Amount' },
      word: { type: 'choice', default: 'a', choices: ['a', 'b'] },
    });
  });

  it.each<[Record<string, Json>, string]>([
    [{ amount: 11 }, 'Option “Amount” takes a number from 0 to 10, not 11.'],
    [{ word: 'c' }, 'takes one of a, b'],
    [{ size: 1 }, 'has no option “size”; it has amount, word'],
  ])('refuse %j', async (values, message) => {
    expect((await run(source, small(), { over: 'all' }, values)).failure?.message).toContain(message);
  });

  it('are checked as they are declared', async () => {
    expect((await run(`options({ n: { type: 'integer', default: 1.5 } })`)).failure?.message).toContain(
      'default does not fit',
    );
    expect((await run(`options({ c: { type: 'choice', default: '' } })`)).failure?.message).toContain('choices');
    expect(
      (await run(`options({ __proto__: null, 'a b': { type: 'text', default: '' } })`)).failure?.message,
    ).toContain('options()');
  });

  it('are read from a command line by their type', () => {
    const declared = {
      n: { type: 'number', default: 1, min: 0 },
      y: { type: 'yes or no', default: false },
      t: { type: 'text', default: '' },
    } as const;
    expect([
      valueFromText(declared, 'n', '2.5'),
      valueFromText(declared, 'y', 'yes'),
      valueFromText(declared, 't', '3'),
    ]).toEqual([2.5, true, '3']);
    expect(() => valueFromText(declared, 'n', 'much')).toThrow('a number from 0 to ∞');
    expect(() => valueFromText(declared, 'y', 'perhaps')).toThrow('yes or no');
  });
});

describe('TypeScript', () => {
  it('loses its types and keeps its lines', () => {
    const text = compileScript('interface A {\n  b: number;\n}\nconst a: A = { b: 1 } as A;\nlog(a.b!);');
    expect(text.split('\n')[3]).toContain('const a = { b: 1 }');
    expect(text.split('\n')[4]).toContain('log(a.b)');
  });

  it('says where it has a mistake', () => {
    try {
      compileScript('const a = 1;\nconst = 2;');
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(ScriptSyntax);
      expect((error as ScriptSyntax).line).toBe(2);
    }
  });
});
