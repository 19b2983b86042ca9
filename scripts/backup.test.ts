import { spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { isDeepStrictEqual } from 'node:util';
import { gunzipSync, gzipSync } from 'node:zlib';
import { writeDoc } from '@basitax/core/document/file';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { connect } from '@basitax/server/db/connect';
import { User } from '@basitax/server/db/models';
import { FileStore } from '@basitax/server/files/store';
import { exchanged, sums } from '@basitax/server/tests/sums';
import { freshDatabase } from '@basitax/server/tests/team';
import { Pool } from '@basitax/threads/pool';
import { expect, it } from 'vitest';

const run = (script: string, url: string, ...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [`scripts/${script}.mjs`, ...args], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: url },
  });
  return { status, out: stdout + stderr };
};

/** A backup with a checksum that fits what it says. */
function resealed(text: string): string {
  const body = text.slice(0, text.lastIndexOf('-- Basitax checksum'));
  return `${body}-- Basitax checksum SHA-256 ${createHash('sha256').update(Buffer.from(body, 'latin1')).digest('hex')}\n`;
}

it('keeps everything in one file and brings it back to the last row; a broken file changes nothing', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-backup-'));
  const url = await freshDatabase();
  const sequelize = await connect(url);
  const pool = new Pool(1);
  const store = new FileStore(sequelize, pool);
  await store.catalogues.add(catalogue);
  await User.create({ id: 'lead', login: 'lead', name: 'Lead “TD” \\ \n é 🪸', role: 'lead', passwordHash: 'x' });
  for (const file of demoFiles.slice(0, 2))
    await store.importFile('f.graph.json', writeDoc(file.build()), 'Lead TD', { id: file.slug });
  const before = await sums(url);
  expect(Object.keys(before).length).toBeGreaterThan(15);
  const file = join(folder, 'all.sql.gz');
  expect(run('backup', url, file)).toMatchObject({ status: 0 });
  expect(run('backup', url, file)).toMatchObject({ status: 1, out: expect.stringContaining('is there already') });

  await store.importFile('f.graph.json', writeDoc(demoFiles[0]!.build()), 'Lead TD', { id: 'later' });
  await sequelize.close();
  pool.close();
  const later = await sums(url);
  expect(later).not.toEqual(before);
  expect(run('restore', url, file)).toMatchObject({ status: 1, out: expect.stringContaining('Add --replace') });
  const half = join(folder, 'half.sql.gz');
  writeFileSync(half, readFileSync(file));
  truncateSync(half, Math.floor(readFileSync(file).length / 2));
  const cut = join(folder, 'cut.sql.gz');
  writeFileSync(cut, gzipSync(gunzipSync(readFileSync(file)).subarray(0, 4000)));
  for (const broken of [half, cut])
    expect(run('restore', url, broken, '--replace')).toMatchObject({
      status: 1,
      out: expect.stringContaining('is no whole backup'),
    });
  expect(await sums(url)).toEqual(later);

  const restored = run('restore', url, file, '--replace');
  expect(restored).toMatchObject({ status: 0, out: expect.stringContaining('Restored: 2 files, 2 revisions') });
  expect(await sums(url)).toEqual(before);
  // what was there before lies beside it
  const copy = /database (\w+);/.exec(restored.out)![1]!;
  expect(await sums(url.replace(/[^/]*$/, copy))).toEqual(later);
  // a second copy takes nothing from the first, and each goes only when it is named
  expect(run('restore', url, file, '--replace')).toMatchObject({ status: 0, out: expect.stringContaining('Restored') });
  const copies = () => run('restore', url, '--copies').out.split('\n').filter(Boolean);
  expect(copies()).toHaveLength(2);
  expect(run('restore', url, '--drop', new URL(url).pathname.slice(1))).toMatchObject({ status: 1 });
  expect(run('restore', url, '--drop', copy)).toMatchObject({ status: 0 });
  expect(copies()).not.toContain(copy);
  // a bit that is another, or a database of a later version, is refused
  const text = gunzipSync(readFileSync(file)).toString('latin1');
  for (const [changed, why] of [
    [text.replace('Lead', 'Lord'), 'is no whole backup'],
    [resealed(text.replace("'0001-people-and-files'", "'9999-later'")), 'later version'],
  ] as const) {
    const other = join(folder, `other-${why.length}.sql.gz`);
    writeFileSync(other, gzipSync(Buffer.from(changed, 'latin1')));
    expect(run('restore', url, other, '--replace')).toMatchObject({ status: 1, out: expect.stringContaining(why) });
  }
  expect(await sums(url)).toEqual(before);
  // and it is a database that the server takes as it is
  const names: string[] = [];
  await (await connect(url, (name) => names.push(name))).close();
  expect(names).toEqual([]);
  expect(run('restore', url, join(folder, 'none'))).toMatchObject({
    status: 1,
    out: expect.stringContaining('There is no file'),
  });
  rmSync(folder, { recursive: true, force: true });
}, 120_000);

it('killed at any moment, a restore has done all or nothing, and goes well the next time', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-drill-'));
  const url = await freshDatabase();
  const sequelize = await connect(url);
  const person = (id: string) => User.create({ id, login: id, name: id, role: 'lead', passwordHash: 'x' });
  await person('first');
  const file = join(folder, 'all.sql.gz');
  expect(run('backup', url, file)).toMatchObject({ status: 0 });
  const kept = await sums(url);
  await person('second');
  const now = await sums(url);
  await sequelize.close();
  const states = new Set<string>();
  // how long it takes here, in steps: some kills come before it begins, some behind its end
  const started = performance.now();
  expect(run('restore', url, file, '--replace')).toMatchObject({ status: 0 });
  const whole = performance.now() - started;
  const copy = run('restore', url, '--copies').out.trim();
  const back = join(folder, 'back.sql.gz');
  expect(run('backup', url.replace(/[^/]*$/, copy), back)).toMatchObject({ status: 0 });
  for (let step = 1; step <= 12; step++) {
    expect(run('restore', url, back, '--replace')).toMatchObject({ status: 0 });
    expect(await sums(url)).toEqual(now);
    const child = spawn(process.execPath, ['scripts/restore.mjs', file, '--replace'], {
      detached: true,
      stdio: 'ignore',
      env: { ...process.env, DATABASE_URL: url },
    });
    const ended = new Promise<void>((done) => child.once('exit', () => done()));
    await new Promise((done) => setTimeout(done, (whole * step) / 12));
    try {
      // with the programs that it started
      process.kill(-child.pid!, 'SIGKILL');
    } catch {
      // it had ended
    }
    await ended;
    // what the database was told last is done or undone by now
    await exchanged(url);
    const found = await sums(url);
    const isRestored = isDeepStrictEqual(found, kept);
    states.add(isRestored ? 'restored' : 'as it was');
    if (!isRestored) expect(found).toEqual(now);
  }
  expect([...states].sort()).toEqual(['as it was', 'restored']);
  rmSync(folder, { recursive: true, force: true });
}, 240_000);
