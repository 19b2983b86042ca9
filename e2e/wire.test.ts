import { describe, expect, it } from 'vitest';
import {
  centreOf,
  idOf,
  nodeCalled,
  type Place,
  portAt,
  press,
  rectOf,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';
import {
  add,
  choose,
  closeValues,
  drag,
  expectTakes,
  free,
  inp,
  openDome,
  out,
  said,
  undoAll,
} from './testing/wiring.ts';

// each act by mouse and by keyboard

const browser = useBrowser();
const sit = async () => openDome((await browser.sit('editor')).page);

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
          // the picture changes all over the window while the wire is held: marks of nodes that fit, and a veil over
          // the others
          await settle(page, 200);
          expect(
            await page.getByRole('button', { name: 'Wire in hand: take, put down' }).getAttribute('aria-pressed'),
          ).toBe('true');
          await press(page, 'Escape');
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
    await page
      .getByRole('complementary', { name: 'Inspector' })
      .getByRole('combobox', { name: 'Ports' })
      .selectOption('some');
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
    await press(page, 'w', 'd');
    await expect.poll(async () => portAt(page, await idOf(page, 'Colour'), 'colour.r', 'out')).toBeDefined();
    await press(page, 'w', 'd');
    await expect.poll(async () => portAt(page, await idOf(page, 'Colour'), 'colour.r', 'out')).toBeUndefined();
    await undoAll(page);
  });

  it('let go over the ground lists the kinds that fit, or makes the only one; an end of a wire can be taken away there', async () => {
    const page = await sit();
    await drag(page, await out(page, 'Dome master 4K', 'image'), free);
    await page.getByPlaceholder('What takes “image” of Dome master 4K?').fill('glow');
    await press(page, 'Enter');
    await expectTakes(page, 'Glow', 'image', 'Dome master 4K.image');
    await closeValues(page);
    await undoAll(page);
    await add(page, 'Dome camera', free);
    await drag(page, await out(page, 'Dome_camera', 'camera'), { x: 420, y: 640 });
    await said(page, /^Added Render[.;]/);
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
    await press(page, 'i');
    await page.getByPlaceholder('What goes behind HouseGrade?').fill('glow');
    await press(page, 'Enter');
    await expectTakes(page, 'Glow', 'image', 'HouseGrade.image');
    await expectTakes(page, 'Warp_1', 'image', 'Glow.image');
    const fields = page.getByRole('region', { name: 'Main parameters of Glow' });
    await expect
      .poll(() => fields.getByLabel('Threshold', { exact: true }).evaluate((field) => field === document.activeElement))
      .toBe(true);
    await page.keyboard.type('1.5');
    await press(page, 'Tab', 'Escape');
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
    await press(page, 'w', 'm', 'Alt+ArrowRight');
    await dialog.getByText('alpha').waitFor();
    await page.getByPlaceholder(/^What goes behind/).fill('edge blend');
    await dialog.getByRole('option', { name: 'Edge blend' }).waitFor();
    await press(page, 'Enter');
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
    const goal = {
      x: (a.x + b.x) / 2 + (grab.x - rect.x - rect.width / 2),
      y: (a.y + b.y) / 2 + (grab.y - rect.y - rect.height / 2),
    };
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
    await press(page, 'w', 'i');
    await expectTakes(page, 'HouseGrade', 'image', 'Blur.image');
    await press(page, 'w', 'p');
    await expectTakes(page, 'HouseGrade', 'image', 'ReefTilt.image');
    await undoAll(page);
  });

  it('deletes with healing; where something would be lost it is shown by name first, and undone', async () => {
    const page = await sit();
    await choose(page, 'WarpMap_1');
    await press(page, 'Delete');
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('Input “map” of “Warp_1” is open now: it took “WarpMap_1”.').waitFor();
    await preview.getByText('Function fingerprint: changed').waitFor();
    await press(page, 'Enter');
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await choose(page, 'Warp_2');
    await press(page, 'Shift+Delete');
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
          const event = {
            bubbles: true,
            cancelable: true,
            clientX: x as number,
            clientY: y as number,
            dataTransfer: data,
          };
          for (const type of ['dragover', 'drop'])
            document.querySelector('[data-canvas]')!.dispatchEvent(new DragEvent(type, event));
        },
        [name, at.x, at.y] as const,
      );
    const file = page.getByRole('complementary', { name: 'Inspector' }).getByLabel(/^File/);
    await choose(page, 'WarpMap_2');
    await drop('projector_4.map', await centreOf(page, 'WarpMap_2'));
    await expect.poll(() => file.inputValue()).toBe('survey/dome/projector_4.map');
    await drop('reef_20cm.map', await centreOf(page, 'WarpMap_2'));
    await page
      .getByRole('dialog', { name: 'Which “reef_20cm.map”?' })
      .getByRole('option', { name: 'survey/reef_20cm.map' })
      .click();
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
