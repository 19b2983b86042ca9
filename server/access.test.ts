import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createApp } from './app.ts';
import { siteOf } from './http/site.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

// Who sees what goes on beyond single files: batch runs, streams, pictures, and under which name the server is asked.

let team: Team;
let lead: Client;
let editor: Client;
let viewer: Client;
beforeAll(async () => {
  team = await startTeam();
  [lead, editor, viewer] = await Promise.all([team.as('lead'), team.as('editor'), team.as('viewer')]);
});
afterAll(() => team.close());

const recipe = { steps: [{ do: 'script', source: 'log(1)' }] };

/** Reads a stream until it ends, or for so long. */
async function endsWithin(answer: Response, ms: number): Promise<boolean> {
  const reader = answer.body!.getReader();
  const over = Date.now() + ms;
  for (;;) {
    const left = over - Date.now();
    if (left <= 0) {
      await reader.cancel();
      return false;
    }
    const late = new Promise<'late'>((done) => setTimeout(() => done('late'), left));
    const read = await Promise.race([reader.read(), late]);
    if (read !== 'late' && read.done) return true;
  }
}

describe('a batch run', () => {
  it('is seen by who sees its files, and decided on by who started it or a lead', async () => {
    const { id: secret } = await lead.json('POST', '/api/projects', {
      json: { title: 'Night act', about: '', open: false, members: ['editor'] },
      status: 201,
    });
    await lead.json('PUT', '/api/files/dome-blend/place', { json: { project: secret, folder: '' }, status: 200 });
    const start = async (who: Client, ids: string[]): Promise<string> =>
      (await who.json('POST', '/api/batches', { json: { title: 'Look', recipe, files: { ids } }, status: 201 })).id;
    const hidden = await start(lead, ['dome-blend']);
    const both = await start(lead, ['dome-blend', 'tide-cues']);
    const seen = async (who: Client) =>
      (await who.json('GET', '/api/batches')).runs.map((run: { id: string; total: number }) => [run.id, run.total]);
    expect((await seen(editor)).sort()).toEqual(
      [
        [hidden, 1],
        [both, 2],
      ].sort(),
    );
    expect(await seen(viewer)).toEqual([[both, 1]]);
    await viewer.json('GET', `/api/batches/${hidden}`, { status: 404 });
    await viewer.json('GET', `/api/batches/${hidden}/events`, { status: 404 });
    const told = await viewer.json('GET', `/api/batches/${both}`);
    expect(told.files.ids).toEqual(['tide-cues']);
    for (const [act, json] of [
      ['accept', { accepted: true }],
      ['apply', {}],
      ['cancel', {}],
      ['roll-back', {}],
    ] as const) {
      await editor.json('POST', `/api/batches/${both}/${act}`, { json, status: 403 });
      await viewer.json('POST', `/api/batches/${both}/${act}`, { json, status: 403 });
    }
    await lead.json('POST', `/api/batches/${both}/accept`, { json: { accepted: true } });
  });
});

describe('a stream', () => {
  it('ends within five seconds for whoever may not listen any more', async () => {
    const own = await team.as('editor');
    const listening = await own.send('GET', '/api/files/dome-blend/live');
    const signedOut = await own.send('GET', '/api/files/tide-cues/live');
    const { projects } = await lead.json('GET', '/api/projects');
    const secret = projects.find((one: { title: string }) => one.title === 'Night act');
    await lead.json('PUT', `/api/projects/${secret.id}`, {
      json: { title: 'Night act', about: '', open: false, members: [] },
      status: 204,
    });
    expect(await endsWithin(listening, 6000)).toBe(true);
    await own.json('DELETE', '/api/session', { status: 204 });
    expect(await endsWithin(signedOut, 6000)).toBe(true);
  }, 30_000);
});

describe('a picture of a file', () => {
  it('is kept by the browser, and shown only after the server was asked', async () => {
    const path = '/api/files/tide-cues/thumbnail.svg?theme=paper&revision=1';
    const first = await viewer.send('GET', path);
    expect(first.headers.get('Cache-Control')).toBe('private, no-cache');
    const tag = first.headers.get('ETag')!;
    const again = await viewer.send('GET', path, { headers: { 'If-None-Match': tag, 'Cache-Control': 'max-age=0' } });
    expect([again.status, await again.text()]).toEqual([304, '']);
    expect((await viewer.send('GET', path, { headers: { 'If-None-Match': '"other"' } })).status).toBe(200);
  });
});

describe('what is sent', () => {
  it('is not read before somebody is signed in, and no further than its route takes', async () => {
    const nobody = await team.as('nobody');
    const large = { title: 'x'.repeat(3 * 1024 * 1024), about: '', open: true, members: [] };
    await nobody.json('POST', '/api/projects', { json: large, status: 401 });
    await viewer.json('POST', '/api/projects', { json: large, status: 403 });
    expect((await lead.json('POST', '/api/projects', { json: large, status: 413 })).detail).toContain('1 MB');
    await nobody.json('POST', '/api/session', { json: { login: 'x'.repeat(5000), password: 'y' }, status: 413 });
  });

  it('is refused before it is parsed where it is nested without end', async () => {
    const deep = `{"selection":{"graph":"root"},"options":${'{"a":'.repeat(3000)}1${'}'.repeat(3000)}}`;
    const answer = await editor.send('POST', '/api/files/tide-cues/operations/arrange', {
      text: deep,
      headers: { 'Content-Type': 'application/json' },
    });
    expect(answer.status).toBe(400);
    expect((await answer.json()).detail).toContain('nested deeper');
  });
});

describe('the name that a server is asked by', () => {
  it('has to be one of its own; with TLS cookies are for this host alone, and browsers stay with TLS', async () => {
    const site = siteOf({ PUBLIC_URL: 'https://reef.example', TRUSTED_PROXIES: '1' });
    const { createServer, request } = await import('node:http');
    const { pino } = await import('pino');
    const app = createApp({
      sequelize: team.sequelize,
      store: team.store,
      pool: team.pool,
      log: pino({ level: 'silent' }),
      site,
    });
    const server = createServer(app.callback()).listen(0, '127.0.0.1');
    await new Promise((done) => server.once('listening', done));
    const { port } = server.address() as { port: number };
    const ask = (host: string, path: string, body?: object) =>
      new Promise<{ status: number; headers: Record<string, string | string[] | undefined> }>((done, fail) => {
        const sent = request(
          {
            port,
            path,
            method: body ? 'POST' : 'GET',
            headers: { Host: host, 'Content-Type': 'application/json', 'X-Forwarded-Proto': 'https' },
          },
          (answer) => {
            answer.resume();
            done({ status: answer.statusCode ?? 0, headers: answer.headers });
          },
        );
        sent.on('error', fail);
        sent.end(body && JSON.stringify(body));
      });
    expect((await ask('elsewhere.example', '/api/session')).status).toBe(400);
    for (const path of ['/healthz', '/metrics']) expect((await ask('elsewhere.example', path)).status).toBe(200);
    const { status, headers } = await ask('reef.example', '/api/session', {
      login: 'lead',
      password: 'lantern-reef',
    });
    expect(status).toBe(200);
    const cookies = headers['set-cookie'] as string[];
    expect(cookies.every((one) => /^__Host-basitax_\w+=.*path=\/;.*secure; httponly/i.test(one))).toBe(true);
    expect(headers['strict-transport-security']).toContain('max-age=63072000');
    server.closeAllConnections();
    server.close();
    expect(() => siteOf({ PUBLIC_URL: 'reef' })).toThrow(/address such as/);
    expect(() => siteOf({ PUBLIC_URL: 'https://reef.example' })).toThrow(/number of proxies/);
    expect(() => siteOf({ TRUSTED_PROXIES: 'all' })).toThrow(/number of proxies/);
  });
});
