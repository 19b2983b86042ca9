import type { Problem } from '@basitax/api/problem';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { StaleEdit } from '@basitax/core/edit/step';
import { Refused } from '@basitax/core/said';
import type { Context, Next } from 'koa';
import type { Logger } from 'pino';
import { BaseError, ConnectionError } from 'sequelize';
import { z } from 'zod';

/** An error that the client is told of, as an RFC 9457 problem document. */
export class HttpProblem extends Error {
  readonly status: number;
  readonly title: string;
  readonly more: object;
  /** After how many seconds it may be tried again, where that can be said. */
  readonly retryAfter: number | undefined;
  constructor(status: number, title: string, detail?: string, more: object = {}, retryAfter?: number) {
    super(detail ?? title);
    this.status = status;
    this.title = title;
    this.more = more;
    this.retryAfter = retryAfter;
  }
}

const types: Record<number, string> = {
  400: 'bad-request',
  401: 'signed-out',
  403: 'not-allowed',
  404: 'not-found',
  405: 'method',
  412: 'changed-meanwhile',
  413: 'too-large',
  415: 'media-type',
  422: 'refused',
  428: 'revision-missing',
  429: 'too-often',
  503: 'database-away',
  507: 'disk-full',
};

/**
 * How MariaDB says that there is no room: a full disk, a table that cannot grow, a file that cannot be written. 28 and
 * 27 are the system’s own numbers for it.
 */
const noRoom = new Set([3, 1021, 1026, 1114]);

/** What is wrong with the database, where that is what an error says: it is away, or there is no room for more. */
function databaseTrouble(error: unknown): HttpProblem | undefined {
  if (!(error instanceof BaseError)) return undefined;
  const {
    errno = 0,
    fatal = false,
    message = '',
  } = (error as { parent?: { errno?: number; fatal?: boolean; message?: string } }).parent ?? {};
  if (noRoom.has(errno) || (errno === 1030 && /\b2[78]\b/.test(message)))
    return new HttpProblem(
      507,
      'The disk of the database is full',
      'The disk of the database is full. This change was not stored; everything saved before can still be read. Your unsaved work stays in this browser. The administrator has to free some space.',
    );
  if (error instanceof ConnectionError || fatal)
    return new HttpProblem(
      503,
      'The database does not answer',
      'The database does not answer. Everything saved before is kept, and your unsaved work stays in this browser. Try again in a moment; if it still fails, ask the administrator to check MariaDB.',
    );
  return undefined;
}

/** What the client is told of an error; undefined where it is none of the client's business. */
export function asProblem(error: unknown): HttpProblem | undefined {
  if (error instanceof HttpProblem) return error;
  if (error instanceof UnreadableFile) return new HttpProblem(422, 'The file cannot be read', error.message);
  if (error instanceof Refused)
    return new HttpProblem(422, 'Refused', error.message, { code: error.code, params: error.params });
  // worker threads hand errors over by name
  if (error instanceof StaleEdit || (error as Error | null)?.name === 'StaleEdit')
    return new HttpProblem(422, 'The edit does not fit', (error as Error).message);
  if (error instanceof z.ZodError) {
    const issue = error.issues[0];
    return new HttpProblem(
      400,
      'The request does not fit',
      `${issue?.path.join('.') || 'the body'}: ${issue?.message ?? 'not as expected'}`,
    );
  }
  const trouble = databaseTrouble(error);
  if (trouble) return trouble;
  const status = (error as { status?: unknown } | null)?.status;
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new HttpProblem(status, status === 413 ? 'Too large' : 'The request does not fit', (error as Error).message);
  return undefined;
}

/**
 * Turns everything thrown into a problem document; what is not the client's fault is logged, and told as a number only
 * unless it is the database that is away or full.
 */
export function problems(log: Logger) {
  return async (ctx: Context, next: Next): Promise<void> => {
    try {
      await next();
      if (!ctx.path.startsWith('/api/') || ctx.body !== undefined) return;
      if (ctx.status === 404) throw new HttpProblem(404, 'Not found', `There is nothing at ${ctx.path}.`);
      if (ctx.status === 405)
        throw new HttpProblem(405, 'Method not allowed', `${ctx.path} takes ${ctx.response.get('Allow')}.`);
    } catch (error) {
      const known = asProblem(error);
      if (!known) log.error({ err: error, path: ctx.path, request: ctx.state.request }, 'request failed');
      else if (known.status >= 500) log.error({ err: error, path: ctx.path, request: ctx.state.request }, known.title);
      const wait = known?.retryAfter ?? (known?.status === 503 ? 5 : undefined);
      if (wait !== undefined) ctx.set('Retry-After', String(wait));
      const status = known?.status ?? 500;
      const body: Problem = {
        type: `/problems/${types[status] ?? 'error'}`,
        title: known?.title ?? 'Something went wrong on the server',
        status,
        detail: known ? known.message : `It is logged as request ${ctx.state.request}; nothing was changed.`,
        ...known?.more,
      };
      ctx.status = status;
      ctx.type = 'application/problem+json';
      ctx.body = JSON.stringify(body);
    }
  };
}
