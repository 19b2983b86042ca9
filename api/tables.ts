import { columnsSchema } from '@basitax/core/work/table-columns';
import { z } from 'zod';
import { batchRunSchema } from './batches.ts';
import { contract, megabyte, plain } from './contract.ts';
import { commaList } from './words.ts';

export const xlsxType = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

/** Tables of nodes of many files, out and in. */
export const tablesApi = {
  out: contract({
    method: 'get',
    path: '/api/table',
    about: 'A table of nodes of many files: names, labels, colours, frames and parameters, as CSV or XLSX',
    role: 'viewer',
    query: z.object({
      files: z.string().max(2000).default('').describe('A query over files; all where empty.'),
      ids: commaList('Just these files, by id with commas between.', 8000),
      where: z.string().max(2000).default('').describe('Which nodes: a query; all where empty.'),
      parameters: commaList('The parameters, one for each column, with commas between.').pipe(
        columnsSchema.shape.parameters,
      ),
      fields: commaList('name, label, color, frame; by default label.').pipe(columnsSchema.shape.fields),
      format: z.enum(['csv', 'xlsx']).default('csv'),
    }),
    answer: plain,
    media: ['text/csv', xlsxType],
    problems: [422],
  }),
  into: contract({
    method: 'post',
    path: '/api/table',
    about: 'Reads such a table back: a batch run that shows what it would change, to be accepted',
    role: 'editor',
    raw: true,
    most: 16 * megabyte,
    query: z.object({ title: z.string().trim().min(1).max(200).default('Table') }),
    answer: z.object({
      run: batchRunSchema,
      problems: z.array(z.string()).describe('Rows that are about no file that one sees, by line.'),
    }),
    status: 201,
    problems: [422],
  }),
};
