import { reportSchema } from '@basitax/core/script/report';
import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';

export const keptReportSchema = z.object({
  id: z.string(),
  title: z.string(),
  run: z.string(),
  runTitle: z.string(),
  schedule: z.string().nullable(),
  person: z.string().describe('Who kept it.'),
  createdAt: z.string(),
});
export type KeptReport = z.infer<typeof keptReportSchema>;

/** What a table comes to as a whole, by column of numbers: to be put beside others. */
export const totalsSchema = z.record(z.string(), z.object({ sum: z.number(), mean: z.number() }));
export type Totals = z.infer<typeof totalsSchema>;
const inRow = keptReportSchema.extend({ totals: totalsSchema });

const one = z.object({ id: z.string().max(64) });

/** Reports of batch runs that are kept by themselves, whatever becomes of the run. */
export const reportsApi = {
  list: contract({
    method: 'get',
    path: '/api/reports',
    about: 'Reports that were kept, the latest first',
    role: 'viewer',
    answer: z.object({ reports: z.array(keptReportSchema) }),
  }),
  get: contract({
    method: 'get',
    path: '/api/reports/:id',
    about: 'A report that was kept, with those of the same schedule and title before it',
    role: 'viewer',
    params: one,
    answer: inRow.extend({ report: reportSchema, before: z.array(inRow) }),
  }),
  keep: contract({
    method: 'post',
    path: '/api/batches/:id/report/:step',
    about: 'Keeps a report of a batch run as it is now',
    role: 'viewer',
    params: z.object({ id: fileIdSchema, step: z.coerce.number().int().min(0).max(100).describe('From 0.') }),
    answer: keptReportSchema,
    status: 201,
    problems: [422],
  }),
  remove: contract({
    method: 'delete',
    path: '/api/reports/:id',
    about: 'Removes a report that was kept',
    role: 'editor',
    params: one,
  }),
};
