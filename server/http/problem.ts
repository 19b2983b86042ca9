import { UnreadableFile } from '@basitax/core/document/file';
import { StaleEdit } from '@basitax/core/edit/step';
import { Refused } from '@basitax/core/operation';
import type { Context, Next } from 'koa';
import type { Logger } from 'pino';
import { z } from 'zod';
import type { Problem } from '../api.ts';

/** An error that the client is told of, as an RFC 9457 problem document. */
export class HttpProblem extends Error {
  readonly status: number;
  readonly title: string;
  readonly more: object;
  constructor(status: number, title: string, detail?: string, more: object = {}) {
    super(detail ?? title);
    this.status = status;
    this.title = title;
    this.more = more;
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
};

function asProblem(error: unknown): HttpProblem | undefined {
  if (error instanceof HttpProblem) return error;
  if (error instanceof UnreadableFile) return new HttpProblem(422, 'The file cannot be read', error.message);
  if (error instanceof Refused) return new HttpProblem(422, 'Refused', error.message);
  // worker threads hand errors over by name
  if (error instanceof StaleEdit || (error as Error | null)?.name === 'StaleEdit') return new HttpProblem(422, 'The edit does not fit', (error as Error).message);
  if (error instanceof z.ZodError) {
    const issue = error.issues[0];
    return new HttpProblem(400, 'The request does not fit', `${issue?.path.join('.') || 'the body'}: ${issue?.message ?? 'not as expected'}`);
  }
  const status = (error as { status?: unknown } | null)?.status;
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new HttpProblem(status, status === 413 ? 'Too large' : 'The request does not fit', (error as Error).message);
  return undefined;
}

/** Turns everything thrown into a problem document; what is not the client's fault is logged and told as a number only. */
export function problems(log: Logger) {
  return async (ctx: Context, next: Next): Promise<void> => {
    try {
      await next();
      if (ctx.status === 404 && ctx.body === undefined && ctx.path.startsWith('/api/')) throw new HttpProblem(404, 'Not found', `There is nothing at ${ctx.path}.`);
    } catch (error) {
      const known = asProblem(error);
      if (!known) log.error({ err: error, path: ctx.path, request: ctx.state.request }, 'request failed');
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
