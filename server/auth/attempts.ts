import { createHash, randomBytes } from 'node:crypto';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { QueryTypes } from 'sequelize';
import { Session } from '../db/models.ts';
import { retried } from '../db/retry.ts';
import { HttpProblem } from '../http/problem.ts';

// Guessing is slowed down for all servers that share the database. A try is counted before the password is looked at,
// so that tries at the same time count like tries one after the other. What grows is the pause between two tries, never
// a lock: who knows a login cannot shut its owner out, who signs in from a browser that has been let in before.

/**
 * From how many failures on there is a pause between two tries, and the longest that it grows to, in seconds. `pair`: one
 * login from one address, or from one browser that is known; `login`: one login, from wherever; `address`: whatever
 * login.
 */
const limits = {
  pair: { free: 10, longest: 900 },
  login: { free: 30, longest: 60 },
  address: { free: 60, longest: 30 },
} as const;
type Limit = keyof typeof limits;

/** After so long without a failure all is forgotten, in seconds. */
const memory = 1800;

/** Who tries: the login as it is stored, where from, and the browser where it was let in with this login before. */
export interface Attempt {
  readonly login: string;
  readonly address: string;
  readonly browser: string | undefined;
}

/** Kept as a hash, since a login that was mistyped may be a password. */
const hashed = (...parts: readonly string[]): string =>
  createHash('sha256').update(JSON.stringify(parts)).digest('hex');

function keysOf({ login, address, browser }: Attempt): [Limit, string][] {
  if (browser !== undefined) return [['pair', hashed('browser', login, browser)]];
  return [
    ['pair', hashed('pair', login, address)],
    ['login', hashed('login', login)],
    ['address', hashed('address', address)],
  ];
}

const database = () => must(Session.sequelize);
/**
 * Counts a try, in the time of the database. Throws HttpProblem 429 where it comes before its pause is over. Each limit
 * is one statement, so that of tries at the same time one alone goes through where there is a pause.
 */
export async function countAttempt(attempt: Attempt): Promise<void> {
  const own = randomBytes(8).toString('hex');
  for (const [limit, who] of keysOf(attempt).reverse()) {
    const { free, longest } = limits[limit];
    // assignments are done from left to right: the last one sees the new count
    const [row] = await retried(() =>
      database().query<{ tried: string; wait: number }>(
        `INSERT INTO sign_in_failures (who, count, until, tried) VALUES (:who, 1, NOW(3), :own)
         ON DUPLICATE KEY UPDATE
           tried = IF(until > NOW(3), tried, :own),
           count = IF(until > NOW(3), count, IF(until < NOW(3) - INTERVAL ${memory} SECOND, 1, count + 1)),
           until = IF(until > NOW(3), until, NOW(3) + INTERVAL IF(count < ${free}, 0, LEAST(${longest}, POW(2, LEAST(20, count - ${free})))) SECOND)
         RETURNING tried, TIMESTAMPDIFF(MICROSECOND, NOW(3), until) / 1000000 AS wait`,
        { replacements: { who, own }, type: QueryTypes.SELECT },
      ),
    );
    if (must(row).tried === own) continue;
    const wait = Math.max(1, Math.ceil(Number(must(row).wait)));
    throw new HttpProblem(
      429,
      'Too many tries',
      `There were too many tries. Wait ${wait < 90 ? plural(wait, 'second') : plural(Math.ceil(wait / 60), 'minute')} and try again.`,
      {},
      wait,
    );
  }
}

/** Takes back what a try counted that was right; failures of a login and an address before it stay. */
export async function forgive(attempt: Attempt): Promise<void> {
  for (const [limit, who] of keysOf(attempt))
    await database().query(
      limit === 'pair'
        ? 'DELETE FROM sign_in_failures WHERE who = ?'
        : 'UPDATE sign_in_failures SET count = GREATEST(count - 1, 0), until = NOW(3) WHERE who = ?',
      { replacements: [who], type: limit === 'pair' ? QueryTypes.DELETE : QueryTypes.UPDATE },
    );
  await database().query(`DELETE FROM sign_in_failures WHERE until < NOW(3) - INTERVAL ${memory} SECOND`, {
    type: QueryTypes.DELETE,
  });
}
