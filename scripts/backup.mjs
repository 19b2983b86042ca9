// npm run backup -- FILE: everything of the team in one file, while people go on working.
import { createWriteStream, existsSync, renameSync, rmSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { endOf, reachDatabase, start } from './database.mjs';
import { main, Trouble } from './machine.mjs';

await main(async () => {
  const [wanted] = process.argv.slice(2);
  const stamp = new Date().toISOString().slice(0, 16).replace(/[-:]/g, '').replace('T', '-');
  const file = resolve(process.env.INIT_CWD ?? '.', wanted ?? `basitax-${stamp}.sql.gz`);
  if (existsSync(file)) throw new Trouble(`${file} is there already; name another file.`);
  const database = await reachDatabase();
  const draft = `${file}.part`;
  try {
    // one state of all tables, however long it takes
    const dump = start(
      'mariadb-dump',
      database,
      ['--single-transaction', '--quick', '--hex-blob', '--default-character-set=utf8mb4', database.name],
      ['ignore', 'pipe', 'pipe'],
    );
    await Promise.all([
      endOf(dump, 'The database could not be read'),
      pipeline(dump.stdout, createGzip(), createWriteStream(draft, { mode: 0o600 })),
    ]);
    renameSync(draft, file);
    console.log(
      `${file}, ${(statSync(file).size / 1e6).toFixed(1)} MB: all files with their revisions, people, rules, batches and the record. It holds hashes of passwords: keep it where only you can read it.`,
    );
  } catch (error) {
    rmSync(draft, { force: true });
    throw error.code === 'ENOSPC'
      ? new Trouble(`The disk is full: ${file} was not written. Nothing of the database was changed.`)
      : error;
  } finally {
    await database.stop();
  }
});
