import type { Doc } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { refuse } from './sentences.ts';

/** A named set, by id or by name. Throws Refused where there is none. */
export function setCalled(doc: Doc, wanted: string): { readonly id: Id; readonly name: string } {
  const sets = doc.head.sets ?? {};
  const id =
    wanted in sets
      ? wanted
      : Object.keys(sets).find((one) => must(sets[one]).name.toLowerCase() === wanted.trim().toLowerCase());
  if (id === undefined) throw refuse('no-set', { wanted });
  return { id, name: must(sets[id]).name };
}

const members = new WeakMap<ReadonlyMap<Id, GraphNode>, Map<Id, GraphNode[]>>();

/** The nodes of a set, in all graphs, by id. Made once for a version of the nodes, O(nodes). */
export function membersOfSet(doc: Doc, set: Id): readonly GraphNode[] {
  let known = members.get(doc.nodes);
  if (!known) {
    known = new Map();
    for (const node of doc.nodes.values()) for (const id of Object.keys(node.sets ?? {})) addTo(known, id, node);
    for (const list of known.values()) list.sort((a, b) => compareIds(a.id, b.id));
    members.set(doc.nodes, known);
  }
  return known.get(set) ?? [];
}

/** The sets of a document, by name. */
export const setsOf = (doc: Doc): { readonly id: Id; readonly name: string }[] =>
  Object.entries(doc.head.sets ?? {})
    .map(([id, { name }]) => ({ id, name }))
    .sort((a, b) => (a.name.toLowerCase() < b.name.toLowerCase() ? -1 : 1));
