import { execFile } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { checkRules } from '@basitax/core/rules/rules';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { demoScripts } from '@basitax/demo/scripts';
import { csvFormatRows, csvParse, csvParseRows } from 'd3-dsv';
import { afterAll, beforeEach, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'basitax-cli-batch-'));
const kinds = new Kinds(catalogue);
const at = (name: string): string => join(folder, name);
const write = (name: string, text: string): void => writeFileSync(at(name), text);
const docOf = (name: string) => parseDoc(readFileSync(at(name), 'utf8')).doc;
const slugs = ['title-cards', 'line-up'];
beforeEach(() => {
  for (const slug of slugs)
    write(`${slug}.graph.json`, writeDoc(demoFiles.find((file) => file.slug === slug)!.build()));
  write('lantern-reef.catalogue.json', JSON.stringify(catalogue));
});
afterAll(() => rmSync(folder, { recursive: true }));

function basitax(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(process.execPath, [resolve('cli/bin/basitax.mjs'), ...args], { cwd: folder }, (error, out, err) =>
      done({ status: error ? Number(error.code) : 0, out, err }),
    );
  });
}

it('runs a script over files: dry first, then each where it stands, with options by name', async () => {
  for (const script of demoScripts) write(`${script.id}.ts`, script.source);
  const before = readFileSync(at('title-cards.graph.json'), 'utf8');
  const dry = await basitax(
    'run',
    'scale-places.ts',
    'title-cards.graph.json',
    'line-up.graph.json',
    '--option',
    'factor=2',
    '--dry-run',
  );
  expect(dry.status).toBe(0);
  expect(dry.out).toContain('line-up.graph.json: The script changed');
  expect(dry.out.match(/moved by/g)!.length).toBeGreaterThan(80);
  expect(readFileSync(at('title-cards.graph.json'), 'utf8')).toBe(before);
  expect((await basitax('run', 'scale-places.ts', 'title-cards.graph.json', '--option', 'factor=2')).status).toBe(0);
  const [old, now] = [parseDoc(before).doc, docOf('title-cards.graph.json')];
  expect(fingerprint(now, kinds)).toEqual(fingerprint(old, kinds));
  const width = (doc: typeof now) =>
    Math.max(...[...doc.nodes.values()].map((node) => node.x)) -
    Math.min(...[...doc.nodes.values()].map((node) => node.x));
  expect(width(now) / width(old)).toBeGreaterThan(1.9);

  const report = await basitax('run', 'report-csv.ts', 'line-up.graph.json', '--where', 'kind:warp');
  expect(report).toMatchObject({ status: 0, out: expect.stringContaining('6 rows') });
  expect(csvParse(readFileSync(at('line-up-nodes.csv'), 'utf8'))).toHaveLength(6);
});

it('says where a script fails, and writes nothing', async () => {
  write('bad.ts', 'const a: number = 1;\nnodes[0].set("nothing", a, { must: true });');
  write('broken.ts', 'const = 1;');
  const before = readFileSync(at('line-up.graph.json'), 'utf8');
  expect(await basitax('run', 'bad.ts', 'line-up.graph.json')).toMatchObject({
    status: 4,
    err: expect.stringMatching(/bad\.ts:2: .*has no parameter nothing\. \(at “/),
  });
  expect(await basitax('run', 'broken.ts', 'line-up.graph.json')).toMatchObject({
    status: 4,
    err: expect.stringContaining('broken.ts:1:'),
  });
  expect(await basitax('run', 'bad.ts', 'line-up.graph.json', '--option', 'a')).toMatchObject({
    status: 2,
    err: expect.stringContaining('NAME=VALUE'),
  });
  expect(await basitax('run', 'bad.ts')).toMatchObject({
    status: 2,
    err: expect.stringContaining('a script and at least one file'),
  });
  expect(readFileSync(at('line-up.graph.json'), 'utf8')).toBe(before);
});

it('does a recipe on files, and leaves those that its conditions leave out', async () => {
  write('stamp.ts', "nodes[0].label = 'stamped'");
  const steps = [
    { do: 'only', where: 'kind:warp' },
    { do: 'operation', operation: 'to-grid' },
    { do: 'script', script: { id: 'stamp.ts', version: 1 }, graphs: 'outermost' },
    { do: 'keep' },
  ];
  write('recipe.json', JSON.stringify({ steps }));
  const before = readFileSync(at('title-cards.graph.json'), 'utf8');
  const dry = await basitax('batch', 'recipe.json', 'title-cards.graph.json', 'line-up.graph.json', '--dry-run');
  expect(dry.out.split('\n')).toEqual([
    'title-cards.graph.json: left-out: No node is like kind:warp.',
    expect.stringMatching(
      /^line-up\.graph\.json: changed: 0 added, 0 removed, 20 changed; readability \d+\.\d → \d+\.\d; function same$/,
    ),
    'Dry run: nothing is written.',
    '',
  ]);
  expect((await basitax('batch', 'recipe.json', 'title-cards.graph.json', 'line-up.graph.json')).out).toContain(
    'line-up.graph.json: changed',
  );
  expect(readFileSync(at('title-cards.graph.json'), 'utf8')).toBe(before);
  expect([...docOf('line-up.graph.json').nodes.values()].some((node) => node.label === 'stamped')).toBe(true);
  write('recipe.json', '{"steps": [{"do": "operation", "operation": "polish"}]}');
  expect(await basitax('batch', 'recipe.json', 'line-up.graph.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('no operation “polish”'),
  });
  write('recipe.json', '{"steps": []}');
  expect(await basitax('batch', 'recipe.json', 'line-up.graph.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('not a recipe: steps: A recipe has at least one step.\n'),
  });
});

it('checks files by house rules, as core does', async () => {
  const found = checkRules(docOf('title-cards.graph.json'), kinds);
  const said = await basitax('check', 'title-cards.graph.json', '--json');
  expect(JSON.parse(said.out).findings).toEqual(JSON.parse(JSON.stringify(found)));
  expect(said.status).toBe(found.some((item) => item.severity === 'error') ? 1 : 0);
  expect((await basitax('check', 'title-cards.graph.json', '--rules', 'cycle')).out).toMatch(/nothing was found\.\n$/);
  expect(await basitax('check', 'title-cards.graph.json', '--rules', 'neat')).toMatchObject({
    status: 2,
    err: expect.stringContaining('no house rule “neat”'),
  });
});

it('upgrades files by a mapping, and says what could not be kept', async () => {
  const raw = JSON.parse(JSON.stringify(catalogue));
  const tint = raw.kinds.find((kind: { id: string }) => kind.id === 'pic.tint');
  tint.id = 'pic.depth_tint';
  tint.parameters.find((one: { id: string }) => one.id === 'strength').default = 0.9;
  write('new.catalogue.json', JSON.stringify({ ...raw, version: raw.version + 1 }));
  write(
    'mapping.json',
    JSON.stringify({ format: 'basitax-mapping', version: 1, kinds: { 'pic.tint': { to: 'pic.depth_tint' } } }),
  );
  const done = await basitax('upgrade', 'mapping.json', 'title-cards.graph.json', '--with', 'new.catalogue.json');
  expect(done).toMatchObject({ status: 0, out: expect.stringContaining('function same') });
  const after = docOf('title-cards.graph.json');
  expect(after.head.catalogue.version).toBe(raw.version + 1);
  const tints = [...after.nodes.values()].filter((node) => node.kind === 'pic.depth_tint');
  expect(tints).toHaveLength(18);
  expect(tints.every((node) => node.params?.strength !== undefined)).toBe(true);
  expect(await basitax('upgrade', 'mapping.json', 'title-cards.graph.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('--with'),
  });
});

it('gives parameters out as a table and takes them back, with each bad row by its line', async () => {
  const out = await basitax(
    'table',
    'title-cards.graph.json',
    '--parameters',
    'file,strength',
    '--where',
    'kind:tint or kind:write',
  );
  const rows = csvParseRows(out.out);
  expect(rows[0]).toEqual(['id', 'path', 'kind', 'label', 'file', 'strength']);
  expect(rows).toHaveLength(37);
  const changed = rows.map((row) => (row[2] === 'Tint by depth' ? [...row.slice(0, 5), '0.25'] : row));
  write('in.csv', csvFormatRows([...changed, ['gone', '', '', '', '', '1']]));
  expect(await basitax('table-in', 'in.csv', 'title-cards.graph.json', '--dry-run')).toMatchObject({
    out: expect.stringContaining('Dry run'),
  });
  expect(await basitax('table-in', 'in.csv', 'title-cards.graph.json')).toMatchObject({
    status: 1,
    err: expect.stringContaining('Line 38: there is no node with the id “gone”'),
  });
  const tints = [...docOf('title-cards.graph.json').nodes.values()].filter((node) => node.kind === 'pic.tint');
  expect(tints.every((node) => node.params?.strength === 0.25)).toBe(true);
  expect(await basitax('table', 'title-cards.graph.json')).toMatchObject({
    status: 2,
    err: expect.stringContaining('--parameters'),
  });
});
