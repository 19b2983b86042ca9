import { beforeAll, describe, expect, it } from 'vitest';
import { createContext } from '../../operation.ts';
import { operations } from '../../operations.ts';
import { sketchDoc, testKinds } from '../../tests/arbitrary.ts';
import { functionName } from '../function-name.ts';
import { reached, runScript } from '../run.ts';
import { checkerFor, type ScriptChecker } from './checker.ts';

let checker: ScriptChecker;
beforeAll(async () => {
  checker = await checkerFor(testKinds, ['extra']);
});

/** What the checker says, without places. */
const said = (source: string): string[] => checker.check(source).map((one) => one.message);

/** Slips that people make, and the word that they meant; each fails when it is run, too. */
const slips: readonly (readonly [source: string, message: RegExp])[] = [
  ["nodes[0].lable = 'x'", /A node has no “lable”\. Did you mean “label”\?/],
  ["for (const node of nodes) node.lable = 'x'", /Did you mean “label”\?/],
  ['nodes[0].bypased = true', /Did you mean “bypassed”\?/],
  ["nodes.label = 'x'", /A list of nodes has no “label”/],
  ['graph.frames[0].titel', /A frame has no “titel”\. Did you mean “title”\?/],
  ['graph.wires[0].form', /A wire has no “form”\. Did you mean “from”\?/],
  ['nodes[0].outputs[0].nmae', /A port has no “nmae”\. Did you mean “name”\?/],
  ['graph.nodez', /A graph has no “nodez”\. Did you mean “nodes”\?/],
  ['file.grahps', /The file has no “grahps”\. Did you mean “graphs”\?/],
  ["nodes.set('valeu', 1)", /There is no parameter “valeu”\. Did you mean “value”\?/],
  ["nodes[0].set('value', 'much')", /“value” takes number, not "much"/],
  ["run('arrange', nodes, { keeep: 3 })", /no option “keeep” here\. Did you mean “keep”\?/],
  ['operations.arrange(nodes, { keeep: 3 })', /Did you mean “keep”\?/],
  ["run('arange', nodes)", /There is no operation “arange”\. Did you mean “arrange”\?/],
  ["graph.add('ad')", /There is no kind “ad”\. Did you mean “add”\?/],
  ["graph.add('src', { parameters: { valeu: 2 } })", /Did you mean “value”\?/],
  ["file.findings('overlpa')", /Did you mean “overlap”\?/],
  ['nods.remove()', /There is nothing called “nods”\. Did you mean “nodes”\?/],
  ['await nodes', /A script has no “await”/],
  ['for (const node of nodes) {', /“}” expected/],
];

describe('the type checker for scripts', () => {
  it.each(slips)('tells %s before it is run', (source, message) => {
    expect(said(source).join()).toMatch(message);
  });

  it('tells of a parameter that is read and that nothing has', () => {
    expect(said("log(nodes[0].get('valeu'))").join()).toMatch(/Did you mean “value”\?/);
  });

  it('tells nothing that would not fail: each of these slips does', async () => {
    const doc = sketchDoc()
      .frame('f', { title: 'Far' })
      .node('a', 'src', { frame: 'f', params: { extra: 1 } })
      .node('b', 'add', { x: 300 })
      .wire('a.out', 'b.a').doc;
    const context = createContext(testKinds, 1);
    for (const [source] of slips) {
      const outcome = await runScript(context, doc, reached(context, doc, 'root', { over: 'all' }), source, {});
      expect([source, outcome.failure !== undefined]).toEqual([source, true]);
    }
  });

  it('lets pass what scripts of daily work do', () => {
    const source = `const { word, times } = options({ word: { type: 'text', default: 'a' }, times: { type: 'number', default: 2 } });
      function twice(value) { return value * 2; }
      const file = 'a name of its own';
      for (const node of nodes) {
        if (!node.has(word)) continue;
        node.set(word, twice(node.get(word)) * times);
        node.set('value', node.get('value') * 2);
        node.set('extra', 'of the file');
        if (node.kind === 'of another catalogue') skip(node, file);
      }
      for (const name of ['value', 'extra']) nodes.set(name, 1);
      const made = graph.add(word, { label: 'x' });
      const groups = new Map();
      groups.set('a', [...(groups.get('a') ?? []), made]);
      graph.node('x').label = 'y';
      operations.captions(nodes, { target: 'label', pattern: '{name}' });
      console.log([...groups].sort());
      return;`;
    expect(said(source)).toEqual([]);
  });

  it('gives the place of a mistake in the script, the first line included', () => {
    expect(checker.check("log(1); nodes[0].lable = 'x';\n  nods")).toMatchObject([
      { line: 1, column: 18, from: 17, to: 22 },
      { line: 2, column: 3 },
    ]);
  });

  it('leaves names of parameters and kinds free where no file is known', async () => {
    const loose = await checkerFor(testKinds, undefined);
    expect(loose.check("nodes.set('anything', 1); graph.add('any.kind')")).toEqual([]);
    expect(loose.check("nodes[0].lable = 'x'")).toHaveLength(1);
  });

  it('offers what may stand at a place, and tells what it is', () => {
    const offered = (source: string): string[] => checker.complete(source, source.length)!.words.map((one) => one.word);
    expect(offered('nodes[0].')).toEqual(expect.arrayContaining(['label', 'set', 'upstream']));
    expect(offered("nodes.set('")).toEqual(expect.arrayContaining(['value', 'extra']));
    expect(offered("graph.add('")).toEqual(expect.arrayContaining(['src', 'add']));
    expect(offered("run('")).toEqual(expect.arrayContaining(operations.map((one) => one.id)));
    expect(offered('operations.')).toEqual(expect.arrayContaining(operations.map((one) => functionName(one.id))));
    expect(offered('operations.arrange(nodes, { ')).toEqual(expect.arrayContaining(['keep', 'along']));
    expect(offered("operations.arrange(nodes, { quality: '")).toEqual(['quick', 'best']);
    const near = checker.complete('no', 2)!.words.find((one) => one.word === 'nodes');
    expect(near).toMatchObject({ isNear: true });
    const spec = testKinds.parameter('src', 'value')!;
    expect(checker.help("nodes.set('value', 1)", 13)!.about).toContain(spec.title);
    expect(checker.help('operations.arrange(nodes, { along: 60 })', 30)!.about).toMatch(/16 to 1000 px; by default 56/);
    expect(checker.help('nodes[0].label', 11)!.about).toMatch(/What stands on it/);
  });
});
