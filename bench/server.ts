import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeDoc } from '@basitax/core/document/file';
import { seededRandom } from '@basitax/core/document/ids';
import type { GraphNode } from '@basitax/core/document/schema';
import type { Edit, Step } from '@basitax/core/edit/step';
import { catalogue } from '@basitax/demo/catalogue';
import { hashPassword } from '@basitax/server/auth/hashing';
import { connect } from '@basitax/server/db/connect';
import { PendingRow, User } from '@basitax/server/db/models';
import { FileStore } from '@basitax/server/files/store';
import { type ServerProcess, startProcess } from '@basitax/server/tests/process';
import { Pool } from '@basitax/threads/pool';
import { QueryTypes, type Sequelize } from 'sequelize';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../scripts/mariadb.mjs';
import { at } from './numbers.ts';
import { bigScene } from './scene.ts';

interface Row {
  readonly act: string;
  readonly count: number;
  /** Milliseconds until the answer was read to its end, among 50 people. */
  readonly median: string;
  readonly p95: string;
  /** The 95th percentile over the median of one person alone in the same run: machines differ. */
  readonly ofAlone: string;
}

const people = 50;
const files = 1000;
const templates = 10;
const nodesEach = 1000;
const wiresEach = 1500;
/** Each person does one act in so many milliseconds. */
const pace = 5000;
const password = 'bench-bench';
const acts = ['open', 'edit', 'save', 'search'] as const;
type Act = (typeof acts)[number];

/** 1,000 files of 1,000 nodes: ten that differ, and copies of them with all that is derived from them. */
async function fill(sequelize: Sequelize): Promise<void> {
  const pool = new Pool(2);
  const store = new FileStore(sequelize, pool);
  await store.catalogues.add(catalogue);
  const passwordHash = await hashPassword(password);
  await User.bulkCreate(
    Array.from({ length: people }, (_, i) => ({
      id: `p${i}`,
      login: `p${i}`,
      name: `Person ${i}`,
      role: 'editor' as const,
      passwordHash,
    })),
  );
  for (let t = 0; t < templates; t++)
    await store.importFile(`t${t}.graph.json`, writeDoc(bigScene(nodesEach, wiresEach, t + 1)), 'Bench', {
      id: `f${t}`,
    });
  const copied = ['revisions', 'sketches', 'revision_findings', 'hook_runs', 'uses'];
  const columns = await sequelize.query<{ name: string; columns: string }>(
    `SELECT table_name AS name, GROUP_CONCAT(column_name ORDER BY ordinal_position) AS columns FROM information_schema.columns
     WHERE table_schema = DATABASE() AND table_name IN (?) GROUP BY table_name`,
    { replacements: [[...copied, 'files']], type: QueryTypes.SELECT },
  );
  const copy = async (table: string, key: string, from: string, to: string): Promise<void> => {
    const all = columns.find((one) => one.name === table)!.columns.split(',');
    const list = all.map((name) => `\`${name}\``).join(', ');
    const values = all.map((name) => (name === key ? '?' : `\`${name}\``)).join(', ');
    await sequelize.query(`INSERT INTO ${table} (${list}) SELECT ${values} FROM ${table} WHERE \`${key}\` = ?`, {
      replacements: [to, from],
      type: QueryTypes.INSERT,
    });
  };
  for (let i = templates; i < files; i++) {
    await copy('files', 'id', `f${i % templates}`, `f${i}`);
    for (const table of copied) await copy(table, 'file_id', `f${i % templates}`, `f${i}`);
  }
  pool.close();
}

/** Megabytes that a process has in memory. */
const residentOf = ({ pid }: ChildProcess): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

class Person {
  private readonly base: string;
  private readonly random: () => number;
  private readonly who: number;
  private cookie = '';
  private file = '';
  private revision = 0;
  private nodes: GraphNode[] = [];
  private live: AbortController | undefined;
  turn: number;
  met = 0;

  constructor(base: string, who: number) {
    this.base = base;
    this.who = who;
    this.turn = who;
    this.random = seededRandom(who + 1);
  }

  private async ask(
    method: string,
    path: string,
    json?: unknown,
    headers: Record<string, string> = {},
  ): Promise<Response> {
    const response = await fetch(this.base + path, {
      method,
      headers: {
        ...(this.cookie && { Cookie: this.cookie }),
        ...(json !== undefined && { 'Content-Type': 'application/json' }),
        ...headers,
      },
      ...(json !== undefined && { body: JSON.stringify(json) }),
    });
    if (!response.ok && response.status !== 412)
      throw new Error(`${method} ${path} gave ${response.status}: ${(await response.text()).slice(0, 200)}`);
    return response;
  }

  async signIn(): Promise<void> {
    const response = await this.ask('POST', '/api/session', { login: `p${this.who}`, password });
    this.cookie = response.headers.get('set-cookie')!.split(';')[0]!;
    await this.open();
  }

  private async open(): Promise<number> {
    const file = `f${Math.floor(this.random() * files)}`;
    const started = performance.now();
    const [info, document] = await Promise.all([
      this.ask('GET', `/api/files/${file}`),
      this.ask('GET', `/api/files/${file}/revisions/head`),
    ]);
    const [, text] = await Promise.all([info.text(), document.text()]);
    const took = performance.now() - started;
    this.file = file;
    this.revision = Number(JSON.parse(document.headers.get('etag')!));
    this.nodes = (JSON.parse(text) as { nodes: GraphNode[] }).nodes;
    this.live?.abort();
    this.live = new AbortController();
    // who is in the file comes as it happens, as it does for an open tab
    void fetch(`${this.base}/api/files/${file}/live`, { headers: { Cookie: this.cookie }, signal: this.live.signal })
      .then(async (line) => {
        for await (const _part of line.body!);
      })
      .catch(() => undefined);
    return took;
  }

  private async save(): Promise<number> {
    const steps: Step[] = [];
    for (let i = 0; i < 5; i++) {
      const k = Math.floor(this.random() * this.nodes.length);
      const node = this.nodes[k]!;
      if (steps.some((step) => 'id' in step && step.id === node.id)) continue;
      const x = Math.round(node.x + this.random() * 40 - 20);
      steps.push({ type: 'set', table: 'nodes', id: node.id, path: ['x'], from: node.x, to: x });
      this.nodes[k] = { ...node, x };
    }
    const edit: Edit = { steps };
    const started = performance.now();
    const response = await this.ask(
      'POST',
      `/api/files/${this.file}/revisions`,
      { edit, message: 'Tidied up' },
      { 'If-Match': `"${this.revision}"` },
    );
    await response.text();
    const took = performance.now() - started;
    if (response.status === 412) {
      // somebody else saved this file: in the application the edit is brought over it
      this.met++;
      await this.open();
    } else this.revision++;
    return took;
  }

  async act(act: Act): Promise<number> {
    if (act === 'open') return this.open();
    if (act === 'save') return this.save();
    const started = performance.now();
    if (act === 'edit') {
      const standing = {
        graph: 'root',
        x: 0,
        y: 0,
        width: 1280,
        height: 800,
        selection: [this.nodes[0]!.id],
        editing: true,
      };
      await this.ask('PUT', `/api/files/${this.file}/presence/${String(this.who).padStart(8, '0')}`, standing);
    } else
      await (
        await this.ask(
          'GET',
          `/api/uses?what=kind&name=${this.nodes[Math.floor(this.random() * this.nodes.length)]!.kind}`,
        )
      ).text();
    return performance.now() - started;
  }

  close(): void {
    this.live?.abort();
  }
}

type Times = Record<Act, number[]>;
const noTimes = (): Times => ({ open: [], edit: [], save: [], search: [] });

/** 50 people who each do one act in five seconds, over as many server processes as are asked for. */
async function work(
  bases: readonly string[],
  minutes: number,
  sample: () => void,
): Promise<{ times: Times; errors: string[]; met: number }> {
  const times = noTimes();
  const errors: string[] = [];
  const all = Array.from({ length: people }, (_, i) => new Person(bases[i % bases.length]!, i));
  for (const person of all) await person.signIn();
  const until = performance.now() + minutes * 60_000;
  const watch = setInterval(sample, 5000);
  await Promise.all(
    all.map(async (person, i) => {
      await new Promise((done) => setTimeout(done, (i / people) * pace));
      while (performance.now() < until) {
        const started = performance.now();
        const act = acts[person.turn++ % acts.length]!;
        await person.act(act).then(
          (ms) => times[act].push(ms),
          (error: Error) => errors.push(`${act}: ${error.message}`),
        );
        await new Promise((done) => setTimeout(done, Math.max(0, pace - (performance.now() - started))));
      }
      person.close();
    }),
  );
  clearInterval(watch);
  return { times, errors, met: all.reduce((sum, one) => sum + one.met, 0) };
}

async function alone(base: string): Promise<Times> {
  const times = noTimes();
  const person = new Person(base, 0);
  await person.signIn();
  for (let i = 0; i < 12; i++) for (const act of acts) times[act].push(await person.act(act));
  person.close();
  return times;
}

/** `-- server` for ten minutes on one server process; `-- server 2x3` for three minutes on two. */
export async function server(only = '1x10'): Promise<Row[]> {
  const [processes, minutes] = only.split('x').map(Number) as [number, number];
  const folder = mkdtempSync(join(tmpdir(), 'basitax-bench-'));
  const database = await startMariadb(join(folder, 'db'));
  const sequelize = await connect(database.url);
  await fill(sequelize);
  const servers: ServerProcess[] = [];
  for (let i = 0; i < processes; i++) servers.push(await startProcess(database.url, { LOG_LEVEL: 'warn' }));
  const bases = servers.map((one) => one.base);
  const single = await alone(bases[0]!);
  const memory: number[] = [];
  const { times, errors, met } = await work(bases, minutes, () =>
    memory.push(servers.reduce((sum, one) => sum + residentOf(one.child), 0)),
  );
  const waiting = await PendingRow.count();
  const fifth = Math.max(1, Math.floor(memory.length / 5));
  console.log(
    `${processes} server process(es), ${minutes} minutes, ${files} files of ${nodesEach} nodes: ${errors.length} errors, ${met} saves met others, ${waiting} revisions not yet measured.`,
  );
  console.log(
    `Memory of the server, MB, the median of each fifth: ${Array.from({ length: 5 }, (_, i) => Math.round(at(memory.slice(i * fifth, (i + 1) * fifth), 0.5))).join(', ')}`,
  );
  for (const error of [...new Set(errors)].slice(0, 5)) console.log(error);
  await Promise.all(servers.map((one) => one.stop()));
  await sequelize.close();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
  return acts.map((act) => ({
    act,
    count: times[act].length,
    median: at(times[act], 0.5).toFixed(0),
    p95: at(times[act], 0.95).toFixed(0),
    ofAlone: (at(times[act], 0.95) / at(single[act], 0.5)).toFixed(2),
  }));
}
