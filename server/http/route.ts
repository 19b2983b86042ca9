import type { Context } from 'koa';
import { z } from 'zod';
import { mayAct, type Person, type Role } from '../api.ts';
import { HttpProblem } from './problem.ts';

/** What a handler is given: everything checked. */
export interface Call<P, Q, B> {
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  /** Undefined only on routes that are open to all. */
  readonly person: Person;
  readonly ctx: Context;
}

/** One route as data: the list of routes is what mounts them, and what tests walk. `role` absent: open to all. */
export interface Route {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  readonly path: string;
  readonly role?: Role;
  /** Takes a body that is no JSON, up to the size limit of files. */
  readonly raw?: true;
  readonly params: z.ZodType;
  readonly query: z.ZodType;
  readonly body: z.ZodType;
  /** What it does, in a few words, and what it answers with: for the description of the API. */
  readonly about?: string;
  readonly answer?: z.ZodType;
  handle(call: Call<never, never, never>): Promise<unknown>;
}

const nothing = z.object({});

/** Declares a route with the types of what it takes. What the handler gives back is sent as JSON, unless it set the body itself. */
export function route<P extends z.ZodType = typeof nothing, Q extends z.ZodType = typeof nothing, B extends z.ZodType = z.ZodUnknown>(declared: {
  method: Route['method'];
  path: string;
  role?: Role;
  raw?: true;
  params?: P;
  query?: Q;
  body?: B;
  about?: string;
  answer?: z.ZodType;
  handle(call: Call<z.output<P>, z.output<Q>, z.output<B>>): Promise<unknown>;
}): Route {
  return { params: nothing, query: nothing, body: z.unknown(), ...declared } as unknown as Route;
}

/** Checks role, parameters, query and body in this order, and calls the handler. */
export async function serve(one: Route, ctx: Context & { params: Record<string, string> }): Promise<void> {
  const person = ctx.state.person as Person | undefined;
  if (one.role) {
    if (!person) throw new HttpProblem(401, 'Signed out', 'Sign in first.');
    if (!mayAct(person.role, one.role)) throw new HttpProblem(403, 'Not allowed', `This takes the role ${one.role}; you are ${person.role}.`);
  }
  const params = check(one.params, ctx.params, 404, 'in the address');
  const query = check(one.query, { ...ctx.query }, 400, 'in the query');
  const body = one.raw ? undefined : check(one.body, (ctx.request as { body?: unknown }).body, 400, 'in the body');
  const result = await one.handle({ params, query, body, person: person as Person, ctx } as never);
  if (result !== undefined) ctx.body = result;
  else if (ctx.body === undefined) ctx.status = 204;
}

function check(schema: z.ZodType, value: unknown, status: number, where: string): unknown {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const issue = parsed.error.issues[0];
  const path = issue?.path.join('.');
  throw new HttpProblem(
    status,
    status === 404 ? 'Not found' : 'The request does not fit',
    `${path ? `“${path}”` : 'Something'} ${where} does not fit: ${issue?.message ?? 'not as expected'}`,
  );
}

/** The revision that a writer has seen, from `If-Match: "7"`. */
export function seenRevision(ctx: Context): number {
  const header = ctx.get('If-Match');
  if (header === '') throw new HttpProblem(428, 'Which revision?', 'Send If-Match with the number of the revision that the change was made on.');
  const match = /^(?:W\/)?"?(\d{1,9})"?$/.exec(header.trim());
  if (!match) throw new HttpProblem(400, 'The request does not fit', 'If-Match holds a revision number, as in "7".');
  return Number(match[1]);
}
