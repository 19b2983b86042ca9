import { allContracts } from '@basitax/api/contracts';
import { problemSchema } from '@basitax/api/problem';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { thumbnailSvg } from './files/thumbnail.ts';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let lead: Client;
beforeAll(async () => {
  team = await startTeam();
  lead = await team.as('lead');
});
afterAll(() => team.close());

/** Values that have broken servers: empty, huge, wrong in type, spelled to reach elsewhere. */
const nasty = fc.oneof(
  fc.jsonValue(),
  fc.constantFrom<unknown>(
    null,
    '',
    '../../etc/passwd',
    "'; DROP TABLE files; --",
    '%00',
    '\u0000',
    '__proto__',
    'constructor',
    -1,
    1e308,
    9007199254740991,
    [],
    {},
    '<script>alert(1)</script>',
    'ﷺ'.repeat(500),
  ),
);

describe('whatever is sent', () => {
  it('is answered with a problem of the client’s, never with an error of ours, and nothing is changed', async () => {
    const before = await lead.json('GET', '/api/files');
    const routes = allContracts.filter((one) => one.path.startsWith('/api/files') && one.method === 'post');
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...routes),
        nasty,
        nasty,
        fc.constantFrom('"1"', '1', 'x', '"99999"', ''),
        async (one, part, body, match) => {
          const fill = (name: string): string =>
            name === ':id' && Math.abs(JSON.stringify(part).length) % 2 === 0
              ? 'dome-blend'
              : encodeURIComponent(String(part)).slice(0, 300) || '-';
          const path = one.path.replace(/:\w+/g, fill);
          const query = path === '/api/files' ? `?name=${encodeURIComponent(String(part)).slice(0, 300)}` : '';
          const response = await lead.send('POST', path + query, {
            json: body,
            headers: { ...(match && { 'If-Match': match }) },
          });
          expect(response.status, `${path} ${JSON.stringify(body)}`).toBeGreaterThanOrEqual(400);
          expect(response.status, `${path} ${JSON.stringify(body)}`).toBeLessThan(500);
          expect(problemSchema.parse(await response.json()).title.length).toBeGreaterThan(3);
        },
      ),
      { numRuns: 150 },
    );
    expect(await lead.json('GET', '/api/files')).toEqual(before);
  });

  it('in an edit reaches no prototype and no other table', async () => {
    for (const step of [
      { type: 'set', table: 'nodes', id: 'x', path: ['__proto__', 'polluted'], to: true },
      { type: 'set', table: 'nodes', id: 'x', path: ['constructor'], to: 1 },
      { type: 'add', table: 'users', id: 'x', value: {} },
      { type: 'set', table: 'head', id: 'x', path: ['format'], from: 'basitax-graph', to: 'other' },
      {
        type: 'add',
        table: 'nodes',
        id: 'x',
        value: { id: 'y', graph: 'root', kind: 'k', name: 'n', x: 0, y: 0, ports: [] },
      },
      { type: 'add', table: 'nodes', id: 'x', value: 'no record' },
      { type: 'set', table: 'graphs', id: 'root', path: ['id'], from: 'root', to: 'other' },
    ]) {
      const response = await lead.send('POST', '/api/files/dome-blend/revisions', {
        json: { edit: { steps: [step] }, message: 'm' },
        headers: { 'If-Match': '"1"' },
      });
      expect([JSON.stringify(step), response.status >= 400 && response.status < 500]).toEqual([
        JSON.stringify(step),
        true,
      ]);
    }
    expect(({} as { polluted?: unknown }).polluted).toBeUndefined();
    expect((await lead.json('GET', '/api/files/dome-blend')).head.number).toBe(1);
  });

  it('as text of people comes back as text: no markup in thumbnails, no header of theirs in downloads', async () => {
    const text = '<graphml><graph id="g"><node id="&lt;script&gt;alert(1)&lt;/script&gt;"/></graph></graphml>';
    const { file } = await lead.json('POST', `/api/files?name=${encodeURIComponent('a"\r\nX-Evil: 1;<b>.graphml')}`, {
      text,
      status: 201,
    });
    const svg = await lead.send('GET', `/api/files/${file.id}/thumbnail.svg`);
    expect(svg.headers.get('content-type')).toContain('image/svg+xml');
    expect(await svg.text()).not.toMatch(/script|alert/);
    const download = await lead.send('GET', `/api/files/${file.id}/revisions/head/export?format=graphml`);
    expect(download.headers.get('x-evil')).toBeNull();
    expect(download.headers.get('content-disposition')).toMatch(/^attachment; filename="[\w. -]+"; filename\*=UTF-8''/);
    expect(await download.text()).not.toContain('<script>');
  });

  it('a session ends when its cookie is spoiled, and methods that are not there are said to be so', async () => {
    const stranger = await fetch(`${team.base}/api/files`, {
      headers: { Cookie: `basitax_session=${'0'.repeat(64)}` },
    });
    expect(stranger.status).toBe(401);
    expect((await lead.send('DELETE', '/api/files')).status).toBe(405);
    expect((await lead.send('GET', '/api/session', { headers: { Cookie: 'basitax_session=../x' } })).status).toBe(200);
  });
});

describe('thumbnails', () => {
  it('are drawn from numbers alone, in the colours of the theme', () => {
    const sketch = {
      width: 320,
      height: 180,
      nodes: [10, 10, 20, 8, 3, 50, 10, 20, 8, 99],
      frames: [5, 5, 100, 40],
      wires: [30, 14, 50, 14],
    };
    const [paper, night] = [thumbnailSvg(sketch, 'paper'), thumbnailSvg(sketch, 'night')];
    expect(paper).not.toBe(night);
    expect(paper.match(/<rect/g)).toHaveLength(3);
    expect(paper).toContain('M30 14L50 14');
    expect(paper).toMatch(/^<svg [^>]*viewBox="0 0 320 180">.*<\/svg>$/);
  });
});
