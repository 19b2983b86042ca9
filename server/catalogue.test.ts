import { type Catalogue, catalogueSchema } from '@basitax/core/document/catalogue';
import { parseDoc, writeDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { apply } from '@basitax/core/edit/step';
import { evidenceFrom } from '@basitax/core/learn/evidence-json';
import { learnedFrom } from '@basitax/core/learn/proposal';
import { createContext } from '@basitax/core/operation';
import { runOperation } from '@basitax/core/operations';
import { publishable } from '@basitax/core/structure/shared-kinds';
import { catalogue } from '@basitax/demo/catalogue';
import { startRenderService } from '@basitax/demo/standins/render-service';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { httpRenderService } from './render/service.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let lead: Client;
let editor: Client;
beforeAll(async () => {
  team = await startTeam();
  lead = await team.as('lead');
  editor = await team.as('editor');
});
afterAll(() => team.close());

const teamCatalogue = async (): Promise<Catalogue> => {
  const { team: newest } = await editor.json('GET', '/api/catalogues');
  return catalogueSchema.parse(await editor.json('GET', `/api/catalogues/${newest.id}/${newest.version}`));
};

/** Two nodes of a demo file nested, as an editor would publish them. */
async function nestedPart(kinds: Kinds, nodes: number) {
  const { doc } = parseDoc(await (await editor.send('GET', '/api/files/dome-blend/revisions/head')).text());
  const wired = [...doc.nodes.values()].filter((node) => !node.kind.startsWith('std.') && node.ports.length > 1);
  const { edit, report } = await runOperation(
    'nest',
    createContext(kinds, 1),
    doc,
    { graph: doc.head.root, items: wired.slice(0, nodes).map((node) => node.id) },
    { name: 'Warp part' },
  );
  const after = apply(doc, edit);
  const host = after.nodes.get(report.select![0]!)!;
  return { doc: after, host, part: publishable(after, kinds, host), edit };
}

const asSent = ({ part, host }: Awaited<ReturnType<typeof nestedPart>>) => ({
  title: 'Warp part',
  category: catalogue.categories[0]!.id,
  body: writeDoc(part.body),
  order: host.ports.map((port) => port.name),
  file: 'dome-blend',
  message: 'First',
});

describe('shared kinds', () => {
  it('are published in versions, are part of the catalogue from then on, and give back what they hold', async () => {
    const before = await teamCatalogue();
    const nested = await nestedPart(new Kinds(before), 2);
    const first = await editor.json('POST', '/api/shared-kinds/warp_part', { json: asSent(nested), status: 201 });
    expect([first.version, first.kind.id, first.author]).toEqual([1, 'shared.warp_part.1', 'Lighting artist']);
    expect(first.kind.ports.map((port: { id: string }) => port.id)).toEqual(nested.host.ports.map((port) => port.name));
    const second = await editor.json('POST', '/api/shared-kinds/warp_part', {
      json: { ...asSent(await nestedPart(new Kinds(before), 3)), message: 'Wider' },
      status: 201,
    });
    expect(second.version).toBe(2);
    const { kinds } = await editor.json('GET', '/api/shared-kinds');
    expect(kinds.map((one: { version: number; message: string }) => [one.version, one.message])).toEqual([
      [2, 'Wider'],
      [1, 'First'],
    ]);
    const after = await teamCatalogue();
    expect(after.kinds.filter((kind) => kind.shared).map((kind) => kind.id)).toEqual([
      'shared.warp_part.1',
      'shared.warp_part.2',
    ]);
    const { body } = await editor.json('GET', '/api/shared-kinds/warp_part/1');
    expect(parseDoc(body).findings).toEqual([]);
    expect(body).toBe(asSent(nested).body);
    await editor.json('GET', '/api/shared-kinds/warp_part/9', { status: 404 });
    await editor.json('POST', '/api/shared-kinds/Warp', { json: asSent(nested), status: 404 });
    await editor.json('POST', '/api/shared-kinds/warp', { json: { ...asSent(nested), category: 'none' }, status: 422 });
    await editor.json('POST', '/api/shared-kinds/warp', { json: { ...asSent(nested), body: '{}' }, status: 422 });
  });

  it('are used in a file, found there, and updated with the whole of the checks', async () => {
    const kinds = new Kinds(await teamCatalogue());
    const { doc, host, edit } = await nestedPart(kinds, 2);
    await editor.json('POST', '/api/files/dome-blend/revisions', {
      json: { edit, message: 'Nested' },
      headers: { 'If-Match': '"1"' },
      status: 201,
    });
    const used = await runOperation(
      'use-shared',
      createContext(kinds, 2),
      doc,
      { graph: host.graph, items: [host.id] },
      { name: 'warp_part' },
    );
    await editor.json('POST', '/api/files/dome-blend/revisions', {
      json: { edit: used.edit, message: 'Shared' },
      headers: { 'If-Match': '"2"' },
      status: 201,
    });
    const newest = kinds.newestShared('warp_part')!.id;
    expect(
      (await editor.json('GET', `/api/kind-uses?kinds=${newest}`)).files.map(
        (file: { file: string; counts: object }) => [file.file, file.counts],
      ),
    ).toEqual([['dome-blend', { [newest]: 1 }]]);
    const third = await editor.json('POST', '/api/shared-kinds/warp_part', {
      json: asSent(await nestedPart(kinds, 2)),
      status: 201,
    });
    const body = { selection: { graph: doc.head.root }, options: {}, dryRun: true };
    const dry = await editor.json('POST', '/api/files/dome-blend/operations/update-shared', { json: body });
    expect(dry.report.findings[0].message).toBe('“Warp part” goes from version 2 to 3.');
    await editor.json('POST', '/api/files/dome-blend/operations/update-shared', {
      json: { ...body, dryRun: false },
      headers: { 'If-Match': '"3"' },
    });
    expect((await editor.json('GET', `/api/kind-uses?kinds=${third.kind.id},${newest}`)).files).toHaveLength(1);
  });
});

describe('the catalogue', () => {
  it('is changed by leads with a report of what that touches, in versions; files stay with theirs until they are read with another', async () => {
    const before = await teamCatalogue();
    const plain = catalogueSchema.parse(
      await lead.json('GET', `/api/catalogues/${before.id}/${before.version}?shared=no`),
    );
    expect(plain.kinds.some((kind) => kind.shared)).toBe(false);
    const { doc } = parseDoc(await (await editor.send('GET', '/api/files/tide-cues/revisions/head')).text());
    const used = [...doc.nodes.values()].find((node) => !node.kind.startsWith('std.'))!.kind;
    const changed = {
      ...plain,
      kinds: plain.kinds.map((kind) => (kind.id === used ? { ...kind, title: 'Renamed kind', parameters: [] } : kind)),
    };
    const report = await lead.json('POST', '/api/catalogues/report', { json: { catalogue: changed } });
    expect(report.changes.every((change: { kind: string }) => change.kind === used)).toBe(true);
    expect(report.files.map((file: { file: string }) => file.file)).toContain('tide-cues');
    await editor.json('POST', '/api/catalogues', { json: { catalogue: changed, seen: plain.version }, status: 403 });
    expect(
      await lead.json('POST', '/api/catalogues', { json: { catalogue: changed, seen: plain.version }, status: 201 }),
    ).toEqual({ id: plain.id, version: plain.version + 1 });
    await lead.json('POST', '/api/catalogues', { json: { catalogue: changed, seen: plain.version }, status: 412 });
    await lead.json('POST', '/api/catalogues', {
      json: { catalogue: { ...changed, kinds: [changed.kinds[0], changed.kinds[0]] }, seen: plain.version + 1 },
      status: 400,
    });
    expect((await teamCatalogue()).kinds.find((kind) => kind.id === used)?.title).toBe('Renamed kind');
    expect((await editor.json('GET', '/api/files/tide-cues')).catalogue.version).toBe(plain.version);
    const read = {
      selection: { graph: doc.head.root },
      options: { id: plain.id, version: plain.version + 1 },
      dryRun: false,
    };
    await editor.json('POST', '/api/files/tide-cues/operations/read-with', {
      json: read,
      headers: { 'If-Match': '"1"' },
    });
    expect((await editor.json('GET', '/api/files/tide-cues')).catalogue.version).toBe(plain.version + 1);
    const wrong = { ...read, options: { id: plain.id, version: 99 } };
    await editor.json('POST', '/api/files/tide-cues/operations/read-with', {
      json: wrong,
      headers: { 'If-Match': '"2"' },
      status: 422,
    });
  });

  it('has the team’s colours beside it', async () => {
    expect(await editor.json('GET', '/api/scheme')).toEqual({ categories: {} });
    await editor.json('PUT', '/api/scheme', { json: { categories: { motion: '#009e73' } }, status: 403 });
    await lead.json('PUT', '/api/scheme', { json: { categories: { motion: 'green' } }, status: 400 });
    await lead.json('PUT', '/api/scheme', { json: { categories: { motion: '#009e73' } }, status: 204 });
    expect(await editor.json('GET', '/api/scheme')).toEqual({ categories: { motion: '#009e73' } });
  });
});

describe('the render service', () => {
  const jobs = [{ path: 'Kelp/Glow', kind: 'shade.glow', values: { amount: 3 } }];

  it('gives a small picture and a time for each node, the same for the same', async () => {
    const { rendered } = await editor.json('POST', '/api/render', {
      json: { jobs: [...jobs, { ...jobs[0], values: { amount: 4 } }] },
    });
    expect(rendered[0].picture).toMatch(/^data:image\/png;base64,iVBORw0KGgo/);
    expect(rendered[0].ms).toBeGreaterThan(0);
    expect(rendered[0].picture).not.toBe(rendered[1].picture);
    expect((await editor.json('POST', '/api/render', { json: { jobs } })).rendered[0]).toEqual(rendered[0]);
    await editor.json('POST', '/api/render', { json: { jobs: [] }, status: 400 });
  });

  it('says so where it does not answer', async () => {
    const { address, stop } = await startRenderService();
    await stop();
    await expect(httpRenderService(address).render(jobs)).rejects.toThrow(
      'The render service does not answer as it should',
    );
  });
});

describe('kinds learned from files', () => {
  it('are put together from what files show, which only those who may see the files are told', async () => {
    const imported = await lead.json('POST', '/api/files?name=tools.gv', {
      text: 'digraph { a [kind=Blur, size=3]; b [kind=Blur, size=5]; a -> b }',
      status: 201,
    });
    const { id } = imported.file;
    const shown = await lead.json('POST', '/api/kind-evidence', { json: { files: ['dome-blend', id] } });
    const kinds = new Kinds(await teamCatalogue());
    const learned = learnedFrom(evidenceFrom(shown), kinds);
    expect(learned.files).toBe(2);
    expect(learned.kinds.filter((one) => one.is === 'known').length).toBeGreaterThan(3);
    const blur = learned.kinds.find((one) => one.isImported)!;
    expect(blur.spec.parameters.find((one) => one.id === 'size')).toMatchObject({
      type: 'integer',
      seen: { of: blur.nodes },
    });
    await lead.json('POST', '/api/kind-evidence', { json: { files: ['no-such-file'] }, status: 404 });
    await lead.json('POST', '/api/kind-evidence', { json: { files: Array(21).fill(id) }, status: 400 });
  });
});
