import { csvFormatRow, csvParseRows } from 'd3-dsv';
import { z } from 'zod';
import type { ParameterSpec } from '../document/catalogue.ts';
import type { Json } from '../document/json.ts';
import { isExpression, isPlainValue } from '../document/kinds.ts';
import { textOfUse } from '../inspect/uses.ts';

/** What stands in one cell of a table. */
export type Cell = string | number | boolean;
/** A row as it was read, with the line that people know it by. */
export const rowSchema = z.object({ line: z.int(), cells: z.array(z.union([z.string(), z.number(), z.boolean()])) });
export type Row = z.infer<typeof rowSchema>;

/** Columns that say which node a row is about. */
export const idColumns = ['id', 'path', 'kind'] as const;
/** In a table of several files: the file that a row is about, by its name and, on a server, by its id. */
export const fileColumn = 'in file';
export const fileIdColumn = 'file id';
/** Fields of nodes that may stand in a table and be written back. */
export const tableFields = ['name', 'label', 'color', 'frame'] as const;
export type TableField = (typeof tableFields)[number];

/** The column of a parameter: one that is called like another column is told from it. */
export const parameterColumn = (id: string): string =>
  ([...idColumns, ...tableFields, fileColumn, fileIdColumn] as readonly string[]).includes(id)
    ? `${id} (parameter)`
    : id;
/** The parameter that a column is about. */
export const columnParameter = (column: string): string => column.replace(/ \(parameter\)$/, '');

/** What a cell says to go back to the default of the kind, or to take something off. */
export const toDefault = '(default)';
export const toNone = '(none)';

/**
 * A text that a spreadsheet would take for a formula gets a quote in front, which reading takes off again (common
 * practice, after OWASP's page on CSV injection; full-width signs count for some).
 */
export const guarded = (text: string): string => (/^['=+\-@\t\r\n＝＋－＠]/.test(text) ? `'${text}` : text);
export const unguarded = (text: string): string => (text.startsWith("'") ? text.slice(1) : text);

/** Rows as RFC 4180 has them: each ends with CR and LF, and what stands in a cell is left alone. */
export const csvText = (rows: readonly (readonly string[])[]): string =>
  rows.map((row) => `${csvFormatRow([...row])}\r\n`).join('');

/** A table as CSV; texts are guarded. O(cells). */
export const csvOf = (rows: readonly (readonly Cell[])[]): string =>
  csvText(rows.map((row) => row.map((cell) => (typeof cell === 'string' ? guarded(cell) : String(cell)))));

/** The rows of a CSV table, empty ones left out. O(bytes). */
export function rowsOfCsv(text: string): Row[] {
  let line = 1;
  return csvParseRows(text.replace(/^\uFEFF/, '')).flatMap((row): Row[] => {
    const at = line;
    // a quoted cell may hold lines of its own
    line += 1 + row.reduce((sum, cell) => sum + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
    return row.every((cell) => cell.trim() === '') ? [] : [{ line: at, cells: row.map(unguarded) }];
  });
}

/** A value as a cell holds it. */
export function cellOf(value: Json | undefined): Cell {
  if (value === undefined || value === null) return '';
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean') return value;
  if (!isPlainValue(value)) return isExpression(value) ? textOfUse(value) : JSON.stringify(value);
  return Array.isArray(value) ? value.join(' ') : String(value);
}

/** A cell as a value of a parameter. Undefined: no such value. */
export function cellValue(spec: ParameterSpec | undefined, cell: Cell, present: Json | undefined): Json | undefined {
  const type =
    spec?.type ??
    (typeof present === 'number'
      ? 'number'
      : typeof present === 'boolean'
        ? 'boolean'
        : Array.isArray(present)
          ? 'vector'
          : 'text');
  const text = String(cell);
  const number = (part: string): number | undefined =>
    part.trim() === '' || Number.isNaN(Number(part)) ? undefined : Number(part);
  switch (type) {
    case 'number':
    case 'integer':
      return number(text);
    case 'boolean':
      return /^(true|yes|1)$/i.test(text.trim()) ? true : /^(false|no|0)$/i.test(text.trim()) ? false : undefined;
    case 'vector': {
      const parts = text
        .trim()
        .split(/[\s,;]+/)
        .map(number);
      return parts.includes(undefined) ? undefined : (parts as number[]);
    }
    default:
      return text;
  }
}
