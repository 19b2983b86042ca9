import { layers } from '@basitax/core/inspect/compare/layers';
import { fileLinksSchema } from '@basitax/core/inspect/file-links';
import { useKinds, useMatches } from '@basitax/core/inspect/use-kinds';
import { factsSchema } from '@basitax/core/rules/facts';
import { z } from 'zod';
import { contract, megabyte } from './contract.ts';
import { fileIdSchema } from './places.ts';

/** What is looked up over all files: exactly so, what begins so, or what holds the text in its id or title. */
export const useSearchSchema = z
  .object({
    what: z.enum(useKinds),
    name: z.string().min(1).max(1000).optional(),
    value: z.string().max(1000).optional(),
    match: z.enum(useMatches).default('exact'),
  })
  .refine((search) => search.name !== undefined || search.value !== undefined, {
    message: 'needs a name or a value',
    path: ['name'],
  });
export type UseSearch = z.infer<typeof useSearchSchema>;

/** One change with what follows from it, in words. */
export const toldChangeSchema = z.object({
  layer: z.enum(layers),
  sentence: z.string(),
  consequences: z.array(z.string()).optional(),
});

const counted = z.object({ name: z.string(), value: z.string(), count: z.int() });

export const useAnswerSchema = z.object({
  /** How often each file uses it, in how many different forms. */
  files: z.array(z.object({ file: z.string(), title: z.string(), revision: z.int(), count: z.int(), rows: z.int() })),
  total: z.int(),
  /** The commonest of what was found, over all files. */
  lines: z.array(counted),
});
export type UseAnswer = z.infer<typeof useAnswerSchema>;

/** Milliseconds by the path of a node, and where they come from. */
export const timesSchema = z.object({
  byPath: z.record(z.string().max(2000), z.number().min(0).max(1e9)),
  source: z.string().trim().min(1).max(200),
});

export const storedTimesSchema = timesSchema.extend({ author: z.string(), createdAt: z.string() });
export type StoredTimes = z.infer<typeof storedTimesSchema>;

const one = z.object({ id: fileIdSchema });

/** What is asked over all files: what is used where, what depends on what; and what is known beside a document. */
export const inspectApi = {
  uses: contract({
    method: 'get',
    path: '/api/uses',
    about: 'Where something is used in all files',
    role: 'viewer',
    query: useSearchSchema,
    answer: useAnswerSchema,
  }),
  names: contract({
    method: 'get',
    path: '/api/uses/names',
    about: 'What there is to look up whose name begins so',
    role: 'viewer',
    query: z.object({
      what: z.enum(useKinds),
      starts: z.string().max(200).default(''),
      of: z.string().max(200).optional().describe('Values of this parameter.'),
    }),
    answer: z.object({ names: z.array(z.string()) }),
  }),
  map: contract({
    method: 'get',
    path: '/api/map',
    about: 'What the files use of one another and of the asset store',
    role: 'viewer',
    answer: fileLinksSchema,
  }),
  bypassed: contract({
    method: 'get',
    path: '/api/files/:id/bypassed',
    about: 'Since when the bypassed nodes of a file are so',
    role: 'viewer',
    params: one,
    file: 'id',
    answer: z.object({ since: factsSchema.shape.bypassedSince.unwrap() }),
  }),
  times: contract({
    method: 'get',
    path: '/api/files/:id/times',
    about: 'The times of a file’s nodes, as they were measured last',
    role: 'viewer',
    params: one,
    file: 'id',
    answer: z.object({ times: storedTimesSchema.nullable() }),
  }),
  saveTimes: contract({
    method: 'put',
    path: '/api/files/:id/times',
    about: 'Keeps the times of a file’s nodes',
    most: 10 * megabyte,
    role: 'editor',
    params: one,
    file: 'id',
    body: timesSchema,
  }),
};
