import type { Contract } from '@basitax/api/contract';
import { mostBody } from '@basitax/api/contract';
import { checkJson } from '@basitax/core/document/nesting';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import type { Context } from 'koa';
import getRawBody from 'raw-body';
import { HttpProblem } from './problem.ts';

/** A value for each so many bytes at the most: far more than what the application sends. */
const bytesPerValue = 4;

const unfit = (detail: string): HttpProblem => new HttpProblem(400, 'The request does not fit', detail);

/**
 * What the body of a request holds as JSON; undefined where there is none. Refused as soon as it passes what its route
 * takes, and before it is parsed where it is nested without end. Throws HttpProblem. O(bytes).
 */
export async function jsonBody(ctx: Context, contract: Contract): Promise<unknown> {
  const limit = mostBody(contract);
  const tooLarge = (): HttpProblem =>
    new HttpProblem(
      413,
      'Too large',
      `The request is larger than ${sizeOf(limit)}, the most that this request may have.`,
    );
  const announced = Number(ctx.get('Content-Length') || Number.NaN);
  if (announced > limit) throw tooLarge();
  if (announced === 0 || (Number.isNaN(announced) && ctx.get('Transfer-Encoding') === '')) return undefined;
  if (!ctx.is('json', '+json')) throw unfit('Send the body as application/json.');
  const text = await getRawBody(ctx.req, { limit, encoding: 'utf8' }).catch((error: { type?: string }) => {
    if (error.type === 'entity.too.large') throw tooLarge();
    throw unfit('The body was cut off.');
  });
  try {
    checkJson(text, Math.max(1000, limit / bytesPerValue));
    return JSON.parse(text);
  } catch (error) {
    throw unfit(
      error instanceof UnreadableFile
        ? `The body cannot be read: ${error.message}`
        : `The body is not valid JSON: ${(error as Error).message}.`,
    );
  }
}

/** The body as it is, refused as soon as it passes `limit`, in bytes; read once, however often it is asked for. */
export function rawBytes(ctx: Context, limit: number): Promise<Buffer> {
  const known = ctx.state as { raw?: Promise<Buffer> };
  known.raw ??= getRawBody(ctx.req, { limit, length: ctx.get('Content-Length') || null }).catch(
    (error: { type?: string }) => {
      if (error.type !== 'entity.too.large') throw unfit('The body was cut off.');
      const most = `What was sent is larger than ${sizeOf(limit)}, the most that is taken here.`;
      throw new HttpProblem(413, 'Too large', most);
    },
  );
  return known.raw;
}

const sizeOf = (bytes: number): string =>
  bytes >= 1024 * 1024 ? `${Math.round(bytes / 1024 / 1024)} MB` : `${Math.round(bytes / 1024)} KB`;
