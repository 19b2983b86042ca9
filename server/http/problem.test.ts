import { problemSchema } from '@basitax/api/problem';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { StaleEdit } from '@basitax/core/edit/step';
import { Refused } from '@basitax/core/said';
import type { Context } from 'koa';
import type { Logger } from 'pino';
import { ConnectionRefusedError, DatabaseError, TimeoutError, UniqueConstraintError } from 'sequelize';
import { expect, it } from 'vitest';
import { z } from 'zod';
import { HttpProblem, problems } from './problem.ts';

/** What a client is told of an error, and what is logged of it. */
async function told(error: unknown): Promise<{
  status: number;
  title: string;
  detail: string | undefined;
  type: string;
  logged: string[];
  headers: Record<string, string>;
}> {
  const logged: string[] = [];
  const headers: Record<string, string> = {};
  const ctx = {
    status: 404,
    path: '/api/files',
    state: { request: 'abc123' },
    set: (name: string, value: string) => void Object.assign(headers, { [name]: value }),
  } as unknown as Context;
  await problems({ error: (_about: unknown, what: string) => void logged.push(what) } as unknown as Logger)(
    ctx,
    async () => {
      throw error;
    },
  );
  const { status, title, detail, type } = problemSchema.parse(JSON.parse(ctx.body as string));
  expect([ctx.status, ctx.type]).toEqual([status, 'application/problem+json']);
  return { status, title, detail, type, logged, headers };
}

/** As the connector throws it: MariaDB’s number and text. */
const saidByMariadb = (errno: number, message: string, fatal = false): DatabaseError =>
  new DatabaseError(Object.assign(new Error(message), { errno, fatal, sql: '' }));

it.each([
  [
    'a problem that was thrown as one',
    new HttpProblem(428, 'Which revision?', 'Send If-Match.'),
    428,
    'Send If-Match.',
  ],
  [
    'a file that cannot be read',
    new UnreadableFile({ code: 'x.y', message: 'this is not JSON.', params: {} }, 3),
    422,
    'Line 3: this is not JSON.',
  ],
  [
    'an act that is refused',
    new Refused({ message: 'Select a node first.', code: 'test.none', params: {} }),
    422,
    'Select a node first.',
  ],
  [
    'an edit that does not fit',
    new StaleEdit({ type: 'remove', table: 'nodes', id: 'a', value: { id: 'a' } as never }, 'the node is gone'),
    422,
    'The edit does not fit this document: the node is gone.',
  ],
  [
    'the same from a thread',
    Object.assign(new Error('The node is gone.'), { name: 'StaleEdit' }),
    422,
    'The node is gone.',
  ],
  [
    'a body that is too large',
    Object.assign(new Error('request entity too large'), { status: 413 }),
    413,
    'request entity too large',
  ],
])('%s is told in its own words, and not logged as a fault', async (_what, error, status, detail) => {
  expect(await told(error)).toMatchObject({ status, detail, logged: [], headers: {} });
});

it('what does not fit a shape is told with the place', async () => {
  const { error } = z.object({ edit: z.object({ steps: z.array(z.string()) }) }).safeParse({ edit: { steps: [1] } });
  expect(await told(error)).toMatchObject({
    status: 400,
    detail: expect.stringMatching(/^edit\.steps\.0: /),
    logged: [],
  });
});

// error numbers: MariaDB documentation, “MariaDB Error Codes”; 28 is ENOSPC of POSIX
it.each([
  ['a table that cannot grow', saidByMariadb(1114, "The table 'revisions' is full"), 507],
  [
    'a full disk',
    saidByMariadb(
      1021,
      "Disk full (/tmp/#sql); waiting for someone to free some space... (errno: 28 'No space left on device')",
    ),
    507,
  ],
  [
    'the system’s own number for it',
    saidByMariadb(1030, 'Got error 28 "No space left on device" from storage engine InnoDB'),
    507,
  ],
  ['a file that cannot be written', saidByMariadb(1026, "Error writing file './ib_log' (errno: 28)"), 507],
  ['a connection that is refused', new ConnectionRefusedError(new Error('connect ECONNREFUSED 127.0.0.1:3306')), 503],
  ['a connection that broke in the middle', saidByMariadb(45009, 'socket has unexpectedly been closed', true), 503],
  ['a server that is going down', saidByMariadb(1053, 'Server shutdown in progress', true), 503],
])(
  '%s is told as what is wrong with the database, with nothing of its innards, and logged',
  async (_what, error, status) => {
    const said = await told(error);
    expect(said).toMatchObject({
      status,
      title: status === 507 ? 'The disk of the database is full' : 'The database does not answer',
    });
    expect(said.detail).toMatch(new RegExp(`^${said.title}\\. `));
    expect(said.detail).not.toMatch(/ECONN|errno|InnoDB|revisions'|127\.0/);
    expect([said.logged, said.headers]).toEqual([[said.title], status === 503 ? { 'Retry-After': '5' } : {}]);
  },
);

it.each([
  ['an error in a program', new TypeError("Cannot read properties of undefined (reading 'x')")],
  ['a query that is wrong', saidByMariadb(1064, 'You have an error in your SQL syntax')],
  ['another error of a storage engine', saidByMariadb(1030, 'Got error 139 "Too big row" from storage engine InnoDB')],
  [
    'a wait for a lock that took too long',
    new TimeoutError(Object.assign(new Error('Lock wait timeout exceeded'), { sql: '' })),
  ],
  ['a row that is there already', new UniqueConstraintError({ message: 'Duplicate entry' })],
  ['something that is not an error', 'a string'],
])('%s is told by its number alone', async (_what, error) => {
  expect(await told(error)).toEqual({
    status: 500,
    type: '/problems/error',
    title: 'Something went wrong on the server',
    detail: 'It is logged as request abc123; nothing was changed.',
    logged: ['request failed'],
    headers: {},
  });
});

it('what is not there under /api is a problem too', async () => {
  const ctx = { status: 404, path: '/api/nothing', state: {}, set: () => {} } as unknown as Context;
  await problems({ error: () => {} } as unknown as Logger)(ctx, async () => {});
  expect(JSON.parse(ctx.body as string)).toMatchObject({ status: 404, detail: 'There is nothing at /api/nothing.' });
});
