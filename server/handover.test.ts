import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Client, startTeam, type Team } from './tests/team.ts';

let team: Team;
let viewer: Client;
beforeAll(async () => {
  team = await startTeam();
  viewer = await team.as('viewer');
});
afterAll(() => team.close());

const path = '/api/files/dome-blend/revisions/head/handover';

it('hands a page over that carries its fonts and may run and fetch nothing', async () => {
  const response = await viewer.send('GET', path);
  expect(response.headers.get('content-type')).toContain('text/html');
  expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
  expect(response.headers.get('content-disposition')).toContain('inline');
  const page = await response.text();
  expect(page).toContain('<h1>Dome blend</h1>');
  expect(page).toContain('Team files · revision 1 by Lead TD');
  expect(page).toContain('Projector 3 was moved 4 cm after');
  expect(page).toContain('survey/dome/projector_2.map');
  expect(page.match(/font\/woff;base64,/g)).toHaveLength(3);
});

it('hands posters over: SVG to the size of A3, and PDF in vectors with its fonts, the same each time', async () => {
  const svg = await (await viewer.send('GET', `${path}?as=svg&theme=night`)).text();
  expect(svg).toMatch(/^<svg [^>]*width="1190.55pt" height="841.89pt"/);
  expect(svg).toContain('>HouseGrade</text>');
  const load = async () => Buffer.from(await (await viewer.send('GET', `${path}?as=pdf&save=yes`)).arrayBuffer());
  const [pdf, again] = [await load(), await load()];
  const text = pdf.toString('latin1');
  expect(text.startsWith('%PDF-1.')).toBe(true);
  // PDF 32000-1:2008: the page tree counts pages, MediaBox is their size, FontFile2 and 3 are programs of fonts in the
  // file
  expect(text).toMatch(/\/Count 1\b/);
  expect(text).toContain('/MediaBox [0 0 1190.55 841.89]');
  expect(text.match(/\/FontFile[23] /g)!.length).toBeGreaterThanOrEqual(2);
  expect(text).not.toContain('/Subtype /Image');
  expect(again.length).toBe(pdf.length);
});

it('refuses what it does not know', async () => {
  await viewer.json('GET', `${path}?as=docx`, { status: 400 });
  await viewer.json('GET', '/api/files/none/revisions/head/handover', { status: 404 });
  await viewer.json('GET', '/api/files/dome-blend/revisions/99/handover', { status: 404 });
});
