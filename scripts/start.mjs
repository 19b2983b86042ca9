// npm start: everything from a fresh clone to a running application, and quick the second time.
// npm start -- --team "Name": an empty house for a team of one's own, without the demo.
// npm run dev: the same for whoever changes it. The server starts anew when its sources change, and Vite serves the web
// application as it is written.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { refuseHalfRestored } from './database.mjs';
import {
  checkNode,
  ensureBuilt,
  ensurePackages,
  home,
  isAlive,
  main,
  makeHome,
  portIsFree,
  root,
  Trouble,
} from './machine.mjs';
import { keepMariadb, pauses } from './mariadb.mjs';

const lock = join(home, 'start.pid');
const isDev = process.argv.includes('--dev');
/** The exit code of a server that is set wrongly: starting it again would not help. */
const setWrongly = 78;

/**
 * Whose house this is: the demo's, or a team's own. It is noted in the folder at the first start, and stays what it is.
 */
function houseOf() {
  const at = process.argv.indexOf('--team');
  const name = at === -1 ? undefined : (process.argv[at + 1] ?? '').trim();
  if (name === '' || name?.startsWith('--')) throw new Trouble('Give the team a name: npm start -- --team "Name"');
  const note = join(home, 'house');
  const known = existsSync(note)
    ? readFileSync(note, 'utf8').trim()
    : existsSync(join(home, 'db'))
      ? 'demo'
      : undefined;
  if (known === 'demo' && name !== undefined)
    throw new Trouble(
      `${home} contains the demo. Use another folder for the team: BASITAX_HOME=/another/folder npm start -- --team "${name}"`,
    );
  const house = known ?? (name === undefined ? 'demo' : `team ${name}`);
  writeFileSync(note, `${house}\n`);
  return house === 'demo' ? {} : { BASITAX_DEMO: 'no', BASITAX_TEAM: house.slice(5) };
}

const told = (sentence) => console.error(`${new Date().toISOString()} ${sentence}`);

function takeLock() {
  const other = existsSync(lock) ? Number(readFileSync(lock, 'utf8')) : 0;
  if (other !== process.pid && isAlive(other))
    throw new Trouble(
      `Basitax runs already from ${home} (process ${other}); stop it first, or start a second one with BASITAX_HOME=/another/folder PORT=4190 npm start.`,
    );
  writeFileSync(lock, String(process.pid));
}

await main(async () => {
  checkNode();
  makeHome();
  const port = Number(process.env.PORT ?? 4180);
  if (!Number.isInteger(port) || port < 1 || port > 65535)
    throw new Trouble(`PORT is “${process.env.PORT}”; it has to be a number from 1 to 65535.`);
  takeLock();
  const house = process.env.DATABASE_URL ? {} : houseOf();
  let database;
  let server;
  let web;
  let asked = false;
  // Ctrl-C reaches all processes of the terminal; the server ends itself, then the database is stopped
  const end = (signal) => {
    asked = true;
    web?.kill();
    server?.kill(signal === 'SIGHUP' ? 'SIGTERM' : signal);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => end(signal));
  try {
    if (!(await portIsFree(port)))
      throw new Trouble(`Port ${port} is taken by another program; choose another one: PORT=${port + 1} npm start`);
    await ensurePackages();
    if (!asked && !isDev) await ensureBuilt();
    if (!asked && !process.env.DATABASE_URL) {
      console.log('Starting MariaDB …');
      database = await keepMariadb(join(home, 'db'), told);
      await refuseHalfRestored(join(home, 'db'));
    }
    if (asked) return;
    if (isDev) {
      if (!(await portIsFree(port + 1)))
        throw new Trouble(
          `Port ${port + 1}, for the web application, is taken by another program; choose others: PORT=${port + 2} npm run dev`,
        );
      const args = ['--host', '127.0.0.1', '--port', String(port + 1), '--strictPort'];
      web = spawn(process.execPath, [join(root, 'node_modules/vite/bin/vite.js'), ...args], {
        cwd: join(root, 'web'),
        stdio: 'inherit',
        env: { ...process.env, PORT: String(port) },
      });
      console.log(`Open http://127.0.0.1:${port + 1}, which follows your changes.`);
    }
    // known only now that all packages are there
    const { serverArguments } = await import('../threads/program.mjs');
    const runsServer = isDev ? ['--watch', '--import', 'tsx', join(root, 'server/main.ts')] : await serverArguments();
    let hasRun = false;
    const run = () => {
      server = spawn(process.execPath, runsServer, {
        cwd: root,
        // the channel tells the server when this process is gone, however it went
        stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
        env: {
          NODE_ENV: isDev ? 'development' : 'production',
          ...process.env,
          ...house,
          PORT: String(port),
          DATABASE_URL: process.env.DATABASE_URL || database.url,
          WEB_FOLDER: join(root, 'web/dist'),
          LOG_FILE: process.env.LOG_FILE ?? join(home, 'server.log'),
        },
      });
      server.on('message', (message) => {
        hasRun ||= message === 'serves';
      });
      return new Promise((done) => server.on('exit', (status, signal) => done({ status, signal })));
    };
    for (let pause = pauses(); ; ) {
      const { status, signal } = await run();
      if (asked || status === 0) break;
      // what is set wrongly stays so, and what never came up is told and left
      if (status === setWrongly || !hasRun) {
        process.exitCode = 1;
        break;
      }
      const wait = pause();
      told(
        `The server stopped unexpectedly (${signal ?? `status ${status}`}). Starting it again${wait > 0 ? ` in ${wait / 1000} s` : ''}.`,
      );
      await new Promise((done) => setTimeout(done, wait));
      if (asked) break;
    }
  } finally {
    web?.kill();
    if (database) await database.stop();
    rmSync(lock, { force: true });
    if (asked) console.log('Stopped.');
  }
});
