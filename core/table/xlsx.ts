import { unzipSync } from 'fflate';
import readXlsx from 'read-excel-file/universal';
import writeXlsx from 'write-excel-file/universal';
import { must } from '../must.ts';
import { Refused } from '../said.ts';
import type { Cell, Row } from './cells.ts';
import { refuse } from './sentences.ts';

/** What an XLSX file (ECMA-376) begins with: that of a ZIP archive. */
export const isXlsx = (bytes: Uint8Array): boolean => bytes[0] === 0x50 && bytes[1] === 0x4b;

/** How wide a column is at the most, in characters. */
const widest = 48;

/** A table as XLSX: numbers and switches as such, the first row kept in sight. O(cells). */
export async function xlsxOf(rows: readonly (readonly Cell[])[], sheet: string): Promise<Uint8Array> {
  const cells = rows.map((row, i) =>
    row.map((value) =>
      value === ''
        ? null
        : typeof value === 'number'
          ? { value, type: Number }
          : typeof value === 'boolean'
            ? { value, type: Boolean }
            : { value, type: String, ...(i === 0 && { fontWeight: 'bold' as const }) },
    ),
  );
  const columns = must(rows[0] ?? []).map((_, k) => ({
    width: Math.min(
      widest,
      2 + rows.slice(0, 200).reduce((most, row) => Math.max(most, String(row[k] ?? '').length), 4),
    ),
  }));
  const made = await writeXlsx(cells, { sheet: sheetName(sheet), columns, stickyRowsCount: 1 }).toBlob();
  return new Uint8Array(await made.arrayBuffer());
}

/** A name that a sheet may have: no longer than 31 characters, without those that formulas use (ECMA-376). */
const sheetName = (title: string): string =>
  title
    .replace(/[\\/*?:[\]]/g, ' ')
    .trim()
    .slice(0, 31) || 'Table';

/** What a table may hold unpacked, in bytes: far more than a team's nodes, and no bomb (CWE-409). */
const mostUnpacked = 100_000_000;

/** Throws Refused where it is no archive, or one that would be too large unpacked; nothing is unpacked for it. */
function checkSize(bytes: Uint8Array): void {
  let size = 0;
  unzipSync(bytes, {
    filter: ({ originalSize }) => {
      size += originalSize;
      return false;
    },
  });
  if (size > mostUnpacked) throw refuse('too-large', { megabytes: mostUnpacked / 1_000_000 });
}

/** The rows of the first sheet, empty ones left out. Throws Refused where it is no such table. O(cells). */
export async function rowsOfXlsx(bytes: Uint8Array): Promise<Row[]> {
  const copy = new Uint8Array(bytes);
  let sheets: Awaited<ReturnType<typeof readXlsx>>;
  try {
    checkSize(copy);
    sheets = await readXlsx(copy.buffer);
  } catch (error) {
    throw error instanceof Refused ? error : refuse('not-xlsx');
  }
  const rows = (sheets[0]?.data ?? []) as readonly (readonly unknown[])[];
  return rows.flatMap((row, i): Row[] => {
    const cells = row.map((value): Cell => {
      if (value === null || value === undefined) return '';
      if (typeof value === 'number' || typeof value === 'boolean') return value;
      return value instanceof Date ? value.toISOString() : String(value);
    });
    return cells.every((cell) => cell === '') ? [] : [{ line: i + 1, cells }];
  });
}
