import { createHash } from 'node:crypto';
import type { Contract } from '@basitax/api/contract';
import { mostBody, takesKey } from '@basitax/api/contract';
import { must } from '@basitax/core/must';
import type { Context } from 'koa';
import { QueryTypes, type Sequelize, UniqueConstraintError } from 'sequelize';
import { databaseNow, databaseTime } from '../db/clock.ts';
import { IdempotencyRow } from '../db/event-models.ts';
import { rawBytes } from './body.ts';
import { HttpProblem } from './problem.ts';

/** How long an answer is kept, in milliseconds; then a key may be used again. */
export const keyLife = 24 * 3_600_000;
/** No request takes longer than this, in milliseconds. */
const longest = 10 * 60_000;
/** Headers of an answer that are kept with it. */
const kept = ['ETag', 'Location'] as const;

const sequelizeOf = (): Sequelize => must(IdempotencyRow.sequelize);

/** What was asked, as a hash. Cost: that of reading a file that is sent as it is. */
async function requestHash(ctx: Context, contract: Contract, body: unknown): Promise<string> {
  const hash = createHash('sha256');
  hash.update(JSON.stringify([ctx.method, ctx.path, ctx.querystring, ctx.get('If-Match'), body ?? null]));
  if (contract.raw) hash.update(await rawBytes(ctx, mostBody(contract)));
  return hash.digest('hex');
}

/**
 * Does what a request asks once, however often it is sent with the same `Idempotency-Key` (the IETF draft “The
 * Idempotency-Key HTTP Header Field”): who sends it again is given the first answer. What failed changed nothing, and
 * may be tried again. Throws 409 while the first is being done, 422 where the key was used for something else.
 */
export async function doneOnce(
  ctx: Context,
  contract: Contract,
  person: string,
  body: unknown,
  act: () => Promise<unknown>,
): Promise<unknown> {
  const key = ctx.get('Idempotency-Key');
  if (key === '' || !takesKey(contract)) return act();
  if (!/^[\x21-\x7e]{1,255}$/.test(key))
    throw new HttpProblem(400, 'The request does not fit', 'Idempotency-Key has 1 to 255 visible characters.');
  const at = { userId: person, idempotencyKey: key };
  const request = await requestHash(ctx, contract, body);
  const sequelize = sequelizeOf();
  await sequelize.query(
    `DELETE FROM idempotency_keys WHERE user_id = ? AND idempotency_key = ? AND at < NOW(3) - INTERVAL ${keyLife / 1000} SECOND`,
    { type: QueryTypes.DELETE, replacements: [person, key] },
  );
  try {
    const insert =
      'INSERT INTO idempotency_keys (user_id, idempotency_key, request, headers, at) VALUES (?, ?, ?, ?, NOW(3))';
    await sequelize.query(insert, { type: QueryTypes.INSERT, replacements: [person, key, request, '{}'] });
  } catch (error) {
    if (!(error instanceof UniqueConstraintError)) throw error;
    return again(ctx, at, request);
  }
  let result: unknown;
  try {
    result = await act();
  } catch (error) {
    await IdempotencyRow.destroy({ where: at });
    throw error;
  }
  // what is done stays done where its answer cannot be kept: the key is in doubt then
  const headers = Object.fromEntries(
    kept.flatMap((name) => (ctx.response.get(name) ? [[name, ctx.response.get(name)]] : [])),
  );
  await IdempotencyRow.update(
    {
      ...{ status: ctx.status, headers: JSON.stringify(headers), at: databaseTime() },
      body: result === undefined ? null : JSON.stringify(result),
    },
    { where: at },
  );
  return result;
}

/** The answer that was given the first time. */
async function again(ctx: Context, at: { userId: string; idempotencyKey: string }, request: string): Promise<unknown> {
  const row = await IdempotencyRow.findOne({ where: at });
  if (row && row.request !== request)
    throw new HttpProblem(422, 'Another request', 'This Idempotency-Key was used for another request. Use a new one.');
  const now = row && row.status === null ? await databaseNow(sequelizeOf()) : undefined;
  if (row && now && now.getTime() - row.at.getTime() > longest)
    throw new HttpProblem(
      409,
      'In doubt',
      'The server stopped during the first request with this Idempotency-Key. Check whether the change was made, then use a new key.',
    );
  if (!row || row.status === null)
    throw new HttpProblem(
      409,
      'Being done',
      'The first request with this Idempotency-Key is still being done. Ask again in a moment.',
      {},
      1,
    );
  for (const [name, value] of Object.entries(JSON.parse(row.headers) as Record<string, string>)) ctx.set(name, value);
  ctx.set('Idempotency-Replayed', 'true');
  ctx.status = row.status;
  ctx.state.said = { nothing: true };
  return row.body === null ? undefined : JSON.parse(row.body);
}
