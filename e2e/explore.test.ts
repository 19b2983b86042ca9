import { describe, expect, it } from 'vitest';
import {
  address,
  dragBy,
  graph,
  idOf,
  nodeCalled,
  type Place,
  pick,
  press,
  rectOf,
  selectionOf,
  settle,
  useBrowser,
} from './testing/browser.ts';
import { pixelsOf } from './testing/png.ts';
import { findAndGo, inspector, openReef, render } from './testing/reef.ts';

const browser = useBrowser();

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
    await expect
      .poll(async () => Number(/(\d+) nodes/.exec((await bar.getByRole('status').textContent())!)![1]))
      .toBeGreaterThan(6);
    await bar.getByRole('button', { name: 'Fewer inputs' }).click();
    await bar.getByText('6 nodes').waitFor();
    await settle(page, 500);
    await nodeCalled(page, 'RN0010_Plankton_DepthTint').click();
    await bar.getByRole('button', { name: 'Grow' }).click();
    await expect
      .poll(async () => Number(/(\d+) nodes/.exec((await bar.getByRole('status').textContent())!)![1]))
      .toBeGreaterThan(6);
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
    await page
      .getByRole('navigation', { name: 'Path' })
      .getByRole('button', { name: 'Reef night, shot assembly' })
      .click();
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
    const [seabed, kelp, plankton] = [
      await idOf(page, names[0]),
      await idOf(page, names[1]),
      await idOf(page, names[2]),
    ];
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
        for (const margin of [4, 6, 8, 10, 12, 16, 20]) {
          const corners = await around(id, margin);
          // any corner will do to begin at
          for (const [k, corner] of corners.entries())
            if ((await page.evaluate(({ x, y }) => window.basitaxCanvas?.wireAt(x, y), corner)) === undefined)
              return [...corners.slice(k), ...corners.slice(0, k)];
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
    await dragBy(
      page,
      { x: Math.min(from.x, (await around(plankton, 6))[0]!.x), y: from.y },
      to.x - Math.min(from.x, (await around(plankton, 6))[0]!.x),
      to.y - from.y,
    );
    await expect
      .poll(async () => (await selectionOf(page)).filter((id) => id === kelp || id === plankton).length)
      .toBe(2);
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
    await pick(dialog.getByRole('combobox', { name: 'Field' }), 'Kind');
    await dialog.getByLabel('Value').fill('glow');
    await dialog.getByRole('button', { name: 'Another condition' }).click();
    await pick(dialog.getByRole('combobox', { name: 'Field' }).nth(1), 'size');
    await dialog.getByLabel('Comparison').nth(1).selectOption('is at least');
    await dialog.getByLabel('Value').nth(1).fill('40');
    expect(await dialog.getByRole('textbox', { name: /^Query/ }).inputValue()).toBe('kind:glow and size>=40');
    const said = Number(
      /^([\d,]+) nodes/.exec((await dialog.getByRole('status').textContent())!)![1]!.replace(',', ''),
    );
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
      for (const key of ['s', 'n'])
        canvas.dispatchEvent(new KeyboardEvent('keydown', { key, isComposing: true, bubbles: true, cancelable: true }));
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
    const isOn = again.page.getByLabel('Shortcuts of one and two keys are on');
    await isOn.click();
    await expect.poll(() => isOn.isChecked()).toBe(false);
    await again.page.keyboard.press('Escape');
    await graph(again.page).focus();
    await settle(again.page, 300);
    await press(again.page, 's', 'a', 'x');
    expect(await selectionOf(again.page)).toEqual([]);
    // what has a modifier goes on working
    await press(again.page, 'Control+a');
    await expect.poll(async () => (await selectionOf(again.page)).length).toBe(2266);
    await again.page.goto(`${address()}/shortcuts`);
    // what was kept has come once the box is empty; what a click asks for shows a moment later
    await expect.poll(() => isOn.isChecked()).toBe(false);
    await isOn.click();
    await expect.poll(() => isOn.isChecked()).toBe(true);
    await again.page.getByRole('button', { name: 'Restore all defaults' }).click();
    await expect.poll(() => again.page.getByRole('button', { name: 'Take X off Select all' }).count()).toBe(0);
  });
});
