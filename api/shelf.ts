import { longestTag, mostTags } from '@basitax/core/document/tags';
import { z } from 'zod';
import { contract } from './contract.ts';
import { fileSchema } from './files.ts';
import { fileIdSchema, placeSchema } from './places.ts';
import { titleSchema } from './words.ts';

const tag = z
  .string()
  .trim()
  .min(1)
  .max(longestTag)
  .regex(/^[^,]*$/, 'holds a comma');

export const tagsSchema = z
  .array(tag)
  .max(mostTags)
  .transform((tags) => [...new Set(tags)].sort());

export const duplicateSchema = z.object({ title: titleSchema });

export const trashedSchema = fileSchema.extend({ trashedAt: z.string(), trashedBy: z.string() });
export type Trashed = z.infer<typeof trashedSchema>;

export const revisionNameSchema = z.object({ name: z.string().trim().max(100) });

const one = z.object({ id: fileIdSchema });

/** Where files lie: moved, tagged, duplicated, thrown away and taken back by editors; removed for good by leads. */
export const shelfApi = {
  move: contract({
    method: 'put',
    path: '/api/files/:id/place',
    about: 'Moves a file to a project and folder',
    role: 'editor',
    params: one,
    file: 'id',
    body: placeSchema,
    answer: fileSchema,
  }),
  tag: contract({
    method: 'put',
    path: '/api/files/:id/tags',
    about: 'Sets the tags of a file',
    role: 'editor',
    params: one,
    file: 'id',
    body: z.object({ tags: tagsSchema }),
    answer: fileSchema,
  }),
  duplicate: contract({
    method: 'post',
    path: '/api/files/:id/duplicate',
    about: 'Makes another file that begins as this one stands',
    role: 'editor',
    params: one,
    file: 'id',
    body: duplicateSchema,
    answer: fileSchema,
    status: 201,
  }),
  nameRevision: contract({
    method: 'put',
    path: '/api/files/:id/revisions/:number/name',
    about: 'Names a revision',
    role: 'editor',
    params: one.extend({ number: z.coerce.number().int().min(1).max(1e9) }),
    file: 'id',
    body: revisionNameSchema,
  }),
  throwAway: contract({
    method: 'delete',
    path: '/api/files/:id',
    about: 'Moves a file to the trash',
    role: 'editor',
    params: one,
    file: 'id',
  }),
  trash: contract({
    method: 'get',
    path: '/api/trash',
    about: 'What is in the trash',
    role: 'viewer',
    answer: z.object({ files: z.array(trashedSchema) }),
  }),
  takeBack: contract({
    method: 'post',
    path: '/api/trash/:id/restore',
    about: 'Takes a file out of the trash',
    role: 'editor',
    params: one,
    answer: fileSchema,
  }),
  removeForGood: contract({
    method: 'delete',
    path: '/api/trash/:id',
    about: 'Removes a file from the trash for good',
    role: 'lead',
    params: one,
  }),
};
