import type { ScriptGlobals, ScriptThing } from '../api.ts';
import { functionName } from '../function-name.ts';
import { catalogue } from './catalogue.ts';
import { listOf } from './lists.ts';
import { at, current, performOn } from './perform.ts';
import { shown, treesOf } from './shown.ts';
import { ask, operations, results, ScriptError, seed, selected, startGraph, stopped } from './store.ts';
import { strict } from './strict.ts';
import { file, graphOf } from './things.ts';

// Runs inside the sandbox, before the script: what stands at the top of each.

current.graph = startGraph;

const say =
  (level: 'log' | 'warn') =>
  (...parts: readonly unknown[]): void =>
    void ask({ do: 'log', level, text: parts.map(shown).join(' '), values: treesOf(parts) });

const quoted = (cell: unknown): string => {
  const text = cell === undefined || cell === null ? '' : String(cell);
  return /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
};

// mulberry32: the seed is the run's own, so that the same input gives the same row
let state = seed | 0;
function random(): number {
  state = (state + 0x6d2b79f5) | 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
}
Math.random = random;
for (const name of ['SharedArrayBuffer', 'Atomics']) Reflect.deleteProperty(globalThis, name);

let declared = false;
const globals: ScriptGlobals = {
  file,
  graph: graphOf(startGraph),
  nodes: listOf(selected),
  options(options) {
    if (declared) throw new ScriptError('options() is called once, at the top of the script.');
    declared = true;
    return ask({ do: 'options', declared: options as never }) as never;
  },
  catalogue,
  assets: strict(
    {
      exists: (path) => ask({ do: 'asset', path: String(path) }) === true,
      find: (name) => ask({ do: 'assets-named', name: String(name) }) as string[],
    },
    'The asset store',
  ),
  operations: strict(
    Object.fromEntries(
      operations.map((id) => [
        functionName(id),
        (things: readonly ScriptThing[] = [], options?: object) => performOn(id, [...things], options),
      ]),
    ),
    'The registry of operations',
  ),
  select: (query) => graphOf(startGraph).select(query),
  run: (operation: string, things: readonly ScriptThing[] = [], options?: object) =>
    performOn(operation, [...things], options),
  log: say('log'),
  warn: say('warn'),
  progress: (fraction, what = '') => void ask({ do: 'progress', fraction: Number(fraction), what: String(what) }),
  skip: (node, reason) => void ask({ do: 'skip', node: node.id, reason: String(reason) }),
  fail: (reason) => {
    throw new ScriptError(String(reason), at.node);
  },
  output: (name, text) => void ask({ do: 'output', name: String(name), text: String(text) }),
  csv(rows) {
    const columns = Object.keys(rows[0] ?? {});
    return `${[columns, ...rows.map((row) => columns.map((column) => row[column]))].map((cells) => cells.map(quoted).join(',')).join('\r\n')}\r\n`;
  },
  random,
};
for (const [name, value] of Object.entries(globals))
  Object.defineProperty(globalThis, name, { value, enumerable: true, configurable: false, writable: false });
Object.defineProperty(globalThis, 'console', {
  value: { log: globals.log, info: globals.log, warn: globals.warn, error: globals.warn },
});

/** Called behind the script, with its `each` and `all` where it has them: one file, or what came of all. */
Object.defineProperty(globalThis, '__end', {
  value(each: unknown, all: unknown): void {
    const last = results ? all : each;
    if (typeof last !== 'function' || last.length > 1) return;
    const value = (last as (given: unknown) => unknown)(results ?? file);
    ask({ do: 'result', value: (value ?? null) as never });
  },
});

/** Asked by the host after an error: which node it is about, and whether it is the script's end on purpose. */
const { stringify } = JSON;
Object.defineProperty(globalThis, '__about', {
  value: (error: unknown): string =>
    stringify({
      stop: error === stopped,
      node: error instanceof ScriptError ? (error.node ?? at.node) : (at.node ?? null),
    }),
});
