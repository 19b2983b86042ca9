import { execFile, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { dependencies } from '@basitax/core/inspect/dependencies';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { readability } from '@basitax/core/inspect/readability';
import { checkRules, leftoverRules } from '@basitax/core/rules/rules';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'basitax-cli-'));
  writeFileSync(join(folder, 'dome.graph.json'), writeDoc(demoFiles[0]!.build()));
  writeFileSync(join(folder, 'lantern-reef.catalogue.json'), JSON.stringify(catalogue));
  writeFileSync(
    join(folder, 'theirs.graphml'),
    '<graphml><graph id="G"><node id="a"/><node id="b"/><edge source="a" target="b"/><edge source="b" target="nowhere"/></graph></graphml>',
  );
  mkdirSync(join(folder, 'empty'));
  writeFileSync(join(folder, 'broken.graphml'), '<graphml>\n<graph>\n</graphml>');
});
afterAll(() => rmSync(folder, { recursive: true }));

/** The real command, as npx runs it. */
function basitax(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  return fed('', ...args);
}

/** The same with something piped in. */
function fed(input: string | Uint8Array, ...args: string[]): Promise<{ status: number; out: string; err: string }> {
  return new Promise((done) => {
    const child = execFile(
      process.execPath,
      [resolve('cli/bin/basitax.mjs'), ...args],
      { cwd: folder },
      (error, out, err) => done({ status: error ? Number(error.code) : 0, out, err }),
    );
    child.stdin?.end(input);
  });
}

it('reads what is piped in by what it holds, packed or not, and tables as they are said to be', async () => {
  const dot = 'digraph { "far kelp" -> b [since=2019] }';
  for (const input of [dot, gzipSync(dot)]) {
    const { status, out } = await fed(input, 'convert', '-', '-', '--to', 'graphml');
    expect([status, out.includes('attr.name="since"'), out.includes('far kelp')]).toEqual([0, true, true]);
  }
  expect((await fed('one two', 'measure', '-')).err).toContain('is in no format that can be read');
  writeFileSync(join(folder, 'supplies.csv'), 'Studio;Supplies\nreef;dome\n');
  writeFileSync(join(folder, 'who.csv'), 'id;label\nreef;Reef house\n');
  const read = await basitax(
    ...['convert', 'supplies.csv', '-', '--to', 'edges'],
    ...['--columns', 'source=Supplies,target=Studio', '--beside', 'who.csv'],
  );
  expect(read.out.split('\r\n')[1]).toMatch(/^dome,Reef_house,/);
  expect((await basitax('convert', 'supplies.csv', '-', '--columns', 'begin=Studio')).err).toContain(
    'does not say what a column is',
  );
});

it('converts by ending, there and back, and arranges on the way', async () => {
  expect(await basitax('convert', 'dome.graph.json', 'dome.graphml')).toEqual({ status: 0, out: '', err: '' });
  expect(
    await basitax('arrange', 'dome.graphml', '-o', 'down.graph.json', '--flow', 'down', '--keep', '0.5'),
  ).toMatchObject({ status: 0, err: '' });
  const down = JSON.parse(readFileSync(join(folder, 'down.graph.json'), 'utf8'));
  expect(down.graphs[0].flow).toBe('down');
  expect(down).not.toHaveProperty('routes');
  await basitax('convert', 'dome.graph.json', 'routed.graph.json', '--routes');
  const routed = JSON.parse(readFileSync(join(folder, 'routed.graph.json'), 'utf8'));
  expect(Object.keys(routed.routes)).toHaveLength(routed.wires.length);
  const prints = await Promise.all(
    ['dome.graph.json', 'dome.graphml', 'down.graph.json'].map((file) => basitax('fingerprint', file, '--json')),
  );
  const expected = fingerprint(demoFiles[0]!.build(), new Kinds(catalogue));
  for (const print of prints) expect(JSON.parse(print.out)).toMatchObject({ ...expected, status: 'fine' });
});

it('writes every format by its ending, reads back what can be read, and says each time what is not in it', async () => {
  for (const [ending, lost] of [
    ['graph.json', ''],
    ['graphml', ''],
    ['jgf.json', ''],
    ['graph.yaml', ''],
    ['dot', '1 note'],
    ['gml', '1 frame, parameters of 14 nodes'],
    ['nodelink.json', '1 frame, parameters of 14 nodes'],
    ['nodes.csv', '1 frame, kind of 21 nodes'],
    ['mmd', '1 frame, kind of 21 nodes'],
    ['md', 'everything but what it says in words'],
    ['mtlx', ''],
    ['gexf', '1 frame, the frame of 12 nodes, 1 note'],
    ['csv', '1 frame, the frame of 12 nodes, 1 note'],
    ['svg', 'everything but the picture of its outermost graph'],
  ] as const) {
    const file = `every.${ending}`;
    const { status, err } = await basitax('convert', 'dome.graph.json', file);
    expect([ending, status, err.startsWith(lost === '' ? '' : `${file}: not in it: ${lost}`), err === '']).toEqual([
      ending,
      0,
      true,
      lost === '',
    ]);
    const back = await basitax('measure', file, '--json');
    if (ending === 'svg') expect(back).toMatchObject({ status: 2, err: expect.stringContaining('is a picture') });
    else if (ending === 'md') expect(back).toMatchObject({ status: 2, err: expect.stringContaining('is an outline') });
    else if (ending === 'nodes.csv') expect(JSON.parse(back.out)).toMatchObject({ nodes: 21, wires: 0 });
    else expect(JSON.parse(back.out)).toMatchObject({ nodes: 21, wires: 19 });
  }
});

it('measures, as text and as JSON', async () => {
  const json = JSON.parse((await basitax('measure', 'dome.graph.json', '--json')).out);
  expect(json).toMatchObject({ graphs: 1, nodes: 21, wires: 19 });
  expect((await basitax('measure', 'dome.graph.json')).out).toMatch(/^nodes +21$/m);
});

it('scores readability, and names the worst places', async () => {
  const doc = demoFiles[0]!.build();
  const json = JSON.parse((await basitax('measure', 'dome.graph.json', '--json')).out);
  expect(json.readability).toEqual(JSON.parse(JSON.stringify([readability(doc, new Kinds(catalogue), doc.head.root)])));
  expect(json.score).toBeCloseTo(json.readability[0].score, 9);
  const { out } = await basitax('measure', 'dome.graph.json');
  expect(out).toMatch(/^score +\d+(\.\d)?$/m);
  expect(out).toMatch(/^ {2}Crossings +\d+(\.\d)? of 18/m);
});

it('tells what depends on what, by path or id, and the ways between two', async () => {
  const doc = demoFiles[0]!.build();
  const kinds = new Kinds(catalogue);
  const [first, last] = ['ReefTilt', 'HouseGrade'].map(
    (name) => [...doc.nodes.values()].find((node) => node.name === name)!.id,
  ) as [string, string];
  const one = await basitax('inspect', 'dome.graph.json', '--select', 'ReefTilt', '--json');
  expect(JSON.parse(one.out)).toMatchObject(JSON.parse(JSON.stringify(dependencies(doc, kinds, [first]))));
  const two = await basitax('inspect', 'dome.graph.json', '--select', `ReefTilt,${last}`);
  expect(two.status).toBe(0);
  expect(two.out).toMatch(/^paths +\d+$/m);
  expect(await basitax('inspect', 'dome.graph.json', '--select', 'Nobody')).toMatchObject({
    status: 2,
    err: 'basitax: dome.graph.json: there is no node “Nobody”, by id or by path.\n',
  });
  expect(await basitax('inspect', 'dome.graph.json')).toMatchObject({ status: 2 });
});

it('lists leftovers with what mends them', async () => {
  const json = await basitax('leftovers', 'dome.graph.json', '--json');
  const found = checkRules(demoFiles[0]!.build(), new Kinds(catalogue), leftoverRules);
  expect(JSON.parse(json.out)).toMatchObject({ status: 'findings', findings: JSON.parse(JSON.stringify(found)) });
  expect(json.status).toBe(1);
  expect((await basitax('leftovers', 'dome.graph.json')).out).toContain(`${found.length} found.`);
});

it('compares two files, as a list, as JSON, and as a patch that leads from the one to the other', async () => {
  await basitax(
    'run',
    'delete',
    'dome.graph.json',
    '--select',
    [...demoFiles[0]!.build().nodes.keys()][3]!,
    '-o',
    'less.graph.json',
  );
  expect(await basitax('compare', 'dome.graph.json', 'dome.graph.json')).toEqual({
    status: 0,
    out: 'matched        21 by id, 0 by likeness\nfingerprint    same\n',
    err: '',
  });
  const { status, out } = await basitax('compare', 'dome.graph.json', 'less.graph.json');
  expect(status).toBe(1);
  expect(out).toMatch(/^function: \d+\n {2}removed/);
  const json = JSON.parse((await basitax('compare', 'dome.graph.json', 'less.graph.json', '--json')).out);
  expect(json.counts.function).toBeGreaterThan(0);
  const patch = JSON.parse((await basitax('compare', 'dome.graph.json', 'less.graph.json', '--patch')).out);
  expect(patch.map((one: { op: string }) => one.op)).toContain('remove');
});

it('adds up the cost of a table of times, and says which rows it could not read', async () => {
  writeFileSync(join(folder, 'times.csv'), 'node,ms\nReefTilt,12.5\nHouseGrade,4\nNobody,1\n');
  const { status, out, err } = await basitax('cost', 'times.csv', 'dome.graph.json');
  expect(status).toBe(1);
  expect(out).toMatch(/^total +16\.5 ms$/m);
  expect(out).toMatch(/^critical path +16\.5 ms: ReefTilt → HouseGrade$/m);
  expect(err).toContain('warning: Row 4: there is no node “Nobody”');
});

it('gives the hash of each node where it is wanted', async () => {
  const json = JSON.parse((await basitax('fingerprint', 'dome.graph.json', '--nodes', '--json')).out);
  expect(Object.keys(json.nodes)).toHaveLength(21);
  expect(json.nodes.ReefTilt).toMatch(/^[0-9a-f]{64}$/);
});

it('lists the operations of the registry', async () => {
  expect((await basitax('operations')).out).toMatch(/^distribute-x +Makes the gaps/m);
  expect(JSON.parse((await basitax('operations', '--json')).out.split('\n')[0]!).id).toBe('arrange');
  expect((await basitax('operations', 'arrange')).out).toMatch(/^ {2}keep +number from 0 to 1, by default 0\.3$/m);
});

it('ends quietly where its output is not read to the end', async () => {
  const { status, err } = await new Promise<{ status: number | null; err: string }>((done) => {
    const child = spawn(process.execPath, [resolve('cli/bin/basitax.mjs'), 'operations', '--json'], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let text = '';
    child.stderr.on('data', (part: Buffer) => (text += part));
    child.stdout.destroy();
    child.on('exit', (code) => done({ status: code, err: text }));
  });
  expect([status, err]).toEqual([0, '']);
});

it('ends with 1 where something had to be repaired, and says what', async () => {
  const { status, err } = await basitax('convert', 'theirs.graphml', 'ours.graph.json');
  expect(status).toBe(1);
  expect(err).toContain('theirs.graphml: warning: Edge');
});

it.each([
  [['convert', 'gone.graphml', 'x.json'], 'gone.graphml: there is no such file'],
  [['convert', 'broken.graphml', 'x.json'], 'broken.graphml:3: this is not well-formed XML'],
  [['convert', 'dome.graph.json', 'x.docx'], '.graphml'],
  [['arrange', 'dome.graph.json', '-o', 'x.json', '--keep', '3'], '--keep takes a number from 0 to 1'],
  [['arrange', 'dome.graph.json', '-o', 'x.json', '--shape', 'wide'], '--shape takes width ÷ height'],
  [['arrange', 'dome.graph.json', '-o', 'x.json', '--flow', 'sideways'], '--flow takes right'],
  [['arrange', 'dome.graph.json', '-o', 'no/such/folder.json'], 'cannot be written'],
  [['measure', 'dome.graph.json', '--catalogue', 'dome.graph.json'], 'this is not a catalogue'],
  [['measure'], 'takes at least one file'],
  [['measure', '.'.repeat(3)], 'no such file'],
  [['run', 'label', 'dome.graph.json', '--where', 'kind:'], 'A value is missing'],
  [['run', 'arrange', 'dome.graph.json', '--option', 'keeep=1'], 'Did you mean “keep”?'],
  [['convert', 'dome.graph.json', 'theirs.graphml', '--to', 'dot', '-o', 'one.dot'], 'one place for 2 files'],
  [['convert', 'dome.graph.json', '--to', 'doc'], 'no format “doc”'],
  [['arange', 'dome.graph.json'], 'Did you mean “arrange”?'],
  [['arrange', 'dome.graph.json', '--kep', '1'], 'Did you mean --keep?'],
  [['measure', 'empty'], 'no graphs in this folder'],
  [['measure', '*.nothing'], 'no file fits'],
  [['server', 'list'], '--server'],
  [['fly'], 'no command “fly”'],
  [['measure', '--wings', 'x'], '--wings'],
])('ends with 2 and one sentence: %j', async (args, message) => {
  const { status, err, out } = await basitax(...args);
  expect([status, out]).toEqual([2, '']);
  expect(err).toContain(message);
  expect(err.trim().split('\n')).toHaveLength(1);
});

it('reads and writes DOT, Latin-1 as well, and arranges in either quality', async () => {
  writeFileSync(
    join(folder, 'old.gv'),
    Buffer.from('digraph G { a [label="caf\xe9"]; a -> b -> c; a -> c }', 'latin1'),
  );
  expect(await basitax('arrange', 'old.gv', '-o', 'new.dot', '--quality', 'best', '--flow', 'right')).toMatchObject({
    status: 0,
  });
  const text = readFileSync(join(folder, 'new.dot'), 'utf8');
  expect(text).toContain('café');
  expect(text).toMatch(/a -> b/);
  expect(JSON.parse((await basitax('measure', 'new.dot', '--json')).out)).toMatchObject({
    nodes: 3,
    wires: 3,
    backward: 0,
  });
  expect((await basitax('arrange', 'old.gv', '-o', 'x.dot', '--quality', 'great')).err).toContain(
    '--quality takes quick or best',
  );
});

it('does any operation of the registry, and refuses wiring that does not fit with the reason, writing nothing', async () => {
  const doc = demoFiles[0]!.build();
  const called = (name: string) => [...doc.nodes.values()].find((node) => node.name === name)!.id;
  const [master, warp] = [called('DomeMaster'), called('Warp_1')];
  const run = (from: object, to: object, out = 'wired.graph.json') =>
    basitax('run', 'connect', 'dome.graph.json', '-o', out, '--options', JSON.stringify({ from, to, replace: true }));
  expect(await run({ node: master, port: 'image' }, { node: warp, port: 'image' })).toMatchObject({
    status: 0,
    out: 'dome.graph.json: Wired “Dome master 4K” to “Warp_1”.\n',
  });
  const wired = JSON.parse(readFileSync(join(folder, 'wired.graph.json'), 'utf8')) as {
    wires: { from: { node: string }; to: { node: string; port: string } }[];
  };
  expect(wired.wires.find(({ to }) => to.node === warp && to.port === 'image')?.from.node).toBe(master);
  const refused = await run({ node: master, port: 'image' }, { node: warp, port: 'map' }, 'never.graph.json');
  expect([refused.status, refused.err]).toEqual([
    2,
    'basitax: dome.graph.json: “map” takes map, “image” gives picture.\n',
  ]);
  const loop = await run(
    { node: called('Blend_1'), port: 'image' },
    { node: called('HouseGrade'), port: 'mask' },
    'never.graph.json',
  );
  expect(loop.err).toContain('takes mask');
  expect(
    (
      await run(
        { node: called('Blend_1'), port: 'image' },
        { node: called('HouseGrade'), port: 'image' },
        'never.graph.json',
      )
    ).err,
  ).toContain('would close a loop');
  expect(existsSync(join(folder, 'never.graph.json'))).toBe(false);
  expect((await basitax('run', 'delete', 'dome.graph.json', '-o', 'x.graph.json', '--select', 'nobody')).err).toContain(
    'nothing with the id or path “nobody”',
  );
  expect((await basitax('run', 'fly', 'dome.graph.json', '-o', 'x.graph.json')).err).toContain('no operation “fly”');
  const deleted = await basitax(
    'run',
    'delete',
    'dome.graph.json',
    '-o',
    'x.graph.json',
    '--select',
    called('WarpMap_1'),
  );
  expect([deleted.status, deleted.err]).toEqual([
    1,
    'dome.graph.json: warning: Input “map” of “Warp_1” is open now: it took “WarpMap_1”.\n',
  ]);
});

it('learns kinds from files, says what is to be chosen, and gives imported nodes their kinds', async () => {
  writeFileSync(
    join(folder, 'tools.gv'),
    'digraph { a [tool=Blur, size=3]; b [tool=Blur, size=5]; c [tool=Mix]; a -> c; b -> c }',
  );
  const blind = await basitax('learn', 'tools.gv');
  expect([blind.status, blind.out]).toEqual([0, expect.stringContaining('--by takes tool')]);
  const seen = await basitax('learn', 'tools.gv', '--by', 'tool', '-o', 'tools.catalogue.json');
  expect([seen.status, seen.out]).toEqual([
    0,
    expect.stringMatching(/new: team\.blur, 1 port, 1 parameter, seen on 2 nodes/),
  ]);
  const by = ['--catalogue', 'tools.catalogue.json', '--option', 'by=tool'];
  const given = await basitax('run', 'give-kinds', 'tools.gv', ...by, '-o', 'tools.graph.json');
  expect([given.status, given.err]).not.toContain('warning');
  expect(readFileSync(join(folder, 'tools.graph.json'), 'utf8')).toContain('team.blur');
  const again = await basitax('learn', 'tools.graph.json', '--catalogue', 'tools.catalogue.json');
  expect(again.out).toContain('0 kinds to learn, 2 known in full');
});

it('draws graphs as PNG and PDF, as large as they are or as is wanted', async () => {
  expect((await basitax('convert', 'dome.graph.json', 'dome.png')).status).toBeLessThan(2);
  expect((await basitax('convert', 'dome.graph.json', 'half.png', '--scale', '0.5')).status).toBeLessThan(2);
  const [whole, half] = ['dome.png', 'half.png'].map((name) => pngSize(readFileSync(join(folder, name))));
  expect(whole!.width / half!.width).toBeCloseTo(2, 1);
  const { status, out } = await basitax('convert', 'dome.graph.json', 'dome.pdf');
  expect([status, out]).toEqual([0, '']);
  expect(readFileSync(join(folder, 'dome.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  expect(await basitax('convert', 'dome.graph.json', 'x.png', '--scale', '90')).toMatchObject({ status: 2 });
});

/** What a PNG says of its size (W3C PNG, 11.2.2: width and height stand behind the signature and the name IHDR). */
const pngSize = (bytes: Buffer) => ({ width: bytes.readUInt32BE(16), height: bytes.readUInt32BE(20) });

it('reads archives of many, writes them, and packs what is to be packed', async () => {
  const archive = zipSync({
    'act 1/ebb.gv': Buffer.from('digraph { a -> b }'),
    'act 2/ebb.gv': Buffer.from('digraph { c -> d -> e }'),
    'notes.txt': Buffer.from('x'),
  });
  writeFileSync(join(folder, 'shots.zip'), archive);
  const { status, err } = await basitax('convert', 'shots.zip', '--to', 'graphml', '-o', 'out.zip');
  expect([status, err]).toEqual([0, expect.not.stringContaining('basitax:')]);
  const made = unzipSync(readFileSync(join(folder, 'out.zip')));
  expect(Object.keys(made).sort()).toEqual(['act 1/ebb.graphml', 'act 2/ebb.graphml']);
  expect(Buffer.from(made['act 2/ebb.graphml']!).toString()).toContain('<node id="e"');
  await basitax('convert', 'shots.zip', '--to', 'dot', '-o', 'unpacked/');
  expect(readFileSync(join(folder, 'unpacked/act 1/ebb.dot'), 'utf8')).toContain('digraph');
  expect(await basitax('arrange', 'shots.zip')).toMatchObject({
    status: 2,
    err: expect.stringContaining('is an archive'),
  });
  expect((await basitax('convert', 'dome.graph.json', 'dome.graphml.gz')).status).toBeLessThan(2);
  expect(gunzipSync(readFileSync(join(folder, 'dome.graphml.gz'))).toString()).toContain('<graphml');
  expect((await basitax('measure', 'dome.graphml.gz')).status).toBeLessThan(2);
  expect((await basitax('measure', 'out.zip')).out).toMatch(/act 2/);
});
