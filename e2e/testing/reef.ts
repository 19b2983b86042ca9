import type { Page } from 'playwright';
import { expect } from 'vitest';
import { openFile, press, selectionOf, settle, setView } from './browser.ts';

// The demo file of nearly three thousand nodes, where every need of seeing and moving is tried. Nothing of it is saved.

export const render = 'RN0010_Plankton_Render';
export const surface = { x: -60, y: 60, zoom: 0.72 };
export const frameEdge = '#b9ac8f';

export const inspector = (page: Page) => page.getByRole('complementary', { name: 'Inspector' });
export const zoomOf = async (page: Page): Promise<number> =>
  Number(await page.getByLabel('Zoom in per cent').inputValue());
export const map = (page: Page) => page.getByRole('group', { name: /^Overview map/ });

export async function openReef(page: Page, view: { x: number; y: number; zoom: number } = surface): Promise<void> {
  await openFile(page, 'reef-night');
  await setView(page, view);
}

/** Finds by text, goes to the first hit, and waits until it is selected. */
export async function findAndGo(page: Page, text: string): Promise<void> {
  await press(page, '/');
  await page.getByPlaceholder(/^Part of a name/).fill(text);
  await page.getByRole('option').first().waitFor();
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await selectionOf(page)).length).toBe(1);
  await settle(page, 500);
}
