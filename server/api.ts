import { fileQuerySchema, recipeSchema } from '@basitax/core/batch/recipe';
import { kindSchema } from '@basitax/core/document/catalogue';
import { editSchema } from '@basitax/core/edit/step';
import { useKinds } from '@basitax/core/inspect/use-kinds';
import { mostSource, reachSchema } from '@basitax/core/script/job';
import { scriptOptionsSchema } from '@basitax/core/script/options';
import { z } from 'zod';

// What goes over the border between web and server, in both directions. Everything is checked with these, on both
// sides.

export const roles = ['viewer', 'editor', 'lead'] as const;
export const roleSchema = z.enum(roles);
export type Role = z.infer<typeof roleSchema>;

/** May someone with role `have` do what asks for `need`? */
export function mayAct(have: Role, need: Role): boolean {
  return roles.indexOf(have) >= roles.indexOf(need);
}

export const personSchema = z.object({ id: z.string(), login: z.string(), name: z.string(), role: roleSchema });
export type Person = z.infer<typeof personSchema>;

export const signInSchema = z.object({ login: z.string().min(1).max(100), password: z.string().min(1).max(200) });

export const fileIdSchema = z.string().regex(/^[a-zA-Z0-9_-]{1,64}$/, 'is no file id');

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

const findingSchema = z.object({
  rule: z.string(),
  severity: z.enum(['error', 'warning', 'info']),
  place: z.array(z.string()),
  message: z.string(),
});

export const importedSchema = z.object({ file: fileSchema, findings: z.array(findingSchema) });

export const saveSchema = z.object({
  edit: editSchema,
  message: z.string().trim().min(1, 'Say in a word or two what changed.').max(500),
});

const sequenceSchema = z
  .string()
  .max(40)
  .regex(/^\S+( \S+)?$/, 'is no key or row of two keys');

/** Which keys do what, where that differs from what is usual: an empty list takes all keys off an act. */
export const shortcutsSchema = z.object({
  on: z.boolean().default(true),
  keys: z
    .record(z.string().max(100), z.array(sequenceSchema).max(5))
    .refine((keys) => Object.keys(keys).length <= 500, 'holds too much'),
});
export type Shortcuts = z.infer<typeof shortcutsSchema>;

export const savedViewSchema = z.object({
  name: z.string().trim().min(1).max(100),
  graph: z.string().min(1).max(200),
  x: z.number(),
  y: z.number(),
  zoom: z.number().positive(),
});
export type SavedView = z.infer<typeof savedViewSchema>;
export const savedViewsSchema = z.array(savedViewSchema).max(200);

export const settingNameSchema = z.string().regex(/^(shortcuts|views-[a-zA-Z0-9_-]{1,64})$/, 'is no setting');

/** What a setting of that name holds. */
export const settingOf = (name: string): typeof shortcutsSchema | typeof savedViewsSchema =>
  name === 'shortcuts' ? shortcutsSchema : savedViewsSchema;

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

/** What is looked up over all files: exactly so, or what begins so. */
export const useSearchSchema = z
  .object({
    what: z.enum(useKinds),
    name: z.string().min(1).max(1000).optional(),
    value: z.string().max(1000).optional(),
    match: z.enum(['exact', 'starts']).default('exact'),
  })
  .refine((search) => search.name !== undefined || search.value !== undefined, {
    message: 'needs a name or a value',
    path: ['name'],
  });
export type UseSearch = z.infer<typeof useSearchSchema>;

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

export const catalogueReportSchema = z.object({
  changes: z.array(z.object({ kind: z.string().optional(), breaking: z.boolean(), sentence: z.string() })),
  files: usesSchema,
});

export const libraryTypes = ['script', 'recipe'] as const;
export type LibraryType = (typeof libraryTypes)[number];

/** A script or recipe of the library, without what it holds. */
export const libraryItemSchema = z.object({
  id: z.string(),
  type: z.enum(libraryTypes),
  title: z.string(),
  about: z.string(),
  runRole: roleSchema,
  changeRole: roleSchema,
  version: z.int(),
  author: z.string(),
  message: z.string(),
  changedAt: z.string(),
});
export type LibraryItem = z.infer<typeof libraryItemSchema>;

/** One version, with the script or the recipe as JSON, and the options that a script declares. */
export const libraryVersionSchema = libraryItemSchema.extend({ content: z.string(), options: scriptOptionsSchema });
export type LibraryVersion = z.infer<typeof libraryVersionSchema>;

const libraryWords = {
  title: z.string().trim().min(1, 'Title it.').max(200),
  about: z.string().trim().max(1000).default(''),
  runRole: roleSchema.default('editor'),
  changeRole: roleSchema.default('editor'),
  content: z.string().min(1, 'It is empty.').max(mostSource),
  message: z.string().trim().max(500).default(''),
};
export const libraryMakeSchema = z.object({ type: z.enum(libraryTypes), ...libraryWords });
export const libraryChangeSchema = z.object(libraryWords);
export type LibraryChange = z.input<typeof libraryChangeSchema>;

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
  files: fileQuerySchema,
  /** How many files are in each state. */
  counts: z.partialRecord(z.enum(itemStates), z.int()),
  total: z.int(),
  accepted: z.int(),
});
export type BatchRun = z.infer<typeof batchRunSchema>;

export const batchStartSchema = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  recipe: recipeSchema,
  files: fileQuerySchema,
});

const stepReport = z.object({ step: z.int(), summary: z.string() });
/** All that a plan says of a file. */
export const itemDetailSchema = batchItemSchema.extend({
  steps: z.array(stepReport),
  findings: z.array(findingSchema),
  log: z.array(z.object({ level: z.enum(['log', 'warn']), text: z.string() })),
  outputs: z.array(z.object({ name: z.string(), text: z.string() })),
  changes: z.array(z.object({ layer: z.string(), sentence: z.string() })),
});
export type ItemDetail = z.infer<typeof itemDetailSchema>;

export const acceptSchema = z.object({ accepted: z.boolean(), files: z.array(fileIdSchema).max(100_000).optional() });

/** What is sent while a run goes on: how it stands, and the files that changed since the message before. */
export const batchEventSchema = z.object({ run: batchRunSchema, items: z.array(batchItemSchema) });

/** A personal token, as its owner sees it in the list. */
export const tokenSchema = z.object({
  id: z.string(),
  title: z.string(),
  role: roleSchema,
  expiresAt: z.string(),
  usedAt: z.string().nullable(),
  createdAt: z.string(),
});
export type Token = z.infer<typeof tokenSchema>;
export const tokenMakeSchema = z.object({
  title: z.string().trim().min(1, 'Title it.').max(200),
  role: roleSchema,
  days: z.int().min(1).max(730).default(90),
});
/** The token itself is told once, when it is made. */
export const tokenMadeSchema = tokenSchema.extend({ token: z.string() });

export const renderedSchema = z.object({
  rendered: z.array(z.object({ path: z.string(), picture: z.string(), ms: z.number() })),
});

export const restoreSchema = z.object({ message: z.string().trim().max(500).default('') });

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
  changes: z.array(z.object({ layer: z.string(), sentence: z.string() })),
  log: z.array(z.object({ level: z.enum(['log', 'warn']), text: z.string() })),
  outputs: z.array(z.object({ name: z.string(), text: z.string() })),
  failure: z.object({ message: z.string(), line: z.int().optional(), node: z.string().optional() }).nullable(),
});

/**
 * RFC 9457. `changes` comes with 412: what was saved since, and the edits that lead from the base that was named to the
 * head.
 */
export const problemSchema = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string().optional(),
  changes: z
    .object({
      head: z.int(),
      revisions: z.array(z.object({ number: z.int(), author: z.string(), message: z.string() })),
      edits: z.array(editSchema),
    })
    .optional(),
});
export type Problem = z.infer<typeof problemSchema>;
