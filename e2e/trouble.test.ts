import { describe, expect, it } from 'vitest';
import { address, nodeCalled, openFile, selectionOf, settle, useBrowser } from './testing/browser.ts';

const browser = useBrowser();

describe('when things go wrong, and at night', () => {
  it('says so when the server does not answer, and goes on when it does again', async () => {
    const { page } = await browser.sit('editor', '/files');
    await page.route('**/api/files', (route) => route.abort());
    await page.reload();
    await page.getByText(/The server does not answer/).waitFor({ timeout: 30_000 });
    await page.unroute('**/api/files');
    await page.getByRole('button', { name: 'Try again' }).click();
    await page.getByRole('link', { name: /^Dome blend/ }).waitFor();
    await page.goto(`${address()}/files/not-there`);
    await page.getByText('There is no file “not-there”; it may have been removed.').waitFor();
    await page.getByRole('link', { name: 'Go to the files' }).click();
    await page.waitForURL('**/files');
  });

  it('keeps what was done when a save fails', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await nodeCalled(page, 'Warp_4').click();
    await page.keyboard.press('ArrowRight');
    await page.getByText('Unsaved changes').waitFor();
    await page.route('**/revisions', (route) =>
      route.request().method() === 'POST' ? route.abort() : route.continue(),
    );
    await page.keyboard.press('Control+s');
    await page.getByLabel('What was done, and why').fill('Move a warp');
    await page.keyboard.press('Enter');
    await page.getByText(/The server does not answer/).waitFor();
    await page.unroute('**/revisions');
    await page.keyboard.press('Enter');
    await page.getByText(/Saved as revision/).waitFor();
  });

  it('warns before changes are lost with the tab', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await nodeCalled(page, 'Warp_4').click();
    await page.keyboard.press('ArrowDown');
    await page.getByText('Unsaved changes').waitFor();
    const asked = new Promise<string>((done) =>
      page.on('dialog', (dialog) => void dialog.accept().then(() => done(dialog.type()))),
    );
    await page.reload();
    expect(await asked).toBe('beforeunload');
  });

  it('follows the system’s theme unless one is chosen, and remembers the choice', async () => {
    const { page } = await browser.sit('editor', '/files');
    const theme = () => page.evaluate(() => document.documentElement.dataset.theme);
    await expect.poll(theme).toBe('paper');
    await page.emulateMedia({ colorScheme: 'dark' });
    await expect.poll(theme).toBe('night');
    await page.getByRole('button', { name: 'Account and theme' }).click();
    await page.getByRole('menuitemradio', { name: 'Paper' }).click();
    await expect.poll(theme).toBe('paper');
    await page.reload();
    await page.getByRole('link', { name: /^Dome blend/ }).waitFor();
    await expect.poll(theme).toBe('paper');
    const image = await page
      .getByRole('link', { name: /^Dome blend/ })
      .locator('img')
      .getAttribute('src');
    expect(image).toContain('theme=paper');
  });

  it('does everything with the keyboard alone: from the sign-in to a saved revision', async () => {
    const { page } = await browser.sit();
    await page.goto(`${address()}/sign-in`);
    // the form takes the focus by itself once it is there
    await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('name'))).toBe('login');
    await page.keyboard.type('editor');
    await page.keyboard.press('Tab');
    await page.keyboard.type('lantern-reef');
    await page.keyboard.press('Enter');
    await page.getByRole('link', { name: /^Dome blend/ }).focus();
    await page.keyboard.press('Enter');
    await page.getByRole('region', { name: 'Graph' }).waitFor();
    await settle(page);
    await page.getByRole('region', { name: 'Graph' }).focus();
    await page.keyboard.press('Tab');
    const first = await page.evaluate(() => document.activeElement?.getAttribute('data-node'));
    expect(first).toBeTruthy();
    await page.keyboard.press('Space');
    await page.keyboard.press('Tab');
    await page.keyboard.press('Shift+Space');
    expect(await selectionOf(page)).toHaveLength(2);
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Control+k');
    await page.keyboard.type('align top');
    await page.keyboard.press('Enter');
    await page.getByText('Aligned 2 nodes.').waitFor();
    await page.keyboard.press('Control+s');
    await page.keyboard.type('By keys alone');
    await page.keyboard.press('Enter');
    await page.getByText(/Saved as revision/).waitFor();
  });

  it('takes a file that is dropped on the page, and gives the catalogue for the command line', async () => {
    const { page } = await browser.sit('editor', '/files');
    await page.getByRole('link', { name: /^Dome blend/ }).waitFor();
    const data = await page.evaluateHandle(() => {
      const transfer = new DataTransfer();
      transfer.items.add(
        new File(
          ['<graphml><graph id="g"><node id="a"/><node id="b"/><edge source="a" target="b"/></graph></graphml>'],
          'dropped.graphml',
        ),
      );
      return transfer;
    });
    await page.locator('main').dispatchEvent('drop', { dataTransfer: data });
    await page.getByText('“dropped” is in').waitFor();
    await page.getByRole('link', { name: 'Open it' }).click();
    await page.getByRole('group', { name: /^a,/ }).waitFor();
    // what we write is XML to the browser's own parser too
    const errors = await page.evaluate(async () => {
      const id = location.pathname.split('/').pop();
      const text = await (await fetch(`/api/files/${id}/revisions/head/export?format=graphml`)).text();
      const xml = new DOMParser().parseFromString(text, 'application/xml');
      return [
        xml.querySelectorAll('parsererror').length,
        xml.querySelectorAll('node').length,
        xml.querySelectorAll('edge').length,
      ];
    });
    expect(errors).toEqual([0, 2, 1]);
  });
});
