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

async function sit(scheme: 'light' | 'dark', login = 'editor'): Promise<Page> {
  const page = await (
    await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: scheme })
  ).newPage();
  await fillSignIn(page, address, login);
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
  // what other pictures left here unsaved is none of this one's business
  const left = page.getByRole('button', { name: 'Discard them' });
  if ((await left.count()) > 0) await left.click();
};
const press = async (page: Page, ...keys: string[]): Promise<void> => {
  for (const key of keys) await page.keyboard.press(key);
};
const shoot = async (page: Page, name: string): Promise<void> => {
  await page.screenshot({ path: `${folder}${name}.png` });
  console.log(`docs/screenshots/${name}.png`);
};

/** Frames with a colour, a note, a mark, one folded. */
async function frames(page: Page): Promise<void> {
  const find = async (text: string): Promise<void> => {
    await page.locator('[data-canvas]').focus();
    await press(page, '/');
    await page.getByPlaceholder(/^Part of a name/).fill(text);
    await page.waitForTimeout(600);
    await press(page, 'Enter');
    await page.waitForTimeout(600);
    await page.locator('[data-canvas]').focus();
  };
  const color = (name: string) =>
    page.getByRole('group', { name: 'Colour' }).getByRole('button', { name, exact: true }).click();
  await open(page, 'plankton-shoal');
  await find('Rockfish, seabed');
  await press(page, 'f', 'o');
  await find('Squid, canopy');
  await color('Blue');
  await page.locator('[data-canvas]').focus();
  await press(page, 'f', 'a');
  await page
    .getByLabel('Text of the note, as Markdown')
    .fill(
      '## Squid, canopy\nDrives the **glow** of the squid by the tide clock.\n- brightness first, then colour\n- see *Squid_Canopy_Glow*',
    );
  await press(page, 'Control+Enter');
  await find('Squid_Canopy_Flee');
  await press(page, 'f', 'k');
  await page
    .getByRole('dialog')
    .getByLabel(/^Words/)
    .fill('new for the night act');
  await page.getByRole('button', { name: 'Mark', exact: true }).click();
  await find('Squid, canopy');
  await page.waitForTimeout(3500);
  await shoot(page, 'frames');
}

/** The panels that inspect, each with what it draws. */
async function inspecting(page: Page): Promise<void> {
  const canvas = page.locator('[data-canvas]');
  const pick = (name: string, shift = false) =>
    page
      .getByRole('group', { name: new RegExp(`^${name},`) })
      .first()
      .click({ position: { x: 30, y: 5 }, ...(shift && { modifiers: ['Shift'] }) });
  await open(page, 'dome-blend', '?view=40,60,0.6');
  await pick('ReefTilt');
  await pick('Blend_1', true);
  await press(page, 'q', 'd');
  await page.waitForTimeout(1500);
  await shoot(page, 'dependencies');
  await canvas.focus();
  await press(page, 'Escape');
  await pick('HouseGrade');
  await press(page, 'Delete');
  await pick('Warp_1');
  for (let i = 0; i < 3; i++) await press(page, 'ArrowDown');
  await pick('Warp_4');
  await press(page, 'w', 'b');
  await canvas.focus();
  await press(page, 'Escape', 'q', 'v');
  await page.getByText('Function fingerprint: changed').waitFor();
  await page.waitForTimeout(9500);
  await shoot(page, 'compare');
  for (let i = 0; i < 12; i++) await press(page, 'Control+z');
  await open(page, 'plankton-shoal', '?view=40,40,0.55');
  await canvas.focus();
  await press(page, 'q', 'l');
  await page.getByRole('radio', { name: 'All rules' }).click();
  await page.getByRole('list', { name: 'Overlap' }).waitFor();
  await page.waitForTimeout(600);
  await shoot(page, 'findings');
  await canvas.focus();
  await press(page, 'q', 'r');
  await page.getByRole('list', { name: 'The worst places' }).getByRole('button').first().click();
  await page.getByRole('button', { name: /^Everywhere:/ }).waitFor();
  await page.getByRole('complementary', { name: 'Readability' }).evaluate((panel) => {
    for (const part of panel.querySelectorAll('*')) part.scrollTop = 0;
  });
  await page.waitForTimeout(500);
  await shoot(page, 'readability');
  await canvas.focus();
  await press(page, 'q', 'r');
  await page.goto(`${address}/map`);
  await page
    .getByRole('list', { name: 'Items' })
    .getByRole('button', { name: /master\.exr/ })
    .click();
  await page.waitForTimeout(800);
  await shoot(page, 'map');
}

/** A script before it is applied, a recipe, and a run under review. */
async function batches(page: Page): Promise<void> {
  await open(page, 'title-cards');
  await press(page, 'b', 'c');
  const panel = page.getByRole('complementary', { name: 'Script' });
  await panel.getByRole('button', { name: 'Choose a script' }).click();
  await page.getByRole('menuitem', { name: 'Label from parameters' }).click();
  await panel.getByRole('button', { name: 'Show the code' }).click();
  await panel.getByLabel(/^Label/).fill('tint {strength}');
  await panel.getByRole('radio', { name: 'All' }).click();
  await panel.getByRole('button', { name: 'Dry run' }).click();
  await page.getByText('Function fingerprint: same').waitFor();
  await page.waitForTimeout(1500);
  await shoot(page, 'script');
  await page.goto(`${address}/batches`);
  await page.getByLabel(/^Title of the run/).fill('Tidy the night files');
  await page.waitForTimeout(800);
  await page.getByRole('button', { name: 'Start the dry run' }).click();
  await page.getByText('To be reviewed').waitFor({ timeout: 120_000 });
  await page.getByRole('button', { name: /^Accept \d+$/ }).click();
  await page.getByRole('button', { name: 'Reject Dome blend' }).click();
  await page.getByRole('button', { name: 'Title cards', exact: true }).click();
  await page.waitForTimeout(2500);
  await shoot(page, 'batch-run');
}

/** What is about the team: two who meet, house rules, health, what is handed over. */
async function team(): Promise<void> {
  const [page, other] = [await sit('light'), await sit('light', 'lead')];
  for (const one of [page, other]) await enter(one);
  for (const one of [page, other]) await open(one, 'dome-blend');
  const label = async (one: Page, text: string): Promise<void> => {
    await one.getByRole('group', { name: /^Warp_1,/ }).click({ position: { x: 30, y: 8 } });
    await one.getByLabel('Label', { exact: true }).fill(text);
    await press(one, 'Enter', 'Shift+ArrowRight');
  };
  const save = async (one: Page, message: string): Promise<void> => {
    await press(one, 'Control+s');
    await one.getByLabel('What was done, and why').fill(message);
    await press(one, 'Enter');
  };
  await label(other, 'North pair');
  await label(page, 'Left of the aisle');
  await save(other, 'Named by the seats');
  await other.getByText(/Saved as revision/).waitFor();
  await save(page, 'Named by the plan');
  await page.getByRole('list', { name: 'What meets' }).waitFor();
  await page.waitForTimeout(5000);
  await shoot(page, 'conflicts');
  await press(page, 'Escape');
  await other.goto(`${address}/rules?project=reef`);
  await other.getByLabel('Severity: Overlap', { exact: true }).selectOption('error');
  await other.getByLabel('Severity: Name in another style').selectOption('warning');
  await other.getByRole('region', { name: 'frames' }).scrollIntoViewIfNeeded();
  await other
    .locator('main')
    .evaluate((main) =>
      main.scrollTo(0, (main.querySelector('[aria-label="names"]')?.getBoundingClientRect().top ?? 0) - 420),
    );
  await other.waitForTimeout(500);
  await shoot(other, 'rules');
  await page.goto(`${address}/health`);
  await page.getByRole('region', { name: 'Worst files' }).waitFor();
  await page.waitForTimeout(1200);
  await shoot(page, 'health');
  await page.goto(`${address}/api/files/dome-blend/revisions/head/handover`);
  await page.waitForTimeout(800);
  await shoot(page, 'handover');
}

try {
  const page = await sit('light');
  await enter(page);
  await shoot(page, 'files');
  await open(page, 'dome-blend');
  await page.getByRole('group', { name: /^HouseGrade,/ }).click();
  await page.waitForTimeout(500);
  await shoot(page, 'editor');
  await open(page, 'tide-cues');
  await page.getByRole('button', { name: 'Arrange by wiring' }).click();
  await page.getByText('Function fingerprint: same').waitFor();
  await page.getByText('What each would save on its own').waitFor();
  await page.waitForFunction(() => !document.body.textContent?.includes('Working …'), undefined, { timeout: 120_000 });
  await page.waitForTimeout(600);
  await shoot(page, 'arrange-preview');
  await press(page, 'Escape');
  await open(page, 'glow-library', '?view=460,40,0.62');
  await press(page, 'l', 'n');
  await page.waitForTimeout(900);
  await page.getByRole('group', { name: /^Tide_phase, Beacon/ }).click();
  await page.waitForTimeout(900);
  await shoot(page, 'remote-links');
  await open(page, 'plankton-shoal');
  await page.locator('[data-canvas]').focus();
  await press(page, 'l', 'a');
  await page.getByRole('table', { name: 'What they do together' }).waitFor();
  await page.waitForTimeout(600);
  await shoot(page, 'advice');
  await press(page, 'l', 'a');
  await frames(page);
  await inspecting(page);
  await page.goto(`${address}/catalogue`);
  await page.getByLabel('Find a kind').fill('glow');
  await page
    .getByRole('button', { name: /Bioluminescence|Glow/ })
    .first()
    .click();
  await page.waitForTimeout(500);
  await shoot(page, 'catalogue');
  await batches(page);
  await team();
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
