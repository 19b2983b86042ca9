import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTeam, type Team } from './tests/team.ts';

let team: Team;
beforeAll(async () => {
  team = await startTeam();
});
afterAll(() => team.close());

const dot = (wires: string, more = ''): string => `digraph reef { ${more} ${wires} }`;

describe('a file of another program', () => {
  it('brings its keywords as tags (GEXF 1.3, meta)', async () => {
    const editor = await team.as('editor');
    const { file } = await editor.json('POST', '/api/files?name=tides.gexf', {
      text: '<gexf xmlns="http://gexf.net/1.3" version="1.3"><meta><keywords>tide, survey; tide</keywords></meta><graph defaultedgetype="directed"><nodes><node id="a" label="a"/></nodes></graph></gexf>',
      status: 201,
    });
    expect(file.tags).toEqual(['survey', 'tide']);
  });

  it('is read as somebody has said of its columns, with the nodes of a table beside it', async () => {
    const editor = await team.as('editor');
    const plan = { kind: 'edges', delimiter: ';', hasTitles: true, roles: ['target', 'source'] };
    const json = { name: 'supplies.csv', text: 'Shop;House\nreef;dome\n', plan, beside: 'id,label\nreef,The reef\n' };
    const { file } = await editor.json('POST', '/api/files/table', { json, status: 201 });
    const doc = await editor.json('GET', `/api/files/${file.id}/revisions/head`);
    expect(doc.nodes.map((node: { label?: string; name: string }) => node.label ?? node.name).sort()).toEqual([
      'The reef',
      'dome',
    ]);
    expect(doc.wires.map((wire: { from: { node: string } }) => wire.from.node)).toEqual(['dome']);
    await editor.json('POST', '/api/files/table', { json: { ...json, plan: { ...plan, kind: 'heap' } }, status: 400 });
  });
});

describe('a folder that is imported', () => {
  it('keeps its folders, doubles nothing, and gives what comes again a new revision over what was changed here', async () => {
    const editor = await team.as('editor');
    const send = (path: string, text: string, folder = 'night/shots') =>
      editor.json(
        'POST',
        `/api/files?name=${path.split('/').at(-1)}&folder=${folder}&path=${encodeURIComponent(path)}`,
        {
          text,
          status: 201,
        },
      );
    const first = await send('shots/tide.gv', dot('ebb -> flood'));
    expect(first).toMatchObject({
      outcome: 'new',
      file: { title: 'tide', folder: 'night/shots', head: { number: 1 } },
    });
    // the same again, and the same under another path
    expect(await send('shots/tide.gv', dot('ebb -> flood'))).toMatchObject({
      outcome: 'same',
      file: { id: first.file.id },
    });
    expect(await send('copies/tide.gv', dot('ebb -> flood'))).toMatchObject({
      outcome: 'same',
      file: { id: first.file.id },
    });

    // meanwhile somebody moves a node here
    const { revisions } = await editor.json('GET', `/api/files/${first.file.id}/revisions`);
    expect(revisions).toHaveLength(1);
    await editor.json('POST', `/api/files/${first.file.id}/operations/label`, {
      json: {
        selection: { graph: 'root', items: ['ebb'] },
        options: { label: 'Ebb here' },
        dryRun: false,
        message: 'Named',
      },
      headers: { 'If-Match': '"1"' },
    });

    // it comes again with one edge more
    const again = await send('shots/tide.gv', dot('ebb -> flood; flood -> slack'));
    expect(again).toMatchObject({
      outcome: 'updated',
      file: { id: first.file.id, head: { number: 3, message: 'Imported again from shots/tide.gv' } },
    });
    const doc = await editor.json('GET', `/api/files/${first.file.id}/revisions/head`);
    expect(doc.wires).toHaveLength(2);
    expect(doc.nodes.find((node: { id: string }) => node.id === 'ebb').label).toBe('Ebb here');

    // where both changed the same, what is here stays, and that is said
    const third = await send('shots/tide.gv', dot('ebb -> flood; flood -> slack', 'ebb [label="Ebb there"];'));
    expect(third.findings.map((item: { rule: string }) => item.rule)).toContain('kept-ours');
    const kept = await editor.json('GET', `/api/files/${first.file.id}/revisions/head`);
    expect(kept.nodes.find((node: { id: string }) => node.id === 'ebb').label).toBe('Ebb here');
  });

  it('leaves files alone that came by themselves, and refuses a path that is too long', async () => {
    const editor = await team.as('editor');
    const by = () => editor.json('POST', '/api/files?name=alone.gv', { text: dot('a -> b'), status: 201 });
    const [one, other] = [await by(), await by()];
    expect([one.outcome, other.outcome, one.file.id === other.file.id]).toEqual(['new', 'new', false]);
    await editor.json('POST', `/api/files?name=a.gv&path=${'x'.repeat(601)}`, { text: dot(''), status: 400 });
  });
});
