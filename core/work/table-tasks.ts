import { strFromU8, strToU8 } from 'fflate';
import { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { QueryError, select } from '../query/query.ts';
import { hasColumn } from '../structure/parameters.ts';
import { type Cell, csvOf, type Row, rowsOfCsv } from '../table/cells.ts';
import { bodyOf } from '../table/out.ts';
import { refuse } from '../table/sentences.ts';
import { isXlsx, rowsOfXlsx, xlsxOf } from '../table/xlsx.ts';
import { columnsSchema } from './table-columns.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

/** The rows of one file, and which of the parameters no node of it has. */
const tableRows = task(
  columnsSchema.extend({ where: z.string().max(2000).default('') }),
  (input, tools): { rows: Cell[][]; unknown: string[] } => {
    const doc = need(tools.doc);
    const nodes = chosen(input.where, doc, tools.kinds).map((id) => must(doc.nodes.get(id)));
    const unknown = input.parameters.filter((name) => !nodes.some((node) => hasColumn(tools.kinds, node, name)));
    return { rows: bodyOf({ doc, kinds: tools.kinds, nodes }, input), unknown };
  },
);

function chosen(where: string, doc: Doc, kinds: Kinds): Id[] {
  try {
    return [...doc.graphs.keys()].flatMap((graph) => select(where, doc, kinds, graph));
  } catch (error) {
    if (error instanceof QueryError) throw refuse('no-query', { problem: error.message });
    throw error;
  }
}

const cells = z.array(z.array(z.union([z.string(), z.number(), z.boolean()])));

/** A table as it is sent: CSV as UTF-8, or XLSX. */
const tableText = task(
  z.object({ rows: cells, format: z.enum(['csv', 'xlsx']), title: z.string() }),
  async ({ rows, format, title }): Promise<Uint8Array> =>
    format === 'csv' ? strToU8(csvOf(rows)) : xlsxOf(rows, title),
);

/** The rows of a table that came as bytes: XLSX, or CSV as UTF-8. */
const tableRead = task(
  z.object({ bytes: z.custom<Uint8Array>((value) => value instanceof Uint8Array) }),
  async ({ bytes }): Promise<Row[]> => (isXlsx(bytes) ? rowsOfXlsx(bytes) : rowsOfCsv(strFromU8(bytes))),
);

/** Tables of nodes, out and in. */
export const tableTasks = { tableRows, tableText, tableRead } as const;
