import { type Problem, problemSchema } from '@basitax/server/api';
import type { z } from 'zod';

/** What the server answered instead of what was asked for; the message is for the person. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly problem: Problem | undefined;
  constructor(status: number, message: string, problem?: Problem) {
    super(message);
    this.status = status;
    this.problem = problem;
  }
}

export async function send(
  method: string,
  path: string,
  options: {
    json?: unknown;
    body?: BodyInit;
    headers?: Record<string, string>;
    signal?: AbortSignal;
    keepalive?: boolean;
  } = {},
): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      ...(options.signal && { signal: options.signal }),
      ...(options.keepalive && { keepalive: true }),
      headers: {
        Accept: 'application/json',
        ...(options.json !== undefined && { 'Content-Type': 'application/json' }),
        ...options.headers,
      },
      ...(options.json !== undefined
        ? { body: JSON.stringify(options.json) }
        : options.body !== undefined
          ? { body: options.body }
          : {}),
    });
  } catch (error) {
    if (options.signal?.aborted) throw error;
    throw new ApiProblem(
      0,
      'The server does not answer. Check that it runs and that you are connected, and try again.',
    );
  }
  if (response.ok) return response;
  const parsed = problemSchema.safeParse(await response.json().catch(() => undefined));
  throw parsed.success
    ? new ApiProblem(response.status, parsed.data.detail ?? parsed.data.title, parsed.data)
    : new ApiProblem(response.status, `The server answered ${response.status}.`);
}

export async function read<T extends z.ZodType>(schema: T, response: Promise<Response>): Promise<z.output<T>> {
  return schema.parse(await (await response).json());
}

/** The query of an address, without what is not given. */
export const queryOf = (fields: Readonly<Record<string, string | undefined>>): URLSearchParams =>
  new URLSearchParams(Object.entries(fields).flatMap(([name, value]) => (value === undefined ? [] : [[name, value]])));
