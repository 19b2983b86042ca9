import { renderOf } from '@basitax/demo/pictures';
import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import { address, dragBy, idOf, nodeCalled, openFile, type Place, portAt, rectOf, selectionOf, settle, setView, useBrowser } from './testing/browser.ts';
import { difference, pixelsOf } from './testing/png.ts';

// every need of seeing and moving, on the demo file of nearly three thousand nodes; nothing here is saved

const browser = useBrowser();
const render = 'RN0010_Plankton_Render';
const surface = { x: -60, y: 60, zoom: 0.72 };
const frameEdge = '#b9ac8f';

const graph = (page: Page) => page.getByRole('region', { name: 'Graph' });
const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' });
const zoomOf = async (page: Page): Promise<number> => Number(await page.getByLabel('Zoom in per cent').inputValue());
const press = async (page: Page, ...keys: string[]): Promise<void> => {
  for (const key of keys) await page.keyboard.press(key);
};
const map = (page: Page) => page.getByRole('group', { name: /^Overview map/ });

async function openReef(page: Page, view: { x: number; y: number; zoom: number } = surface): Promise<void> {
  await openFile(page, 'reef-night');
  await setView(page, view);
}

/** Finds by text, goes to the first hit, and waits until it is selected. */
async function findAndGo(page: Page, text: string): Promise<void> {
  await press(page, '/');
  await page.getByPlaceholder(/^Part of a name/).fill(text);
  await page.getByRole('option').first().waitFor();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
  await settle(page, 500);
}

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
    await page.getByText('Nothing is called so').waitFor();
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
    await expect.poll(async () => Math.round((await rectOf(page, await idOf(page, render))).height)).toBe(Math.round(34 * 0.72));
    await press(page, 'e', 'u');
    await expect.poll(async () => Math.round((await rectOf(page, await idOf(page, render))).height)).toBeGreaterThan(50);
    // the same by mouse, with nothing selected
    await inspector(page).getByRole('region', { name: 'Detail' }).getByLabel('Caption').selectOption('Kind');
    await expect.poll(() => nodeCalled(page, render).locator('.node-title').textContent()).toBe('Render');
  });

  it('shows small pictures, hides them, and takes one from a file', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await findAndGo(page, 'RN0020_Layers');
    const picture = nodeCalled(page, 'Sinking, all layers').or(nodeCalled(page, 'RN0020_Layers')).first().locator('img');
    await expect.poll(() => picture.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBe(96);
    await press(page, 'v', 'h');
    await expect.poll(() => picture.count()).toBe(0);
    await press(page, 'v', 's');
    await expect.poll(() => picture.count()).toBe(1);
    await findAndGo(page, render);
    await press(page, 'v', 'i');
    await page
      .getByLabel('Choose a picture')
      .setInputFiles({ name: 'render.png', mimeType: 'image/png', buffer: Buffer.from(renderOf(3).slice('data:image/png;base64,'.length), 'base64') });
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

describe('A7 neighbourhood', () => {
  it('shows a node with what is wired to it, grows, prunes, is placed by hand, and leaves the file alone', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    const id = await idOf(page, render);
    const clean = await idOf(page, 'RN0010_Plankton_Clean');
    const before = [await rectOf(page, id), await rectOf(page, clean)];
    await nodeCalled(page, render).click();
    await press(page, 'n');
    const bar = page.getByRole('region', { name: 'Neighbourhood' });
    await bar.getByText('6 nodes').waitFor();
    await settle(page, 600);
    expect(await page.locator('.node').count()).toBe(6);
    await bar.getByRole('button', { name: 'More inputs' }).click();
    await bar.getByText('inputs 2').waitFor();
    await expect.poll(async () => Number(/(\d+) nodes/.exec((await bar.getByRole('status').textContent())!)![1])).toBeGreaterThan(6);
    await bar.getByRole('button', { name: 'Fewer inputs' }).click();
    await bar.getByText('6 nodes').waitFor();
    await settle(page, 500);
    await nodeCalled(page, 'RN0010_Plankton_DepthTint').click();
    await bar.getByRole('button', { name: 'Grow' }).click();
    await expect.poll(async () => Number(/(\d+) nodes/.exec((await bar.getByRole('status').textContent())!)![1])).toBeGreaterThan(6);
    await settle(page, 500);
    await bar.getByRole('button', { name: 'Prune' }).click();
    await expect.poll(() => nodeCalled(page, 'RN0010_Plankton_DepthTint').count()).toBe(0);
    // its own layout, places by hand, and back: neither is lost
    const own = await rectOf(page, clean);
    await bar.getByRole('radio', { name: 'Free places' }).click();
    await settle(page, 500);
    const free = await rectOf(page, clean);
    // that far out it is no element
    await dragBy(page, { x: free.x + free.width / 2, y: free.y + free.height / 2 }, 70, 60);
    await settle(page, 300);
    const moved = await rectOf(page, clean);
    expect([Math.round(moved.x - free.x), Math.round(moved.y - free.y)]).toEqual([70, 60]);
    await bar.getByRole('radio', { name: 'Own layout' }).click();
    await expect.poll(async () => Math.round((await rectOf(page, clean)).x)).toBe(Math.round(own.x));
    await bar.getByRole('button', { name: 'Whole graph' }).click();
    await settle(page, 400);
    expect([await rectOf(page, id), await rectOf(page, clean)]).toEqual(before);
    await page.getByText('Revision 1, saved').waitFor();
  });
});

describe('A8 outline', () => {
  it('lists everything with counts and marks, opens by level, and is no slower for thousands of rows', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await press(page, 't');
    const outline = page.getByRole('complementary', { name: 'Outline' });
    const rows = outline.getByRole('treeitem');
    await expect.poll(() => rows.first().textContent()).toMatch(/Reef night, shot assembly.*2,626/);
    await expect.poll(() => rows.nth(1).textContent()).toMatch(/RN0010 Surface\s*66/);
    await outline.getByRole('button', { name: 'All', exact: true }).click();
    await expect.poll(() => rows.nth(2).getAttribute('aria-level')).toBe('3');
    // what is not in sight is not there
    expect(await rows.count()).toBeLessThan(80);
    await outline.getByRole('tree').focus();
    await press(page, 'End');
    await expect.poll(async () => Number(await rows.last().getAttribute('aria-posinset'))).toBeGreaterThan(1);
    await outline.getByRole('button', { name: 'None', exact: true }).click();
    // leftovers lie outside the frames, wired to nothing: nobody knew that they were there
    await outline.getByRole('tree').focus();
    await press(page, 'End');
    await outline.getByLabel('wired to nothing').first().waitFor();
    await nodeCalled(page, render).click();
    await outline.getByRole('button', { name: 'Selected' }).click();
    const own = outline.getByRole('treeitem', { name: new RegExp(`^${render}`) });
    await own.waitFor();
    expect(await own.getAttribute('aria-selected')).toBe('true');
    // a nested graph opens under its node; Enter goes into it
    await graph(page).focus();
    await findAndGo(page, 'RN0010_DomeFinish');
    await outline.getByRole('button', { name: 'Selected' }).click();
    const host = outline.getByRole('treeitem', { name: /^Dome finish/ }).first();
    await host.getByRole('button', { name: 'Open' }).click();
    const inside = outline.getByRole('treeitem', { name: /^RimMatte/ }).first();
    await inside.dblclick();
    await page.getByRole('heading', { level: 1, name: 'RN0010_DomeFinish' }).waitFor();
  });

  it('moves nodes to another frame, and into a nested graph, by dragging in it; undo takes that back', async () => {
    const { page } = await browser.sit('editor');
    // high enough for all rows of a frame
    await page.setViewportSize({ width: 1280, height: 2400 });
    await openReef(page);
    await nodeCalled(page, render).click();
    await press(page, 't');
    const outline = page.getByRole('complementary', { name: 'Outline' });
    await outline.getByRole('button', { name: 'Selected' }).click();
    const row = outline.getByRole('treeitem', { name: new RegExp(`^${render}`) });
    await row.waitFor();
    const frame = outline.getByRole('treeitem', { name: /^RN0010 Surface/ });
    expect(await frame.textContent()).toMatch(/66$/);
    await row.dragTo(outline.getByRole('treeitem', { name: /^Dome finish/ }).first());
    // its wires go along through ports of the nested graph: what is computed stays the same, and that is shown first
    await page.getByText('Function fingerprint: same').waitFor();
    await page.keyboard.press('Enter');
    await page.getByText('Unsaved changes').waitFor();
    await expect.poll(() => nodeCalled(page, render).count()).toBe(0);
    await graph(page).focus();
    await press(page, 'e', 'u');
    await page.getByText('Revision 1, saved').waitFor();
    await expect.poll(() => nodeCalled(page, render).count()).toBe(1);
  });
});

describe('A9 nested graphs', () => {
  it('peeks without entering, enters, shows the path, jumps along it and leaves', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await findAndGo(page, 'RN0010_DomeFinish');
    await press(page, 'g', 'p');
    const peek = page.getByRole('dialog', { name: 'Peek into Dome finish' });
    await peek.getByText('9 nodes. Inputs: Layers. Outputs: Finished.').waitFor();
    const drawn = await peek
      .getByRole('img')
      .locator('canvas')
      .last()
      .evaluate((canvas: HTMLCanvasElement) => {
        const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        return data.reduce((count, value, i) => count + (i % 4 === 3 && value > 0 ? 1 : 0), 0);
      });
    expect(drawn).toBeGreaterThan(5000);
    await page.keyboard.press('Escape');
    await page.getByRole('heading', { level: 1, name: 'Reef night, shot assembly' }).waitFor();
    await settle(page, 300);
    await press(page, 'g', 'e');
    await page.getByRole('heading', { level: 1, name: 'RN0010_DomeFinish' }).waitFor();
    await page.getByRole('navigation', { name: 'Path' }).getByRole('button', { name: 'Reef night, shot assembly' }).click();
    await page.getByRole('heading', { level: 1, name: 'Reef night, shot assembly' }).waitFor();
    await press(page, 'Alt+ArrowLeft');
    await page.getByRole('heading', { level: 1, name: 'RN0010_DomeFinish' }).waitFor();
    await graph(page).focus();
    await press(page, 'u');
    await page.getByRole('heading', { level: 1, name: 'Reef night, shot assembly' }).waitFor();
  });
});

describe('A10 selection', () => {
  it('clicks, adds, toggles, draws boxes and lassos, in the order that is shown as numbers', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    const names = ['RN0010_Seabed_Render', 'RN0010_Kelp_Render', render] as const;
    const [seabed, kelp, plankton] = [await idOf(page, names[0]), await idOf(page, names[1]), await idOf(page, names[2])];
    await nodeCalled(page, names[2]).click();
    await nodeCalled(page, names[0]).click({ modifiers: ['Shift'] });
    await nodeCalled(page, names[1]).click({ modifiers: ['Shift'] });
    expect(await selectionOf(page)).toEqual([plankton, seabed, kelp]);
    await nodeCalled(page, names[0]).click({ modifiers: ['Control'] });
    await nodeCalled(page, names[0]).click({ modifiers: ['Control'] });
    expect(await selectionOf(page)).toEqual([plankton, kelp, seabed]);
    const bare = await pixelsOf(page, '#3b4aa8');
    await press(page, 's', 'o');
    await expect.poll(() => pixelsOf(page, '#3b4aa8')).toBeGreaterThan(bare + 3 * 60);
    await press(page, 's', 'o', 's', 'n');
    expect(await selectionOf(page)).toEqual([]);
    // a lasso round one node takes it alone; a box over both takes both
    const around = async (id: string, margin: number): Promise<Place[]> => {
      const { x, y, width, height } = await rectOf(page, id);
      return [
        { x: x - margin, y: y - margin },
        { x: x + width + margin, y: y - margin },
        { x: x + width + margin, y: y + height + margin },
        { x: x - margin, y: y + height + margin },
      ];
    };
    const onGround = async (id: string): Promise<Place[]> => {
      // wires are plain elbows until their routes have come, and may run there till then
      for (let tries = 0; tries < 60; tries++) {
        for (const margin of [4, 6, 8, 10, 12]) {
          const corners = await around(id, margin);
          if ((await page.evaluate(({ x, y }) => window.basitaxCanvas?.wireAt(x, y), corners[0]!)) === undefined) return corners;
        }
        await settle(page, 300);
      }
      throw new Error('There is no ground at the corner of the node.');
    };
    const corners = await onGround(plankton);
    await page.keyboard.down('Shift');
    await page.keyboard.down('Alt');
    await page.mouse.move(corners[0]!.x, corners[0]!.y);
    await page.mouse.down();
    for (const corner of [...corners.slice(1), corners[0]!]) await page.mouse.move(corner.x, corner.y, { steps: 4 });
    await page.mouse.up();
    await page.keyboard.up('Alt');
    await page.keyboard.up('Shift');
    await expect.poll(() => selectionOf(page)).toEqual([plankton]);
    await press(page, 's', 'n', 's', 'b');
    const [from, to] = [(await around(kelp, 6))[0]!, (await around(plankton, 6))[2]!];
    await dragBy(page, { x: Math.min(from.x, (await around(plankton, 6))[0]!.x), y: from.y }, to.x - Math.min(from.x, (await around(plankton, 6))[0]!.x), to.y - from.y);
    await expect.poll(async () => (await selectionOf(page)).filter((id) => id === kelp || id === plankton).length).toBe(2);
    await press(page, 's', 'b');
  });

  it('selects all, none, the rest, the same kind, within the frame, upstream, downstream and all that is connected', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    const count = async (): Promise<number> => (await selectionOf(page)).length;
    await press(page, 's', 'a');
    await expect.poll(count).toBe(2266);
    await press(page, 's', 'i');
    await expect.poll(count).toBe(0);
    await nodeCalled(page, render).click();
    await press(page, 's', 'k');
    await expect.poll(count).toBe(240);
    expect((await selectionOf(page))[0]).toBe(await idOf(page, render));
    await nodeCalled(page, render).click();
    await press(page, 's', 'f');
    // what lies in its nested graph does not count
    await expect.poll(count).toBe(57);
    await nodeCalled(page, render).click();
    await press(page, 's', 'u');
    // the render itself, its placement and geometry, the camera, the light shafts and the moon behind them
    await expect.poll(count).toBe(6);
    await nodeCalled(page, render).click();
    await press(page, 's', 'd');
    await expect.poll(count).toBeGreaterThan(6);
    await press(page, 's', 'c');
    await expect.poll(count).toBe(2195);
    await press(page, 's', 'i');
    await expect.poll(count).toBe(2266 - 2195);
  });

  it('selects by a query that a form writes, or that is typed, and points at the mistake', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    await press(page, 's', 'q');
    const dialog = page.getByRole('dialog', { name: 'Select by query' });
    await dialog.getByLabel('Field').selectOption('Kind');
    await dialog.getByLabel('Value').fill('glow');
    await dialog.getByRole('button', { name: 'Another condition' }).click();
    await dialog.getByLabel('Field').nth(1).selectOption('size');
    await dialog.getByLabel('Comparison').nth(1).selectOption('is at least');
    await dialog.getByLabel('Value').nth(1).fill('40');
    expect(await dialog.getByRole('textbox', { name: /^Query/ }).inputValue()).toBe('kind:glow and size>=40');
    const said = Number(/^([\d,]+) nodes/.exec((await dialog.getByRole('status').textContent())!)![1]!.replace(',', ''));
    expect(said).toBeGreaterThan(10);
    await dialog.getByRole('button', { name: 'Select', exact: true }).click();
    await expect.poll(async () => (await selectionOf(page)).length).toBe(said);
    await press(page, 's', 'q');
    await dialog.getByRole('textbox', { name: /^Query/ }).fill('kind:glow or (size>4');
    await dialog
      .getByRole('alert')
      .getByText(/bracket/)
      .waitFor();
    await dialog.getByRole('textbox', { name: /^Query/ }).fill('kind:denoise bypassed=yes');
    await page.keyboard.press('Enter');
    await expect.poll(async () => (await selectionOf(page)).length).toBeLessThan(60);
    await inspector(page).getByText('Denoise').first().waitFor();
  });
});

describe('shortcuts', () => {
  it('show what may follow the first key, swallow an unknown second, and never work in a field or while composing', async () => {
    const { page } = await browser.sit('editor');
    await openReef(page);
    const sheet = page.getByRole('status', { name: 'Keys that may follow' });
    await nodeCalled(page, render).click();
    const id = await idOf(page, render);
    await press(page, 's');
    await sheet.getByText('Select upstream').waitFor();
    // d alone would duplicate, and does as a second key select; ~ is bound to nothing
    await press(page, '~');
    await expect.poll(() => sheet.count()).toBe(0);
    expect(await selectionOf(page)).toEqual([id]);
    await press(page, 's', 'Escape');
    expect(await sheet.count()).toBe(0);
    expect(await selectionOf(page)).toEqual([id]);
    // whatever the key is called on the keyboard, it is what it writes that counts
    await page.evaluate(() => {
      const canvas = document.querySelector<HTMLElement>('[data-canvas]')!;
      canvas.focus();
      for (const [key, code] of [
        ['s', 'KeyO'],
        ['k', 'KeyV'],
      ])
        canvas.dispatchEvent(new KeyboardEvent('keydown', { key: key!, code: code!, bubbles: true, cancelable: true }));
    });
    await expect.poll(async () => (await selectionOf(page)).length).toBe(240);
    await page.evaluate(() => {
      const canvas = document.querySelector<HTMLElement>('[data-canvas]')!;
      for (const key of ['s', 'n']) canvas.dispatchEvent(new KeyboardEvent('keydown', { key, isComposing: true, bubbles: true, cancelable: true }));
    });
    expect((await selectionOf(page)).length).toBe(240);
    await nodeCalled(page, render).click();
    await inspector(page).getByRole('textbox', { name: 'Label' }).focus();
    await page.keyboard.type('san');
    expect(await sheet.count()).toBe(0);
    expect(await selectionOf(page)).toEqual([id]);
    await page.keyboard.press('Escape');
    // outside the canvas they are letters like any others
    await page.getByRole('button', { name: 'Revisions' }).focus();
    await press(page, 's', 'a');
    expect(await selectionOf(page)).toEqual([id]);
  });

  it('are bound anew with a warning about clashes, turned off, and kept for the person on the server', async () => {
    const { page } = await browser.sit('lead');
    await page.goto(`${address()}/shortcuts`);
    await page.getByLabel('Filter').fill('arrange by wiring');
    await page.getByRole('button', { name: 'Another key for Arrange by wiring' }).click();
    await press(page, 'a', 'l');
    await page
      .getByRole('alert')
      .getByText(/“Arrange by wiring” and “Align left edges”/)
      .waitFor();
    await page.getByRole('button', { name: 'Take A L off Arrange by wiring' }).click();
    await expect.poll(() => page.getByRole('alert').count()).toBe(0);
    await page.getByLabel('Filter').fill('');
    await page.getByRole('button', { name: 'Another key for Select all' }).click();
    await press(page, 'x', 'Enter');
    await page.getByRole('button', { name: 'Take X off Select all' }).waitFor();
    const again = await browser.sit('lead');
    await openReef(again.page);
    await press(again.page, 'x');
    await expect.poll(async () => (await selectionOf(again.page)).length).toBe(2266);
    await press(again.page, 's', 'n');
    await press(again.page, 'b', 'k');
    await again.page.getByLabel('Shortcuts of one and two keys are on').uncheck();
    await again.page.keyboard.press('Escape');
    await graph(again.page).focus();
    await settle(again.page, 300);
    await press(again.page, 's', 'a', 'x');
    expect(await selectionOf(again.page)).toEqual([]);
    // what has a modifier goes on working
    await press(again.page, 'Control+a');
    await expect.poll(async () => (await selectionOf(again.page)).length).toBe(2266);
    await again.page.goto(`${address()}/shortcuts`);
    await again.page.getByLabel('Shortcuts of one and two keys are on').check();
    await again.page.getByRole('button', { name: 'All as usual' }).click();
    await expect.poll(() => again.page.getByRole('button', { name: 'Take X off Select all' }).count()).toBe(0);
  });
});
