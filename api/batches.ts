import { changeGroupSchema } from '@basitax/core/batch/change-group-schema';
import { fileAimSchema, recipeSchema } from '@basitax/core/batch/recipe';
import { reportSchema } from '@basitax/core/script/report';
import { z } from 'zod';
import { contract, megabyte, plain } from './contract.ts';
import { findingSchema } from './files.ts';
import { toldChangeSchema } from './inspect.ts';
import { fileIdSchema } from './places.ts';
import { logLineSchema } from './words.ts';

export const batchPhases = [
  'planning',
  'review',
  'applying',
  'applied',
  'rolling-back',
  'rolled-back',
  'cancelled',
] as const;

/** How far a run is: its files are planned, looked at, applied, and perhaps rolled back. */
export type BatchPhase = (typeof batchPhases)[number];

export const itemStates = [
  // somebody is to do something with these
  'waiting',
  'to-apply',
  'to-roll-back',
  // planned: what would change, and what would not
  'planned',
  'unchanged',
  'left-out',
  'stopped',
  'failed',
  'cancelled',
  // done
  'applied',
  'conflict',
  'rolled-back',
  'kept',
] as const;

/** What may be planned again. */
export const againStates = ['failed', 'stopped', 'conflict'] as const satisfies readonly (typeof itemStates)[number][];

/** What has become of a file in a run. */
export type ItemState = (typeof itemStates)[number];

/** What is listed of a planned file. */
export const itemSummarySchema = z.object({
  verdict: z.enum(['same', 'ends-same', 'changed']),
  score: z.object({ before: z.number(), after: z.number() }),
  counts: z.object({ added: z.int(), removed: z.int(), changed: z.int() }),
  findings: z.object({ error: z.int(), warning: z.int(), info: z.int() }),
  lines: z.int(),
  outputs: z.int(),
});
export type ItemSummary = z.infer<typeof itemSummarySchema>;

export const batchItemSchema = z.object({
  file: z.string(),
  title: z.string(),
  state: z.enum(itemStates),
  base: z.int().nullable(),
  applied: z.int().nullable(),
  rolledBack: z.int().nullable(),
  accepted: z.boolean().nullable(),
  /** How many groups of changes are left out. */
  leftOut: z.int(),
  summary: itemSummarySchema.nullable(),
  why: z.string(),
});
export type BatchItem = z.infer<typeof batchItemSchema>;

export const batchRunSchema = z.object({
  id: z.string(),
  title: z.string(),
  phase: z.enum(batchPhases),
  author: z.string(),
  message: z.string(),
  createdAt: z.string(),
  recipe: recipeSchema,
  files: fileAimSchema,
  /** How many files are in each state. */
  counts: z.partialRecord(z.enum(itemStates), z.int()),
  total: z.int(),
  accepted: z.int(),
  /** The schedule that started it, and the run that it repeats. */
  schedule: z.string().nullable(),
  repeats: z.string().nullable(),
});
export type BatchRun = z.infer<typeof batchRunSchema>;

export const batchStartSchema = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  recipe: recipeSchema,
  files: fileAimSchema,
  repeats: fileIdSchema.optional().describe('The run that this one repeats, to be compared with.'),
});

/** One group of changes over the files of a run. */
const groupedChange = changeGroupSchema.extend({
  files: z.int().describe('In how many files.'),
  taken: z.int().describe('How many of these have it accepted.'),
  left: z.int().describe('How many of these leave it out.'),
});
export type GroupedChange = z.infer<typeof groupedChange>;

/** One thing that two sides changed, as it was, as the run has it and as the file has it now. */
const conflictPoint = z.object({
  title: z.string(),
  ids: z.array(z.string()),
  rows: z.array(z.object({ what: z.string(), before: z.string(), mine: z.string(), theirs: z.string() })),
});

const stepReport = z.object({ step: z.int(), summary: z.string() });

/** All that a plan says of a file. */
export const itemDetailSchema = batchItemSchema.extend({
  steps: z.array(stepReport),
  findings: z.array(findingSchema),
  log: z.array(logLineSchema),
  outputs: z.array(z.object({ name: z.string(), text: z.string() })),
  changes: z.array(toldChangeSchema),
  /** Both sides of what came into conflict. */
  conflicts: z.array(conflictPoint),
  /** Who saved the file between the plan and now. */
  saved: z.array(z.object({ number: z.int(), author: z.string(), message: z.string() })),
});
export type ItemDetail = z.infer<typeof itemDetailSchema>;

export const acceptSchema = z.object({ accepted: z.boolean(), files: z.array(fileIdSchema).max(100_000).optional() });

/** What is sent while a run goes on: how it stands, and the files that changed since the message before. */
export const batchEventSchema = z.object({ run: batchRunSchema, items: z.array(batchItemSchema) });

const one = z.object({ id: fileIdSchema });
const item = one.extend({ file: fileIdSchema });
const groupKey = z.string().regex(/^[0-9a-f]{24}$/, 'is not a key of a group of changes');

/** Batch runs: editors start and apply their own, leads those of all. */
export const batchesApi = {
  list: contract({
    method: 'get',
    path: '/api/batches',
    about: 'Batch runs, the latest first',
    role: 'viewer',
    answer: z.object({ runs: z.array(batchRunSchema) }),
  }),
  aim: contract({
    method: 'post',
    path: '/api/batches/files',
    about: 'The files that a run would be about',
    role: 'viewer',
    quiet: true,
    body: z.object({ files: fileAimSchema }),
    answer: z.object({ files: z.array(z.object({ id: z.string(), title: z.string() })) }),
    problems: [422],
  }),
  start: contract({
    method: 'post',
    path: '/api/batches',
    about: 'Starts a batch run',
    most: 4 * megabyte,
    role: 'editor',
    body: batchStartSchema,
    answer: batchRunSchema,
    status: 201,
    problems: [404, 422],
  }),
  get: contract({
    method: 'get',
    path: '/api/batches/:id',
    about: 'The state of a batch run',
    role: 'viewer',
    params: one,
    answer: batchRunSchema,
  }),
  items: contract({
    method: 'get',
    path: '/api/batches/:id/items',
    about: 'The files of a batch run',
    role: 'viewer',
    params: one,
    answer: z.object({ items: z.array(batchItemSchema) }),
  }),
  item: contract({
    method: 'get',
    path: '/api/batches/:id/items/:file',
    about: 'All that was planned for a file',
    role: 'viewer',
    params: item,
    file: 'file',
    answer: itemDetailSchema,
  }),
  report: contract({
    method: 'get',
    path: '/api/batches/:id/report',
    about: 'What the scripts of a batch run made of all its files with “all”',
    role: 'viewer',
    params: one,
    answer: z.object({
      reports: z.array(
        z.object({
          step: z.int().describe('From 0.'),
          title: z.string(),
          files: z.int().describe('How many files gave something for it.'),
          report: reportSchema.optional(),
          problem: z.string().optional().describe('Why there is no report.'),
        }),
      ),
    }),
  }),
  before: contract({
    method: 'get',
    path: '/api/batches/:id/before',
    about: 'How the files of a batch run differ from the run that it repeats',
    role: 'viewer',
    params: one,
    answer: z.object({
      run: z.object({ id: z.string(), title: z.string(), createdAt: z.string() }).nullable(),
      same: z.int().describe('How many files came out as before.'),
      files: z.array(
        z.object({
          file: z.string(),
          title: z.string(),
          said: z.array(z.string()).describe('What is different, in words.'),
          was: batchItemSchema.nullable(),
          is: batchItemSchema.nullable(),
        }),
      ),
    }),
  }),
  picture: contract({
    method: 'get',
    path: '/api/batches/:id/items/:file/picture.svg',
    about: 'How a file looks before or after a batch run',
    role: 'viewer',
    params: item,
    file: 'file',
    query: z.object({ which: z.enum(['before', 'after']), theme: z.enum(['paper', 'night']).default('paper') }),
    answer: plain,
    media: ['image/svg+xml'],
  }),
  changes: contract({
    method: 'get',
    path: '/api/batches/:id/changes',
    about: 'What a batch run would change, the same change of many nodes and files as one',
    role: 'viewer',
    params: one,
    query: z.object({ file: fileIdSchema.optional() }),
    answer: z.object({ changes: z.array(groupedChange) }),
  }),
  changed: contract({
    method: 'get',
    path: '/api/batches/:id/changes/:key',
    about: 'The files in which one group of changes of a batch run lies',
    role: 'viewer',
    params: one.extend({ key: groupKey }),
    answer: z.object({
      files: z.array(
        z.object({
          file: z.string(),
          title: z.string(),
          things: z.int(),
          left: z.boolean(),
          accepted: z.boolean().nullable(),
        }),
      ),
    }),
  }),
  changedIn: contract({
    method: 'get',
    path: '/api/batches/:id/changes/:key/:file',
    about: 'Where in a file one group of changes of a batch run lies',
    role: 'viewer',
    params: item.extend({ key: groupKey }),
    file: 'file',
    query: z.object({ theme: z.enum(['paper', 'night']).default('paper') }),
    answer: z.object({
      svg: z.string().describe('A picture of the graph that holds most of it.'),
      graph: z.string().optional().describe('Its name, where the file has several.'),
      names: z.array(z.string()).describe('The first nodes.'),
    }),
  }),
  take: contract({
    method: 'post',
    path: '/api/batches/:id/changes',
    about: 'Accepts groups of changes of a batch run, or leaves them out',
    most: 4 * megabyte,
    role: 'editor',
    params: one,
    body: z.object({
      accepted: z.boolean(),
      keys: z.array(groupKey).min(1).max(10_000),
      files: z.array(fileIdSchema).max(100_000).optional(),
    }),
    answer: batchRunSchema,
    problems: [422],
  }),
  accept: contract({
    method: 'post',
    path: '/api/batches/:id/accept',
    about: 'Accepts or rejects files of a batch run',
    most: 4 * megabyte,
    role: 'editor',
    params: one,
    body: acceptSchema,
    answer: batchRunSchema,
    problems: [422],
  }),
  apply: contract({
    method: 'post',
    path: '/api/batches/:id/apply',
    about: 'Applies what was accepted in a batch run',
    role: 'editor',
    params: one,
    body: z.object({ message: z.string().trim().max(500).default('') }),
    answer: batchRunSchema,
    problems: [422],
  }),
  again: contract({
    method: 'post',
    path: '/api/batches/:id/again',
    about: 'Plans files of a batch run again, on what they hold now: those that failed or came into conflict',
    most: 4 * megabyte,
    role: 'editor',
    params: one,
    body: z.object({ files: z.array(fileIdSchema).max(100_000).optional() }),
    answer: batchRunSchema,
    problems: [422],
  }),
  cancel: contract({
    method: 'post',
    path: '/api/batches/:id/cancel',
    about: 'Stops a batch run: files that are not done are left as they are',
    role: 'editor',
    params: one,
    answer: batchRunSchema,
    problems: [422],
  }),
  rollBack: contract({
    method: 'post',
    path: '/api/batches/:id/roll-back',
    about: 'Rolls a batch run back',
    role: 'editor',
    params: one,
    answer: batchRunSchema,
    problems: [422],
  }),
  events: contract({
    method: 'get',
    path: '/api/batches/:id/events',
    about: 'The state of a batch run as it goes on, as server-sent events',
    role: 'viewer',
    params: one,
    media: ['text/event-stream'],
    events: batchEventSchema,
  }),
};
