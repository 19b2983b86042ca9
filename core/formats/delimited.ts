import { dsvFormat } from 'd3-dsv';

/** What may part the cells of a row. */
export const delimiters = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof delimiters)[number];

/** Rows with the line that each begins in; those without any text are left out. O(text). */
export function rowsOf(text: string, delimiter: Delimiter): { readonly line: number; readonly cells: string[] }[] {
  let line = 1;
  return dsvFormat(delimiter)
    .parseRows(text.replace(/^\uFEFF/, ''))
    .flatMap((cells) => {
      const at = line;
      // a quoted cell may hold lines of its own
      line += 1 + cells.reduce((sum, cell) => sum + (cell.match(/\r\n|\r|\n/g)?.length ?? 0), 0);
      return cells.every((cell) => cell.trim() === '') ? [] : [{ line: at, cells }];
    });
}

/** How much of a text is looked at to see what it is. */
const seen = 20_000;

/**
 * What parts the cells: that by which most of the first rows have the same number of cells, and the most of them. A line
 * `sep=;`, as spreadsheets write it, decides.
 */
export function delimiterOf(text: string): Delimiter {
  const stated = /^\uFEFF?sep=([,;\t|])\r?\n/i.exec(text)?.[1];
  if (stated) return stated as Delimiter;
  const start = text.length > seen ? text.slice(0, text.lastIndexOf('\n', seen)) : text;
  let best: { delimiter: Delimiter; score: number } = { delimiter: ',', score: 0 };
  for (const delimiter of delimiters) {
    const widths = new Map<number, number>();
    const rows = rowsOf(start, delimiter);
    for (const { cells } of rows) widths.set(cells.length, (widths.get(cells.length) ?? 0) + 1);
    for (const [width, count] of widths) {
      if (width < 2) continue;
      // rows that agree count before the number of cells in them
      const score = count / rows.length + Math.min(width, 50) / 1000;
      if (score > best.score) best = { delimiter, score };
    }
  }
  return best.delimiter;
}

/** The text without the line that says what parts its cells. */
export const withoutStatement = (text: string): string => text.replace(/^\uFEFF?sep=[,;\t|]\r?\n/i, '');
