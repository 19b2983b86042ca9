// npm run attack -- [--files N] [--scripts N]: hostile scripts and broken files against a server of its own on loopback,
// with its memory before and after, and how long others wait for the list of files meanwhile. Ends with status 1 where
// the server answered with an error of its own, did not give its memory back, or kept others waiting.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { seededRandom } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { formats } from '@basitax/core/formats/formats';
import { must } from '@basitax/core/must';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { demoPassword } from '@basitax/server/seed';
import { startProcess } from '@basitax/server/tests/process';
import { Client } from '@basitax/server/tests/team';
import { endless, greedy, reaching } from '@basitax/threads/hostile-scripts';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from './mariadb.mjs';

const { values } = parseArgs({
  options: { files: { type: 'string', default: '1500' }, scripts: { type: 'string', default: '1' } },
});
const folder = mkdtempSync(join(tmpdir(), 'basitax-attack-'));
const database = await startMariadb(join(folder, 'db'), { throwaway: true });
const server = await startProcess(database.url, { BASITAX_DEMO: 'yes' });
const megabytes = (): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.child.pid}/status`, 'utf8'))?.[1]) / 1024;
const signedIn = async (login: string): Promise<Client> => {
  const client = new Client(server.base);
  await client.json('POST', '/api/session', { json: { login, password: demoPassword } });
  return client;
};
const sleep = (ms: number) => new Promise((done) => setTimeout(done, ms));
let faults: string[] = [];

/** Once more where a connection was closed that had been idle; a server that is gone is thrown. */
async function kept<T>(ask: () => Promise<T>): Promise<T> {
  try {
    return await ask();
  } catch (error) {
    if (!(error instanceof TypeError) || server.child.exitCode !== null) throw error;
    return ask();
  }
}

/** Does something while somebody else asks for the list of files, ten times a second. */
async function attacked(what: string, act: () => Promise<number>): Promise<void> {
  const bystander = await signedIn('lead');
  const waits: number[] = [];
  let isOver = false;
  const watch = (async () => {
    while (!isOver) {
      const asked = performance.now();
      await kept(() => bystander.json('GET', '/api/files'));
      waits.push(performance.now() - asked);
      await sleep(100);
    }
  })();
  const before = megabytes();
  const count = await act();
  isOver = true;
  await watch;
  await sleep(5000);
  const more = megabytes() - before;
  const p95 = waits.sort((a, b) => a - b)[Math.floor(waits.length * 0.95)] ?? 0;
  console.log(
    `${what}: ${count} sent; the list of files in ${Math.round(p95)} ms (95th percentile of ${waits.length}); memory ${before.toFixed(0)} MB before, ${more >= 0 ? '+' : ''}${more.toFixed(0)} MB after`,
  );
  if (p95 > 500) faults.push(`${what}: others waited ${Math.round(p95)} ms`);
  if (more > 50) faults.push(`${what}: ${Math.round(more)} MB were kept`);
}

/** Sends something; what is an error of the server's own is a fault. */
async function send(
  client: Client,
  method: string,
  path: string,
  options: Parameters<Client['send']>[2],
  what: string,
) {
  for (;;) {
    const answer = await kept(() => client.send(method, path, options));
    await answer.text();
    if (answer.status === 429) {
      await sleep(1000);
      continue;
    }
    if (answer.status >= 500) faults.push(`${what}: ${answer.status}`);
    return;
  }
}

/** Several at a time, each by one of a few people. */
async function together<T>(all: readonly T[], each: (one: T, client: Client) => Promise<void>): Promise<number> {
  const clients = await Promise.all(['viewer', 'editor', 'editor'].map(signedIn));
  const todo = [...all];
  await Promise.all(
    clients.map(async (client) => {
      for (let one = todo.shift(); one !== undefined; one = todo.shift()) await each(one, client);
    }),
  );
  return all.length;
}

const scripts = [...endless, ...greedy, ...reaching].map(([what, source]) => ({ what, source }));
const reach = { over: 'all' };
const runs = Array.from({ length: Number(values.scripts) }, () => scripts).flat();

/** Files that are broken in one of several ways, by chance that is the same each time. */
function* brokenFiles(count: number): Generator<{ name: string; text: string }> {
  const random = seededRandom(7);
  const int = (below: number): number => Math.floor(random() * below);
  const kinds = new Kinds(catalogue);
  const doc = must(demoFiles[0]).build();
  const bases = formats.flatMap((format) =>
    format.read ? [{ name: `a${format.extensions[0]}`, text: format.write(doc, kinds) }] : [],
  );
  const nest = (open: string, close: string): string => open.repeat(20_000) + close.repeat(int(2) * 20_000);
  const floods = [
    { name: 'a.dot', text: `digraph{${'subgraph{'.repeat(400)}` },
    { name: 'a.dot', text: `digraph{a[${Array.from({ length: 20_000 }, (_, i) => `k${i}=v`).join(',')}]}` },
    { name: 'a.dot', text: `digraph{${'/* x */'.repeat(20_000)}}` },
    { name: 'a.csv', text: Array.from({ length: 5000 }, (_, i) => `a${i},hub`).join('\n') },
    { name: 'a.csv', text: Array.from({ length: 5000 }, (_, i) => `a${i},a${i + 1}`).join('\n') },
    { name: 'a.graphml', text: nest('<graph>', '</graph>') },
    { name: 'a.gexf', text: `<gexf ${Array.from({ length: 20_000 }, (_, i) => `k${i}="v"`).join(' ')}/>` },
    { name: 'a.mtlx', text: `<materialx>${'<!-- x -->'.repeat(50_000)}</materialx>` },
    { name: 'a.jgf', text: nest('[', ']') },
    { name: 'a.graph.json', text: nest('{"a":', '}') },
  ];
  yield* floods;
  for (let i = floods.length; i < count; i++) {
    const base = must(bases[i % bases.length]);
    let { text } = base;
    for (let k = 1 + int(4); k > 0; k--) {
      const at = int(text.length);
      const length = int(40);
      const part = text.slice(at, at + length);
      const put = [
        '',
        part.repeat(2 + int(6)),
        must('<>{}[]"\'\\&;,='[int(13)]).repeat(1 + int(30)),
        String.fromCharCode(int(0xffff)),
        '1e999',
        '__proto__',
      ][int(6)];
      text = text.slice(0, at) + (put ?? '') + text.slice(at + length);
    }
    yield { name: base.name, text };
  }
}

try {
  // threads and caches are there from then on
  await attacked('a warm-up', () =>
    together(
      Array.from({ length: 6 }, () => ({ source: 'log(1)' })),
      ({ source }, client) =>
        send(client, 'POST', '/api/files/dome-blend/scripts', { json: { source, reach } }, 'a script'),
    ),
  );
  faults = [];
  await attacked('hostile scripts', () =>
    together(runs, ({ what, source }, client) =>
      send(client, 'POST', '/api/files/dome-blend/scripts', { json: { source, reach } }, what),
    ),
  );
  const editors = await signedIn('editor');
  await attacked('broken files', () =>
    together([...brokenFiles(Number(values.files))], ({ name, text }) =>
      send(editors, 'POST', `/api/files?name=${name}`, { text }, name),
    ),
  );
} finally {
  await server.kill();
  await database.stop();
  rmSync(folder, { recursive: true, force: true });
}
for (const fault of [...new Set(faults)].slice(0, 40)) console.error(fault);
console.log(faults.length === 0 ? 'Nothing went through.' : `${faults.length} went through.`);
process.exitCode = faults.length === 0 ? 0 : 1;
