import type { Given } from '@basitax/core/given';
import type { z } from 'zod';
import type { Contract } from './contract.ts';
import { type Problem, problemSchema } from './problem.ts';

/** What the server answered instead of what was asked for; the message is for the person. Status 0: it did not answer. */
export class ApiProblem extends Error {
  readonly status: number;
  readonly problem: Problem | undefined;
  constructor(status: number, message: string, problem?: Problem) {
    super(message);
    this.status = status;
    this.problem = problem;
  }
}

/** `{ name: T }`, or nothing where T takes nothing; it may be left out where all of T may be. */
type Named<N extends string, T> = unknown extends T
  ? unknown
  : [keyof T] extends [never]
    ? unknown
    : Record<string, never> extends T
      ? { readonly [K in N]?: T }
      : { readonly [K in N]: T };

/** What a call of a route is given: parameters, query and body as its contract has them, and the revision seen. */
export type Asked<C extends Contract> = Named<'params', Given<z.input<C['params']>>> &
  Named<'query', Given<z.input<C['query']>>> &
  Named<'body', Given<z.input<C['body']>>> & {
    /** The number for If-Match, on routes that take one. */
    readonly seen?: number;
    /** The body of a route that takes a file as it is. */
    readonly content?: BodyInit;
    readonly signal?: AbortSignal;
    readonly keepalive?: boolean;
  };

interface Loose {
  readonly params?: Readonly<Record<string, unknown>>;
  readonly query?: Readonly<Record<string, unknown>>;
  readonly body?: unknown;
}

/** The address of a route, without the server's own part; what is undefined or empty in the query is left out. */
export function addressOf<C extends Contract>(
  contract: C,
  asked: Pick<Asked<C>, keyof Asked<C> & ('params' | 'query')>,
): string {
  const { params = {}, query = {} }: Loose = asked;
  const path = contract.path.replace(/:(\w+)/g, (_all, name: string) => encodeURIComponent(String(params[name])));
  const fields = Object.entries(query).flatMap(([name, value]) =>
    value === undefined || value === '' ? [] : [[name, String(value)]],
  );
  return fields.length === 0 ? path : `${path}?${new URLSearchParams(fields)}`;
}

/** Calls routes of the API on one server. */
export class ApiClient {
  private readonly base: string;
  private readonly headers: Readonly<Record<string, string>>;

  /** `base`: before each path, empty for where the page came from. `headers`: sent with each call, such as a token. */
  constructor(base = '', headers: Readonly<Record<string, string>> = {}) {
    this.base = base;
    this.headers = headers;
  }

  /** The answer as it comes. Throws ApiProblem where it is none, AbortError where `signal` ended it. */
  async ask<C extends Contract>(contract: C, asked: Asked<C>): Promise<Response> {
    const { body, seen, content, signal, keepalive = false } = asked as Asked<Contract> & Loose;
    const json = body !== undefined;
    const headers = {
      Accept: contract.media ? '*/*' : 'application/json',
      ...(json && { 'Content-Type': 'application/json' }),
      ...(content !== undefined && { 'Content-Type': 'application/octet-stream' }),
      ...(seen !== undefined && { 'If-Match': `"${seen}"` }),
      ...this.headers,
    };
    let response: Response;
    try {
      response = await fetch(this.base + addressOf(contract, asked), {
        method: contract.method.toUpperCase(),
        headers,
        keepalive,
        ...(signal && { signal }),
        ...(json ? { body: JSON.stringify(body) } : content !== undefined && { body: content }),
      });
    } catch (error) {
      if (signal?.aborted) throw error;
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

  /** The answer, checked; throws as `ask` does, and ZodError where the answer is not what the contract says. */
  async call<C extends Contract>(contract: C, asked: Asked<C>): Promise<z.output<C['answer']>> {
    const response = await this.ask(contract, asked);
    const answer: unknown =
      contract.status === 204 ? undefined : contract.media ? await response.text() : await response.json();
    return contract.answer.parse(answer) as z.output<C['answer']>;
  }
}
