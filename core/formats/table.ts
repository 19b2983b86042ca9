import { csvFormatRow, csvParseRows } from 'd3-dsv';
import type { ParameterSpec } from '../document/catalogue.ts';
import { type Doc, nodePath, nodesByPath } from '../document/doc.ts';
import { type Json, sameJson } from '../document/json.ts';
import { isExpression, isPlainValue, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { textOfUse } from '../inspect/uses.ts';
import { hasParameter, misfit, passedOver } from '../structure/parameters.ts';
import { find } from './sentences.ts';

/** Columns that say which node a row is about; the label may be written. */
const idColumns = ['id', 'path', 'kind'] as const;
/** In a table of several files: the file that a row is about. */
const fileColumn = 'in file';
/** What a cell says to go back to the default of the kind. */
const toDefault = '(default)';

/**
 * A text that a spreadsheet would take for a formula gets a quote in front, which reading takes off again (common
 * practice, after OWASP's page on CSV injection; full-width signs count for some).
 */
export const guarded = (text: string): string => (/^['=+\-@\t\r\n＝＋－＠]/.test(text) ? `'${text}` : text);
export const unguarded = (text: string): string => (text.startsWith("'") ? text.slice(1) : text);

/** Rows as RFC 4180 has them: each ends with CR and LF, and what stands in a cell is left alone. */
export const csvText = (rows: readonly (readonly string[])[]): string =>
  rows.map((row) => `${csvFormatRow([...row])}\r\n`).join('');

const isText = (spec: ParameterSpec | undefined, value: Json | undefined): boolean =>
  spec === undefined ? typeof value === 'string' : !['number', 'integer', 'boolean', 'vector'].includes(spec.type);

/** A value as a cell holds it. */
function cellOf(value: Json | undefined): string {
  if (value === undefined || value === null) return '';
  if (typeof value === 'string') return guarded(value);
  if (!isPlainValue(value)) return guarded(isExpression(value) ? textOfUse(value) : JSON.stringify(value));
  return Array.isArray(value) ? value.join(' ') : String(value);
}

/** Nodes of a document of which parameters are wanted; `file` is said in a table of several. */
export interface Tabled {
  readonly file: string;
  readonly doc: Doc;
  readonly kinds: Kinds;
  readonly nodes: readonly GraphNode[];
}

function rowsOf({ doc, kinds, nodes }: Omit<Tabled, 'file'>, parameters: readonly string[]): string[][] {
  return nodes.map((node) => [
    node.id,
    nodePath(doc, node),
    kinds.title(node.kind),
    guarded(node.label ?? ''),
    ...parameters.map((id) => (hasParameter(kinds, node, id) ? cellOf(kinds.value(node, id)) : '')),
  ]);
}

/**
 * Parameters of nodes as CSV (RFC 4180): id, path, kind and label, then a column for each parameter, with the value
 * that counts, set or not.
 * Where a node lacks a parameter its cell is empty. O(nodes · parameters).
 */
export function writeTable(doc: Doc, kinds: Kinds, nodes: readonly GraphNode[], parameters: readonly string[]): string {
  return csvText([[...idColumns, 'label', ...parameters], ...rowsOf({ doc, kinds, nodes }, parameters)]);
}

/** The same of several files, with a column before that names the file of each row. */
export function writeTables(all: readonly Tabled[], parameters: readonly string[]): string {
  return csvText([
    [fileColumn, ...idColumns, 'label', ...parameters],
    ...all.flatMap((one) => rowsOf(one, parameters).map((row) => [guarded(one.file), ...row])),
  ]);
}

export interface ReadTable {
  readonly edit: Edit;
  /** Rows and cells that could not be taken, each with its line. */
  readonly findings: readonly Finding[];
  readonly rows: number;
  readonly changes: number;
}

/** A cell as a value of a parameter. Undefined: no such value. */
function cellValue(spec: ParameterSpec | undefined, cell: string, present: Json | undefined): Json | undefined {
  const type =
    spec?.type ??
    (typeof present === 'number'
      ? 'number'
      : typeof present === 'boolean'
        ? 'boolean'
        : Array.isArray(present)
          ? 'vector'
          : 'text');
  const number = (text: string): number | undefined =>
    text.trim() === '' || Number.isNaN(Number(text)) ? undefined : Number(text);
  switch (type) {
    case 'number':
    case 'integer':
      return number(cell);
    case 'boolean':
      return /^(true|yes|1)$/i.test(cell.trim()) ? true : /^(false|no|0)$/i.test(cell.trim()) ? false : undefined;
    case 'vector': {
      const parts = cell
        .trim()
        .split(/[\s,;]+/)
        .map(number);
      return parts.includes(undefined) ? undefined : (parts as number[]);
    }
    default:
      return unguarded(cell);
  }
}

/**
 * Reads a table back: what differs from what is there becomes the edit. An empty cell leaves a value as it is,
 * `(default)` takes it back to that of the kind. Rows go by id, where there is none by path. What cannot be taken is
 * said by line and left. Of a table of several files only the rows of `file` are read. O(rows · columns).
 */
export function readTable(doc: Doc, kinds: Kinds, text: string, file?: string): ReadTable {
  const findings: Finding[] = [];
  const rows = csvParseRows(text.replace(/^\uFEFF/, ''));
  const head = (rows[0] ?? []).map((cell) => cell.trim());
  const say = (line: number, message: string, node?: string): void =>
    void findings.push(find('table', 'warning', node === undefined ? [] : [node], 'bad-line', { line, message }));
  const tx = new Transaction(doc);
  const [idAt, pathAt, fileAt] = [head.indexOf('id'), head.indexOf('path'), head.indexOf(fileColumn)];
  if (idAt < 0 && pathAt < 0) {
    say(1, 'the first row names the columns, one of them “id” or “path”.');
    return { edit: tx.edit, findings, rows: 0, changes: 0 };
  }
  const columns = head
    .map((name, i) => ({ name, i }))
    .filter(({ name }) => name !== '' && name !== fileColumn && !(idColumns as readonly string[]).includes(name));
  const doubled = columns.find(({ name, i }) => head.indexOf(name) !== i);
  if (doubled) say(1, `the column “${doubled.name}” stands twice; the last one counts.`);
  const all = [...doc.nodes.values()];
  for (const { name } of columns)
    if (name !== 'label' && !all.some((node) => hasParameter(kinds, node, name)))
      say(1, `no node has a parameter “${name}”; the column is left out.`);
  const byPath = nodesByPath(doc);
  const seen = new Map<string, number>();
  let line = 1;
  let count = 0;
  rows.forEach((row, i) => {
    const at = line;
    // a quoted cell may hold lines of its own
    line += 1 + row.reduce((sum, cell) => sum + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
    if (i === 0 || row.every((cell) => cell.trim() === '')) return;
    if (fileAt >= 0 && file !== undefined && unguarded((row[fileAt] ?? '').trim()) !== file) return;
    const [id, path] = [idAt < 0 ? '' : (row[idAt] ?? '').trim(), pathAt < 0 ? '' : (row[pathAt] ?? '').trim()];
    const node = doc.nodes.get(id) ?? doc.nodes.get(byPath.get(path) ?? '');
    if (!node) {
      say(
        at,
        `there is no node ${id === '' ? `“${path}”` : `with the id “${id}”${path === '' ? '' : `, and none at “${path}”`}`}.`,
      );
      return;
    }
    const first = seen.get(node.id);
    if (first !== undefined) {
      say(at, `“${nodePath(doc, node)}” stands in line ${first} already; this row is left out.`, node.id);
      return;
    }
    seen.set(node.id, at);
    if (row.length !== head.length)
      say(
        at,
        `the row has ${row.length} cells, the first one ${head.length}; what is missing is left as it is.`,
        node.id,
      );
    count++;
    for (const { name, i: column } of columns)
      takeCell({ tx, kinds, node, say: (message) => say(at, message, node.id) }, name, row[column] ?? '');
  });
  return { edit: tx.edit, findings, rows: count, changes: tx.edit.steps.length };
}

interface Target {
  readonly tx: Transaction;
  readonly kinds: Kinds;
  readonly node: GraphNode;
  say(message: string): void;
}

function takeCell({ tx, kinds, node, say }: Target, name: string, cell: string): void {
  if (name === 'label') {
    const label = unguarded(cell);
    if (label.length > 500) say(`the label of “${node.name}” is longer than 500 characters.`);
    else tx.set('nodes', node.id, 'label', label === '' ? undefined : label);
    return;
  }
  const present = kinds.value(node, name);
  if (cell === '' || cell === cellOf(present)) return;
  const skipped = passedOver(kinds, node, name, false);
  if (skipped) {
    say(skipped.message);
    return;
  }
  if (cell.trim() === toDefault) {
    tx.setParameter(node.id, name, undefined);
    return;
  }
  const spec = kinds.parameter(node.kind, name);
  const value = cellValue(spec, cell, present);
  const problem =
    value === undefined
      ? (misfit(kinds, node, name, cell)?.message ?? `${node.name}: “${cell}” is no value of ${name}.`)
      : misfit(kinds, node, name, value)?.message;
  if (problem) say(problem);
  else if (!sameJson(value, present) || isText(spec, present)) tx.setParameter(node.id, name, value);
}
