import { batchRunSchema } from '@basitax/api/batches';
import { parseDoc } from '@basitax/core/document/file';
import { rowsOfXlsx } from '@basitax/core/table/xlsx';
import { csvParseRows } from 'd3-dsv';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BatchWorker } from './batch/worker.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let editor: Client;
let viewer: Client;
beforeAll(async () => {
  team = await startTeam();
  [editor, viewer] = [await team.as('editor'), await team.as('viewer')];
});
afterAll(() => team.close());

const work = async (): Promise<void> => {
  const worker = new BatchWorker(team.sequelize, team.store, team.pool, 'test');
  while (await worker.work());
};
const send = (text: string, status = 201, client = editor) =>
  client.json('POST', '/api/table?title=From%20a%20sheet', { text, status });

describe('a table over HTTP', () => {
  it('goes out of all files that fit, as CSV and as XLSX, and says what is not there', async () => {
    const path = '/api/table?parameters=file&fields=name,label,color,frame';
    const csv = csvParseRows(await (await viewer.send('GET', path)).text());
    expect(csv[0]).toEqual(['in file', 'file id', 'id', 'path', 'kind', 'name', 'label', 'color', 'frame', 'file']);
    expect(new Set(csv.slice(1).map((row) => row[1])).size).toBe(2);
    const response = await viewer.send('GET', `${path}&format=xlsx`);
    expect(response.headers.get('Content-Type')).toContain('spreadsheetml');
    const rows = await rowsOfXlsx(new Uint8Array(await response.arrayBuffer()));
    expect(rows.map(({ cells }) => cells.slice(0, 4))).toEqual(csv.map((row) => row.slice(0, 4)));
    await viewer.json('GET', '/api/table?parameters=exposre', { status: 422 });
    await viewer.json('GET', '/api/table?fields=colour', { status: 400 });
    await viewer.json('GET', '/api/table?files=title:nothing', { status: 422 });
    await viewer.json('GET', '/api/table?where=kind:(', { status: 422 });
  });

  it('comes in as a batch run, with what it would change in groups and bad rows by line', async () => {
    const rows = csvParseRows(await (await viewer.send('GET', '/api/table?fields=label,color')).text());
    const first = rows[1]!;
    const other = rows.find((row) => row[1] !== first[1] && row !== rows[0])!;
    const text = [
      'file id,in file,id,label,color',
      `${first[1]},,${first[2]},From the sheet,#2f7d6b`,
      `${other[1]},,${other[2]},From the sheet,no colour`,
      'gone,Nowhere,n1,x,',
      `,${first[0]},nothing,x,`,
    ].join('\n');
    await send(text, 403, viewer);
    const { run, problems } = await send(text);
    expect(problems).toEqual(['Line 4: there is no file “Nowhere”.']);
    await work();
    const detail = await editor.json('GET', `/api/batches/${run.id}/items/${other[1]}`);
    expect(detail.findings.map((one: { message: string }) => one.message)).toEqual([
      expect.stringMatching(/^Line 3: /),
    ]);
    const own = await editor.json('GET', `/api/batches/${run.id}/items/${first[1]}`);
    expect(own.findings.map((one: { message: string }) => one.message)).toEqual([expect.stringMatching(/^Line 5: /)]);
    const { changes } = await editor.json('GET', `/api/batches/${run.id}/changes`);
    expect(changes.map((one: { what: string }) => one.what)).toContain('Colour');
    await editor.json('POST', `/api/batches/${run.id}/accept`, { json: { accepted: true } });
    batchRunSchema.parse(await editor.json('POST', `/api/batches/${run.id}/apply`, { json: {} }));
    await work();
    const { doc } = parseDoc(await (await editor.send('GET', `/api/files/${first[1]}/revisions/head`)).text());
    expect(doc.nodes.get(first[2]!)).toMatchObject({ label: 'From the sheet', color: '#2f7d6b' });
    expect((await editor.json('GET', `/api/files/${first[1]}`)).head.message).toBe('From a sheet');
  });

  it('is refused where it is none, and a recipe with a table is not started without one', async () => {
    await send('', 422);
    await send('id,label\na,b\n', 422);
    await send('in file,id,label\nNowhere,a,b\n', 422);
    const recipe = { steps: [{ do: 'table' }] };
    await editor.json('POST', '/api/batches', { json: { title: 'x', recipe, files: {} }, status: 422 });
  });
});
