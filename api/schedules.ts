import { fileAimSchema, recipeSchema } from '@basitax/core/batch/recipe';
import { z } from 'zod';
import { batchRunSchema } from './batches.ts';
import { contract, megabyte } from './contract.ts';

/** A time zone that this system knows. */
function isZone(zone: string): boolean {
  try {
    return new Intl.DateTimeFormat('en', { timeZone: zone }) instanceof Intl.DateTimeFormat;
  } catch {
    return false;
  }
}

const wanted = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  recipe: recipeSchema,
  files: fileAimSchema,
  days: z
    .array(z.int().min(0).max(6))
    .min(1, 'Choose at least one day.')
    .max(7)
    .transform((days) => [...new Set(days)].sort((a, b) => a - b))
    .describe('Days of the week, 0 for Sunday.'),
  at: z
    .string()
    .regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'is not a time of day, as in 02:00')
    .describe('The time of day there.'),
  zone: z.string().max(64).refine(isZone, 'is not a time zone, as in Europe/Oslo'),
  applies: z.boolean().default(false).describe('Apply what is planned without asking; else it waits for review.'),
  keepsReports: z.boolean().default(true).describe('Keep the reports of its scripts.'),
  active: z.boolean().default(true),
});
export type ScheduleWanted = z.input<typeof wanted>;

export const scheduleSchema = z.object({
  ...wanted.shape,
  days: z.array(z.int()),
  id: z.string(),
  author: z.string(),
  why: z.string().describe('Why it could not start last; empty where it could.'),
  nextAt: z.string().nullable(),
  lastRun: z.string().nullable(),
});
export type Schedule = z.infer<typeof scheduleSchema>;

const one = z.object({ id: z.string().max(64) });

/** Batch runs that start by themselves, in the name of whoever made the schedule. */
export const schedulesApi = {
  list: contract({
    method: 'get',
    path: '/api/schedules',
    about: 'Schedules of batch runs',
    role: 'viewer',
    answer: z.object({ schedules: z.array(scheduleSchema) }),
  }),
  make: contract({
    method: 'post',
    path: '/api/schedules',
    about: 'Makes a schedule: its batch run starts by itself at a time of day',
    role: 'editor',
    most: 4 * megabyte,
    body: wanted,
    answer: scheduleSchema,
    status: 201,
    problems: [404, 422],
  }),
  change: contract({
    method: 'put',
    path: '/api/schedules/:id',
    about: 'Changes a schedule',
    role: 'editor',
    most: 4 * megabyte,
    params: one,
    body: wanted,
    answer: scheduleSchema,
    problems: [422],
  }),
  remove: contract({
    method: 'delete',
    path: '/api/schedules/:id',
    about: 'Removes a schedule; its runs stay',
    role: 'editor',
    params: one,
  }),
  run: contract({
    method: 'post',
    path: '/api/schedules/:id/run',
    about: 'Starts the batch run of a schedule now',
    role: 'editor',
    params: one,
    answer: batchRunSchema,
    status: 201,
    problems: [422],
  }),
};
