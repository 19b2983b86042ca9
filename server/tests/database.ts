import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
// @ts-expect-error plain script that has to run before anything is installed
import { startMariadb } from '../../scripts/mariadb.mjs';

/** Gives the tests a throwaway MariaDB, unless one is named already. */
export default async function setup(): Promise<() => Promise<void>> {
  if (process.env.TEST_DATABASE_URL) return async () => {};
  const folder = mkdtempSync(join(tmpdir(), 'basitax-test-'));
  const database = await startMariadb(join(folder, 'db'), { throwaway: true });
  process.env.TEST_DATABASE_URL = database.url;
  return async () => {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
