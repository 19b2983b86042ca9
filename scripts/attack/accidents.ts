import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileSchema } from '@basitax/api/files';
import { writeDoc } from '@basitax/core/document/file';
import { seededRandom } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { hashPassword } from '@basitax/server/auth/hashing';
import { connect } from '@basitax/server/db/connect';
import { FileRow, RevisionRow, User } from '@basitax/server/db/models';
import { FileStore } from '@basitax/server/files/store';
import { demoPassword, demoPeople } from '@basitax/server/seed';
import { openFile, saveLabel } from '@basitax/server/tests/acts';
import { type ServerProcess, startProcess } from '@basitax/server/tests/process';
import { Client } from '@basitax/server/tests/team';
import { Pool } from '@basitax/threads/pool';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../mariadb.mjs';

interface Database {
  url: string;
  pid: number;
  stop(): Promise<void>;
}

/** What a server has said was stored. */
interface Accepted {
  readonly saves: { readonly file: string; readonly number: number; readonly label: string }[];
  readonly imports: string[];
  readonly runs: { readonly id: string; readonly label: string }[];
}

const victims = ['server', 'other server', 'database', 'backup'] as const;
const files = 6;
/** How far the clock of the other server is off, in milliseconds. */
const clockOff = 11 * 60_000;
const sleep = (ms: number) => new Promise((done) => setTimeout(done, ms));

/**
 * People who save, import and let batches run through two servers, whose clocks are apart, while one of the servers,
 * MariaDB or a backup is killed, so many times. Gives what was accepted and is not there, or is there and was not
 * accepted whole; nothing where all is well.
 */
export async function accidents(rounds: number, say: (text: string) => void, seed = 1): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-accidents-'));
  const random = seededRandom(seed);
  let database = (await startMariadb(join(folder, 'db'))) as Database;
  await fill(database.url);
  const start = (off: number): Promise<ServerProcess> =>
    startProcess(database.url, { BATCH_LEASE: '2', BATCH_WORKERS: '1' }, off);
  const servers = await Promise.all([start(0), start(clockOff)]);
  const accepted: Accepted = { saves: [], imports: [], runs: [] };
  const faults: string[] = [];
  try {
    for (let round = 1; round <= rounds; round++) {
      const deeds = new Deeds(() => servers.map((server) => server.base), accepted, `${seed}-${round}`, random);
      const work = deeds.run();
      const victim = must(victims[(round - 1) % victims.length]);
      const backup = startBackup(database.url, join(folder, `backup-${round}.sql.gz`));
      await sleep(300 + random() * 2500);
      if (victim === 'database') {
        process.kill(database.pid, 'SIGKILL');
        const { port } = new URL(database.url);
        database = (await startMariadb(join(folder, 'db'), { port: Number(port) })) as Database;
      } else if (victim === 'backup') backup.child.kill('SIGKILL');
      else {
        const at = victim === 'server' ? 0 : 1;
        await must(servers[at]).kill();
        servers[at] = await start(at === 0 ? 0 : clockOff);
      }
      await sleep(500);
      await deeds.stop(work);
      await backup.ended;
      faults.push(...(await missing(database.url, accepted, must(servers[0]).base)));
      if (victim === 'backup' && existsSync(backup.file) && backup.child.signalCode !== null)
        faults.push('a backup that was killed stands there as a whole one');
      const told = `${accepted.saves.length} saves, ${accepted.imports.length} imports, ${accepted.runs.length} batches`;
      say(`round ${round}, ${victim} killed: ${told} accepted; ${faults.length} faults`);
    }
  } finally {
    for (const server of servers) await server.kill();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
  return faults;
}

async function fill(url: string): Promise<void> {
  const sequelize = await connect(url);
  const pool = new Pool(1);
  const store = new FileStore(sequelize, pool);
  await store.catalogues.add(catalogue);
  const passwordHash = await hashPassword(demoPassword);
  for (const person of demoPeople) await User.create({ id: person.login, ...person, passwordHash });
  const text = writeDoc(must(demoFiles.find((file) => file.slug === 'line-up')).build());
  for (let i = 0; i < files; i++) await store.importFile('line-up.graph.json', text, 'Lead TD', { id: `file-${i}` });
  pool.close();
  await sequelize.close();
}

function startBackup(url: string, file: string): { child: ChildProcess; ended: Promise<void>; file: string } {
  const child = spawn(process.execPath, ['scripts/backup.mjs', file], {
    stdio: 'ignore',
    env: { ...process.env, DATABASE_URL: url },
  });
  return { child, file, ended: new Promise<void>((done) => child.once('exit', () => done())) };
}

/** What three people do at once, each at whichever server answers. */
class Deeds {
  private readonly bases: () => readonly string[];
  private readonly accepted: Accepted;
  private readonly name: string;
  private readonly random: () => number;
  private isOver = false;

  constructor(bases: () => readonly string[], accepted: Accepted, name: string, random: () => number) {
    this.bases = bases;
    this.accepted = accepted;
    this.name = name;
    this.random = random;
  }

  async run(): Promise<void> {
    await Promise.all([this.save(), this.save(), this.import(), this.batch()]);
  }

  async stop(work: Promise<void>): Promise<void> {
    this.isOver = true;
    await work;
  }

  /** Does something again and again with a session at a server; what is cut off or refused is not counted. */
  private async again(act: (client: Client, count: number) => Promise<void>): Promise<void> {
    let client: Client | undefined;
    for (let count = 0; !this.isOver; count++) {
      try {
        client ??= await this.signedIn();
        await act(client, count);
      } catch (error) {
        // a server or the database is away: somebody goes on at the other one
        if (!(error instanceof Error)) throw error;
        client = undefined;
        await sleep(100);
      }
    }
  }

  private async signedIn(): Promise<Client> {
    const bases = this.bases();
    const client = new Client(must(bases[Math.floor(this.random() * bases.length)]));
    await client.json('POST', '/api/session', { json: { login: 'lead', password: demoPassword } });
    return client;
  }

  private save(): Promise<void> {
    return this.again(async (client, count) => {
      const file = `file-${Math.floor(this.random() * files)}`;
      const label = `${this.name}-${count}-${Math.floor(this.random() * 1e9)}`;
      const answer = await saveLabel(client, await openFile(client, file), 0, label);
      if (answer.status === 201)
        this.accepted.saves.push({ file, number: fileSchema.parse(await answer.json()).head.number, label });
    });
  }

  private import(): Promise<void> {
    return this.again(async (client, count) => {
      const text = `from,to\na${count},b\nb,c`;
      const answer = await client.send('POST', `/api/files?name=${this.name}-${count}.csv`, { text });
      if (answer.status === 201)
        this.accepted.imports.push((JSON.parse(await answer.text()) as { file: { id: string } }).file.id);
    });
  }

  private batch(): Promise<void> {
    return this.again(async (client, count) => {
      const label = `batch ${this.name} ${count}`;
      const step = { do: 'operation', operation: 'label', where: '', graphs: 'all', options: { label } };
      const json = { title: label, recipe: { steps: [step] }, files: { query: 'title:line' } };
      const run = (await client.json('POST', '/api/batches', { json, status: 201 })) as { id: string };
      const phase = async (): Promise<string> =>
        ((await client.json('GET', `/api/batches/${run.id}`)) as { phase: string }).phase;
      while ((await phase()) !== 'review') {
        if (this.isOver) return;
        await sleep(100);
      }
      await client.json('POST', `/api/batches/${run.id}/accept`, { json: { accepted: true } });
      await client.json('POST', `/api/batches/${run.id}/apply`, { json: { message: label } });
      this.accepted.runs.push({ id: run.id, label });
    });
  }
}

/** What was accepted and is not there, or stands there half. */
async function missing(url: string, accepted: Accepted, base: string): Promise<string[]> {
  const faults: string[] = [];
  const client = new Client(base);
  for (let tries = 0; ; tries++) {
    try {
      await client.json('POST', '/api/session', { json: { login: 'lead', password: demoPassword } });
      break;
    } catch (error) {
      if (tries > 100) throw error;
      await sleep(100);
    }
  }
  // what is being applied ends by itself, by whoever is still there
  for (const { id, label } of accepted.runs) {
    for (let tries = 0; ; tries++) {
      const { phase } = (await client.json('GET', `/api/batches/${id}`)) as { phase: string };
      if (phase === 'applied') break;
      if (tries > 600) {
        faults.push(`the batch ${label} was told to be applied and is ${phase}`);
        break;
      }
      await sleep(100);
    }
  }
  const sequelize = await connect(url);
  try {
    const rows = await RevisionRow.findAll({ attributes: ['fileId', 'number', 'message', 'runKey'], raw: true });
    const messages = new Map(rows.map((row) => [`${row.fileId} ${row.number}`, row.message]));
    for (const { file, number, label } of accepted.saves)
      if (messages.get(`${file} ${number}`) !== label)
        faults.push(`the save ${label} of ${file} is not revision ${number}`);
    const heads = await FileRow.findAll({ attributes: ['id', 'head'], raw: true });
    const known = new Set(heads.map((row) => row.id));
    for (const id of accepted.imports) if (!known.has(id)) faults.push(`the imported file ${id} is not there`);
    for (const { id, head } of heads) {
      const numbers = rows
        .filter((row) => row.fileId === id)
        .map((row) => row.number)
        .sort((a, b) => a - b);
      if (numbers.length !== head || numbers.some((number, i) => number !== i + 1))
        faults.push(`${id} has revisions ${numbers.join(' ')} and says that ${head} is its newest`);
    }
    // a batch made one revision of a file, or none where somebody else was first
    const keys = rows.flatMap((row) => (row.runKey ? [`${row.runKey} ${row.fileId}`] : []));
    if (new Set(keys).size !== keys.length) faults.push('a batch made two revisions of one file');
  } finally {
    await sequelize.close();
  }
  return faults;
}
