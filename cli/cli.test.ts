import { execFile, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
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
  writeFileSync(join(folder, 'broken.graphml'), '<graphml>\n<graph>\n</graphml>');
});
afterAll(() => rmSync(folder, { recursive: true }));

/** The real command, as npx runs it. */
function basitax(...args: string[]): Promise<{ status: number; out: string; err: string }> {
  return new Promise((done) => {
    execFile(process.execPath, [resolve('cli/bin/basitax.mjs'), ...args], { cwd: folder }, (error, out, err) => done({ status: error ? Number(error.code) : 0, out, err }));
  });
}

it('converts by ending, there and back, and arranges on the way', async () => {
  expect(await basitax('convert', 'dome.graph.json', 'dome.graphml')).toEqual({ status: 0, out: '', err: '' });
  expect(await basitax('arrange', 'dome.graphml', '-o', 'down.graph.json', '--flow', 'down', '--keep', '0.5')).toMatchObject({ status: 0, err: '' });
  const down = JSON.parse(readFileSync(join(folder, 'down.graph.json'), 'utf8'));
  expect(down.graphs[0].flow).toBe('down');
  expect(Object.keys(down.routes)).toHaveLength(down.wires.length);
  const prints = await Promise.all(['dome.graph.json', 'dome.graphml', 'down.graph.json'].map((file) => basitax('fingerprint', file, '--json')));
  const expected = fingerprint(demoFiles[0]!.build(), new Kinds(catalogue));
  for (const print of prints) expect(JSON.parse(print.out)).toEqual(expected);
});

it('measures, as text and as JSON', async () => {
  const json = JSON.parse((await basitax('measure', 'dome.graph.json', '--json')).out);
  expect(json).toMatchObject({ graphs: 1, nodes: 21, wires: 19 });
  expect((await basitax('measure', 'dome.graph.json')).out).toMatch(/^nodes +21$/m);
});

it('lists the operations of the registry', async () => {
  expect((await basitax('operations')).out).toMatch(/^distribute-x +Makes the gaps/m);
  expect(JSON.parse((await basitax('operations', '--json')).out)[0].id).toBe('arrange');
});

it('ends quietly where its output is not read to the end', async () => {
  const { status, err } = await new Promise<{ status: number | null; err: string }>((done) => {
    const child = spawn(process.execPath, [resolve('cli/bin/basitax.mjs'), 'operations', '--json'], { stdio: ['ignore', 'pipe', 'pipe'] });
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
  [['convert', 'broken.graphml', 'x.json'], 'broken.graphml:3: this is no well-formed XML'],
  [['convert', 'dome.graph.json', 'x.pdf'], '.graphml'],
  [['arrange', 'dome.graph.json'], '-o OUT'],
  [['arrange', 'dome.graph.json', '-o', 'x.json', '--keep', '3'], '--keep takes a number from 0 to 1'],
  [['arrange', 'dome.graph.json', '-o', 'x.json', '--flow', 'sideways'], '--flow takes right'],
  [['arrange', 'dome.graph.json', '-o', 'no/such/folder.json'], 'cannot be written'],
  [['measure', 'dome.graph.json', '--catalogue', 'dome.graph.json'], 'this is no catalogue'],
  [['measure'], 'takes one file'],
  [['fly'], 'no command “fly”'],
  [['measure', '--wings', 'x'], '--wings'],
])('ends with 2 and one sentence: %j', async (args, message) => {
  const { status, err, out } = await basitax(...args);
  expect([status, out]).toEqual([2, '']);
  expect(err).toContain(message);
  expect(err.trim().split('\n')).toHaveLength(1);
});

it('reads and writes DOT, Latin-1 as well, and arranges in either quality', async () => {
  writeFileSync(join(folder, 'old.gv'), Buffer.from('digraph G { a [label="caf\xe9"]; a -> b -> c; a -> c }', 'latin1'));
  expect(await basitax('arrange', 'old.gv', '-o', 'new.dot', '--quality', 'best', '--flow', 'right')).toMatchObject({ status: 0 });
  const text = readFileSync(join(folder, 'new.dot'), 'utf8');
  expect(text).toContain('café');
  expect(text).toMatch(/a -> b/);
  expect(JSON.parse((await basitax('measure', 'new.dot', '--json')).out)).toMatchObject({ nodes: 3, wires: 3, backward: 0 });
  expect((await basitax('arrange', 'old.gv', '-o', 'x.dot', '--quality', 'great')).err).toContain('--quality takes quick or best');
});

it('does any operation of the registry, and refuses wiring that does not fit with the reason, writing nothing', async () => {
  const doc = demoFiles[0]!.build();
  const called = (name: string) => [...doc.nodes.values()].find((node) => node.name === name)!.id;
  const [master, warp] = [called('DomeMaster'), called('Warp_1')];
  const run = (from: object, to: object, out = 'wired.graph.json') =>
    basitax('run', 'connect', 'dome.graph.json', '-o', out, '--options', JSON.stringify({ from, to, replace: true }));
  expect(await run({ node: master, port: 'image' }, { node: warp, port: 'image' })).toMatchObject({ status: 0, out: 'Wired “Dome master 4K” to “Warp_1”.\n' });
  const wired = JSON.parse(readFileSync(join(folder, 'wired.graph.json'), 'utf8')) as { wires: { from: { node: string }; to: { node: string; port: string } }[] };
  expect(wired.wires.find(({ to }) => to.node === warp && to.port === 'image')?.from.node).toBe(master);
  const refused = await run({ node: master, port: 'image' }, { node: warp, port: 'map' }, 'never.graph.json');
  expect([refused.status, refused.err]).toEqual([2, 'basitax: “map” takes map, “image” gives picture.\n']);
  const loop = await run({ node: called('Blend_1'), port: 'image' }, { node: called('HouseGrade'), port: 'mask' }, 'never.graph.json');
  expect(loop.err).toContain('takes mask');
  expect((await run({ node: called('Blend_1'), port: 'image' }, { node: called('HouseGrade'), port: 'image' }, 'never.graph.json')).err).toContain('would close a loop');
  expect(existsSync(join(folder, 'never.graph.json'))).toBe(false);
  expect((await basitax('run', 'delete', 'dome.graph.json', '-o', 'x.graph.json', '--select', 'nobody')).err).toContain('nothing with the id “nobody”');
  expect((await basitax('run', 'delete', 'dome.graph.json')).err).toContain('-o OUT');
  expect((await basitax('run', 'fly', 'dome.graph.json', '-o', 'x.graph.json')).err).toContain('no operation “fly”');
  const deleted = await basitax('run', 'delete', 'dome.graph.json', '-o', 'x.graph.json', '--select', called('WarpMap_1'));
  expect([deleted.status, deleted.err]).toEqual([1, 'dome.graph.json: warning: Input “map” of “Warp_1” is open now, since nothing passes for it.\n']);
});
