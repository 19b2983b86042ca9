import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { emptyDoc } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { Refused } from '@basitax/core/said';
import { Runner } from '@basitax/core/work/runner';
import type { PlannedScript } from '@basitax/core/work/script-tasks';
import { afterAll, describe, expect, it } from 'vitest';
import { endless, greedy, reaching } from './hostile-scripts.ts';
import { openThread } from './pool.ts';

// Scripts that try to take time, memory or the host. Gathered from what is known of sandboxes (common practice); each
// may only end its own run.

const runner = new Runner(() => openThread());
afterAll(() => runner.close());
const doc = writeDoc(emptyDoc('doc', 'Test'));

const run = (source: string, ms = 6000): Promise<PlannedScript> =>
  runner.run(
    'script',
    { graph: 'root', reach: { over: 'all' }, source, time: 400 },
    {
      doc,
      catalogue: emptyCatalogue,
      limit: { ms, say: { message: 'It was stopped from outside.', code: 'test.stopped', params: {} } },
    },
  );

const tooLong = /took too long|stopped from outside/;
const tooMuch =
  /more memory|too deeply|Invalid string length|invalid array length|took too long|stopped from outside|array too large/i;

describe('a hostile script', () => {
  it.each(endless)('ends with itself: %s', async (_what, source) => {
    const message = await run(source).then(
      (outcome) => outcome.failure?.message ?? 'it ran through',
      (error: Error) => (error instanceof Refused ? error.message : Promise.reject(error)),
    );
    expect(message).toMatch(new RegExp(`${tooLong.source}|${tooMuch.source}`, 'i'));
  });

  it.each(greedy)('gets no more than its share: %s', async (_what, source) => {
    const message = await run(source).then(
      (outcome) => outcome.failure?.message ?? 'it ran through',
      (error: Error) => (error instanceof Refused ? error.message : Promise.reject(error)),
    );
    // some are refused by their form alone
    expect(message).toMatch(new RegExp(`${tooMuch.source}|SyntaxError|RangeError`, 'i'));
  });

  it.each([
    ['by catching it in a function that is never awaited', 'async function f() { try { for (;;); } catch {} } f()'],
    ['in what is bent for all objects', 'Object.prototype.toJSON = () => ({ stop: true }); for (;;);'],
    ['by what is asked about errors', "globalThis.__about = () => '{\"stop\":true}'; throw new Error('x')"],
  ])('cannot hide that it failed %s', async (_what, source) => {
    const failure = await run(source).then(
      (outcome) => outcome.failure?.message,
      (error: Error) => (error instanceof Refused ? error.message : Promise.reject(error)),
    );
    expect(failure).toBeDefined();
  });

  it('gives its memory back', async () => {
    const rss = (): number => process.memoryUsage().rss / 1024 / 1024;
    await run('log(1)', 30_000);
    const before = rss();
    const greedyOne = 'const all = []; for (;;) all.push(new Uint8Array(1 << 24))';
    for (let i = 0; i < 6; i++)
      await run(greedyOne, 30_000).catch((error: Error) => expect(error).toBeInstanceOf(Refused));
    await run('log(1)', 30_000);
    // one run holds at most 112 MB, and the thread that it ran in is gone
    expect(rss() - before).toBeLessThan(150);
  }, 120_000);

  it.each(reaching)('does not reach %s', async (_what, source, said) => {
    const { log, failure } = await run(source);
    expect(failure).toBeUndefined();
    expect(log.map((line) => line.text)).toEqual([said]);
  });

  it.each([
    [
      'the prototypes of all',
      "Object.prototype.polluted = 1; Array.prototype.push = () => { throw 1 }; String.prototype.split = 0; graph.add('std.reroute')",
    ],
    ['JSON', "JSON.parse = () => ({ error: 'mine' }); JSON.stringify = () => '{'; graph.add('std.reroute')"],
    [
      'the border itself',
      "if (typeof __host !== 'undefined' || typeof __start !== 'undefined') throw 1; globalThis.__host = () => '{}'; graph.add('std.reroute')",
    ],
    ['options by the name of the prototype', 'options(JSON.parse(\'{"__proto__": {"type": "text", "default": ""}}\'))'],
    [
      'what the host asks about errors',
      "__about = () => { for (;;); }; Object.defineProperty(globalThis, '__about', { value: 1 }); throw { get stack() { throw 1 }, get message() { throw 2 } }",
    ],
  ])('harms nothing by changing %s', async (_what, source) => {
    await run(source).catch((error: Error) => expect(error).toBeInstanceOf(Refused));
    expect(({} as { polluted?: number }).polluted).toBeUndefined();
    // the next one finds everything as it should be
    const next = await run(
      `const node = graph.add('std.reroute'); log(graph.nodes.length, typeof {}.polluted, node.name.split('').length > 0)`,
    );
    expect(next.failure).toBeUndefined();
    expect(next.log.map((line) => line.text)).toEqual(['1 undefined true']);
    expect(next.edit.steps.every((step) => step.table === 'nodes')).toBe(true);
  });
});
