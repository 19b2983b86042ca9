import { demoFiles } from '@basitax/demo/files';
import { demoScripts } from '@basitax/demo/scripts';
import { Pool } from '@basitax/threads/pool';
import { expect, it } from 'vitest';
import { connect } from './db/connect.ts';
import { HookRun, RevisionRow, SketchRow } from './db/models.ts';
import { fillIn, type RevisionHook } from './files/hooks.ts';
import { FileStore } from './files/store.ts';
import { Library } from './library/library.ts';
import { seedDemo } from './seed.ts';
import { freshDatabase } from './tests/team.ts';

it('seeds once, keeps what is there, migrates only what is missing, and runs later hooks over what was stored before', async () => {
  const url = await freshDatabase();
  const names: string[] = [];
  const sequelize = await connect(url, (name) => names.push(name));
  expect(names.length).toBeGreaterThanOrEqual(2);
  const pool = new Pool(1);
  const store = new FileStore(sequelize, pool);
  const library = new Library(sequelize, pool);
  expect(await seedDemo(store, library)).toBe(true);
  const viewer = { id: 'viewer', login: 'viewer', name: 'Producer', role: 'viewer' } as const;
  expect((await library.list(viewer)).map((item) => item.id).sort()).toEqual(
    demoScripts.map((script) => script.id).sort(),
  );
  expect((await store.list(viewer)).map((file) => file.id).sort()).toEqual(demoFiles.map((file) => file.slug).sort());
  expect(await seedDemo(store, library)).toBe(false);

  await SketchRow.destroy({ where: {} });
  const seen: string[] = [];
  const later: RevisionHook = {
    name: 'sketch',
    version: 2,
    run: async ({ fileId, number, text }) => void seen.push(`${fileId} ${number} ${text.includes('basitax-graph')}`),
  };
  const inspect = async (fileId: string, number: number) => {
    const { text, catalogue } = await store.text(fileId, number);
    return { text, noted: await pool.run('note', {}, { doc: text, catalogue }) };
  };
  const revisions = await RevisionRow.count();
  expect(revisions).toBeGreaterThan(demoFiles.length);
  expect(await fillIn(sequelize, inspect, [later])).toBe(revisions);
  expect(seen).toContain('dome-blend 1 true');
  expect(await fillIn(sequelize, inspect, [later])).toBe(0);
  expect(await HookRun.count({ where: { hook: 'sketch', version: 2 } })).toBe(revisions);
  expect(await store.fillInHooks()).toBe(revisions);
  expect(await SketchRow.count()).toBe(revisions);
  await sequelize.close();

  const again: string[] = [];
  const second = await connect(url, (name) => again.push(name));
  expect(again).toEqual([]);
  expect((await new FileStore(second, pool).list(viewer)).length).toBe(demoFiles.length);
  pool.close();
  await second.close();
});
