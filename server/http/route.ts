import type { Context } from 'koa';
import { z } from 'zod';
import { mayAct, type Person, type Role } from '../api.ts';
import { note } from '../audit/note.ts';
import { reachable } from '../projects/access.ts';
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
  /** The parameter that names a file: whoever may not see that file is refused. */
  readonly file?: string;
  /** Changes nothing of the team's, though it is no GET: it is not put on record. */
  readonly quiet?: true;
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

/**
 * Declares a route with the types of what it takes. What the handler gives back is sent as JSON, unless it set the body
 * itself.
 */
export function route<
  P extends z.ZodType = typeof nothing,
  Q extends z.ZodType = typeof nothing,
  B extends z.ZodType = z.ZodUnknown,
>(declared: {
  method: Route['method'];
  path: string;
  role?: Role;
  file?: string;
  quiet?: true;
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

/** What a handler may say of what it did, for the record. */
export interface Said {
  /** More than the address says. */
  detail?: string;
  target?: string;
  /** Nothing was changed after all: a dry run. */
  nothing?: true;
}

/** Says of a call what it did; what is said later counts. */
export function say(ctx: Context, said: Said): void {
  ctx.state.said = { ...(ctx.state.said as Said | undefined), ...said };
}

/**
 * Checks role, parameters, the file, query and body in this order, calls the handler, and puts on record what was
 * changed.
 */
export async function serve(one: Route, ctx: Context & { params: Record<string, string> }): Promise<void> {
  const person = ctx.state.person as Person | undefined;
  if (one.role) {
    if (!person) throw new HttpProblem(401, 'Signed out', 'Sign in first.');
    if (!mayAct(person.role, one.role))
      throw new HttpProblem(403, 'Not allowed', `This takes the role ${one.role}; you are ${person.role}.`);
  }
  const params = check(one.params, ctx.params, 404, 'in the address');
  const file = one.file && person ? await reachable(person, (params as Record<string, string>)[one.file]!) : undefined;
  const query = check(one.query, { ...ctx.query }, 400, 'in the query');
  const body = one.raw ? undefined : check(one.body, (ctx.request as { body?: unknown }).body, 400, 'in the body');
  const result = await one.handle({ params, query, body, person: person as Person, ctx } as never);
  if (result !== undefined) ctx.body = result;
  else if (ctx.body === undefined) ctx.status = 204;
  const said = ctx.state.said as Said | undefined;
  if (!person || one.method === 'get' || one.quiet || said?.nothing) return;
  const target = said?.target ?? (file ? `“${file.title}”` : Object.values(ctx.params).join(' '));
  // what was done is done: a record that cannot be written is logged, and the answer stands
  await note({
    person: person.name,
    byToken: ctx.state.byToken === true,
    act: one.about ?? one.path,
    target,
    detail: said?.detail ?? '',
    address: ctx.ip,
  }).catch((error: unknown) => ctx.app.emit('error', error, ctx));
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
  if (header === '')
    throw new HttpProblem(
      428,
      'Which revision?',
      'Send If-Match with the number of the revision that the change was made on.',
    );
  const match = /^(?:W\/)?"?(\d{1,9})"?$/.exec(header.trim());
  if (!match) throw new HttpProblem(400, 'The request does not fit', 'If-Match holds a revision number, as in "7".');
  return Number(match[1]);
}
