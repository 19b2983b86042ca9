import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Person } from '@basitax/api/people';
import { writeDoc } from '@basitax/core/document/file';
import { seededRandom } from '@basitax/core/document/ids';
import { demoFiles } from '@basitax/demo/files';
import { Pool } from '@basitax/threads/pool';
import type { Sequelize } from 'sequelize';
import { afterAll, beforeAll, expect, it } from 'vitest';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../scripts/mariadb.mjs';
import { Batches } from './batch/batches.ts';
import { BatchItemRow } from './db/batch-models.ts';
import { connect } from './db/connect.ts';
import { FileRow, RevisionRow } from './db/models.ts';
import { FileSearch } from './files/search.ts';
import { FileStore } from './files/store.ts';
import { Library } from './library/library.ts';
import { demoPeople } from './seed.ts';
import { type ServerProcess, startProcess } from './tests/process.ts';

const person: Person = { id: 'lead', ...demoPeople[0]! };
const files = 20;
const rounds = Number(process.env.KILL_ROUNDS ?? 9);
let folder: string;
let database: { url: string; pid: number; stop(): Promise<void> };
let server: ServerProcess;
let sequelize: Sequelize;
let pool: Pool;
let store: FileStore;
let batches: Batches;

const startServer = async (): Promise<void> => {
  server = await startProcess(database.url, { BATCH_LEASE: '2', BATCH_WORKERS: '2' });
};

/** The processes that the server started. */
function workersOf(pid: number): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .map(Number)
    .filter((one) => {
      try {
        return (
          Number(/^\d+ \(.*\) \S (\d+)/.exec(readFileSync(`/proc/${one}/stat`, 'utf8'))?.[1]) === pid &&
          readFileSync(`/proc/${one}/cmdline`, 'utf8').includes('worker-main')
        );
      } catch {
        return false;
      }
    });
}

/** Asks again while the database is away. */
async function patiently<T>(act: () => Promise<T>): Promise<T> {
  for (let i = 0; ; i++) {
    try {
      return await act();
    } catch (error) {
      if (i > 60) throw error;
      await new Promise((done) => setTimeout(done, 250));
    }
  }
}

async function until(test: () => Promise<boolean>): Promise<void> {
  for (let i = 0; !(await patiently(test)); i++) {
    if (i > 600)
      throw new Error(
        `It took too long: ${JSON.stringify(await BatchItemRow.findAll({ attributes: ['fileId', 'state', 'why'], raw: true }))}`,
      );
    await new Promise((done) => setTimeout(done, 100));
  }
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'basitax-kill-'));
  database = await startMariadb(join(folder, 'db'));
  sequelize = await connect(database.url);
  pool = new Pool(1);
  store = new FileStore(sequelize, pool);
  batches = new Batches(sequelize, store, pool, new Library(sequelize, pool), new FileSearch(store, pool));
  const text = writeDoc(demoFiles.find((file) => file.slug === 'line-up')!.build());
  for (let i = 0; i < files; i++) await store.importFile('line-up.graph.json', text, 'Lead TD', { id: `file-${i}` });
  await startServer();
});
afterAll(async () => {
  await server.kill();
  pool.close();
  await sequelize.close().catch(() => {});
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
});

it(`loses and doubles nothing when a worker, the server or MariaDB is killed at ${rounds} random moments of applying`, async () => {
  const random = seededRandom(20_261_126);
  const fingerprints = new Map(
    (await RevisionRow.findAll({ where: { number: 1 } })).map((row) => [row.fileId, row.fingerprintEverything]),
  );
  for (let round = 1; round <= rounds; round++) {
    const steps = [
      {
        do: 'operation' as const,
        operation: 'label',
        where: '',
        graphs: 'all' as const,
        options: { label: `round ${round}` },
      },
    ];
    const run = await patiently(() =>
      batches.start({ title: `Round ${round}`, recipe: { steps }, files: { query: '' } }, person),
    );
    await until(async () => (await batches.run(run.id, person)).phase === 'review');
    await patiently(() => batches.accept(run.id, true, person));
    await patiently(() => batches.apply(run.id, `Round ${round}`, person));
    await new Promise((done) => setTimeout(done, random() * 700));
    const workers = workersOf(server.child.pid!);
    const what = ['worker', 'server', 'database'][Math.floor(random() * 3)]!;
    if (what === 'worker' && workers.length > 0)
      process.kill(workers[Math.floor(random() * workers.length)]!, 'SIGKILL');
    else if (what === 'database') {
      process.kill(database.pid, 'SIGKILL');
      database = await startMariadb(join(folder, 'db'), { port: Number(new URL(database.url).port) });
    } else {
      await server.kill();
      await startServer();
    }
    await until(async () => (await batches.run(run.id, person)).phase === 'applied');
    // each file has exactly one revision more, made by this run, and what it computes is as it was
    const items = await patiently(() => BatchItemRow.findAll({ where: { runId: run.id } }));
    expect(items.map((item) => [item.state, item.applied, item.why])).toEqual(
      Array.from({ length: files }, () => ['applied', round + 1, '']),
    );
    const rows = await patiently(() =>
      RevisionRow.findAll({ attributes: ['fileId', 'number', 'fingerprintEverything', 'message', 'runKey'] }),
    );
    expect(rows).toHaveLength(files * (round + 1));
    expect(rows.filter((row) => row.runKey === `${run.id}:apply`).map((row) => row.message)).toEqual(
      Array.from({ length: files }, () => `Round ${round}`),
    );
    expect(rows.every((row) => row.fingerprintEverything === fingerprints.get(row.fileId))).toBe(true);
    expect((await FileRow.findAll()).map((file) => file.head)).toEqual(Array.from({ length: files }, () => round + 1));
  }
  // the newest of each file is whole, and says the last round
  for (let i = 0; i < files; i++) {
    const { text } = await store.text(`file-${i}`, 'head');
    expect(text.match(/"label":"round (\d+)"/g)?.every((label) => label.includes(`round ${rounds}`))).toBe(true);
  }
}, 900_000);
