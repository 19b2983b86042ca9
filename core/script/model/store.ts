import type { Answer, Delta, KindRow, NodeRow, PortRow, Start } from '../bridge.ts';
import type { Request } from '../requests.ts';

// Runs inside the sandbox: what the host sent, as maps that its answers keep up to date. Nothing here decides anything.

type Row<T extends 'graphs' | 'wires' | 'frames' | 'notes'> = NonNullable<Delta[T]>[number];

declare global {
  var __host: (request: string) => string;
  var __start: string;
}
const host = globalThis.__host;
// what a script does to these is its own affair
const { parse, stringify } = JSON;

/** An error that ends the script, with the node that it is about. */
export class ScriptError extends Error {
  node: string | undefined;
  constructor(message: string, node?: string) {
    super(message);
    this.name = 'ScriptError';
    this.node = node;
  }
}

const given = parse(globalThis.__start) as Start;
Reflect.deleteProperty(globalThis, '__host');
Reflect.deleteProperty(globalThis, '__start');
export const { title, root, seed, selected, operations, results } = given;
export const startGraph = given.graph;

export const kinds: Record<string, KindRow> = {};
export const portLists: (readonly PortRow[])[] = [];
export const graphs = new Map<string, Row<'graphs'>>();
export const nodes = new Map<string, NodeRow>();
export const wires = new Map<string, Row<'wires'>>();
export const frames = new Map<string, Row<'frames'>>();
export const notes = new Map<string, Row<'notes'>>();
/** The named sets, by name. */
export let sets: NonNullable<Delta['sets']> = [];
const tables = [nodes, wires, frames, notes, graphs] as Map<string, unknown>[];

interface Index {
  /** All nodes in the order of reading, and where each stands in it. */
  readonly order: readonly string[];
  readonly place: ReadonlyMap<string, number>;
  readonly inGraph: Map<string, { nodes: string[]; wires: string[] }>;
  readonly at: Map<string, string[]>;
}
let index: Index | undefined;
let rects: Record<string, Record<string, readonly [number, number, number, number]>> = {};

function take(delta: Delta): void {
  Object.assign(kinds, delta.kinds);
  portLists.push(...(delta.portLists ?? []));
  if (delta.sets) sets = delta.sets;
  // a value that was set changes nothing of what is looked up
  const isSmall =
    !delta.gone &&
    !delta.graphs &&
    !delta.wires &&
    (delta.nodes ?? []).every((row) => nodes.get(row.id)?.graph === row.graph);
  for (const id of delta.gone ?? []) for (const table of tables) table.delete(id);
  for (const row of delta.graphs ?? []) graphs.set(row.id, row);
  for (const row of delta.nodes ?? []) nodes.set(row.id, row);
  for (const row of delta.wires ?? []) wires.set(row.id, row);
  for (const row of delta.frames ?? []) frames.set(row.id, row);
  for (const row of delta.notes ?? []) notes.set(row.id, row);
  if (!isSmall) index = undefined;
  rects = {};
}
take(given);

/** Ends the script without an error; the host knows why. */
export const stopped: unknown = Object.freeze({});

/** What is told with the line that asks: changes, and what is said. */
const fromLine: ReadonlySet<Request['do']> = new Set(['set', 'move', 'field', 'run', 'log']);
const { Error: Trace } = globalThis;

/** The line of the script that is running. */
function lineNow(): number | null {
  const found = /script\.ts:(\d+)/.exec(new Trace().stack ?? '');
  return found ? Number(found[1]) : null;
}

/** Asks the host. Throws its refusal, with the node that it is about. */
export function ask(request: Request, node?: string): unknown {
  const told = fromLine.has(request.do) ? { ...request, line: lineNow() } : request;
  const answer = parse(host(stringify(told))) as Answer;
  if (answer.stop) throw stopped;
  if (answer.error !== undefined) throw new ScriptError(answer.error, node);
  if (answer.delta) take(answer.delta);
  return answer.result;
}

/** Writes what the host accepted into a row, without its sending the row back. */
export function patch<T extends { readonly id: string }>(table: Map<string, T>, id: string, fields: Partial<T>): void {
  const row = table.get(id);
  if (row) table.set(id, { ...row, ...fields });
}

/** Nodes whose captions were written: how large they are by now is asked when somebody wants to know. */
const recaptioned = new Set<string>();
export const captioned = (id: string): void => void recaptioned.add(id);
export function sized(row: NodeRow): NodeRow {
  if (!recaptioned.delete(row.id)) return row;
  patch(nodes, row.id, ask({ do: 'size', node: row.id }) as { width: number; height: number });
  return nodes.get(row.id)!;
}

const numbered = (id: string): [string, number] => {
  const at = id.search(/\d+$/);
  return at === -1 ? [id, -1] : [id.slice(0, at), Number(id.slice(at))];
};

/** By id as people count: n2 before n10. */
export function byId(a: string, b: string): number {
  const [left, right] = [numbered(a), numbered(b)];
  return left[0] === right[0] ? left[1] - right[1] : left[0] < right[0] ? -1 : 1;
}

function indexed(): Index {
  if (index) return index;
  const order = ask({ do: 'order' }) as string[];
  const place = new Map(order.map((id, i) => [id, i]));
  const made: Index = { order, place, inGraph: new Map(), at: new Map() };
  const graphOf = (id: string): { nodes: string[]; wires: string[] } => {
    let entry = made.inGraph.get(id);
    if (!entry) {
      entry = { nodes: [], wires: [] };
      made.inGraph.set(id, entry);
    }
    return entry;
  };
  for (const id of order) graphOf(nodes.get(id)!.graph).nodes.push(id);
  for (const row of wires.values()) {
    graphOf(nodes.get(row.from[0])!.graph).wires.push(row.id);
    for (const [side, node, port] of [['out', ...row.from] as const, ['in', ...row.to] as const]) {
      const key = stringify([side, node, port]);
      const list = made.at.get(key);
      if (list) list.push(row.id);
      else made.at.set(key, [row.id]);
    }
  }
  for (const entry of made.inGraph.values()) entry.wires.sort(byId);
  index = made;
  return made;
}

export const nodesInOrder = (): readonly string[] => indexed().order;
export const placeOf = (id: string): number => indexed().place.get(id) ?? -1;
export const nodesIn = (graph: string): readonly string[] => indexed().inGraph.get(graph)?.nodes ?? [];
export const wiresIn = (graph: string): readonly string[] => indexed().inGraph.get(graph)?.wires ?? [];
export const wiresAt = (side: 'in' | 'out', node: string, port: string): readonly string[] =>
  indexed().at.get(stringify([side, node, port])) ?? [];

/** The rectangle of a frame; those of a graph are asked for together. */
export function rectOf(graph: string, id: string): { x: number; y: number; width: number; height: number } {
  rects[graph] ??= ask({ do: 'rects', graph }) as (typeof rects)[string];
  const [x, y, width, height] = rects[graph][id] ?? [0, 0, 0, 0];
  return { x, y, width, height };
}

/** Places have changed, and with them the rectangles of frames. */
export function moved(): void {
  rects = {};
}
