import type { Page } from 'playwright';
import { describe, expect, it } from 'vitest';
import { graph, nodeCalled, openOwn, press, selectionOf, settle, setView, useBrowser } from './testing/browser.ts';
import { difference } from './testing/png.ts';
import { findAndGo, inspector } from './testing/reef.ts';
import { choose, expectTakes, inp, openDome, said, takes, undoAll } from './testing/wiring.ts';

// D1 to D9, each by mouse or by key, on copies of demo files

const browser = useBrowser();
const preview = (page: Page) => page.getByRole('region', { name: 'Preview' });
const apply = async (page: Page): Promise<void> => {
  await preview(page).getByText('Function fingerprint: same').waitFor();
  await press(page, 'Enter');
  await expect.poll(() => preview(page).count()).toBe(0);
};
const end = (page: Page, name: string, kind: 'Beacon' | 'Tap') =>
  page.getByRole('group', { name: new RegExp(`^${name}, ${kind}`) });

/** The dome file with the fan-out of the grade as remote links. */
async function linked(page: Page): Promise<Page> {
  await openDome(page);
  await choose(page, 'HouseGrade');
  await press(page, 'l', 'l');
  await preview(page).getByText('Turned 4 wires into 4 taps of “HouseGrade_image”.').waitFor();
  await apply(page);
  await expect.poll(() => end(page, 'HouseGrade_image', 'Tap').count()).toBe(4);
  return page;
}

const sit = async () => (await browser.sit('editor')).page;

describe('D1: convert and back', () => {
  it('a fan-out by key, seen first; back again by key; nothing is left', async () => {
    const page = await linked(await sit());
    expect(await takes(page, 'Warp_1', 'image')).toMatch(/^HouseGrade_image_tap\d*\.out$/);
    await end(page, 'HouseGrade_image', 'Beacon').click();
    await press(page, 'l', 'w');
    await preview(page).getByText('Drew 4 wires again; 4 taps and 1 beacon went.').waitFor();
    await apply(page);
    await expectTakes(page, 'Warp_1', 'image', 'HouseGrade.image');
    await undoAll(page);
  });

  it('one wire, under a name that is given while it is previewed; a name that is taken is refused', async () => {
    const page = await openDome(await sit());
    await choose(page, 'Dome master 4K');
    await press(page, 'l', 'l');
    await preview(page).getByLabel('Wires of nodes').selectOption('out');
    await preview(page).getByRole('textbox', { name: /^Name/ }).fill('HouseGrade');
    await page
      .getByText(/“HouseGrade” is taken|these are 2/)
      .first()
      .waitFor();
    await preview(page).getByRole('textbox', { name: /^Name/ }).fill('Master');
    await preview(page)
      .getByText(/of “Master”/)
      .waitFor();
    await preview(page).getByRole('button', { name: 'Apply (Enter)' }).click();
    await expect.poll(() => end(page, 'Master', 'Beacon').count()).toBe(1);
    await undoAll(page);
  });
});

describe('D2, D9: tap', () => {
  it('from a searchable list by key, into the selected node; taps listen to another beacon', async () => {
    const page = await linked(await sit());
    await choose(page, 'Overlap mask');
    await press(page, 'l', 'b');
    await page.getByRole('dialog').getByRole('button', { name: 'Make a beacon' }).click();
    await said(page, '“Overlap_mask” is a beacon now.');
    await choose(page, 'Blend_1');
    await press(page, 'l', 't');
    await page.getByPlaceholder('Which beacon? Name, source, place or type').fill('mask');
    await press(page, 'Enter');
    await said(page, 'Tapped “Overlap_mask”, into “mask” of “Blend_1”.');
    await expectTakes(page, 'Blend_1', 'mask', 'Overlap_mask_tap.out');
    // what it feeds takes no picture
    await end(page, 'Overlap_mask', 'Tap').click();
    await press(page, 'l', 'r');
    await page
      .getByRole('dialog')
      .getByRole('option', { name: /HouseGrade_image/ })
      .click();
    await said(page, /“mask” takes mask, “out” gives picture/);
    await undoAll(page);
  });

  it('by the list of beacons: searched, dragged onto an input, clicked', async () => {
    const page = await linked(await sit());
    await press(page, 'l', 'n');
    const list = page.getByRole('complementary', { name: 'Beacons' });
    await list.getByPlaceholder('Name, source, place or type').fill('grade');
    const row = list.getByRole('option', { name: /HouseGrade_image/ });
    await row.getByText('4 taps').waitFor();
    await setView(page, { x: -260, y: 60, zoom: 0.6 });
    const [box, input] = [(await graph(page).boundingBox())!, await inp(page, 'Blend_3', 'image')];
    await row.dragTo(graph(page), { targetPosition: { x: input.x - box.x, y: input.y - box.y } });
    await said(page, 'Tapped “HouseGrade_image”, into “image” of “Blend_3”.');
    expect(await takes(page, 'Blend_3', 'image')).toMatch(/^HouseGrade_image_tap\d*\.out$/);
    await row.getByText('5 taps').waitFor();
    await graph(page).focus();
    await press(page, 'Escape');
    await row.click();
    await said(page, 'Tapped “HouseGrade_image”.');
    await row.getByText('6 taps').waitFor();
    await press(page, 'l', 'n');
    await undoAll(page);
  });
});

describe('D3, D4, D6: trace, jump, reach the source', () => {
  it('draws dashed lines to the other ends of what is selected, of all, or of none', async () => {
    const page = await linked(await sit());
    // the words of what was done lie over the graph for a while
    await expect.poll(() => page.getByText(/Turned 4 wires/).count()).toBe(0);
    const shot = async () => {
      await settle(page, 300);
      return page.screenshot({ clip: { x: 0, y: 100, width: 760, height: 540 } });
    };
    await graph(page).focus();
    await press(page, 's', 'n');
    const quiet = await shot();
    await end(page, 'HouseGrade_image', 'Beacon').click();
    const traced = await shot();
    await press(page, 'l', 'c', 'l', 'c');
    await said(page, 'Traces: none.');
    const marked = await shot();
    // the frame of the selection alone, and the lines with the outlines of four taps besides
    expect(await difference(page, quiet, traced)).toBeGreaterThan((await difference(page, quiet, marked)) * 2);
    await press(page, 'l', 'c', 'l', 'c', 's', 'n');
    await said(page, 'Traces: all.');
    expect(await difference(page, quiet, await shot())).toBeGreaterThan(0.05);
    await press(page, 'l', 'c', 'l', 'c');
  });

  it('jumps to the beacon and to one of several taps by what it feeds, and back; shows and changes the node behind', async () => {
    const page = await linked(await sit());
    const beacon = (await end(page, 'HouseGrade_image', 'Beacon').getAttribute('data-node'))!;
    await end(page, 'HouseGrade_image', 'Tap').first().click();
    const panel = inspector(page);
    await panel.getByText('Fed', { exact: true }).waitFor();
    await panel.getByText('Behind it').waitFor();
    await panel.getByLabel('Exposure', { exact: true }).fill('0.75');
    await page.keyboard.press('Tab');
    await said(page, 'Set exposure of 1 node.');
    await panel.getByRole('button', { name: 'beacon HouseGrade_image' }).click();
    await expect.poll(() => selectionOf(page)).toEqual([beacon]);
    await panel.getByText('Heard by 4').waitFor();
    await graph(page).focus();
    await press(page, 'l', 'j');
    await page.getByPlaceholder('What it feeds, frame or graph').fill('Warp_3');
    await press(page, 'Enter');
    await expect
      .poll(async () => (await selectionOf(page)).length === 1 && (await selectionOf(page))[0] !== beacon)
      .toBe(true);
    await nodeCalled(page, 'Warp_3').waitFor();
    await press(page, 'g', 'b');
    await press(page, 's', 'n');
    await undoAll(page);
  });

  it('says which ends are lost and unheard, and one is mended', async () => {
    const page = await sit();
    await openOwn(page, 'glow-library');
    await press(page, 'l', 'n');
    const list = page.getByRole('complementary', { name: 'Beacons' });
    await list
      .getByRole('option', { name: /Rose_glow/ })
      .getByText('no tap')
      .waitFor();
    await list.getByRole('button', { name: /listens for the beacon “Violet_glow”, which is not there/ }).click();
    await page.getByRole('group', { name: /^Violet_glow, Tap, has lost its beacon/ }).waitFor();
    await inspector(page).getByText('Has lost its beacon').waitFor();
    await press(page, 'l', 'r');
    await page
      .getByRole('dialog')
      .getByRole('option', { name: /Rose_glow/ })
      .click();
    await said(page, 'listens to “Rose_glow” now.');
    await page.getByRole('group', { name: /^Rose_glow, Tap, fed/ }).waitFor();
    await expect.poll(() => list.getByRole('button', { name: /which is not there/ }).count()).toBe(0);
    await press(page, 'l', 'n');
  });
});

describe('D5: through levels', () => {
  it('a tap in a nested graph hears outside; jumping leads there and back', async () => {
    const page = await sit();
    await openOwn(page, 'survey-map');
    await findAndGo(page, 'Shore_mask');
    await press(page, 'l', 'j');
    await page.getByPlaceholder('What it feeds, frame or graph').fill('CleanTile_7');
    await press(page, 'Enter');
    await page.getByRole('group', { name: /^Shore_mask, Tap, fed, selected/ }).waitFor();
    await press(page, 'l', 'j');
    await page.getByPlaceholder('What it feeds, frame or graph').fill('beacon');
    await press(page, 'Enter');
    await page.getByRole('group', { name: /^Shore_mask, Beacon, heard, selected/ }).waitFor();
  });
});

describe('D7: standing feeds', () => {
  it('mark what they supply and with what; types are switched; one is made, and takes the place of wires', async () => {
    const page = await sit();
    await openOwn(page, 'dome-master');
    await setView(page, { x: 480, y: 60, zoom: 0.6 });
    await page
      .getByRole('group', { name: /^Front_Render, .*camera fed by SeatCamera_feed, light fed by NightRig_feed/ })
      .click();
    await inspector(page).getByRole('button', { name: 'feed SeatCamera_feed' }).click();
    await inspector(page).getByText('Supplies 4 nodes').waitFor();
    await inspector(page).getByRole('checkbox', { name: 'camera' }).click();
    // four inputs would lose their camera: that is shown first
    await preview(page).getByText('4 inputs have lost their camera').waitFor();
    await preview(page).getByRole('button', { name: 'Apply (Enter)' }).click();
    await inspector(page).getByText('Supplies nothing').waitFor();
    await graph(page).focus();
    await press(page, 'Control+z');
    await inspector(page).getByText('Supplies 4 nodes').waitFor();
    await findAndGo(page, 'SeatCamera');
    await press(page, 'l', 'f');
    await page.getByRole('dialog').getByLabel('Remove wires that it makes unnecessary').check();
    await page.getByRole('dialog').getByRole('button', { name: 'Show what it does' }).click();
    // two for one type at one level: neither feeds
    await preview(page)
      .getByText(/both supply camera/)
      .waitFor();
    await press(page, 'Escape');
    await expect.poll(() => preview(page).count()).toBe(0);
    await openOwn(page, 'water-shading');
    await findAndGo(page, 'DeepTint');
    await press(page, 'l', 'f');
    await page.getByRole('dialog').getByLabel('Remove wires that it makes unnecessary').check();
    await page.getByRole('dialog').getByRole('button', { name: 'Show what it does' }).click();
    await preview(page).getByText('“DeepTint_feed” supplies 30 open inputs. 30 wires were removed').waitFor();
    await preview(page).getByText('Function fingerprint: same').waitFor();
    await preview(page).getByRole('button', { name: 'Apply (Enter)' }).click();
    await inspector(page).getByText('Supplies 30 nodes').waitFor();
  });
});

describe('D8: advice', () => {
  it('halves the crossings of the messiest file with no more than 15 % of its wires, in figures that are measured', async () => {
    const page = await sit();
    await openOwn(page, 'reef-night');
    await press(page, 'l', 'a');
    const panel = page.getByRole('complementary', { name: 'Advice on remote links' });
    await panel.getByText(/chosen: \d+ of 3,321 wires, 1[0-5]\.\d %/).waitFor();
    const sum = panel.getByRole('table', { name: 'What they do together' });
    const figures = async () =>
      ((await sum.getByRole('row').first().textContent()) ?? '')
        .replace(/[a-z,\s]/g, '')
        .split('→')
        .map(Number);
    const [before, after] = await figures();
    expect(after! * 2).toBeLessThanOrEqual(before!);
    // one less: the sum is measured anew
    await panel
      .getByRole('checkbox', { name: /^Choose/ })
      .first()
      .uncheck();
    await sum.waitFor();
    await expect.poll(async () => (await figures())[1]).not.toBe(after);
    await panel
      .getByRole('checkbox', { name: /^Choose/ })
      .first()
      .check();
    await expect.poll(async () => ((await sum.count()) === 1 ? (await figures())[1] : undefined)).toBe(after);
    await panel
      .getByRole('button', { name: /^Show \d+ of/ })
      .first()
      .click();
    expect((await selectionOf(page)).length).toBeGreaterThan(10);
    await panel.getByRole('button', { name: 'Show what it does' }).click();
    await preview(page).getByText('Function fingerprint: same').waitFor();
    // what the preview measures is what the advice said
    await preview(page)
      .getByRole('row', {
        name: new RegExp(`crossings ${before!.toLocaleString('en')} .*${after!.toLocaleString('en')}`),
      })
      .waitFor();
    await preview(page).getByRole('button', { name: 'Apply (Enter)' }).click();
    await said(page, /Turned \d+ wires into \d+ taps/);
    await press(page, 'Control+z');
    await page.getByText('Revision 1, saved').waitFor();
  });

  it('measures each candidate by itself; what it says is what applying that one alone does', async () => {
    const page = await sit();
    await openOwn(page, 'plankton-shoal');
    await graph(page).focus();
    await press(page, 'l', 'a');
    const panel = page.getByRole('complementary', { name: 'Advice on remote links' });
    const row = panel.getByRole('listitem').nth(1);
    await row.waitFor();
    await expect.poll(() => row.textContent()).not.toContain('≈');
    const saved = Number(/wires−([\d,]+)/.exec((await row.textContent()) ?? '')![1]!.replace(/,/g, ''));
    const boxes = panel.getByRole('checkbox', { name: /^Choose/ });
    for (let i = 0; i < (await boxes.count()); i++) await boxes.nth(i).setChecked(i === 1);
    await panel.getByRole('button', { name: 'Show what it does' }).click();
    const numbers = preview(page).getByRole('row', { name: /crossings/ });
    await preview(page).getByText('Function fingerprint: same').waitFor();
    const [before, after] = [...((await numbers.textContent()) ?? '').replace(/,/g, '').matchAll(/\d+/g)].map(Number);
    expect(before! - after!).toBe(saved);
    await press(page, 'Escape');
  });

  it('says so where nothing hurts, and refuses a name that is taken', async () => {
    const page = await openDome(await sit());
    await graph(page).focus();
    await press(page, 'l', 'a');
    const panel = page.getByRole('complementary', { name: 'Advice on remote links' });
    await panel.getByText('No wire here is bad enough').waitFor();
    await openOwn(page, 'plankton-shoal');
    await panel
      .getByRole('textbox', { name: 'Name of the beacon of Current through the bay' })
      .first()
      .fill('TideClock');
    await panel.getByText('“TideClock” is taken by another node of this graph.').waitFor();
    await press(page, 'Escape');
  });
});
