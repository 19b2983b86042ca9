import type { Browser, Page } from 'playwright';

/**
 * What a stretch of use cost: milliseconds of script on the page's main thread per frame in which something was put in,
 * and between frames.
 */
export interface Cost {
  readonly frames: number;
  readonly script: { readonly median: number; readonly p95: number };
  readonly frame: { readonly median: number; readonly p95: number };
}

interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly pid: number;
  readonly tid: number;
  readonly ts: number;
  readonly dur?: number;
  readonly args: { readonly data?: { readonly type?: string } };
}

const scripts = new Set([
  'FunctionCall',
  'EvaluateScript',
  'EventDispatch',
  'FireAnimationFrame',
  'TimerFire',
  'RunMicrotasks',
  'v8.callFunction',
  'MinorGC',
  'MajorGC',
  'V8.GC_MC_BACKGROUND_MARKING',
]);
const inputs = new Set(['mousemove', 'pointermove', 'pointerrawupdate', 'wheel', 'mousewheel']);

/** Records a stretch of use with Chromium's own tracing. */
export async function costOf(browser: Browser, page: Page, use: () => Promise<void>): Promise<Cost> {
  await browser.startTracing(page, {
    categories: ['devtools.timeline', 'blink.user_timing', 'v8', 'disabled-by-default-v8.gc', '__metadata'],
  });
  // as text: what tsx compiles calls helpers that the page does not have
  await page.evaluate(
    "(window.benchTick = () => { performance.mark('bench-frame'); window.benchAsked = requestAnimationFrame(window.benchTick); })()",
  );
  await use();
  await page.evaluate('cancelAnimationFrame(window.benchAsked)');
  const trace = JSON.parse((await browser.stopTracing()).toString()) as { traceEvents: TraceEvent[] };
  return read(trace.traceEvents);
}

function read(events: readonly TraceEvent[]): Cost {
  const marks = events.filter((event) => event.name === 'bench-frame').sort((a, b) => a.ts - b.ts);
  const main = marks[0];
  if (!main) throw new Error('The trace holds no frame.');
  const own = events
    .filter(
      (event) =>
        event.pid === main.pid &&
        event.tid === main.tid &&
        event.ph === 'X' &&
        event.dur !== undefined &&
        scripts.has(event.name),
    )
    .sort((a, b) => a.ts - b.ts);
  const script: number[] = [];
  const between: number[] = [];
  let at = 0;
  for (let i = 0; i + 1 < marks.length; i++) {
    const [from, to] = [marks[i]!.ts, marks[i + 1]!.ts];
    let [sum, until, isDriven] = [0, from, false];
    while (at < own.length && own[at]!.ts < to) {
      const event = own[at++]!;
      if (inputs.has(event.args.data?.type ?? '')) isDriven = true;
      const end = event.ts + event.dur!;
      // what runs inside another is counted with it
      if (end > until) sum += end - Math.max(until, event.ts);
      until = Math.max(until, end);
    }
    if (!isDriven) continue;
    script.push(sum / 1000);
    between.push((to - from) / 1000);
  }
  return { frames: script.length, script: spread(script), frame: spread(between) };
}

const rounded = (value: number): number => Math.round(value * 10) / 10;

export function spread(values: readonly number[]): { median: number; p95: number } {
  const sorted = [...values].sort((a, b) => a - b);
  const at = (share: number): number =>
    rounded(sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? Number.NaN);
  return { median: at(0.5), p95: at(0.95) };
}
