// npm run restore -- FILE [--replace]: brings a backup back, whole or not at all.
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { ask, endOf, reachDatabase, start } from './database.mjs';
import { home, isAlive, main, Trouble } from './machine.mjs';

const quoted = (name) => `\`${name.replaceAll('`', '``')}\``;

/** Moves all tables of one database into another, which is made anew. */
async function moveTables(database, from, to) {
  const tables = (
    await ask(
      database,
      `SELECT table_name FROM information_schema.tables WHERE table_schema = '${from.replaceAll("'", "''")}'`,
    )
  )
    .split('\n')
    .filter(Boolean);
  const moves = tables.map((table) => `${quoted(from)}.${quoted(table)} TO ${quoted(to)}.${quoted(table)}`).join(', ');
  await ask(
    database,
    `DROP DATABASE IF EXISTS ${quoted(to)}; CREATE DATABASE ${quoted(to)} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin; SET FOREIGN_KEY_CHECKS = 0; ${moves ? `RENAME TABLE ${moves};` : ''}`,
  );
}

await main(async () => {
  const words = process.argv.slice(2);
  const replace = words.includes('--replace');
  const [wanted] = words.filter((word) => !word.startsWith('--'));
  if (!wanted) throw new Trouble('Say which file: npm run restore -- FILE [--replace]');
  const file = resolve(process.env.INIT_CWD ?? '.', wanted);
  if (!existsSync(file)) throw new Trouble(`There is no file ${file}.`);
  const lock = join(home, 'start.pid');
  if (!process.env.DATABASE_URL && existsSync(lock) && isAlive(Number(readFileSync(lock, 'utf8'))))
    throw new Trouble('Basitax runs: stop it first, so that nobody saves into what goes away.');
  const database = await reachDatabase();
  const incoming = `${database.name}_incoming`;
  const before = `${database.name}_before_restore`;
  try {
    const people =
      Number(
        await ask(
          database,
          'SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = "users"',
          database.name,
        ),
      ) === 1
        ? Number(await ask(database, 'SELECT COUNT(*) FROM users', database.name))
        : 0;
    if (people > 0 && !replace)
      throw new Trouble(
        `The database holds a team of ${people}. With --replace the backup takes its place; what is there now is kept beside it as ${before}.`,
      );
    await ask(
      database,
      `DROP DATABASE IF EXISTS ${quoted(incoming)}; CREATE DATABASE ${quoted(incoming)} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`,
    );
    let tail = '';
    const watch = new Transform({
      transform(chunk, _encoding, done) {
        tail = `${tail}${chunk.toString('latin1')}`.slice(-200);
        done(null, chunk);
      },
    });
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
        pipeline(createReadStream(file), createGunzip(), watch, load.stdin),
      ]);
    } catch {
      throw broken();
    }
    // the last line of a dump says that it is whole
    if (!tail.includes('Dump completed')) throw broken();
    await moveTables(database, database.name, before);
    await moveTables(database, incoming, database.name);
    const [files, revisions] = (
      await ask(database, 'SELECT (SELECT COUNT(*) FROM files), (SELECT COUNT(*) FROM revisions)', database.name)
    ).split('\t');
    console.log(
      `Restored: ${files} files, ${revisions} revisions. What was there before is kept as the database ${before}.`,
    );
  } finally {
    await ask(database, `DROP DATABASE IF EXISTS ${quoted(incoming)}`).catch((error) => console.error(error.message));
    await database.stop();
  }
});
