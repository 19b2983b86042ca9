import { createHash } from 'node:crypto';
import { must } from '@basitax/core/must';
import { QueryTypes } from 'sequelize';
import { note } from '../audit/note.ts';
import { Session } from '../db/models.ts';
import { HttpProblem } from '../http/problem.ts';

// Guessing is slowed down for all servers that share the database: failures are counted there.

/**
 * How many failures are let by before a pause, and how long that is, in seconds: for one login from one address, and
 * for an address whatever the login.
 */
const limits = { login: { most: 10, pause: 60 }, address: { most: 60, pause: 600 } } as const;
type Limit = keyof typeof limits;

/** Kept as a hash, since a login that was mistyped may be a password. */
const keyOf = (limit: Limit, login: string, address: string): string =>
  createHash('sha256')
    .update(JSON.stringify(limit === 'login' ? [login, address] : [address]))
    .digest('hex');

const database = () => must(Session.sequelize);

/** Throws 429 where there were too many failures a moment ago. */
export async function checkAttempts(login: string, address: string): Promise<void> {
  for (const limit of Object.keys(limits) as Limit[]) {
    const [row] = await database().query<{ wait: number }>(
      'SELECT TIMESTAMPDIFF(SECOND, NOW(3), until) AS wait FROM sign_in_failures WHERE who = ? AND count >= ? AND until > NOW(3)',
      {
        replacements: [keyOf(limit, login, address), limits[limit].most],
        type: QueryTypes.SELECT,
      },
    );
    if (row)
      throw new HttpProblem(
        429,
        'Too many tries',
        `There were too many tries. Wait ${row.wait < 90 ? 'a minute' : `${Math.ceil(row.wait / 60)} minutes`} and try again.`,
      );
  }
}

/** Counts a failure. What is over is forgotten. */
export async function noteFailure(login: string, address: string): Promise<void> {
  await database().query('DELETE FROM sign_in_failures WHERE until < NOW(3)', { type: QueryTypes.DELETE });
  for (const limit of Object.keys(limits) as Limit[]) {
    const { most, pause } = limits[limit];
    const who = keyOf(limit, login, address);
    await database().query(
      `INSERT INTO sign_in_failures (who, count, until) VALUES (?, 1, NOW(3) + INTERVAL ${pause} SECOND) ON DUPLICATE KEY UPDATE count = count + 1, until = NOW(3) + INTERVAL ${pause} SECOND`,
      { replacements: [who], type: QueryTypes.INSERT },
    );
    const [row] = await database().query<{ count: number }>('SELECT count FROM sign_in_failures WHERE who = ?', {
      replacements: [who],
      type: QueryTypes.SELECT,
    });
    if (row?.count === most)
      await note({
        person: '',
        act: 'Is paused after too many failed sign-ins',
        target: limit === 'login' ? login.slice(0, 60) : 'all logins',
        address,
      });
  }
}

/**
 * Forgets the failures of a login that got in; those of the address stay, since one right guess is no excuse for sixty
 * others.
 */
export async function noteSuccess(login: string, address: string): Promise<void> {
  await database().query('DELETE FROM sign_in_failures WHERE who = ?', {
    replacements: [keyOf('login', login, address)],
    type: QueryTypes.DELETE,
  });
}
