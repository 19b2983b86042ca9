// npm run backup -- FILE: everything of the team in one file, while people go on working.
// npm run backup -- FOLDER --every 24h --keep 14: again and again, the oldest ones removed.
import { createWriteStream, existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { parseArgs } from 'node:util';
import { createGzip } from 'node:zlib';
import { Sealed } from './backup-format.mjs';
import { endOf, reachDatabase, start } from './database.mjs';
import { main, Trouble } from './machine.mjs';

const stamp = () => new Date().toISOString().slice(0, 19).replace(/[-:]/g, '').replace('T', '-');
/** What backups are called that are made again and again: nothing else is ever removed. */
const own = /^basitax-\d{8}-\d{6}\.sql\.gz$/;
const units = { m: 60_000, h: 3_600_000, d: 86_400_000 };

async function backup(file) {
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
      pipeline(dump.stdout, new Sealed(), createGzip(), createWriteStream(draft, { mode: 0o600, flush: true })),
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
}

/** Milliseconds of a time such as 24h. */
function timeOf(text) {
  const [, count, unit] = /^(\d+)([mhd])$/.exec(text) ?? [];
  if (count === undefined || Number(count) === 0)
    throw new Trouble(`--every takes a time such as 30m, 24h or 7d, not “${text}”.`);
  return Number(count) * units[unit];
}

function removeOldest(folder, keep) {
  const made = readdirSync(folder)
    .filter((name) => own.test(name))
    .sort();
  for (const name of made.slice(0, Math.max(0, made.length - keep))) {
    rmSync(join(folder, name));
    console.log(`Removed ${name}; the ${keep} latest backups are kept.`);
  }
}

await main(async () => {
  const { values, positionals } = parseArgs({
    options: { every: { type: 'string' }, keep: { type: 'string', default: '14' } },
    allowPositionals: true,
  });
  const at = process.env.INIT_CWD ?? '.';
  if (values.every === undefined) {
    await backup(resolve(at, positionals[0] ?? `basitax-${stamp()}.sql.gz`));
    return;
  }
  const pause = timeOf(values.every);
  const keep = Number(values.keep);
  if (!Number.isInteger(keep) || keep < 1) throw new Trouble(`--keep takes a number from 1, not “${values.keep}”.`);
  const folder = resolve(at, positionals[0] ?? 'backups');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  for (;;) {
    try {
      await backup(join(folder, `basitax-${stamp()}.sql.gz`));
      removeOldest(folder, keep);
    } catch (error) {
      // the next one may go well; what watches this reads the line
      if (!(error instanceof Trouble)) throw error;
      console.error(`${new Date().toISOString()} No backup was made: ${error.message}`);
    }
    await new Promise((done) => setTimeout(done, pause));
  }
});
