import { editSchema } from '@basitax/core/edit/step';
import { formatIds } from '@basitax/core/formats/endings';
import { tablePlanSchema } from '@basitax/core/formats/table-plan';
import { z } from 'zod';
import { contract, megabyte, plain } from './contract.ts';
import { fileIdSchema, folderSchema } from './places.ts';
import { paramsSchema } from './words.ts';

const fingerprintSchema = z.object({ ends: z.string(), everything: z.string() });

/** What is known at once of a revision, and what is measured after it was stored: it is absent until then. */
export const measuresSchema = z.object({
  nodes: z.number(),
  wires: z.number(),
  frames: z.number(),
  crossings: z.number().optional(),
  throughNodes: z.number().optional(),
  overlaps: z.number().optional(),
  length: z.number().optional(),
  bends: z.number().optional(),
  backward: z.number().optional(),
  defaultNames: z.number().optional(),
  windows: z.number().optional(),
  score: z.number().optional(),
});

/** How much the house rules of the project found. */
const foundSchema = z.object({ error: z.int(), warning: z.int(), info: z.int() });

export const revisionSchema = z.object({
  number: z.int(),
  /** What people call it; empty where they do not. */
  name: z.string(),
  author: z.string(),
  message: z.string(),
  createdAt: z.string(),
  fingerprint: fingerprintSchema,
  measures: measuresSchema,
  /** Null where the rules have not been asked. */
  findings: foundSchema.nullable(),
  /** The house rules that found something; in lists of files. */
  rules: z.array(z.string()).optional(),
  /** Beside the revision before: what the fingerprint says. Absent for the first. */
  verdict: z.enum(['same', 'ends-same', 'changed']).optional(),
});
export type Revision = z.infer<typeof revisionSchema>;

export const fileSchema = z.object({
  id: z.string(),
  title: z.string(),
  /** The catalogue of kinds that the file is read with. */
  catalogue: z.object({ id: z.string(), version: z.number() }),
  project: z.string(),
  /** Names with strokes between; empty for the project itself. */
  folder: z.string(),
  tags: z.array(z.string()),
  head: revisionSchema,
  createdAt: z.string(),
});
export type FileInfo = z.infer<typeof fileSchema>;

export const findingSchema = z.object({
  rule: z.string(),
  severity: z.enum(['error', 'warning', 'info']),
  place: z.array(z.string()),
  message: z.string(),
  code: z.string().optional().describe('What was found, for programs: a room and a name.'),
  params: paramsSchema.optional(),
});

export const importedSchema = z.object({
  file: fileSchema,
  findings: z.array(findingSchema),
  outcome: z
    .enum(['new', 'updated', 'same'])
    .describe('A new file, a new revision of one that came from the same path, or nothing, since it is there already.'),
});

export const saveSchema = z.object({
  edit: editSchema,
  message: z.string().trim().min(1, 'Say in a word or two what changed.').max(500),
});

export const restoreSchema = z.object({ message: z.string().trim().max(500).default('') });

/** The most bytes of a graph file that is sent. */
export const mostFile = 64 * megabyte;
const one = z.object({ id: fileIdSchema });
/** A revision by its number, or the newest. */
export const whichSchema = z.union([z.literal('head'), z.coerce.number().int().min(1).max(1e9)]);
/** One revision of a file. */
export const revisionOfSchema = one.extend({ number: whichSchema });
const tag = { ETag: 'The number of the revision, as the next change has to name it in If-Match.' };

/** Files, their revisions, and what they look like in other formats. */
/** What a file is called that comes in, and where it goes. */
const importPlace = z.object({
  name: z.string().min(1).max(300),
  project: fileIdSchema.default('team'),
  folder: folderSchema.default(''),
  path: z
    .string()
    .max(600)
    .default('')
    .describe(
      'Its path in the folder or archive that it comes with. A file of the project that came from there before gets a new revision.',
    ),
});

/** What comes of each way to import. */
const imports = {
  answer: importedSchema,
  status: 201,
  headers: { Location: 'Where the file is seen.' },
  problems: [404, 422],
} as const;

export const filesApi = {
  list: contract({
    method: 'get',
    path: '/api/files',
    about: 'All files, or those that fit a query',
    role: 'viewer',
    query: z.object({ query: z.string().max(2000).default('').describe('A query over files; all where empty.') }),
    answer: z.object({ files: z.array(fileSchema) }),
    problems: [422],
  }),
  holding: contract({
    method: 'post',
    path: '/api/files/holding',
    about: 'Which files hold nodes like each of some queries',
    role: 'viewer',
    quiet: true,
    body: z.object({ nodes: z.array(z.string().max(2000)).min(1).max(20) }),
    answer: z.object({ holding: z.array(z.object({ nodes: z.string(), files: z.array(z.string()) })) }),
    problems: [422],
  }),
  import: contract({
    method: 'post',
    path: '/api/files',
    about: 'Imports a file',
    role: 'editor',
    raw: true,
    most: mostFile,
    query: importPlace,
    ...imports,
  }),
  importTable: contract({
    method: 'post',
    path: '/api/files/table',
    about: 'Imports a table of which somebody has said what its columns are, with a table of its nodes beside it',
    role: 'editor',
    most: 2 * mostFile,
    body: importPlace.extend({
      text: z.string().min(1).max(mostFile),
      plan: tablePlanSchema,
      beside: z.string().max(mostFile).optional(),
    }),
    ...imports,
  }),
  get: contract({
    method: 'get',
    path: '/api/files/:id',
    about: 'A file and its newest revision',
    role: 'viewer',
    params: one,
    file: 'id',
    answer: fileSchema,
  }),
  thumbnail: contract({
    method: 'get',
    path: '/api/files/:id/thumbnail.svg',
    about: 'A small picture of a file',
    role: 'viewer',
    params: one,
    file: 'id',
    query: z.object({ theme: z.enum(['paper', 'night']).default('paper'), revision: z.string().optional() }),
    answer: plain,
    media: ['image/svg+xml'],
  }),
  revisions: contract({
    method: 'get',
    path: '/api/files/:id/revisions',
    about: 'The revisions of a file',
    role: 'viewer',
    params: one,
    file: 'id',
    answer: z.object({ revisions: z.array(revisionSchema) }),
  }),
  revision: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number',
    about: 'The document of a revision, as file text',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    answer: plain,
    media: ['application/json'],
    headers: tag,
  }),
  save: contract({
    method: 'post',
    path: '/api/files/:id/revisions',
    about: 'Saves an edit as a revision',
    most: 40 * megabyte,
    role: 'editor',
    params: one,
    file: 'id',
    seen: 'always',
    body: saveSchema,
    answer: fileSchema,
    status: 201,
    headers: tag,
  }),
  restore: contract({
    method: 'post',
    path: '/api/files/:id/revisions/:number/restore',
    about: 'Restores a revision as a new one',
    role: 'editor',
    params: revisionOfSchema,
    file: 'id',
    seen: 'always',
    body: restoreSchema,
    answer: fileSchema,
    status: 201,
    headers: tag,
  }),
  export: contract({
    method: 'get',
    path: '/api/files/:id/revisions/:number/export',
    about: 'A revision in another format',
    role: 'viewer',
    params: revisionOfSchema,
    file: 'id',
    query: z.object({
      format: z.enum(formatIds),
      routes: z
        .enum(['yes', 'no'])
        .default('no')
        .describe('With the ways of the wires, in formats that have a place for them.'),
    }),
    answer: plain,
    media: ['application/*', 'text/*', 'image/svg+xml', 'model/*'],
    headers: {
      'Content-Disposition': 'The file name.',
      'X-Left-Out': 'What the format has no place for: words with commas between, percent-encoded. Absent if nothing.',
    },
  }),
};
