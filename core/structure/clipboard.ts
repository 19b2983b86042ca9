import { z } from 'zod';
import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf, type Selection, selectedNodes } from '../document/doc.ts';
import { docFromJson, writeDoc } from '../document/file.ts';
import { frameRects, type Rect, rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, namesIn } from '../document/names.ts';
import type { Frame, GraphNode, Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import type { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { beaconOf } from '../wiring/carriers.ts';
import { carriedType, portOf } from '../wiring/types.ts';
import { find, refuse } from './sentences.ts';

/**
 * The selection as clipboard text: a whole document in the file format, so that it can be sent in a chat. Wires that
 * come in from outside stand in a field of their own, `incoming`; pasting into a graph that still has their sources may
 * bring them back.
 */
export function copyText(doc: Doc, kinds: Kinds, selection: Selection): string {
  const { doc: copied, incoming } = copyDoc(doc, kinds, selection);
  return writeDoc({ ...copied, extra: { incoming: incoming as unknown as Json } });
}

/** What is copied, as a document, and the wires that come into it from outside. O(copied). */
export interface Clip {
  readonly doc: Doc;
  readonly incoming: readonly Wire[];
}

/** Throws Refused where nothing is selected. */
export function copyDoc(doc: Doc, kinds: Kinds, selection: Selection): Clip {
  // one graph is copied; what lies in others stays out
  const isHere = (item: { graph: Id }): boolean => item.graph === selection.graph;
  const nodes = selectedNodes(doc, selection).filter(isHere);
  const notes = selection.items.flatMap((id) => doc.notes.get(id) ?? []).filter(isHere);
  if (nodes.length === 0 && notes.length === 0) throw refuse('nothing-to-copy');
  const index = indexOf(doc);
  const inside = new Map(nodes.map((node) => [node.id, node]));
  const frames = framesOf(doc, kinds, selection, inside);
  const graphs = new Map([[selection.graph, must(doc.graphs.get(selection.graph))]]);
  const allNodes = new Map<Id, GraphNode>(
    [...inside].map(([id, node]) => [id, node.frame && !frames.has(node.frame) ? withoutFrame(node) : node]),
  );
  const allFrames = new Map(frames);
  const allNotes = new Map(notes.map((note) => [note.id, note]));
  const todo = nodes.flatMap((node) => node.inner ?? []);
  for (let graph = todo.pop(); graph !== undefined; graph = todo.pop()) {
    graphs.set(graph, must(doc.graphs.get(graph)));
    for (const node of index.nodesIn(graph)) {
      allNodes.set(node.id, node);
      if (node.inner !== undefined) todo.push(node.inner);
    }
    for (const frame of index.framesIn(graph)) allFrames.set(frame.id, frame);
    for (const note of index.notesIn(graph)) allNotes.set(note.id, note);
  }
  const wires = new Map<Id, Wire>();
  const incoming: Wire[] = [];
  for (const id of allNodes.keys()) {
    for (const wire of index.wiresInto(id)) {
      if (allNodes.has(wire.from.node)) wires.set(wire.id, wire);
      else incoming.push(wire);
    }
  }
  const head = { ...doc.head, root: selection.graph };
  return { doc: { head, extra: {}, graphs, nodes: allNodes, frames: allFrames, wires, notes: allNotes }, incoming };
}

function withoutFrame(node: GraphNode): GraphNode {
  const { frame: _, ...rest } = node;
  return rest;
}

/** Selected frames and those whose nodes are all selected, with their present rectangles. */
function framesOf(doc: Doc, kinds: Kinds, selection: Selection, inside: ReadonlyMap<Id, GraphNode>): Map<Id, Frame> {
  const index = indexOf(doc);
  const chosen = new Set<Id>();
  const add = (id: Id): void => {
    chosen.add(id);
    for (const inner of index.framesWithin(id)) add(inner.id);
  };
  for (const id of selection.items) if (doc.frames.has(id)) add(id);
  const frames = new Map<Id, Frame>();
  const isWhole = (frame: Frame): boolean => {
    const members = index.membersOf(frame.id);
    return chosen.has(frame.id) || (members.length > 0 && members.every((node) => inside.has(node.id)));
  };
  const whole = index.framesIn(selection.graph).filter(isWhole);
  const rects = whole.length > 0 ? frameRects(doc, kinds, selection.graph) : undefined;
  for (const frame of whole) frames.set(frame.id, { ...frame, ...rects?.get(frame.id) });
  for (const [id, frame] of frames) {
    if (frame.parent === undefined || frames.has(frame.parent)) continue;
    const { parent: _, ...rest } = frame;
    frames.set(id, rest);
  }
  return frames;
}

const incomingSchema = z.array(
  z
    .object({
      id: z.string(),
      from: z.object({ node: z.string(), port: z.string() }),
      to: z.object({ node: z.string(), port: z.string() }),
    })
    .loose(),
);

/** Reads clipboard text; throws Refused where it holds no graph. */
export function readClipboard(text: string): Clip {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw refuse('clipboard-empty');
  }
  try {
    const { doc } = docFromJson(raw);
    const incoming = incomingSchema.safeParse(doc.extra.incoming ?? []);
    return { doc, incoming: incoming.success ? (incoming.data as Wire[]) : [] };
  } catch (error) {
    if (error instanceof UnreadableFile) throw refuse('clipboard-unreadable', { error: error.message });
    throw error;
  }
}

export interface Paste {
  readonly graph: Id;
  /**
   * Where the top-left corner of what is pasted goes, pixels at 100 % zoom; or the places that it has, where nothing
   * else is. Absent: beside the original.
   */
  readonly at?: { readonly x: number; readonly y: number } | 'same';
  readonly incoming: boolean;
  readonly newId: (prefix: string) => string;
}

/**
 * Puts a copied document into a graph: new ids, free names, never exactly on top of the original. O(pasted + document).
 */
export function paste(
  tx: Transaction,
  kinds: Kinds,
  clip: Clip,
  options: Paste,
): { select: Id[]; findings: Finding[] } {
  const { doc } = clip;
  const found: Finding[] = [];
  const ids = new Map<Id, Id>([[doc.head.root, options.graph]]);
  const fresh = (id: Id, prefix: string): Id => {
    const made = options.newId(prefix);
    ids.set(id, made);
    return made;
  };
  for (const [name, prefix] of [
    ['graphs', 'g'],
    ['frames', 'f'],
    ['nodes', 'n'],
    ['notes', 't'],
  ] as const)
    for (const id of doc[name].keys()) if (id !== doc.head.root) fresh(id, prefix);
  const map = (id: Id): Id => ids.get(id) ?? id;
  // ids of another file mean nothing here, though they may be taken here too
  const isOwn = doc.head.id === tx.before.head.id;
  const knows = (id: Id): boolean => isOwn || ids.has(id);
  const shift = shiftFor(tx.before, kinds, doc, options);
  const moved = <T extends { graph: Id; x: number; y: number }>(item: T): T =>
    item.graph === doc.head.root ? { ...item, x: item.x + shift.x, y: item.y + shift.y } : item;

  for (const [id, graph] of doc.graphs) if (id !== doc.head.root) tx.add('graphs', { ...graph, id: map(id) });
  for (const frame of doc.frames.values())
    tx.add('frames', {
      ...moved(frame),
      id: map(frame.id),
      graph: map(frame.graph),
      ...(frame.parent !== undefined && { parent: map(frame.parent) }),
    });
  const taken = namesIn(tx.before, options.graph);
  const select: Id[] = [];
  for (const node of doc.nodes.values()) {
    const outer = node.graph === doc.head.root;
    const name = outer ? freeName(node.name, taken) : node.name;
    if (outer) select.push(map(node.id));
    tx.add('nodes', pastedNode(isOwn ? moved(node) : withoutSets(moved(node)), name, map, knows));
  }
  for (const note of doc.notes.values()) {
    if (note.graph === doc.head.root) select.push(map(note.id));
    tx.add('notes', {
      ...moved(note),
      id: map(note.id),
      graph: map(note.graph),
      ...(note.tiedTo !== undefined && { tiedTo: map(note.tiedTo) }),
    });
  }
  // a port of a nested graph is named by its boundary node, so that the ports of wires are mapped too
  const end = (ref: Wire['from']): Wire['from'] => ({ node: map(ref.node), port: mappedPart(ref.port, map) });
  for (const wire of doc.wires.values())
    tx.add('wires', { ...wire, id: options.newId('w'), from: end(wire.from), to: end(wire.to) });
  if (options.incoming) {
    for (const wire of clip.incoming) {
      const source = isOwn ? tx.before.nodes.get(wire.from.node) : undefined;
      const target = must(tx.get('nodes', map(wire.to.node)));
      const output = source?.graph === options.graph ? portOf(source, wire.from.port, 'out') : undefined;
      const input = portOf(target, end(wire.to).port, 'in');
      const given = output && { ...output, type: carriedType(tx.before, kinds, wire.from) };
      const why = !given || !input ? 'its source is not in this graph.' : kinds.refusal(input, given)?.message;
      if (why === undefined) tx.add('wires', { ...wire, id: options.newId('w'), to: end(wire.to) });
      else
        found.push(
          find('wire-lost', 'warning', [target.id], 'wire-not-pasted', {
            port: input?.name ?? wire.to.port,
            target: caption(target),
            why,
          }),
        );
    }
  }
  return { select, findings: [...found, ...tuneTaps(tx, [...doc.nodes.keys()].map(map))] };
}

/**
 * Taps that came with their beacon take its new name; the others listen for the name that they know, and say what they
 * hear.
 */
function tuneTaps(tx: Transaction, pasted: readonly Id[]): Finding[] {
  const taps = pasted
    .flatMap((id) => tx.get('nodes', id) ?? [])
    .filter((node) => node.kind === builtin.tap && node.beacon !== undefined);
  for (const tap of taps) {
    const beacon = tx.get('nodes', must(tap.beacon).id ?? '');
    const name = beacon?.kind === builtin.beacon ? beacon.name : undefined;
    if (name !== undefined && name !== must(tap.beacon).name)
      tx.set('nodes', tap.id, 'beacon', { ...must(tap.beacon), name });
  }
  const strays = taps.filter((tap) => tx.get('nodes', must(tap.beacon).id ?? '')?.kind !== builtin.beacon);
  if (strays.length === 0) return [];
  const { doc } = tx;
  return strays.map((tap) => {
    const heard = beaconOf(doc, tap);
    const { name } = must(tap.beacon);
    const place = placeOf(doc, tap.graph, tap.id);
    return heard
      ? find('tap-by-name', 'info', place, 'tap-heard-by-name', {
          tap: tap.name,
          name,
          graph: doc.graphs.get(heard.graph)?.name ?? heard.graph,
        })
      : find('lost-tap', 'warning', place, 'beacon-not-here', { tap: tap.name, name });
  });
}

/** The sets of another file mean nothing here. */
function withoutSets({ sets: _, ...node }: GraphNode): GraphNode {
  return node;
}

function pastedNode(node: GraphNode, name: string, map: (id: Id) => Id, knows: (id: Id) => boolean): GraphNode {
  return {
    ...node,
    id: map(node.id),
    graph: map(node.graph),
    name,
    ...(node.frame !== undefined && { frame: map(node.frame) }),
    ...(node.covers !== undefined && { covers: map(node.covers) }),
    ...(node.inner !== undefined && {
      inner: map(node.inner),
      ports: node.ports.map((port) =>
        port.of === undefined
          ? { ...port, id: map(port.id) }
          : { ...port, id: mappedPart(port.id, map), of: map(port.of) },
      ),
    }),
    ...(node.beacon?.id !== undefined && {
      beacon: knows(node.beacon.id) ? { ...node.beacon, id: map(node.beacon.id) } : { name: node.beacon.name },
    }),
    ...(node.params && {
      params: Object.fromEntries(Object.entries(node.params).map(([key, value]) => [key, mapReferences(value, map)])),
    }),
  };
}

/**
 * The port of a nested graph, or a component of one: what stands before the first full stop may be the id of a boundary
 * node.
 */
function mappedPart(port: string, map: (id: Id) => Id): string {
  const stop = port.indexOf('.');
  return stop < 0 ? map(port) : `${map(port.slice(0, stop))}${port.slice(stop)}`;
}

function mapReferences(value: Json, map: (id: Id) => Id): Json {
  const expression = (value as { expression?: unknown } | null)?.expression;
  if (!Array.isArray(expression)) return value;
  return {
    expression: expression.map((segment: Json) =>
      typeof segment === 'object' && segment !== null && 'node' in segment
        ? { ...segment, node: map(String(segment.node)) }
        : segment,
    ),
  };
}

function shiftFor(target: Doc, kinds: Kinds, clip: Doc, options: Paste): { x: number; y: number } {
  const outer = indexOf(clip).nodesIn(clip.head.root);
  const bounds: Rect | undefined = unite([
    ...outer.map((node) => rectOf(clip, kinds, node)),
    ...indexOf(clip).notesIn(clip.head.root),
  ]);
  if (!bounds || options.at === 'same') return { x: 0, y: 0 };
  const shift = options.at
    ? { x: Math.round(options.at.x - bounds.x), y: Math.round(options.at.y - bounds.y) }
    : { x: 32, y: 32 };
  // what would lie exactly on something goes on by steps; all that is taken lies on the same diagonals
  const onDiagonal = new Map<number, number[]>();
  for (const { x, y } of outer) {
    const row = onDiagonal.get(x - y);
    if (row) row.push(x);
    else onDiagonal.set(x - y, [x]);
  }
  const taken = new Set<number>();
  for (const node of indexOf(target).nodesIn(options.graph))
    for (const x of onDiagonal.get(node.x - node.y - shift.x + shift.y) ?? [])
      taken.add((node.x - x - shift.x) / diagonalStep);
  let steps = 0;
  while (taken.has(steps)) steps++;
  return { x: shift.x + steps * diagonalStep, y: shift.y + steps * diagonalStep };
}

const diagonalStep = 16;
