// Scripts that try to take time, memory or the host, for the tests and for the attack: gathered from what is known of
// sandboxes (common practice).

/** They try to take all time; each may only end its own run. */
export const endless: readonly (readonly [string, string])[] = [
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
  ['a loop in valueOf', 'const a = { valueOf() { for (;;); } }; a + 1'],
  ['a loop in a setter', 'const a = { set b(v) { for (;;); } }; a.b = 1'],
  ['a loop while a class is made', 'class A { static { for (;;); } }'],
  ['a loop in a default of a parameter', 'const f = (a = (() => { for (;;); })()) => a; f()'],
  ['a loop in a tagged template', 'const t = () => { for (;;); }; t`x`'],
  ['a loop in finally', 'for (;;) { try { throw 1 } finally { continue } }'],
  ['a generator that gives way to itself', 'function* a() { for (;;) yield* [1] } for (const one of a());'],
  [
    'a map that grows under its own walk',
    'const m = new Map([[0, 0]]); let i = 1; for (const [k] of m) { m.delete(k); m.set(i++, 0) }',
  ],
  ['a replace whose function loops', "'a'.replace(/a/, () => { for (;;); })"],
  ['a proxy of a proxy without end', 'let p = {}; for (;;) p = new Proxy(p, {})'],
  ['ownKeys that loops', 'Object.keys(new Proxy({}, { ownKeys() { for (;;); } }))'],
  ['labels that jump back', 'a: for (;;) { b: for (;;) continue a }'],
];

/** They try to take all memory. */
export const greedy: readonly (readonly [string, string])[] = [
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
  ['a set that grows', "const s = new Set(); for (let i = 0; ; i++) s.add('' + i)"],
  ['a text that is padded', "'x'.padEnd(2 ** 29)"],
  ['texts that are joined', "const a = []; for (;;) a.push('x'.repeat(1000) + a.length)"],
  ['views of one buffer, kept', 'const a = []; for (;;) a.push(new DataView(new ArrayBuffer(1 << 20)))'],
  ['regular expressions, kept', "const a = []; for (let i = 0; ; i++) a.push(new RegExp('a' + i))"],
  ['objects with many keys', "const a = {}; for (let i = 0; ; i++) a['k' + i] = i"],
  ['symbols, kept', 'const a = []; for (;;) a.push(Symbol())'],
  ['recursion through map', 'const f = () => [1].map(f); f()'],
  ['recursion through sort', 'const f = () => [2, 1].sort(f); f()'],
  ['recursion through replace', "const f = () => 'a'.replace(/a/, f); f()"],
];

/** They try to reach what is outside, with what they say where they reach nothing. */
export const reaching: readonly (readonly [string, string, string])[] = [
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
  ['modules', 'log(typeof importScripts, typeof require)', 'undefined undefined'],
  ['storage', 'log(typeof localStorage, typeof indexedDB, typeof caches)', 'undefined undefined undefined'],
  ['chance of the machine', 'log(typeof crypto)', 'undefined'],
  ['garbage', 'log(typeof gc, typeof WeakRef, typeof FinalizationRegistry)', 'undefined undefined undefined'],
  [
    'what stands behind all things',
    'const behind = Object.getPrototypeOf(graph); try { behind.polluted = 1 } catch {} log(typeof ({}).polluted)',
    'undefined',
  ],
  [
    'a class of its own behind things',
    "const behind = Object.getPrototypeOf(graph); log(typeof behind.constructor.constructor('return this.process')())",
    'undefined',
  ],
  [
    'the network in other words',
    'log(typeof navigator, typeof EventSource, typeof Request)',
    'undefined undefined undefined',
  ],
];
