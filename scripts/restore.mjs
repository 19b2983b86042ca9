// npm run restore -- FILE [--replace]: brings a backup back, whole or not at all.
// npm run restore -- --copies: the copies of what was there before; --drop NAME removes one.
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { Checked, knownMigrations } from './backup-format.mjs';
import { ask, copiesOf, endOf, incomingOf, quoted, reachDatabase, start, tablesOf } from './database.mjs';
import { home, isAlive, main, Trouble } from './machine.mjs';

const stamp = () => new Date().toISOString().slice(0, 23).replace(/[-:.]/g, '').replace('T', '_');

/**
 * Puts the tables of one database in the place of those of another, which go to a third that is empty: one statement,
 * which the database does whole or not at all, whoever dies meanwhile.
 */
async function swap(database, incoming, copy) {
  const moves = async (from, to) =>
    (await tablesOf(database, from)).map(
      (table) => `${quoted(from)}.${quoted(table)} TO ${quoted(to)}.${quoted(table)}`,
    );
  const all = [...(await moves(database.name, copy)), ...(await moves(incoming, database.name))];
  for (let tries = 1; ; tries++) {
    try {
      await ask(database, `SET FOREIGN_KEY_CHECKS = 0; RENAME TABLE ${all.join(', ')};`);
      return;
    } catch (error) {
      // the database looks at its own tables now and then, and does not let go of them at that moment
      if (tries === 5) throw error;
      await new Promise((done) => setTimeout(done, 500));
    }
  }
}

async function listCopies(database) {
  const copies = await copiesOf(database);
  console.log(copies.length === 0 ? 'There are no copies.' : copies.join('\n'));
}

async function dropCopy(database, name) {
  // what a restore was reading in when it was broken off may go too
  if (![...(await copiesOf(database)), incomingOf(database)].includes(name))
    throw new Trouble(`There is no copy “${name}”. To list the copies: npm run restore -- --copies`);
  await ask(database, `DROP DATABASE ${quoted(name)}`);
  console.log(`Removed ${name}.`);
}

async function restore(database, file, replace) {
  const incoming = incomingOf(database);
  const hasUsers = (await tablesOf(database, database.name)).includes('users');
  const people = hasUsers ? Number(await ask(database, 'SELECT COUNT(*) FROM users', database.name)) : 0;
  if (people > 0 && !replace)
    throw new Trouble(
      `The database holds a team of ${people}. Add --replace to put the backup in its place; what is there now is kept as a copy.`,
    );
  await ask(
    database,
    `DROP DATABASE IF EXISTS ${quoted(incoming)}; CREATE DATABASE ${quoted(incoming)} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
  );
  const checked = new Checked();
  const load = start(
    'mariadb',
    database,
    ['--max-allowed-packet=64M', '--default-character-set=utf8mb4', incoming],
    ['pipe', 'ignore', 'pipe'],
  );
  const broken = () => new Trouble(`${file} is no whole backup of Basitax. Nothing was changed.`);
  try {
    await Promise.all([
      endOf(load, 'The backup could not be read in'),
      pipeline(createReadStream(file), createGunzip(), checked, load.stdin),
    ]);
  } catch {
    throw broken();
  }
  if (!checked.isWhole) throw broken();
  const newer = (await ask(database, 'SELECT name FROM SequelizeMeta', incoming))
    .split('\n')
    .filter((name) => !knownMigrations().has(name));
  if (newer.length > 0)
    throw new Trouble(
      `${file} was made by a later version of Basitax (its database is at “${newer[0]}”). Nothing was changed. Update Basitax first, then restore it.`,
    );
  const copy = `${database.name}_before_${stamp()}`;
  await ask(database, `CREATE DATABASE ${quoted(copy)} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  await swap(database, incoming, copy);
  const [files, revisions] = (
    await ask(database, 'SELECT (SELECT COUNT(*) FROM files), (SELECT COUNT(*) FROM revisions)', database.name)
  ).split('\t');
  console.log(
    `Restored: ${files} files, ${revisions} revisions. What was there before is kept as the database ${copy}; to remove it: npm run restore -- --drop ${copy}`,
  );
}

await main(async () => {
  const words = process.argv.slice(2);
  const dropped = words.includes('--drop') ? words[words.indexOf('--drop') + 1] : undefined;
  const [wanted] = words.filter((word) => !word.startsWith('--') && word !== dropped);
  const isAsking = words.includes('--copies') || words.includes('--drop');
  if (!isAsking && !wanted)
    throw new Trouble('Say which file: npm run restore -- FILE [--replace]; or --copies, or --drop NAME.');
  const file = resolve(process.env.INIT_CWD ?? '.', wanted ?? '');
  if (!isAsking && !existsSync(file)) throw new Trouble(`There is no file ${file}.`);
  const lock = join(home, 'start.pid');
  if (!isAsking && !process.env.DATABASE_URL && existsSync(lock) && isAlive(Number(readFileSync(lock, 'utf8'))))
    throw new Trouble('Basitax runs: stop it first, so that nobody saves into what goes away.');
  const database = await reachDatabase();
  try {
    if (words.includes('--copies')) await listCopies(database);
    else if (words.includes('--drop')) await dropCopy(database, dropped ?? '');
    else await restore(database, file, words.includes('--replace'));
  } finally {
    if (!isAsking)
      await ask(database, `DROP DATABASE IF EXISTS ${quoted(incomingOf(database))}`).catch((error) =>
        console.error(error.message),
      );
    await database.stop();
  }
});
