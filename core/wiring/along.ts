import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';

// Walks over drawn wires alone. What truly feeds what, over remote links and borders, is effective wiring.

/** The given nodes and all that they take from (`up`), or all that take from them (`down`), the given ones first. O(wires reached). */
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

/** Would a wire from one node to another close a loop? Walks downstream over drawn wires, without one of them where that is said; O(wires). */
export function closesLoop(doc: Doc, from: Id, to: Id, without?: Id): boolean {
  if (from === to) return true;
  const index = indexOf(doc);
  const seen = new Set<Id>([to]);
  const todo: Id[] = [to];
  for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
    for (const wire of index.wiresFrom(id)) {
      const next = wire.to.node;
      if (wire.id === without || seen.has(next)) continue;
      if (next === from) return true;
      seen.add(next);
      todo.push(next);
    }
  }
  return false;
}
