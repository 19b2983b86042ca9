import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { writeDoc } from '@basitax/core/document/file';
import { demoFiles } from '@basitax/demo/files';
import { createClient } from '@hey-api/openapi-ts';
import ts from 'typescript';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BatchWorker } from './batch/worker.ts';
import { startTeam, type Team } from './tests/team.ts';

// A client that a generator from the registry makes of the description, as a studio would.

interface Answer {
  // biome-ignore lint/suspicious/noExplicitAny: what comes is read, and its shape was checked where it was sent
  readonly data?: any;
  readonly error?: { readonly status: number; readonly detail: string };
  readonly response: Response;
}
type Generated = Record<string, (options?: object) => Promise<Answer>>;

const folder = join(import.meta.dirname, 'dist', `client-${process.pid}`);
let team: Team;
let made: Generated;
beforeAll(async () => {
  team = await startTeam();
  await createClient({
    input: `${team.base}/api/openapi.json`,
    output: { path: folder },
    plugins: ['@hey-api/client-fetch', '@hey-api/sdk'],
    logs: { level: 'silent' },
  });
  made = (await import(/* @vite-ignore */ join(folder, 'index.ts'))) as Generated;
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await team.close();
});

describe('the description of the API', () => {
  it('makes a client with which a pipeline does a day’s work', async () => {
    const lead = await team.as('lead');
    const service = await lead.json('POST', '/api/people/services', {
      json: { name: 'Farm', role: 'editor' },
      status: 201,
    });
    const { token } = await lead.json('POST', '/api/tokens', {
      json: { title: 'day', role: 'editor', service: service.id },
      status: 201,
    });
    const settings = { baseUrl: team.base, headers: { Authorization: `Bearer ${token}` } };
    const { client } = (await import(/* @vite-ignore */ join(folder, 'client.gen.ts'))) as {
      client: { setConfig(config: object): void };
    };
    client.setConfig(settings);
    const call = async (name: string, options: object = {}): Promise<Answer['data']> => {
      const { data, error, response } = await made[name]!(options);
      expect(error, `${name} ${response.status}`).toBeUndefined();
      return data;
    };
    expect((await call('sessionWho')).person.name).toBe('day for Farm');

    // morning: a file comes in, is looked at, and tidied with one operation
    const text = writeDoc(demoFiles.find((file) => file.slug === 'title-cards')!.build());
    const imported = await call('filesImport', {
      query: { name: 'Cards.graph.json' },
      body: new Blob([text]),
      bodySerializer: null,
    });
    const path = { id: imported.file.id };
    const at = { path: { ...path, number: 'head' } };
    expect((await call('answersCheck', at)).findings).toBeInstanceOf(Array);
    expect((await call('answersMeasures', at)).nodes).toBeGreaterThan(10);
    const { graphs } = JSON.parse(text) as { graphs: { id: string }[] };
    const run = { selection: { graph: graphs[0]!.id, items: [] }, dryRun: false };
    await call('operationsRun', {
      path: { ...path, operation: 'arrange' },
      headers: { 'If-Match': '"1"' },
      body: run,
    });
    const compared = await call('answersCompare', { path, query: { patch: 'yes' } });
    expect([compared.before, compared.after, compared.verdict]).toEqual([1, 2, 'same']);
    // who was slower hears what was missed
    const late = await made.operationsRun!({
      path: { ...path, operation: 'arrange' },
      headers: { 'If-Match': '"1"' },
      body: run,
    });
    expect(late.error).toMatchObject({ status: 412 });

    // noon: a batch run over files that fit a query, sent twice by mistake
    const start = {
      body: {
        title: 'Noon',
        recipe: { steps: [{ do: 'operation', operation: 'label', where: 'kind:read', options: { label: 'read' } }] },
        files: { query: 'title:cards' },
      },
      headers: { 'Idempotency-Key': 'noon' },
    };
    const [first, second] = [await call('batchesStart', start), await call('batchesStart', start)];
    expect(second.id).toBe(first.id);
    const worker = new BatchWorker(team.sequelize, team.store, team.pool, 'test');
    while (await worker.work());
    const { changes } = await call('batchesChanges', { path: { id: first.id } });
    await call('batchesTake', { path: { id: first.id }, body: { accepted: true, keys: [changes[0].key] } });
    await call('batchesApply', { path: { id: first.id }, body: {} });
    while (await worker.work());
    expect((await call('batchesGet', { path: { id: first.id } })).counts.applied).toBe(1);

    // evening: the table of the day, what differs since the morning, and what happened
    const table = await call('tablesOut', { query: { files: 'title:cards', fields: 'name,label' }, parseAs: 'text' });
    expect(table).toContain('in file,file id,id');
    const { revisions } = await call('filesRevisions', { path });
    expect(revisions.map((one: { author: string }) => one.author)).toEqual([
      'day for Farm',
      'day for Farm',
      'day for Farm',
    ]);
    const missing = await made.filesGet!({ path: { id: 'nothing' } });
    expect(missing.error).toMatchObject({ status: 404 });
    await call('shelfThrowAway', { path });
    await call('shelfTakeBack', { path });
  });

  // the last of them: compiling holds this process for longer than a connection is kept open
  it('makes a client without a mistake of type', () => {
    const options: ts.CompilerOptions = {
      ...{ strict: true, noEmit: true, skipLibCheck: true, types: ['node'] },
      ...{ target: ts.ScriptTarget.ES2023, module: ts.ModuleKind.ESNext },
      moduleResolution: ts.ModuleResolutionKind.Bundler,
    };
    const program = ts.createProgram([join(folder, 'index.ts')], options);
    expect(
      ts.getPreEmitDiagnostics(program).map((one) => ts.flattenDiagnosticMessageText(one.messageText, ' ')),
    ).toEqual([]);
  });
});
