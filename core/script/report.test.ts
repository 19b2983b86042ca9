import { csvParse } from 'd3-dsv';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { createContext } from '../operation.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { reportOf, reportText } from './report.ts';
import { reduceScript, runScript } from './run.ts';

const doc = (name: string) => sketchDoc().node('n1', 'src', { name }).doc;

async function over(source: string, names: readonly string[]) {
  const context = () => createContext(testKinds, 1);
  const results = [];
  for (const file of names) {
    const { result, failure } = await runScript(context(), doc(file), { graph: 'root', items: ['n1'] }, source, {});
    expect(failure).toBeUndefined();
    if (result !== undefined) results.push({ file, result });
  }
  return { results, all: await reduceScript(context(), source, {}, results) };
}

it('is made of what each file gave, in the order of the files', async () => {
  const { all } = await over(
    `function each(file) { return file.nodes.map((node) => node.name); }
    const all = (results) => results.flatMap(({ file, result }) => result.map((name) => ({ file, name })));`,
    ['Moon', 'Sun'],
  );
  expect(all.result).toEqual([
    { file: 'Moon', name: 'Moon' },
    { file: 'Sun', name: 'Sun' },
  ]);
});

it('is none where a script has other functions of these names, or none at all', async () => {
  const { results, all } = await over(
    'function each(list, use) { for (const one of list) use(one); } each([1], log);',
    ['Moon'],
  );
  expect(results).toEqual([]);
  expect(all.result).toBeUndefined();
});

it('fails with the line where putting together does', async () => {
  const { all } = await over('const each = () => 1;\nconst all = (results) => {\n  return results.lenght.x;\n};', [
    'Moon',
  ]);
  expect(all.failure).toMatchObject({ line: 3 });
});

it('is CSV that a library reads back, whatever stands in it (RFC 4180)', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ a: fc.string(), b: fc.oneof(fc.integer(), fc.string(), fc.constant(null)) }), {
        minLength: 1,
      }),
      (rows) => {
        const read = csvParse(reportText(reportOf(rows), 'csv'));
        expect(read.map((row) => [row.a, row.b])).toEqual(rows.map((row) => [row.a, String(row.b ?? '')]));
      },
    ),
  );
});

it('is a table of GitHub Flavored Markdown, JSON, text or a picture', () => {
  const rows = reportOf([
    { kind: 'a|b', nodes: 2 },
    { kind: 'two\nlines', nodes: 10 },
  ]);
  // https://github.github.com/gfm/#tables-extension-: a pipe in a cell is escaped, a colon aligns
  expect(reportText(rows, 'md')).toBe('| kind | nodes |\n| --- | --: |\n| a\\|b | 2 |\n| two lines | 10 |\n');
  expect(JSON.parse(reportText(rows, 'json'))).toHaveLength(2);
  expect(reportText(reportOf('plain'), 'txt')).toBe('plain\n');
  expect(reportOf('<svg xmlns="http://www.w3.org/2000/svg"/>').is).toBe('picture');
  expect(reportText(reportOf({ a: 1 }), 'csv')).toBe('{\n  "a": 1\n}\n');
});
