import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseDoc } from '@basitax/core/document/file';
import { Kinds } from '@basitax/core/document/kinds';
import { dependencies } from '@basitax/core/inspect/dependencies';
import { readability } from '@basitax/core/inspect/readability';
import { pathsBetween } from '@basitax/core/inspect/ways';
import { checkRules, leftoverRules } from '@basitax/core/rules/rules';
import { catalogue } from '@basitax/demo/catalogue';
import type { Page } from 'playwright';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  address,
  graph,
  idOf,
  openOwn,
  pick,
  press,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';
import { choose, openDome, said, undoAll } from './testing/wiring.ts';

const browser = useBrowser();
const kinds = new Kinds(catalogue);
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'basitax-inspect-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const panel = (page: Page, name: string) => page.getByRole('complementary', { name, exact: true });
const dome = async (login = 'editor'): Promise<Page> => openDome((await browser.sit(login)).page);

/** The document of the file that is open, as it was saved, read as the command line reads it. */
async function savedDoc(page: Page) {
  const id = new URL(page.url()).pathname.split('/')[2]!;
  const text = await page.evaluate(async (file) => (await fetch(`/api/files/${file}/revisions/head`)).text(), id);
  return parseDoc(text).doc;
}

describe('F1 and F2: dependencies', () => {
  it('are counted, listed and lit up and down; what would be hit is said; the panel says the same as core does', async () => {
    const page = await dome();
    const doc = await savedDoc(page);
    await choose(page, 'ReefTilt');
    const id = await idOf(page, 'ReefTilt');
    await page.getByRole('button', { name: 'Inspect', exact: true }).click();
    await page.getByRole('menuitem', { name: 'Dependencies' }).click();
    const own = panel(page, 'Dependencies');
    const found = dependencies(doc, kinds, [id]);
    await own.getByRole('radio', { name: `Down ${found.down.nodes.length}` }).waitFor();
    expect(await own.getByRole('list', { name: 'What depends on it' }).getByRole('listitem').count()).toBe(
      found.down.nodes.length,
    );
    expect(await own.getByRole('list', { name: 'Ends that would change' }).getByRole('listitem').count()).toBe(
      found.ends.length,
    );
    await own.getByRole('radio', { name: `Up ${found.up.nodes.length}` }).click();
    await own.getByRole('list', { name: 'Depends on' }).waitFor();
    // the rest lies under a veil, until the panel is closed
    const ground = async (): Promise<number> =>
      page.evaluate(
        () =>
          document
            .querySelectorAll<HTMLCanvasElement>('[data-canvas] > canvas')[2]!
            .getContext('2d')!
            .getImageData(5, 200, 1, 1).data[3]!,
      );
    await expect.poll(ground).toBeGreaterThan(100);
    await own.getByRole('button', { name: 'Hide dependencies' }).click();
    await expect.poll(ground).toBe(0);
  });

  it('shows the ways between two nodes and what each of them passes', async () => {
    const page = await dome();
    const doc = await savedDoc(page);
    await choose(page, 'Dome master 4K', 'HouseGrade');
    const [one, other] = await selectionOf(page);
    await press(page, 'q', 'd');
    const own = panel(page, 'Dependencies');
    const paths = pathsBetween(doc, kinds, one!, other!);
    if (paths) {
      await own.getByRole('radio', { name: 'Ways' }).waitFor();
      await own
        .getByText(/: [\d,]+ ways?\./)
        .first()
        .waitFor();
      expect(await own.getByRole('list', { name: 'Every way passes' }).getByRole('listitem').count()).toBe(
        paths.passed.length,
      );
    } else await own.getByText('No way leads from one to the other').waitFor();
  });
});

describe('F3: leftovers and findings', () => {
  it('are listed by rule with a way to each, and a fix that can be undone', async () => {
    const page = await dome();
    const doc = await savedDoc(page);
    await graph(page).focus();
    await press(page, 'q', 'l');
    const own = panel(page, 'Leftovers and findings');
    const found = checkRules(doc, kinds, leftoverRules);
    await own.getByText(`${found.length} findings by ${leftoverRules.length} rules.`).waitFor();
    const names = found.filter((item) => item.rule === 'default-name');
    const list = own.getByRole('list', { name: 'Default name' });
    await list.getByRole('button', { name: names[0]!.message, exact: true }).click();
    await expect.poll(() => selectionOf(page)).toEqual([names[0]!.place.at(-1)]);
    const mended = names.find((item) => item.fix)!;
    await list.getByRole('button', { name: `Fix: ${mended.message}` }).click();
    await said(page, /^Wrote 1 name/);
    await own.getByText(`${found.length - 1} findings by`).waitFor();
    await undoAll(page);
  });

  it('names missing assets where the store was asked, and takes the place where a file lies now', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'survey-map');
    await graph(page).focus();
    await press(page, 'q', 'l');
    const own = panel(page, 'Leftovers and findings');
    await own.getByRole('radio', { name: 'All rules' }).click();
    const list = own.getByRole('list', { name: 'Missing asset' });
    await list.getByText('A file of that name is at “survey/archive/tile_07.map”').waitFor();
    await list.getByRole('button', { name: /^Fix:/ }).first().click();
    await said(page, /^Set .* of 1 node/);
    await expect.poll(() => list.count()).toBe(0);
  });
});

describe('F4: cost', () => {
  it('is measured by the render service or imported, shown as heat, chart and table, and exported', async () => {
    const page = await dome();
    await graph(page).focus();
    await press(page, 'q', 'c');
    const own = panel(page, 'Cost');
    await own.getByText('No times yet.').waitFor();
    await own.getByRole('button', { name: 'Measure', exact: true }).click();
    await said(page, /^Measured \d+ nodes/);
    await own.getByText(/^From the render service, by/).waitFor();
    expect(await own.getByRole('list', { name: 'Cost', exact: true }).getByRole('radio').count()).toBe(4);
    await own.getByRole('radio', { name: 'Nodes', exact: true }).click();
    expect(await own.getByRole('list', { name: 'Cost', exact: true }).getByRole('listitem').count()).toBeGreaterThan(
      15,
    );
    await own
      .getByRole('figure', { name: 'The most costly, as bars' })
      .locator('.recharts-bar-rectangle')
      .first()
      .waitFor();
    const file = join(folder, 'times.csv');
    writeFileSync(file, 'node,ms\nReefTilt,12.5\nHouseGrade,7.5\nNobody,3\n');
    await own.getByLabel('Choose a table of times').setInputFiles(file);
    await said(page, 'Read the times of 2 nodes.');
    await own.getByText('20.0 ms').first().waitFor();
    expect(await own.getByRole('list', { name: 'On the critical path' }).getByRole('listitem').allInnerTexts()).toEqual(
      [expect.stringContaining('ReefTilt'), expect.stringContaining('HouseGrade')],
    );
    const download = page.waitForEvent('download');
    await own.getByRole('button', { name: 'Export CSV' }).click();
    expect((await download).suggestedFilename()).toMatch(/\.times\.csv$/);
  });
});

describe('F5: where used', () => {
  it('answers for the selected node in this file and in all, and for a value that is typed', async () => {
    const page = await dome();
    const doc = await savedDoc(page);
    await choose(page, 'Warp_1');
    await press(page, 'q', 'w');
    const own = panel(page, 'Where used');
    await own.getByRole('list', { name: 'Files that use it' }).getByRole('link').first().waitFor();
    const what = await own.getByLabel('What', { exact: true }).inputValue();
    expect(['asset', 'kind', 'shared']).toContain(what);
    await own.getByLabel('What', { exact: true }).selectOption('kind');
    const kind = [...doc.nodes.values()].find((node) => node.name === 'Warp_1')!.kind;
    await own.getByLabel('Which').fill(kind);
    const count = [...doc.nodes.values()].filter((node) => node.kind === kind).length;
    await own.getByText(`${count} nodes.`).waitFor();
    await own.getByRole('list', { name: 'Files that use it' }).getByText('Dome blend').first().waitFor();
    await own.getByRole('button', { name: 'select', exact: true }).first().click();
    await expect.poll(async () => (await selectionOf(page)).length).toBe(count);
    await own.getByLabel('Which').fill('nobody.nothing');
    await own.getByText('No file uses it.').waitFor();
  });

  it('shows which files use what, and what a change would touch', async () => {
    const { page } = await browser.sit('viewer');
    await page.goto(`${address()}/map`);
    const items = page.getByRole('list', { name: 'Items' });
    await items.getByRole('button').first().waitFor();
    await page.getByLabel('Find on the map').fill('master.exr');
    await items
      .getByRole('button', { name: /master\.exr/ })
      .first()
      .click();
    await page.getByText(/A change would affect [1-9]\d* files?\./).waitFor();
    await page
      .getByRole('list', { name: 'Would be touched' })
      .getByRole('button', { name: /Dome blend/ })
      .first()
      .click();
    await page.getByRole('link', { name: 'Open the file' }).waitFor();
    await page.getByRole('button', { name: 'All items' }).click();
    await page.getByLabel('Find on the map').fill('');
    const before = await page.locator('[data-item]').count();
    await page.getByRole('checkbox', { name: 'Assets' }).uncheck();
    await expect.poll(() => page.locator('[data-item]').count()).toBeLessThan(before);
    // from the keyboard
    await page.locator('[data-item]').first().focus();
    await page.keyboard.press('Enter');
    await page.getByText(/A change would affect/).waitFor();
  });
});

describe('F6: comparing', () => {
  it('tells what differs from the revision that was opened, function apart from layout, on the canvas and as a patch', async () => {
    const page = await dome();
    await choose(page, 'HouseGrade');
    await page.keyboard.press('Delete');
    await choose(page, 'ReefTilt');
    await press(page, 'ArrowDown');
    await settle(page, 300);
    await press(page, 'q', 'v');
    const own = panel(page, 'Compare');
    await own.getByText('Function fingerprint: changed').waitFor();
    await own.getByRole('region', { name: 'Function' }).getByText('“HouseGrade”', { exact: false }).first().waitFor();
    const layout = own.getByRole('region', { name: 'Layout' });
    await layout.getByRole('button', { name: /ReefTilt.* moved by 0, \d+ px/ }).click();
    await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
    await own.getByRole('checkbox', { name: /^Layout/ }).uncheck();
    expect(await layout.count()).toBe(0);
    const download = page.waitForEvent('download');
    await own.getByRole('button', { name: 'Export as JSON Patch' }).click();
    expect((await download).suggestedFilename()).toMatch(/\.patch\.json$/);
    await undoAll(page);
    await own.getByText('They are the same.').waitFor();
    // another file altogether: matched by likeness
    await pick(own.getByRole('combobox', { name: 'File' }), 'Projector line-up');
    await own.getByText(/nodes? matched by id/).waitFor();
  });
});

describe('F8: readability', () => {
  it('scores the graph as core does, goes to the worst place, and shows what would help before it does it', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'tide-cues');
    const doc = await savedDoc(page);
    await graph(page).focus();
    await press(page, 'q', 'r');
    const own = panel(page, 'Readability');
    const report = readability(doc, kinds, doc.head.root);
    await expect.poll(() => own.locator('[data-score]').textContent()).toBe(report.score.toFixed(1));
    const places = own.getByRole('list', { name: 'The worst places' });
    expect(await places.getByRole('listitem').count()).toBe(report.places.length);
    await places.getByRole('button').first().click();
    await expect.poll(async () => (await selectionOf(page)).length).toBe(report.places[0]!.nodes.length);
    await own
      .getByRole('button', { name: /^Place 1:/ })
      .first()
      .click();
    await page.getByText('Function fingerprint:').waitFor();
    await page.getByRole('button', { name: /^Drop/ }).click();
    await setView(page, { x: 0, y: 0, zoom: 0.6 });
  });
});

describe('F7: the function fingerprint', () => {
  it('is shown on each revision, in full where it is asked for', async () => {
    const page = await dome();
    await page.getByRole('button', { name: 'Revisions' }).click();
    const dialog = page.getByRole('dialog');
    const doc = await savedDoc(page);
    expect(doc.nodes.size).toBeGreaterThan(0);
    await dialog
      .getByText(/^ends [0-9a-f]{8}$/)
      .first()
      .waitFor();
  });
});
