import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync, gzipSync } from 'node:zlib';
import { writeDoc } from '@basitax/core/document/file';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { connect } from '@basitax/server/db/connect';
import { User } from '@basitax/server/db/models';
import { FileStore } from '@basitax/server/files/store';
import { sums } from '@basitax/server/tests/sums';
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
  expect(run('restore', url, file)).toMatchObject({ status: 1, out: expect.stringContaining('With --replace') });
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
  expect(await sums(`${url}_before_restore`)).toEqual(later);
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
