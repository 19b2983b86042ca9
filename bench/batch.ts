import { type ChildProcess, fork } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Recipe, recipeSchema } from '@basitax/core/batch/recipe';
import type { Doc } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { messyDoc } from '@basitax/core/tests/messy';
import { catalogue } from '@basitax/demo/catalogue';
import { Batches } from '@basitax/server/batch/batches';
import { workerFlags } from '@basitax/server/batch/crew';
import { BatchItemRow } from '@basitax/server/db/batch-models';
import { connect } from '@basitax/server/db/connect';
import { FileSearch } from '@basitax/server/files/search';
import { FileStore } from '@basitax/server/files/store';
import { Library } from '@basitax/server/library/library';
import { demoPeople } from '@basitax/server/seed';
import { Pool } from '@basitax/threads/pool';
import { program } from '@basitax/threads/program.mjs';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../scripts/mariadb.mjs';
import { bigScene } from './scene.ts';

interface Row {
  readonly files: string;
  readonly what: string;
  readonly count: number;
  readonly seconds: string;
  readonly filesPerSecond: string;
  /** Files a second over those of the first row, in the same run. */
  readonly ofFirst: string;
  /** The most memory that a worker process held, in MB. */
  readonly mb: number;
}

const workers = 2;
const person = { id: 'lead', ...demoPeople[0]! };
const recipeOf = (...steps: object[]): Recipe => recipeSchema.parse({ steps });
const relabel = { do: 'operation', operation: 'captions', options: { target: 'label', pattern: 'Step {n}' } };
const check = { do: 'check', stop: 'never' };
const arrange = { do: 'operation', operation: 'arrange' };

/**
 * 500 nodes and some 700 wires each: rows of shots in frames, as in the other benchmarks; and a tangle that nobody has
 * tidied, in which wires run backwards all over.
 */
const families: Readonly<Record<string, (seed: number) => Doc>> = {
  shots: (seed) => bigScene(500, 700, seed),
  tangle: (seed) => messyDoc(seed, 500),
};

/** The most that a process has held in memory so far, in MB. */
function peakOf({ pid }: ChildProcess): number {
  return Math.round(Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024);
}

/**
 * Batch runs over 1,000 files of 500 nodes, or so many as are named, with two worker processes: planned with
 * readability before and after, applied, rolled back.
 */
export async function batch(only?: string): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [name, fileOf] of Object.entries(families))
    rows.push(...(await family(name, fileOf, Number(only ?? 1000))));
  return rows;
}

async function family(name: string, fileOf: (seed: number) => Doc, count: number): Promise<Row[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-batch-'));
  const database = await startMariadb(join(folder, 'db'), { throwaway: true });
  const crew: ChildProcess[] = [];
  try {
    const sequelize = await connect(database.url);
    const pool = new Pool(2);
    const store = new FileStore(sequelize, pool);
    const batches = new Batches(sequelize, store, pool, new Library(sequelize, pool), new FileSearch(store, pool));
    await store.catalogues.add(catalogue);
    const texts = Array.from({ length: 20 }, (_, i) => writeDoc(fileOf(i + 1)));
    for (let i = 0; i < count; i += 4)
      await Promise.all(
        Array.from({ length: Math.min(4, count - i) }, (_, k) =>
          store.importFile('f.graph.json', texts[(i + k) % texts.length]!, 'Lead TD', { id: `file-${i + k}` }),
        ),
      );
    pool.close();
    const script = await program('worker-main', 'server/batch/worker-main.ts', 'server/dist');
    for (let i = 0; i < workers; i++)
      crew.push(
        fork(script, ['--stay'], { execArgv: [...workerFlags], env: { ...process.env, DATABASE_URL: database.url } }),
      );
    const rows: Row[] = [];
    const timed = async (what: string, id: string, begin: () => Promise<unknown>): Promise<void> => {
      await begin();
      // the work itself, from its first to its last file: starting a process is no part of it
      let started = 0;
      for (;;) {
        const left = await BatchItemRow.count({ where: { runId: id, state: ['waiting', 'to-apply', 'to-roll-back'] } });
        if (started === 0 && left < count) started = performance.now();
        if (left === 0) break;
        await new Promise((done) => setTimeout(done, 100));
      }
      const seconds = (performance.now() - started) / 1000;
      const rate = count / seconds;
      const first = Number(rows[0]?.filesPerSecond ?? rate);
      rows.push({
        files: name,
        what,
        count,
        seconds: seconds.toFixed(1),
        filesPerSecond: rate.toFixed(1),
        ofFirst: (rate / first).toFixed(2),
        mb: Math.max(...crew.map(peakOf)),
      });
    };
    for (const [title, recipe] of [
      ['relabel, check', recipeOf(relabel, check)],
      ['arrange, relabel, check', recipeOf(arrange, relabel, check)],
    ] as const) {
      const { id } = await batches.start({ title, recipe, files: { query: '' } }, person);
      await timed(`plan: ${title}`, id, async () => {});
      await timed(`apply: ${title}`, id, async () => {
        await batches.accept(id, true, person);
        await batches.apply(id, title, person);
      });
      await timed(`roll back: ${title}`, id, () => batches.rollBack(id, person));
    }
    await sequelize.close();
    return rows;
  } finally {
    for (const one of crew) one.kill('SIGKILL');
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}
