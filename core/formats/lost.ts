import { type Doc, indexOf, table } from '../document/doc.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { TableName, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { plural } from '../words.ts';

const things: Readonly<Record<TableName, string>> = {
  graphs: 'nested graph',
  frames: 'frame',
  nodes: 'node',
  wires: 'wire',
  notes: 'note',
};
/** What fields are called, where their name says too little. */
const words: Readonly<Record<string, string>> = {
  params: 'parameters',
  x: 'place',
  y: 'place',
  graph: 'the graph',
  frame: 'the frame',
  inner: 'what is nested in',
  pad: 'margins',
  tiedTo: 'what is tied to',
  wireStyle: 'how wires run',
  sets: 'named sets',
  catalogue: 'which catalogue it is read with',
  from: 'ends',
  to: 'ends',
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

/** How many of the wires that are not there by their ids are there by the nodes that they join. */
function foundByEnds(before: Doc, after: Doc, gone: readonly string[]): number {
  const left = new Map<string, number>();
  const keyOf = (wire: Wire): string => JSON.stringify([wire.from.node, wire.to.node]);
  for (const [id, wire] of after.wires)
    if (!before.wires.has(id)) left.set(keyOf(wire), (left.get(keyOf(wire)) ?? 0) + 1);
  return gone.filter((id) => {
    const key = keyOf(must(before.wires.get(id)));
    const count = left.get(key) ?? 0;
    left.set(key, count - 1);
    return count > 0;
  }).length;
}

/**
 * What is not there any more when a document has been written and read again, in words: things that are gone, and
 * fields of those that are not. Nothing where all came back. O(records · fields).
 */
export function lostBetween(before: Doc, after: Doc): string[] {
  const said: string[] = [];
  for (const name of Object.keys(things) as TableName[]) {
    const [had, has] = [table(before, name), table(after, name)] as [
      ReadonlyMap<string, object>,
      ReadonlyMap<string, object>,
    ];
    const gone = [...had.keys()].filter((id) => !has.has(id) && id !== before.head.root);
    const renamed = name === 'wires' ? foundByEnds(before, after, gone) : 0;
    if (gone.length > renamed) said.push(plural(gone.length - renamed, things[name]));
    if (renamed > 0) said.push(`ids of ${plural(renamed, 'wire')}`);
    const fields = new Map<string, number>();
    for (const [id, one] of had) {
      const other = has.get(id);
      if (!other) continue;
      const differing = new Set<string>();
      for (const [field, value] of Object.entries(one))
        if (
          !isDerived(before, name, id, field) &&
          !isSame(field, value as Json, (other as Record<string, Json>)[field] as Json)
        )
          differing.add(words[field] ?? field);
      for (const word of differing) fields.set(word, (fields.get(word) ?? 0) + 1);
    }
    for (const [word, count] of [...fields].sort(([a], [b]) => (a < b ? -1 : 1)))
      said.push(`${word} of ${plural(count, things[name])}`);
  }
  for (const field of ['title', 'sets', 'wireStyle', 'catalogue'] as const)
    if (before.head[field] !== undefined && !sameJson(before.head[field] as Json, after.head[field] as Json))
      said.push(words[field] ?? field);
  return said;
}
