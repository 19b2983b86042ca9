import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoPassword } from '@basitax/server/seed';
import { type ServerProcess, startProcess } from '@basitax/server/tests/process';
import { Client } from '@basitax/server/tests/team';
import { endless, greedy, reaching } from '@basitax/threads/hostile-scripts';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../mariadb.mjs';
import { brokenFiles } from './broken-files.ts';

const sleep = (ms: number) => new Promise((done) => setTimeout(done, ms));

/** What others may wait for the list of files meanwhile, and the memory that may be kept afterwards. */
const [longestWait, mostKept] = [500, 50];

/**
 * Hostile scripts, each so many times, and broken files against a server of its own on loopback, with its memory before
 * and after, and how long others wait meanwhile. Gives what went through: errors of the server's own, memory that was
 * kept, others that waited.
 */
export async function attackServer(
  counts: { readonly scripts: number; readonly files: number },
  say: (text: string) => void,
): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'basitax-attack-'));
  const database = (await startMariadb(join(folder, 'db'), { throwaway: true })) as {
    url: string;
    stop(): Promise<void>;
  };
  const server = await startProcess(database.url, { BASITAX_DEMO: 'yes' });
  try {
    const attack = new Attack(server, say);
    // threads and caches are there from then on
    await attack.scripts(
      'a warm-up',
      Array.from({ length: 6 }, () => ['a script', 'log(1)'] as const),
    );
    attack.faults.length = 0;
    const hostile = [...endless, ...greedy, ...reaching];
    if (counts.scripts > 0)
      await attack.scripts('hostile scripts', Array.from({ length: counts.scripts }, () => hostile).flat());
    if (counts.files > 0) await attack.files(counts.files);
    return attack.faults;
  } finally {
    await server.kill();
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

class Attack {
  readonly faults: string[] = [];
  private readonly server: ServerProcess;
  private readonly say: (text: string) => void;

  constructor(server: ServerProcess, say: (text: string) => void) {
    this.server = server;
    this.say = say;
  }

  scripts(what: string, scripts: readonly (readonly [string, string])[]): Promise<void> {
    return this.watched(what, () =>
      this.together(scripts, ([name, source], client) =>
        this.send(client, '/api/files/dome-blend/scripts', { json: { source, reach: { over: 'all' } } }, name),
      ),
    );
  }

  async files(count: number): Promise<void> {
    const editor = await this.signedIn('editor');
    await this.watched('broken files', () =>
      this.together([...brokenFiles(count)], ({ name, text }) =>
        this.send(editor, `/api/files?name=${name}`, { text }, name),
      ),
    );
  }

  private megabytes(): number {
    const status = readFileSync(`/proc/${this.server.child.pid}/status`, 'utf8');
    return Number(/VmRSS:\s+(\d+)/.exec(status)?.[1]) / 1024;
  }

  private async signedIn(login: string): Promise<Client> {
    const client = new Client(this.server.base);
    await client.json('POST', '/api/session', { json: { login, password: demoPassword } });
    return client;
  }

  /** Once more where a connection was closed that had been idle; a server that is gone is thrown. */
  private async kept<T>(ask: () => Promise<T>): Promise<T> {
    try {
      return await ask();
    } catch (error) {
      if (!(error instanceof TypeError) || this.server.child.exitCode !== null) throw error;
      return ask();
    }
  }

  /** Does something while somebody else asks for the list of files, ten times a second. */
  private async watched(what: string, act: () => Promise<number>): Promise<void> {
    const bystander = await this.signedIn('lead');
    const waits: number[] = [];
    let isOver = false;
    const watch = (async () => {
      while (!isOver) {
        const asked = performance.now();
        await this.kept(() => bystander.json('GET', '/api/files'));
        waits.push(performance.now() - asked);
        await sleep(100);
      }
    })();
    const before = this.megabytes();
    const count = await act();
    isOver = true;
    await watch;
    await sleep(5000);
    const more = this.megabytes() - before;
    const p95 = waits.sort((a, b) => a - b)[Math.floor(waits.length * 0.95)] ?? 0;
    this.say(
      `${what}: ${count} sent; the list of files in ${Math.round(p95)} ms (95th percentile of ${waits.length}); memory ${before.toFixed(0)} MB before, ${more >= 0 ? '+' : ''}${more.toFixed(0)} MB after`,
    );
    if (p95 > longestWait) this.faults.push(`${what}: others waited ${Math.round(p95)} ms`);
    if (more > mostKept) this.faults.push(`${what}: ${Math.round(more)} MB were kept`);
  }

  /** Sends something; what is an error of the server's own is a fault. */
  private async send(client: Client, path: string, options: Parameters<Client['send']>[2], what: string) {
    for (;;) {
      const answer = await this.kept(() => client.send('POST', path, options));
      await answer.text();
      if (answer.status === 429) {
        await sleep(1000);
        continue;
      }
      if (answer.status >= 500) this.faults.push(`${what}: ${answer.status}`);
      return;
    }
  }

  /** Several at a time, each by one of a few people. */
  private async together<T>(all: readonly T[], each: (one: T, client: Client) => Promise<void>): Promise<number> {
    const clients = await Promise.all(['viewer', 'editor', 'editor'].map((login) => this.signedIn(login)));
    const todo = [...all];
    await Promise.all(
      clients.map(async (client) => {
        for (let one = todo.shift(); one !== undefined; one = todo.shift()) await each(one, client);
      }),
    );
    return all.length;
  }
}
