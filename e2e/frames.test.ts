import { describe, expect, it } from 'vitest';
import { graph, press, selectionOf, useBrowser } from './testing/browser.ts';
import { inspector } from './testing/reef.ts';
import { choose, openDome, said, undoAll } from './testing/wiring.ts';

const browser = useBrowser();

describe('E1: frames', () => {
  it('are put around the selection by key, titled and noted in the inspector, put into one another, and undone', async () => {
    const page = await openDome((await browser.sit('editor')).page);
    await choose(page, 'Dome master 4K', 'ReefTilt');
    await press(page, 'f', 'f');
    await said(page, /^Framed 2 nodes as “/);
    const [inner] = await selectionOf(page);
    const panel = inspector(page);
    await panel.getByLabel('Title').fill('Master');
    await page.keyboard.press('Enter');
    await said(page, 'The frame is called “Master” now.');
    await panel.getByLabel('Note').fill('Read once, tilted for the seats.');
    await page.keyboard.press('Enter');
    await said(page, 'Wrote a note on “Master”.');
    await choose(page, 'HouseGrade');
    await graph(page).focus();
    // all of both frames is selected, and more: they go into the new one as they are
    await press(page, 's', 'a', 'f', 'f');
    await said(page, /^Framed \d+ nodes and 2 frames as “/);
    expect(await selectionOf(page)).not.toContain(inner);
    await undoAll(page);
  });
});
