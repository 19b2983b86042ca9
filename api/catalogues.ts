import { schemeSchema } from '@basitax/core/color/scheme';
import { catalogueSchema, kindSchema } from '@basitax/core/document/catalogue';
import { evidenceSchema } from '@basitax/core/learn/evidence-json';
import { z } from 'zod';
import { contract, megabyte } from './contract.ts';
import { fileIdSchema } from './places.ts';

/** What a shared kind is called: part of ids, addresses and the command line. */
export const sharedNameSchema = z
  .string()
  .regex(/^[a-z][a-z0-9_]{0,59}$/, 'takes small letters, digits and _, a letter first');

/** A graph to be published: what it holds as file text, and its ports in the order that they are to have. */
export const publishSchema = z.object({
  title: z.string().trim().min(1, 'Title it.').max(100),
  category: z.string().min(1).max(100),
  body: z.string().max(30_000_000),
  order: z.array(z.string().max(200)).max(200),
  file: fileIdSchema,
  message: z.string().trim().min(1, 'Say in a word or two what is new.').max(500),
});
export type Publish = z.infer<typeof publishSchema>;

export const sharedKindSchema = z.object({
  name: z.string(),
  version: z.int(),
  kind: kindSchema,
  fileId: z.string(),
  author: z.string(),
  message: z.string(),
  createdAt: z.string(),
});
export type SharedKind = z.infer<typeof sharedKindSchema>;

/** The files that use some kinds: how many nodes of each. */
export const usesSchema = z.array(
  z.object({ file: z.string(), title: z.string(), catalogueVersion: z.int(), counts: z.record(z.string(), z.int()) }),
);

export const catalogueReportSchema = z.object({
  changes: z.array(z.object({ kind: z.string().optional(), breaking: z.boolean(), sentence: z.string() })),
  files: usesSchema,
});

const which = z.object({ id: z.string().min(1).max(100), version: z.coerce.number().int().min(0) });
const shared = z.object({ name: sharedNameSchema, version: z.coerce.number().int().min(1) });
const versionSchema = z.object({ id: z.string(), version: z.int() });

/** Kinds, their versions, shared kinds, and the team's colours: everyone reads, leads change, editors publish. */
export const cataloguesApi = {
  list: contract({
    method: 'get',
    path: '/api/catalogues',
    about: 'The catalogue that the team works with, and all versions',
    role: 'viewer',
    answer: z.object({
      team: versionSchema,
      versions: z.array(versionSchema.extend({ createdAt: z.string() })),
    }),
  }),
  get: contract({
    method: 'get',
    path: '/api/catalogues/:id/:version',
    about: 'A version of a catalogue, with the team’s shared kinds or without',
    role: 'viewer',
    params: which,
    query: z.object({ shared: z.enum(['yes', 'no']).default('yes') }),
    answer: catalogueSchema,
  }),
  report: contract({
    method: 'post',
    path: '/api/catalogues/report',
    about: 'What a changed catalogue would do to files',
    most: 10 * megabyte,
    role: 'lead',
    quiet: true,
    body: z.object({ catalogue: catalogueSchema }),
    answer: catalogueReportSchema,
  }),
  change: contract({
    method: 'post',
    path: '/api/catalogues',
    about: 'Changes the catalogue of kinds',
    most: 10 * megabyte,
    role: 'lead',
    body: z.object({ catalogue: catalogueSchema, seen: z.int().min(0) }),
    answer: versionSchema,
    status: 201,
    problems: [412, 422],
  }),
  uses: contract({
    method: 'get',
    path: '/api/kind-uses',
    about: 'The files that use some kinds',
    role: 'viewer',
    query: z.object({ kinds: z.string().max(20_000).describe('Ids of kinds, with commas between.') }),
    answer: z.object({ files: usesSchema }),
  }),
  evidence: contract({
    method: 'post',
    path: '/api/kind-evidence',
    about:
      'What files show of the kinds of their nodes: ports, parameters and their values, from which kinds are learned',
    role: 'viewer',
    quiet: true,
    body: z.object({
      files: z.array(fileIdSchema).min(1).max(20),
      by: z
        .string()
        .max(200)
        .optional()
        .describe('The attribute that says the kind of imported nodes, or “caption”; each file’s own where absent.'),
    }),
    answer: evidenceSchema,
    problems: [404],
  }),
  shared: contract({
    method: 'get',
    path: '/api/shared-kinds',
    about: 'The shared kinds',
    role: 'viewer',
    answer: z.object({ kinds: z.array(sharedKindSchema) }),
  }),
  sharedBody: contract({
    method: 'get',
    path: '/api/shared-kinds/:name/:version',
    about: 'What a shared kind holds, as file text',
    role: 'viewer',
    params: shared,
    answer: z.object({ body: z.string() }),
  }),
  publish: contract({
    method: 'post',
    path: '/api/shared-kinds/:name',
    about: 'Publishes a shared kind',
    most: 40 * megabyte,
    role: 'editor',
    params: shared.pick({ name: true }),
    body: publishSchema,
    answer: sharedKindSchema,
    status: 201,
    problems: [422],
  }),
  scheme: contract({
    method: 'get',
    path: '/api/scheme',
    about: 'The colours of the team',
    role: 'viewer',
    answer: schemeSchema,
  }),
  changeScheme: contract({
    method: 'put',
    path: '/api/scheme',
    about: 'Changes the colours of the team',
    role: 'lead',
    body: schemeSchema,
  }),
};
