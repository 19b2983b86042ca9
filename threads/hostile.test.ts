import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { emptyDoc } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { Refused } from '@basitax/core/said';
import { Runner } from '@basitax/core/work/runner';
import type { PlannedScript } from '@basitax/core/work/script-tasks';
import { afterAll, describe, expect, it } from 'vitest';
import { openThread } from './pool.ts';

// Scripts that try to take time, memory or the host. Gathered from what is known of sandboxes (common practice); each
// may only end its own run.

const runner = new Runner(() => openThread());
afterAll(() => runner.close());
const doc = writeDoc(emptyDoc('doc', 'Test'));

const run = (source: string, ms = 4000): Promise<PlannedScript> =>
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

const endless: readonly (readonly [string, string])[] = [
  ['an endless loop', 'while (true);'],
  [
    'an endless loop that catches all',
    'for (;;) { try { while (true); } catch (error) { log(error) } finally { continue } }',
  ],
  ['a loop in a getter', 'const a = { get b() { for (;;); } }; a.b'],
  ['a loop in toString', 'log(String({ toString() { for (;;); } }))'],
  ['a generator without end', 'function* all() { for (;;) yield 1 } for (const one of all());'],
  [
    'an iterator that never ends, spread',
    'const a = [...{ [Symbol.iterator]() { return { next: () => ({ done: false, value: 1 }) } } }]; log(a.length)',
  ],
  ['a regular expression that backtracks', "/^(a+)+$/.test('a'.repeat(40) + 'b')"],
  ['another one, over words', "/(\\w+\\s?)*$/.exec('word '.repeat(60) + '!')"],
  ['a sort whose order loops', '[3, 1, 2].sort(() => { for (;;); })'],
  ['a proxy that hangs', 'new Proxy({}, { get() { for (;;); } }).x'],
  ['one step that never yields', 'Array(2 ** 28).join("ab").length; Array(2 ** 28).join("ab").length'],
  ['a huge sort', 'const a = new Uint32Array(2e7); for (;;) a.sort()'],
  ['recursion through JSON', 'JSON.stringify({ toJSON() { for (;;); } })'],
  ['a loop of calls of the host', 'for (;;) log("again")'],
];

const greedy: readonly (readonly [string, string])[] = [
  ['an array that grows', 'const a = []; for (;;) a.push(new Array(1000).fill(1))'],
  ['a text that doubles', "let a = 'x'; for (;;) a += a"],
  ['a repeat beyond all', "'x'.repeat(2 ** 30 - 1).length"],
  ['typed arrays', 'const all = []; for (;;) all.push(new Uint8Array(1 << 24))'],
  ['a map that grows', 'const m = new Map(); for (let i = 0; ; i++) m.set(i, { i })'],
  ['recursion', 'function f() { return f() + 1 } f()'],
  ['recursion of a getter', 'const a = { get b() { return this.b } }; a.b'],
  ['deep nesting for JSON', "JSON.parse('['.repeat(500000))"],
  ['a deep chain of arrays', 'let a = []; for (let i = 0; i < 1e6; i++) a = [a]; JSON.stringify(a)'],
  ['a deep regular expression', "new RegExp('('.repeat(50000) + ')'.repeat(50000)).test('')"],
  ['a deep expression for eval', "(0, eval)('1' + '+(1'.repeat(50000) + ')'.repeat(50000))"],
  ['closures without end', 'let f = () => 1; for (;;) { const g = f; f = () => g() + 1 }'],
];

const reaching: readonly (readonly [string, string, string])[] = [
  [
    'Node',
    'log(typeof process, typeof require, typeof module, typeof Buffer, typeof global)',
    'undefined undefined undefined undefined undefined',
  ],
  [
    'the browser',
    'log(typeof window, typeof document, typeof self, typeof fetch, typeof XMLHttpRequest, typeof WebSocket)',
    'undefined undefined undefined undefined undefined undefined',
  ],
  [
    'other threads',
    'log(typeof Worker, typeof postMessage, typeof importScripts, typeof SharedArrayBuffer, typeof Atomics)',
    'undefined undefined undefined undefined undefined',
  ],
  [
    'the clock',
    'log(typeof Date, typeof performance, typeof setTimeout, typeof setInterval)',
    'undefined undefined undefined undefined',
  ],
  [
    'the host through constructors',
    "log(typeof log.constructor('return this')().process, typeof [].constructor.constructor('return typeof process')())",
    'undefined string',
  ],
  [
    'the host through the caller',
    "log((() => { try { return typeof (function () { return arguments.callee.caller }()) } catch (error) { return 'no' } })())",
    'no',
  ],
  ['WebAssembly', 'log(typeof WebAssembly)', 'undefined'],
];

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
