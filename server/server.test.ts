import { fileSchema } from '@basitax/api/files';
import { problemSchema } from '@basitax/api/problem';
import { parseDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { rebase } from '@basitax/core/edit/rebase';
import type { Edit } from '@basitax/core/edit/step';
import { apply } from '@basitax/core/edit/step';
import { fingerprint } from '@basitax/core/inspect/fingerprint';
import { catalogue } from '@basitax/demo/catalogue';
import { demoFiles } from '@basitax/demo/files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { httpAssetStore } from './assets/store.ts';
import { Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
beforeAll(async () => {
  team = await startTeam();
  editor = await team.as('editor');
});
afterAll(() => team.close());

const setLabel = (node: string, from: string | undefined, to: string): Edit => ({
  steps: [{ type: 'set', table: 'nodes', id: node, path: ['label'], ...(from !== undefined && { from }), to }],
});
const open = async (client: Client, id = 'dome-blend') => {
  const response = await client.send('GET', `/api/files/${id}/revisions/head`);
  return { doc: parseDoc(await response.text()).doc, number: Number(JSON.parse(response.headers.get('etag')!)) };
};
const save = (client: Client, id: string, base: number, edit: Edit, message = 'A change', status = 201) =>
  client.json('POST', `/api/files/${id}/revisions`, {
    json: { edit, message },
    headers: { 'If-Match': `"${base}"` },
    status,
  });

describe('settings', () => {
  it('keeps what each person has set up, for that person alone, and refuses what does not fit', async () => {
    const viewer = await team.as('viewer');
    expect(await viewer.json('GET', '/api/settings/shortcuts')).toEqual({ value: null });
    const own = { on: true, keys: { arrange: ['a x'], 'align-left': [] } };
    await viewer.json('PUT', '/api/settings/shortcuts', { json: { value: own }, status: 204 });
    await viewer.json('PUT', '/api/settings/shortcuts', { json: { value: { ...own, on: false } }, status: 204 });
    expect((await viewer.json('GET', '/api/settings/shortcuts')).value).toEqual({ ...own, on: false });
    expect((await editor.json('GET', '/api/settings/shortcuts')).value).toBeNull();
    const views = [{ name: 'Surface', graph: 'root', x: 1, y: 2, zoom: 0.5 }];
    await viewer.json('PUT', '/api/settings/views-dome-blend', { json: { value: views }, status: 204 });
    expect((await viewer.json('GET', '/api/settings/views-dome-blend')).value).toEqual(views);
    for (const bad of [{ keys: { x: ['a b c'] } }, { keys: 7 }, [], 'x'])
      await viewer.json('PUT', '/api/settings/shortcuts', { json: { value: bad }, status: 400 });
    await viewer.json('PUT', '/api/settings/views-dome-blend', {
      json: { value: [{ ...views[0], zoom: 0 }] },
      status: 400,
    });
    await viewer.json('PUT', '/api/settings/theirs', { json: { value: own }, status: 404 });
  });
});

describe('sign-in and roles', () => {
  it('gives a cookie that scripts cannot read, and takes it back', async () => {
    const client = new Client(team.base);
    const response = await client.send('POST', '/api/session', { json: { login: 'lead', password: 'lantern-reef' } });
    expect(response.headers.get('set-cookie')).toMatch(/HttpOnly/i);
    expect(response.headers.get('set-cookie')).toMatch(/SameSite=Lax/i);
    expect((await client.json('GET', '/api/session')).person.role).toBe('lead');
    await client.json('DELETE', '/api/session', { status: 204 });
    expect((await client.json('GET', '/api/session')).person).toBeNull();
  });

  it('refuses a wrong password as it refuses an unknown login, and slows guessing down', async () => {
    const client = new Client(team.base);
    const [wrong, unknown] = await Promise.all(
      ['lead', 'nobody-here'].map((login) =>
        client.json('POST', '/api/session', { json: { login, password: 'x' }, status: 401 }),
      ),
    );
    expect(wrong).toEqual(unknown);
    for (let i = 0; i < 9; i++)
      await client.send('POST', '/api/session', { json: { login: 'guessed', password: 'x' } });
    await client.json('POST', '/api/session', { json: { login: 'guessed', password: 'x' }, status: 401 });
    await client.json('POST', '/api/session', { json: { login: 'guessed', password: 'lantern-reef' }, status: 429 });
    await client.json('POST', '/api/session', { json: { login: 'lead', password: 'lantern-reef' } });
  });

  it('gives a revision as it is stored, compressed, and plain to whoever cannot read that', async () => {
    const answers = await Promise.all(
      ['gzip', 'identity'].map(async (encoding) => {
        const response = await editor.send('GET', '/api/files/dome-blend/revisions/head', {
          headers: { 'Accept-Encoding': encoding },
        });
        return {
          encoding: response.headers.get('Content-Encoding'),
          vary: response.headers.get('Vary'),
          tag: response.headers.get('ETag'),
          text: await response.text(),
        };
      }),
    );
    expect(answers.map((one) => one.encoding)).toEqual(['gzip', null]);
    expect(answers.every((one) => one.vary?.includes('Accept-Encoding'))).toBe(true);
    expect(answers[0]!.text).toBe(answers[1]!.text);
    expect(answers[0]!.tag).toBe(answers[1]!.tag);
    expect(parseDoc(answers[0]!.text).doc.head.title).toBe('Dome blend');
  });

  it('a viewer reads and tries out, but changes nothing', async () => {
    const viewer = await team.as('viewer');
    await viewer.json('GET', '/api/files');
    await viewer.json('POST', '/api/files/dome-blend/operations/arrange', { json: { selection: { graph: 'root' } } });
    for (const [path, json] of [
      ['/api/files/dome-blend/revisions', { edit: { steps: [] }, message: 'no' }],
      ['/api/files/dome-blend/revisions/1/restore', {}],
      ['/api/files/dome-blend/operations/arrange', { selection: { graph: 'root' }, dryRun: false }],
      ['/api/files?name=x.graphml', {}],
    ] as const) {
      const problem = problemSchema.parse(
        await viewer.json('POST', path, { json, headers: { 'If-Match': '"1"' }, status: 403 }),
      );
      expect(problem.detail).toContain('viewer');
    }
    expect((await viewer.json('GET', '/api/files/dome-blend')).head.number).toBe(1);
  });

  it('refuses changes that another site’s page sends, and sets the security headers', async () => {
    await editor.json('POST', '/api/files?name=x.json', {
      text: '{}',
      headers: { Origin: 'https://elsewhere.example' },
      status: 403,
    });
    const headers = (await editor.send('GET', '/healthz')).headers;
    expect(headers.get('content-security-policy')).toContain("script-src 'self'");
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });
});

describe('files and revisions', () => {
  it('lists files with measures and thumbnails', async () => {
    const { files } = await editor.json('GET', '/api/files');
    expect(files.map((file: { title: string }) => file.title)).toEqual(['Dome blend', 'Tide lighting cues']);
    expect(fileSchema.parse(files[0]).head.measures.nodes).toBe(demoFiles[0]!.build().nodes.size);
    const svg = await (await editor.send('GET', '/api/files/dome-blend/thumbnail.svg?theme=night')).text();
    expect(svg).toMatch(/^<svg [^>]*>(<rect|<path)/);
  });

  it('saves an edit as a revision, finds it again, lists and restores', async () => {
    const { doc, number } = await open(editor, 'tide-cues');
    const node = [...doc.nodes.values()].find((one) => one.name === 'NarrationMix')!;
    const saved = await save(editor, 'tide-cues', number, setLabel(node.id, node.label, 'All voices'), 'Say voices');
    expect(saved.head).toMatchObject({ number: number + 1, author: 'Lighting artist', message: 'Say voices' });
    expect((await open(editor, 'tide-cues')).doc.nodes.get(node.id)?.label).toBe('All voices');
    await editor.json('POST', `/api/files/tide-cues/revisions/${number}/restore`, {
      json: {},
      headers: { 'If-Match': `"${number + 1}"` },
      status: 201,
    });
    const { revisions } = await editor.json('GET', '/api/files/tide-cues/revisions');
    expect(revisions.map((one: { number: number; verdict?: string }) => [one.number, one.verdict])).toEqual([
      [3, 'same'],
      [2, 'same'],
      [1, undefined],
    ]);
    expect((await open(editor, 'tide-cues')).doc).toEqual(doc);
    const kinds = new Kinds(catalogue);
    expect(revisions[0].fingerprint).toEqual(fingerprint(doc, kinds));
  });

  it('keeps people from overwriting what they have not seen: 412 says what changed and brings the edits', async () => {
    const { doc, number } = await open(editor);
    const [a, b] = [...doc.nodes.values()].filter((one) => one.name.startsWith('Warp_'));
    const theirs = setLabel(a!.id, a!.label, 'Theirs');
    await save(editor, 'dome-blend', number, theirs, 'Label the first warp');
    const mine = setLabel(b!.id, b!.label, 'Mine');
    const problem = problemSchema.parse(await save(editor, 'dome-blend', number, mine, 'Label the second', 412));
    expect(problem.detail).toContain('Label the first warp');
    expect(problem.changes?.revisions).toEqual([
      { number: number + 1, author: 'Lighting artist', message: 'Label the first warp' },
    ]);
    // what a client does with it: bring its edit over theirs
    const head = (problem.changes!.edits as Edit[]).reduce(apply, doc);
    const merged = rebase(mine, theirs, head, new Kinds(catalogue));
    expect(merged.conflicts).toEqual([]);
    await save(editor, 'dome-blend', problem.changes!.head, merged.edit, 'Label the second');
    const after = (await open(editor)).doc;
    expect([after.nodes.get(a!.id)?.label, after.nodes.get(b!.id)?.label]).toEqual(['Theirs', 'Mine']);
  });

  it('of many who save at once on one revision, lets exactly one through', async () => {
    const { doc, number } = await open(editor);
    const nodes = [...doc.nodes.values()].slice(0, 6);
    const results = await Promise.all(
      nodes.map((node, i) =>
        editor
          .send('POST', '/api/files/dome-blend/revisions', {
            json: { edit: setLabel(node.id, node.label, `Race ${i}`), message: 'Race' },
            headers: { 'If-Match': `"${number}"` },
          })
          .then((r) => r.status),
      ),
    );
    expect(results.filter((status) => status === 201)).toHaveLength(1);
    expect(results.filter((status) => status === 412)).toHaveLength(nodes.length - 1);
  });

  it.each([
    ['no If-Match', {}, { edit: { steps: [] }, message: 'm' }, 428],
    ['an If-Match that is not a number', { 'If-Match': 'latest' }, { edit: { steps: [] }, message: 'm' }, 400],
    ['a revision to come', { 'If-Match': '"999"' }, { edit: { steps: [] }, message: 'm' }, 400],
    ['no message', { 'If-Match': '"1"' }, { edit: { steps: [] }, message: ' ' }, 400],
    ['steps that are none', { 'If-Match': '"1"' }, { edit: { steps: [{ type: 'explode' }] }, message: 'm' }, 400],
  ])('refuses a save with %s', async (_what, headers, json, status) => {
    const problem = problemSchema.parse(
      await editor.json('POST', '/api/files/dome-blend/revisions', {
        json,
        headers: headers as Record<string, string>,
        status,
      }),
    );
    expect(problem.detail?.length).toBeGreaterThan(10);
  });

  it('refuses an edit that does not fit, or would break the document, and stores nothing', async () => {
    const { number } = await open(editor);
    await save(editor, 'dome-blend', number, setLabel('gone', undefined, 'x'), 'm', 422);
    const wire = { id: 'w-bad', from: { node: 'nope', port: 'out' }, to: { node: 'nope', port: 'in' } };
    const problem = await save(
      editor,
      'dome-blend',
      number,
      { steps: [{ type: 'add', table: 'wires', id: 'w-bad', value: wire }] },
      'm',
      422,
    );
    expect(problem.detail).toContain('missing');
    expect((await open(editor)).number).toBe(number);
  });
});

describe('import and export', () => {
  const graphml =
    '<graphml><graph id="G" edgedefault="directed"><node id="a b"/><node id="b"/><edge id="e1" source="a b" target="b"/></graph></graphml>';

  it('takes GraphML of others, arranges it, and gives it back with positions, routes and the same ids', async () => {
    const { file, findings } = await editor.json('POST', '/api/files?name=theirs.graphml', {
      text: graphml,
      headers: { 'Content-Type': 'application/xml' },
      status: 201,
    });
    expect(file.title).toBe('theirs');
    expect(findings.map((item: { rule: string }) => item.rule)).toContain('arranged-on-import');
    const planned = await editor.json('POST', `/api/files/${file.id}/operations/arrange`, {
      json: { selection: { graph: 'G' } },
    });
    expect(planned.review.fingerprint.verdict).toBe('same');
    const text = await (
      await editor.send('GET', `/api/files/${file.id}/revisions/head/export?format=graphml&routes=yes`)
    ).text();
    for (const part of ['<node id="a b">', '<edge id="e1"', 'e_route', 'n_x']) expect(text).toContain(part);
    const json = await editor.send('GET', `/api/files/${file.id}/revisions/head/export?format=json&routes=yes`);
    expect(json.headers.get('content-disposition')).toContain('theirs.graph.json');
    expect(Object.keys((await json.json()).routes)).toEqual(['e1']);
  });

  it.each([
    ['x.graphml', 'not xml', 422],
    ['x.graphml', '<!DOCTYPE g [<!ENTITY a "b">]><graphml/>', 422],
    ['x.json', '{"format":', 422],
    ['x.txt', 'hello', 422],
  ])('refuses %s holding %s with one sentence', async (name, text, status) => {
    const before = (await editor.json('GET', '/api/files')).files.length;
    const problem = problemSchema.parse(await editor.json('POST', `/api/files?name=${name}`, { text, status }));
    expect(problem.detail?.split('\n')).toHaveLength(1);
    expect((await editor.json('GET', '/api/files')).files).toHaveLength(before);
  });

  it('refuses what is not text and what is too large, before it is read', async () => {
    const bytes = await fetch(`${team.base}/api/files?name=x.graphml`, {
      method: 'POST',
      body: new Uint8Array([0x47, 0x00, 0x00, 0xff, 0x03]),
      headers: { Cookie: editor.cookies },
    });
    expect(bytes.status).toBe(422);
    expect((await bytes.json()).detail).toContain('not a text file');
    await editor.json('POST', '/api/files?name=x.graphml', { text: 'x'.repeat(65 * 1024 * 1024), status: 413 });
  });
});

describe('operations over HTTP', () => {
  it('are described with their options, tried out without a trace, and done where asked', async () => {
    const { operations } = await editor.json('GET', '/api/operations');
    expect(operations.find((one: { id: string }) => one.id === 'arrange').options.properties.keep).toMatchObject({
      default: 0.3,
    });
    const { number } = await open(editor);
    const body = { selection: { graph: 'root' }, options: { keep: 0 } };
    const tried = await editor.json('POST', '/api/files/dome-blend/operations/arrange', { json: body });
    expect(tried.revision).toBe(number);
    const done = await editor.json('POST', '/api/files/dome-blend/operations/arrange', {
      json: { ...body, dryRun: false },
      headers: { 'If-Match': `"${number}"` },
    });
    expect(done.edit).toEqual(tried.edit);
    expect((await open(editor)).number).toBe(number + 1);
    await editor.json('POST', '/api/files/dome-blend/operations/fly', { json: body, status: 422 });
    await editor.json('POST', '/api/files/dome-blend/operations/arrange', {
      json: { ...body, options: { keep: 'much' } },
      status: 422,
    });
  });

  it('refuse wiring that the catalogue forbids, with the reason, and so does a save that brings it', async () => {
    const { doc, number } = await open(editor);
    const called = (name: string) => [...doc.nodes.values()].find((node) => node.name === name)!.id;
    const [master, warp, grade, blend] = ['DomeMaster', 'Warp_1', 'HouseGrade', 'Blend_1'].map(called) as [
      string,
      string,
      string,
      string,
    ];
    const connect = async (from: object, to: object) =>
      (
        await editor.json('POST', '/api/files/dome-blend/operations/connect', {
          json: { selection: { graph: 'root' }, options: { from, to } },
          status: 422,
        })
      ).detail;
    expect(await connect({ node: master, port: 'image' }, { node: warp, port: 'map' })).toBe(
      '“map” takes map, “image” gives picture.',
    );
    expect(await connect({ node: master, port: 'image' }, { node: warp, port: 'image' })).toContain(
      'has a wire already',
    );
    expect(await connect({ node: blend, port: 'image' }, { node: grade, port: 'image' })).toContain(
      'would close a loop',
    );
    const saving = async (from: object, to: object) =>
      (
        await save(
          editor,
          'dome-blend',
          number,
          { steps: [{ type: 'add', table: 'wires', id: 'w-new', value: { id: 'w-new', from, to } as never }] },
          'm',
          422,
        )
      ).detail;
    expect(await saving({ node: master, port: 'image' }, { node: blend, port: 'mask' })).toContain('“mask” takes mask');
    expect(await saving({ node: blend, port: 'image' }, { node: warp, port: 'image' })).toContain('had two wires');
    expect((await open(editor)).number).toBe(number);
  });
});

describe('assets', () => {
  it('are found by name in the store, wherever they lie; a store that does not answer is said, and nothing breaks', async () => {
    expect(await editor.json('GET', '/api/assets?name=Projector_2.map')).toEqual({
      paths: ['survey/dome/projector_2.map'],
    });
    expect((await editor.json('GET', '/api/assets?name=reef_20cm.map')).paths).toHaveLength(2);
    expect(await editor.json('GET', '/api/assets?name=nothing.here')).toEqual({ paths: [] });
    await editor.json('GET', '/api/assets', { status: 400 });
    expect(await editor.json('GET', '/api/assets/exists?path=survey/dome/projector_2.map')).toEqual({ exists: true });
    expect(await editor.json('GET', '/api/assets/exists?path=survey/dome/projector_9.map')).toEqual({ exists: false });
    await expect(httpAssetStore('http://127.0.0.1:9/').find('x')).rejects.toThrow(
      'The asset store does not answer as it should',
    );
  });
});

describe('errors', () => {
  it('are problem documents with one sentence, never a stack', async () => {
    for (const [method, path, status] of [
      ['GET', '/api/nothing', 404],
      ['GET', '/api/files/none', 404],
      ['GET', '/api/files/dome-blend/revisions/77', 404],
      ['GET', '/api/files/dome-blend/revisions/x', 404],
      ['GET', '/api/files/dome-blend/thumbnail.svg?theme=pink', 400],
    ] as const) {
      const response = await editor.send(method, path);
      expect([path, response.status]).toEqual([path, status]);
      expect(response.headers.get('content-type')).toContain('application/problem+json');
      const text = await response.text();
      expect(problemSchema.parse(JSON.parse(text)).status).toBe(status);
      expect(text).not.toMatch(/\.ts:|node_modules/);
    }
    const broken = await editor.json('POST', '/api/session', {
      text: '{oops',
      headers: { 'Content-Type': 'application/json' },
      status: 400,
    });
    expect(broken.detail).toContain('The body is not valid JSON');
    await editor.json('POST', '/api/session', {
      text: `"${'x'.repeat(41 * 1024 * 1024)}"`,
      headers: { 'Content-Type': 'application/json' },
      status: 413,
    });
  });
});
