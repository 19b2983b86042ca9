import { mostSource } from '@basitax/core/script/job';
import { scriptOptionsSchema } from '@basitax/core/script/options';
import { z } from 'zod';
import { contract } from './contract.ts';
import { whichSchema } from './files.ts';
import { fileIdSchema } from './places.ts';
import { roleSchema } from './roles.ts';

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

const one = z.object({ id: fileIdSchema });

/** Scripts and recipes: each says itself who may run and who may change it. */
export const libraryApi = {
  list: contract({
    method: 'get',
    path: '/api/library',
    about: 'Scripts and recipes that one may run',
    role: 'viewer',
    query: z.object({ type: z.enum(libraryTypes).optional() }),
    answer: z.object({ items: z.array(libraryItemSchema) }),
  }),
  make: contract({
    method: 'post',
    path: '/api/library',
    about: 'Keeps a script or recipe',
    role: 'editor',
    body: libraryMakeSchema,
    answer: libraryVersionSchema,
    status: 201,
    problems: [422],
  }),
  versions: contract({
    method: 'get',
    path: '/api/library/:id/versions',
    about: 'The versions of a script or recipe',
    role: 'viewer',
    params: one,
    answer: z.object({ versions: z.array(libraryItemSchema) }),
  }),
  version: contract({
    method: 'get',
    path: '/api/library/:id/versions/:version',
    about: 'One version of a script or recipe',
    role: 'viewer',
    params: one.extend({ version: whichSchema }),
    answer: libraryVersionSchema,
    headers: { ETag: 'The number of the version, as the next change has to name it in If-Match.' },
  }),
  change: contract({
    method: 'post',
    path: '/api/library/:id/versions',
    about: 'Keeps the next version of a script or recipe',
    role: 'editor',
    params: one,
    seen: 'always',
    body: libraryChangeSchema,
    answer: libraryVersionSchema,
    status: 201,
  }),
  remove: contract({
    method: 'delete',
    path: '/api/library/:id',
    about: 'Removes a script or recipe from the library',
    role: 'editor',
    params: one,
  }),
};
