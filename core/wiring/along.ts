import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { readBy, readersOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode } from '../document/schema.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { must } from '../must.ts';
import { beaconOf, tapsOf } from './carriers.ts';

// Walks that ask no types and no bypass. What truly feeds what is effective wiring.

/**
 * Over drawn wires alone: the given nodes and all that they take from (`up`), or all that take from them (`down`), the
 * given ones first. O(wires reached).
 */
export function alongWires(doc: Doc, starts: Iterable<Id>, direction: 'up' | 'down'): Set<Id> {
  const index = indexOf(doc);
  const seen = new Set(starts);
  const todo = [...seen];
  for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
    const wires = direction === 'up' ? index.wiresInto(id) : index.wiresFrom(id);
    for (const { from, to } of wires) {
      const next = direction === 'up' ? from.node : to.node;
      if (seen.has(next)) continue;
      seen.add(next);
      todo.push(next);
    }
  }
  return seen;
}

/** Goes to each node next to one over all that carries data, some of them twice. O(wires of the node). */
function visitNext(doc: Doc, node: GraphNode, direction: 'up' | 'down', without: Id | undefined, visit: Visit): void {
  const index = indexOf(doc);
  const { id } = node;
  if (direction === 'down' && node.kind === builtin.beacon) for (const tap of tapsOf(doc, id)) visit(tap.id);
  if (direction === 'up' && node.kind === builtin.tap) visit(beaconOf(doc, node)?.id);
  if (direction === 'up') for (const read of readBy(doc, node)) visit(read);
  else for (const reader of readersOf(doc, id)) visit(reader.node);
  if (node.kind === (direction === 'down' ? builtin.output : builtin.input)) visit(index.hostOf(node.graph)?.id);
  for (const wire of direction === 'up' ? index.wiresInto(id) : index.wiresFrom(id)) {
    if (wire.id === without) continue;
    const [next, side] = direction === 'up' ? [wire.from, 'out' as const] : [wire.to, 'in' as const];
    visit(next.node);
    // the port of a nested node is named after its boundary node
    const host = doc.nodes.get(next.node);
    if (host?.inner !== undefined) visit(portAt(host.ports, next.port, side)?.of ?? next.port);
  }
}

type Visit = (id: Id | undefined) => void;

/**
 * The same over all that carries data: expressions, from a beacon to its taps, into nested graphs and out of them, the
 * given nodes first. A nested node counts as one that gives at every output what comes in at any input. `without`: a wire
 * that does not count.
 * O(reached).
 */
export function alongData(doc: Doc, starts: Iterable<Id>, direction: 'up' | 'down', without?: Id): Set<Id> {
  const seen = new Set(starts);
  const todo = [...seen];
  const visit: Visit = (id) => {
    if (id === undefined || seen.has(id) || !doc.nodes.has(id)) return;
    seen.add(id);
    todo.push(id);
  };
  for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
    const node = doc.nodes.get(id);
    if (node) visitNext(doc, node, direction, without, visit);
  }
  return seen;
}

const loopsOf = new WeakMap<Doc, readonly (readonly GraphNode[])[]>();

/** The loops of a document over all that carries data, each with its nodes. O(nodes + wires), once for a version. */
export function dataLoops(doc: Doc): readonly (readonly GraphNode[])[] {
  let found = loopsOf.get(doc);
  if (!found) {
    const nodes = [...doc.nodes.values()];
    const at = new Map(nodes.map((node, i) => [node.id, i]));
    const before = nodes.map((node) => {
      const next: number[] = [];
      visitNext(doc, node, 'up', undefined, (id) => {
        const i = id === undefined ? undefined : at.get(id);
        if (i !== undefined) next.push(i);
      });
      return next;
    });
    found = stronglyConnected(before)
      .filter((loop) => loop.length > 1 || must(before[must(loop[0])]).includes(must(loop[0])))
      .map((loop) => loop.map((i) => must(nodes[i])));
    loopsOf.set(doc, found);
  }
  return found;
}

/**
 * Would a wire from one node to another close a loop, over drawn wires, remote links and borders? Without one of the
 * wires where that is said; O(reached).
 */
export const closesLoop = (doc: Doc, from: Id, to: Id, without?: Id): boolean =>
  from === to || alongData(doc, [to], 'down', without).has(from);
