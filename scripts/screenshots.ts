// npm run screenshots: one current picture of each main view, from the demo data, into docs/screenshots/.
import { mkdirSync } from 'node:fs';
import type { Page } from 'playwright';
import startApplication from '../e2e/testing/application.ts';
import { fillSignIn, launch } from '../e2e/testing/chromium.ts';

const folder = new URL('../docs/screenshots/', import.meta.url).pathname;
mkdirSync(folder, { recursive: true });
const stop = await startApplication();
const address = process.env.E2E_ADDRESS as string;
const browser = await launch();

async function sit(scheme: 'light' | 'dark'): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: scheme })).newPage();
  await fillSignIn(page, address, 'editor');
  return page;
}
const enter = async (page: Page): Promise<void> => {
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL('**/files');
  await page.waitForTimeout(1200);
};
const open = async (page: Page, file: string, search = ''): Promise<void> => {
  await page.goto(`${address}/files/${file}${search}`);
  await page.getByRole('region', { name: 'Graph' }).waitFor();
  await page.waitForTimeout(2500);
};
const press = async (page: Page, ...keys: string[]): Promise<void> => {
  for (const key of keys) await page.keyboard.press(key);
};
const shoot = async (page: Page, name: string): Promise<void> => {
  await page.screenshot({ path: `${folder}${name}.png` });
  console.log(`docs/screenshots/${name}.png`);
};

try {
  const page = await sit('light');
  await shoot(page, 'sign-in');
  await enter(page);
  await shoot(page, 'files');
  await open(page, 'dome-blend');
  await page.getByRole('group', { name: /^HouseGrade,/ }).click();
  await page.waitForTimeout(500);
  await shoot(page, 'editor');
  await page.keyboard.press('Control+k');
  await page.waitForTimeout(400);
  await shoot(page, 'palette');
  await page.keyboard.press('Escape');
  await open(page, 'tide-cues');
  await page.getByRole('button', { name: 'Arrange by wiring' }).click();
  await page.getByText('Function fingerprint: same').waitFor();
  await page.waitForTimeout(1200);
  await shoot(page, 'arrange-preview');
  await page.keyboard.press('Enter');
  await page.getByText(/Arranged \d+ nodes/).waitFor();
  await page.keyboard.press('Control+s');
  await page.getByLabel('What was done, and why').fill('Put the cues in order for the rehearsal');
  await page.waitForTimeout(3200);
  await shoot(page, 'save');
  await page.keyboard.press('Enter');
  await page.getByText(/Saved as revision/).waitFor();
  await page.getByRole('button', { name: 'Revisions' }).click();
  await page.getByText('Put the cues in order').waitFor();
  await page.waitForTimeout(4500);
  await shoot(page, 'revisions');
  await open(page, 'reef-night');
  await shoot(page, 'whole');
  const surface = '?view=-60,60,0.72';
  const render = page.getByRole('group', { name: /^RN0010_Plankton_Render,/ });
  await open(page, 'reef-night', surface);
  await render.click();
  await press(page, 's');
  await shoot(page, 'keys');
  await press(page, 'Escape', 'n');
  await page.waitForTimeout(1500);
  await shoot(page, 'neighbourhood');
  await press(page, 'v', 'w', '/');
  await page.getByPlaceholder(/^Part of a name/).fill('plnakton rendr');
  await page.waitForTimeout(900);
  await shoot(page, 'find');
  await press(page, 'Escape');
  await page.waitForTimeout(300);
  await press(page, 's', 'q');
  const query = page.getByRole('dialog', { name: 'Select by query' });
  await query.getByLabel('Field').selectOption('Kind');
  await query.getByLabel('Value').fill('glow');
  await query.getByRole('button', { name: 'Another condition' }).click();
  await query.getByLabel('Field').nth(1).selectOption('size');
  await query.getByLabel('Value').nth(1).fill('40');
  await page.waitForTimeout(400);
  await shoot(page, 'query');
  await press(page, 'Escape');
  await page.waitForTimeout(300);
  await press(page, 't', 's', 'o', 's', 'u');
  await page.waitForTimeout(1200);
  const outline = page.getByRole('complementary', { name: 'Outline' });
  await outline.getByRole('button', { name: 'Selected' }).click();
  await page.waitForTimeout(2500);
  await shoot(page, 'outline');
  await open(page, 'reef-night', surface);
  await press(page, '/');
  await page.getByPlaceholder(/^Part of a name/).fill('RN0020_DomeFinish');
  await page.waitForTimeout(900);
  await press(page, 'Enter');
  await page.waitForTimeout(900);
  await press(page, 'p');
  await page.waitForTimeout(900);
  await shoot(page, 'peek');
  await page.goto(`${address}/shortcuts`);
  await page.getByText('Arrange by wiring').waitFor();
  await shoot(page, 'shortcuts');
  const night = await sit('dark');
  await enter(night);
  await open(night, 'reef-night', '?view=-60,60,0.72');
  await night.getByRole('group', { name: /^RN0010_Plankton_Render,/ }).click();
  await night.waitForTimeout(600);
  await shoot(night, 'editor-night');
} finally {
  await browser.close();
  await stop();
}
