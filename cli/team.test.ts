import { execFile, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Doc } from '@basitax/core/document/doc';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import type { GraphNode } from '@basitax/core/document/schema';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import type { Log } from 'sarif';
import { afterAll, beforeEach, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'basitax-cli-team-'));
const program = resolve('cli/bin/basitax.mjs');
const at = (name: string): string => join(folder, name);
const write = (name: string, text: string): void => writeFileSync(at(name), text);
const docOf = (name: string): Doc => parseDoc(readFileSync(at(name), 'utf8')).doc;
const cards = demoFiles.find((file) => file.slug === 'title-cards')!.build();
beforeEach(() => {
  write('cards.graph.json', writeDoc(cards));
  write('lantern-reef.catalogue.json', JSON.stringify(catalogue));
});
afterAll(() => rmSync(folder, { recursive: true }));

function basitax(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(process.execPath, [program, ...args], { cwd: folder }, (error, out, err) =>
      done({ status: error ? Number(error.code) : 0, out, err }),
    );
  });
}

const [first, second] = [...cards.nodes.values()].slice(0, 2) as [GraphNode, GraphNode];
const moved = (doc: Doc, id: string, x: number): Doc => ({
  ...doc,
  nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, x }),
});

it('checks by a profile: as text, as JSON and as SARIF, with status 1 where the house says that it is an error', async () => {
  write(
    'house.json',
    JSON.stringify({
      title: 'Lantern Reef',
      others: 'off',
      rules: { 'large-graph': { severity: 'error', options: { most: 50 } }, 'default-name': { where: 'kind:tint' } },
    }),
  );
  const text = await basitax('check', 'cards.graph.json', '--rules', 'house.json');
  expect(text).toMatchObject({
    status: 1,
    out: expect.stringContaining('cards.graph.json: error: large-graph: This graph has 75 nodes, more than 50.'),
  });
  const sarif = await basitax('check', 'cards.graph.json', '--rules', 'house.json', '--format', 'sarif');
  const log: Log = JSON.parse(sarif.out);
  expect([sarif.status, log.version, log.runs[0]!.tool.driver.rules!.map((rule) => rule.id)]).toEqual([
    1,
    '2.1.0',
    ['default-name', 'large-graph'],
  ]);
  const lines = text.out.trim().split('\n');
  expect(
    log.runs[0]!.results!.map(
      (one) => `cards.graph.json: ${one.level === 'note' ? 'info' : one.level}: ${one.ruleId}: ${one.message.text}`,
    ),
  ).toEqual(lines);

  for (const [rules, sentence] of [
    ['{"rules": {"neat": {}}}', 'house.json: There is no house rule “neat”.'],
    [
      '{"rules": {"overlap": {"severity": "bad"}}}',
      'house.json: this is not a profile of house rules: rules.overlap.severity: ',
    ],
    [
      '{"rules": {"overlap": {"where": "size >"}}}',
      'house.json: The house rule “overlap”: the query “size >” cannot be read',
    ],
  ] as const) {
    write('house.json', rules);
    expect(await basitax('check', 'cards.graph.json', '--rules', 'house.json')).toMatchObject({
      status: 2,
      out: '',
      err: expect.stringContaining(sentence),
    });
  }
  expect(await basitax('check', 'cards.graph.json', '--format', 'pdf')).toMatchObject({
    status: 2,
    err: expect.stringContaining('--format takes text, json, sarif, junit, not “pdf”'),
  });
});

it('merges two versions into the second, or elsewhere; in a conflict that one is kept, and the status says so', async () => {
  write('ours', writeDoc(moved(cards, first.id, 7)));
  write('theirs', writeDoc(moved(cards, second.id, 9)));
  expect(await basitax('merge', 'cards.graph.json', 'ours', 'theirs', '-o', 'both.graph.json')).toMatchObject({
    status: 0,
    out: 'both.graph.json: merged.\n',
  });
  expect([docOf('both.graph.json').nodes.get(first.id)!.x, docOf('both.graph.json').nodes.get(second.id)!.x]).toEqual([
    7, 9,
  ]);
  write('theirs', writeDoc(moved(moved(cards, second.id, 9), first.id, 8)));
  const clash = await basitax('merge', 'cards.graph.json', 'ours', 'theirs');
  expect(clash).toMatchObject({
    status: 3,
    out: 'ours: merged, but for 1 conflict, in which ours is kept.\n',
    err: expect.stringMatching(/^ours: conflict: Place of “.*”: .* was .*, is 8 in theirs and 7 in ours\.$/m),
  });
  expect([docOf('ours').nodes.get(first.id)!.x, docOf('ours').nodes.get(second.id)!.x]).toEqual([7, 9]);
  write('notes.txt', 'kelp');
  expect(await basitax('merge', 'cards.graph.json', 'ours', 'notes.txt')).toMatchObject({
    status: 2,
    err: expect.stringContaining('Only .graph.json files can be merged.'),
  });
  expect(await basitax('merge', 'cards.graph.json', 'ours')).toMatchObject({
    status: 2,
    err: expect.stringContaining('merge takes three files'),
  });
});

it('is a merge driver for git: branches that touch different things merge, others stop as conflicts', () => {
  const git = (...args: string[]): number => {
    const own = [
      '-c',
      'user.name=Lead TD',
      '-c',
      'user.email=lead@lantern-reef.test',
      '-c',
      'init.defaultBranch=main',
      '-c',
      `merge.basitax.driver=${process.execPath} ${program} merge %O %A %B`,
    ];
    return (
      spawnSync('git', [...own, ...args], {
        cwd: folder,
        env: { ...process.env, GIT_CONFIG_GLOBAL: '/dev/null', GIT_CONFIG_SYSTEM: '/dev/null' },
      }).status ?? -1
    );
  };
  const commit = (doc: Doc): void => {
    write('cards.graph.json', writeDoc(doc));
    expect([git('add', '-A'), git('commit', '-qm', 'Cards')]).toEqual([0, 0]);
  };
  expect(git('init', '-q')).toBe(0);
  write('.gitattributes', '*.graph.json merge=basitax\n');
  commit(cards);
  expect(git('checkout', '-qb', 'lights')).toBe(0);
  commit(moved(cards, second.id, 9));
  expect(git('checkout', '-q', 'main')).toBe(0);
  commit(moved(cards, first.id, 7));
  expect(git('merge', '-q', 'lights', '-m', 'Together')).toBe(0);
  expect([docOf('cards.graph.json').nodes.get(first.id)!.x, docOf('cards.graph.json').nodes.get(second.id)!.x]).toEqual(
    [7, 9],
  );

  expect(git('checkout', '-q', 'lights')).toBe(0);
  commit(moved(docOf('cards.graph.json'), first.id, 8));
  expect(git('checkout', '-q', 'main')).toBe(0);
  expect(git('merge', '-q', 'lights', '-m', 'Apart')).toBe(1);
  // what git leaves can be opened as it is
  expect(docOf('cards.graph.json').nodes.get(first.id)!.x).toBe(7);
  expect(git('diff', '--quiet', '--diff-filter=U')).toBe(1);
});
