import { csvFormat } from 'd3-dsv';
import { z } from 'zod';
import type { Json } from '../document/json.ts';

const json: z.ZodType<Json> = z.json();

/** What a script’s `all` gave, by what it is: rows of a table, a picture as SVG, text, or anything else as JSON. */
export const reportSchema = z.discriminatedUnion('is', [
  z.object({
    is: z.literal('table'),
    columns: z.array(z.string()),
    rows: z.array(z.record(z.string(), json)),
  }),
  z.object({ is: z.enum(['picture', 'text']), text: z.string() }),
  z.object({ is: z.literal('json'), value: json }),
]);
export type RunReport = z.infer<typeof reportSchema>;

export const reportFormats = ['csv', 'md', 'json', 'svg', 'txt'] as const;
export type ReportFormat = (typeof reportFormats)[number];

const isRow = (value: Json): value is Record<string, Json> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** What a value is as a report. O(size). */
export function reportOf(value: Json): RunReport {
  if (typeof value === 'string') return { is: /^\s*<svg[\s>]/.test(value) ? 'picture' : 'text', text: value };
  if (Array.isArray(value) && value.length > 0 && value.every(isRow)) {
    const rows = value as Record<string, Json>[];
    return { is: 'table', columns: [...new Set(rows.flatMap((row) => Object.keys(row)))], rows };
  }
  return { is: 'json', value };
}

const cell = (value: Json | undefined): string =>
  value === undefined || value === null ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value);

/** How a report is written where nobody says otherwise. */
export const usualFormat: Readonly<Record<RunReport['is'], ReportFormat>> = {
  table: 'csv',
  picture: 'svg',
  text: 'txt',
  json: 'json',
};

/**
 * A report as text: CSV as RFC 4180 has it, a table of GitHub Flavored Markdown, or JSON; what is text already stays as
 * it is. O(size).
 */
export function reportText(report: RunReport, format: ReportFormat): string {
  if ('text' in report)
    return format === 'json'
      ? `${JSON.stringify(report.text)}\n`
      : report.text.endsWith('\n')
        ? report.text
        : `${report.text}\n`;
  if ('value' in report) return `${JSON.stringify(report.value, null, 2)}\n`;
  if (format === 'json') return `${JSON.stringify(report.rows, null, 2)}\n`;
  const { columns, rows } = report;
  if (format !== 'md')
    return `${csvFormat(
      rows.map((row) => Object.fromEntries(columns.map((column) => [column, cell(row[column])]))),
      [...columns],
    )}\n`;
  const line = (cells: readonly string[]): string =>
    `| ${cells.map((one) => one.replace(/\|/g, '\\|').replace(/\s*\n\s*/g, ' ')).join(' | ')} |`;
  // numbers stand to the right
  const isNumber = (column: string): boolean =>
    rows.every((row) => row[column] == null || typeof row[column] === 'number');
  return `${[
    line(columns),
    line(columns.map((column) => (isNumber(column) ? '--:' : '---'))),
    ...rows.map((row) => line(columns.map((column) => cell(row[column])))),
  ].join('\n')}\n`;
}

/** Columns of a table that hold numbers alone, those that are empty left out. */
export const numberColumns = ({ columns, rows }: RunReport & { is: 'table' }): string[] =>
  columns.filter(
    (column) =>
      rows.some((row) => typeof row[column] === 'number') &&
      rows.every((row) => row[column] === undefined || row[column] === null || typeof row[column] === 'number'),
  );

/** Sum and mean of each column of numbers; none where the report is no table. O(cells). */
export function totalsOf(report: RunReport): Record<string, { sum: number; mean: number }> {
  if (report.is !== 'table') return {};
  return Object.fromEntries(
    numberColumns(report).map((column) => {
      const values = report.rows.flatMap((row) => (typeof row[column] === 'number' ? [row[column]] : []));
      const sum = values.reduce((all, one) => all + one, 0);
      return [column, { sum, mean: sum / values.length }];
    }),
  );
}
