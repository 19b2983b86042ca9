import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import { centreOf, dragBy, idOf, nodeCalled, openFile, type Place, portAt, rectOf, selectionOf, settle, setView, sourceOf, useBrowser } from './testing/browser.ts';

// every act of wiring on a demo file, by mouse and by keyboard; nothing here is saved

const browser = useBrowser();
const graph = (page: Page) => page.getByRole('region', { name: 'Graph' });
const keys = async (page: Page, ...pressed: string[]): Promise<void> => {
  for (const key of pressed) await page.keyboard.press(key);
};
const said = (page: Page, text: string | RegExp) => page.getByText(text).first().waitFor();

async function sit(): Promise<Page> {
  const { page } = await browser.sit('editor');
  await openFile(page, 'dome-blend');
  await setView(page, { x: 40, y: 60, zoom: 0.6 });
  await expect.poll(() => page.locator('.node').count()).toBeGreaterThan(15);
  return page;
}

/** Presses at one place, goes to another in steps, and looks before letting go where that is wanted. */
async function drag(page: Page, from: Place, to: Place, options: { modifiers?: ('Control' | 'Shift')[]; look?: () => Promise<void> } = {}): Promise<void> {
  for (const key of options.modifiers ?? []) await page.keyboard.down(key);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++) await page.mouse.move(from.x + ((to.x - from.x) * i) / 6, from.y + ((to.y - from.y) * i) / 6);
  await options.look?.();
  await page.mouse.up();
  for (const key of options.modifiers ?? []) await page.keyboard.up(key);
}

const out = async (page: Page, node: string, port: string): Promise<Place> => (await portAt(page, await idOf(page, node), port, 'out'))!;
const inp = async (page: Page, node: string, port: string): Promise<Place> => (await portAt(page, await idOf(page, node), port, 'in'))!;
const takes = async (page: Page, node: string, port: string): Promise<string | undefined> => sourceOf(page, await idOf(page, node), port);
const expectTakes = (page: Page, node: string, port: string, source: string | undefined) => expect.poll(() => takes(page, node, port)).toBe(source);

async function choose(page: Page, ...names: string[]): Promise<void> {
  for (const [i, name] of names.entries()) await nodeCalled(page, name).click({ position: { x: 30, y: 5 }, ...(i > 0 && { modifiers: ['Shift'] }) });
  expect(await selectionOf(page)).toHaveLength(names.length);
}

/** Adds a node by typing, at a place that is free. */
async function add(page: Page, title: string, at: Place): Promise<void> {
  await graph(page).focus();
  await keys(page, 'Escape', 'Escape');
  await page.mouse.move(at.x, at.y);
  await keys(page, 'i');
  await page.getByPlaceholder('Which kind of node?').fill(title);
  await page.getByRole('option', { name: title }).first().waitFor();
  await keys(page, 'Enter');
  await said(page, `Added ${title}.`);
  await nodeCalled(page, title.replaceAll(' ', '_')).waitFor();
  await closeValues(page);
}

/** The fields of a new node’s main parameters open by themselves, if it has any; Escape goes back to the canvas. */
async function closeValues(page: Page): Promise<void> {
  await settle(page, 200);
  const fields = page.getByRole('region', { name: /^Main parameters of/ });
  if ((await fields.count()) > 0) await fields.getByRole('button', { name: 'Done' }).click();
  await expect.poll(() => fields.count()).toBe(0);
}

async function undoAll(page: Page): Promise<void> {
  await graph(page).focus();
  for (let i = 0; i < 20 && (await page.getByText('Unsaved changes').count()) > 0; i++) await keys(page, 'Control+z');
  await said(page, 'Revision 1, saved');
}

const free = { x: 150, y: 600 };

describe('C1, C2: a wire in hand', () => {
  it('lights up what fits, says why the rest does not, counts what is outside, and is drawn in by the nearest', async () => {
    const page = await sit();
    const from = await out(page, 'Dome master 4K', 'image');
    const to = await inp(page, 'Blend_1', 'image');
    await setView(page, { x: 40, y: 60, zoom: 0.9 });
    const start = await out(page, 'Dome master 4K', 'image');
    await drag(
      page,
      start,
      { x: start.x + 60, y: start.y + 60 },
      {
        look: async () => {
          // the picture changes all over the window while the wire is held: marks of nodes that fit, and a veil over the others
          await settle(page, 200);
          expect(await page.getByRole('button', { name: 'Wire in hand: take, put down' }).getAttribute('aria-pressed')).toBe('true');
          await keys(page, 'Escape');
        },
      },
    );
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    // some way off the port, the wire still finds it; the wire that was there gives way, and that is said
    await drag(page, from, { x: to.x - 12, y: to.y - 8 });
    await said(page, 'Wired “Dome master 4K” to “Blend_1”.');
    await said(page, 'The wire from “Warp_1” gave way.');
    await expectTakes(page, 'Blend_1', 'image', 'Dome master 4K.image');
    await undoAll(page);
    await drag(page, await out(page, 'Dome master 4K', 'image'), await inp(page, 'Warp_1', 'map'));
    await said(page, '“map” takes map, “image” gives picture.');
  });

  it('carries the end of a wire from its input, and from either half of it; the wire stays the same', async () => {
    const page = await sit();
    await drag(page, await inp(page, 'Blend_1', 'image'), await inp(page, 'Blend_2', 'image'));
    await expectTakes(page, 'Blend_2', 'image', 'Warp_1.image');
    await expectTakes(page, 'Blend_1', 'image', undefined);
    await undoAll(page);
    // the half near its source: the other end stays
    const [a, b] = [await out(page, 'Warp_2', 'image'), await inp(page, 'Blend_2', 'image')];
    await drag(page, { x: a.x + (b.x - a.x) * 0.2, y: a.y }, await out(page, 'Warp_4', 'image'));
    await expectTakes(page, 'Blend_2', 'image', 'Warp_4.image');
    await undoAll(page);
  });

  it('connects body to body with Ctrl, and from a port to a body through a list of all ports that fit', async () => {
    const page = await sit();
    await drag(page, await centreOf(page, 'Overlap mask'), await centreOf(page, 'Blend_1'), { modifiers: ['Control'] });
    await expectTakes(page, 'Blend_1', 'mask', 'Overlap mask.mask');
    await undoAll(page);
    await add(page, 'Over', free);
    await drag(page, await out(page, 'Dome master 4K', 'image'), await centreOf(page, 'Over'));
    await page
      .getByRole('dialog', { name: 'Ports of Over that fit' })
      .getByRole('option', { name: /^under/ })
      .click();
    await expectTakes(page, 'Over', 'under', 'Dome master 4K.image');
    await undoAll(page);
  });

  it('wires a hidden port, which shows then, and a component, which opens', async () => {
    const page = await sit();
    await choose(page, 'Blend_1');
    await page.getByRole('complementary', { name: 'Inspector' }).getByRole('combobox', { name: 'Ports' }).selectOption('some');
    await expect.poll(async () => portAt(page, await idOf(page, 'Blend_1'), 'mask', 'in')).toBeUndefined();
    await drag(page, await out(page, 'Overlap mask', 'mask'), await centreOf(page, 'Blend_1'));
    await expectTakes(page, 'Blend_1', 'mask', 'Overlap mask.mask');
    expect(await portAt(page, await idOf(page, 'Blend_1'), 'mask', 'in')).toBeDefined();
    await undoAll(page);
    await add(page, 'Colour', { x: 120, y: 560 });
    await add(page, 'Mix values', { x: 320, y: 620 });
    // C15: what does not fit is offered with what would make it
    await drag(page, await out(page, 'Colour', 'colour'), await inp(page, 'Mix_values', 'a'));
    const offer = page.getByRole('dialog', { name: 'That does not fit as it is' });
    await offer.getByText('“a” takes number, “colour” gives colour').waitFor();
    await offer.getByRole('button', { name: 'Take g of “colour”' }).click();
    await expectTakes(page, 'Mix_values', 'a', 'Colour.colour.g');
    expect(await portAt(page, await idOf(page, 'Colour'), 'colour.g', 'out')).toBeDefined();
    // by key: all components open, and those that are not wired close
    await choose(page, 'Colour');
    await keys(page, 'w', 'd');
    await expect.poll(async () => portAt(page, await idOf(page, 'Colour'), 'colour.r', 'out')).toBeDefined();
    await keys(page, 'w', 'd');
    await expect.poll(async () => portAt(page, await idOf(page, 'Colour'), 'colour.r', 'out')).toBeUndefined();
    await undoAll(page);
  });

  it('let go over the ground lists the kinds that fit, or makes the only one; an end of a wire can be taken away there', async () => {
    const page = await sit();
    await drag(page, await out(page, 'Dome master 4K', 'image'), free);
    await page.getByPlaceholder('What takes “image” of Dome master 4K?').fill('glow');
    await keys(page, 'Enter');
    await expectTakes(page, 'Glow', 'image', 'Dome master 4K.image');
    await closeValues(page);
    await undoAll(page);
    await add(page, 'Dome camera', free);
    await drag(page, await out(page, 'Dome_camera', 'camera'), { x: 420, y: 640 });
    await said(page, 'Added Render.');
    await expectTakes(page, 'Render', 'camera', 'Dome_camera.camera');
    await closeValues(page);
    await drag(page, await inp(page, 'Blend_3', 'image'), { x: 120, y: 120 });
    await page.getByRole('option', { name: /Take the wire away/ }).click();
    await expectTakes(page, 'Blend_3', 'image', undefined);
    await undoAll(page);
  });
});

describe('C3, C4: add, insert, pull out, delete', () => {
  it('adds in line by typing, with its main parameters typed on the canvas; alongside by a switch; recent kinds first', async () => {
    const page = await sit();
    await choose(page, 'HouseGrade');
    await keys(page, 'i');
    await page.getByPlaceholder('What goes behind HouseGrade?').fill('glow');
    await keys(page, 'Enter');
    await expectTakes(page, 'Glow', 'image', 'HouseGrade.image');
    await expectTakes(page, 'Warp_1', 'image', 'Glow.image');
    const fields = page.getByRole('region', { name: 'Main parameters of Glow' });
    await expect.poll(() => fields.getByLabel('Threshold').evaluate((field) => field === document.activeElement)).toBe(true);
    await page.keyboard.type('1.5');
    await keys(page, 'Tab', 'Escape');
    await said(page, 'Set threshold of 1 node.');
    await expect.poll(() => fields.count()).toBe(0);
    await choose(page, 'HouseGrade');
    await page.getByRole('button', { name: 'Add a node' }).click();
    const dialog = page.getByRole('dialog', { name: 'Add a node' });
    await expect.poll(() => dialog.getByRole('option').first().textContent()).toContain('Glow');
    await dialog.getByRole('radio', { name: 'Alongside' }).click();
    await dialog.getByRole('option', { name: /^.*Blur/ }).click();
    await expectTakes(page, 'Blur', 'image', 'HouseGrade.image');
    await expectTakes(page, 'Warp_1', 'image', 'Glow.image');
    await closeValues(page);
    await undoAll(page);
    // which output it takes from is stepped through
    await choose(page, 'Dome master 4K');
    await keys(page, 'w', 'm', 'Alt+ArrowRight');
    await dialog.getByText('alpha').waitFor();
    await page.getByPlaceholder(/^What goes behind/).fill('edge blend');
    await dialog.getByRole('option', { name: 'Edge blend' }).waitFor();
    await keys(page, 'Enter');
    await expectTakes(page, 'Edge_blend', 'mask', 'Dome master 4K.alpha');
    await closeValues(page);
    await undoAll(page);
  });

  it('inserts a node that is dropped on a wire, heals when it is pulled out with Shift; the same by keys', async () => {
    const page = await sit();
    await add(page, 'Blur', free);
    const [a, b] = [await out(page, 'ReefTilt', 'image'), await inp(page, 'HouseGrade', 'image')];
    const grab = await centreOf(page, 'Blur');
    const rect = await rectOf(page, await idOf(page, 'Blur'));
    const goal = { x: (a.x + b.x) / 2 + (grab.x - rect.x - rect.width / 2), y: (a.y + b.y) / 2 + (grab.y - rect.y - rect.height / 2) };
    await drag(page, grab, goal);
    await said(page, 'Put “Blur” into the wire of “ReefTilt”.');
    await expectTakes(page, 'HouseGrade', 'image', 'Blur.image');
    await expectTakes(page, 'Blur', 'image', 'ReefTilt.image');
    const there = await centreOf(page, 'Blur');
    await page.mouse.move(there.x, there.y);
    await page.mouse.down();
    await page.mouse.move(there.x + 20, there.y + 20);
    await page.keyboard.down('Shift');
    await page.mouse.move(free.x, free.y, { steps: 5 });
    await page.mouse.up();
    await page.keyboard.up('Shift');
    await said(page, 'Pulled 1 node out of the wires.');
    await expectTakes(page, 'HouseGrade', 'image', 'ReefTilt.image');
    // by keys: the wire into HouseGrade is selected with a click on it
    await choose(page, 'Blur');
    await page.keyboard.down('Shift');
    await page.mouse.click(a.x + 15, a.y);
    await page.keyboard.up('Shift');
    expect(await selectionOf(page)).toHaveLength(2);
    await keys(page, 'w', 'i');
    await expectTakes(page, 'HouseGrade', 'image', 'Blur.image');
    await keys(page, 'w', 'p');
    await expectTakes(page, 'HouseGrade', 'image', 'ReefTilt.image');
    await undoAll(page);
  });

  it('deletes with healing; where something would be lost it is shown by name first, and undone', async () => {
    const page = await sit();
    await choose(page, 'WarpMap_1');
    await keys(page, 'Delete');
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('Input “map” of “Warp_1” is open now, since nothing passes for it.').waitFor();
    await preview.getByText('Function fingerprint: changed').waitFor();
    await keys(page, 'Enter');
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await choose(page, 'Warp_2');
    await keys(page, 'Shift+Delete');
    await expectTakes(page, 'Blend_2', 'image', undefined);
    await undoAll(page);
    await expectTakes(page, 'Warp_1', 'map', 'WarpMap_1.map');
  });
});

describe('C3: files that are dropped', () => {
  it('set the path of a node, found by name in the asset store; of several the person chooses; on the ground they make the node that reads them', async () => {
    const page = await sit();
    const drop = (name: string, at: Place) =>
      page.evaluate(
        ([file, x, y]) => {
          const data = new DataTransfer();
          data.items.add(new File(['x'], file as string));
          const event = { bubbles: true, cancelable: true, clientX: x as number, clientY: y as number, dataTransfer: data };
          for (const type of ['dragover', 'drop']) document.querySelector('[data-canvas]')!.dispatchEvent(new DragEvent(type, event));
        },
        [name, at.x, at.y] as const,
      );
    const file = page.getByRole('complementary', { name: 'Inspector' }).getByLabel(/^File/);
    await choose(page, 'WarpMap_2');
    await drop('projector_4.map', await centreOf(page, 'WarpMap_2'));
    await expect.poll(() => file.inputValue()).toBe('survey/dome/projector_4.map');
    await drop('reef_20cm.map', await centreOf(page, 'WarpMap_2'));
    await page.getByRole('dialog', { name: 'Which “reef_20cm.map”?' }).getByRole('option', { name: 'survey/reef_20cm.map' }).click();
    await expect.poll(() => file.inputValue()).toBe('survey/reef_20cm.map');
    await drop('nowhere.map', await centreOf(page, 'WarpMap_2'));
    await said(page, 'The asset store has no “nowhere.map”');
    await drop('rn0020.geo', free);
    await page.getByRole('option', { name: 'cache/kelp/rn0020.geo' }).click();
    await nodeCalled(page, 'Read_geometry').waitFor();
    await expect.poll(() => file.inputValue()).toBe('cache/kelp/rn0020.geo');
    await drop('projector_1.map', await centreOf(page, 'HouseGrade'));
    await said(page, '“HouseGrade” takes no file');
    await undoAll(page);
  });
});

describe('C5 to C9: rewire', () => {
  it('swaps inputs, replaces the kind with what fits, and lists what does not', async () => {
    const page = await sit();
    await add(page, 'Over', free);
    await drag(page, await out(page, 'Dome master 4K', 'image'), await inp(page, 'Over', 'over'));
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await choose(page, 'Over');
    await keys(page, 'w', 's');
    await expectTakes(page, 'Over', 'under', 'Dome master 4K.image');
    await keys(page, 'w', '2');
    const dialog = page.getByRole('dialog', { name: 'Swap inputs' });
    await dialog.getByRole('combobox', { name: 'Input' }).selectOption('over');
    await dialog.getByRole('combobox', { name: 'With' }).selectOption('under');
    await keys(page, 'Enter');
    await dialog.getByRole('button', { name: 'Swap inputs' }).click();
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await undoAll(page);
    await choose(page, 'Warp_2');
    await keys(page, 'w', 'k');
    await page.getByRole('dialog', { name: 'Replace the kind' }).getByRole('combobox').selectOption({ label: 'Dome tilt' });
    await page.getByRole('button', { name: 'Show what it does' }).click();
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('The wire from “WarpMap_2” into “map” of “Warp_2” could not be kept.').waitFor();
    await preview.getByText('Function fingerprint: changed').waitFor();
    await keys(page, 'Enter');
    await expectTakes(page, 'Blend_2', 'image', 'Warp_2.image');
    await expectTakes(page, 'Warp_2', 'image', 'HouseGrade.image');
    await page.getByRole('group', { name: /^Warp_2, Dome tilt/ }).waitFor();
    await undoAll(page);
  });

  it('re-sources all that an output feeds by dragging it off with Shift, and chosen consumers by key', async () => {
    const page = await sit();
    const preview = page.getByRole('region', { name: 'Preview' });
    await drag(page, await out(page, 'HouseGrade', 'image'), await out(page, 'ReefTilt', 'image'), { modifiers: ['Shift'] });
    await preview.getByText('Moved 4 wires from “HouseGrade” to “ReefTilt”.').waitFor();
    await keys(page, 'Enter');
    await expectTakes(page, 'Warp_3', 'image', 'ReefTilt.image');
    await undoAll(page);
    await choose(page, 'HouseGrade', 'Warp_1', 'Warp_3', 'ReefTilt');
    await keys(page, 'w', 'o');
    await preview.getByText('Moved 2 wires from “HouseGrade” to “ReefTilt”.').waitFor();
    await keys(page, 'Enter');
    await expectTakes(page, 'Warp_1', 'image', 'ReefTilt.image');
    await expectTakes(page, 'Warp_2', 'image', 'HouseGrade.image');
    await undoAll(page);
  });

  it('connects the selected step by step, all at once, and in place of others', async () => {
    const page = await sit();
    await add(page, 'Over', free);
    await choose(page, 'Dome master 4K', 'Over');
    await keys(page, 'w', 'c');
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await expectTakes(page, 'Over', 'under', undefined);
    await keys(page, 'w', 'c');
    await expectTakes(page, 'Over', 'mask', 'Dome master 4K.alpha');
    await keys(page, 'Control+z', 'Control+z', 'w', 'a');
    await expectTakes(page, 'Over', 'mask', 'Dome master 4K.alpha');
    await choose(page, 'ReefTilt', 'Blend_1');
    await keys(page, 'w', 'f');
    await expectTakes(page, 'Blend_1', 'image', 'ReefTilt.image');
    await said(page, 'The wire from “Warp_1” into “image” gave way.');
    await undoAll(page);
  });

  it('takes an end in hand, goes elsewhere by find, steps through what fits, and puts it down; by click as well', async () => {
    const page = await sit();
    await choose(page, 'Overlap mask');
    await keys(page, 'h');
    const bar = page.getByRole('region', { name: 'Wire in hand' });
    await bar.getByText('In hand: mask of Overlap mask.').waitFor();
    await keys(page, '/');
    await page.getByPlaceholder(/^Part of a name/).fill('Blend_4');
    await page.getByRole('option').first().waitFor();
    await keys(page, 'Enter');
    await expect.poll(() => selectionOf(page)).toEqual([await idOf(page, 'Blend_4')]);
    await keys(page, 'h');
    await expectTakes(page, 'Blend_4', 'mask', 'Overlap mask.mask');
    expect(await bar.count()).toBe(0);
    // the other end of a node, the next that fits, and a click on a port
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    await choose(page, 'Dome master 4K');
    await keys(page, 'h', 'w', '.');
    await bar.getByText('In hand: alpha of Dome master 4K.').waitFor();
    await keys(page, 'w', ',');
    await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    const port = await inp(page, 'Blend_1', 'mask');
    await page.mouse.click(port.x, port.y);
    await expectTakes(page, 'Blend_1', 'mask', 'Dome master 4K.alpha');
    // let go again: nothing is changed
    await choose(page, 'ReefTilt');
    await keys(page, 'h', 'Escape');
    expect(await bar.count()).toBe(0);
    await undoAll(page);
  });

  it('carries a wire into a nested graph: ports are made on the way, and it is one undo', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'reef-night');
    const find = async (name: string): Promise<void> => {
      await keys(page, '/');
      await page.getByPlaceholder(/^Part of a name/).fill(name);
      await page.getByRole('option').first().waitFor();
      await keys(page, 'Enter');
      await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
      await settle(page, 300);
    };
    await find('RN0010_Seabed_Render');
    await keys(page, 'h');
    await page.getByText(/^In hand/).waitFor();
    await find('RN0010_DomeFinish');
    await keys(page, 'g', 'e');
    await page.getByRole('heading', { level: 1, name: 'RN0010_DomeFinish' }).waitFor();
    await settle(page);
    await nodeCalled(page, 'RimMatte').waitFor();
    // a click puts down what is carried
    await nodeCalled(page, 'RimMatte').click({ position: { x: 40, y: 5 } });
    await said(page, /Wired “RN0010_Seabed_Render” to “RimMatte”/);
    await expect.poll(() => takes(page, 'RimMatte', 'image')).toBe('RN0010_Seabed_Render.out');
    await keys(page, 'Control+z');
    await said(page, 'Revision 1, saved');
  });
});

describe('C10 to C13: strokes, duplicates, bypass, reroute points', () => {
  it('cuts, puts reroute points and joins by drawn lines; by key on what is selected', async () => {
    const page = await sit();
    const [a, b] = [await out(page, 'WarpMap_1', 'map'), await inp(page, 'Warp_1', 'map')];
    const stroke = async (): Promise<void> => {
      // across both wires that come into Warp_1, and nothing else
      await drag(page, { x: b.x - 14, y: b.y - 26 }, { x: b.x - 14, y: b.y + 14 });
    };
    await keys(page, 'w', 'x');
    await stroke();
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await expectTakes(page, 'Warp_1', 'image', undefined);
    await said(page, 'Cut 2 wires.');
    await keys(page, 'Escape');
    await undoAll(page);
    await settle(page);
    await keys(page, 'w', 'r');
    await stroke();
    await said(page, 'Put 2 reroute points on the wires.');
    await expectTakes(page, 'Warp_1', 'map', 'Point2.out');
    await keys(page, 'Escape');
    await undoAll(page);
    await add(page, 'Over', free);
    await add(page, 'Blur', { x: free.x + 160, y: free.y });
    await keys(page, 'w', 'j');
    const [over, blur] = [await rectOf(page, await idOf(page, 'Over')), await rectOf(page, await idOf(page, 'Blur'))];
    await drag(page, { x: over.x + 5, y: over.y + 5 }, { x: blur.x + blur.width - 5, y: blur.y + 20 });
    await expectTakes(page, 'Blur', 'image', 'Over.image');
    await keys(page, 'Escape');
    await choose(page, 'WarpMap_1', 'Warp_1');
    await keys(page, 'w', 'w');
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await undoAll(page);
    expect(a.x).toBeLessThan(b.x);
  });

  it('duplicates with and without wires, cuts, and pastes with the wires that came in', async () => {
    const page = await sit();
    await choose(page, 'Warp_1');
    await keys(page, 'Control+d');
    await expectTakes(page, 'Warp_5', 'map', 'WarpMap_1.map');
    await undoAll(page);
    await choose(page, 'Warp_1');
    await keys(page, 'Control+Shift+d');
    await nodeCalled(page, 'Warp_5').waitFor();
    await expectTakes(page, 'Warp_5', 'map', undefined);
    await undoAll(page);
    await choose(page, 'Warp_1');
    await keys(page, 'Control+c');
    await said(page, 'Copied 1 selected.');
    await page.mouse.move(free.x, free.y);
    await keys(page, 'Control+Shift+v');
    await nodeCalled(page, 'Warp_5').waitFor();
    await expectTakes(page, 'Warp_5', 'map', 'WarpMap_1.map');
    expect(await rectOf(page, await idOf(page, 'Warp_5'))).not.toEqual(await rectOf(page, await idOf(page, 'Warp_1')));
    await undoAll(page);
    await choose(page, 'HouseGrade');
    await keys(page, 'Control+x');
    await expectTakes(page, 'Warp_1', 'image', 'ReefTilt.image');
    await keys(page, 'Control+v');
    await nodeCalled(page, 'HouseGrade').waitFor();
    await expectTakes(page, 'HouseGrade', 'image', undefined);
    await undoAll(page);
  });

  it('bypasses nodes and says which input passes, and switches wires off and on', async () => {
    const page = await sit();
    await choose(page, 'HouseGrade');
    await page.getByRole('button', { name: 'Bypass' }).click();
    await page.getByRole('group', { name: /^HouseGrade, Grade, bypassed, passes image/ }).waitFor();
    await said(page, '“HouseGrade” passes “image” for “image”.');
    await graph(page).focus();
    await keys(page, 'w', 'b');
    await page.getByRole('group', { name: /^HouseGrade, Grade(, selected)?$/ }).waitFor();
    await choose(page, 'Projector_1');
    await keys(page, 'w', 'b');
    await said(page, '“Projector_1” is no end any more.');
    await choose(page, 'WarpMap_1', 'Warp_1');
    await keys(page, 'w', 'q');
    await expectTakes(page, 'Warp_1', 'map', 'WarpMap_1.map off');
    await keys(page, 'w', 'q');
    await expectTakes(page, 'Warp_1', 'map', 'WarpMap_1.map');
    await undoAll(page);
  });

  it('puts reroute points on wires and outputs, larger, labelled, dragged, and split off from', async () => {
    const page = await sit();
    await choose(page, 'ReefTilt', 'HouseGrade');
    await keys(page, 'w', 't');
    await expectTakes(page, 'HouseGrade', 'image', 'Point.out');
    await keys(page, 'w', 'z');
    await page.getByRole('dialog', { name: 'Size of reroute points' }).getByRole('button', { name: 'Size of reroute points' }).click();
    await expect.poll(async () => Math.round((await rectOf(page, await idOf(page, 'Point'))).width)).toBe(Math.round(24 * 0.6));
    const before = await inp(page, 'Point', 'in');
    await dragBy(page, await middle(page, 'Point'), 0, 60);
    await expect.poll(async () => Math.round((await inp(page, 'Point', 'in')).y - before.y)).toBeGreaterThan(40);
    await expectTakes(page, 'HouseGrade', 'image', 'Point.out');
    await drag(page, await out(page, 'Point', 'out'), await inp(page, 'Blend_1', 'image'));
    await expectTakes(page, 'Blend_1', 'image', 'Point.out');
    await undoAll(page);
    await choose(page, 'HouseGrade');
    await keys(page, 'w', 'u');
    const dialog = page.getByRole('dialog', { name: 'Reroute points on outputs' });
    await dialog.getByRole('combobox', { name: 'Outputs' }).selectOption('wired');
    await dialog.getByRole('button', { name: 'Reroute points on outputs' }).click();
    await expectTakes(page, 'Warp_4', 'image', 'Point.out');
    await keys(page, 'e', 'l');
    await page.getByRole('dialog', { name: 'Label' }).getByLabel('Label').fill('To the dome');
    await keys(page, 'Enter');
    await page.getByRole('group', { name: /^To the dome, Reroute point/ }).waitFor();
    await choose(page, 'Warp_4');
    await keys(page, 'w', 't');
    // the new ones take the label of the one upstream
    await expect.poll(() => page.locator('.node').filter({ hasText: 'To the dome' }).count()).toBe(2);
    await undoAll(page);
  });
});

describe('C15 to C17: conversions, clear out, share', () => {
  it('connects with a conversion by key, through a node that brings its wires', async () => {
    const page = await sit();
    await add(page, 'Whole number', free);
    await add(page, 'Mix values', { x: 420, y: 620 });
    await choose(page, 'Whole_number', 'Mix_values');
    await keys(page, 'w', 'g');
    await page.getByRole('button', { name: 'Through “Whole to number”' }).click();
    await expectTakes(page, 'Mix_values', 'a', 'Whole_to_number.value');
    await expectTakes(page, 'Whole_to_number', 'value', 'Whole_number.value');
    await undoAll(page);
  });

  it('clears out what no output depends on, after showing it, with the ends the same', async () => {
    const page = await sit();
    await keys(page, 'w', 'l');
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('“black2” (Black level lift) goes.').waitFor();
    await preview.getByText('Function fingerprint: same at the ends, changed elsewhere').waitFor();
    await keys(page, 'Enter');
    await expect.poll(() => nodeCalled(page, 'Overlap mask').count()).toBe(0);
    await undoAll(page);
    await nodeCalled(page, 'Overlap mask').waitFor();
  });

  it('shares a value of several nodes from a node of its own, chosen from what can be shared', async () => {
    const page = await sit();
    await choose(page, 'Blend_1', 'Blend_2');
    await keys(page, 'w', 'v');
    const dialog = page.getByRole('dialog', { name: 'Share a value' });
    await dialog.getByRole('combobox', { name: 'Parameter' }).selectOption({ label: 'Width' });
    await dialog.getByRole('button', { name: 'Share a value' }).click();
    await page.getByRole('group', { name: /^Width, Number/ }).waitFor();
    await choose(page, 'Blend_2');
    await page.getByRole('complementary', { name: 'Inspector' }).getByText('expression').waitFor();
    await undoAll(page);
  });
});

async function middle(page: Page, name: string): Promise<Place> {
  const rect = await rectOf(page, await idOf(page, name));
  return { x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 };
}
