import { z } from 'zod';
import type { Edit, Step } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import type { Doc } from './doc.ts';
import { compareIds, type Id } from './ids.ts';
import type { Json } from './json.ts';
import { checkJson } from './nesting.ts';
import { fileSchema, headShape, type TableName, tableNames, tableShapes } from './schema.ts';
import { find, say } from './sentences.ts';
import { UnreadableFile } from './unreadable.ts';
import { problems, repair } from './validate.ts';

export interface ReadFile {
  readonly doc: Doc;
  readonly findings: readonly Finding[];
}

const rowHead: Record<TableName, readonly string[]> = Object.fromEntries(
  tableNames.map((name) => [name, Object.keys(tableShapes[name].shape)]),
) as never;

/** The record with its known fields in the schema's order and the unknown ones behind, sorted. */
function ordered(record: object, fields: readonly string[]): object {
  const source = record as Record<string, unknown>;
  const known = fields.filter((field) => source[field] !== undefined);
  const rest = Object.keys(source)
    .filter((field) => !fields.includes(field) && source[field] !== undefined)
    .sort();
  return Object.fromEntries([...known, ...rest].map((field) => [field, source[field]]));
}

/**
 * The document as `*.graph.json` text: keys in a fixed order, records sorted by id, one a line, so that a diff can be
 * read.
 * Routes are derived and no part of a document; where they are given they go along for other programs, and reading
 * leaves them out.
 */
export function writeDoc(
  doc: Doc,
  routes?: ReadonlyMap<Id, readonly { readonly x: number; readonly y: number }[]>,
): string {
  const lines: string[] = ['{'];
  const head = doc.head as unknown as Record<string, unknown>;
  for (const field of Object.keys(headShape.shape))
    if (head[field] !== undefined) lines.push(`${JSON.stringify(field)}: ${JSON.stringify(head[field])},`);
  for (const field of Object.keys(doc.extra).sort())
    lines.push(`${JSON.stringify(field)}: ${JSON.stringify(doc.extra[field])},`);
  if (routes) {
    const rows = [...routes]
      .sort(([a], [b]) => compareIds(a, b))
      .map(([id, route]) => `${JSON.stringify(id)}: ${JSON.stringify(route.map((p) => [p.x, p.y]))}`);
    lines.push(`"routes": {\n${rows.join(',\n')}\n},`);
  }
  tableNames.forEach((name, i) => {
    const rows = [...(doc[name] as ReadonlyMap<Id, { id: Id }>).values()].sort((a, b) => compareIds(a.id, b.id));
    const body = rows.map((row) => JSON.stringify(ordered(row, rowHead[name])));
    const comma = i < tableNames.length - 1 ? ',' : '';
    lines.push(
      body.length > 0
        ? `${JSON.stringify(name)}: [\n${body.join(',\n')}\n]${comma}`
        : `${JSON.stringify(name)}: []${comma}`,
    );
  });
  lines.push('}', '');
  return lines.join('\n');
}

/** What JSON text holds. Throws UnreadableFile with the line where it is none, or is nested too deep. */
export function parseJson(text: string): unknown {
  checkJson(text);
  try {
    return JSON.parse(text);
  } catch (error) {
    // the message may quote the text with its line ends
    throw new UnreadableFile(
      say('not-json', { why: (error as Error).message.replace(/\s+/g, ' ') }),
      lineOfJsonError(text, error as Error),
    );
  }
}

/**
 * Reads `*.graph.json`, repairs what is broken and lists it. Throws UnreadableFile where there is no document in it.
 */
export const parseDoc = (text: string): ReadFile => docFromJson(parseJson(text));

const textOf = new WeakMap<Doc, string>();

/** The text that a document was read from by `readStored`: a shorter way to hand it on than the document itself. */
export const storedText = (doc: Doc): string | undefined => textOf.get(doc);

/**
 * Reads text that `writeDoc` wrote of a document that was checked: what the server stores. Nothing is checked again,
 * which makes it several times as fast as `parseDoc`; for anything that comes from elsewhere use that one. Throws
 * UnreadableFile for another format or version.
 */
export function readStored(text: string): Doc {
  const raw = JSON.parse(text) as Record<string, unknown>;
  checkFormat(raw);
  const { graphs, frames, nodes, wires, notes, ...rest } = raw;
  const keyed = (rows: unknown): Map<Id, never> => new Map((rows as { id: Id }[]).map((row) => [row.id, row as never]));
  const fields = Object.entries(rest);
  const doc: Doc = {
    head: Object.fromEntries(fields.filter(([field]) => field in headShape.shape)) as Doc['head'],
    extra: Object.fromEntries(
      fields.filter(([field]) => !(field in headShape.shape) && field !== 'routes'),
    ) as Doc['extra'],
    graphs: keyed(graphs),
    frames: keyed(frames),
    nodes: keyed(nodes),
    wires: keyed(wires),
    notes: keyed(notes),
  };
  textOf.set(doc, text);
  return doc;
}

function checkFormat(raw: unknown): void {
  const version = (raw as { version?: unknown } | null)?.version;
  if ((raw as { format?: unknown } | null)?.format !== 'basitax-graph')
    throw new UnreadableFile(say('not-a-graph-file'));
  if (version !== 1) throw new UnreadableFile(say('other-version', { version: JSON.stringify(version) }));
}

/**
 * Everything that stands against storing what an edit made of a document that was checked: the records that it touched,
 * then the whole. Throws
 * UnreadableFile where a record does not fit, as reading the file would. O(steps + records).
 */
export function editedProblems(after: Doc, edit: Edit): readonly Finding[] {
  const touched = (step: Step): boolean => {
    if (step.table === 'head') return headShape.safeParse(after.head).success;
    const record = after[step.table].get(step.id);
    return record === undefined || tableShapes[step.table].safeParse(record).success;
  };
  // reading it says best what is wrong, and where
  return edit.steps.every(touched) ? problems(after) : parseDoc(writeDoc(after)).findings;
}

/** As parseDoc, from parsed JSON. */
export function docFromJson(raw: unknown): ReadFile {
  checkFormat(raw);
  const parsed = fileSchema.safeParse(raw);
  if (!parsed.success) throw new UnreadableFile(say('bad-field', { issue: firstIssue(parsed.error, raw) }));
  const { graphs, frames, nodes, wires, notes, ...rest } = parsed.data;
  const head = headShape.parse(rest);
  const extra = Object.fromEntries(
    Object.entries(rest).filter(([field]) => !(field in headShape.shape) && field !== 'routes'),
  ) as Record<string, Json>;
  const doubled: Finding[] = [];
  const keyed = <T extends { id: Id }>(rows: readonly T[], what: string): Map<Id, T> => {
    const map = new Map<Id, T>();
    for (const row of rows) {
      if (map.has(row.id))
        doubled.push(find('doubled-id', 'warning', [row.id], 'twice-in-file', { what, row: row.id }));
      else map.set(row.id, row);
    }
    return map;
  };
  const whole = repair({
    head,
    extra,
    graphs: keyed(graphs, 'graph'),
    frames: keyed(frames, 'frame'),
    nodes: keyed(nodes, 'node'),
    wires: keyed(wires, 'wire'),
    notes: keyed(notes, 'note'),
  } as Doc);
  return { doc: whole.doc, findings: [...doubled, ...whole.findings] };
}

function firstIssue(error: z.ZodError, raw: unknown): string {
  const issue = error.issues[0];
  const path = issue?.path ?? [];
  const [tableName, row] = path;
  const record =
    typeof row === 'number' ? (raw as Record<string, { id?: unknown }[]>)[String(tableName)]?.[row] : undefined;
  const where =
    record?.id !== undefined
      ? `${path.slice(2).join('.') || 'the record'} of “${String(record.id)}” in ${String(tableName)}`
      : path.join('.') || 'the file';
  const more = error.issues.length > 1 ? ` (and ${error.issues.length - 1} more such problems)` : '';
  return `${where} does not fit: ${issue?.message ?? 'not as expected'}${more}.`;
}

function lineOfJsonError(text: string, error: Error): number | undefined {
  const at = /position (\d+)/.exec(error.message);
  if (at) return text.slice(0, Number(at[1])).split('\n').length;
  return undefined;
}

/** The JSON Schema of the file, generated from the Zod schema. */
export function fileJsonSchema(): object {
  return z.toJSONSchema(fileSchema, { io: 'input' });
}
