import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import {
  centreOf,
  idOf,
  nodeCalled,
  openOwn,
  portAt,
  press,
  rectOf,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';

const browser = useBrowser();
const preview = (page: Page) => page.getByRole('region', { name: 'Preview' });
const rects = async (page: Page, ids: readonly string[]) => Promise.all(ids.map((id) => rectOf(page, id)));

/** How much lower the output of a map lies than the input of its warp, on screen. */
async function rise(page: Page, map: string, warp: string): Promise<number> {
  const [out, into] = [await portAt(page, map, 'map', 'out'), await portAt(page, warp, 'map', 'in')];
  if (!out || !into) throw new Error('The map or the warp lacks its port.');
  return out.y - into.y;
}

/** The dome file at a size at which all is in the window, with some nodes selected in order. */
async function withSelected(page: Page, ...names: string[]): Promise<string[]> {
  await openOwn(page, 'dome-blend');
  await press(page, 'v', 'a');
  await settle(page);
  for (const [i, name] of names.entries())
    await nodeCalled(page, name).click({ position: { x: 20, y: 6 }, ...(i > 0 && { modifiers: ['Shift'] }) });
  expect(await selectionOf(page)).toHaveLength(names.length);
  return Promise.all(names.map((name) => idOf(page, name)));
}

describe('acts that show themselves first', () => {
  it.each([
    ['Settle', 'a s', /Settled \d+ nodes/],
    ['Unstack', 'a k', /Unstacked \d+ nodes/],
  ] as const)('%s: by key with preview, apply and undo', async (title, sequence, said) => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'tide-cues');
    await press(page, ...sequence.split(' '));
    await preview(page).getByRole('heading', { name: title }).waitFor();
    await preview(page).getByText('Function fingerprint: same').waitFor();
    await preview(page)
      .getByRole('row', { name: /crossings/ })
      .waitFor();
    await press(page, 'Escape');
    await expect.poll(() => preview(page).count()).toBe(0);
    await page.getByText(/Revision \d+, saved/).waitFor();
    await press(page, ...sequence.split(' '));
    await preview(page).getByText('Function fingerprint: same').waitFor();
    await press(page, 'Enter');
    await page.getByText(said).waitFor();
    await press(page, 'Control+z');
    await page.getByText(/Revision \d+, saved/).waitFor();
  });

  it('Spacing: the canvas follows the slider, and one undo takes all of it back', async () => {
    const { page } = await browser.sit('editor');
    const ids = await withSelected(page, 'Warp_1', 'Warp_2', 'Warp_3');
    const before = await rects(page, ids);
    await page.getByRole('button', { name: 'Spacing', exact: true }).click();
    await preview(page)
      .getByRole('spinbutton', { name: /Spread y/ })
      .fill('2');
    await expect
      .poll(async () =>
        Math.round(
          ((await rectOf(page, ids[2]!)).y - (await rectOf(page, ids[0]!)).y) /
            ((before[2]?.y ?? 0) - (before[0]?.y ?? 0)),
        ),
      )
      .toBe(2);
    await preview(page).getByRole('combobox', { name: 'Align' }).selectOption('left');
    await expect.poll(async () => new Set((await rects(page, ids)).map((rect) => Math.round(rect.x))).size).toBe(1);
    await preview(page).getByText('Function fingerprint: same').waitFor();
    await press(page, 'Tab');
    await preview(page).getByRole('button', { name: /Apply/ }).click();
    await page.getByText(/Spaced \d nodes/).waitFor();
    await press(page, 'Control+z');
    await expect
      .poll(async () => (await rects(page, ids)).map((rect) => Math.round(rect.y)))
      .toEqual(before.map((rect) => Math.round(rect.y)));
  });

  it('Flow direction turns the whole graph, from the palette', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    const [map, warp] = [await idOf(page, 'WarpMap_1'), await idOf(page, 'Warp_1')];
    await press(page, 'Control+k');
    await page.getByRole('combobox').fill('Flow direction');
    await press(page, 'Enter');
    await preview(page).getByText('Function fingerprint: same').waitFor();
    await press(page, 'Enter');
    await page.getByText(/Data flows down now/).waitFor();
    await press(page, 'v', 'a');
    await settle(page);
    expect((await rectOf(page, warp)).y).toBeGreaterThan((await rectOf(page, map)).y);
  });
});

describe('acts that are done at once', () => {
  it('Level makes the wire to the last selected straight; Mirror and Rotate turn what is selected; each is one undo', async () => {
    const { page } = await browser.sit('editor');
    const [map, warp] = (await withSelected(page, 'WarpMap_1', 'Warp_1')) as [string, string];
    await page.getByRole('button', { name: 'Level', exact: true }).click();
    await page.getByText(/Levelled|straight already/).waitFor();
    expect(Math.abs(await rise(page, map, warp))).toBeLessThanOrEqual(1);
    await page.locator('[data-canvas]').focus();
    const before = await rects(page, [map, warp]);
    await press(page, 'a', 'h');
    await page.getByText('Mirrored 2 nodes.').waitFor();
    const after = await rects(page, [map, warp]);
    expect(Math.sign(after[0]!.x - after[1]!.x)).toBe(-Math.sign(before[0]!.x - before[1]!.x));
    await press(page, 'Control+z');
    await expect.poll(async () => Math.round((await rectOf(page, map)).x)).toBe(Math.round(before[0]!.x));
    await press(page, 'a', 'o', 'Enter');
    await page.getByText(/Rotated 2 nodes by 90°/).waitFor();
  });

  it('arrow keys go by the grid, with Shift by a pixel; Put on the grid centres nodes on its lines', async () => {
    const { page } = await browser.sit('editor');
    const [id] = (await withSelected(page, 'Warp_1')) as [string];
    await setView(page, { x: -300, y: 60, zoom: 1 });
    const start = await rectOf(page, id);
    await press(page, 'ArrowRight', 'ArrowRight', 'Shift+ArrowRight');
    await expect.poll(async () => Math.round((await rectOf(page, id)).x - start.x)).toBe(41);
    await press(page, 'a', 'g');
    await page.getByText(/on a grid of 20 px|on the grid already/).waitFor();
  });

  it('a node in hand snaps to where its wire runs straight, and not with Alt held', async () => {
    const { page } = await browser.sit('editor');
    await openOwn(page, 'dome-blend');
    await setView(page, { x: -400, y: -150, zoom: 1 });
    const [map, warp] = [await idOf(page, 'WarpMap_1'), await idOf(page, 'Warp_1')];
    const gap = async () => Math.round(await rise(page, map, warp));
    const from = await centreOf(page, 'WarpMap_1');
    const dy = -(await gap()) + 4;
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x, from.y + dy / 2);
    await page.mouse.move(from.x, from.y + dy);
    await page.mouse.up();
    await expect.poll(gap).toBe(0);
    await press(page, 'Control+z');
    await page.keyboard.down('Alt');
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x, from.y + dy / 2);
    await page.mouse.move(from.x, from.y + dy);
    await page.mouse.up();
    await page.keyboard.up('Alt');
    await expect.poll(gap).toBe(4);
  });

  it('Make room pushes what is in the way; Wire style redraws all wires; both are one undo', async () => {
    const { page } = await browser.sit('editor');
    const [id] = (await withSelected(page, 'WarpMap_1')) as [string];
    await press(page, 'a', 'i');
    await page.getByText(/Pushed \d+ nodes? away|Nothing is in the way/).waitFor();
    expect(await selectionOf(page)).toEqual([id]);
    await press(page, 'w', 'y');
    await page.getByRole('combobox', { name: 'Wires' }).selectOption('curved');
    await page.getByRole('dialog').getByRole('button', { name: 'Wire style' }).click();
    await page.getByText('Wires are curved now.').waitFor();
    await press(page, 'Control+z');
  });
});
