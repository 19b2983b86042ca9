import { batchRunSchema } from '@basitax/api/batches';
import { writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { measuresOf, printsOf } from '@basitax/core/inspect/answers';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import fastJsonPatch, { type Operation } from 'fast-json-patch';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { User } from './db/models.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
let lead: Client;
let nobody: Client;
beforeAll(async () => {
  team = await startTeam();
  const small = demoFiles.find((file) => file.slug === 'line-up')!;
  await team.store.importFile('line-up.graph.json', writeDoc(small.build()), 'Lead TD', { id: 'line-up' });
  [editor, lead, nobody] = [await team.as('editor'), await team.as('lead'), await team.as('nobody')];
});
afterAll(() => team.close());

const kinds = new Kinds(catalogue);
const doc = demoFiles.find((file) => file.slug === 'line-up')!.build();
const at = '/api/files/line-up/revisions/head';
const label = {
  selection: { graph: doc.head.root, items: [...doc.nodes.keys()].slice(0, 1) },
  options: { label: 'A' },
};

describe('what the command line asks of files', () => {
  it('is answered over HTTP by the same functions', async () => {
    const { revision, ...measures } = await editor.json('GET', `${at}/measures`);
    expect(revision).toBe(1);
    expect(measures).toEqual(JSON.parse(JSON.stringify(measuresOf(doc, kinds))));
    const prints = await editor.json('GET', `${at}/fingerprint?nodes=yes`);
    expect(prints).toEqual({ revision: 1, ...printsOf(doc, kinds, true) });
    const [first] = doc.nodes.values();
    const found = await editor.json('GET', `${at}/dependencies?nodes=${first!.name}`);
    expect(found.standing.map((one: { id: string }) => one.id)).toContain(first!.id);
    await editor.json('GET', `${at}/dependencies?nodes=Nowhere`, { status: 422 });
    const { findings, counts } = await editor.json('GET', `${at}/check`);
    expect(findings.length).toBe(counts.error + counts.warning + counts.info);
    await editor.json('GET', `${at}/check?rules=no-such-rule`, { status: 422 });
    expect(JSON.parse(await (await editor.send('GET', `${at}/check-log`)).text()).version).toBe('2.1.0');
    expect(await (await editor.send('GET', `${at}/check-log?format=junit`)).text()).toContain('<testsuite');
    expect(await editor.json('GET', `${at}/leftovers`)).toMatchObject({ revision: 1 });
    expect(await (await editor.send('GET', `${at}/words`)).text()).toContain(first!.name);
    await editor.json('GET', `${at}/cost`, { status: 422 });
    await editor.json('PUT', '/api/files/line-up/times', {
      json: { byPath: { [first!.name]: 12 }, source: 'by hand' },
      status: 204,
    });
    expect((await editor.json('GET', `${at}/cost`)).total).toBe(12);
    expect(await editor.json('GET', '/api/files/line-up/compare', { status: 422 })).toMatchObject({ status: 422 });
  });

  it('compares revisions and files, as JSON Patch too', async () => {
    const json = { ...label, dryRun: false };
    await editor.json('POST', '/api/files/line-up/operations/label', { json, headers: { 'If-Match': '"1"' } });
    const { changes, patch, verdict } = await editor.json('GET', '/api/files/line-up/compare?patch=yes');
    expect(changes).toHaveLength(1);
    expect(verdict).toBe('same');
    // RFC 6902, by a reference library
    const [before, after] = await Promise.all(
      [1, 2].map(async (n) => JSON.parse(await (await editor.send('GET', `/api/files/line-up/revisions/${n}`)).text())),
    );
    expect(fastJsonPatch.applyPatch(before, patch as Operation[], true).newDocument).toEqual(after);
    const [other] = (await editor.json('GET', '/api/files')).files.filter(
      (file: { id: string }) => file.id !== 'line-up',
    );
    expect((await editor.json('GET', `/api/files/line-up/compare?with=${other.id}`)).changes.length).toBeGreaterThan(1);
  });

  it('converts, checks and merges what is sent, and stores nothing', async () => {
    const count = (await editor.json('GET', '/api/files')).files.length;
    const text = 'digraph { a -> b; b -> c }';
    const made = await editor.json('POST', '/api/convert?name=x.dot&to=graphml', { text });
    expect(made.text).toContain('<graphml');
    expect(await editor.json('POST', '/api/check?name=x.dot', { text })).toHaveProperty('counts.error');
    await editor.json('POST', '/api/check?name=x.dot', { text: 'digraph {', status: 422 });
    await editor.json('POST', '/api/check?name=x.dot&project=nothing', { text, status: 404 });
    const base = writeDoc(doc);
    const merged = await editor.json('POST', '/api/merge', { json: { base, ours: base, theirs: base } });
    expect(merged).toEqual({ text: base, conflicts: [], findings: [] });
    expect((await editor.json('GET', '/api/files')).files).toHaveLength(count);
  });
});

describe('a request with an Idempotency-Key', () => {
  it('is done once, however often it is sent, and answered as the first time', async () => {
    const recipe = { steps: [{ do: 'check', rules: [] }] };
    const send = (key: string, title = 'Once') =>
      editor.send('POST', '/api/batches', {
        json: { title, recipe, files: { ids: ['line-up'] } },
        headers: { 'Idempotency-Key': key },
      });
    const answers = await Promise.all([send('a'), send('a'), send('a')]);
    const done = answers.filter((one) => one.status === 201);
    expect(done.length).toBeGreaterThan(0);
    // those that came while the first was being done are told to ask again
    for (const one of answers) expect([201, 409]).toContain(one.status);
    const later = await send('a');
    expect([later.status, later.headers.get('Idempotency-Replayed')]).toEqual([201, 'true']);
    const ids = new Set(
      await Promise.all([...done, later].map(async (one) => batchRunSchema.parse(await one.json()).id)),
    );
    expect(ids.size).toBe(1);
    expect((await send('a', 'Something else')).status).toBe(422);
    expect((await send('b')).status).toBe(201);
    const runs = (await editor.json('GET', '/api/batches')).runs.filter(
      (run: { title: string }) => run.title === 'Once',
    );
    expect(runs).toHaveLength(2);
    expect((await send('with blank space')).status).toBe(400);
  });

  it('may be tried again where it failed', async () => {
    const send = (ids: string[]) =>
      editor.send('POST', '/api/batches', {
        json: { title: 'Fails', recipe: { steps: [{ do: 'check', rules: [] }] }, files: { ids } },
        headers: { 'Idempotency-Key': 'fails' },
      });
    expect((await send(['nothing'])).status).toBe(422);
    expect((await send(['line-up'])).status).toBe(201);
  });
});

describe('tokens', () => {
  const bearer = (token: string) => ({ Authorization: `Bearer ${token}` });

  it('name the program and the person on what they save', async () => {
    const { token } = await editor.json('POST', '/api/tokens', {
      json: { title: 'night-check', role: 'editor' },
      status: 201,
    });
    const { head } = await editor.json('GET', '/api/files/line-up');
    await nobody.json('POST', '/api/files/line-up/operations/label', {
      json: { ...label, options: { label: 'B' }, dryRun: false },
      headers: { ...bearer(token), 'If-Match': `"${head.number}"` },
    });
    expect((await editor.json('GET', '/api/files/line-up')).head.author).toBe('night-check for Lighting artist');
  });

  it('that are bound to projects see and change nothing else', async () => {
    const project = await lead.json('POST', '/api/projects', {
      json: { title: 'Bay', about: '', open: true, members: [] },
      status: 201,
    });
    await lead.json('PUT', '/api/files/line-up/place', { json: { project: project.id } });
    const { token } = await lead.json('POST', '/api/tokens', {
      json: { title: 'bay-farm', role: 'lead', projects: [project.id] },
      status: 201,
    });
    const headers = bearer(token);
    expect((await nobody.json('GET', '/api/files', { headers })).files.map((one: { id: string }) => one.id)).toEqual([
      'line-up',
    ]);
    await nobody.json('GET', '/api/files/tide-cues', { headers, status: 404 });
    expect((await nobody.json('GET', '/api/session', { headers })).person.projects).toEqual([project.id]);
    await nobody.json('GET', '/api/people', { headers, status: 403 });
    await nobody.json('POST', '/api/library', {
      json: { type: 'script', title: 'x', content: 'log(1)' },
      headers,
      status: 403,
    });
    await nobody.json('PUT', '/api/files/line-up/place', { json: { project: 'team' }, headers, status: 404 });
    await editor.json('POST', '/api/tokens', {
      json: { title: 'x', role: 'editor', projects: ['nothing'] },
      status: 404,
    });
    await lead.json('PUT', '/api/files/line-up/place', { json: { project: 'team' } });
  });

  it('of accounts for programs are made by leads; nobody signs in with such an account', async () => {
    await editor.json('POST', '/api/people/services', { json: { name: 'Farm', role: 'editor' }, status: 403 });
    const farm = await lead.json('POST', '/api/people/services', {
      json: { name: 'Farm', role: 'editor' },
      status: 201,
    });
    expect(farm).toMatchObject({ service: true, role: 'editor' });
    const json = { title: 'nightly', role: 'editor', service: farm.id };
    await editor.json('POST', '/api/tokens', { json, status: 403 });
    await lead.json('POST', '/api/tokens', { json: { ...json, role: 'lead' }, status: 422 });
    await lead.json('POST', '/api/tokens', { json: { ...json, service: 'viewer' }, status: 404 });
    const { id, token } = await lead.json('POST', '/api/tokens', { json, status: 201 });
    expect((await nobody.json('GET', '/api/session', { headers: bearer(token) })).person.name).toBe('nightly for Farm');
    for (const password of ['', 'x'.repeat(12)])
      expect(
        (await nobody.send('POST', '/api/session', { json: { login: farm.login, password } })).status,
      ).toBeGreaterThanOrEqual(400);
    expect((await lead.json('GET', `/api/tokens?service=${farm.id}`)).tokens).toHaveLength(1);
    await editor.json('DELETE', `/api/tokens/${id}`, { status: 404 });
    await lead.json('DELETE', `/api/tokens/${id}`, { status: 204 });
    await nobody.json('GET', '/api/session', { headers: bearer(token), status: 401 });
    await lead.json('DELETE', `/api/people/${farm.id}`, { status: 204 });
    expect(await User.count({ where: { isService: true } })).toBe(0);
  });
});
