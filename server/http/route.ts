import { type Contract, type Family, problemsOf, takes } from '@basitax/api/contract';
import type { Person } from '@basitax/api/people';
import { mayAct } from '@basitax/api/roles';
import type { Given } from '@basitax/core/given';
import { must } from '@basitax/core/must';
import type { Context } from 'koa';
import { z } from 'zod';
import { note } from '../audit/note.ts';
import { reachable } from '../projects/access.ts';
import { onBehalfOf } from '../work/asker.ts';
import { jsonBody } from './body.ts';
import { doneOnce } from './idempotency.ts';
import { asProblem, HttpProblem } from './problem.ts';

/** What a handler is given: everything checked. `P`, `Q` and `B`: parameters, query and body as the contract has them. */
export interface Call<P, Q, B> {
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  /** Undefined only on routes that are open to all. */
  readonly person: Person;
  readonly ctx: Context;
}

type Handler<C extends Contract> = (
  call: Call<z.output<C['params']>, z.output<C['query']>, z.output<C['body']>>,
) => Promise<Given<z.input<C['answer']>>>;

/** A contract with what fulfils it. */
export interface Route {
  readonly contract: Contract;
  handle(call: Call<unknown, unknown, unknown>): Promise<unknown>;
}

/** Binds a handler to each route of a family; one that is missing, or answers with something else, is a type error. */
export function bind<F extends Family>(family: F, handlers: { readonly [K in keyof F]: Handler<F[K]> }): Route[] {
  // parameters, query and body are parsed with the schemas of the same contract before the handler is called
  return Object.keys(family).map((name) => ({
    contract: must(family[name]),
    handle: handlers[name] as Route['handle'],
  }));
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
 * changed. With `strict`, answers and problems that the contract does not know are errors: so the tests run.
 */
export async function serve(
  one: Route,
  ctx: Context & { params: Record<string, string> },
  strict: boolean,
): Promise<void> {
  if (!strict) return answer(one, ctx);
  try {
    await answer(one, ctx);
  } catch (error) {
    const status = asProblem(error)?.status;
    if (status === undefined || problemsOf(one.contract).has(status)) throw error;
    throw new Error(`${nameOf(one.contract)} answered ${status}, which its contract does not know`, { cause: error });
  }
  const { contract } = one;
  // the client has it already
  if (ctx.status === 304 && contract.method === 'get') return;
  if (ctx.status !== contract.status)
    throw new Error(`${nameOf(contract)} answered ${ctx.status}, its contract says ${contract.status}`);
  if (contract.media && !contract.media.some((type) => ctx.response.is(type)))
    throw new Error(`${nameOf(contract)} answered with ${ctx.type}, which its contract does not know`);
  if (!contract.media) {
    const sent = ctx.body === undefined ? undefined : JSON.parse(JSON.stringify(ctx.body));
    const parsed = contract.answer.safeParse(sent);
    if (!parsed.success) throw new Error(`${nameOf(contract)}: ${z.prettifyError(parsed.error)}`);
  }
}

const nameOf = ({ method, path }: Contract): string => `${method.toUpperCase()} ${path}`;

async function answer(one: Route, ctx: Context & { params: Record<string, string> }): Promise<void> {
  const { contract } = one;
  const person = ctx.state.person as Person | undefined;
  if (contract.role) {
    if (!person) throw new HttpProblem(401, 'Signed out', 'Sign in first.');
    if (!mayAct(person.role, contract.role))
      throw new HttpProblem(
        403,
        'Not allowed',
        `You need the role ${contract.role} for this; your role is ${person.role}.`,
      );
    if (person.projects && !isOfProjects(contract))
      throw new HttpProblem(403, 'Not allowed', 'This token is bound to projects; this concerns the whole team.');
  }
  const params = check(contract.params, ctx.params, 404, 'in the address');
  const file =
    contract.file && person
      ? await reachable(person, must((params as Record<string, string>)[contract.file]))
      : undefined;
  const query = check(contract.query, { ...ctx.query }, 400, 'in the query');
  // nothing is read of whom nobody let in
  const body =
    contract.raw || !takes(contract.body)
      ? undefined
      : check(contract.body, await jsonBody(ctx, contract), 400, 'in the body');
  ctx.status = contract.status;
  const handle = () => one.handle({ params, query, body, person: person as Person, ctx });
  const act = () => (person ? doneOnce(ctx, contract, person.id, body, handle) : handle());
  const result = await (person ? onBehalfOf(person.id, act) : act());
  if (result !== undefined && ctx.status !== 304) ctx.body = result;
  await record(contract, ctx, file?.title);
}

/** Whether a token that is bound to projects may ask this. It reads what it sees, and changes files and batch runs alone. */
const isOfProjects = ({ method, path, role, quiet }: Contract): boolean =>
  role !== 'lead' &&
  (method === 'get' || quiet === true || /^\/api\/(files|trash|batches|table|reports)(\/|$)/.test(path));

/** Puts on record what a call changed. */
async function record(contract: Contract, ctx: Context, file: string | undefined): Promise<void> {
  const person = ctx.state.person as Person | undefined;
  const said = ctx.state.said as Said | undefined;
  if (!person || contract.method === 'get' || contract.quiet || said?.nothing) return;
  const target = said?.target ?? (file === undefined ? Object.values(ctx.params as object).join(' ') : `“${file}”`);
  const { name } = person;
  const entry = { person: name, byToken: ctx.state.byToken === true, act: contract.about, address: ctx.ip };
  // what was done is done: a record that cannot be written is logged, and the answer stands
  await note({ ...entry, target, detail: said?.detail ?? '' }).catch((error: unknown) =>
    ctx.app.emit('error', error, ctx),
  );
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
