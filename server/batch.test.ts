import {
  type BatchRun,
  batchEventSchema,
  batchItemSchema,
  batchRunSchema,
  itemDetailSchema,
} from '@basitax/api/batches';
import { recipeSchema } from '@basitax/core/batch/recipe';
import { runRecipe } from '@basitax/core/batch/run';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { apply, type Edit } from '@basitax/core/edit/step';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { Pool } from '@basitax/threads/pool';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BatchWorker } from './batch/worker.ts';
import { BatchItemRow } from './db/batch-models.ts';
import { RevisionRow } from './db/models.ts';
import { told } from './tests/events.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

const kinds = new Kinds(catalogue);
let team: Team;
let editor: Client;
let lead: Client;
let pool: Pool;
let worker: BatchWorker;
beforeAll(async () => {
  team = await startTeam();
  for (const slug of ['title-cards', 'dome-master', 'line-up']) {
    const file = demoFiles.find((one) => one.slug === slug)!;
    await team.store.importFile(`${file.title}.graph.json`, writeDoc(file.build()), 'Lead TD', { id: slug });
  }
  [editor, lead] = [await team.as('editor'), await team.as('lead')];
  pool = new Pool(1);
  worker = new BatchWorker(team.sequelize, team.store, pool, 'test');
});
afterAll(async () => {
  pool.close();
  await team.close();
});

const label = { do: 'operation', operation: 'label', where: 'kind:read', graphs: 'all', options: { label: 'read' } };
const work = async (): Promise<void> => {
  while (await worker.work());
};
const start = async (steps: object[], files: object = {}, client = editor): Promise<BatchRun> =>
  batchRunSchema.parse(
    await client.json('POST', '/api/batches', { json: { title: 'Relabel', recipe: { steps }, files }, status: 201 }),
  );
const itemsOf = async (run: BatchRun) =>
  (await editor.json('GET', `/api/batches/${run.id}/items`)).items.map((one: unknown) => batchItemSchema.parse(one));
const docOf = async (id: string, number: number | 'head' = 'head') =>
  parseDoc(await (await editor.send('GET', `/api/files/${id}/revisions/${number}`)).text()).doc;
const act = async (run: BatchRun, what: string, json: object = {}, client = editor): Promise<BatchRun> =>
  batchRunSchema.parse(await client.json('POST', `/api/batches/${run.id}/${what}`, { json }));
/** Saves an edit on top of the newest revision, as a person would. */
async function save(id: string, edit: (doc: Awaited<ReturnType<typeof docOf>>) => Edit): Promise<void> {
  const info = await editor.json('GET', `/api/files/${id}`);
  await editor.json('POST', `/api/files/${id}/revisions`, {
    json: { edit: edit(await docOf(id)), message: 'by hand' },
    headers: { 'If-Match': `"${info.head.number}"` },
    status: 201,
  });
}

describe('a batch run', () => {
  it('plans every file as the recipe does it, changes nothing before it is applied, and applies what was accepted as one revision each', async () => {
    const run = await start([label, { do: 'keep' }]);
    expect(run).toMatchObject({ phase: 'planning', total: 5, counts: { waiting: 5 } });
    await work();
    const planned = batchRunSchema.parse(await editor.json('GET', `/api/batches/${run.id}`));
    expect(planned.phase).toBe('review');
    const items = await itemsOf(run);
    for (const item of items) {
      const doc = await docOf(item.file);
      const own = await runRecipe(doc, recipeSchema.parse({ steps: [label, { do: 'keep' }] }), {
        kinds,
        seed: 1,
        catalogues: [],
      });
      expect(item).toMatchObject({
        state: own.result === 'changed' ? 'planned' : own.result,
        base: 1,
        summary: { counts: own.counts, verdict: own.verdict },
      });
      expect(item.summary!.score.before).toBeCloseTo(own.score.before, 5);
      expect((await editor.json('GET', `/api/files/${item.file}`)).head.number).toBe(1);
    }
    const changed = items
      .filter((item: { state: string }) => item.state === 'planned')
      .map((item: { file: string }) => item.file);
    expect(changed.length).toBeGreaterThan(2);
    const detail = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/${changed[0]}`));
    expect(detail.changes.length).toBe(detail.summary!.counts.changed);
    expect(detail.steps.map((one) => one.step)).toEqual([0, 1]);
    for (const which of ['before', 'after'])
      expect(
        await (
          await editor.send('GET', `/api/batches/${run.id}/items/${changed[0]}/picture.svg?which=${which}`)
        ).text(),
      ).toContain('<svg');

    await editor.json('POST', `/api/batches/${run.id}/apply`, { json: {}, status: 422 });
    await act(run, 'accept', { accepted: true });
    expect((await act(run, 'accept', { accepted: false, files: [changed[0]] })).accepted).toBe(changed.length - 1);
    expect((await act(run, 'apply', { message: 'All reads are labelled' })).phase).toBe('applying');
    await work();
    expect(batchRunSchema.parse(await editor.json('GET', `/api/batches/${run.id}`))).toMatchObject({
      phase: 'applied',
      counts: { planned: 1, applied: changed.length - 1 },
    });
    expect((await editor.json('GET', `/api/files/${changed[0]}`)).head.number).toBe(1);
    for (const file of changed.slice(1)) {
      const { head } = await editor.json('GET', `/api/files/${file}`);
      expect(head).toMatchObject({ number: 2, message: 'All reads are labelled', author: 'Lighting artist' });
      const [before, after] = [await docOf(file, 1), await docOf(file)];
      expect(fingerprint(after, kinds)).toEqual(fingerprint(before, kinds));
      expect([...after.nodes.values()].filter((node) => node.label === 'read').length).toBeGreaterThan(0);
    }

    // taken back: each file as it was, in a revision of its own
    await act(run, 'roll-back');
    await work();
    expect(batchRunSchema.parse(await editor.json('GET', `/api/batches/${run.id}`))).toMatchObject({
      phase: 'rolled-back',
      counts: { 'rolled-back': changed.length - 1 },
    });
    for (const file of changed.slice(1)) {
      expect((await editor.json('GET', `/api/files/${file}`)).head.number).toBe(3);
      expect(writeDoc(await docOf(file))).toBe(writeDoc(await docOf(file, 1)));
    }
  });

  it('brings its edit over what was saved meanwhile, reports what cannot be, and rolls back all but what was changed after', async () => {
    const rename = {
      do: 'operation',
      operation: 'label',
      where: 'kind:tint or kind:warp',
      options: { label: 'by the run' },
    };
    const run = await start([rename], { ids: ['title-cards', 'line-up', 'dome-blend'] });
    await work();
    await act(run, 'accept', { accepted: true });
    const labelled = (id: string, text: string) =>
      save(id, (doc) => {
        const node = [...doc.nodes.values()].find((one) => one.kind === 'pic.tint' || one.kind === 'dome.warp')!;
        return {
          steps: [
            {
              type: 'set',
              table: 'nodes',
              id: node.id,
              path: ['label'],
              ...(node.label !== undefined && { from: node.label }),
              to: text,
            },
          ],
        };
      });
    const moved = (id: string) =>
      save(id, (doc) => {
        const node = [...doc.nodes.values()][0]!;
        return { steps: [{ type: 'set', table: 'nodes', id: node.id, path: ['x'], from: node.x, to: node.x + 5 }] };
      });
    await moved('title-cards');
    await labelled('line-up', 'by hand');
    await act(run, 'apply');
    await work();
    const states = async () =>
      Object.fromEntries(
        (await itemsOf(run)).map((item: { file: string; state: string; why: string }) => [item.file, item]),
      );
    const applied = await states();
    expect(applied['title-cards']).toMatchObject({ state: 'applied' });
    expect(applied['line-up']).toMatchObject({
      state: 'conflict',
      why: expect.stringMatching(/^Changed in the meantime: .* in this run and .* in the file/),
    });
    const carried = await docOf('title-cards');
    expect([...carried.nodes.values()].filter((node) => node.label === 'by the run').length).toBe(18);
    // what came into conflict is planned again on what it holds now, and applied like any other
    await editor.json('POST', `/api/batches/${run.id}/again`, { json: { files: ['title-cards'] }, status: 422 });
    await act(run, 'again');
    await work();
    expect((await states())['line-up']).toMatchObject({ state: 'planned', accepted: null, why: '' });
    await act(run, 'accept', { accepted: true, files: ['line-up'] });
    await act(run, 'apply');
    await work();
    expect((await states())['line-up']).toMatchObject({ state: 'applied' });
    // one of the labels is changed by hand after: rolling back leaves it, and says so
    await labelled('title-cards', 'by hand');
    await moved('dome-blend');
    await act(run, 'roll-back');
    await work();
    const back = await states();
    expect(back['title-cards']).toMatchObject({
      state: 'rolled-back',
      why: expect.stringContaining('Not all: Changed in the meantime'),
    });
    expect(back['dome-blend']).toMatchObject({ state: 'rolled-back', why: '' });
    const after = await docOf('title-cards');
    expect(
      [...after.nodes.values()].map((node) => node.label).filter((text) => text === 'by hand' || text === 'by the run'),
    ).toEqual(['by hand']);
  });

  it('is done by several workers at once, each file once', async () => {
    const others = [
      new BatchWorker(team.sequelize, team.store, pool, 'second'),
      new BatchWorker(team.sequelize, team.store, new Pool(1), 'third'),
    ];
    const run = await start([{ do: 'script', source: 'graph.note(file.title, -500, -500)', graphs: 'outermost' }]);
    const drain = async (one: BatchWorker): Promise<void> => {
      while (await one.work());
    };
    await Promise.all([worker, ...others].map(drain));
    await act(run, 'accept', { accepted: true });
    const heads = new Map(
      (await editor.json('GET', '/api/files')).files.map((file: { id: string; head: { number: number } }) => [
        file.id,
        file.head.number,
      ]),
    );
    await act(run, 'apply');
    await Promise.all([worker, ...others].map(drain));
    for (const item of await itemsOf(run))
      expect(item).toMatchObject({ state: 'applied', applied: (heads.get(item.file) as number) + 1 });
    expect(await RevisionRow.count({ where: { runKey: `${run.id}:apply` } })).toBe(5);
  });

  it('takes up what a worker left when its lease is over, and what that one writes after counts no more', async () => {
    const run = await start([label], { ids: ['line-up'] });
    // a worker that claimed and was never heard of again
    await BatchItemRow.update(
      { fence: 7, attempts: 1, leaseUntil: new Date(Date.now() + 60_000), worker: 'gone' },
      { where: { runId: run.id } },
    );
    expect(await worker.work()).toBe(false);
    await BatchItemRow.update({ leaseUntil: new Date(Date.now() - 1000) }, { where: { runId: run.id } });
    expect(await worker.work()).toBe(true);
    expect((await itemsOf(run))[0].state).toBe('planned');
    expect((await BatchItemRow.findOne({ where: { runId: run.id } }))!.fence).toBe(8);
    // whoever ends all that touch it is let alone in the end
    const bad = await start([label], { ids: ['line-up'] });
    await BatchItemRow.update({ attempts: 4 }, { where: { runId: bad.id } });
    await work();
    expect((await itemsOf(bad))[0]).toMatchObject({ state: 'failed', why: expect.stringContaining('stopped 4 times') });
  });

  it('can be cancelled, and tells how it stands as it goes', async () => {
    const run = await start([label]);
    const response = await editor.send('GET', `/api/batches/${run.id}/events`);
    expect(response.headers.get('Content-Type')).toContain('text/event-stream');
    const events = told(response, batchEventSchema);
    const next = async () => (await events.next()).value!;
    expect((await next()).items).toHaveLength(5);
    await worker.work();
    expect((await next()).items).toHaveLength(1);
    await act(run, 'cancel');
    const last = await next();
    expect(last.run.phase).toBe('cancelled');
    expect(last.run.counts.cancelled).toBe(4);
    await events.return();
    expect(await worker.work()).toBe(false);
  });

  it('chooses files by a query, or by name; refuses what cannot be run, and those who may not', async () => {
    const files = async (query: object) =>
      (await editor.json('POST', '/api/batches/files', { json: { files: query } })).files.map(
        (file: { id: string }) => file.id,
      );
    expect(await files({ query: 'title:dome' })).toEqual(['dome-blend', 'dome-master']);
    expect(await files({ query: 'has(kind=dome.warp) or has(kind:"projector warp")' })).toEqual([
      'dome-blend',
      'line-up',
    ]);
    expect(await files({ query: 'title:line has(kind:warp projector>1)' })).toEqual(['line-up']);
    expect(await files({ query: 'has(kind:read file:*.exr)' })).toEqual(
      await files({ query: 'not not has(file:*.exr kind:read)' }),
    );
    expect(await files({ query: 'has(kind:warp projector>100)' })).toEqual([]);
    expect(await files({ query: '', ids: ['title-cards', 'not-there'] })).toEqual(['title-cards']);
    const slip = async (query: string): Promise<string> =>
      (await editor.json('POST', '/api/batches/files', { json: { files: { query } }, status: 422 })).detail;
    expect(await slip('readabilty<60')).toContain('Did you mean “readability”');
    expect(await slip('has(projektor>1)')).toContain('no field “projektor”');
    // the same answer for the list, and for who asks which files hold what
    const listed = await editor.json('GET', `/api/files?query=${encodeURIComponent('title:dome nodes>30')}`);
    expect(listed.files.map((file: { id: string }) => file.id)).toEqual(['dome-master']);
    expect(
      (await editor.json('POST', '/api/files/holding', { json: { nodes: ['kind:warp', 'kind:none'] } })).holding,
    ).toEqual([
      { nodes: 'kind:warp', files: ['dome-blend', 'line-up'] },
      { nodes: 'kind:none', files: [] },
    ]);
    const refused = async (recipe: object, query: object = {}): Promise<string> =>
      (await editor.json('POST', '/api/batches', { json: { title: 'x', recipe, files: query }, status: 422 })).detail;
    expect(await refused({ steps: [{ do: 'operation', operation: 'polish' }] })).toContain('no operation “polish”');
    expect(await refused({ steps: [{ do: 'operation', operation: 'arrange', options: { keep: 7 } }] })).toMatch(
      /^Step 1: Arrange by wiring: option keep/,
    );
    expect(await refused({ steps: [{ do: 'only', where: '(' }] })).toContain('the query');
    expect(await refused({ steps: [{ do: 'keep' }] }, { query: 'nothing is called so' })).toContain('No files match');
    const run = await start([label], { ids: ['line-up'] }, lead);
    await editor.json('POST', `/api/batches/${run.id}/cancel`, { json: {}, status: 403 });
    await act(run, 'cancel', {}, lead);
  });

  it('puts together what a script gave for each file, for those files that a person sees', async () => {
    const source = `function each(file) { return { nodes: file.nodes.length }; }
      function all(results) { return results.map(({ file, result }) => ({ file, nodes: result.nodes })); }`;
    const broken = 'const each = () => 1;\nconst all = (results) => results[0].result.none.none;';
    const run = await start(
      [
        { do: 'script', title: 'Count nodes', source },
        { do: 'script', source: broken },
      ],
      { ids: ['title-cards', 'line-up'] },
    );
    await work();
    const { reports } = await editor.json('GET', `/api/batches/${run.id}/report`);
    expect(reports).toMatchObject([
      { step: 0, title: 'Count nodes', files: 2, report: { is: 'table', columns: ['file', 'nodes'] } },
      { step: 1, problem: expect.stringMatching(/^Line 2: /) },
    ]);
    const counts = new Map<string, number>();
    for (const id of ['line-up', 'title-cards']) {
      const doc = await docOf(id);
      counts.set(doc.head.title, doc.nodes.size);
    }
    expect(reports[0].report.rows).toEqual([...counts].map(([file, nodes]) => ({ file, nodes })));
  });

  it('takes scripts as they are in the library when it starts, and fails a file whole', async () => {
    const script = await editor.json('POST', '/api/library', {
      json: { type: 'script', title: 'Count', content: "log(nodes.length); nodes[0].label = 'first'" },
      status: 201,
    });
    const steps = [
      { do: 'script', script: { id: script.id, version: 1 }, graphs: 'outermost' },
      {
        do: 'script',
        title: 'Fails on one',
        source: "if (file.title === 'Title cards') fail('Not this one.')",
        graphs: 'outermost',
      },
    ];
    const run = await start(steps, { ids: ['title-cards', 'line-up'] });
    expect(run.recipe.steps[0]).toMatchObject({ title: 'Count', source: expect.stringContaining('log(nodes.length)') });
    await work();
    const items = await itemsOf(run);
    expect(
      items.map((item: { file: string; state: string; why: string }) => [item.file, item.state, item.why]),
    ).toEqual([
      ['line-up', 'planned', ''],
      ['title-cards', 'failed', 'Step 2, Fails on one: line 1: Not this one.'],
    ]);
    const detail = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/line-up`));
    expect(detail.log.map((line) => line.text)).toEqual(['20']);
    expect(apply(await docOf('line-up'), { steps: [] }).nodes.size).toBe(20);
  });

  it('reads files with another version of the catalogue, and tells the changes in its words', async () => {
    const { kinds: all, ...rest } = catalogue;
    const next = {
      ...rest,
      version: catalogue.version + 1,
      kinds: all.map((kind) =>
        kind.id === 'pic.tint' ? { ...kind, id: 'pic.depth_tint', title: 'Depth tint' } : kind,
      ),
    };
    await lead.json('POST', '/api/catalogues', { json: { catalogue: next, seen: catalogue.version }, status: 201 });
    const mapping = { format: 'basitax-mapping', version: 1, kinds: { 'pic.tint': { to: 'pic.depth_tint' } } };
    const run = await start([{ do: 'upgrade', to: { id: next.id, version: next.version }, mapping }], {
      ids: ['title-cards'],
    });
    await work();
    const detail = itemDetailSchema.parse(await editor.json('GET', `/api/batches/${run.id}/items/title-cards`));
    expect(detail.summary!.verdict).toBe('same');
    const tints = [...(await docOf('title-cards')).nodes.values()].filter((node) => node.kind === 'pic.tint');
    const kinds = detail.changes.find((one) => / → Depth tint: 18 nodes\.$/.test(one.sentence));
    expect(kinds?.consequences?.filter((one) => / and is Depth tint now/.test(one))).toHaveLength(18);
    await act(run, 'accept', { accepted: true });
    await act(run, 'apply', { message: 'Version 2' });
    await work();
    const after = await docOf('title-cards');
    expect(after.head.catalogue).toEqual({ id: next.id, version: next.version });
    expect([...after.nodes.values()].filter((node) => node.kind === 'pic.depth_tint')).toHaveLength(tints.length);
  });
});
