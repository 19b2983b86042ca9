import { describe, expect, it } from 'vitest';
import {
  centreOf,
  graph,
  idOf,
  openFile,
  openOwn,
  portAt,
  press,
  selectionOf,
  settle,
  sourceOf,
  useBrowser,
} from './testing/browser.ts';
import { undoAll } from './testing/wiring.ts';

const browser = useBrowser();

describe('menus', () => {
  it('open where one presses: on a node, a port, the ground; by key on the selection; and do what they say there', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    const menu = page.getByRole('menu').first();
    const entry = (name: string | RegExp) => page.getByRole('menuitem', { name });
    const isInGraph = () =>
      expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('Graph');
    // a node: it becomes the selection, and what is chosen is done with it
    const warp = await centreOf(page, 'Warp_2');
    await page.mouse.click(warp.x, warp.y, { button: 'right' });
    await menu.getByText('Warp_2').waitFor();
    expect(await selectionOf(page)).toEqual([await idOf(page, 'Warp_2')]);
    expect(await menu.getByRole('menuitem').count()).toBeLessThanOrEqual(12);
    await entry(/^Bypass/).click();
    // the keyboard goes back to the graph
    await isInGraph();
    await undoAll(page);
    // the rest lies in groups by area
    await page.mouse.click(warp.x, warp.y, { button: 'right' });
    await entry('More').press('ArrowRight');
    await entry(/^Select$/).press('ArrowRight');
    await entry(/^Select everything connected/).press('Enter');
    await expect.poll(async () => (await selectionOf(page)).length).toBeGreaterThan(5);
    // by key on all of it
    await isInGraph();
    await press(page, 'Shift+F10');
    await menu.getByText(/\d+ selected/).waitFor();
    await page.keyboard.press('Escape');
    await menu.waitFor({ state: 'hidden' });
    // an input: its wire
    const id = await idOf(page, 'Warp_2');
    const input = (await portAt(page, id, 'map', 'in'))!;
    expect(await sourceOf(page, id, 'map')).toBe('WarpMap_2.map');
    await page.mouse.click(input.x, input.y, { button: 'right' });
    await menu.getByText('Input map of “Warp_2”').waitFor();
    await entry('Cut its wire').click();
    await expect.poll(() => sourceOf(page, id, 'map')).toBe(undefined);
    await settle(page);
    await page.mouse.click(input.x, input.y, { button: 'right' });
    await entry('Select the node that feeds it').waitFor();
    expect(await entry('Cut its wires').getAttribute('aria-disabled')).toBe('true');
    await page.keyboard.press('Escape');
    // the ground: a note goes where the menu was opened
    const box = (await graph(page).boundingBox())!;
    const at = { x: box.x + 60, y: box.y + 60 };
    await page.mouse.click(at.x, at.y, { button: 'right' });
    await entry(/^Note here/).click();
    await page.keyboard.type('From the menu');
    await page.keyboard.press('Control+Enter');
    await page.getByText('From the menu').first().waitFor();
    const note = (await page.getByText('From the menu').first().boundingBox())!;
    expect(Math.hypot(note.x - at.x, note.y - at.y)).toBeLessThan(60);
  });

  it('open on rows: in the outline, and on a file in the list', async () => {
    const { page } = await browser.sit('lead', '/files');
    await page.getByRole('link', { name: /^Dome blend/ }).click({ button: 'right' });
    const menu = page.getByRole('menu');
    await menu.getByRole('menuitem', { name: 'Duplicate …' }).click();
    await page.getByRole('dialog').waitFor();
    await page.keyboard.press('Escape');
    await openFile(page, 'dome-blend');
    await press(page, 'v', 'l');
    await page.getByRole('treeitem', { name: /^HouseGrade/ }).click({ button: 'right' });
    await menu.getByText('HouseGrade').waitFor();
    expect(await selectionOf(page)).toEqual([await idOf(page, 'HouseGrade')]);
    await page.keyboard.press('Escape');
    // a finger that is held opens it as well
    const place = await centreOf(page, 'HouseGrade');
    const touch = await page.context().newCDPSession(page);
    await touch.send('Emulation.setTouchEmulationEnabled', { enabled: true });
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [place] });
    await menu.getByText('HouseGrade').waitFor();
  });
});

describe('all commands', () => {
  it('are found by words of the trade and with slips, with what was used before ahead', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    const first = page.getByRole('option').first();
    const seek = async (text: string): Promise<void> => {
      await press(page, 'Control+k');
      await page.getByPlaceholder('What do you want to do?').fill(text);
    };
    await seek('overlap');
    await expect.poll(() => first.textContent()).toMatch(/^Unstack/);
    await page.keyboard.press('Escape');
    await seek('minmap');
    await expect.poll(() => first.textContent()).toMatch(/^Overview/);
    await page.keyboard.press('Enter');
    await press(page, 'Control+k');
    await page.getByText('Used lately').waitFor();
    await expect.poll(() => first.textContent()).toMatch(/^Overview/);
    await page.getByPlaceholder('What do you want to do?').fill('zzzz');
    await page.getByText('No command fits “zzzz”').waitFor();
  });
});
