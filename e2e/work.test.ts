import { readFileSync } from 'node:fs';
import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import {
  address,
  centreOf,
  dragBy,
  idOf,
  nodeCalled,
  openFile,
  portAt,
  rectOf,
  selectionOf,
  settle,
  setView,
  useBrowser,
} from './testing/browser.ts';

const browser = useBrowser();

const save = async (page: Page, message: string): Promise<void> => {
  await page.keyboard.press('Control+s');
  await page.getByLabel('What was done, and why').fill(message);
  await page.getByRole('dialog').getByRole('button', { name: 'Save', exact: true }).click();
  await page.getByText(/Saved as revision/).waitFor();
};

describe('signing in', () => {
  it('asks first, says what is wrong, and comes back to the address that was asked for', async () => {
    const { page } = await browser.sit();
    await page.goto(`${address()}/files/tide-cues`);
    await page.getByRole('heading', { name: 'Basitax' }).waitFor();
    await page.getByLabel('Login').fill('editor');
    await page.getByLabel('Password').fill('wrong');
    await page.keyboard.press('Enter');
    await page.getByText('The login or the password is wrong.').waitFor();
    await page.getByLabel('Password').fill('lantern-reef');
    await page.keyboard.press('Enter');
    await page.waitForURL('**/files/tide-cues*');
    await page.getByRole('region', { name: 'Graph' }).waitFor();
  });

  it('shows the team’s files as cards with thumbnails, and lets one out again', async () => {
    const { page } = await browser.sit('viewer', '/files');
    for (const title of [
      'Dome blend',
      'Kelp growth',
      'Plankton and shoal motion',
      'Reef night, shot assembly',
      'Tide lighting cues',
    ])
      await page.getByRole('link', { name: new RegExp(`^${title}`) }).waitFor();
    const drawn = page.getByRole('link', { name: /^Kelp growth/ }).locator('img');
    await expect.poll(() => drawn.evaluate((image: HTMLImageElement) => image.naturalWidth)).toBeGreaterThan(100);
    await page.getByRole('button', { name: 'Account and theme' }).click();
    await page.getByRole('menuitem', { name: 'Sign out' }).click();
    await page.getByLabel('Login').waitFor();
  });
});

describe('moving about', () => {
  it('draws nodes as elements at reading zoom, exact to the pixel, and fits, zooms and pans', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await setView(page, { x: 100, y: 120, zoom: 1 });
    const id = await idOf(page, 'HouseGrade');
    const [element, core] = [await nodeCalled(page, 'HouseGrade').boundingBox(), await rectOf(page, id)];
    for (const side of ['x', 'y', 'width', 'height'] as const)
      expect(Math.abs(element![side] - core[side])).toBeLessThanOrEqual(1);
    // captions are as wide as core says: none is cut off by the node's edge
    const wide = await page.evaluate(
      () =>
        [...document.querySelectorAll<HTMLElement>('.node-title')].filter(
          (title) => title.getBoundingClientRect().right > title.parentElement!.getBoundingClientRect().right,
        ).length,
    );
    expect(wide).toBe(0);
    const before = await rectOf(page, id);
    await dragBy(page, { x: 60, y: 700 }, 90, -40);
    const after = await rectOf(page, id);
    expect([Math.round(after.x - before.x), Math.round(after.y - before.y)]).toEqual([90, -40]);
    await page.mouse.move(after.x, after.y);
    await page.mouse.wheel(0, 240);
    await settle(page, 300);
    const zoomed = await rectOf(page, id);
    expect(zoomed.width).toBeLessThan(after.width);
    // the zoom is about the pointer: the corner under it stays
    expect(Math.abs(zoomed.x - after.x)).toBeLessThanOrEqual(1);
    await setView(page, { x: 9000, y: 9000, zoom: 1 });
    await page.getByRole('button', { name: /Show all of it/ }).click();
    await settle(page);
    expect(await page.getByRole('group', { name: /^Projector_1,/ }).count()).toBe(1);
    await page.getByLabel('Zoom in per cent').fill('150');
    await page.keyboard.press('Enter');
    expect((await rectOf(page, id)).width / (element?.width ?? 1)).toBeCloseTo(1.5, 1);
  });

  it('reaches a node by Tab, moves the window to it, and enters a nested graph and comes back by keys', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'reef-night');
    await setView(page, { x: -900, y: 0, zoom: 0.6 });
    const host = page.getByRole('group', { name: /^Dome finish,/ }).first();
    await host.focus();
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { level: 1, name: /DomeFinish$/ }).waitFor();
    await settle(page);
    await page.getByRole('group', { name: /^RimMatte,/ }).waitFor();
    await page.getByRole('region', { name: 'Graph' }).focus();
    await page.keyboard.press('u');
    await page.getByRole('heading', { level: 1, name: 'Reef night, shot assembly' }).waitFor();
    expect(await selectionOf(page)).toHaveLength(1);
  });

  it('every node, view and graph has an address that lands there', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await nodeCalled(page, 'Warp_3').click();
    const id = await idOf(page, 'Warp_3');
    await settle(page, 900);
    const link = page.url();
    expect(link).toContain(`node=${id}`);
    const view = await rectOf(page, id);
    const other = await browser.sit('viewer');
    await other.page.goto(link);
    await other.page.getByRole('heading', { name: 'Warp_3' }).waitFor();
    await settle(other.page);
    expect(await selectionOf(other.page)).toEqual([id]);
    expect(Math.abs((await rectOf(other.page, id)).x - view.x)).toBeLessThanOrEqual(2);
    await openFile(other.page, 'dome-blend', `?node=${id}`);
    await other.page.getByRole('heading', { name: 'Warp_3' }).waitFor();
  });
});

describe('editing', () => {
  it('selects, drags, aligns, distributes, undoes and redoes', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    const names = ['Blend_1', 'Blend_2', 'Blend_3', 'Blend_4'];
    const ids = await Promise.all(names.map((name) => idOf(page, name)));
    const start = await Promise.all(ids.map((id) => rectOf(page, id)));
    for (const [i, name] of names.entries()) {
      const at = await centreOf(page, name);
      if (i > 0) await page.keyboard.down('Shift');
      await page.mouse.click(at.x, at.y);
      if (i > 0) await page.keyboard.up('Shift');
    }
    expect(await selectionOf(page)).toEqual(ids);
    await page.getByRole('button', { name: 'Align left edges' }).click();
    await expect
      .poll(async () => new Set(await Promise.all(ids.map(async (id) => Math.round((await rectOf(page, id)).x)))).size)
      .toBe(1);
    await page.getByRole('button', { name: 'Distribute along y' }).click();
    await settle(page, 300);
    const rects = (await Promise.all(ids.map((id) => rectOf(page, id)))).sort((a, b) => a.y - b.y);
    const gaps = rects.slice(1).map((r, i) => r.y - rects[i]!.y - rects[i]!.height);
    expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1);
    await dragBy(page, await centreOf(page, 'Blend_2'), 60, 30);
    await settle(page, 300);
    const moved = await rectOf(page, ids[1]!);
    await page.getByRole('region', { name: 'Graph' }).focus();
    await page.keyboard.press('Control+z');
    await settle(page, 200);
    expect((await rectOf(page, ids[1]!)).x).toBeCloseTo(moved.x - 60, 0);
    await page.keyboard.press('Control+Shift+z');
    await settle(page, 200);
    expect((await rectOf(page, ids[1]!)).x).toBeCloseTo(moved.x, 0);
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await settle(page, 200);
    for (const [i, id] of ids.entries()) expect((await rectOf(page, id)).x).toBeCloseTo(start[i]!.x, 0);
    await page.getByText('Revision 1, saved').waitFor();
  });

  it('copies and pastes within and between files, through the clipboard, with free names', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await nodeCalled(page, 'Warp_1').click();
    await page.keyboard.press('Control+c');
    await page.getByText('Copied 1 selected.').waitFor();
    await page.keyboard.press('Control+v');
    await page.getByRole('group', { name: /^Warp_5,/ }).waitFor();
    const [pasted] = await selectionOf(page);
    expect(await page.locator(`[data-node="${pasted}"]`).getAttribute('aria-label')).toMatch(/^Warp_5,/);
    page.on('dialog', (dialog) => void dialog.accept());
    await openFile(page, 'tide-cues');
    await page.getByRole('region', { name: 'Graph' }).focus();
    await page.keyboard.press('Control+v');
    await settle(page);
    await page.getByRole('heading', { name: 'Warp_1' }).waitFor();
    expect(JSON.parse(await page.evaluate(() => navigator.clipboard.readText())).format).toBe('basitax-graph');
  });

  it('renames, labels and sets parameters in the inspector, refusing what does not fit', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await nodeCalled(page, 'HouseGrade').click();
    const inspector = page.getByRole('complementary', { name: 'Inspector' });
    await inspector.getByRole('textbox', { name: 'Name' }).fill('two words');
    await page.keyboard.press('Enter');
    await page.getByText(/is not a legal name/).waitFor();
    await expect.poll(() => inspector.getByRole('textbox', { name: 'Name' }).inputValue()).toBe('HouseGrade');
    await inspector.getByRole('textbox', { name: 'Name' }).fill('NightGrade');
    await page.keyboard.press('Enter');
    await page.getByRole('group', { name: /^NightGrade,/ }).waitFor();
    await inspector.getByLabel('Exposure', { exact: true }).fill('99');
    await page.keyboard.press('Enter');
    await page.getByText(/takes a number from -10 to 10/).waitFor();
    await inspector.getByLabel('Exposure', { exact: true }).fill('1.5');
    await page.keyboard.press('Enter');
    await page.getByText(/Set exposure of 1 node/).waitFor();
    await inspector.getByRole('textbox', { name: 'Label' }).fill('Night, for the house');
    await page.keyboard.press('Tab');
    await page.getByRole('group', { name: /^Night, for the house,/ }).waitFor();
  });

  it('wires by mouse and by keyboard, refuses what does not fit with the reason, and deletes with healing', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    const [mask, blend] = [await idOf(page, 'Overlap mask'), await idOf(page, 'Blend_1')];
    const [from, to] = [await portAt(page, mask, 'mask', 'out'), await portAt(page, blend, 'mask', 'in')];
    await dragBy(page, from!, to!.x - from!.x, to!.y - from!.y);
    await page.getByText('Wired “Overlap mask” to “Blend_1”.').waitFor();
    const wrong = await portAt(page, await idOf(page, 'Warp_1'), 'map', 'in');
    await dragBy(page, from!, wrong!.x - from!.x, wrong!.y - from!.y);
    await page.getByText(/“map” takes map, “mask” gives mask/).waitFor();
    await nodeCalled(page, 'Blend_2').click();
    await page.getByRole('button', { name: 'Wire mask' }).click();
    await page.keyboard.type('overlap');
    await page.keyboard.press('Enter');
    await page.getByText('Wired “Overlap mask” to “Blend_2”.').waitFor();
    await nodeCalled(page, 'ReefTilt').click();
    await page.keyboard.press('Delete');
    await page.getByText('Deleted 1 node.').waitFor();
    await nodeCalled(page, 'HouseGrade').click();
    await page.getByRole('complementary').getByRole('button', { name: 'Dome master 4K' }).waitFor();
  });

  it('reaches every operation through the palette, which says what cannot be done and why', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('What do you want to do?').fill('distribute');
    await page.getByText('Select at least 3 nodes first.').first().waitFor();
    await page.getByPlaceholder('What do you want to do?').fill('select all');
    await page.keyboard.press('Enter');
    await expect.poll(() => selectionOf(page)).toHaveLength(21);
    await page.keyboard.press('Control+k');
    await page.getByPlaceholder('What do you want to do?').fill('move by');
    await page.keyboard.press('Enter');
    await page.getByLabel('To the right').fill('40');
    await page.keyboard.press('Enter');
    await page.getByText('Moved 21 items.').waitFor();
  });
});

describe('arranging', () => {
  it('shows what it will do before it does it, follows its options, and is one undo', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'kelp-growth');
    await page.getByRole('button', { name: 'Arrange by wiring' }).click();
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('Function fingerprint: same').waitFor();
    await preview.getByText(/nodes move, .* px on average/).waitFor();
    const after = async () =>
      Number(
        (
          await preview
            .getByRole('row', { name: /overlaps/ })
            .getByRole('cell')
            .last()
            .innerText()
        ).replace(/\D/g, ''),
      );
    expect(await after()).toBe(0);
    await preview.getByRole('spinbutton', { name: /Keep order/ }).fill('1');
    await settle(page, 600);
    await preview.getByRole('button', { name: /Apply/ }).waitFor();
    expect(await after()).toBe(0);
    await page.keyboard.press('Escape');
    await expect.poll(() => preview.count()).toBe(0);
    await page.getByText('Revision 1, saved').waitFor();
    await page.getByRole('button', { name: 'Arrange by wiring' }).click();
    await preview.getByText('Function fingerprint: same').waitFor();
    await page.keyboard.press('Enter');
    await page.getByText(/Arranged [\d,]+ nodes/).waitFor();
    await page.getByText('Unsaved changes').waitFor();
    // the keyboard is back on the canvas
    await page.keyboard.press('Control+z');
    await page.getByText('Revision 1, saved').waitFor();
  });

  it('arranges a selection alone', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'dome-blend');
    const [kept, first] = [await idOf(page, 'Projector_1'), await idOf(page, 'Warp_1')];
    const before = await rectOf(page, kept);
    await nodeCalled(page, 'Warp_1').click();
    for (const name of ['Warp_2', 'WarpMap_1', 'WarpMap_2'])
      await nodeCalled(page, name).click({ modifiers: ['Shift'], position: { x: 40, y: 8 } });
    await page.getByRole('button', { name: 'Arrange by wiring' }).click();
    await page.getByText(/^[1-9] nodes move/).waitFor();
    await page.getByRole('button', { name: /Apply/ }).click();
    await page.getByText(/Arranged \d nodes/).waitFor();
    expect((await rectOf(page, kept)).x).toBeCloseTo(before.x, 0);
    expect(await selectionOf(page)).toContain(first);
  });
});

describe('keeping', () => {
  it('saves a revision with a message, finds it as it was left, lists revisions, looks at one and restores it', async () => {
    const { page } = await browser.sit('editor');
    await openFile(page, 'tide-cues');
    await page.getByRole('button', { name: 'Arrange by wiring' }).click();
    await page.getByRole('button', { name: 'Apply (Enter)' }).click();
    await page.getByText(/Arranged \d+ nodes/).waitFor();
    await page.keyboard.press('Control+s');
    await page.getByText('Function fingerprint: same. What the graph computes has not changed.').waitFor();
    await page.keyboard.press('Escape');
    await save(page, 'Put the cues in order');
    await settle(page, 900);
    const link = page.url();
    const id = await page.evaluate(() => document.querySelector('[data-node]')?.getAttribute('data-node') ?? '');
    await page.goto(link);
    await page.getByText('Revision 2, saved').waitFor();
    await settle(page);
    if (id) expect(await rectOf(page, id)).toBeDefined();
    await page.getByRole('button', { name: 'Revisions' }).click();
    await page.getByText('Put the cues in order').waitFor();
    await page.getByText('function same').waitFor();
    await page.getByRole('button', { name: 'Look' }).click();
    await page.waitForURL('**/revisions/1*');
    await page.getByText(/This is revision 1, an old one/).waitFor();
    await page.getByRole('button', { name: 'Revisions' }).click();
    await page.getByRole('button', { name: 'Restore revision 1' }).click();
    await page.getByText('Revision 1 is restored, as revision 3.').waitFor();
  });

  it('loses nobody’s change: what the second saves is brought over what the first did', async () => {
    const [one, two] = [await browser.sit('editor'), await browser.sit('lead')];
    await openFile(one.page, 'plankton-shoal');
    await openFile(two.page, 'plankton-shoal');
    const label = async (page: Page, name: string, text: string) => {
      const id = await page.evaluate(async (wanted) => {
        const nodes = (await (await fetch('/api/files/plankton-shoal/revisions/head')).json()).nodes as {
          id: string;
          name: string;
        }[];
        return nodes.find((node) => node.name === wanted)!.id;
      }, name);
      await openFile(page, 'plankton-shoal', `?node=${id}`);
      await page.getByLabel('Label', { exact: true }).fill(text);
      await page.keyboard.press('Enter');
      await page.getByText('Unsaved changes').waitFor();
    };
    await label(two.page, 'DomeCamera', 'Seat level');
    await label(one.page, 'PreviewRender', 'For the rehearsal');
    await save(one.page, 'Label the render');
    await two.page.keyboard.press('Control+s');
    await two.page.getByLabel('What was done, and why').fill('Label the camera');
    await two.page.keyboard.press('Enter');
    await two.page
      .getByText('Saved as revision 3 on top of revision 2 by Lighting artist: “Label the render”.')
      .waitFor();
    const labels = await two.page.evaluate(async () =>
      ((await (await fetch('/api/files/plankton-shoal/revisions/head')).json()).nodes as { label?: string }[]).map(
        (node) => node.label,
      ),
    );
    expect(labels).toEqual(expect.arrayContaining(['Seat level', 'For the rehearsal']));
  });

  it('lets a viewer look, and says why nothing can be changed', async () => {
    const { page } = await browser.sit('viewer');
    await openFile(page, 'dome-blend');
    await page.getByText('You need the role editor to change files; your role is viewer.').waitFor();
    const before = await rectOf(page, await idOf(page, 'ReefTilt'));
    await dragBy(page, await centreOf(page, 'ReefTilt'), 80, 0);
    expect((await rectOf(page, await idOf(page, 'ReefTilt'))).x).toBeCloseTo(before.x, 0);
    await page.keyboard.press('Delete');
    await page.getByText(/Delete: You need the role editor to change files/).waitFor();
  });
});

describe('files of others', () => {
  const theirs = `<?xml version="1.0"?><graphml xmlns="http://graphml.graphdrawing.org/xmlns"><key id="w" for="edge" attr.name="weight" attr.type="double"/><graph id="G" edgedefault="directed">${Array.from({ length: 12 }, (_, i) => `<node id="step ${i}"/>`).join('')}${Array.from({ length: 11 }, (_, i) => `<edge id="e${i}" source="step ${Math.floor(i / 2)}" target="step ${i + 1}"><data key="w">${i}</data></edge>`).join('')}</graph></graphml>`;

  it('uploads a graph that somebody else wrote, arranges it, and downloads it as GraphML and as JSON with positions and routes', async () => {
    const { page } = await browser.sit('editor', '/files');
    await page
      .getByLabel('Choose graph files')
      .setInputFiles({ name: 'their graph.graphml', mimeType: 'application/xml', buffer: Buffer.from(theirs) });
    await page.getByText('“their graph” is in').waitFor();
    await page.getByText('12 nodes had no position and were arranged.').waitFor();
    await page.getByRole('link', { name: 'Open it' }).click();
    await page.getByRole('group', { name: /^step 0,/ }).waitFor();
    await page.getByRole('button', { name: 'Arrange by wiring' }).click();
    await page.getByText('Function fingerprint: same').waitFor();
    await page.keyboard.press('Escape');
    const take = async (item: RegExp): Promise<string> => {
      await page.getByRole('button', { name: 'Download' }).click();
      const withRoutes = page.getByRole('menuitemcheckbox', { name: /^Include wire routes/ });
      if ((await withRoutes.getAttribute('aria-checked')) === 'false') await withRoutes.click();
      const [download] = await Promise.all([
        page.waitForEvent('download'),
        page.getByRole('menuitem', { name: item }).click(),
      ]);
      expect(download.suggestedFilename()).toMatch(/^their graph\.(graphml|graph\.json)$/);
      return readFileSync((await download.path()) as string, 'utf8');
    };
    const graphml = await take(/GraphML/);
    for (const part of [
      '<node id="step 11">',
      '<edge id="e10"',
      '<data key="w">10</data>',
      'attr.name="route"',
      '<data key="n_x">',
    ])
      expect(graphml).toContain(part);
    const json = JSON.parse(await take(/Graph JSON/));
    expect(Object.keys(json.routes)).toHaveLength(11);
    expect(json.nodes.every((node: { x: number }) => Number.isFinite(node.x))).toBe(true);
  });

  it('says in one sentence why a file was not read, and stores nothing', async () => {
    const { page } = await browser.sit('editor', '/files');
    const cards = page.getByRole('list', { name: 'Files', exact: true }).locator('> li');
    await cards.first().waitFor();
    await page
      .getByLabel('Choose graph files')
      .setInputFiles({ name: 'bad.graphml', mimeType: 'application/xml', buffer: Buffer.from('<graphml>\n<graph>') });
    await page.getByText('The file was not read').waitFor();
    await page.getByText(/not well-formed XML/).waitFor();
    await page.getByRole('button', { name: 'Close' }).click();
    await page.reload();
    await cards.first().waitFor();
    // others may import files of theirs meanwhile
    expect(await cards.filter({ hasText: /\bbad\b/i }).count()).toBe(0);
  });

  it('answers addresses that lead nowhere with the way back', async () => {
    const { page } = await browser.sit('editor');
    await page.goto(`${address()}/nowhere`);
    await page.getByText('There is nothing at this address.').waitFor();
    await page.getByRole('link', { name: 'Go to the files' }).click();
    await page.waitForURL('**/files');
  });
});
