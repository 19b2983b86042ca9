// The database that start works with, for commands that keep it and bring it back.
import { spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { findProgram, home, isAlive, Trouble } from './machine.mjs';
import { startMariadb } from './mariadb.mjs';

/** How to reach it: one that is named, one that runs, or one that is started for this. */
export async function reachDatabase() {
  if (process.env.DATABASE_URL) return { ...addressOf(process.env.DATABASE_URL), stop: async () => {} };
  const data = join(home, 'db');
  if (!existsSync(data))
    throw new Trouble(
      `There is no database in ${home}. Start Basitax once, or name the folder with BASITAX_HOME, or the database with DATABASE_URL.`,
    );
  const pid = existsSync(join(data, 'm.pid')) ? Number(readFileSync(join(data, 'm.pid'), 'utf8').trim()) : 0;
  if (isAlive(pid)) return { ...asRoot(data), stop: async () => {} };
  const { stop } = await startMariadb(data);
  return { ...asRoot(data), stop };
}

/** The private database of a data folder, while it runs, with the rights of its keeper. */
const asRoot = (data) => ({
  options: ['--protocol=socket', `--socket=${join(data, 's.sock')}`, '--user=root'],
  password: readFileSync(`${data}.secret`, 'utf8').trim(),
  name: 'basitax',
});

export const quoted = (name) => `\`${name.replaceAll('`', '``')}\``;
const text = (value) => `'${value.replaceAll('\\', '\\\\').replaceAll("'", "''")}'`;
const lines = (answer) => answer.split('\n').filter(Boolean);

/** The tables of a database; none where it is not there. */
export const tablesOf = async (database, name) =>
  lines(
    await ask(
      database,
      `SELECT table_name FROM information_schema.tables WHERE table_schema = ${text(name)} ORDER BY 1`,
    ),
  );

/** Where a backup is read in before it takes the place of what is there. */
export const incomingOf = ({ name }) => `${name}_incoming`;

/** Copies of what was there before something was restored, the oldest first. */
export const copiesOf = async (database) =>
  lines(
    await ask(
      database,
      `SELECT schema_name FROM information_schema.schemata WHERE LEFT(schema_name, ${`${database.name}_before_`.length}) = ${text(`${database.name}_before_`)} ORDER BY 1`,
    ),
  );

/**
 * Throws where a database that runs in a data folder is empty and one lies beside it that is not: something was
 * restored half, and filling the empty one would hide that.
 */
export async function refuseHalfRestored(data) {
  const database = asRoot(data);
  if ((await tablesOf(database, database.name)).length > 0) return;
  for (const name of [...(await copiesOf(database)), incomingOf(database)])
    if ((await tablesOf(database, name)).length > 0)
      throw new Trouble(
        `The database is empty, but “${name}” beside it is not: a restore was interrupted. Nothing was changed. To restore a backup: npm run restore -- FILE. To start with an empty database, remove the copy first: npm run restore -- --drop ${name}`,
      );
}

function addressOf(url) {
  if (!URL.canParse(url)) throw new Trouble(`DATABASE_URL is no address: ${url}`);
  const { hostname, port, username, password, pathname } = new URL(url);
  const options = [
    '--protocol=tcp',
    `--host=${hostname}`,
    `--port=${port || 3306}`,
    `--user=${decodeURIComponent(username)}`,
  ];
  return { options, password: decodeURIComponent(password), name: decodeURIComponent(pathname.slice(1)) };
}

export function program(name) {
  const found = findProgram([name]);
  if (!found) throw new Trouble(`${name} is missing; it comes with Debian's mariadb-server.`);
  return found;
}

/**
 * Starts a program of MariaDB's. The password goes by the environment, where other people of the machine do not see it.
 */
export const start = (name, database, args, stdio) =>
  spawn(program(name), [...database.options, ...args], {
    stdio,
    env: { ...process.env, MYSQL_PWD: database.password },
  });

/** Resolves when a program has ended well; else throws what it said last. */
export function endOf(child, what) {
  let said = '';
  child.stderr?.on('data', (text) => {
    said = `${said}${text}`.slice(-2000);
  });
  return new Promise((done, fail) => {
    child.on('error', (error) => fail(new Trouble(`${what}: ${error.message}.`)));
    child.on('close', (code) =>
      code === 0 ? done() : fail(new Trouble(`${what}: ${said.trim().split('\n').pop() || `status ${code}`}`)),
    );
  });
}

/** The answer to a question, a row a line. */
export async function ask(database, sql, name = '') {
  const child = start(
    'mariadb',
    database,
    ['--batch', '--skip-column-names', ...(name ? [name] : [])],
    ['pipe', 'pipe', 'pipe'],
  );
  let out = '';
  child.stdout.on('data', (text) => {
    out += text;
  });
  child.stdin.end(sql);
  await endOf(child, 'The database refuses');
  return out.trim();
}
