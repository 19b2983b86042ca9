import { readFileSync } from 'node:fs';
import { parseDoc } from '@basitax/core/document/file';
import { csvFormatRows, csvParse, csvParseRows } from 'd3-dsv';
import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import { graph, nodeCalled, openOwn, press, selectionOf, settle, useBrowser } from './testing/browser.ts';
import { choose, openDome, said, undoAll } from './testing/wiring.ts';

const browser = useBrowser();

/** The panel of scripts, opened by its keys. */
async function scriptPanel(page: Page) {
  await graph(page).focus();
  await press(page, 'b', 'c');
  const panel = page.getByRole('complementary', { name: 'Script', exact: true });
  await panel.getByRole('textbox', { name: 'Script' }).waitFor();
  return panel;
}

describe('G1: a script', () => {
  it('is written with help, runs dry over the selection in its order, shows each change and each node passed over, is applied and undone', async () => {
    const page = await openDome((await browser.sit('editor')).page);
    await choose(page, 'HouseGrade', 'ReefTilt', 'Dome master 4K');
    const panel = await scriptPanel(page);
    const code = panel.getByRole('textbox', { name: 'Script' });
    // completion from the types of the API, taken with Enter
    await code.fill('nodes[0].lab');
    await press(page, 'Control+Space');
    await page.locator('.cm-tooltip-autocomplete').getByRole('option', { name: 'label' }).waitFor();
    // keys that come before the list can have been read go to the text
    await settle(page, 200);
    await press(page, 'Enter');
    await expect.poll(() => code.textContent()).toContain('nodes[0].label');
    await code.fill(
      [
        "const { text } = options({ text: { type: 'text', default: 'step', title: 'Word' } });",
        'nodes.forEach((node: ScriptNode, i: number) => {',
        "  node.label = text + ' ' + (i + 1);",
        "  node.set('exposure', 0.5);",
        '});',
        'log(nodes.map((node) => node.name).join());',
      ].join('\n'),
    );
    await panel.getByLabel('Word', { exact: true }).fill('tier');
    await code.focus();
    await press(page, 'Control+Enter');
    await panel.getByText('It would make 4 changes, over 3 nodes').waitFor();
    const changes = await panel.getByRole('list', { name: 'Changes' }).getByRole('listitem').allTextContents();
    expect(changes).toHaveLength(4);
    expect(changes.join()).toMatch(/tier 1.*tier 3/s);
    await panel.getByRole('radio', { name: 'Skipped 2' }).click();
    expect(await panel.getByRole('list', { name: 'Skipped' }).textContent()).toContain(
      'has no parameter exposure; it was skipped',
    );
    await panel.getByRole('radio', { name: 'Console 1' }).click();
    expect(await panel.getByRole('list', { name: 'Console' }).textContent()).toBe('HouseGrade,ReefTilt,DomeMaster');
    // on the canvas it is there already, though nothing is done
    await nodeCalled(page, 'tier 2').waitFor();
    await said(page, 'Revision 1, saved');
    await page.getByRole('button', { name: 'Apply (Enter)' }).click();
    await said(page, 'Unsaved changes');
    await nodeCalled(page, 'tier 3').waitFor();
    expect(await selectionOf(page)).toHaveLength(3);
    // one step takes all of it back
    await graph(page).focus();
    await press(page, 'Control+z');
    await nodeCalled(page, 'Dome master 4K').waitFor();
    await said(page, 'Revision 1, saved');
  });

  it('says where it fails, marks the line and names the node; nothing is changed', async () => {
    const page = await openDome((await browser.sit('editor')).page);
    const panel = await scriptPanel(page);
    const code = panel.getByRole('textbox', { name: 'Script' });
    await panel.getByRole('radio', { name: 'All' }).click();
    await code.fill("for (const node of nodes) {\n  node.set('exposure', 0.2, { must: true });\n}");
    await panel.getByRole('button', { name: 'Dry run' }).click();
    await panel.getByText(/Line 2:.*has no parameter exposure\. .*Nothing was changed\./).waitFor();
    await panel.locator('.cm-lintRange-error').first().waitFor();
    await code.fill('while (true) {}');
    await panel.getByRole('button', { name: 'Dry run' }).click();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await panel.getByText('Cancelled; nothing was changed.').waitFor();
    // what cannot be right is told while one writes, each with its line, and is not run
    await code.fill("nodes[0].lable = 'x';\nnodes.set('expsure', 1);");
    const mistakes = panel.getByRole('list', { name: 'Mistakes in the script' });
    await mistakes.getByText('A node has no “lable”. Did you mean “label”?').waitFor();
    await mistakes.getByText('There is no parameter “expsure”. Did you mean “exposure”?').waitFor();
    await panel.getByRole('button', { name: 'Dry run' }).click();
    await panel.getByText('Not run: 2 mistakes in the script, the first in line 1.').waitFor();
    // a marked line alone is run; what it touched and said is there to be opened
    await code.fill("graph.node('HouseGrade').label = 'one';\nlog(graph.node('ReefTilt'), [1, [2]]);\nnodes.remove();");
    await press(page, 'Control+Home', 'Shift+ArrowDown', 'Shift+ArrowDown', 'Shift+ArrowLeft', 'Control+Enter');
    await panel.getByText('by lines 1 to 2 alone').waitFor();
    await panel.locator('.cm-touched button').getByText('1', { exact: true }).waitFor();
    await panel.getByRole('button', { name: 'Line 1: 1 thing' }).click();
    expect(await selectionOf(page)).toHaveLength(1);
    await panel.getByRole('radio', { name: 'Console 1' }).click();
    await panel.getByText('list of 2').click();
    await panel.getByText('list of 1').waitFor();
    await said(page, 'Revision 1, saved');
  });
});

describe('G2: the library', () => {
  it('is run from a form by whoever may, and reports as a file', async () => {
    const { page } = await browser.sit('viewer');
    await page.goto(`${process.env.E2E_ADDRESS}/files/title-cards`);
    const panel = await scriptPanel(page);
    await panel.getByRole('button', { name: 'Choose a script' }).click();
    await page.getByRole('menuitem', { name: 'Report as CSV' }).click();
    await panel.getByRole('radio', { name: 'Query' }).click();
    await panel.getByLabel('Query', { exact: true }).last().fill('kind:tint');
    await panel.getByText('18 nodes').waitFor();
    await panel.getByRole('button', { name: 'Dry run' }).click();
    const download = page.waitForEvent('download');
    await panel.getByRole('button', { name: 'Download' }).click();
    const rows = csvParse(readFileSync(await (await download).path(), 'utf8'));
    expect(rows).toHaveLength(18);
    expect(rows.every((row) => row.kind === 'Tint by depth')).toBe(true);
    // a viewer keeps nothing
    expect(await panel.getByRole('button', { name: 'Keep …' }).getAttribute('aria-disabled')).toBe('true');
  });

  it('takes a script with its options, in versions, and gives it to others as a form', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'title-cards');
    const panel = await scriptPanel(page);
    const title = `Push right ${Date.now()}`;
    await panel
      .getByRole('textbox', { name: 'Script' })
      .fill(
        "const { by } = options({ by: { type: 'number', default: 50, title: 'By', unit: 'px', min: 1 } });\nfor (const node of nodes) node.x += by;",
      );
    await panel.getByRole('button', { name: 'Keep …' }).click();
    const dialog = page.getByRole('dialog', { name: 'Keep in the library' });
    await dialog.getByLabel('Title').fill(title);
    await dialog.getByRole('button', { name: 'Keep as a new script' }).click();
    await said(page, `“${title}” is in the library, version 1.`);
    // a second version; the first can be taken again, and is gone back from
    await panel
      .getByRole('textbox', { name: 'Script' })
      .fill(
        "const { by } = options({ by: { type: 'number', default: 60, title: 'By', unit: 'px', min: 1 } });\nfor (const node of nodes) node.x += by;",
      );
    await panel.getByRole('button', { name: 'Keep changes …' }).click();
    await dialog.getByLabel('What is new').fill('further');
    await dialog.getByRole('button', { name: 'Keep as version 2' }).click();
    await said(page, `“${title}” is in the library, version 2.`);
    await panel.getByRole('button', { name: 'Version 2' }).click();
    await page.getByRole('menuitem', { name: /^Version 1/ }).click();
    await expect.poll(() => panel.getByRole('spinbutton', { name: 'By' }).inputValue()).toBe('50');

    const other = (await browser.sit('lead')).page;
    await openOwn(other, 'title-cards');
    const own = await scriptPanel(other);
    await own.getByRole('button', { name: 'Choose a script' }).click();
    await other.getByRole('menuitem', { name: title }).click();
    await own.getByRole('button', { name: 'Show the code' }).waitFor();
    expect(await own.getByRole('textbox', { name: 'Script' }).count()).toBe(0);
    await own.getByRole('spinbutton', { name: 'By' }).fill('120');
    await own.getByRole('radio', { name: 'All' }).click();
    const before = parseDoc(
      await other.evaluate(async () =>
        (await fetch(`/api/files/${location.pathname.split('/')[2]}/revisions/head`)).text(),
      ),
    ).doc;
    await own.getByRole('button', { name: 'Dry run' }).click();
    await own.getByText(`It would make ${before.nodes.size} changes`).waitFor();
    expect(await own.getByRole('list', { name: 'Changes' }).getByRole('listitem').first().textContent()).toContain(
      'moved by 120, 0 px',
    );
    await other.getByRole('button', { name: 'Apply (Enter)' }).click();
    await said(other, 'Unsaved changes');
    await undoAll(other);
  });
});

describe('G4: a table', () => {
  it('goes out with chosen parameters, and comes back as a change that is shown first, with each bad row by its line', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'title-cards');
    await graph(page).focus();
    await press(page, 'b', 'o');
    const dialog = page.getByRole('dialog', { name: 'Table out' });
    await dialog.getByRole('radio', { name: 'Query' }).click();
    await dialog.getByRole('textbox', { name: 'Query' }).fill('kind:tint');
    await dialog.getByRole('checkbox', { name: /^strength/ }).check();
    await dialog.getByRole('radio', { name: 'CSV' }).click();
    const download = page.waitForEvent('download');
    await dialog.getByRole('button', { name: 'Download 18 rows' }).click();
    const text = readFileSync(await (await download).path(), 'utf8');
    const rows = csvParseRows(text);
    expect(rows[0]).toEqual(['id', 'path', 'kind', 'label', 'strength']);
    expect(rows).toHaveLength(19);
    // a dialog that closes gives the keys back to where they were before: a key pressed until then would be lost
    await dialog.waitFor({ state: 'hidden' });
    const changed = rows.map((row, i) =>
      i === 1 ? [...row.slice(0, 4), '0.35'] : i === 2 ? [...row.slice(0, 4), 'much'] : row,
    );
    await graph(page).focus();
    const chooser = page.waitForEvent('filechooser');
    // the browser is told to hand the chooser over while this waits: a key pressed at once can be faster
    await settle(page);
    await press(page, 'b', 'i');
    await (await chooser).setFiles({
      name: 'edited.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(csvFormatRows(changed)),
    });
    await said(page, 'edited.csv: 18 rows, 1 change.');
    await page.getByText(/Line 3: .*not "much"/).waitFor();
    await page.getByRole('button', { name: 'Apply (Enter)' }).click();
    await said(page, 'Unsaved changes');
    await undoAll(page);
  });
});
