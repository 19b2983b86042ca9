import type { ScriptGlobals, ScriptNode, ScriptThing } from '../api.ts';
import { at, current, listOf, performOn } from './nodes.ts';
import { ask, ScriptError, seed, selected, startGraph, stopped } from './store.ts';
import { file, graphOf } from './things.ts';

// Runs inside the sandbox, before the script: what stands at the top of each.

current.graph = startGraph;

/** What is logged, as people would write it down. */
function shown(part: unknown): string {
  if (typeof part === 'string') return part;
  if (part === undefined) return 'undefined';
  if (typeof part === 'object' && part !== null && 'kindTitle' in part)
    return `“${(part as ScriptNode).label || (part as ScriptNode).name}”`;
  if (part instanceof Error) return `${part.name}: ${part.message}`;
  try {
    return (
      JSON.stringify(part, (key, value) =>
        key !== '' && typeof value === 'object' && value !== null && 'kindTitle' in value ? value.name : value,
      ) ?? String(part)
    );
  } catch (error) {
    return `${String(part)} (${(error as Error).message})`;
  }
}

const say =
  (level: 'log' | 'warn') =>
  (...parts: readonly unknown[]): void =>
    void ask({ do: 'log', level, text: parts.map(shown).join(' ') });

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

/** Asked by the host after an error: which node it is about, and whether it is the script's end on purpose. */
const { stringify } = JSON;
Object.defineProperty(globalThis, '__about', {
  value: (error: unknown): string =>
    stringify({
      stop: error === stopped,
      node: error instanceof ScriptError ? (error.node ?? at.node) : (at.node ?? null),
    }),
});
