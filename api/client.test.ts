import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ApiClient, ApiProblem, addressOf } from './client.ts';
import { contract, plain } from './contract.ts';

// Against a real server on loopback that answers as it is asked to.

let server: Server;
let client: ApiClient;
const asked: Record<string, string | undefined>[] = [];
async function bodyOf(request: IncomingMessage): Promise<string> {
  let text = '';
  for await (const chunk of request) text += chunk;
  return text;
}
beforeAll(async () => {
  server = createServer(async (request, response) => {
    const { 'content-type': type, accept, 'if-match': match, authorization } = request.headers;
    const { method, url } = request;
    asked.push({ method, url, type, accept, match, authorization, body: await bodyOf(request) });
    const { searchParams } = new URL(url!, 'http://x');
    if (searchParams.has('hang')) return;
    const status = Number(searchParams.get('status') ?? 200);
    response.writeHead(status, { 'Content-Type': 'application/json' });
    response.end(status === 204 ? undefined : (searchParams.get('answer') ?? '{}'));
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  client = new ApiClient(`http://127.0.0.1:${(server.address() as AddressInfo).port}`, { Authorization: 'Bearer x' });
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

const query = z.object({ answer: z.string().optional(), status: z.int().optional(), hang: z.string().optional() });
const named = z.object({ name: z.string() });
const get = contract({ method: 'get', path: '/things', about: 'Gets', query, answer: named });
const write = contract({
  method: 'put',
  path: '/things/:id/of/:kind',
  about: 'Writes',
  seen: 'always',
  params: z.object({ id: z.string(), kind: z.int() }),
  query,
  body: z.object({ a: z.array(z.unknown()) }),
});
const upload = contract({ method: 'post', path: '/files', about: 'Takes a file', raw: true, query, answer: named });
const text = contract({ method: 'get', path: '/text', about: 'Text', query, answer: plain, media: ['text/plain'] });

const problem = {
  type: '/problems/changed-meanwhile',
  title: 'Changed in the meantime',
  status: 412,
  detail: 'Revision 7 was saved since.',
  changes: { head: 7, revisions: [], edits: [] },
};
const failed = (asking: Promise<unknown>): Promise<ApiProblem> =>
  asking.then(
    () => expect.unreachable('it was answered'),
    (error) => error as ApiProblem,
  );

describe('calling a route', () => {
  it('sends what the contract says: parameters in the path, JSON as JSON, files as they are, the revision seen', async () => {
    asked.length = 0;
    await client.call(write, {
      params: { id: 'a/b', kind: 7 },
      query: { status: 204 },
      body: { a: [1, 'ü'] },
      seen: 3,
    });
    await client.call(upload, { query: { answer: '{"name":"Ebb"}' }, content: 'plain' });
    const json = { accept: 'application/json', authorization: 'Bearer x' };
    expect(asked).toEqual([
      {
        ...json,
        ...{ method: 'PUT', url: '/things/a%2Fb/of/7?status=204', match: '"3"' },
        ...{ type: 'application/json', body: '{"a":[1,"ü"]}' },
      },
      {
        ...json,
        ...{ method: 'POST', url: '/files?answer=%7B%22name%22%3A%22Ebb%22%7D', match: undefined },
        ...{ type: 'application/octet-stream', body: 'plain' },
      },
    ]);
  });

  it('gives what the contract says, and throws where something else comes', async () => {
    expect(await client.call(get, { query: { answer: '{"name":"Ebb"}' } })).toEqual({ name: 'Ebb' });
    expect(await client.call(text, { query: { answer: '{"name":' } })).toBe('{"name":');
    await expect(client.call(get, { query: { answer: '{"name":7}' } })).rejects.toThrow(z.ZodError);
  });

  it('tells a problem in the words of the server, with all that it holds', async () => {
    const error = await failed(client.call(get, { query: { status: 412, answer: JSON.stringify(problem) } }));
    expect([error instanceof ApiProblem, error.status, error.message]).toEqual([true, 412, problem.detail]);
    expect(error.problem).toMatchObject({ changes: { head: 7 } });
    const { detail: _detail, ...short } = problem;
    const without = client.call(get, { query: { status: 412, answer: JSON.stringify(short) } });
    expect((await failed(without)).message).toBe('Changed in the meantime');
  });

  it.each(['', 'no JSON', '{"title":7}', '[]', 'null'])(
    'says the number alone where no problem comes with it: %j',
    async (answer) => {
      // an empty answer is left out of the address, and the server sends an empty object
      const error = await failed(client.call(get, { query: { status: 502, answer } }));
      expect([error.status, error.message, error.problem]).toEqual([502, 'The server answered 502.', undefined]);
    },
  );

  it('says that nobody answers, and leaves what was stopped on purpose as it is', async () => {
    const closed = createServer();
    await new Promise<void>((done) => closed.listen(0, '127.0.0.1', done));
    const { port } = closed.address() as AddressInfo;
    await new Promise((done) => closed.close(done));
    const error = await failed(new ApiClient(`http://127.0.0.1:${port}`).call(get, {}));
    expect([error instanceof ApiProblem, error.status]).toEqual([true, 0]);
    expect(error.message).toContain('The server does not answer.');
    const stop = new AbortController();
    const hanging = failed(client.call(get, { query: { hang: 'yes' }, signal: stop.signal }));
    stop.abort();
    expect((await hanging).name).toBe('AbortError');
  });
});

it('an address holds what is given, and nothing else', () => {
  const search = contract({
    method: 'get',
    path: '/uses',
    about: 'Looks up',
    query: z.object({ what: z.string(), name: z.string(), value: z.string().optional(), empty: z.string() }),
  });
  expect(addressOf(search, { query: { what: 'kind', name: 'pic.read & more', value: undefined, empty: '' } })).toBe(
    '/uses?what=kind&name=pic.read+%26+more',
  );
});
