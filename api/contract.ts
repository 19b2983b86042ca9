import { z } from 'zod';
import type { Role } from './roles.ts';

/**
 * One route of the API as data. The server binds a handler to it, clients call it, and the description of the API is
 * made from it; nobody writes its path or the shape of its answer a second time.
 */
export interface Contract<
  P extends z.ZodType = z.ZodType,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType = z.ZodType,
> {
  readonly method: 'get' | 'post' | 'put' | 'delete';
  /** With its parameters as `:name`. */
  readonly path: `/${string}`;
  /** What it does, in a few words: for the description of the API, and for the record of what was done. */
  readonly about: string;
  /** The least role that it takes; absent: open to all, signed in or not. */
  readonly role?: Role;
  /** The parameter that names a file: whoever may not see that file is refused. */
  readonly file?: string;
  /** Changes nothing of the team's, though it is no GET: it is not put on record. */
  readonly quiet?: true;
  /** The body is a file as it is, and no JSON. */
  readonly raw?: true;
  /** The most bytes that its body may have; 1 MB where it says nothing. */
  readonly most?: number;
  /** Whether If-Match has to name the revision that a change was made on: always, or unless it is a dry run. */
  readonly seen?: 'always' | 'unless-dry-run';
  readonly params: P;
  readonly query: Q;
  readonly body: B;
  /** The answer as JSON; for `media` its text or bytes. */
  readonly answer: A;
  /** The media types of an answer that is no JSON. */
  readonly media?: readonly string[];
  /** What each of the server-sent events holds that it answers with. */
  readonly events?: z.ZodType;
  readonly status: 200 | 201 | 204;
  /** Headers of the answer, with what they say. */
  readonly headers?: Readonly<Record<string, string>>;
  /** Problems that it answers with beside those that follow from the rest (`problemsOf`). */
  readonly problems?: readonly Problem[];
}

/** The most bytes that a route takes as JSON. */
export const mostBody = ({ most = megabyte }: Contract): number => most;
export const megabyte = 1024 * 1024;

/** Routes that belong together, by name. */
export type Family = Readonly<Record<string, Contract>>;

const nothing = z.object({});
const none = z.undefined();
/** What a route answers with whose answer is no JSON. */
export const plain = z.custom<string | Uint8Array>((value) => typeof value === 'string' || value instanceof Uint8Array);

/** Declares a route. What is left out takes nothing, and answers with nothing (204). */
export function contract<
  P extends z.ZodType = typeof nothing,
  Q extends z.ZodType = typeof nothing,
  B extends z.ZodType = z.ZodUnknown,
  A extends z.ZodType = typeof none,
>(
  declared: Omit<Contract<P, Q, B, A>, 'params' | 'query' | 'body' | 'answer' | 'status'> & {
    readonly params?: P;
    readonly query?: Q;
    readonly body?: B;
    readonly answer?: A;
    readonly status?: Contract['status'];
  },
): Contract<P, Q, B, A> {
  const { params = nothing, query = nothing, body = z.unknown(), answer = none, ...rest } = declared;
  const status = rest.status ?? (declared.answer || rest.events ? 200 : 204);
  return { ...rest, params, query, body, answer, status } as Contract<P, Q, B, A>;
}

/** The problems that there are, with what each means; the answer says what happened in words. */
const meanings = {
  400: 'The request does not fit: its query, its body or a header.',
  401: 'Nobody is signed in, or the token does not hold.',
  403: 'The role does not suffice.',
  404: 'It does not exist, or you may not see it.',
  409: 'The same request, by its Idempotency-Key, is still being done.',
  412: 'Others have changed it since the revision in If-Match; `changes` says what they did.',
  413: 'The body is too large.',
  422: 'Understood, and refused: the detail says why.',
  428: 'If-Match is missing: name the revision that the change was made on.',
  429: 'Too many tries; the answer says how long to wait.',
  500: 'An error in the server: it is logged, and nothing was changed.',
  503: 'The database or another service does not answer; try again.',
  507: 'The disk is full; nothing was stored.',
} as const;
type Problem = keyof typeof meanings;

/** Does a schema take anything? */
export const takes = (type: z.ZodType): boolean =>
  type instanceof z.ZodObject ? Object.keys(type.shape).length > 0 : !(type instanceof z.ZodUnknown);

/** Whether a request may be sent again with the same Idempotency-Key, and is done once. */
export const takesKey = (one: Contract): boolean =>
  one.method === 'post' && one.role !== undefined && !one.quiet && !one.media && !one.events;

/** Every problem that a route may answer with, and what it means there. */
export function problemsOf(one: Contract): ReadonlyMap<number, string> {
  const found = new Set<Problem>([500, 503, ...(one.problems ?? [])]);
  const writes = one.method !== 'get';
  if (takes(one.query) || takes(one.body) || one.seen) found.add(400);
  if (writes) for (const status of [403, 507] as const) found.add(status);
  if (takesKey(one)) for (const status of [409, 422] as const) found.add(status);
  if (writes && (takes(one.body) || one.raw)) for (const status of [400, 413] as const) found.add(status);
  // whose requests wait in a row that is full is told when to come again
  if (one.role) for (const status of [401, 403, 429] as const) found.add(status);
  if (takes(one.params)) found.add(404);
  if (one.seen) for (const status of [412, 422, 428] as const) found.add(status);
  return new Map([...found].sort((a, b) => a - b).map((status) => [status, meanings[status]]));
}
