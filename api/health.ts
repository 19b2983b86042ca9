import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';

const standing = z.object({ score: z.number().nullable(), error: z.int(), warning: z.int(), info: z.int() });

/**
 * How files stood at the end of each day, what made them worse, and how they stand now, the worst first. Days are by
 * UTC.
 */
export const healthSchema = z.object({
  days: z.array(standing.extend({ day: z.string(), files: z.int() })),
  worse: z.array(
    z.object({
      file: z.string(),
      title: z.string(),
      number: z.int(),
      author: z.string(),
      message: z.string(),
      at: z.string(),
      before: standing,
      after: standing,
    }),
  ),
  files: z.array(
    z.object({
      file: z.string(),
      title: z.string(),
      project: z.string(),
      number: z.int(),
      nodes: z.int(),
      now: standing,
      was: standing,
    }),
  ),
});
export type Health = z.infer<typeof healthSchema>;

/** How readable files are over time, and what made them worse: of all that one sees, of a project, or of one file. */
export const healthApi = {
  get: contract({
    method: 'get',
    path: '/api/health',
    about: 'Readability and findings over time',
    role: 'viewer',
    query: z.object({
      days: z.coerce.number().int().min(2).max(400).default(60),
      project: fileIdSchema.optional(),
      of: fileIdSchema.optional(),
    }),
    answer: healthSchema,
    problems: [404],
  }),
};
