import { type BatchRun, batchRunSchema, itemDetailSchema } from '@basitax/api/batches';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import type { Edit } from '@basitax/core/edit/step';
import { demoFiles } from '@basitax/demo/files';
import { Pool } from '@basitax/threads/pool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BatchWorker } from './batch/worker.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
let pool: Pool;
let worker: BatchWorker;
beforeAll(async () => {
  team = await startTeam();
  for (const slug of ['title-cards', 'line-up']) {
    const file = demoFiles.find((one) => one.slug === slug)!;
    await team.store.importFile(`${file.title}.graph.json`, writeDoc(file.build()), 'Lead TD', { id: slug });
  }
  editor = await team.as('editor');
  pool = new Pool(1);
  worker = new BatchWorker(team.sequelize, team.store, pool, 'test');
});
afterAll(async () => {
  pool.close();
  await team.close();
});

const work = async (): Promise<void> => {
  while (await worker.work());
};
const start = async (steps: object[]): Promise<BatchRun> => {
  const json = { title: 'Two changes', recipe: { steps }, files: { ids: ['title-cards', 'line-up'] } };
  const run = batchRunSchema.parse(await editor.json('POST', '/api/batches', { json, status: 201 }));
  await work();
  return run;
};
interface Group {
  key: string;
  what: string;
  said: string;
  things: number;
  files: number;
  taken: number;
  left: number;
}
const groupsOf = async (run: BatchRun, query = ''): Promise<Group[]> =>
  (await editor.json('GET', `/api/batches/${run.id}/changes${query}`)).changes;
const act = async (run: BatchRun, what: string, json: object) =>
  batchRunSchema.parse(await editor.json('POST', `/api/batches/${run.id}/${what}`, { json }));
const docOf = async (id: string, number: number | 'head' = 'head') =>
  parseDoc(await (await editor.send('GET', `/api/files/${id}/revisions/${number}`)).text()).doc;
const label = { do: 'operation', operation: 'label', where: 'kind:read', options: { label: 'read' } };
const move = { do: 'operation', operation: 'move', options: { dx: 10, dy: 0 } };

describe('the changes of a run', () => {
  it('are told in groups over all files, and only those that are accepted are applied', async () => {
    const run = await start([label, move, { do: 'keep' }]);
    const groups = await groupsOf(run);
    const labelled = groups.filter(({ what }) => what === 'Label');
    const moved = groups.find(({ what }) => what === 'Place and size')!;
    expect(moved).toMatchObject({ files: 2, taken: 0, left: 0 });
    expect(labelled.length).toBeGreaterThan(0);
    const inOne = await groupsOf(run, '?file=line-up');
    expect(inOne.find(({ key }) => key === moved.key)!.things).toBeLessThan(moved.things);

    const { files } = await editor.json('GET', `/api/batches/${run.id}/changes/${moved.key}`);
    expect(files.map((one: { file: string }) => one.file).sort()).toEqual(['line-up', 'title-cards']);
    const where = await editor.json('GET', `/api/batches/${run.id}/changes/${moved.key}/line-up?theme=night`);
    expect(where.svg).toMatch(/^<svg .*stroke-width="1.5"/s);
    expect(where.names.length).toBeGreaterThan(0);

    // accepted in one file: there it is all that is taken
    const after = await act(run, 'changes', {
      accepted: true,
      keys: labelled.map(({ key }) => key),
      files: ['line-up'],
    });
    expect(after.accepted).toBe(1);
    expect((await groupsOf(run, '?file=line-up')).map(({ what, taken, left }) => [what, taken, left])).toEqual([
      ['Place and size', 0, 1],
      ['Label', 1, 0],
    ]);
    await act(run, 'apply', {});
    await work();
    const applied = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/line-up`));
    // what is listed is what was applied
    expect(applied.summary!.counts.changed).toBe(
      inOne.filter(({ what }) => what === 'Label').reduce((sum, one) => sum + one.things, 0),
    );
    expect(applied.summary!.verdict).toBe('same');
    const [before, now] = [await docOf('line-up', 1), await docOf('line-up')];
    for (const node of now.nodes.values()) expect(node.x).toBe(before.nodes.get(node.id)!.x);
    expect([...now.nodes.values()].filter((node) => node.label === 'read').length).toBeGreaterThan(0);
    expect((await editor.json('GET', '/api/files/title-cards')).head.number).toBe(1);
  });

  it('are rejected with their file where all are left out', async () => {
    const run = await start([label]);
    const keys = (await groupsOf(run)).map(({ key }) => key);
    await act(run, 'accept', { accepted: true });
    expect((await act(run, 'changes', { accepted: false, keys })).accepted).toBe(0);
    await editor.json('POST', `/api/batches/${run.id}/changes`, {
      json: { accepted: true, keys: ['0'.repeat(24)] },
      status: 422,
    });
    await editor.json('GET', `/api/batches/${run.id}/changes/${'0'.repeat(24)}`, { status: 404 });
  });

  it('are held to the conditions of the recipe once more without what was left out', async () => {
    const messy = demoFiles.find((one) => one.slug === 'seabed')!;
    await team.store.importFile('Reef.graph.json', writeDoc(messy.build()), 'Lead TD', { id: 'messy' });
    const recipe = { steps: [label, { do: 'operation', operation: 'arrange' }, { do: 'better', by: 1 }] };
    const json = { title: 'Tidy', recipe, files: { ids: ['messy'] } };
    const run = batchRunSchema.parse(await editor.json('POST', '/api/batches', { json, status: 201 }));
    await work();
    const labelled = (await groupsOf(run)).filter(({ what }) => what === 'Label');
    await act(run, 'changes', { accepted: true, keys: labelled.map(({ key }) => key) });
    await act(run, 'apply', {});
    await work();
    const detail = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/messy`));
    expect(detail).toMatchObject({ state: 'stopped', why: expect.stringContaining('Readability') });
    expect((await editor.json('GET', '/api/files/messy')).head.number).toBe(1);
  });

  it('come into conflict with both sides told, and who saved meanwhile', async () => {
    const run = await start([{ ...label, options: { label: 'run' } }]);
    const doc = await docOf('title-cards');
    const read = [...doc.nodes.values()].find((node) => node.kind.endsWith('read'))!;
    const edit: Edit = {
      steps: [
        {
          ...{ type: 'set', table: 'nodes', id: read.id, path: ['label'] },
          ...(read.label !== undefined && { from: read.label }),
          to: 'hand',
        },
      ],
    };
    const { head } = await editor.json('GET', '/api/files/title-cards');
    await editor.json('POST', '/api/files/title-cards/revisions', {
      json: { edit, message: 'By hand' },
      headers: { 'If-Match': `"${head.number}"` },
      status: 201,
    });
    await act(run, 'accept', { accepted: true });
    await act(run, 'apply', {});
    await work();
    const detail = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/title-cards`));
    expect(detail.state).toBe('conflict');
    expect(detail.conflicts[0]).toMatchObject({ ids: [read.id], rows: [{ mine: 'run', theirs: 'hand' }] });
    expect(detail.saved).toEqual([{ number: head.number + 1, author: 'Lighting artist', message: 'By hand' }]);
  });
});
