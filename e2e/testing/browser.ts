import type { Browser, BrowserContext, Locator, Page } from 'playwright';
import { afterAll, afterEach, beforeAll, expect } from 'vitest';
import { launch, signIn } from './chromium.ts';

export const address = (): string => process.env.E2E_ADDRESS as string;

/**
 * How long a page may take to show what is waited for, in milliseconds: machines differ. E2E_WAIT makes it shorter
 * while tests are written.
 */
const patience = Number(process.env.E2E_WAIT ?? 45_000);

export interface Seat {
  readonly page: Page;
  readonly context: BrowserContext;
}

/**
 * Debian's Chromium for a test file; `sit` signs somebody in, at the application of all tests or at another one, and
 * opens a path where one is named. Whatever a page writes to the console as an error fails the test that caused it.
 */
export function useBrowser(): { sit(login?: string, path?: string, at?: string): Promise<Seat> } {
  let browser: Browser;
  let complaints: string[] = [];
  const contexts: BrowserContext[] = [];
  beforeAll(async () => {
    browser = await launch();
  });
  afterAll(() => browser.close());
  afterEach(async () => {
    for (const context of contexts.splice(0)) await context.close();
    const said = complaints;
    complaints = [];
    expect(said).toEqual([]);
  });
  return {
    async sit(login, path, at = address()) {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        acceptDownloads: true,
        permissions: ['clipboard-read', 'clipboard-write'],
      });
      contexts.push(context);
      const page = await context.newPage();
      page.setDefaultTimeout(patience);
      // what the server refuses on purpose is written there by the browser itself
      page.on(
        'console',
        (message) =>
          message.type() === 'error' &&
          !/status of (401|404|412|422)|net::ERR_(FAILED|INTERNET_DISCONNECTED)/.test(message.text()) &&
          complaints.push(message.text()),
      );
      page.on('pageerror', (error) => complaints.push(String(error)));
      if (login) await signIn(page, at, login);
      if (path !== undefined) await page.goto(at + path);
      return { page, context };
    },
  };
}

export interface Place {
  x: number;
  y: number;
}

/** Opens a file and waits until its graph stands still. */
export async function openFile(page: Page, id: string, search = ''): Promise<void> {
  await page.goto(`${address()}/files/${id}${search}`);
  await page.getByRole('region', { name: 'Graph' }).waitFor();
  await page.waitForFunction(
    () => window.basitaxCanvas !== undefined && document.querySelector('[aria-label="Graph"]') !== null,
  );
  await settle(page);
}

/**
 * Opens a copy, of the test's own, of a file as the demo left it: what other tests save does not matter, whatever order
 * they run in.
 */
export async function openOwn(page: Page, id: string): Promise<void> {
  const doc = await (await page.request.get(`${address()}/api/files/${id}/revisions/1`)).json();
  const made = await page.request.post(`${address()}/api/files?name=own.graph.json`, {
    data: { ...doc, title: `Own copy of ${doc.title}` },
  });
  if (!made.ok()) throw new Error(`No copy of ${id} was made: ${made.status()} ${await made.text()}`);
  await openFile(page, (await made.json()).file.id);
}

/**
 * Waits so long, by default until the graph stands still with its wires routed, at most the 700 milliseconds that all
 * that is put off takes; then as long as the page is busy: until some frames come within a tenth of a second.
 */
export async function settle(page: Page, ms?: number): Promise<void> {
  if (ms !== undefined) await page.waitForTimeout(ms);
  await page.evaluate(
    ([least, most]) =>
      new Promise<void>((done) => {
        const start = performance.now();
        let [last, before, calm] = [start, '', 0];
        const frame = (now: number): void => {
          const shown = window.basitaxCanvas?.shown() ?? '';
          const isPrompt = now - last > 0 && now - last < 100;
          calm = isPrompt && shown !== '' && shown === before ? calm + 1 : 0;
          if ((calm > 4 && now - start >= least) || (isPrompt && now - start >= most)) done();
          else {
            [last, before] = [now, shown];
            requestAnimationFrame(frame);
          }
        };
        requestAnimationFrame(frame);
      }),
    ms === undefined ? [250, 700] : ([0, 0] as const),
  );
}

/** Presses keys one after the other. */
export async function press(page: Page, ...keys: string[]): Promise<void> {
  for (const key of keys) await page.keyboard.press(key);
}

export const graph = (page: Page) => page.getByRole('region', { name: 'Graph' });

export const nodeCalled = (page: Page, name: string) =>
  page.getByRole('group', { name: new RegExp(`^${name},`) }).first();

export async function centreOf(page: Page, name: string): Promise<Place> {
  const box = await nodeCalled(page, name).boundingBox();
  if (!box) throw new Error(`“${name}” is not in the window`);
  return { x: box.x + box.width / 2, y: box.y + 10 };
}

export async function idOf(page: Page, name: string): Promise<string> {
  return (await nodeCalled(page, name).getAttribute('data-node')) as string;
}

export async function dragBy(page: Page, from: Place, dx: number, dy: number): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 1; i <= 5; i++) await page.mouse.move(from.x + (dx * i) / 5, from.y + (dy * i) / 5);
  await page.mouse.up();
}

export async function setView(page: Page, view: { x: number; y: number; zoom: number }): Promise<void> {
  await page.evaluate((to) => window.basitaxCanvas?.setView(to), view);
  await settle(page, 400);
}

/** A node's place on the page, where it is an element and where it is only drawn. */
export const rectOf = async (page: Page, id: string) =>
  (await page.evaluate((node) => window.basitaxCanvas?.nodeRect(node), id))!;

export const portAt = (page: Page, node: string, port: string, direction: 'in' | 'out'): Promise<Place | undefined> =>
  page.evaluate(
    ([id, name, way]) => window.basitaxCanvas?.portPlace(id!, name!, way as 'in' | 'out'),
    [node, port, direction],
  );

export const selectionOf = (page: Page): Promise<readonly string[]> =>
  page.evaluate(() => window.basitaxCanvas?.selection() ?? []);

/** What an input takes, such as `Dome master 4K.image`; undefined where it is open. */
export const sourceOf = (page: Page, node: string, port: string): Promise<string | undefined> =>
  page.evaluate(([id, name]) => window.basitaxCanvas?.source(id!, name!), [node, port]);

declare global {
  interface Window {
    basitaxCanvas?: {
      setView(view: { x: number; y: number; zoom: number }): void;
      nodeRect(id: string): { x: number; y: number; width: number; height: number } | undefined;
      portPlace(node: string, port: string, direction: 'in' | 'out'): Place | undefined;
      wireAt(x: number, y: number): string | undefined;
      selection(): readonly string[];
      shown(): string | undefined;
      source(node: string, port: string): string | undefined;
    };
  }
}

/** Chooses from a list that is searched. */
export async function pick(field: Locator, title: string): Promise<void> {
  await field.click();
  const page = field.page();
  await page.getByPlaceholder(/^Search \d+/).fill(title);
  await page
    .getByRole('option')
    .filter({ has: page.getByText(title, { exact: true }) })
    .first()
    .click();
}
