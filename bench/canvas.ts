import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { writeDoc } from '@basitax/core/document/file';
import type { Browser, Page } from 'playwright';
import { build, preview } from 'vite';
import startApplication from '../e2e/testing/application.ts';
import { launch, signIn } from '../e2e/testing/chromium.ts';
import { bigScene, plainScene } from './scene.ts';
import { costOf, spread } from './trace.ts';

/** One line of the table. Milliseconds, but where the title says otherwise. */
interface Line {
  readonly what: string;
  readonly goal: string;
  readonly ours: string;
  readonly xyflow: string;
}

/** A page with the scene on it, and how it is worked. */
interface Stage {
  readonly page: Page;
  /** Milliseconds from the request to the first full picture, each time that it was opened. */
  readonly opened: readonly number[];
  show(view: keyof typeof views): Promise<void>;
  /** Selects about a hundred nodes in the window; says how many, and where one of them can be grabbed. */
  selectHundred(): Promise<{ readonly count: number; readonly x: number; readonly y: number }>;
}

const [nodeCount, wireCount] = [10_000, 15_000];
const middle = { x: 480, y: 420 };
/**
 * Where the views begin: reading zoom at its lowest, where most nodes are elements at once; and one that holds about a
 * hundred nodes.
 */
const views = {
  reading: { x: -4000, y: -3000, zoom: 0.5 },
  hundred: { x: -3200, y: -2400, zoom: 0.4 },
  whole: { x: 40, y: 40, zoom: 0.037 },
} as const;

async function pan(page: Page, frames: number): Promise<void> {
  await page.mouse.move(middle.x, middle.y);
  await page.mouse.down({ button: 'middle' });
  for (let i = 0; i < frames; i++)
    await page.mouse.move(middle.x + 260 * Math.sin(i / 9), middle.y + 150 * Math.sin(i / 13));
  await page.mouse.up({ button: 'middle' });
}

async function zoom(page: Page, frames: number): Promise<void> {
  await page.mouse.move(middle.x, middle.y);
  for (let i = 0; i < frames; i++) {
    await page.mouse.wheel(0, Math.floor(i / 12) % 2 === 0 ? 40 : -40);
    await page.waitForTimeout(8);
  }
}

async function drag(page: Page, from: { x: number; y: number }, frames: number): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 0; i < frames; i++)
    await page.mouse.move(from.x + 200 * Math.sin(i / 10), from.y + 120 * Math.sin(i / 7));
  await page.mouse.up();
}

async function sit(browser: Browser): Promise<Page> {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  page.setDefaultTimeout(60_000);
  return page;
}

/** Waits in the page until `isDone` holds and two more frames have passed; milliseconds since the navigation began. */
const pictureTime = (page: Page, isDone: string): Promise<number> =>
  page.evaluate<number>(`new Promise((done) => {
    const later = requestAnimationFrame;
    const look = () => later(() => ((${isDone}) ? later(() => later(() => done(performance.now()))) : look()));
    look();
  })`);

async function ours(browser: Browser, text: string): Promise<Stage> {
  const address = process.env.E2E_ADDRESS as string;
  const page = await sit(browser);
  await signIn(page, address, 'editor');
  const answer = await page.context().request.post(`${address}/api/files?name=bench.basitax.json`, {
    data: Buffer.from(text),
    headers: { 'Content-Type': 'application/octet-stream', Origin: address },
    timeout: 120_000,
  });
  if (!answer.ok()) throw new Error(`The file was not taken: ${answer.status()} ${await answer.text()}`);
  const { file } = (await answer.json()) as { file: { id: string } };
  const open = async (): Promise<number> => {
    await page.goto(`${address}/files/${file.id}`, { waitUntil: 'commit' });
    return pictureTime(page, "performance.getEntriesByName('first picture').length > 0");
  };
  const times: number[] = [];
  // the first two fill the browser's caches, that of compiled script among them
  for (let i = 0; i < 9; i++) {
    times.push(await open());
    await page.waitForTimeout(1500);
  }
  const show = async (view: keyof typeof views): Promise<void> => {
    await page.evaluate((to) => window.basitaxCanvas?.setView(to), views[view]);
    await page.waitForTimeout(2500);
  };
  return {
    page,
    opened: times.slice(2),
    show,
    async selectHundred() {
      let count = 0;
      // a box begins on the ground: what lies under the first place may be a node
      for (let i = 0; i < 20 && count < 80; i++) {
        await page.keyboard.down('Shift');
        await page.mouse.move(4 + i * 5, 54 + i * 3);
        await page.mouse.down();
        await page.mouse.move(985, 748, { steps: 4 });
        await page.mouse.up();
        await page.keyboard.up('Shift');
        count = (await page.evaluate(() => window.basitaxCanvas?.selection().length)) ?? 0;
      }
      if (count < 80) throw new Error(`No box could be drawn: ${count} nodes are selected.`);
      await show('reading');
      const box = await page.locator('.node[data-selected="true"]').nth(20).boundingBox();
      if (!box) throw new Error('None of the selected nodes is in the window.');
      return { count, x: box.x + box.width / 2, y: box.y + 6 };
    },
  };
}

/** The page of the other library, built and served. */
async function servePlain(scene: string): Promise<{ address: string; stop(): Promise<void> }> {
  const root = new URL('./xyflow/', import.meta.url).pathname;
  const outDir = mkdtempSync(join(tmpdir(), 'basitax-bench-'));
  await build({ root, base: './', logLevel: 'error', build: { outDir, emptyOutDir: true, target: 'es2022' } });
  writeFileSync(join(outDir, 'scene.json'), scene);
  const server = await preview({ root, logLevel: 'error', build: { outDir }, preview: { host: '127.0.0.1', port: 0 } });
  return {
    address: server.resolvedUrls?.local[0] as string,
    async stop() {
      await server.close();
      rmSync(outDir, { recursive: true, force: true });
    },
  };
}

async function theirs(browser: Browser, address: string): Promise<Stage> {
  const page = await sit(browser);
  await page.goto(address, { waitUntil: 'commit' });
  const fit = 'flow.fitView({ minZoom: 0.01, padding: 0.05 })';
  const isDrawn = `window.flow && document.querySelectorAll('.react-flow__node').length >= ${nodeCount} && document.querySelectorAll('.react-flow__edge').length > 0 && (window.fitted ??= (${fit}, true))`;
  const opened = await pictureTime(page, isDrawn);
  const show = async (view: keyof typeof views): Promise<void> => {
    await page.evaluate(view === 'whole' ? fit : `flow.setViewport(${JSON.stringify(views[view])})`);
    await page.waitForTimeout(4000);
  };
  return {
    page,
    opened: [opened],
    show,
    async selectHundred() {
      await page.mouse.move(5, 5);
      await page.mouse.down();
      await page.mouse.move(980, 700, { steps: 4 });
      await page.mouse.up();
      await page.waitForTimeout(2000);
      const count = await page.locator('.react-flow__node.selected').count();
      await show('reading');
      const box = await page.locator('.react-flow__node.selected').evaluateAll((all) => {
        const inside = all
          .map((one) => one.getBoundingClientRect())
          .find((rect) => rect.x > 400 && rect.x < 700 && rect.y > 300 && rect.y < 500);
        return inside && { x: inside.x, y: inside.y, width: inside.width };
      });
      if (!box) throw new Error('None of the selected nodes is in the window.');
      return { count, x: box.x + box.width / 2, y: box.y + 6 };
    },
  };
}

const both = ({ median, p95 }: { median: number; p95: number }): string => `${median} / ${p95}`;

/** The private memory of the page's process, workers with it, and its heap of script after a collection; megabytes. */
async function memoryOf(browser: Browser, page: Page): Promise<{ heap: number; process: number }> {
  const session = await page.context().newCDPSession(page);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  const all = await (await browser.newBrowserCDPSession()).send('SystemInfo.getProcessInfo');
  const sizes = all.processInfo
    .filter((one) => one.type === 'renderer')
    .map(({ id }) => {
      const rollup = readFileSync(`/proc/${id}/smaps_rollup`, 'utf8');
      return (
        [...rollup.matchAll(/^Private_(?:Clean|Dirty):\s+(\d+) kB/gm)].reduce(
          (sum, match) => sum + Number(match[1]),
          0,
        ) / 1024
      );
    });
  return { heap: Math.round(usedSize / 2 ** 20), process: Math.round(Math.max(...sizes)) };
}

async function measure(browser: Browser, stage: Stage, frames: number, out: Record<string, string>): Promise<void> {
  const { page } = stage;
  const say = (what: string): void => console.error(`… ${what}`);
  say(`opened in ${stage.opened.map(Math.round).join(', ')} ms`);
  out['open to first full picture'] = Math.round(spread(stage.opened).median).toLocaleString('en');
  for (const view of ['reading', 'whole'] as const) {
    say(`pan and zoom, ${view}`);
    await stage.show(view);
    await pan(page, 20);
    const panned = await costOf(browser, page, () => pan(page, frames));
    out[`pan, ${view}: script a frame, median / p95`] = both(panned.script);
    out[`pan, ${view}: frame, median / p95`] = both(panned.frame);
    await stage.show(view);
    const zoomed = await costOf(browser, page, () => zoom(page, frames));
    out[`zoom, ${view}: script a frame, median / p95`] = both(zoomed.script);
    out[`zoom, ${view}: frame, median / p95`] = both(zoomed.frame);
  }
  say('drag a hundred');
  await stage.show('hundred');
  const grip = await stage.selectHundred();
  const dragged = await costOf(browser, page, () => drag(page, grip, frames));
  out['drag 100 selected: nodes in hand'] = String(grip.count);
  out['drag 100 selected: script a frame, median / p95'] = both(dragged.script);
  out['drag 100 selected: frame, median / p95'] = both(dragged.frame);
  const memory = await memoryOf(browser, page);
  out['memory: heap of script, MB'] = String(memory.heap);
  out['memory: process, MB'] = String(memory.process);
}

/** Types letter by letter into find, as one would; what each answer took. */
async function find(page: Page, out: Record<string, string>): Promise<void> {
  await page.keyboard.press('Control+f');
  const input = page.getByPlaceholder(/Part of a name/);
  await input.waitFor();
  await page.waitForTimeout(1500);
  for (const text of ['blur_123', 'stack 90', 'swtich', 'shot 12', 'tint', 'over_77']) {
    await input.fill('');
    await input.pressSequentially(text, { delay: 60 });
    await page.waitForTimeout(300);
  }
  const took = await page.evaluate(() => performance.getEntriesByName('find').map((entry) => entry.duration));
  out['find: an answer, median / p95'] = `${both(spread(took))}, at most ${Math.round(Math.max(...took))}`;
}

const goals: Readonly<Record<string, string>> = {
  'open to first full picture': '< 1,500',
  'pan, reading: script a frame, median / p95': '< 4 / 12',
  'pan, whole: script a frame, median / p95': '< 4 / 12',
  'zoom, reading: script a frame, median / p95': '< 4 / 12',
  'zoom, whole: script a frame, median / p95': '< 4 / 12',
  'drag 100 selected: script a frame, median / p95': '< 8',
  'find: an answer, median / p95': '< 50',
  'memory: process, MB': '< 250',
};

/** Our canvas and @xyflow/react as it comes, on the same scene, in one run of headless Chromium. */
export async function canvas(only?: string): Promise<Line[]> {
  const doc = bigScene(nodeCount, wireCount);
  const own: Record<string, string> = {};
  const other: Record<string, string> = {};
  const stop = await startApplication();
  const browser = await launch();
  try {
    const stage = await ours(browser, writeDoc(doc));
    await measure(browser, stage, 150, own);
    await find(stage.page, own);
  } finally {
    await browser.close();
    await stop();
  }
  if (only !== 'ours') {
    const served = await servePlain(JSON.stringify(plainScene(doc)));
    const second = await launch();
    try {
      await measure(second, await theirs(second, served.address), 30, other);
    } finally {
      await second.close();
      await served.stop();
    }
  }
  return Object.entries(own).map(([what, value]) => ({
    what,
    goal: goals[what] ?? '',
    ours: value,
    xyflow: other[what] ?? '',
  }));
}
