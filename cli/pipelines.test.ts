import { type ChildProcess, execFile, spawnSync } from 'node:child_process';
import { chmodSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { demoScripts } from '@basitax/demo/scripts';
import { startProcess } from '@basitax/server/tests/process';
import { freshDatabase, startTeam } from '@basitax/server/tests/team';
import { csvParse } from 'd3-dsv';
import { afterAll, beforeEach, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'basitax-pipelines-'));
const program = resolve('cli/bin/basitax.mjs');
const at = (name: string): string => join(folder, name);
const slugs = ['dome-blend', 'line-up', 'title-cards', 'tide-cues', 'dome-master'];
const demo = (slug: string) => demoFiles.find((file) => file.slug === slug)!.build();
const docOf = (name: string) => parseDoc(readFileSync(at(name), 'utf8')).doc;

beforeEach(() => {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(at('shots'), { recursive: true });
  mkdirSync(at('bin'));
  for (const slug of slugs) writeFileSync(at(`shots/${slug}.graph.json`), writeDoc(demo(slug)));
  for (const place of ['', 'shots/'])
    writeFileSync(at(`${place}lantern-reef.catalogue.json`), JSON.stringify(catalogue));
  writeFileSync(at('HOUSE.json'), JSON.stringify({ others: 'off', rules: { cycle: { severity: 'error' } } }));
  writeFileSync(
    at('stamp.ts'),
    "const { text } = options({ text: { type: 'text', default: '' } });\nnodes[0].label = text;",
  );
  writeFileSync(
    at('RECIPE.json'),
    JSON.stringify({ steps: [{ do: 'operation', operation: 'label', where: 'kind:warp', options: { label: 'W' } }] }),
  );
  writeFileSync(at('bin/basitax'), `#!/bin/sh\nexec "${process.execPath}" "${program}" "$@"\n`);
  chmodSync(at('bin/basitax'), 0o755);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const env = {
  ...process.env,
  PATH: `${at('bin')}:${process.env.PATH}`,
  GIT_CONFIG_GLOBAL: '/dev/null',
  GIT_CONFIG_SYSTEM: '/dev/null',
};

function run(
  file: string,
  args: readonly string[],
  input?: string,
): Promise<{ status: number; out: string; err: string }> {
  return new Promise((done) => {
    const child: ChildProcess = execFile(file, args, { cwd: folder, env, maxBuffer: 1e8 }, (error, out, err) =>
      done({ status: error ? Number(error.code) : 0, out, err }),
    );
    child.stdin!.end(input ?? '');
  });
}
const basitax = (...args: string[]) => run(process.execPath, [program, ...args]);
const records = (out: string) =>
  out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));

/** A block of docs/pipelines.md by its name. */
const block = (name: string): string =>
  new RegExp(`\`\`\`sh ${name}\\n([\\s\\S]*?)\`\`\``).exec(readFileSync('docs/pipelines.md', 'utf8'))![1]!;
const shell = (text: string) => run('bash', ['-e', '-c', text]);

it('does with each file of a folder, a pattern or the input what is in docs/pipelines.md', async () => {
  const basics = await shell(block('basics'));
  expect(basics).toMatchObject({ status: 0 });
  expect(readFileSync(at('line-up.graphml'), 'utf8')).toContain('<graphml');
  for (const slug of slugs) expect(readFileSync(at(`dot/${slug}.dot`), 'utf8')).toContain('digraph');
  expect(records(readFileSync(at('readability.ndjson'), 'utf8')).map((one) => one.file)).toEqual(
    [...slugs].sort().map((slug) => `shots/${slug}.graph.json`),
  );
  const some = await basitax('measure', 'shots', '--files', 'has(kind:warp) nodes>5', '--json');
  expect(records(some.out).map((line) => line.file)).toEqual([
    'shots/dome-blend.graph.json',
    'shots/line-up.graph.json',
  ]);
  const slip = await basitax('measure', 'shots', '--files', 'readabilty<60');
  expect([slip.status, slip.err]).toEqual([2, expect.stringContaining('Did you mean “readability”')]);
  const edits = await shell(block('edits'));
  expect(edits).toMatchObject({ status: 0, out: expect.stringContaining('the recipe has something to do') });
  const warps = [...docOf('shots/line-up.graph.json').nodes.values()].filter((node) => node.kind === 'dome.warp');
  expect([...new Set(warps.map((node) => node.label))]).toEqual(['Projector']);
  const tables = await shell(block('tables'));
  expect(tables).toMatchObject({ status: 0, out: expect.stringContaining('0 changes.') });
  for (const id of ['count-kinds', 'missing-files'])
    writeFileSync(at(`${id}.ts`), demoScripts.find((script) => script.id === id)!.source);
  mkdirSync(at('renders/survey/dome'), { recursive: true });
  writeFileSync(at('renders/survey/dome/projector_1.map'), '');
  expect(await shell(block('reports'))).toMatchObject({ status: 0 });
  const counts = csvParse(readFileSync(at('kinds.csv'), 'utf8'));
  const nodes = slugs.reduce((sum, slug) => sum + demo(slug).nodes.size, 0);
  expect(counts.reduce((sum, row) => sum + Number(row.nodes), 0)).toBe(nodes);
  const missing = readFileSync(at('missing.md'), 'utf8');
  expect(missing).toContain('survey/dome/projector_2.map');
  expect(missing).not.toContain('survey/dome/projector_1.map');
  const ci = await shell(block('ci'));
  expect(ci).toMatchObject({ status: 0 });
  expect(readFileSync(at('house-rules.xml'), 'utf8').match(/<testsuite /g)).toHaveLength(slugs.length);
  expect(JSON.parse(readFileSync(at('house-rules.sarif'), 'utf8')).version).toBe('2.1.0');
}, 120_000);

it('tells fine, findings, bad input, conflict and failure apart; --keep-going goes on, and the worst counts', async () => {
  const [one, two] = ['shots/line-up.graph.json', 'shots/dome-blend.graph.json'];
  writeFileSync(at('shots/broken.graphml'), '<graphml>');
  writeFileSync(at('fail.ts'), 'nodes[0].set("nothing", 1, { must: true });');
  expect((await basitax('measure', one)).status).toBe(0);
  expect((await basitax('compare', one, two)).status).toBe(1);
  expect((await basitax('leftovers', two)).status).toBe(1);
  expect((await basitax('measure', 'shots/broken.graphml')).status).toBe(2);
  expect((await basitax('run', 'fail.ts', one)).status).toBe(4);
  const stops = await basitax('measure', 'shots/broken.graphml', one, '--json');
  expect([stops.status, records(stops.out).map((line) => line.status)]).toEqual([2, ['unusable']]);
  const goes = await basitax('measure', 'gone.dot', 'shots/broken.graphml', one, '-k', '--json');
  expect([goes.status, records(goes.out).map((line) => line.status)]).toEqual([2, ['unusable', 'unusable', 'fine']]);
  expect(records(goes.out)[0].error).toContain('no such file');
  const changed = { ...demo('line-up'), nodes: new Map(demo('line-up').nodes) };
  const [first] = changed.nodes.values();
  for (const [name, label] of [
    ['ours', 'Ebb'],
    ['theirs', 'Flood'],
  ] as const)
    writeFileSync(
      at(name),
      writeDoc({ ...changed, nodes: new Map(changed.nodes).set(first!.id, { ...first!, label }) }),
    );
  const clash = await basitax('merge', one, 'ours', 'theirs', '--json');
  expect([clash.status, records(clash.out)[0].conflicts[0]]).toEqual([3, expect.stringMatching(/Flood.*Ebb/)]);
}, 120_000);

it('writes nothing with --dry-run and --check, says with the latter by its status whether it would, and is still afterwards', async () => {
  const file = 'shots/line-up.graph.json';
  const before = readFileSync(at(file), 'utf8');
  for (const command of [
    ['run', 'label', file, '--where', 'kind:warp', '--option', 'label=W'],
    ['batch', 'RECIPE.json', file],
    ['run', 'stamp.ts', file, '--option', 'text=W'],
    ['arrange', file],
  ]) {
    expect(await basitax(...command, '--dry-run')).toMatchObject({
      status: 0,
      out: expect.stringContaining('nothing is written'),
    });
    expect(await basitax(...command, '--check')).toMatchObject({
      status: 1,
      out: expect.stringContaining('would change'),
    });
    expect(readFileSync(at(file), 'utf8')).toBe(before);
  }
  expect((await basitax('batch', 'RECIPE.json', file)).status).toBe(0);
  expect(await basitax('batch', 'RECIPE.json', file, '--check', '--quiet')).toMatchObject({ status: 0, out: '' });
}, 120_000);

it('gives the same of many files, in their order, whether one or several are worked on at a time', async () => {
  const files = slugs.map((slug) => `shots/${slug}.graph.json`);
  const together = records((await basitax('check', 'shots', '--json')).out);
  const single = (await Promise.all(files.sort().map((file) => basitax('check', file, '--json')))).map(({ out }) =>
    JSON.parse(out),
  );
  expect(together).toEqual(single);
}, 120_000);

it('explains every command, has a manual and completes in a shell', async () => {
  const { out } = await basitax('--help');
  const names = [...out.matchAll(/^ {2}([a-z-]+) {2,}/gm)]
    .map((found) => found[1]!)
    .filter((name) => !name.startsWith('-'));
  expect(names).toEqual(expect.arrayContaining(['convert', 'check', 'run', 'merge', 'server', 'words']));
  for (const name of names)
    expect(await basitax(name, '--help')).toMatchObject({ status: 0, out: expect.stringContaining(`basitax ${name}`) });
  const manual = (await basitax('man')).out;
  for (const name of names) expect(manual).toContain(`.SS ${name.replace(/-/g, '\\-')}`);
  expect((await basitax('--version')).out).toMatch(/^basitax \d+\.\d+\.\d+$/m);
  const complete = await shell(
    // biome-ignore lint/suspicious/noTemplateCurlyInString: it is the shell that fills it in
    'source <(basitax completion bash); COMP_WORDS=(basitax arr); COMP_CWORD=1; _basitax; echo "${COMPREPLY[@]}"; COMP_WORDS=(basitax arrange --ke); COMP_CWORD=2; _basitax; echo "${COMPREPLY[@]}"',
  );
  expect(complete.out.trim().split('\n')).toEqual(['arrange', '--keep-going --keep']);
}, 120_000);

it('works in git as docs/pipelines.md has it: a label is one line, diffs in words, merges with a report, a hook that refuses', async () => {
  const git = (...args: string[]) =>
    spawnSync('git', ['-c', 'user.name=Lead TD', '-c', 'user.email=lead@lantern-reef.test', ...args], {
      cwd: folder,
      env,
      encoding: 'utf8',
    });
  const name = 'shots/line-up.graph.json';
  const label = (text: string): void => {
    const doc = docOf(name);
    const [first] = doc.nodes.values();
    writeFileSync(at(name), writeDoc({ ...doc, nodes: new Map(doc.nodes).set(first!.id, { ...first!, label: text }) }));
  };
  expect(git('init', '-q', '-b', 'main').status).toBe(0);
  expect((await shell(block('git-setup'))).status).toBe(0);
  writeFileSync(at('.git/hooks/pre-commit'), block('pre-commit'));
  chmodSync(at('.git/hooks/pre-commit'), 0o755);
  const commit = (message: string) => {
    git('add', '-A');
    return git('commit', '-qm', message).status;
  };
  expect(commit('Shots')).toBe(0);
  label('Slack water');
  expect(git('diff', '--no-textconv', '--numstat').stdout.split('\t').slice(0, 2)).toEqual(['1', '1']);
  const words = git('diff')
    .stdout.split('\n')
    .filter((line) => /^[+-](?![+-])/.test(line));
  expect(words).toEqual([expect.stringMatching(/^\+node .*: label Slack water$/)]);
  expect(commit('Slack water')).toBe(0);
  git('checkout', '-qb', 'tide', 'HEAD~1');
  label('Flood');
  expect(commit('Flood')).toBe(0);
  const merged = git('merge', '-q', 'main', '-m', 'Together');
  expect(merged.status).toBe(1);
  expect(readFileSync(at(`${name}.conflicts`), 'utf8')).toMatch(
    /^shots\/line-up\.graph\.json: conflict: .*Slack water.*Flood.*\n$/,
  );
  expect(docOf(name).head.title).toBe(demo('line-up').head.title);
  git('merge', '--abort');
  // what closes a loop is not committed
  writeFileSync(at('shots/loop.csv'), 'a,b\nb,a');
  await basitax('convert', 'shots/loop.csv', 'shots/loop.graph.json');
  rmSync(at('shots/loop.csv'));
  expect(commit('Loop')).toBe(1);
}, 180_000);

it('lists, pulls, pushes and batches against a server, and stops where somebody was there first', async () => {
  const url = await freshDatabase();
  const team = await startTeam(url);
  // with workers of its own, for the batch
  const server = await startProcess(url, { BATCH_WORKERS: '1' });
  try {
    const editor = await team.as('editor');
    const { token } = (await editor.json('POST', '/api/tokens', {
      json: { title: 'night check', days: 1, role: 'editor' },
      status: 201,
    })) as { token: string };
    writeFileSync(at('token'), `${token}\n`);
    const script = block('server').replace('http://127.0.0.1:4180', server.base);
    const done = await shell(script);
    expect(done).toMatchObject({ status: 0, err: '' });
    expect(done.out).toMatch(/saved as revision 2/);
    expect(done.out).toMatch(/: review: \d+ /);
    expect(done.out).toMatch(/: applied: /);
    const { revisions } = (await editor.json('GET', '/api/files/dome-blend/revisions')) as {
      revisions: { message: string }[];
    };
    expect(revisions.map((one) => one.message)).toContain('Warps labelled');
    const push = (...more: string[]) =>
      basitax(
        'server',
        'push',
        'shots/Dome blend.graph.json',
        '-m',
        'Again',
        '--server',
        server.base,
        '--token-file',
        'token',
        ...more,
      );
    // a folder comes in with its folders, and again as revisions
    mkdirSync(join(folder, 'tides/night'), { recursive: true });
    writeFileSync(join(folder, 'tides/night/ebb.gv'), 'digraph { a -> b }');
    const into = () =>
      basitax('server', 'import', 'tides', '--folder', 'sent', '--server', server.base, '--token-file', 'token');
    expect(await into()).toMatchObject({ status: 0, out: expect.stringContaining('imported') });
    expect((await into()).out).toContain('unchanged');
    writeFileSync(join(folder, 'tides/night/ebb.gv'), 'digraph { a -> b -> c }');
    expect((await into()).out).toContain('revision 2');
    const { files } = (await editor.json('GET', '/api/files?query=ebb')) as { files: { folder: string }[] };
    expect(files.map((one) => one.folder)).toEqual(['sent/tides/night']);
    // the batch has saved a revision since
    const signed = ['--server', server.base, '--token-file', 'token'];
    expect((await basitax('server', 'pull', 'Dome blend', '-o', 'shots', ...signed)).status).toBe(0);
    expect(await push()).toMatchObject({ status: 0, out: expect.stringContaining('nothing has changed') });
    // somebody saves, and then a push of what was pulled before
    const note = at('shots/.basitax-server.json');
    const noted = readFileSync(note, 'utf8');
    await basitax('run', 'label', 'shots/Dome blend.graph.json', '--where', 'kind:warp', '--option', 'label=Beamer');
    expect((await push()).status).toBe(0);
    writeFileSync(note, noted);
    await basitax('run', 'label', 'shots/Dome blend.graph.json', '--where', 'kind:warp', '--option', 'label=Lamp');
    expect(await push('--json')).toMatchObject({ status: 3, err: expect.stringContaining('basitax: ') });
    expect((await basitax('server', 'list', '--server', server.base)).status).toBe(2);
    expect((await basitax('server', 'list', '--server', 'http://127.0.0.1:1', '--token-file', 'token')).status).toBe(4);
    expect(existsSync(note)).toBe(true);
  } finally {
    await server.stop();
    await team.close();
  }
}, 120_000);
