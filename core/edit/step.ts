import { z } from 'zod';
import { type Doc, table } from '../document/doc.ts';
import { tableChanged } from '../document/groups.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { Records, TableName } from '../document/schema.ts';
import { withChanges } from '../document/table.ts';

/**
 * The smallest change there is, invertible because it carries the old value. Steps address (table, id, path);
 * a path has one part for a field and two for one entry of a map-valued field such as `params`.
 * `head` steps change the document's own fields; their id is the document's.
 */
export type Step =
  | { readonly type: 'add'; readonly table: TableName; readonly id: Id; readonly value: Json }
  | { readonly type: 'remove'; readonly table: TableName; readonly id: Id; readonly value: Json }
  | {
      readonly type: 'set';
      readonly table: TableName | 'head';
      readonly id: Id;
      readonly path: readonly string[];
      readonly from?: Json;
      readonly to?: Json;
    };

/** A list of steps that belong together: one undo, one line of the history. */
export interface Edit {
  readonly steps: readonly Step[];
}

const json: z.ZodType<Json> = z.json();
const tableName = z.enum(['graphs', 'frames', 'nodes', 'wires', 'notes']);
const id = z.string().min(1).max(200);
const pathPart = z
  .string()
  .min(1)
  .max(200)
  .refine((part) => !['__proto__', 'constructor', 'prototype'].includes(part), 'is not a field');

/** An edit as it comes over a border. */
export const editSchema: z.ZodType<Edit> = z.object({
  steps: z.array(
    z.discriminatedUnion('type', [
      z.object({ type: z.literal('add'), table: tableName, id, value: json }),
      z.object({ type: z.literal('remove'), table: tableName, id, value: json }),
      z.object({
        type: z.literal('set'),
        table: z.union([tableName, z.literal('head')]),
        id,
        path: z.array(pathPart).min(1).max(2),
        from: json.exactOptional(),
        to: json.exactOptional(),
      }),
    ]),
  ),
});

/**
 * Thrown when a step does not fit the document: something is missing, there already, or has another value than the step
 * says.
 */
export class StaleEdit extends Error {
  readonly step: Step;
  constructor(step: Step, why: string) {
    super(`The edit does not fit this document: ${why}.`);
    this.name = 'StaleEdit';
    this.step = step;
  }
}

/** Reads a field by path. */
export function read(record: unknown, path: readonly string[]): Json | undefined {
  let at: unknown = record;
  for (const part of path) {
    if (typeof at !== 'object' || at === null) return undefined;
    at = (at as Record<string, unknown>)[part];
  }
  return at as Json | undefined;
}

/** A copy of the record with one field written; undefined takes it away, and with it a map that became empty. */
export function written<T>(record: T, path: readonly string[], value: Json | undefined): T {
  const [first, second] = path as [string, string?];
  const copy = { ...record } as Record<string, unknown>;
  if (second === undefined) {
    if (value === undefined) delete copy[first];
    else copy[first] = value;
  } else {
    const old = copy[first];
    const map =
      typeof old === 'object' && old !== null && !Array.isArray(old) ? { ...(old as Record<string, Json>) } : {};
    if (value === undefined) delete map[second];
    else map[second] = value;
    if (Object.keys(map).length === 0) delete copy[first];
    else copy[first] = map;
  }
  return copy as T;
}

function* afterOf(changes: ReadonlyMap<Id, Change>): Iterable<readonly [Id, unknown]> {
  for (const [id, { after }] of changes) yield [id, after];
}

type Change = { readonly before: unknown; readonly after: unknown };

/**
 * Applies steps to a document. What they change lies beside the tables until the document is asked for; then each table
 * that is touched becomes a new version.
 */
export class Applier {
  private base: Doc;
  private head: Doc['head'];
  private changes = new Map<TableName, Map<Id, Change>>();
  private dirty = false;

  constructor(base: Doc) {
    this.base = base;
    this.head = base.head;
  }

  /** The document as it stands; what was handed out never changes any more. */
  get doc(): Doc {
    if (this.dirty) {
      const tables: Record<string, ReadonlyMap<Id, unknown>> = {};
      for (const [name, changes] of this.changes) {
        const from = this.base[name] as ReadonlyMap<Id, unknown>;
        const to = withChanges(from, afterOf(changes));
        // what was handed to others is a version of its own: the changes go on with it
        tableChanged(from, to, changes);
        tables[name] = to;
      }
      this.base = { ...this.base, head: this.head, ...tables } as Doc;
      this.changes = new Map();
      this.dirty = false;
    }
    return this.base;
  }

  /** The document's own fields as they stand. */
  get headNow(): Doc['head'] {
    return this.head;
  }

  lookup<T extends TableName>(name: T, id: Id): Records[T] | undefined {
    const change = this.changes.get(name)?.get(id);
    return change ? (change.after as Records[T] | undefined) : table(this.base, name).get(id);
  }

  private write(name: TableName, id: Id, before: unknown, after: unknown): void {
    let changes = this.changes.get(name);
    if (!changes) {
      changes = new Map();
      this.changes.set(name, changes);
    }
    const first = changes.get(id);
    changes.set(id, { before: first ? first.before : before, after });
  }

  /** Throws StaleEdit where the step does not fit. */
  step(step: Step): void {
    if (step.type === 'set' && step.table === 'head') {
      const old = read(this.head, step.path);
      if (!sameJson(old, step.from))
        throw new StaleEdit(
          step,
          `${step.path.join('.')} of the document is ${JSON.stringify(old)}, not ${JSON.stringify(step.from)}`,
        );
      this.head = written(this.head, step.path, step.to);
    } else {
      this.tableStep(step, step.table as TableName);
    }
    this.dirty = true;
  }

  private tableStep(step: Step, name: TableName): void {
    const old = this.lookup(name, step.id);
    if (step.type === 'add') {
      if (old) throw new StaleEdit(step, `${name} already holds ${step.id}`);
      if ((step.value as { id?: Json } | null)?.id !== step.id)
        throw new StaleEdit(step, `what is to be added as ${step.id} has another id`);
      this.write(name, step.id, old, step.value);
    } else if (!old) throw new StaleEdit(step, `${name} holds no ${step.id}`);
    else if (step.type === 'remove') {
      if (!sameJson(old, step.value)) throw new StaleEdit(step, `${step.id} in ${name} has changed`);
      this.write(name, step.id, old, undefined);
    } else {
      if (step.path[0] === 'id') throw new StaleEdit(step, 'the id of a record never changes');
      const value = read(old, step.path);
      if (!sameJson(value, step.from))
        throw new StaleEdit(
          step,
          `${step.path.join('.')} of ${step.id} is ${JSON.stringify(value)}, not ${JSON.stringify(step.from)}`,
        );
      this.write(name, step.id, old, written(old, step.path, step.to));
    }
  }
}

/**
 * The document with the edit done. O(steps), now and then O(size of a table touched). Throws StaleEdit where it does
 * not fit; nothing is half done.
 */
export function apply(doc: Doc, edit: Edit): Doc {
  if (edit.steps.length === 0) return doc;
  const applier = new Applier(doc);
  for (const step of edit.steps) applier.step(step);
  return applier.doc;
}

/** The edit that undoes the edit: apply(apply(doc, edit), invert(edit)) equals doc. */
export function invert(edit: Edit): Edit {
  const back = (step: Step): Step => {
    if (step.type === 'add') return { ...step, type: 'remove' };
    if (step.type === 'remove') return { ...step, type: 'add' };
    const { type, table, id, path, from, to } = step;
    if (from === undefined) return to === undefined ? step : { type, table, id, path, from: to };
    return to === undefined ? { type, table, id, path, to: from } : { type, table, id, path, from: to, to: from };
  };
  return { steps: edit.steps.map(back).reverse() };
}
