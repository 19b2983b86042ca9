import { useAnswerSchema } from '@basitax/api/inspect';
import type { Doc } from '@basitax/core/document/doc';
import { parseDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { apply, type Edit } from '@basitax/core/edit/step';
import { fileLinksSchema } from '@basitax/core/inspect/file-links';
import { countUses, type UseCount } from '@basitax/core/inspect/uses';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { catalogue } from '@basitax/demo/catalogue';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HookRun, UseRow } from './db/models.ts';
import { sinceWhen } from './files/history.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
beforeAll(async () => {
  team = await startTeam();
  editor = await team.as('editor');
});
afterAll(() => team.close());

const kinds = new Kinds(catalogue);
const open = async (id: string): Promise<Doc> =>
  parseDoc(await (await editor.send('GET', `/api/files/${id}/revisions/head`)).text()).doc;
const save = async (id: string, base: number, edit: Edit): Promise<void> =>
  editor.json('POST', `/api/files/${id}/revisions`, {
    json: { edit, message: 'A change' },
    headers: { 'If-Match': `"${base}"` },
    status: 201,
  });
const search = (query: Record<string, string>) => editor.json('GET', `/api/uses?${new URLSearchParams(query)}`);

const flat = (counts: readonly UseCount[]): string[] =>
  counts.map(({ what, name, value, count }) => JSON.stringify([what, name, value, count])).sort();
const stored = async (fileId: string): Promise<string[]> =>
  flat(
    (await UseRow.findAll({ where: { fileId } })).map(({ what, name, value, count }) => ({ what, name, value, count })),
  );

describe('the index of what is used', () => {
  it('holds for the newest revision what counting anew says, after edits, restoring and filling in', async () => {
    let doc = await open('dome-blend');
    expect(await stored('dome-blend')).toEqual(flat(countUses(doc, kinds)));
    const nodes = [...doc.nodes.keys()].sort();
    const acts: [string, readonly string[], object][] = [
      ['delete', nodes.slice(0, 2), {}],
      ['duplicate', nodes.slice(4, 7), {}],
      ['nest', nodes.slice(8, 10), {}],
      ['arrange', [], {}],
    ];
    let revision = 1;
    for (const [id, items, options] of acts) {
      const { edit } = await runOperation(id, createContext(kinds, revision), doc, { graph: 'root', items }, options);
      await save('dome-blend', revision, edit);
      doc = apply(doc, edit);
      revision++;
      expect(await stored('dome-blend')).toEqual(flat(countUses(doc, kinds)));
    }
    await editor.json('POST', '/api/files/dome-blend/revisions/1/restore', {
      json: {},
      headers: { 'If-Match': `"${revision}"` },
      status: 201,
    });
    const restored = await stored('dome-blend');
    expect(restored).toEqual(flat(countUses(await open('dome-blend'), kinds)));
    // what was stored before there was an index is filled in, for the newest revision alone
    await UseRow.destroy({ where: {} });
    await HookRun.destroy({ where: { hook: 'uses' } });
    expect(await team.store.fillInHooks()).toBe(2);
    expect(await stored('dome-blend')).toEqual(restored);
    expect(await team.store.fillInHooks()).toBe(0);
  });

  it('tells values apart to the last blank and letter', async () => {
    const doc = await open('tide-cues');
    const [node, other, third] = [...doc.nodes.values()].filter((one) => kinds.kind(one.kind)?.parameters.length);
    const set = (id: string, to: string) => ({
      type: 'set' as const,
      table: 'nodes' as const,
      id,
      path: ['params', 'remark'],
      to,
    });
    await save('tide-cues', 1, { steps: [set(node!.id, 'Swell'), set(other!.id, 'swell'), set(third!.id, 'Swell ')] });
    for (const value of ['Swell', 'swell', 'Swell '])
      expect((await search({ what: 'value', name: 'remark', value })).total).toBe(1);
    expect((await search({ what: 'value', name: 'remark', value: 'S', match: 'starts' })).total).toBe(2);
    // signs of LIKE are letters like all others
    expect((await search({ what: 'value', name: 'remark', value: 'S_ell', match: 'starts' })).total).toBe(0);
    expect((await editor.json('GET', '/api/uses/names?what=value&of=remark&starts=Sw')).names).toEqual([
      'Swell',
      'Swell ',
    ]);
  });

  it('answers with files and counts, and proposes names', async () => {
    const doc = await open('tide-cues');
    const kind = [...doc.nodes.values()].find((node) => !node.kind.startsWith('std.'))!.kind;
    const count = [...doc.nodes.values()].filter((node) => node.kind === kind).length;
    const answer = await search({ what: 'kind', name: kind });
    expect(answer.files.find((file: { file: string }) => file.file === 'tide-cues')).toMatchObject({
      count,
      revision: 2,
    });
    expect(answer.lines).toEqual([{ name: kind, value: '', count: answer.total }]);
    const { names } = await editor.json('GET', `/api/uses/names?what=kind&starts=${kind.slice(0, 3)}`);
    expect(names).toContain(kind);
    expect(names).toEqual([...names].sort());
    // by part of a title, whatever its capitals: the index has ids alone
    const byTitle = useAnswerSchema.parse(await search({ what: 'kind', name: 'PROJECTOR W', match: 'part' }));
    expect(byTitle).toEqual(useAnswerSchema.parse(await search({ what: 'kind', name: 'dome.warp' })));
    expect(byTitle.total).toBeGreaterThan(0);
    await editor.json('GET', '/api/uses?what=kind', { status: 400 });
    await editor.json('GET', '/api/uses?what=colour&name=x', { status: 400 });
    expect((await search({ what: 'kind', name: 'nobody' })).files).toEqual([]);
  });

  it('gives the links between files, shared kinds and assets', async () => {
    const map = await editor.json('GET', '/api/map');
    expect(map.files.map((file: { id: string }) => file.id).sort()).toEqual(['dome-blend', 'tide-cues']);
    expect(fileLinksSchema.parse(map).uses).toContainEqual({
      file: 'dome-blend',
      what: 'asset',
      name: 'renders/reef_night/master.exr',
      written: false,
      count: 1,
    });
  });
});

describe('what is known of a file beside its document', () => {
  it('tells since which revision nodes are bypassed', async () => {
    const edit = (id: string, to: boolean): Edit => ({
      steps: [{ type: 'set', table: 'nodes', id, path: ['bypassed'], ...(to ? { to: true } : { from: true }) }],
    });
    const day = (n: number): Date => new Date(Date.UTC(2026, 10, n));
    async function* past() {
      yield {
        number: 4,
        createdAt: day(20),
        edit: { steps: [{ type: 'set' as const, table: 'nodes' as const, id: 'a', path: ['x'], from: 1, to: 2 }] },
      };
      yield { number: 3, createdAt: day(10), edit: edit('a', true) };
      yield { number: 2, createdAt: day(5), edit: edit('b', true) };
      yield { number: 1, createdAt: day(1), edit: undefined };
    }
    expect(await sinceWhen(['a', 'b', 'c'], past(), day(21))).toEqual({
      a: { revision: 3, days: 11 },
      b: { revision: 2, days: 16 },
      c: { revision: 1, days: 20 },
    });
    const doc = await open('tide-cues');
    const node = [...doc.nodes.values()].find((one) => !one.kind.startsWith('std.') && !one.bypassed)!;
    await save('tide-cues', 2, edit(node.id, true));
    const { since } = await editor.json('GET', '/api/files/tide-cues/bypassed');
    expect(since[node.id].revision).toBe(3);
    expect(since[node.id].days).toBeLessThan(1);
  });

  it('keeps the times that were measured last, for editors to store and all to see', async () => {
    const viewer = await team.as('viewer');
    expect(await viewer.json('GET', '/api/files/tide-cues/times')).toEqual({ times: null });
    const times = { byPath: { Tide_gauge: 12.5, 'Swell/Depth': 3 }, source: 'times.csv' };
    await viewer.json('PUT', '/api/files/tide-cues/times', { json: times, status: 403 });
    await editor.json('PUT', '/api/files/tide-cues/times', { json: { ...times, byPath: { x: -1 } }, status: 400 });
    await editor.json('PUT', '/api/files/nobody/times', { json: times, status: 404 });
    await editor.json('PUT', '/api/files/tide-cues/times', { json: times, status: 204 });
    const first = (await viewer.json('GET', '/api/files/tide-cues/times')).times;
    expect(first).toMatchObject({ ...times, author: 'Lighting artist' });
    const lead = await team.as('lead');
    await lead.json('PUT', '/api/files/tide-cues/times', {
      json: { byPath: { Tide_gauge: 1 }, source: 'the render service' },
      status: 204,
    });
    const second = (await viewer.json('GET', '/api/files/tide-cues/times')).times;
    expect(second).toMatchObject({ byPath: { Tide_gauge: 1 }, source: 'the render service', author: 'Lead TD' });
    expect(second.createdAt > first.createdAt).toBe(true);
  });

  it('asks the asset store for many paths at once', async () => {
    const { assets } = await editor.json('POST', '/api/assets/check', {
      json: { paths: ['renders/reef_night/master.exr', 'elsewhere/master.exr', 'nobody/nothing.exr'] },
    });
    expect(assets['renders/reef_night/master.exr']).toEqual({ exists: true, elsewhere: [] });
    expect(assets['elsewhere/master.exr']).toEqual({
      exists: false,
      elsewhere: expect.arrayContaining(['renders/reef_night/master.exr']),
    });
    expect(assets['nobody/nothing.exr']).toEqual({ exists: false, elsewhere: [] });
  });
});
