import { describe, expect, it } from 'vitest';
import {
  address,
  graph,
  nodeCalled,
  openFile,
  openOwn,
  press,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';
import { inspector } from './testing/reef.ts';
import { add, choose, expectTakes, openDome, said, undoAll } from './testing/wiring.ts';

const browser = useBrowser();

describe('E6: colours', () => {
  it('follow the team’s scheme, which a lead changes for all; own colours are told and selected', async () => {
    const lead = await openDome((await browser.sit('lead')).page);
    await choose(lead, 'HouseGrade');
    await inspector(lead).getByRole('group', { name: 'Own colour' }).getByRole('button', { name: 'Vermilion' }).click();
    await said(lead, 'Coloured 1 thing.');
    await graph(lead).focus();
    await press(lead, 'v', 'd');
    const panel = lead.getByRole('complementary', { name: 'Colours' });
    await panel.getByRole('button', { name: 'Select the 1 that differ' }).click();
    await expect.poll(() => selectionOf(lead)).toEqual(['ncs6336b1jz']);
    await panel.getByRole('button', { name: /^Change the colour of Pictures/ }).click();
    await panel.getByRole('button', { name: 'Bluish green' }).click();
    await said(lead, 'The team’s colours are changed, for all its files.');
    const spine = nodeCalled(lead, 'Overlap mask').locator('.spine');
    await expect
      .poll(() => spine.evaluate((element) => getComputedStyle(element).backgroundColor))
      .toBe('rgb(0, 149, 108)');
    // others see it when they open a file; and it goes back to the catalogue's
    const editor = await openDome((await browser.sit('editor')).page);
    await expect
      .poll(() =>
        nodeCalled(editor, 'Overlap mask')
          .locator('.spine')
          .evaluate((element) => getComputedStyle(element).backgroundColor),
      )
      .toBe('rgb(0, 149, 108)');
    await panel.getByRole('button', { name: 'The catalogue’s' }).click();
    await expect
      .poll(() => spine.evaluate((element) => getComputedStyle(element).backgroundColor))
      .not.toBe('rgb(0, 149, 108)');
    await undoAll(lead);
  });
});

describe('E8: nesting and publishing', () => {
  it('nests with ports that are renamed and ordered, unnests exactly, publishes, uses it elsewhere and updates', async () => {
    const { page } = await browser.sit('editor');
    await openDome(page);
    await choose(page, 'Warp_1', 'Blend_1');
    await press(page, 'f', 'g');
    await page.getByRole('button', { name: 'Apply' }).click();
    await said(page, /^Nested 2 nodes as “/);
    await settle(page);
    await press(page, 'f', 'u');
    await page.getByRole('button', { name: 'Apply' }).click();
    await said(page, /^Unnested “/);
    await expectTakes(page, 'Projector_1', 'image', 'Blend_1.image');
    await press(page, 'Control+z');
    await settle(page, 300);
    const panel = inspector(page).getByRole('region', { name: 'What it holds' });
    const first = panel.getByLabel(/^Name of the port/).first();
    await first.fill('Sheet_in');
    await page.keyboard.press('Enter');
    await said(page, /to “Sheet_in”\.$/);
    await panel.getByRole('button', { name: 'Sheet_in down' }).click();
    await said(page, /^“Sheet_in” is input 2 of/);
    await panel.getByRole('button', { name: 'Publish …' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Title', { exact: true }).fill('Lantern helper');
    await dialog.getByLabel(/^Name/).fill('lantern_helper');
    await dialog.getByLabel('What is new in it').fill('First version');
    await dialog.getByRole('button', { name: 'Publish', exact: true }).click();
    await said(page, '“Lantern helper” is published, version 1');
    // in its place after a preview
    await page.getByRole('button', { name: 'Apply' }).click();
    await said(page, /is “Lantern helper”, version 1, now\.$/);
    await inspector(page).getByRole('region', { name: 'Shared kind' }).getByText('version 1, the newest').waitFor();

    // another file uses it, as any kind
    const other = (await browser.sit('editor')).page;
    await openOwn(other, 'line-up');
    await setView(other, { x: 40, y: 60, zoom: 0.6 });
    await add(other, 'Lantern helper', { x: 480, y: 600 });
    await graph(other).focus();
    await other.keyboard.press('Control+s');
    await other.getByRole('dialog').getByRole('textbox').first().fill('Uses the helper');
    await other.getByRole('dialog').getByRole('button', { name: /^Save/ }).click();
    await said(other, 'Revision 2, saved');

    // a second version, with one node more
    await undoAll(page);
    await graph(page).focus();
    await choose(page, 'Warp_2', 'Blend_2', 'Projector_2');
    await press(page, 'f', 'g');
    await page.getByRole('button', { name: 'Apply' }).click();
    await settle(page, 400);
    await inspector(page).getByRole('button', { name: 'Publish …' }).click();
    await dialog.getByLabel('Title', { exact: true }).fill('Lantern helper');
    await dialog.getByLabel(/^Name/).fill('lantern_helper');
    await dialog.getByLabel('What is new in it').fill('With its projector');
    await dialog.getByLabel('Use it here in place of the nested graph').uncheck();
    await dialog.getByRole('button', { name: 'Publish version 2' }).click();
    await said(page, '“Lantern helper” is published, version 2');
    await undoAll(page);

    // the uses are updated from the catalogue, with what that does to each
    await page.goto(`${address()}/catalogue`);
    await page.getByRole('radio', { name: 'Shared kinds' }).click();
    const row = page.getByRole('article', { name: 'Lantern helper' });
    await row.getByText(/1 behind the newest/).waitFor();
    await row.getByRole('button', { name: 'Update the uses …' }).click();
    const run = page.getByRole('dialog');
    await run.getByText(/^Updated 1 node of shared kinds\./).waitFor();
    await run.getByRole('button', { name: 'Store 1 revision' }).click();
    await run.getByText('Revision 3 is stored.').waitFor();
    await run.getByRole('button', { name: 'Close', exact: true }).click();
    await row.getByText('Used in').waitFor();
    await expect.poll(() => row.getByText(/behind the newest/).count()).toBe(0);
  });
});

describe('the catalogue', () => {
  it('is read by all, changed by leads after a report of what that touches, and read with from then on', async () => {
    const { page: viewer } = await browser.sit('viewer');
    await viewer.goto(`${address()}/catalogue`);
    await viewer.getByText('You need the role lead to change it; your role is viewer.').waitFor();
    const { page } = await browser.sit('lead');
    await page.goto(`${address()}/catalogue`);
    await page.getByLabel('Find a kind').fill('Stack of');
    await page.getByRole('button', { name: /Stack of layers/ }).click();
    await page.getByRole('button', { name: 'Copy', exact: true }).click();
    await page.getByRole('heading', { name: 'Stack of layers, copy' }).waitFor();
    await page.getByLabel('Title', { exact: true }).fill('Stack of lanterns');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'parameter', exact: true }).click();
    await page.getByRole('button', { name: 'Review the change' }).click();
    const dialog = page.getByRole('dialog', { name: 'What the change affects' });
    await dialog.getByText('The kind “Stack of lanterns” is new.').waitFor();
    await dialog.getByText('0 files use what is changed').waitFor();
    await dialog.getByRole('button', { name: 'Store as version 2' }).click();
    await page
      .getByRole('dialog', { name: 'Version 2 is stored' })
      .getByRole('button', { name: 'Close', exact: true })
      .click();
    await page.getByText('Lantern Reef kinds, version 2').waitFor();
    // a file goes on with its version until it is read with the new one
    await openFile(page, 'line-up');
    await inspector(page).getByRole('button', { name: 'Read with version 2' }).click();
    await said(page, 'The file is read with version 2 of');
    await expect.poll(() => inspector(page).getByRole('button', { name: 'Read with version 2' }).count()).toBe(0);
    await undoAll(page);
  });

  it('learns kinds from files, which are looked over in the draft before they are stored', async () => {
    const { page } = await browser.sit('lead');
    await page.goto(address());
    const buffer = Buffer.from(
      'digraph { a [tool=Sieve, mesh=3]; b [tool=Sieve, mesh=5]; c [tool=Basin]; a -> c; b -> c }',
    );
    await page.getByLabel('Choose graph files').setInputFiles([{ name: 'sieves.gv', mimeType: 'text/plain', buffer }]);
    await page.getByRole('dialog').getByRole('button', { name: 'Close' }).click();
    await page.goto(`${address()}/catalogue`);
    await page.getByRole('button', { name: 'Learn from files' }).click();
    const dialog = page.getByRole('dialog', { name: 'Learn kinds from files' });
    await dialog.getByLabel('Files').fill('sieves');
    await dialog.getByRole('button', { name: 'Look through the files' }).click();
    await dialog.getByText('3 imported nodes do not say what kind they are').waitFor();
    await dialog.getByLabel('Kind of imported nodes').selectOption('tool');
    await dialog.getByRole('button', { name: 'Look again' }).click();
    await dialog.getByRole('checkbox', { name: 'Take Basin' }).uncheck();
    await dialog.getByRole('button', { name: 'Sieve' }).click();
    await dialog.getByText(/Mesh: integer, set on 2 of 2 nodes, 3 to 5/).waitFor();
    await dialog.getByRole('button', { name: 'Add 1 kind to the draft' }).click();
    await page.getByLabel('Find a kind').fill('sieve');
    await page.getByRole('button', { name: /Sieve/ }).click();
    await page.getByText('set on 2 of 2 nodes').waitFor();
    await page.getByRole('button', { name: 'Review the change' }).click();
    const report = page.getByRole('dialog', { name: 'What the change affects' });
    await report.getByText('The kind “Sieve” is new.').waitFor();
    expect(await report.getByText('Basin').count()).toBe(0);
  });
});
