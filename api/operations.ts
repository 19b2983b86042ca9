import { mostSource, reachSchema } from '@basitax/core/script/job';
import { z } from 'zod';
import { contract, megabyte } from './contract.ts';
import { findingSchema } from './files.ts';
import { toldChangeSchema } from './inspect.ts';
import { fileIdSchema } from './places.ts';
import { logLineSchema } from './words.ts';

/** What is told of an operation of the registry; its options are a JSON Schema. */
export const operationSchema = z.object({
  id: z.string(),
  title: z.string(),
  area: z.string(),
  about: z.string(),
  needs: z.object({
    what: z.enum(['nothing', 'nodes', 'items']),
    least: z.int(),
    most: z.int().optional(),
    all: z.boolean().optional(),
  }),
  changesFunction: z.boolean(),
  preview: z.enum(['first', 'at-once', 'on-loss']),
  options: z.record(z.string(), z.unknown()),
});

export const runOperationSchema = z.object({
  selection: z.object({ graph: z.string().min(1), items: z.array(z.string()).max(100_000).default([]) }),
  options: z.record(z.string(), z.unknown()).default({}),
  dryRun: z.boolean().default(true),
  seed: z.int().default(1),
  message: z.string().trim().max(500).default(''),
});

/** What an operation on a stored file did, or would do. */
export const operatedSchema = z.object({
  revision: z.int(),
  report: z.object({ summary: z.string(), findings: z.array(findingSchema) }),
  review: z.object({ fingerprint: z.object({ verdict: z.enum(['same', 'ends-same', 'changed']) }) }).optional(),
});

/** A script to be run on a stored file: one of the library, or its source. */
export const runScriptSchema = z.object({
  script: z.object({ id: fileIdSchema, version: z.int().min(1).optional() }).optional(),
  source: z.string().max(mostSource).optional(),
  graph: z.string().min(1).max(200).optional().describe('The outermost where absent.'),
  reach: reachSchema.default({ over: 'all' }),
  values: z.record(z.string(), z.json()).default({}),
  seed: z.int().default(1),
  dryRun: z.boolean().default(true),
  message: z.string().trim().max(500).default(''),
});

/** What a script did, or would do. */
export const scriptedSchema = z.object({
  revision: z.int(),
  report: z.object({ summary: z.string(), findings: z.array(findingSchema) }),
  changes: z.array(toldChangeSchema),
  log: z.array(logLineSchema),
  outputs: z.array(z.object({ name: z.string(), text: z.string() })),
});

const one = z.object({ id: fileIdSchema });

/** The registry over HTTP: what there is, and running one on a file, as a dry run unless said otherwise. */
export const operationsApi = {
  list: contract({
    method: 'get',
    path: '/api/operations',
    about: 'Every operation with its options',
    role: 'viewer',
    answer: z.object({ operations: z.array(operationSchema) }),
  }),
  run: contract({
    method: 'post',
    path: '/api/files/:id/operations/:operation',
    about: 'Runs an operation on a file, as a dry run unless said otherwise',
    most: 40 * megabyte,
    role: 'viewer',
    params: one.extend({ operation: z.string().max(100) }),
    file: 'id',
    seen: 'unless-dry-run',
    body: runOperationSchema,
    answer: operatedSchema,
    headers: { ETag: 'The number of the revision that was stored; absent after a dry run.' },
    problems: [422],
  }),
  script: contract({
    method: 'post',
    path: '/api/files/:id/scripts',
    about: 'Runs a script on a file, as a dry run unless said otherwise',
    most: 4 * megabyte,
    role: 'viewer',
    params: one,
    file: 'id',
    seen: 'unless-dry-run',
    body: runScriptSchema,
    answer: scriptedSchema,
    headers: { ETag: 'The number of the revision that was stored; absent after a dry run.' },
    problems: [422],
  }),
};
