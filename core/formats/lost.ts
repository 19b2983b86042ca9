import { attributesIn } from '../document/attributes.ts';
import { type Doc, indexOf, table } from '../document/doc.ts';
import { type Json, sameJson } from '../document/json.ts';
import { portAt } from '../document/port-at.ts';
import type { AttributeBearer, TableName, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { plural } from '../words.ts';

const things: Readonly<Record<TableName, AttributeBearer>> = {
  graphs: 'graph',
  frames: 'frame',
  nodes: 'node',
  wires: 'wire',
  notes: 'note',
};
/** What fields are called, where their name says too little. */
const words: Readonly<Record<string, string>> = {
  params: 'parameters',
  settings: 'other settings',
  setting: 'the name of the setting',
  x: 'place',
  y: 'place',
  width: 'size',
  height: 'size',
  graph: 'which graph they lie in,',
  frame: 'the frame',
  parent: 'the frame around',
  inner: 'what is nested in',
  outerFrame: 'the frame outside',
  covers: 'what is supplied by',
  beacon: 'the beacon that is heard by',
  pad: 'margins',
  tiedTo: 'what is tied to',
  wireStyle: 'how wires run',
  sets: 'named sets',
  catalogue: 'which catalogue it is read with',
  from: 'ends',
  to: 'ends',
  off: 'that they are switched off,',
  order: 'what lies in front,',
  show: 'which ports show',
  closed: 'that they are closed,',
  pinned: 'that they are pinned,',
  bypassed: 'that they are bypassed,',
  locked: 'that they are locked,',
  folded: 'that they are folded,',
  caption: 'what stands on',
  pictureOff: 'whether the picture shows,',
  foreignId: 'the id in the file before',
  direction: 'the direction',
  undirected: 'that edges have no direction,',
  strict: 'that there is one edge at the most between two nodes,',
  towards: 'where the mark points,',
  mtlx: 'what MaterialX says beside',
};

/** A frame with nodes or frames in it takes its place from them. */
function isDerived(doc: Doc, name: TableName, id: string, field: string): boolean {
  if (name !== 'frames' || !['x', 'y', 'width', 'height'].includes(field)) return false;
  const index = indexOf(doc);
  return index.membersOf(id).length > 0 || index.framesWithin(id).length > 0;
}

/** Ports have their order among those of their side. */
function isSame(field: string, a: Json, b: Json): boolean {
  if (field !== 'ports' || !Array.isArray(a) || !Array.isArray(b)) return sameJson(a, b);
  const side = (ports: readonly Json[], direction: string): Json =>
    ports.filter((port) => (port as { direction?: string }).direction === direction);
  return ['in', 'out'].every((direction) => sameJson(side(a, direction), side(b, direction)));
}

/** The nodes that a wire joins. */
const keyOf = (wire: Wire): string => JSON.stringify([wire.from.node, wire.to.node]);
/** Is a wire there under its id? One that joins others has that id by chance. */
const isThere = (before: Doc, after: Doc, id: string): boolean => {
  const [own, other] = [before.wires.get(id), after.wires.get(id)];
  return own !== undefined && other !== undefined && keyOf(own) === keyOf(other);
};

/** Is a wire at ports that its file never named, so that one is as good as the next? */
function isUnnamedEnd(before: Doc, after: Doc, field: string, was: unknown, is: unknown): boolean {
  if (field !== 'from' && field !== 'to') return false;
  const [own, other] = [was, is] as [Wire['from'], Wire['from']];
  const isUnnamed = (doc: Doc, ref: Wire['from']): boolean =>
    portAt(doc.nodes.get(ref.node)?.ports ?? [], ref.port, field === 'from' ? 'out' : 'in')?.foreign === '';
  return own.node === other.node && isUnnamed(before, own) && isUnnamed(after, other);
}

/** How many of the wires that are not there by their ids are there by the nodes that they join. */
function foundByEnds(before: Doc, after: Doc, gone: readonly string[]): number {
  const left = new Map<string, number>();
  for (const [id, wire] of after.wires)
    if (!isThere(before, after, id)) left.set(keyOf(wire), (left.get(keyOf(wire)) ?? 0) + 1);
  return gone.filter((id) => {
    const key = keyOf(must(before.wires.get(id)));
    const count = left.get(key) ?? 0;
    left.set(key, count - 1);
    return count > 0;
  }).length;
}

/** Which attributes of a record are not as they were, by their names. */
function changedAttributes(before: Json | undefined, after: Json | undefined): string[] {
  const [old, now] = [before ?? {}, after ?? {}] as Readonly<Record<string, Json>>[];
  return Object.keys(old as object).filter((name) => !sameJson((old as Record<string, Json>)[name], now?.[name]));
}

/** How an attribute is called by whoever reads of it. */
const titleOf = (doc: Doc, of: AttributeBearer, name: string): string =>
  attributesIn(doc, of).find((one) => one.name === name)?.title ?? name;

/** A document with its outermost graph under another id, since few formats have a place for that one. */
function rootedAs(doc: Doc, root: string): Doc {
  const { root: own } = doc.head;
  if (own === root || doc.graphs.has(root)) return doc;
  const moved = <T extends { readonly graph: string }>(records: ReadonlyMap<string, T>): Map<string, T> =>
    new Map([...records].map(([id, one]) => [id, one.graph === own ? { ...one, graph: root } : one]));
  const graphs = new Map([...doc.graphs].map(([id, one]) => (id === own ? [root, { ...one, id: root }] : [id, one])));
  return {
    ...doc,
    head: { ...doc.head, root },
    graphs,
    nodes: moved(doc.nodes),
    frames: moved(doc.frames),
    notes: moved(doc.notes),
  };
}

/** So many attributes are told by their names. */
const mostNamed = 6;

/**
 * What is not there any more when a document has been written and read again, in words: things that are gone, and
 * fields and attributes of those that are not. Nothing where all came back. O(records · fields).
 */
export function lostBetween(before: Doc, read: Doc): string[] {
  const after = rootedAs(read, before.head.root);
  const said: string[] = [];
  for (const name of Object.keys(things) as TableName[]) {
    const [had, has] = [table(before, name), table(after, name)] as [
      ReadonlyMap<string, object>,
      ReadonlyMap<string, object>,
    ];
    const isGone = (id: string): boolean => (name === 'wires' ? !isThere(before, after, id) : !has.has(id));
    const gone = [...had.keys()].filter((id) => isGone(id) && id !== before.head.root);
    const renamed = name === 'wires' ? foundByEnds(before, after, gone) : 0;
    if (gone.length > renamed)
      said.push(plural(gone.length - renamed, name === 'graphs' ? 'nested graph' : things[name]));
    if (renamed > 0) said.push(`ids of ${plural(renamed, 'wire')}`);
    const fields = new Map<string, number>();
    const attributes = new Map<string, number>();
    const count = (map: Map<string, number>, key: string): void => void map.set(key, (map.get(key) ?? 0) + 1);
    for (const [id, one] of had) {
      const other = has.get(id) as Record<string, Json> | undefined;
      if (!other || isGone(id)) continue;
      const differing = new Set<string>();
      for (const [field, value] of Object.entries(one)) {
        if (field === 'attributes')
          for (const attribute of changedAttributes(value as Json, other.attributes)) count(attributes, attribute);
        else if (
          !isDerived(before, name, id, field) &&
          !isSame(field, value as Json, other[field] as Json) &&
          !(name === 'wires' && isUnnamedEnd(before, after, field, value, other[field]))
        )
          differing.add(words[field] ?? field);
      }
      for (const word of differing) count(fields, word);
    }
    const inOrder = (map: ReadonlyMap<string, number>) => [...map].sort(([a], [b]) => (a < b ? -1 : 1));
    for (const [word, number] of inOrder(fields)) said.push(`${word} of ${plural(number, things[name])}`);
    const named = inOrder(attributes);
    for (const [attribute, number] of named.slice(0, mostNamed))
      said.push(`attribute “${titleOf(before, things[name], attribute)}” of ${plural(number, things[name])}`);
    if (named.length > mostNamed) said.push(`${named.length - mostNamed} more attributes of ${things[name]}s`);
  }
  for (const field of ['title', 'sets', 'wireStyle', 'catalogue'] as const)
    if (before.head[field] !== undefined && !sameJson(before.head[field] as Json, after.head[field] as Json))
      said.push(words[field] ?? field);
  return said;
}
