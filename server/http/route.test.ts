import { once } from 'node:events';
import { contract, type Family, plain } from '@basitax/api/contract';
import Router from '@koa/router';
import Koa from 'koa';
import { pino } from 'pino';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { HttpProblem, problems } from './problem.ts';
import { bind, type Route, serve } from './route.ts';

const family = {
  named: contract({ method: 'get', path: '/api/named', about: 'Named', answer: z.object({ name: z.string() }) }),
  drawn: contract({ method: 'get', path: '/api/drawn', about: 'Drawn', answer: plain, media: ['image/svg+xml'] }),
  gone: contract({ method: 'get', path: '/api/gone', about: 'Gone', answer: z.object({}), problems: [404] }),
  made: contract({ method: 'get', path: '/api/made', about: 'Made', answer: z.object({}), status: 201 }),
} satisfies Family;
const right = bind(family, {
  named: async () => ({ name: 'Ebb' }),
  async drawn({ ctx }) {
    ctx.type = 'image/svg+xml';
    return '<svg/>';
  },
  gone: async () => {
    throw new HttpProblem(404, 'Not found');
  },
  made: async () => ({}),
});
const wrong: Readonly<Record<string, Route['handle']>> = {
  '/api/named': async () => ({ name: 7 }),
  '/api/drawn': async () => 'text',
  '/api/gone': async () => {
    throw new HttpProblem(422, 'Refused');
  },
  '/api/made': async ({ ctx }) => {
    ctx.status = 200;
    return {};
  },
};

/** The statuses with which the routes answer. */
async function statuses(routes: readonly Route[], strict: boolean): Promise<number[]> {
  const app = new Koa();
  const router = new Router();
  for (const one of routes) router.get(one.contract.path, (ctx) => serve(one, ctx as never, strict));
  app
    .use(problems(pino({ level: 'silent' })))
    .use(router.routes())
    .use(router.allowedMethods());
  const server = app.listen(0, '127.0.0.1');
  await once(server, 'listening');
  try {
    const { port } = server.address() as { port: number };
    const answers = routes.map((one) => fetch(`http://127.0.0.1:${port}${one.contract.path}`));
    const posted = fetch(`http://127.0.0.1:${port}/api/named`, { method: 'POST' });
    return (await Promise.all([...answers, posted])).map((answer) => answer.status);
  } finally {
    server.closeAllConnections();
    server.close();
  }
}

describe('a contract that is not met', () => {
  it('is an error where answers are checked: another body, type, problem or status', async () => {
    expect(await statuses(right, true)).toEqual([200, 200, 404, 201, 405]);
    const broken = right.map(({ contract: one }) => ({ contract: one, handle: wrong[one.path]! }));
    expect(await statuses(broken, true)).toEqual([500, 500, 500, 500, 405]);
    expect(await statuses(broken, false)).toEqual([200, 200, 422, 200, 405]);
  });
});
