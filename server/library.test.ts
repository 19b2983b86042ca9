import { libraryItemSchema, libraryVersionSchema } from '@basitax/api/library';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let lead: Client;
let editor: Client;
let viewer: Client;
beforeAll(async () => {
  team = await startTeam();
  [lead, editor, viewer] = [await team.as('lead'), await team.as('editor'), await team.as('viewer')];
});
afterAll(() => team.close());

const source = "const { amount } = options({ amount: { type: 'number', default: 2 } });\nlog(amount);";
const make = (client: Client, json: object, status = 201) =>
  client.json('POST', '/api/library', { json: { type: 'script', title: 'Amounts', content: source, ...json }, status });

describe('the library', () => {
  it('keeps scripts in versions, with the options that each declares', async () => {
    const first = libraryVersionSchema.parse(await make(editor, {}));
    expect(first).toMatchObject({
      title: 'Amounts',
      version: 1,
      runRole: 'editor',
      options: { amount: { type: 'number', default: 2 } },
    });
    const change = { title: 'Sizes', content: source.replaceAll('amount', 'size'), message: 'by size' };
    const second = await editor.json('POST', `/api/library/${first.id}/versions`, {
      json: change,
      headers: { 'If-Match': '"1"' },
      status: 201,
    });
    expect(second).toMatchObject({ title: 'Sizes', version: 2, message: 'by size' });
    expect((await editor.json('GET', `/api/library/${first.id}/versions/1`)).options).toEqual(first.options);
    expect(
      (await editor.json('GET', `/api/library/${first.id}/versions`)).versions.map(
        (one: { version: number }) => one.version,
      ),
    ).toEqual([2, 1]);
    await editor.json('POST', `/api/library/${first.id}/versions`, {
      json: change,
      headers: { 'If-Match': '"1"' },
      status: 412,
    });
    await editor.json('POST', `/api/library/${first.id}/versions`, { json: change, status: 428 });
    await editor.json('DELETE', `/api/library/${first.id}`, { status: 204 });
    await editor.json('GET', `/api/library/${first.id}/versions/head`, { status: 404 });
  });

  it('shows each only to those who may run it, and lets only those change it who may', async () => {
    const own = await make(lead, { title: 'For leads', runRole: 'lead', changeRole: 'lead' });
    const forAll = await make(lead, { title: 'For all', runRole: 'viewer', changeRole: 'lead' });
    const listed = async (client: Client) =>
      (await client.json('GET', '/api/library?type=script')).items.map(
        (item: unknown) => libraryItemSchema.parse(item).title,
      );
    expect(await listed(lead)).toEqual(['For all', 'For leads']);
    expect(await listed(viewer)).toEqual(['For all']);
    await editor.json('GET', `/api/library/${own.id}/versions/head`, { status: 404 });
    await editor.json('POST', `/api/library/${forAll.id}/versions`, {
      json: { title: 'Mine', content: source },
      headers: { 'If-Match': '"1"' },
      status: 403,
    });
    await editor.json('DELETE', `/api/library/${forAll.id}`, { status: 403 });
    await make(editor, { changeRole: 'lead' }, 422);
  });

  it('refuses what cannot run, and says where', async () => {
    expect((await make(editor, { content: 'const a = 1;\nconst = 2;' }, 422)).detail).toMatch(/^Line 2: /);
    expect(
      (await make(editor, { content: "options({ a: { type: 'number', default: 'much' } })" }, 422)).detail,
    ).toContain('default does not fit');
    // what there is nothing to run on is no mistake of its own
    await make(editor, { content: 'log(nodes[0].name)' });
    expect((await make(editor, { type: 'recipe', content: '{' }, 422)).detail).toContain('not valid JSON');
    expect((await make(editor, { type: 'recipe', content: '{"steps": []}' }, 422)).detail).toContain(
      'at least one step',
    );
    expect(
      (await make(editor, { type: 'recipe', content: '{"steps": [{"do": "check", "rules": ["neat"]}]}' }, 422)).detail,
    ).toContain('is not a house rule');
    await make(editor, {
      type: 'recipe',
      content: '{"steps": [{"do": "operation", "operation": "arrange"}, {"do": "keep"}]}',
    });
  });
});
