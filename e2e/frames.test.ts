import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import {
  dragBy,
  graph,
  idOf,
  nodeCalled,
  press,
  rectOf,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';
import { findAndGo, inspector } from './testing/reef.ts';
import { choose, drag, expectTakes, inp, middle, openDome, out, said, undoAll } from './testing/wiring.ts';

const browser = useBrowser();
const dome = async (login = 'editor'): Promise<Page> => openDome((await browser.sit(login)).page);
const projectors = 'Projectors 1 to 4';

/** Selects a frame by what it is called, and goes on where the window was. */
async function chooseFrame(page: Page, title: string): Promise<string> {
  await graph(page).focus();
  await findAndGo(page, title);
  await setView(page, { x: 40, y: 60, zoom: 0.6 });
  await graph(page).focus();
  const [id] = await selectionOf(page);
  return id!;
}

describe('E1 and E2: frames', () => {
  it('are put around the selection by key, titled and noted in the inspector, put into one another, and undone', async () => {
    const page = await dome();
    await choose(page, 'Dome master 4K', 'ReefTilt');
    await press(page, 'f', 'f');
    await said(page, /^Framed 2 nodes as “/);
    const [inner] = await selectionOf(page);
    const panel = inspector(page);
    await panel.getByLabel('Title').fill('Master');
    await page.keyboard.press('Enter');
    await said(page, 'The frame is called “Master” now.');
    await panel.getByLabel('Note').fill('Read once, tilted for the seats.');
    await page.keyboard.press('Control+Enter');
    await said(page, 'Wrote a note on “Master”.');
    await choose(page, 'HouseGrade');
    await graph(page).focus();
    // all of both frames is selected, and more: they go into the new one as they are
    await press(page, 's', 'a', 'f', 'f');
    await said(page, /^Framed \d+ nodes and 2 frames as “/);
    expect(await selectionOf(page)).not.toContain(inner);
    await undoAll(page);
  });

  it('are joined and left by a drag with Ctrl, which says so before it happens, and never by a plain drag', async () => {
    const page = await dome();
    const goal = await middle(page, 'Warp_4');
    await drag(page, await middle(page, 'HouseGrade'), { x: goal.x, y: goal.y + 80 });
    await settle(page, 300);
    await choose(page, 'HouseGrade');
    await expect.poll(() => inspector(page).getByText('Frame with').count()).toBe(0);
    await press(page, 'f', 'l');
    await said(page, 'Leave the frame');
    await said(page, 'Nothing of the selection is in a frame.');
    await press(page, 'Control+z');
    const from = await middle(page, 'HouseGrade');
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await page.mouse.move(from.x + 40, from.y + 10);
    await page.keyboard.down('Control');
    await page.mouse.move(goal.x, goal.y + 70);
    await page.mouse.move(goal.x, goal.y + 80);
    await page.mouse.up();
    await page.keyboard.up('Control');
    await said(page, `Moved 1 node into “${projectors}”.`);
    await graph(page).focus();
    await press(page, 'f', 'l');
    await said(page, '1 thing left its frame.');
    await undoAll(page);
  });

  it('are resized by their handles, fitted, and parted by a distance', async () => {
    const page = await dome();
    await chooseFrame(page, projectors);
    const before = await rectOf(page, await idOf(page, 'Warp_1'));
    // the left edge of the frame lies at the least x of its members, less the margin
    const box = await graph(page).boundingBox();
    const map = await rectOf(page, await idOf(page, 'WarpMap_3'));
    const blend = await rectOf(page, await idOf(page, 'Warp_2'));
    const top = blend.y - 44 * 0.6;
    const low = (await rectOf(page, await idOf(page, 'WarpMap_3'))).y + map.height + 24 * 0.6;
    await dragBy(page, { x: map.x - 24 * 0.6, y: (top + low) / 2 }, -60, 0);
    await said(page, `Resized “${projectors}”.`);
    // what it holds stays where it is
    expect(await rectOf(page, await idOf(page, 'Warp_1'))).toEqual(before);
    expect(box).not.toBeNull();
    await press(page, 'f', 'b');
    await said(page, `It fits again: “${projectors}”.`);
    await press(page, 'f', '+');
    await said(page, `Brought to the front: “${projectors}”.`);
    await undoAll(page);
  });
});

describe('E3: folding', () => {
  it('draws a frame as a block whose ports still wire, moves it whole, and unfolds to the same picture', async () => {
    const page = await dome();
    const warp = await idOf(page, 'Warp_1');
    const before = await rectOf(page, warp);
    await chooseFrame(page, projectors);
    await press(page, 'f', 'o');
    await said(page, `Folded “${projectors}”.`);
    const block = nodeCalled(page, projectors);
    await block.waitFor();
    expect(await nodeCalled(page, 'Warp_1').count()).toBe(0);
    await settle(page);
    const rect = await rectOf(page, await idOf(page, projectors));
    await dragBy(page, { x: rect.x + rect.width / 2, y: rect.y + 10 }, 0, 60);
    await said(page, /^Moved \d+ items?\./);
    await page.keyboard.press('Control+z');
    await block.dblclick({ position: { x: 60, y: 10 } });
    await said(page, `Unfolded “${projectors}”.`);
    await nodeCalled(page, 'Warp_1').waitFor();
    // taking the focus moved the window
    await setView(page, { x: 40, y: 60, zoom: 0.6 });
    expect(await rectOf(page, warp)).toEqual(before);
    await undoAll(page);
  });

  it('lets a wire in hand end at a port inside, by the port of the block', async () => {
    const page = await dome();
    await chooseFrame(page, projectors);
    await press(page, 'f', 'o');
    await nodeCalled(page, projectors).waitFor();
    await settle(page);
    await expectTakes(page, 'Projector_1', 'image', 'Blend_1.image');
    const rect = await rectOf(page, await idOf(page, projectors));
    // the first output of the block is that of Blend_2, which lies highest
    await drag(page, { x: rect.x + rect.width, y: rect.y + (34 + 9) * 0.6 }, await inp(page, 'Projector_1', 'image'));
    await expectTakes(page, 'Projector_1', 'image', 'Blend_2.image');
    await undoAll(page);
  });
});

describe('proposing frames', () => {
  it('shows regions with titles, and frames one, under another title, or all after a preview', async () => {
    const page = await dome();
    await graph(page).focus();
    await press(page, 'f', 'p');
    const panel = page.getByRole('complementary', { name: 'Propose frames' });
    const titles = panel.getByLabel(/^Title of a region of/);
    await titles.first().waitFor();
    await titles.first().fill('What is read');
    await panel.getByRole('button', { name: 'Frame What is read' }).click();
    await page.getByRole('button', { name: 'Apply' }).click();
    await said(page, 'Framed 1 region.');
    await panel.getByRole('button', { name: 'Hide propose frames' }).click();
    await undoAll(page);
  });
});

describe('E4: notes and marks', () => {
  it('are written in place as Markdown, follow what they are tied to, and fold far out', async () => {
    const page = await dome();
    await choose(page, 'HouseGrade');
    await press(page, 'f', 'a');
    const field = page.getByLabel('Text of the note, as Markdown');
    await field.fill('## Grade\nFor the **house** screens.');
    await page.keyboard.press('Control+Enter');
    // the file brings a note of its own, and which stands first depends on their ids
    const note = page.getByRole('note').filter({ has: page.getByRole('heading', { name: 'Grade' }) });
    await note.waitFor();
    expect(await note.locator('strong').textContent()).toBe('house');
    const before = (await note.boundingBox())!;
    const at = await middle(page, 'HouseGrade');
    await dragBy(page, at, 60, 48);
    await said(page, /^Moved 1 item/);
    const after = (await note.boundingBox())!;
    expect([Math.round(after.x - before.x), Math.round(after.y - before.y)]).toEqual([60, 48]);
    // a double press writes it again; Escape gives it back as it was
    await page.mouse.dblclick(after.x + 30, after.y + 40);
    await field.fill('nothing of this stays');
    await page.keyboard.press('Escape');
    await note.waitFor();
    await choose(page, 'ReefTilt');
    await press(page, 'f', 'k');
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel(/^Mark/).selectOption('ring');
    await dialog.getByLabel(/^Words/).fill('check this');
    await dialog.getByRole('button', { name: 'Mark', exact: true }).click();
    await said(page, 'Drew a ring.');
    await inspector(page).getByText('Ring').waitFor();
    await setView(page, { x: 300, y: 300, zoom: 0.2 });
    expect(await page.getByRole('note').count()).toBe(0);
    await undoAll(page);
  });
});

describe('E5: names and labels', () => {
  it('are written in place by key; what is refused says why and stays', async () => {
    const page = await dome();
    await choose(page, 'HouseGrade');
    await press(page, 'e', 'n');
    const field = graph(page).getByLabel('Name', { exact: true });
    await field.fill('ReefTilt');
    await page.getByText('“ReefTilt” is taken by another node of this graph.').waitFor();
    await page.keyboard.press('Enter');
    expect(await field.inputValue()).toBe('ReefTilt');
    await field.fill('House_Look');
    await page.keyboard.press('Enter');
    await said(page, 'Renamed “HouseGrade” to “House_Look”.');
    await press(page, 'e', 'l');
    await graph(page).getByLabel('Label', { exact: true }).fill('Look of the house');
    await page.keyboard.press('Enter');
    await nodeCalled(page, 'Look of the house').waitFor();
    await undoAll(page);
  });

  it('are written for many at once, with each before and after, and what cannot be said', async () => {
    const page = await dome();
    await choose(page, 'Warp_1', 'Warp_2', 'Warp_3');
    await press(page, 'e', 'm');
    const dialog = page.getByRole('dialog', { name: 'Rename and relabel many' });
    await dialog.getByLabel('Write', { exact: true }).selectOption('name');
    await dialog.getByLabel('Find', { exact: true }).fill('^Warp_(\\d)$');
    await dialog.getByLabel('Regular expression').check();
    await dialog.getByLabel('Replace with').fill('Bend_$1');
    const table = dialog.getByRole('table', { name: 'Before and after' });
    await table.getByText('Bend_2').waitFor();
    await dialog.getByLabel('Find', { exact: true }).fill('^Warp_[23]$');
    await dialog.getByLabel('Replace with').fill('Blend_1');
    await expect.poll(() => table.getByText('“Blend_1” is taken by another node of this graph.').count()).toBe(2);
    await dialog.getByLabel('Find', { exact: true }).fill('Warp(');
    await dialog.getByText('The regular expression cannot be used').waitFor();
    await dialog.getByLabel('Find', { exact: true }).fill('Warp');
    await dialog.getByLabel('Replace with').fill('Bend');
    await dialog.getByRole('button', { name: 'Write 3' }).click();
    await said(page, 'Wrote 3 names; 0 others as before.');
    await nodeCalled(page, 'Bend_3').waitFor();
    await undoAll(page);
  });
});

describe('E7: named sets', () => {
  it('are made, hidden and shown, switched and selected', async () => {
    const page = await dome();
    await choose(page, 'Projector_1', 'Projector_2');
    await press(page, 's', 's');
    const panel = page.getByRole('complementary', { name: 'Sets' });
    await panel.getByLabel('Name of a new set').fill('Left side');
    await panel.getByRole('button', { name: 'Make of 2' }).click();
    const row = panel.getByRole('listitem', { name: 'Set Left side' });
    await row.getByText('2 nodes').waitFor();
    await row.getByRole('button', { name: 'Hide Left side' }).click();
    await page.getByText('2 nodes of hidden sets are not shown.').waitFor();
    await expect.poll(() => nodeCalled(page, 'Projector_1').count()).toBe(0);
    await page.getByRole('button', { name: 'Show all', exact: true }).click();
    await nodeCalled(page, 'Projector_1').waitFor();
    await row.getByRole('button', { name: 'Bypass' }).click();
    await said(page, '2 nodes of “Left side”: bypassed on.');
    expect(await nodeCalled(page, 'Projector_2').getAttribute('data-bypassed')).toBe('true');
    await graph(page).focus();
    await press(page, 'Escape');
    await row.getByRole('button', { name: 'Select' }).click();
    await expect.poll(async () => (await selectionOf(page)).length).toBe(2);
    await undoAll(page);
    await panel.getByText('There is no set yet.').waitFor();
  });
});

describe('E9: parameters', () => {
  it('of several nodes are changed at once, with what differs shown; settings, lock and reset', async () => {
    const page = await dome();
    await choose(page, 'Warp_1', 'Warp_2');
    const panel = inspector(page).getByRole('region', { name: 'Parameters' });
    await panel.getByText('mixed').first().waitFor();
    await panel.getByLabel('Comment', { exact: true }).fill('for the left dome');
    await page.keyboard.press('Enter');
    await said(page, 'Set comment of 2 nodes.');
    await panel.getByRole('button', { name: 'Lock the parameters' }).click();
    await said(page, 'Locked 2 nodes.');
    await expect.poll(() => panel.getByLabel('Comment', { exact: true }).getAttribute('readonly')).not.toBeNull();
    await panel.getByRole('button', { name: 'Unlock the parameters' }).click();
    await panel.getByRole('button', { name: 'New' }).click();
    const dialog = page.getByRole('dialog', { name: 'New setting' });
    await dialog.getByLabel('Setting').fill('Matinee');
    await dialog.getByRole('button', { name: 'New setting' }).click();
    await said(page, '2 nodes on the new setting “Matinee”.');
    await panel.getByRole('button', { name: 'Reset the present setting' }).click();
    await said(page, 'Reset 2 nodes to the defaults.');
    expect(await panel.getByLabel('Comment', { exact: true }).inputValue()).toBe('');
    await panel.getByLabel('Setting', { exact: true }).selectOption('Standard');
    await expect.poll(() => panel.getByLabel('Comment', { exact: true }).inputValue()).toBe('for the left dome');
    await undoAll(page);
  });

  it('take expressions and paths, and stay in sight for nodes that are kept', async () => {
    const page = await dome();
    await choose(page, 'Dome master 4K');
    const panel = inspector(page);
    const own = panel.getByRole('region', { name: 'Parameters' }).first();
    await own.getByText('is in the asset store').waitFor();
    await own.getByLabel('File', { exact: true }).fill('renders/old/master.exr');
    await page.keyboard.press('Enter');
    await own.getByText('is not in the asset store').waitFor();
    await own.getByRole('button', { name: /^Find “master.exr”/ }).click();
    await own.getByText('is in the asset store').waitFor();
    await panel.getByRole('button', { name: 'Keep this panel open' }).click();
    await choose(page, 'HouseGrade');
    const kept = panel.getByRole('region', { name: 'Kept: Dome master 4K' });
    await kept.getByLabel('File', { exact: true }).waitFor();
    const exposure = own.getByLabel('Exposure', { exact: true });
    await exposure.fill('= [ReefTilt.tilt] / 20');
    await page.keyboard.press('Enter');
    // what was taken as an expression stands in a field of several lines
    await expect.poll(() => exposure.evaluate((field) => field.tagName)).toBe('TEXTAREA');
    expect(await exposure.inputValue()).toBe('= [ReefTilt.tilt] / 20');
    for (const [typed, refusal] of [
      ['= [Warp_1.projector] / 2', 'The expression would close a loop: “Warp_1” depends on “HouseGrade”'],
      ['= [Nobody.size]', 'No node is called “Nobody” in this graph or around it.'],
    ] as const) {
      await exposure.fill(typed);
      await page.keyboard.press('Control+Enter');
      await said(page, new RegExp(refusal));
      await expect.poll(() => exposure.inputValue()).toBe('= [ReefTilt.tilt] / 20');
    }
    await panel.getByRole('button', { name: 'Close all' }).click();
    await expect.poll(() => kept.getByLabel('File', { exact: true }).count()).toBe(0);
    await panel.getByRole('button', { name: 'Let go' }).click();
    await expect.poll(() => panel.getByRole('region', { name: 'Kept panels' }).count()).toBe(0);
    await undoAll(page);
  });

  it('and pictures come from the render service', async () => {
    const page = await dome();
    await choose(page, 'HouseGrade', 'ReefTilt');
    await press(page, 'v', 'y');
    await said(page, /^2 pictures, [\d.]+ ms in all/);
    await expect.poll(() => nodeCalled(page, 'HouseGrade').locator('img').count()).toBe(1);
    expect(await out(page, 'HouseGrade', 'image')).toBeDefined();
    await undoAll(page);
  });
});
