import { describe, expect, it } from 'vitest';
import {
  dragBy,
  graph,
  idOf,
  nodeCalled,
  openFile,
  pick,
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
  drag,
  expectTakes,
  free,
  inp,
  middle,
  openDome,
  out,
  said,
  takes,
  undoAll,
} from './testing/wiring.ts';

// each act by mouse and by keyboard

const browser = useBrowser();
const sit = async () => openDome((await browser.sit('editor')).page);

describe('C5 to C9: rewire', () => {
  it('swaps inputs, replaces the kind with what fits, and lists what does not', async () => {
    const page = await sit();
    await add(page, 'Over', free);
    await drag(page, await out(page, 'Dome master 4K', 'image'), await inp(page, 'Over', 'over'));
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await choose(page, 'Over');
    await press(page, 'w', 's');
    await expectTakes(page, 'Over', 'under', 'Dome master 4K.image');
    await press(page, 'w', '2');
    const dialog = page.getByRole('dialog', { name: 'Swap inputs' });
    await dialog.getByRole('combobox', { name: 'Input' }).selectOption('over');
    await dialog.getByRole('combobox', { name: 'With' }).selectOption('under');
    await press(page, 'Enter');
    await dialog.getByRole('button', { name: 'Swap inputs' }).click();
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await undoAll(page);
    await choose(page, 'Warp_2');
    await press(page, 'w', 'k');
    await pick(page.getByRole('dialog', { name: 'Replace the kind' }).getByRole('combobox'), 'Dome tilt');
    await page.getByRole('button', { name: 'Show what it does' }).click();
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('The wire from “WarpMap_2” into “map” of “Warp_2” could not be kept.').waitFor();
    await preview.getByText('Function fingerprint: changed').waitFor();
    await press(page, 'Enter');
    await expectTakes(page, 'Blend_2', 'image', 'Warp_2.image');
    await expectTakes(page, 'Warp_2', 'image', 'HouseGrade.image');
    await page.getByRole('group', { name: /^Warp_2, Dome tilt/ }).waitFor();
    await undoAll(page);
  });

  it('re-sources all that an output feeds by dragging it off with Shift, and chosen consumers by key', async () => {
    const page = await sit();
    const preview = page.getByRole('region', { name: 'Preview' });
    await drag(page, await out(page, 'HouseGrade', 'image'), await out(page, 'ReefTilt', 'image'), {
      modifiers: ['Shift'],
    });
    await preview.getByText('Moved 4 wires from “HouseGrade” to “ReefTilt”.').waitFor();
    await press(page, 'Enter');
    await expectTakes(page, 'Warp_3', 'image', 'ReefTilt.image');
    await undoAll(page);
    await choose(page, 'HouseGrade', 'Warp_1', 'Warp_3', 'ReefTilt');
    await press(page, 'w', 'o');
    await preview.getByText('Moved 2 wires from “HouseGrade” to “ReefTilt”.').waitFor();
    await press(page, 'Enter');
    await expectTakes(page, 'Warp_1', 'image', 'ReefTilt.image');
    await expectTakes(page, 'Warp_2', 'image', 'HouseGrade.image');
    await undoAll(page);
  });

  it('connects the selected step by step, all at once, and in place of others', async () => {
    const page = await sit();
    await add(page, 'Over', free);
    await choose(page, 'Dome master 4K', 'Over');
    await press(page, 'w', 'c');
    await expectTakes(page, 'Over', 'over', 'Dome master 4K.image');
    await expectTakes(page, 'Over', 'under', undefined);
    await press(page, 'w', 'c');
    await expectTakes(page, 'Over', 'mask', 'Dome master 4K.alpha');
    await press(page, 'Control+z', 'Control+z', 'w', 'a');
    await expectTakes(page, 'Over', 'mask', 'Dome master 4K.alpha');
    await choose(page, 'ReefTilt', 'Blend_1');
    await press(page, 'w', 'f');
    await expectTakes(page, 'Blend_1', 'image', 'ReefTilt.image');
    await said(page, 'The wire from “Warp_1” into “image” gave way.');
    await undoAll(page);
  });

  it('takes an end in hand, goes elsewhere by find, steps through what fits, and puts it down; by click as well', async () => {
    const page = await sit();
    await choose(page, 'Overlap mask');
    await press(page, 'h');
    const bar = page.getByRole('region', { name: 'Wire in hand' });
    await bar.getByText('In hand: mask of Overlap mask.').waitFor();
    await press(page, '/');
    await page.getByPlaceholder(/^Part of a name/).fill('Blend_4');
    await page.getByRole('option').first().waitFor();
    await press(page, 'Enter');
    await expect.poll(() => selectionOf(page)).toEqual([await idOf(page, 'Blend_4')]);
    await press(page, 'h');
    await expectTakes(page, 'Blend_4', 'mask', 'Overlap mask.mask');
    expect(await bar.count()).toBe(0);
    // the other end of a node, the next that fits, and a click on a port
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    await choose(page, 'Dome master 4K');
    await press(page, 'h', 'w', '.');
    await bar.getByText('In hand: alpha of Dome master 4K.').waitFor();
    await press(page, 'w', ',');
    await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    const port = await inp(page, 'Blend_1', 'mask');
    await page.mouse.click(port.x, port.y);
    await expectTakes(page, 'Blend_1', 'mask', 'Dome master 4K.alpha');
    // let go again: nothing is changed
    await choose(page, 'ReefTilt');
    await press(page, 'h', 'Escape');
    expect(await bar.count()).toBe(0);
    await undoAll(page);
  });

  it('carries a wire into a nested graph: ports are made on the way, and it is one undo', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'reef-night');
    const find = async (name: string): Promise<void> => {
      await press(page, '/');
      await page.getByPlaceholder(/^Part of a name/).fill(name);
      await page.getByRole('option').first().waitFor();
      await press(page, 'Enter');
      await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
      await settle(page, 300);
    };
    await find('RN0010_Seabed_Render');
    await press(page, 'h');
    await page.getByText(/^In hand/).waitFor();
    await find('RN0010_DomeFinish');
    await press(page, 'g', 'e');
    await page.getByRole('heading', { level: 1, name: 'RN0010_DomeFinish' }).waitFor();
    await settle(page);
    await nodeCalled(page, 'RimMatte').waitFor();
    // a click puts down what is carried
    await nodeCalled(page, 'RimMatte').click({ position: { x: 40, y: 5 } });
    await said(page, /Wired “RN0010_Seabed_Render” to “RimMatte”/);
    await expect.poll(() => takes(page, 'RimMatte', 'image')).toBe('RN0010_Seabed_Render.out');
    await press(page, 'Control+z');
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
    await press(page, 'w', 'x');
    await stroke();
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await expectTakes(page, 'Warp_1', 'image', undefined);
    await said(page, 'Cut 2 wires.');
    await press(page, 'Escape');
    await undoAll(page);
    await settle(page);
    await press(page, 'w', 'r');
    await stroke();
    await said(page, 'Put 2 reroute points on the wires.');
    await expectTakes(page, 'Warp_1', 'map', 'Point2.out');
    await press(page, 'Escape');
    await undoAll(page);
    await add(page, 'Over', free);
    await add(page, 'Blur', { x: free.x + 160, y: free.y });
    await press(page, 'w', 'j');
    const [over, blur] = [await rectOf(page, await idOf(page, 'Over')), await rectOf(page, await idOf(page, 'Blur'))];
    await drag(page, { x: over.x + 5, y: over.y + 5 }, { x: blur.x + blur.width - 5, y: blur.y + 20 });
    await expectTakes(page, 'Blur', 'image', 'Over.image');
    await press(page, 'Escape');
    await choose(page, 'WarpMap_1', 'Warp_1');
    await press(page, 'w', 'w');
    await expectTakes(page, 'Warp_1', 'map', undefined);
    await undoAll(page);
    expect(a.x).toBeLessThan(b.x);
  });

  it('duplicates with and without wires, cuts, and pastes with the wires that came in', async () => {
    const page = await sit();
    await choose(page, 'Warp_1');
    await press(page, 'Control+d');
    await expectTakes(page, 'Warp_5', 'map', 'WarpMap_1.map');
    await undoAll(page);
    await choose(page, 'Warp_1');
    await press(page, 'Control+Shift+d');
    await nodeCalled(page, 'Warp_5').waitFor();
    await expectTakes(page, 'Warp_5', 'map', undefined);
    await undoAll(page);
    await choose(page, 'Warp_1');
    await press(page, 'Control+c');
    await said(page, 'Copied 1 selected.');
    await page.mouse.move(free.x, free.y);
    await press(page, 'Control+Shift+v');
    await nodeCalled(page, 'Warp_5').waitFor();
    await expectTakes(page, 'Warp_5', 'map', 'WarpMap_1.map');
    expect(await rectOf(page, await idOf(page, 'Warp_5'))).not.toEqual(await rectOf(page, await idOf(page, 'Warp_1')));
    await undoAll(page);
    await choose(page, 'HouseGrade');
    await press(page, 'Control+x');
    await expectTakes(page, 'Warp_1', 'image', 'ReefTilt.image');
    await press(page, 'Control+v');
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
    await press(page, 'w', 'b');
    await page.getByRole('group', { name: /^HouseGrade, Grade(, selected)?$/ }).waitFor();
    await choose(page, 'Projector_1');
    await press(page, 'w', 'b');
    await said(page, 'The end “Projector_1” no longer computes anything.');
    await choose(page, 'WarpMap_1', 'Warp_1');
    await press(page, 'w', 'q');
    await expectTakes(page, 'Warp_1', 'map', 'WarpMap_1.map off');
    await press(page, 'w', 'q');
    await expectTakes(page, 'Warp_1', 'map', 'WarpMap_1.map');
    await undoAll(page);
  });

  it('puts reroute points on wires and outputs, larger, labelled, dragged, and split off from', async () => {
    const page = await sit();
    await choose(page, 'ReefTilt', 'HouseGrade');
    await press(page, 'w', 't');
    await expectTakes(page, 'HouseGrade', 'image', 'Point.out');
    await press(page, 'w', 'z');
    await page
      .getByRole('dialog', { name: 'Size of reroute points' })
      .getByRole('button', { name: 'Size of reroute points' })
      .click();
    await expect
      .poll(async () => Math.round((await rectOf(page, await idOf(page, 'Point'))).width))
      .toBe(Math.round(24 * 0.6));
    const before = await inp(page, 'Point', 'in');
    await dragBy(page, await middle(page, 'Point'), 0, 60);
    await expect.poll(async () => Math.round((await inp(page, 'Point', 'in')).y - before.y)).toBeGreaterThan(40);
    await expectTakes(page, 'HouseGrade', 'image', 'Point.out');
    await drag(page, await out(page, 'Point', 'out'), await inp(page, 'Blend_1', 'image'));
    await expectTakes(page, 'Blend_1', 'image', 'Point.out');
    await undoAll(page);
    await choose(page, 'HouseGrade');
    await press(page, 'w', 'u');
    const dialog = page.getByRole('dialog', { name: 'Reroute points on outputs' });
    await dialog.getByRole('combobox', { name: 'Outputs' }).selectOption('wired');
    await dialog.getByRole('button', { name: 'Reroute points on outputs' }).click();
    await expectTakes(page, 'Warp_4', 'image', 'Point.out');
    await press(page, 'e', 'l');
    await graph(page).getByLabel('Label', { exact: true }).fill('To the dome');
    await press(page, 'Enter');
    await page.getByRole('group', { name: /^To the dome, Reroute point/ }).waitFor();
    await choose(page, 'Warp_4');
    await press(page, 'w', 't');
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
    await press(page, 'w', 'g');
    await page.getByRole('button', { name: 'Through “Whole to number”' }).click();
    await expectTakes(page, 'Mix_values', 'a', 'Whole_to_number.value');
    await expectTakes(page, 'Whole_to_number', 'value', 'Whole_number.value');
    await undoAll(page);
  });

  it('clears out what no output depends on, after showing it, with the ends the same', async () => {
    const page = await sit();
    await press(page, 'w', 'l');
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('“black2” (Black level lift) goes.').waitFor();
    await preview.getByText('Function fingerprint: same at the ends, changed elsewhere').waitFor();
    await press(page, 'Enter');
    await expect.poll(() => nodeCalled(page, 'Overlap mask').count()).toBe(0);
    await undoAll(page);
    await nodeCalled(page, 'Overlap mask').waitFor();
  });

  it('shares a value of several nodes from a node of its own, chosen from what can be shared', async () => {
    const page = await sit();
    await choose(page, 'Blend_1', 'Blend_2');
    await press(page, 'w', 'v');
    const dialog = page.getByRole('dialog', { name: 'Share a value' });
    await dialog.getByRole('combobox', { name: 'Parameter' }).selectOption({ label: 'Width' });
    await dialog.getByRole('button', { name: 'Share a value' }).click();
    await page.getByRole('group', { name: /^Width, Number/ }).waitFor();
    await choose(page, 'Blend_2');
    await page.getByRole('complementary', { name: 'Inspector' }).getByText('expression').waitFor();
    await undoAll(page);
  });
});
