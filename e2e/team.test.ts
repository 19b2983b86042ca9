import { rules, usualRules } from '@basitax/core/rules/rules';
import { createTar } from 'nanotar';
import type { Page } from 'playwright';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApplication } from './testing/application.ts';
import { centreOf, dragBy, graph, nodeCalled, press, settle, useBrowser } from './testing/browser.ts';

// On a server of its own: what is done here is seen by all of a team.

const browser = useBrowser();
let application: Awaited<ReturnType<typeof startApplication>>;
beforeAll(async () => {
  application = await startApplication();
}, 240_000);
afterAll(() => application.stop());

const sit = async (login: string): Promise<Page> => (await browser.sit(login, '/files', application.address)).page;
const cards = (page: Page) => page.getByRole('list', { name: 'Files', exact: true }).locator('> li');
const titles = async (page: Page) =>
  (await cards(page).getByRole('link').allInnerTexts()).map((text) => text.split('\n')[0]);

describe('files on the shelf', () => {
  it('are found by project, folder, tag and word, and put in order; the address keeps what was asked for', async () => {
    const page = await sit('viewer');
    await cards(page).first().waitFor();
    await page.getByRole('button', { name: /^Reef and water/ }).click();
    await page.getByRole('button', { name: /^motion/ }).click();
    await expect.poll(() => titles(page)).toEqual(['Kelp growth', 'Plankton and shoal motion']);
    await page.getByRole('button', { name: /^All files/ }).click();
    await page.getByRole('button', { name: /^to tidy/ }).click();
    await page.getByLabel('Order').selectOption('readability');
    await expect.poll(() => cards(page).count()).toBe(4);
    expect((await titles(page))[0]).toBe('Kelp growth');
    await page.getByLabel('Find files').fill('reef night');
    await expect.poll(() => cards(page).count()).toBe(1);
    await page.reload();
    await cards(page).first().waitFor();
    expect([await cards(page).count(), await page.getByLabel('Find files').inputValue()]).toEqual([1, 'reef night']);
  });

  it('ask what the columns of a table are where that is not sure, and take a table of nodes along', async () => {
    const page = await sit('editor');
    await cards(page).first().waitFor();
    const csv = (name: string, text: string) => ({ name, mimeType: 'text/csv', buffer: Buffer.from(text) });
    const supplies = 'Studio;Shot;Since\nReef house;Lantern;2019\nDome crew;Lantern;2021\n';
    await page
      .getByLabel('Choose graph files')
      .setInputFiles([
        csv('supplies.csv', supplies),
        csv('supplies 2.csv', supplies),
        csv('who.csv', 'id,label\nDome crew,The dome crew\n'),
      ]);
    const dialog = page.getByRole('dialog', { name: 'What are the columns of “supplies.csv”?' });
    await dialog.getByText('2 edges between 3 nodes, each with 1 attribute.').waitFor();
    await dialog.getByLabel('What column 1 is, Studio').selectOption('target');
    await dialog.getByRole('alert').waitFor();
    await dialog.getByLabel('What column 2 is, Shot').selectOption('source');
    await dialog.getByLabel('Its nodes are in').selectOption('who.csv');
    await dialog.getByRole('button', { name: 'Import the table' }).click();
    const report = page.getByRole('dialog', { name: '2 of 3 files are in' });
    await report.getByText('who.csv, read with supplies.csv').waitFor();
    await report.getByText('from supplies 2.csv, 3 nodes').waitFor();
    await report.getByRole('link', { name: 'supplies', exact: true }).click();
    await nodeCalled(page, 'The dome crew').waitFor();
    expect(await nodeCalled(page, 'Lantern').count()).toBe(1);
  });

  it('are imported many at once, one that cannot be read keeps no other out; moved, tagged, thrown away together and restored', async () => {
    const page = await sit('editor');
    await cards(page).first().waitFor();
    const before = await cards(page).count();
    const graphml = (id: string): Buffer =>
      Buffer.from(
        `<graphml><graph id="${id}"><node id="a"/><node id="b"/><edge source="a" target="b"/></graph></graphml>`,
      );
    await page.getByLabel('Choose graph files').setInputFiles([
      ...['one', 'two', 'three'].map((name) => ({
        name: `${name}.graphml`,
        mimeType: 'application/xml',
        buffer: graphml(name),
      })),
      { name: 'broken.graphml', mimeType: 'application/xml', buffer: Buffer.from('<graphml>') },
    ]);
    const report = page.getByRole('dialog', { name: '3 of 4 files are in' });
    await report.getByText(/broken\.graphml: .*not well-formed XML/).waitFor();
    await report.getByRole('button', { name: 'Close' }).click();
    await expect.poll(() => cards(page).count()).toBe(before + 3);
    await page.getByLabel('Find files').fill('three');
    await expect.poll(() => cards(page).count()).toBe(1);
    await page.getByRole('button', { name: 'Select all' }).click();
    const toolbar = page.getByRole('toolbar', { name: 'What can be done with the selected files' });
    await toolbar.getByRole('button', { name: 'Move …' }).click();
    await page
      .getByRole('dialog')
      .getByRole('combobox', { name: /^Project/ })
      .selectOption({ label: 'Reef and water' });
    await page
      .getByRole('dialog')
      .getByLabel(/^Folder/)
      .fill('shading/new');
    await page.getByRole('dialog').getByRole('button', { name: 'Move', exact: true }).click();
    await page.getByText('Reef and water / shading/new').waitFor();
    await page.getByRole('button', { name: 'What can be done with three' }).click();
    await page.getByRole('menuitem', { name: 'Tags …' }).click();
    await page.getByRole('dialog').getByLabel('Tags').fill('from outside, new');
    await page.getByRole('button', { name: 'Set tags' }).click();
    await page.getByRole('button', { name: /^from outside 1/ }).waitFor();
    await page.getByRole('checkbox', { name: 'Select three' }).check();
    await toolbar.getByRole('button', { name: 'Put into the trash' }).click();
    await page.getByRole('dialog').getByRole('button', { name: 'Put into the trash' }).click();
    await page.getByText('No file fits.').waitFor();
    await page.getByRole('button', { name: 'Trash', exact: true }).click();
    await page.getByRole('button', { name: 'Restore three' }).click();
    await page.getByText('“three” is back where it was.').waitFor();
    await page.getByText('The trash is empty.').waitFor();
    await page
      .getByRole('button', { name: /^new 1/ })
      .last()
      .click();
    await expect.poll(() => titles(page)).toEqual(['three']);
  });

  it('come out of an archive with their folders, and get a new revision when it comes again', async () => {
    const page = await sit('editor');
    await cards(page).first().waitFor();
    const before = await cards(page).count();
    const shots = (more: string) => ({
      name: 'shots.tar',
      mimeType: 'application/x-tar',
      buffer: Buffer.from(
        createTar([
          { name: 'act 1/ebb.gv', data: `digraph ebb { a -> b; ${more} }` },
          { name: 'act 1/flood.gv', data: 'digraph flood { a -> b -> c }' },
          { name: 'notes.txt', data: 'tide tables' },
        ]),
      ),
    });
    await page.getByLabel('Choose graph files').setInputFiles([shots('')]);
    const report = page.getByRole('dialog', { name: '2 of 2 files are in' });
    await report.getByText('1 file of other kinds was left out').waitFor();
    await report.getByRole('button', { name: 'Close' }).click();
    await expect.poll(() => cards(page).count()).toBe(before + 2);
    await page.getByRole('button', { name: /^act 1/ }).waitFor();
    await page.getByLabel('Choose graph files').setInputFiles([shots('b -> d')]);
    await report.getByText('1 file came again and got a new revision. 1 file was here already, unchanged.').waitFor();
    await report.getByText(/from shots\/act 1\/ebb\.gv, 3 nodes, revision 2/).waitFor();
    await report.getByRole('button', { name: 'Close' }).click();
    expect(await cards(page).count()).toBe(before + 2);
  });
});

describe('projects', () => {
  it('are made for some, which the others do not see, opened to all, and removed when nothing lies there', async () => {
    const lead = await sit('lead');
    const projects = (page: Page) => page.getByRole('region', { name: 'Projects' });
    await lead.getByRole('button', { name: 'Make a project' }).click();
    const dialog = lead.getByRole('dialog');
    await dialog.getByLabel('Name').fill('Reef and water');
    await dialog.getByRole('button', { name: 'Make', exact: true }).click();
    await dialog.getByRole('alert').waitFor();
    await dialog.getByLabel('Name').fill('Surprise for the premiere');
    await dialog.getByLabel('What it is about').fill('Nobody is to know');
    await dialog.getByLabel('Open to the whole team').uncheck();
    await dialog.getByLabel(/^Lighting artist/).check();
    await dialog.getByRole('button', { name: 'Make', exact: true }).click();
    await dialog.waitFor({ state: 'hidden' });
    await projects(lead)
      .getByRole('button', { name: /^Surprise for the premiere/ })
      .waitFor();

    const [member, stranger] = [await sit('editor'), await sit('viewer')];
    await projects(member)
      .getByRole('button', { name: /^Surprise for the premiere/ })
      .waitFor();
    await cards(stranger).first().waitFor();
    expect(await projects(stranger).getByText('Surprise for the premiere').count()).toBe(0);

    await lead.getByRole('button', { name: 'Set up Surprise for the premiere' }).click();
    await dialog.getByLabel('Name').fill('Premiere');
    await dialog.getByLabel('Open to the whole team').check();
    await dialog.getByRole('button', { name: 'Set up', exact: true }).click();
    await dialog.waitFor({ state: 'hidden' });
    await stranger.reload();
    await projects(stranger)
      .getByRole('button', { name: /^Premiere/ })
      .waitFor();

    await lead.getByRole('button', { name: 'Set up Reef and water' }).click();
    expect(await dialog.getByRole('button', { name: 'Remove' }).getAttribute('aria-disabled')).toBe('true');
    await lead.keyboard.press('Escape');
    await lead.getByRole('button', { name: 'Set up Premiere' }).click();
    await dialog.getByRole('button', { name: 'Remove' }).click();
    await dialog.waitFor({ state: 'hidden' });
    await expect
      .poll(() =>
        projects(lead)
          .getByRole('button', { name: /^Premiere/ })
          .count(),
      )
      .toBe(0);
  });
});

describe('house rules', () => {
  it('are set for a project, broken by a change, refused on save, and mended by a fix that is shown first', async () => {
    const lead = await sit('lead');
    await lead.goto(`${application.address}/rules?project=dome`);
    await lead.getByLabel('Severity: Overlap', { exact: true }).selectOption('error');
    await lead.getByLabel('What saving does').selectOption('refuse');
    await lead.getByLabel('Severity: Name in another style').selectOption('warning');
    await lead.getByRole('button', { name: 'Save', exact: true }).click();
    await lead.getByText('The rules of “Dome and projection” are set.').waitFor();
    await lead.getByText(`${usualRules.length + 1} rules of ${rules.length} checked`).waitFor();

    const page = await sit('editor');
    await page.goto(`${application.address}/files/dome-blend`);
    await graph(page).waitFor();
    await settle(page);
    const [tilt, grade] = [await centreOf(page, 'ReefTilt'), await centreOf(page, 'HouseGrade')];
    await dragBy(page, tilt, grade.x - tilt.x + 4, grade.y - tilt.y + 6);
    await page.getByText('Unsaved changes', { exact: true }).waitFor();
    await page.keyboard.press('Control+s');
    const dialog = page.getByRole('dialog', { name: 'Save a revision' });
    await dialog
      .getByText('House rules: 1 new error. This project refuses to save that: mend them, or undo what brought them.')
      .waitFor();
    await dialog
      .getByText(/“ReefTilt” and “HouseGrade” lie on one another|“HouseGrade” and “ReefTilt” lie on one another/)
      .waitFor();
    expect(await dialog.getByRole('button', { name: 'Save', exact: true }).getAttribute('aria-disabled')).toBe('true');
    await page.keyboard.press('Escape');
    await dialog.waitFor({ state: 'hidden' });

    await graph(page).focus();
    await press(page, 'q', 'l');
    await page.getByRole('radio', { name: 'All rules' }).click();
    const overlap = page.getByRole('list', { name: 'Overlap' });
    await overlap.getByLabel('error').waitFor();
    await overlap.getByRole('button', { name: /^Fix: / }).click();
    await page.getByRole('button', { name: 'Apply (Enter)' }).click();
    await overlap.waitFor({ state: 'hidden' });
    const named = page.getByRole('button', { name: 'Fix all of Default name' });
    if (await named.isVisible()) {
      await named.click();
      await page
        .getByRole('region', { name: 'Preview' })
        .getByText(/fix(es)? done/)
        .waitFor();
      await page.keyboard.press('Escape');
    }
    await page.keyboard.press('Control+s');
    await dialog.getByText('House rules: no new errors.').waitFor();
    await dialog.getByLabel('What was done, and why').fill('Tilt beside the grade');
    await dialog.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Saved as revision 2.').waitFor();
  });

  it('are taken from a file as the command line has them, and one that fits nothing is said', async () => {
    const page = await sit('lead');
    await page.goto(`${application.address}/rules?project=reef`);
    const file = (name: string, content: string) => ({
      name,
      mimeType: 'application/json',
      buffer: Buffer.from(content),
    });
    const take = (name: string, content: string) =>
      page.getByLabel('Choose a file of rules').setInputFiles(file(name, content));
    await take('broken.json', '{"rules":');
    await page.getByText('broken.json holds no rules').waitFor();
    await page.getByText(/this is not valid JSON: /).waitFor();
    await take('odd.json', '{"rules":{"overlap":{"severity":"grave"}}}');
    await page.getByText(/^this is not a profile of house rules: rules\.overlap\.severity: /).waitFor();
    await take('none.json', '{"rules":{"no-such-rule":{}}}');
    await page.getByText(/^There is no house rule “no-such-rule”/).waitFor();
    await take(
      'strict.json',
      JSON.stringify({ title: 'Strict', others: 'off', rules: { overlap: { severity: 'error' }, 'long-wires': {} } }),
    );
    await page.getByText('The rules of strict.json are here; save them to set them.').waitFor();
    await page.getByText(`2 rules of ${rules.length} checked`).waitFor();
    expect(await page.getByLabel('Severity: Overlap', { exact: true }).inputValue()).toBe('error');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('The rules of “Reef and water” are set.').waitFor();
    await page.reload();
    await page.getByText(`2 rules of ${rules.length} checked`).waitFor();
    const [saved] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'As a file' }).click(),
    ]);
    expect(saved.suggestedFilename()).toBe('Reef and water.rules.json');
  });

  it('have a page each that says why', async () => {
    const page = await sit('viewer');
    await page.goto(`${application.address}/rules`);
    await page.getByRole('link', { name: 'Long wires' }).click();
    await page.getByText('A wire whose ends do not fit in one window is hard to follow.').waitFor();
    await page.getByText('Turn it into a remote link with a clear name, or move its ends closer together.').waitFor();
  });
});

describe('the team', () => {
  it('grows by an invitation, gives another role at once, ends sessions, and has it all on record', async () => {
    const lead = await sit('lead');
    await lead.goto(`${application.address}/team`);
    await lead.getByRole('button', { name: 'Invite somebody' }).click();
    await lead.getByLabel('Name, as shown with revisions').fill('Sound artist');
    await lead.getByLabel('Role').selectOption('viewer');
    await lead.getByRole('button', { name: 'Make the link' }).click();
    const link = await lead.getByRole('dialog').locator('code').innerText();
    await lead.getByRole('button', { name: 'Done' }).click();

    const { page } = await browser.sit();
    await page.goto(link);
    await page.getByLabel(/^Login/).fill('sound');
    await page.getByLabel(/^Password/).fill('kelp and lanterns');
    await page.getByRole('button', { name: 'Join the team' }).click();
    await page.waitForURL('**/files');
    await page.getByRole('button', { name: 'Account and theme' }).waitFor();
    expect(await page.getByRole('button', { name: 'Import graphs' }).getAttribute('aria-disabled')).toBe('true');

    await lead.reload();
    await lead.getByRole('button', { name: 'Change Sound artist' }).click();
    await lead.getByRole('dialog').getByLabel('Role').selectOption('editor');
    await lead.getByRole('dialog').getByRole('button', { name: 'Change', exact: true }).click();
    await lead.getByRole('row', { name: /Sound artist sound editor/ }).waitFor();
    await page.reload();
    await expect
      .poll(() => page.getByRole('button', { name: 'Import graphs' }).getAttribute('aria-disabled'))
      .toBeNull();

    await lead.getByRole('radio', { name: 'Sessions' }).click();
    await lead.getByLabel('Of the whole team').check();
    await lead.getByRole('button', { name: /^End the session of Sound artist/ }).click();
    await lead.getByText('A session of Sound artist has ended.').waitFor();
    await page.reload();
    await page.getByLabel('Login').waitFor();

    await lead.getByRole('radio', { name: 'Record' }).click();
    await lead.getByRole('row', { name: /Lead TD Ends a session Sound artist/ }).waitFor();
    await lead
      .getByRole('row', { name: /Lead TD Changes a person’s name or role Sound artist.*viewer to editor/ })
      .waitFor();
  });

  it('sees the health of its files, and what made one worse', async () => {
    const page = await sit('viewer');
    await page.getByRole('link', { name: 'Health' }).click();
    await page.getByRole('region', { name: 'Worst files' }).getByRole('link', { name: 'Kelp growth' }).waitFor();
    await page.getByRole('button', { name: 'Lantern light rig over time' }).click();
    await page
      .getByRole('row', { name: /Narration triggers/ })
      .first()
      .waitFor({ state: 'hidden' });
    await page.getByRole('link', { name: '2, “Room for the new cues”' }).click();
    await page.getByText(/This is revision 2, an old one/).waitFor();
  });
});
