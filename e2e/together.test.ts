import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import { idOf, nodeCalled, openFile, openOwn, settle, useBrowser } from './testing/browser.ts';

const browser = useBrowser();

/** Gives a node a label, as a change that is not saved. */
async function label(page: Page, name: string, text: string): Promise<void> {
  await nodeCalled(page, name).click({ position: { x: 30, y: 8 } });
  await page.getByLabel('Label', { exact: true }).fill(text);
  await page.keyboard.press('Enter');
  await page.getByText('Unsaved changes', { exact: true }).waitFor();
}

async function startSave(page: Page, message: string): Promise<void> {
  await page.keyboard.press('Control+s');
  await page.getByLabel('What was done, and why').fill(message);
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
}

const fileOf = (page: Page): string => new URL(page.url()).pathname.split('/').pop()!;

const labelsOf = (page: Page): Promise<readonly (string | undefined)[]> =>
  page.evaluate(
    async (file) =>
      ((await (await fetch(`/api/files/${file}/revisions/head`)).json()).nodes as { label?: string }[]).map(
        (node) => node.label,
      ),
    fileOf(page),
  );

describe('two people in one file', () => {
  it('see each other, save over one another, and decide side by side where both touched the same', async () => {
    const [one, two] = [await browser.sit('editor'), await browser.sit('lead')];
    await openOwn(one.page, 'dome-blend');
    await openFile(two.page, fileOf(one.page));
    // who is there, and where
    await one.page.getByRole('button', { name: 'Lead TD, in the outermost graph: go there' }).waitFor();
    await label(one.page, 'HouseGrade', 'House look');
    await two.page
      .getByRole('button', { name: 'Lighting artist, in the outermost graph, with unsaved changes: go there' })
      .click();
    await label(two.page, 'ReefTilt', 'Seat tilt');
    // different things: both stand, and nobody is asked
    await startSave(one.page, 'Label the grade');
    await one.page.getByText('Saved as revision 2.').waitFor();
    await two.page.getByText(/Lighting artist has saved revision 2: “Label the grade”/).waitFor();
    await startSave(two.page, 'Label the tilt');
    await two.page
      .getByText('Saved as revision 3 on top of revision 2 by Lighting artist: “Label the grade”.')
      .waitFor();
    // whoever has nothing of their own sees the newest by themselves
    await one.page.getByText('Revision 3, saved').waitFor();
    await nodeCalled(one.page, 'Seat tilt').waitFor();
    expect(await labelsOf(one.page)).toEqual(expect.arrayContaining(['House look', 'Seat tilt']));
    // the same thing: side by side
    await label(one.page, 'Seat tilt', 'Tilt of the seats');
    await label(two.page, 'Seat tilt', 'Tilt by the architect');
    await startSave(one.page, 'By the seats');
    await one.page.getByText('Saved as revision 4.').waitFor();
    await startSave(two.page, 'By the drawings');
    const dialog = two.page.getByRole('dialog', { name: '1 change of yours meets theirs' });
    await dialog.getByRole('row', { name: 'label Seat tilt Tilt by the architect Tilt of the seats' }).waitFor();
    await dialog.getByText('1 choice to make').waitFor();
    await dialog.getByRole('radio', { name: /^Mine/ }).check();
    await dialog.getByRole('button', { name: 'Save with these choices' }).click();
    await two.page.getByText('Saved as revision 5.').waitFor();
    expect(await labelsOf(two.page)).toEqual(expect.arrayContaining(['House look', 'Tilt by the architect']));
  });

  it('one of them may leave theirs, and takes a newer revision in while working', async () => {
    const [one, two] = [await browser.sit('editor'), await browser.sit('lead')];
    await openOwn(one.page, 'dome-blend');
    await openFile(two.page, fileOf(one.page));
    await label(two.page, 'ReefTilt', 'Mine');
    await label(one.page, 'ReefTilt', 'Theirs');
    await startSave(one.page, 'Label the tilt');
    await two.page.getByRole('button', { name: 'Take it in now' }).click();
    const dialog = two.page.getByRole('dialog', { name: '1 change of yours meets theirs' });
    await dialog.getByRole('button', { name: 'Theirs everywhere' }).click();
    await dialog.getByRole('button', { name: 'Keep editing with these choices' }).click();
    await dialog.waitFor({ state: 'hidden' });
    await two.page.getByText('Revision 2, saved').waitFor();
    await nodeCalled(two.page, 'Theirs').waitFor();
  });
});

describe('what is not saved', () => {
  it('is there again after the tab was closed, and comes over what others saved since', async () => {
    const { page, context } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    const file = fileOf(page);
    await label(page, 'HouseGrade', 'Not saved yet');
    await settle(page, 600);
    await page.close({ runBeforeUnload: false });
    const other = await browser.sit('lead');
    await openFile(other.page, file);
    await label(other.page, 'ReefTilt', 'Saved since');
    await startSave(other.page, 'Label the tilt');
    await other.page.getByText('Saved as revision 2.').waitFor();
    const again = await context.newPage();
    await openFile(again, file);
    await again.getByText(/You left 1 unsaved change here .* \(.*\), made on revision 1\./).waitFor();
    await again.getByRole('button', { name: 'Restore them' }).click();
    await nodeCalled(again, 'Not saved yet').waitFor();
    await nodeCalled(again, 'Saved since').waitFor();
    await startSave(again, 'Taken up');
    await again.getByText('Saved as revision 3.').waitFor();
    await settle(again, 600);
    // what was saved is not offered again
    await again.reload();
    await nodeCalled(again, 'Not saved yet').waitFor();
    await settle(again, 900);
    expect(await again.getByText(/You left/).count()).toBe(0);
  });

  it('is kept while the network is away, can be thrown away, and is not offered to another tab that has it open', async () => {
    const { page, context } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    // the worker that a save asks comes soon after the file
    await expect.poll(() => page.workers().some((one) => /plan\.worker/.test(one.url()))).toBe(true);
    await page.waitForLoadState('networkidle');
    await context.setOffline(true);
    await label(page, 'HouseGrade', 'On the train');
    await startSave(page, 'Without a network');
    await page
      .getByText('The server does not answer. Check that it runs and that you are connected, and try again.')
      .waitFor();
    await page.keyboard.press('Escape');
    await page
      .getByText(
        'The server does not answer. You can keep working: your changes are kept in this browser until they can be saved.',
      )
      .waitFor();
    await context.setOffline(false);
    await page.getByText('The server does not answer. You can keep working').waitFor({ state: 'hidden' });
    const beside = await context.newPage();
    await openFile(beside, fileOf(page));
    await settle(beside, 900);
    expect(await beside.getByText(/You left/).count()).toBe(0);
    await beside.close();
    await page.close({ runBeforeUnload: false });
    const again = await context.newPage();
    await openFile(again, fileOf(beside));
    await again.getByRole('button', { name: 'Discard them' }).click();
    await again.getByText(/You left/).waitFor({ state: 'hidden' });
    expect(await idOf(again, 'HouseGrade')).toBeTruthy();
  });
});

describe('a server that answers late', () => {
  const posted = '**/api/files/*/revisions';

  it('keeps the dialog until it has answered, and leaves another file alone that was opened meanwhile', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    const file = fileOf(page);
    let answer = (): void => {};
    await page.route(posted, async (route) => {
      if (route.request().method() === 'POST') await new Promise<void>((done) => (answer = done));
      await route.continue();
    });
    await label(page, 'HouseGrade', 'Sent late');
    await startSave(page, 'Late');
    const dialog = page.getByRole('dialog', { name: 'Save a revision' });
    await dialog.getByRole('button', { name: 'Saving …' }).waitFor();
    await page.keyboard.press('Escape');
    expect(await dialog.isVisible()).toBe(true);
    // by the address alone, as the browser's own back does
    await page.evaluate(() => {
      history.pushState(null, '', '/files/tide-cues');
      dispatchEvent(new PopStateEvent('popstate'));
    });
    await page.getByRole('navigation', { name: 'Path' }).getByRole('heading', { name: 'Tide lighting cues' }).waitFor();
    const there = page.getByText(/^Revision \d+, saved$/);
    const before = await there.textContent();
    await settle(page, 500);
    answer();
    await page.getByText('Saved as revision 2.').waitFor();
    expect(await there.textContent()).toBe(before);
    await page.getByRole('navigation', { name: 'Path' }).getByRole('heading', { name: 'Tide lighting cues' }).waitFor();
    await openFile(page, file);
    await page.getByText('Revision 2, saved').waitFor();
    await nodeCalled(page, 'Sent late').waitFor();
  });

  it('whose answer is lost has stored it once: nothing is saved twice, and nothing is asked', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    let isLost = true;
    await page.route(posted, async (route) => {
      if (route.request().method() !== 'POST' || !isLost) return route.continue();
      isLost = false;
      await route.fetch();
      return route.abort('failed');
    });
    await label(page, 'HouseGrade', 'Stored once');
    await startSave(page, 'The answer is lost');
    await page
      .getByText('The server does not answer. Check that it runs and that you are connected, and try again.')
      .waitFor();
    await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText('Nothing is left to save: the newest revision has your changes already.').waitFor();
    await page.getByText('Revision 2, saved').waitFor();
    expect((await labelsOf(page)).filter((one) => one === 'Stored once')).toHaveLength(1);
  });
});

describe('the history', () => {
  it('lists what one did, goes anywhere in it, and leaves what others saved', async () => {
    const [one, two] = [await browser.sit('editor'), await browser.sit('lead')];
    await openOwn(one.page, 'dome-blend');
    await openFile(two.page, fileOf(one.page));
    await label(one.page, 'HouseGrade', 'First');
    await label(one.page, 'ReefTilt', 'Second');
    await label(two.page, 'black2', 'Theirs');
    await startSave(two.page, 'Label the black');
    await one.page.getByRole('button', { name: 'Take it in now' }).click();
    await nodeCalled(one.page, 'Theirs').waitFor();
    await one.page.locator('[data-canvas]').focus();
    await one.page.keyboard.press('e');
    await one.page.keyboard.press('y');
    const acts = one.page.getByRole('complementary', { name: 'History' });
    await acts.getByText(/Taken in: Revision 2 by Lead TD: “Label the black”/).waitFor();
    await acts.getByRole('button', { name: /^As it was opened/ }).click();
    await nodeCalled(one.page, 'HouseGrade').waitFor();
    await nodeCalled(one.page, 'ReefTilt').waitFor();
    await nodeCalled(one.page, 'Theirs').waitFor();
    await one.page.getByText('Revision 2, saved').waitFor();
    await acts.getByRole('listitem').getByRole('button').last().click();
    await nodeCalled(one.page, 'First').waitFor();
    await nodeCalled(one.page, 'Second').waitFor();
    await nodeCalled(one.page, 'Theirs').waitFor();
  });
});
