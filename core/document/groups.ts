import { must } from '../must.ts';
import { compareIds, type Id } from './ids.ts';

type Row = { readonly id: Id };
type Table<T> = ReadonlyMap<Id, T>;

/**
 * What changed from one version of a table to the next: the record before and after, each absent where there was none.
 */
export type Changes<T> = ReadonlyMap<Id, { readonly before: T | undefined; readonly after: T | undefined }>;

/** More changes than this are not worth patching: the groups are made anew. */
const mostPatched = 2000;

interface Holder<T> {
  readonly built: Map<Groups<T & Row>, Grouped<T>>;
  /** Groups of an earlier version, and all that changed since. */
  readonly earlier: Map<Groups<T & Row>, { readonly grouped: Grouped<T>; readonly changes: Changes<T> }>;
}

const holders = new WeakMap<object, Holder<unknown>>();

function holderOf<T>(table: Table<T>): Holder<T> {
  let holder = holders.get(table) as Holder<T> | undefined;
  if (!holder) {
    holder = { built: new Map(), earlier: new Map() };
    holders.set(table, holder as Holder<unknown>);
  }
  return holder;
}

/**
 * Tells that a table is another one with some changes, so that what was grouped need not be grouped anew. Keeps no old
 * table alive.
 */
export function tableChanged<T>(from: Table<T>, to: Table<T>, changes: Changes<T>): void {
  const [old, fresh] = [holderOf(from), holderOf(to)];
  for (const [groups, grouped] of old.built) fresh.earlier.set(groups, { grouped, changes });
  for (const [groups, { grouped, changes: first }] of old.earlier) {
    if (old.built.has(groups) || first.size + changes.size > mostPatched) continue;
    const all = new Map(first);
    for (const [id, change] of changes)
      all.set(id, { before: first.has(id) ? must(first.get(id)).before : change.before, after: change.after });
    fresh.earlier.set(groups, { grouped, changes: all });
  }
}

const none: readonly never[] = [];
const mostOver = 1000;

/** Rows by a key. What was patched lies over what was there, so that a change of a few rows costs a few rows. */
class Grouped<T> {
  private readonly base: ReadonlyMap<Id, readonly T[]>;
  private readonly over: ReadonlyMap<Id, readonly T[]>;

  constructor(base: ReadonlyMap<Id, readonly T[]>, over: ReadonlyMap<Id, readonly T[]> = new Map()) {
    this.base = base;
    this.over = over;
  }

  get(key: Id): readonly T[] {
    return this.over.get(key) ?? this.base.get(key) ?? none;
  }

  with(groups: ReadonlyMap<Id, readonly T[]>): Grouped<T> {
    const over = new Map([...this.over, ...groups]);
    return over.size > mostOver ? new Grouped(new Map([...this.base, ...over])) : new Grouped(this.base, over);
  }
}

/**
 * One way to group the rows of a table: by a key, sorted by id. Made once for a version, O(n log n), and from an
 * earlier version in O(changes + groups touched).
 */
export class Groups<T extends Row> {
  private readonly key: (row: T) => Id | undefined;

  constructor(key: (row: T) => Id | undefined) {
    this.key = key;
  }

  of(table: Table<T>): Grouped<T> {
    const holder = holderOf(table);
    let grouped = holder.built.get(this as never);
    if (!grouped) {
      const earlier = holder.earlier.get(this as never);
      grouped =
        earlier && earlier.changes.size <= mostPatched
          ? this.patched(earlier.grouped, earlier.changes)
          : this.whole(table);
      holder.built.set(this as never, grouped);
      holder.earlier.delete(this as never);
    }
    return grouped;
  }

  private whole(table: Table<T>): Grouped<T> {
    const groups = new Map<Id, T[]>();
    for (const row of table.values()) {
      const key = this.key(row);
      if (key === undefined) continue;
      const group = groups.get(key);
      if (group) group.push(row);
      else groups.set(key, [row]);
    }
    for (const group of groups.values()) group.sort(byId);
    return new Grouped(groups);
  }

  private patched(grouped: Grouped<T>, changes: Changes<T>): Grouped<T> {
    const touched = new Map<Id, { gone: Set<Id>; come: T[] }>();
    const at = (key: Id) => {
      let one = touched.get(key);
      if (!one) {
        one = { gone: new Set(), come: [] };
        touched.set(key, one);
      }
      return one;
    };
    for (const [id, { before, after }] of changes) {
      const [old, now] = [before && this.key(before), after && this.key(after)];
      if (old !== undefined) at(old).gone.add(id);
      if (now !== undefined) at(now).come.push(must(after));
    }
    const groups = new Map<Id, readonly T[]>();
    for (const [key, { gone, come }] of touched) groups.set(key, merged(grouped.get(key), gone, come.sort(byId)));
    return grouped.with(groups);
  }
}

const byId = (a: Row, b: Row): number => compareIds(a.id, b.id);

/** Where a record stands in a sorted row, or would stand. O(log n). */
function placeIn(rows: readonly Row[], row: Row): number {
  let [low, high] = [0, rows.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (byId(must(rows[middle]), row) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** A sorted row of records without some and with others, which are sorted too. O(changes · log n) beside copying. */
function merged<T extends Row>(rows: readonly T[], gone: ReadonlySet<Id>, come: readonly T[]): T[] {
  const cuts = [...gone].map((id) => ({ at: placeIn(rows, { id }), row: undefined as T | undefined }));
  const joints = come.map((row) => ({ at: placeIn(rows, row), row }));
  const changes = [...cuts, ...joints].sort((a, b) => a.at - b.at);
  const result: T[] = [];
  let done = 0;
  const copyTo = (end: number): void => {
    for (; done < end; done++) result.push(must(rows[done]));
  };
  for (const { at, row } of changes) {
    copyTo(at);
    if (row) result.push(row);
    else if (rows[at] !== undefined && gone.has(rows[at].id)) done = Math.max(done, at + 1);
  }
  copyTo(rows.length);
  return result;
}
