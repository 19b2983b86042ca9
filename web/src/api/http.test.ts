import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ApiProblem, queryOf, read, send } from './http.ts';

// Against a real server on loopback that answers as it is asked to.

let server: Server;
let base: string;
const asked: { method: string; type: string | undefined; accept: string | undefined; body: string }[] = [];
async function bodyOf(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) text += chunk;
  return text;
}
beforeAll(async () => {
  server = createServer(async (request, response) => {
    asked.push({
      method: request.method!,
      type: request.headers['content-type'],
      accept: request.headers.accept,
      body: await bodyOf(request),
    });
    const { searchParams } = new URL(request.url!, 'http://x');
    if (searchParams.has('hang')) return;
    response.writeHead(Number(searchParams.get('status') ?? 200), { 'Content-Type': 'application/json' });
    response.end(searchParams.get('answer') ?? '{}');
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  base = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

const at = (fields: Record<string, string>): string => `${base}?${queryOf(fields)}`;
const problem = {
  type: '/problems/changed-meanwhile',
  title: 'Changed meanwhile',
  status: 412,
  detail: 'Revision 7 was saved since.',
  changes: { head: 7, revisions: [], edits: [] },
};
const failed = (asking: Promise<unknown>): Promise<ApiProblem> =>
  asking.then(
    () => expect.unreachable('it was answered'),
    (error) => error as ApiProblem,
  );

describe('asking the server', () => {
  it('sends JSON as JSON, other bodies as they are, and says what it takes', async () => {
    asked.length = 0;
    await send('POST', base, { json: { a: [1, 'ü'] } });
    await send('PUT', base, { body: 'plain', headers: { 'Content-Type': 'text/csv' } });
    await send('GET', base);
    expect(asked).toEqual([
      { method: 'POST', type: 'application/json', accept: 'application/json', body: '{"a":[1,"ü"]}' },
      { method: 'PUT', type: 'text/csv', accept: 'application/json', body: 'plain' },
      { method: 'GET', type: undefined, accept: 'application/json', body: '' },
    ]);
  });

  it('reads what it expects, and throws where something else comes', async () => {
    const shape = z.object({ name: z.string() });
    expect(await read(shape, send('GET', at({ answer: '{"name":"Ebb"}' })))).toEqual({ name: 'Ebb' });
    await expect(read(shape, send('GET', at({ answer: '{"name":7}' })))).rejects.toThrow(z.ZodError);
  });

  it('tells a problem in the words of the server, with all that it holds', async () => {
    const error = await failed(send('POST', at({ status: '412', answer: JSON.stringify(problem) })));
    expect([error instanceof ApiProblem, error.status, error.message]).toEqual([true, 412, problem.detail]);
    expect(error.problem).toMatchObject({ changes: { head: 7 } });
    const { detail: _detail, ...short } = problem;
    expect((await failed(send('GET', at({ status: '412', answer: JSON.stringify(short) })))).message).toBe(
      'Changed meanwhile',
    );
  });

  it.each(['', 'no JSON', '{"title":7}', '[]', 'null'])(
    'says the number alone where no problem comes with it: %j',
    async (answer) => {
      const error = await failed(send('GET', at({ status: '502', answer })));
      expect([error.status, error.message, error.problem]).toEqual([502, 'The server answered 502.', undefined]);
    },
  );

  it('says that nobody answers, and leaves what was stopped on purpose as it is', async () => {
    const closed = createServer();
    await new Promise<void>((done) => closed.listen(0, '127.0.0.1', done));
    const { port } = closed.address() as AddressInfo;
    await new Promise((done) => closed.close(done));
    const error = await failed(send('GET', `http://127.0.0.1:${port}/`));
    expect([error instanceof ApiProblem, error.status, error.message]).toEqual([
      true,
      0,
      expect.stringContaining('The server does not answer.'),
    ]);
    const stop = new AbortController();
    const hanging = failed(send('GET', at({ hang: 'yes' }), { signal: stop.signal }));
    stop.abort();
    expect((await hanging).name).toBe('AbortError');
  });
});

it('a query holds what is given, and nothing else', () => {
  expect(queryOf({ what: 'kind', name: 'pic.read & more', value: undefined, empty: '' }).toString()).toBe(
    'what=kind&name=pic.read+%26+more&empty=',
  );
});
