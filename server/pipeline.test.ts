import { allContracts } from '@basitax/api/contracts';
import { scriptedSchema } from '@basitax/api/operations';
import { tokenMadeSchema } from '@basitax/api/tokens';
import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TokenRow } from './db/models.ts';
import { Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
beforeAll(async () => {
  team = await startTeam();
  editor = await team.as('editor');
});
afterAll(() => team.close());

describe('the description of the API', () => {
  it('is an OpenAPI 3.1 document by the schema that the OpenAPI Initiative publishes, and has every route', async () => {
    const document = await editor.json('GET', '/api/openapi.json');
    const validator = new Validator();
    const result = await validator.validate(structuredClone(document));
    expect(result.errors).toBeUndefined();
    expect(result.valid).toBe(true);
    expect(validator.version).toBe('3.1');
    const described = Object.entries(document.paths).flatMap(([path, methods]) =>
      Object.keys(methods as object).map((method) => `${method} ${path}`),
    );
    expect(described.sort()).toEqual(
      allContracts.map((one) => `${one.method} ${one.path.replace(/:(\w+)/g, '{$1}')}`).sort(),
    );
    // what a change has to name, and every answer that it may get
    const save = document.paths['/api/files/{id}/revisions'].post;
    expect(save.parameters).toContainEqual(expect.objectContaining({ name: 'If-Match', in: 'header', required: true }));
    for (const status of ['201', '400', '401', '403', '404', '412', '413', '422', '428', '507'])
      expect(save.responses, status).toHaveProperty(status);
    const ids = Object.values(document.paths).flatMap((methods) =>
      Object.values(methods as Record<string, { operationId: string }>).map((one) => one.operationId),
    );
    expect(new Set(ids).size).toBe(ids.length);
    // what a request has to hold is what the server checks
    const body = document.paths['/api/batches'].post.requestBody.content['application/json'].schema;
    expect(body.required).toEqual(['title', 'recipe', 'files']);
  });
});

describe('a personal token', () => {
  const bearer = (token: string) => ({ Authorization: `Bearer ${token}` });
  const make = async (json: object) =>
    tokenMadeSchema.parse(await editor.json('POST', '/api/tokens', { json, status: 201 }));

  it('acts for its owner with the lesser role, until it expires or is taken back', async () => {
    const pipeline = new Client(team.base);
    const { token, id } = await make({ title: 'Night build', role: 'viewer' });
    expect((await pipeline.json('GET', '/api/files', { headers: bearer(token) })).files.length).toBe(2);
    await pipeline.json('POST', '/api/batches', { json: {}, headers: bearer(token), status: 403 });
    const [listed] = (await editor.json('GET', '/api/tokens')).tokens;
    expect(listed).toMatchObject({ id, title: 'Night build', role: 'viewer' });
    expect(listed.usedAt).not.toBeNull();
    expect(JSON.stringify(listed)).not.toContain(token);
    // what is stored is no token
    expect(await TokenRow.count({ where: { hash: token } })).toBe(0);
    await TokenRow.update({ expiresAt: new Date(Date.now() - 1000) }, { where: { id } });
    await pipeline.json('GET', '/api/files', { headers: bearer(token), status: 401 });
    const other = await make({ title: 'Another', role: 'editor' });
    await editor.json('DELETE', `/api/tokens/${other.id}`, { status: 204 });
    await pipeline.json('GET', '/api/files', { headers: bearer(other.token), status: 401 });
    await pipeline.json('GET', '/api/files', { headers: bearer('bx_none'), status: 401 });
  });

  it('makes no other tokens, is no more than its owner, and is nobody else’s', async () => {
    const { token, id } = await make({ title: 'Build', role: 'editor', days: 1 });
    const pipeline = new Client(team.base);
    await pipeline.json('POST', '/api/tokens', {
      json: { title: 'Child', role: 'viewer' },
      headers: bearer(token),
      status: 403,
    });
    await editor.json('POST', '/api/tokens', { json: { title: 'More', role: 'lead' }, status: 422 });
    await (await team.as('lead')).json('DELETE', `/api/tokens/${id}`, { status: 404 });
  });

  it('runs a script on a stored file: dry first, then on top of the revision that was seen', async () => {
    const { token } = await make({ title: 'Scripts', role: 'editor' });
    const pipeline = new Client(team.base);
    const run = (json: object, headers: Record<string, string> = {}, status = 200) =>
      pipeline.json('POST', '/api/files/dome-blend/scripts', {
        json,
        headers: { ...bearer(token), ...headers },
        status,
      });
    const source =
      "const { text } = options({ text: { type: 'text', default: 'x' } }); nodes.forEach((node) => { node.label = text; }); log(nodes.length);";
    const dry = scriptedSchema.parse(
      await run({ source, values: { text: 'dry' }, reach: { over: 'query', query: 'kind:warp' } }),
    );
    expect(dry).toMatchObject({ revision: 1, log: [{ level: 'log', text: '4' }] });
    expect(dry.changes).toHaveLength(4);
    await run({ source, dryRun: false }, {}, 428);
    expect(await run({ source, dryRun: false, message: 'by the pipeline' }, { 'If-Match': '"1"' })).toMatchObject({
      revision: 2,
    });
    expect((await editor.json('GET', '/api/files/dome-blend')).head).toMatchObject({
      number: 2,
      message: 'by the pipeline',
      author: expect.stringMatching(/ for Lighting artist$/),
    });
    await run({ source, dryRun: false }, { 'If-Match': '"1"' }, 412);
    expect((await run({ source: 'while (true);' }, {}, 422)).detail).toContain('took too long');
    // a failure is no success: with its line, its node and what was said before
    expect(await run({ source: "log('so far');\nnodes[0].name = 'no name'" }, {}, 422)).toMatchObject({
      title: 'The script failed',
      line: 2,
      node: expect.any(String),
      log: [{ level: 'log', text: 'so far', line: 1 }],
    });
    // what cannot be right is told before anything is run, all of it
    expect(await run({ source: "nodes[0].lable = 'x';\nnodes.set('expsure', 1)" }, {}, 422)).toMatchObject({
      title: 'The script has mistakes',
      detail: 'Line 1: A node has no “lable”. Did you mean “label”? And 1 more mistake.',
      line: 1,
      problems: [{ line: 1 }, { line: 2, message: 'There is no parameter “expsure”. Did you mean “exposure”?' }],
    });
    const stranger = await pipeline.json('POST', '/api/files/dome-blend/operations/delete', {
      json: { selection: { graph: 'root', items: ['nobody'] } },
      headers: bearer(token),
      status: 422,
    });
    expect(stranger.detail).toBe('There is nothing with the id “nobody” in this file.');
    await run({}, {}, 400);
    await run({ script: { id: 'not-there' } }, {}, 404);
    await (await team.as('viewer')).json('POST', '/api/files/dome-blend/scripts', {
      json: { source, dryRun: false },
      status: 403,
    });
  });
});
