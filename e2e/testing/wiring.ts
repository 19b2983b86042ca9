import type { Page } from 'playwright';
import { expect } from 'vitest';
import {
  graph,
  idOf,
  nodeCalled,
  openOwn,
  type Place,
  portAt,
  press,
  rectOf,
  selectionOf,
  settle,
  setView,
  sourceOf,
} from './browser.ts';

// What the tests of wiring do again and again on the dome file. Nothing of it is saved.

export const said = (page: Page, text: string | RegExp) => page.getByText(text).first().waitFor();

/** The dome file at a size at which nearly all is in the window. */
export async function openDome(page: Page): Promise<Page> {
  await openOwn(page, 'dome-blend');
  await setView(page, { x: 40, y: 60, zoom: 0.6 });
  await expect.poll(() => page.locator('.node').count()).toBeGreaterThan(15);
  return page;
}

/** Presses at one place, goes to another in steps, and looks before letting go where that is wanted. */
export async function drag(
  page: Page,
  from: Place,
  to: Place,
  options: { modifiers?: ('Control' | 'Shift')[]; look?: () => Promise<void> } = {},
): Promise<void> {
  for (const key of options.modifiers ?? []) await page.keyboard.down(key);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 1; i <= 6; i++)
    await page.mouse.move(from.x + ((to.x - from.x) * i) / 6, from.y + ((to.y - from.y) * i) / 6);
  await options.look?.();
  await page.mouse.up();
  for (const key of options.modifiers ?? []) await page.keyboard.up(key);
}

export const out = async (page: Page, node: string, port: string): Promise<Place> =>
  (await portAt(page, await idOf(page, node), port, 'out'))!;
export const inp = async (page: Page, node: string, port: string): Promise<Place> =>
  (await portAt(page, await idOf(page, node), port, 'in'))!;
export const takes = async (page: Page, node: string, port: string): Promise<string | undefined> =>
  sourceOf(page, await idOf(page, node), port);
export const expectTakes = (page: Page, node: string, port: string, source: string | undefined) =>
  expect.poll(() => takes(page, node, port)).toBe(source);

export async function choose(page: Page, ...names: string[]): Promise<void> {
  for (const [i, name] of names.entries())
    await nodeCalled(page, name).click({ position: { x: 30, y: 5 }, ...(i > 0 && { modifiers: ['Shift'] }) });
  expect(await selectionOf(page)).toHaveLength(names.length);
}

/** Adds a node by typing, at a place that is free. */
export async function add(page: Page, title: string, at: Place): Promise<void> {
  await graph(page).focus();
  await press(page, 'Escape', 'Escape');
  await page.mouse.move(at.x, at.y);
  await press(page, 'i');
  await page.getByPlaceholder('Which kind of node?').fill(title);
  await page.getByRole('option', { name: title }).first().waitFor();
  await press(page, 'Enter');
  await said(page, new RegExp(`^Added ${title}[.;]`));
  await nodeCalled(page, title.replaceAll(' ', '_')).waitFor();
  await closeValues(page);
}

/** The fields of a new node’s main parameters open by themselves, if it has any; Escape goes back to the canvas. */
export async function closeValues(page: Page): Promise<void> {
  await settle(page, 200);
  const fields = page.getByRole('region', { name: /^Main parameters of/ });
  if ((await fields.count()) > 0) await fields.getByRole('button', { name: 'Done' }).click();
  await expect.poll(() => fields.count()).toBe(0);
}

export async function undoAll(page: Page): Promise<void> {
  await graph(page).focus();
  for (let i = 0; i < 20 && (await page.getByText('Unsaved changes').count()) > 0; i++) await press(page, 'Control+z');
  await said(page, 'Revision 1, saved');
}

export const free = { x: 150, y: 600 };

/** The middle of a node on the page. */
export async function middle(page: Page, name: string): Promise<Place> {
  const rect = await rectOf(page, await idOf(page, name));
  return { x: rect.x + rect.width / 2, y: rect.y + rect.height / 2 };
}
