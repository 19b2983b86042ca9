import { profileSchema } from '@basitax/core/rules/profile-schema';
import { z } from 'zod';
import { fileIdSchema, fileSchema, personSchema, roleSchema } from './api.ts';

// What goes over the border about the team itself: projects, people, sessions, the record of what was done, who is
// there.

const title = z.string().trim().min(1, 'Give it a name.').max(200);

/** What a save does where it would add findings of severity error: nothing, say it, or refuse. */
export const savingChecks = ['off', 'tell', 'refuse'] as const;
export const savingCheckSchema = z.enum(savingChecks);
export type SavingCheck = z.infer<typeof savingCheckSchema>;

export const projectWordsSchema = z.object({
  title,
  about: z.string().trim().max(1000).default(''),
  open: z.boolean().default(true).describe('Open to the whole team; else to its members and to leads.'),
  members: z
    .array(z.string().max(32))
    .max(1000)
    .default([])
    .describe('Ids of people; they count where it is not open.'),
});
export type ProjectWords = z.input<typeof projectWordsSchema>;

export const projectSchema = projectWordsSchema.extend({
  id: z.string(),
  files: z.int(),
  onSave: savingCheckSchema,
  hasRules: z.boolean(),
});
export type Project = z.infer<typeof projectSchema>;

/** The house rules of a project. `version` is what the next change has to name. */
export const projectRulesSchema = z.object({ profile: profileSchema, onSave: savingCheckSchema, version: z.int() });
export type ProjectRules = z.infer<typeof projectRulesSchema>;

/** A folder in a project: names with strokes between, none at the ends; empty is the project itself. */
export const folderSchema = z
  .string()
  .max(300)
  .regex(
    /^(?:[^/\\]*[^/\\\s][^/\\]*(?:\/[^/\\]*[^/\\\s][^/\\]*)*)?$/,
    'is no folder: names with / between, as in act 1/night',
  )
  .transform((path) =>
    path
      .split('/')
      .map((name) => name.trim())
      .join('/'),
  );
export const placeSchema = z.object({ project: fileIdSchema, folder: folderSchema.default('') });
export type Place = z.input<typeof placeSchema>;

const tag = z
  .string()
  .trim()
  .min(1)
  .max(50)
  .regex(/^[^,]*$/, 'holds a comma');
export const tagsSchema = z
  .array(tag)
  .max(50)
  .transform((tags) => [...new Set(tags)].sort());

export const duplicateSchema = z.object({ title });

export const trashedSchema = fileSchema.extend({ trashedAt: z.string(), trashedBy: z.string() });
export type Trashed = z.infer<typeof trashedSchema>;

export const revisionNameSchema = z.object({ name: z.string().trim().max(100) });

export const memberSchema = personSchema.extend({ createdAt: z.string(), seenAt: z.string().nullable() });
export type Member = z.infer<typeof memberSchema>;
export const memberChangeSchema = z.object({ name: title.max(100), role: roleSchema });

const password = z.string().min(10, 'takes ten signs or more').max(200);
export const inviteSchema = z.object({
  name: title.max(100),
  role: roleSchema,
  days: z.int().min(1).max(30).default(7),
});
export const invitationSchema = z.object({
  id: z.string(),
  name: z.string(),
  role: roleSchema,
  by: z.string(),
  expiresAt: z.string(),
  createdAt: z.string(),
});
export type Invitation = z.infer<typeof invitationSchema>;
/** The token is part of the link that is handed on; it is told once. */
export const invitedSchema = invitationSchema.extend({ token: z.string() });
export const welcomeSchema = z.object({
  token: z.string().max(100),
  login: z
    .string()
    .trim()
    .regex(/^[a-z0-9._-]{2,60}$/, 'takes two small letters or digits at least, with . _ -'),
  password,
});
export const passwordChangeSchema = z.object({ old: z.string().max(200), password });

export const openSessionSchema = z.object({
  id: z.string(),
  person: z.string(),
  login: z.string(),
  /** What the browser calls itself, and where it was last asked from. */
  browser: z.string(),
  address: z.string(),
  createdAt: z.string(),
  seenAt: z.string(),
  own: z.boolean(),
});
export type OpenSession = z.infer<typeof openSessionSchema>;

export const recordSchema = z.object({
  id: z.int(),
  at: z.string(),
  person: z.string(),
  /** By a personal token, not by a person who was signed in. */
  byToken: z.boolean(),
  act: z.string(),
  /** What it was done to, as far as the address says, and more where there is more to say. */
  target: z.string(),
  detail: z.string(),
  address: z.string(),
});
export type AuditRecord = z.infer<typeof recordSchema>;
export const recordQuerySchema = z.object({
  before: z.coerce.number().int().min(1).optional(),
  person: z.string().max(100).optional(),
  text: z.string().max(200).optional(),
});

/** Where somebody is in a file: the window, in pixels of the graph at 100 % zoom, and what is selected. */
export const standingSchema = z.object({
  graph: z.string().min(1).max(200),
  x: z.number(),
  y: z.number(),
  width: z.number().min(0),
  height: z.number().min(0),
  selection: z.array(z.string().max(200)).max(200).default([]),
  editing: z.boolean().default(false).describe('Has changes that are not saved.'),
});
export type Standing = z.infer<typeof standingSchema>;
export const tabSchema = z.string().regex(/^[a-z0-9]{8,32}$/, 'is no tab');
export const presentSchema = standingSchema.extend({ tab: z.string(), person: z.string(), name: z.string() });
export type Present = z.infer<typeof presentSchema>;

/** What is sent to whoever has a file open, each time that it changes. */
export const liveSchema = z.object({
  head: z.object({ number: z.int(), author: z.string(), message: z.string() }),
  trashed: z.boolean(),
  people: z.array(presentSchema),
});
export type Live = z.infer<typeof liveSchema>;

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
