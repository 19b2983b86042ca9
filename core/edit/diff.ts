import { type Doc, table } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import { headShape, tableNames } from '../document/schema.ts';
import type { Edit, Step } from './step.ts';

/** Fields that hold a map whose entries change one by one. */
const mapFields: ReadonlySet<string> = new Set(['params', 'sets', 'settings', 'attributes']);

const isMap = (value: unknown): value is Record<string, Json> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function changes(where: { table: Step['table'] | 'head'; id: Id }, before: object, after: object, steps: Step[]): void {
  const old = before as Record<string, Json | undefined>;
  const now = after as Record<string, Json | undefined>;
  const set = (path: string[], from: Json | undefined, to: Json | undefined): void => {
    if (sameJson(from, to)) return;
    steps.push({ type: 'set', ...where, path, ...(from !== undefined && { from }), ...(to !== undefined && { to }) });
  };
  for (const field of new Set([...Object.keys(old), ...Object.keys(now)].sort())) {
    const [from, to] = [old[field], now[field]];
    if (!mapFields.has(field) || (from !== undefined && !isMap(from)) || (to !== undefined && !isMap(to)))
      set([field], from, to);
    else
      for (const key of new Set([...Object.keys(from ?? {}), ...Object.keys(to ?? {})].sort()))
        set([field, key], from?.[key], to?.[key]);
  }
}

/**
 * The shortest edit from one document to another, matched by id; the same pair always gives the same steps.
 * What is added comes outermost first and is removed innermost first. O(records), and little more than a walk where
 * records are shared.
 */
export function diff(before: Doc, after: Doc): Edit {
  const removed: Step[] = [];
  const added: Step[] = [];
  const set: Step[] = [];
  if (before.head !== after.head) {
    for (const field of Object.keys(headShape.shape)) {
      const pick = (doc: Doc): object => ({ [field]: (doc.head as Record<string, unknown>)[field] });
      changes({ table: 'head', id: before.head.id }, pick(before), pick(after), set);
    }
  }
  for (const name of tableNames) {
    const [old, now] = [table(before, name), table(after, name)];
    if (old === now) continue;
    const gone: Step[] = [];
    for (const [id, value] of old)
      if (!now.has(id)) gone.push({ type: 'remove', table: name, id, value: value as unknown as Json });
    const fresh: Step[] = [];
    const touched: Id[] = [];
    for (const [id, value] of now) {
      const was = old.get(id);
      if (!was) fresh.push({ type: 'add', table: name, id, value: value as unknown as Json });
      else if (was !== value) touched.push(id);
    }
    const order = (a: Step, b: Step): number => compareIds(a.id, b.id);
    removed.unshift(...gone.sort(order));
    added.push(...fresh.sort(order));
    for (const id of touched.sort(compareIds))
      changes({ table: name, id }, old.get(id) as object, now.get(id) as object, set);
  }
  return { steps: [...removed, ...added, ...set] };
}
