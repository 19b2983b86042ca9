import type { Doc } from './doc.ts';
import type { Id } from './ids.ts';

const gone = Symbol('gone');

/** With more changes than this lying over it, a table is copied whole. */
const mostOver = 1500;

/**
 * A table of records with some changes over one that stays as it is: a new version costs as much as was changed, not as
 * much as there is.
 * Answers like a map. Values keep their places; what was added comes behind.
 */
class Layered<T> implements ReadonlyMap<Id, T> {
  readonly base: ReadonlyMap<Id, T>;
  readonly over: ReadonlyMap<Id, T | typeof gone>;
  readonly size: number;

  constructor(base: ReadonlyMap<Id, T>, over: ReadonlyMap<Id, T | typeof gone>) {
    this.base = base;
    this.over = over;
    let size = base.size;
    for (const [id, value] of over) size += Number(value !== gone) - Number(base.has(id));
    this.size = size;
  }

  get(id: Id): T | undefined {
    const value = this.over.get(id);
    return value === undefined ? this.base.get(id) : value === gone ? undefined : value;
  }

  has(id: Id): boolean {
    const value = this.over.get(id);
    return value === undefined ? this.base.has(id) : value !== gone;
  }

  forEach(each: (value: T, key: Id, map: ReadonlyMap<Id, T>) => void): void {
    for (const [id, value] of this.entries()) each(value, id, this);
  }

  *entries(): MapIterator<[Id, T]> {
    for (const entry of this.base) {
      const value = this.over.get(entry[0]);
      if (value === undefined) yield entry;
      else if (value !== gone) yield [entry[0], value];
    }
    for (const [id, value] of this.over) if (value !== gone && !this.base.has(id)) yield [id, value];
  }

  *keys(): MapIterator<Id> {
    for (const [id] of this.entries()) yield id;
  }

  *values(): MapIterator<T> {
    for (const [, value] of this.entries()) yield value;
  }

  [Symbol.iterator](): MapIterator<[Id, T]> {
    return this.entries();
  }
}

/**
 * A version of a table with records written, or taken away where the value is undefined. O(changes), now and then O(n).
 */
export function withChanges<T>(
  table: ReadonlyMap<Id, T>,
  changes: Iterable<readonly [Id, T | undefined]>,
): ReadonlyMap<Id, T> {
  const [base, old] =
    table instanceof Layered
      ? [table.base as ReadonlyMap<Id, T>, table.over as ReadonlyMap<Id, T | typeof gone>]
      : [table, undefined];
  const over = new Map(old);
  for (const [id, value] of changes) over.set(id, value ?? gone);
  const layered = new Layered(base, over);
  return over.size > mostOver ? new Map(layered) : layered;
}

const plain = <T>(table: ReadonlyMap<Id, T>): ReadonlyMap<Id, T> => (table instanceof Layered ? new Map(table) : table);

/** The document with plain maps for tables, which can be sent to a worker. */
export const plainTables = (doc: Doc): Doc => ({
  ...doc,
  graphs: plain(doc.graphs),
  frames: plain(doc.frames),
  nodes: plain(doc.nodes),
  wires: plain(doc.wires),
  notes: plain(doc.notes),
});
