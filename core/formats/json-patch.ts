import { type Doc, table } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import { type TableName, tableNames } from '../document/schema.ts';
import { diff } from '../edit/diff.ts';
import { read } from '../edit/step.ts';
import { must } from '../must.ts';

/** RFC 6902; `test` says what has to be there before. */
export type PatchOperation =
  | { readonly op: 'add' | 'replace' | 'test'; readonly path: string; readonly value: Json }
  | { readonly op: 'remove'; readonly path: string };

/** A JSON Pointer, RFC 6901. */
const pointer = (...parts: readonly (string | number)[]): string =>
  parts.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

/**
 * The difference between two documents as a JSON Patch (RFC 6902) of their files: applied to the first file’s JSON it
 * gives the second’s. What goes is tested by its id before, what changes by its old value, so that a patch on another
 * file fails instead of doing harm. Records go from the last on, are added from the first on, then fields change.
 * O(records + changes).
 */
export function jsonPatch(before: Doc, after: Doc): PatchOperation[] {
  const { steps } = diff(before, after);
  const patch: PatchOperation[] = [];
  for (const name of tableNames) {
    const gone = new Set(steps.flatMap((step) => (step.type === 'remove' && step.table === name ? [step.id] : [])));
    const old = ordered(before, name);
    for (let i = old.length - 1; i >= 0; i--) {
      if (!gone.has(must(old[i]))) continue;
      patch.push(
        { op: 'test', path: pointer(name, i, 'id'), value: must(old[i]) },
        { op: 'remove', path: pointer(name, i) },
      );
    }
    const fresh = new Set(steps.flatMap((step) => (step.type === 'add' && step.table === name ? [step.id] : [])));
    ordered(after, name).forEach((id, i) => {
      if (fresh.has(id))
        patch.push({ op: 'add', path: pointer(name, i), value: table(after, name).get(id) as unknown as Json });
    });
  }
  const places = new Map(tableNames.map((name) => [name, new Map(ordered(after, name).map((id, i) => [id, i]))]));
  const seen = new Set<string>();
  for (const step of steps) {
    if (step.type !== 'set') continue;
    const [from, to] =
      step.table === 'head'
        ? [before.head, after.head]
        : [table(before, step.table).get(step.id), table(after, step.table).get(step.id)];
    const [field] = step.path as [string];
    // a map that comes or goes does so as a whole
    const whole = read(from, [field]) === undefined || read(to, [field]) === undefined;
    const path = whole ? [field] : step.path;
    const at =
      step.table === 'head'
        ? pointer(...path)
        : pointer(step.table, must(must(places.get(step.table)).get(step.id)), ...path);
    if (seen.has(at)) continue;
    seen.add(at);
    patch.push(...changed(at, read(from, path), read(to, path)));
  }
  for (const field of new Set([...Object.keys(before.extra), ...Object.keys(after.extra)]))
    patch.push(...changed(pointer(field), before.extra[field], after.extra[field]));
  return patch;
}

function changed(path: string, from: Json | undefined, to: Json | undefined): PatchOperation[] {
  if (sameJson(from, to)) return [];
  const test: PatchOperation[] = from === undefined ? [] : [{ op: 'test', path, value: from }];
  return [
    ...test,
    to === undefined ? { op: 'remove', path } : { op: from === undefined ? 'add' : 'replace', path, value: to },
  ];
}

/** The ids of a table in the order in which the file has them. */
const ordered = (doc: Doc, name: TableName): Id[] => [...doc[name].keys()].sort(compareIds);
