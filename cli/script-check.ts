import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { scriptEnd } from '@basitax/core/script/job';
import { plural } from '@basitax/core/words';
import type { Pool } from '@basitax/threads/pool';
import { Failed } from './command.ts';

/** Checks a script before any file is read. Throws Failed with every mistake, each with its place. */
export async function checkScript(pool: Pool, file: string, source: string): Promise<void> {
  const found = await pool.run('checkScript', { source }, { catalogue: emptyCatalogue, limit: scriptEnd });
  if (found.length === 0) return;
  const most = 20;
  const lines = found.slice(0, most).map(({ line, column, message }) => `${file}:${line}:${column}: ${message}`);
  const rest = found.length - lines.length;
  throw new Failed([...lines, ...(rest > 0 ? [`… and ${plural(rest, 'more mistake')}.`] : [])].join('\n'));
}
