import { renderOf } from '@basitax/demo/pictures';
import { describe, expect, it } from 'vitest';
import {
  dragBy,
  graph,
  idOf,
  nodeCalled,
  openFile,
  portAt,
  press,
  rectOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';
import { difference, pixelsOf } from './testing/png.ts';
import { findAndGo, frameEdge, inspector, map, openReef, render, surface, zoomOf } from './testing/reef.ts';

const browser = useBrowser();

describe('A1 moving', () => {
  it('fits everything and the selection by one key, zooms by number and about the pointer, and goes back and forward', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'reef-night');
    // the canvas has the keyboard as soon as the file is open
    await press(page, 'z');
    await settle(page, 400);
    expect(await zoomOf(page)).toBeLessThan(10);
    await setView(page, surface);
    await nodeCalled(page, render).click();
    const id = await idOf(page, render);
    await press(page, 'z');
    await expect.poll(() => zoomOf(page)).toBe(100);
    await settle(page, 400);
    const shown = await rectOf(page, id);
    const window = (await graph(page).boundingBox())!;
    expect(Math.abs(shown.x + shown.width / 2 - window.x - window.width / 2)).toBeLessThan(3);
    await page.mouse.move(shown.x, shown.y);
    await page.mouse.wheel(0, 300);
    await settle(page, 400);
    const zoomed = await rectOf(page, id);
    expect(zoomed.width).toBeLessThan(shown.width);
    expect(Math.abs(zoomed.x - shown.x)).toBeLessThanOrEqual(1);
    await press(page, 'Alt+ArrowLeft');
    await expect.poll(() => zoomOf(page)).toBe(72);
    await press(page, 'Alt+ArrowRight');
    await expect.poll(() => zoomOf(page)).not.toBe(72);
  });

  it('has every slot of the toolbar in a window of 1280, and in a narrow one brings what has the focus into sight', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    const bar = page.getByRole('toolbar', { name: 'Acts on the selection' });
    const inSight = (name: string, width: number) =>
      expect
        .poll(async () =>
          ((box) => box !== null && box.x >= 0 && box.x + box.width <= width)(
            await bar.getByRole('button', { name, exact: true }).boundingBox(),
          ),
        )
        .toBe(true);
    for (const name of ['Undo', 'All commands', 'Show the selection, or all']) await inSight(name, 1280);
    await page.setViewportSize({ width: 900, height: 700 });
    await inSight('Show the selection, or all', 900);
    await bar.getByRole('button', { name: 'All commands', exact: true }).focus();
    await inSight('All commands', 830);
  });

  it('keeps views under names, for this person, and comes back to them', async () => {
    const { page } = await browser.sit('lead');
    await openReef(page);
    await press(page, 'g', 's');
    await page.getByRole('dialog').getByLabel('Name').fill('First shot');
    await page.keyboard.press('Enter');
    await page.getByText('The view “First shot” is saved.').waitFor();
    const id = await idOf(page, render);
    const before = await rectOf(page, id);
    await press(page, 'v', 'a');
    await expect.poll(() => zoomOf(page)).toBeLessThan(10);
    const again = await browser.sit('lead');
    await openFile(again.page, 'reef-night');
    await press(again.page, 'g', 'v');
    await again.page.getByRole('menuitem', { name: /^First shot/ }).click();
    await expect.poll(() => zoomOf(again.page)).toBe(72);
    await settle(again.page, 300);
    expect(Math.abs((await rectOf(again.page, id)).x - before.x)).toBeLessThan(1);
    const other = await browser.sit('viewer');
    await openFile(other.page, 'reef-night');
    await other.page.getByRole('button', { name: 'Saved views' }).click();
    await other.page.getByText('No view is saved in this file yet.').waitFor();
    await again.page.getByRole('button', { name: 'Saved views' }).click();
    await again.page.getByRole('menuitem', { name: 'Remove the view First shot' }).click();
    await again.page.getByText('No view is saved in this file yet.').waitFor();
  });
});

describe('A2 overview map', () => {
  it('shows itself when something lies outside, follows the window, and moves it by click, drag and key', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'reef-night');
    await press(page, 'v', 'a');
    await settle(page, 400);
    expect(await map(page).count()).toBe(0);
    await setView(page, surface);
    await map(page).waitFor();
    const id = await idOf(page, render);
    const before = await rectOf(page, id);
    const box = (await map(page).boundingBox())!;
    await page.mouse.click(box.x + box.width * 0.6, box.y + box.height * 0.6);
    await settle(page, 200);
    const there = await rectOf(page, id);
    expect(there.x).toBeLessThan(before.x - 2000);
    expect(there.y).toBeLessThan(before.y - 1000);
    await dragBy(page, { x: box.x + box.width * 0.6, y: box.y + box.height * 0.6 }, -40, 0);
    await settle(page, 200);
    expect((await rectOf(page, id)).x).toBeGreaterThan(there.x + 1000);
    await map(page).focus();
    const atKey = await rectOf(page, id);
    await page.keyboard.press('ArrowDown');
    await settle(page, 200);
    expect((await rectOf(page, id)).y).toBeLessThan(atKey.y - 200);
    await graph(page).focus();
    await press(page, 'v', 'm', 'v', 'm');
    await expect.poll(() => map(page).count()).toBe(0);
  });
});

describe('A3 find and go', () => {
  it('lists best first over nested graphs with kind, place and neighbours, forgives mistakes, and goes there', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await press(page, '/');
    const input = page.getByPlaceholder(/^Part of a name/);
    await input.fill('plnakton rendr');
    await expect.poll(() => page.getByRole('option').first().textContent()).toContain('RN0010_Plankton_Render');
    const first = (await page.getByRole('option').first().textContent())!;
    expect(first).toContain('Render');
    expect(first).toContain('RN0010 Surface');
    expect(first).toMatch(/→.*●/);
    await input.fill('kelp tunnel');
    await expect.poll(() => page.getByRole('option').first().textContent()).toMatch(/RN0120 Kelp tunnel.*Frame/);
    // a value of a parameter
    await input.fill('card_4.exr');
    await expect.poll(() => page.getByRole('option').first().textContent()).toMatch(/TitleCard_4/);
    await input.fill('rimmatte');
    await expect.poll(() => page.getByRole('option').first().textContent()).toMatch(/RimMatte.*in RN\d{4}_DomeFinish/);
    // of forty that are called the same, the graphs in order
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { level: 1, name: 'RN0020_DomeFinish' }).waitFor();
    await inspector(page).getByRole('heading', { name: 'RimMatte' }).waitFor();
    await settle(page, 400);
    // the keyboard is in the canvas: the way back is one key away
    await press(page, 'Alt+ArrowLeft');
    await page.getByRole('heading', { level: 1, name: 'Reef night, shot assembly' }).waitFor();
    await expect.poll(() => zoomOf(page)).toBe(72);
    await press(page, '/');
    await input.fill('there is nothing so called');
    await page.getByText('No name matches').waitFor();
  });
});

describe('A4 detail', () => {
  it('opens and closes one, and all; a port rule hides what is not wired, never what is', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    const name = 'RN0010_Plankton_Light';
    await nodeCalled(page, name).click();
    const id = await idOf(page, name);
    const open = await rectOf(page, id);
    await press(page, 'o');
    await expect.poll(async () => Math.round((await rectOf(page, id)).height)).toBe(Math.round(34 * 0.72));
    await nodeCalled(page, name)
      .and(page.getByRole('group', { name: /closed/ }))
      .waitFor();
    // one key does the last act again, on what is selected now
    await nodeCalled(page, render).click();
    await press(page, '.');
    await nodeCalled(page, render)
      .and(page.getByRole('group', { name: /closed/ }))
      .waitFor();
    await press(page, 'o');
    await nodeCalled(page, name).click();
    await press(page, 'o');
    await expect.poll(async () => (await rectOf(page, id)).height).toBe(open.height);
    const detail = inspector(page).getByRole('region', { name: 'Detail' });
    await detail.getByLabel(/^Ports(?! with)/).selectOption('Wired and chosen');
    await expect.poll(() => portAt(page, id, 'noise', 'in')).toBeUndefined();
    expect(await portAt(page, id, 'light', 'in')).toBeDefined();
    expect(await portAt(page, id, 'light', 'out')).toBeDefined();
    await nodeCalled(page, name)
      .and(page.getByRole('group', { name: /1 ports? hidden/ }))
      .waitFor();
    expect((await rectOf(page, id)).height).toBeLessThan(open.height);
    await detail.getByLabel('Ports with this in their name').fill('noi');
    await page.keyboard.press('Enter');
    await expect.poll(() => portAt(page, id, 'noise', 'in')).toBeDefined();
    await detail.getByLabel('Caption').selectOption('Kind');
    await expect.poll(() => nodeCalled(page, name).locator('.node-title').textContent()).toBe('Light shafts');
    // all of the graph, in one step that one undo takes back
    await graph(page).focus();
    await press(page, 's', 'n', 'v', 'c');
    await expect
      .poll(async () => Math.round((await rectOf(page, await idOf(page, render))).height))
      .toBe(Math.round(34 * 0.72));
    await press(page, 'e', 'u');
    await expect
      .poll(async () => Math.round((await rectOf(page, await idOf(page, render))).height))
      .toBeGreaterThan(50);
    // the same by mouse, with nothing selected
    await inspector(page).getByRole('region', { name: 'Detail' }).getByLabel('Caption').selectOption('Kind');
    await expect.poll(() => nodeCalled(page, render).locator('.node-title').textContent()).toBe('Render');
  });

  it('shows small pictures, hides them, and takes one from a file', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await findAndGo(page, 'RN0020_Layers');
    const picture = nodeCalled(page, 'Sinking, all layers')
      .or(nodeCalled(page, 'RN0020_Layers'))
      .first()
      .locator('img');
    await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(96);
    await press(page, 'v', 'h');
    await expect.poll(() => picture.count()).toBe(0);
    await press(page, 'v', 's');
    await expect.poll(() => picture.count()).toBe(1);
    await findAndGo(page, render);
    await press(page, 'v', 'i');
    await page.getByLabel('Choose a picture').setInputFiles({
      name: 'render.png',
      mimeType: 'image/png',
      buffer: Buffer.from(renderOf(3).slice('data:image/png;base64,'.length), 'base64'),
    });
    await page.getByRole('img', { name: 'As it will be' }).waitFor();
    await page
      .getByRole('dialog')
      .getByRole('button', { name: /Set the picture|Apply|Do it/ })
      .click();
    await expect.poll(() => nodeCalled(page, render).locator('img').count()).toBe(1);
  });
});

describe('A5 legible at any zoom, A6 type coding', () => {
  it('draws far out what the elements showed, without a jump, and frame titles to the last', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page, { x: -60, y: 60, zoom: 0.5 });
    await expect.poll(() => page.locator('.node').count()).toBeGreaterThan(40);
    await settle(page, 900);
    const near = await graph(page).screenshot();
    await setView(page, { x: -60, y: 60, zoom: 0.499 });
    await expect.poll(() => page.locator('.node').count()).toBe(0);
    const far = await graph(page).screenshot();
    await setView(page, { x: -660, y: 60, zoom: 0.499 });
    const elsewhere = await graph(page).screenshot();
    const [jump, scale] = [await difference(page, near, far), await difference(page, near, elsewhere)];
    // port names and subtitles give way there: the rest stays where it is
    expect(jump).toBeLessThan(scale / 2);
    await press(page, 'v', 'a');
    await settle(page, 600);
    // 29 titles on tabs of at least 16 by 60 pixels each, less the letters on them
    expect(await pixelsOf(page, frameEdge)).toBeGreaterThan(29 * 16 * 60 * 0.5);
  });

  it('marks ports by colour and by shape, the same for all, and wires with the shape of their type', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await expect.poll(() => nodeCalled(page, render).locator('.mark').count()).toBe(6);
    const marks = await nodeCalled(page, render)
      .locator('.mark')
      .evaluateAll((all) => all.map((one) => getComputedStyle(one).backgroundImage));
    expect(marks.every((image) => image.startsWith('url("data:image/svg+xml'))).toBe(true);
    // scene, camera and light come in; image, depth and motion go out: all of different types
    const shapes = marks.map((image) => decodeURIComponent(image).replace(/(fill|stroke)="#[0-9a-f]+"/g, ''));
    expect(new Set(marks).size).toBe(6);
    expect(new Set(shapes.slice(0, 3)).size).toBe(3);
    // in the night theme the colours change and the shapes stay
    await press(page, 'v', '3');
    await settle(page, 300);
    const night = await nodeCalled(page, render)
      .locator('.mark')
      .evaluateAll((all) => all.map((one) => getComputedStyle(one).backgroundImage));
    expect(night.map((image) => decodeURIComponent(image).replace(/(fill|stroke)="#[0-9a-f]+"/g, ''))).toEqual(shapes);
    expect(night).not.toEqual(marks);
    await press(page, 'v', '4');
  });
});
