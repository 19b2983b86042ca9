import { z } from 'zod';

export const fileIdSchema = z.string().regex(/^[a-zA-Z0-9_-]{1,64}$/, 'is not a file id');

/** A folder in a project: names with strokes between, none at the ends; empty is the project itself. */
export const folderSchema = z
  .string()
  .max(300)
  .regex(
    /^(?:[^/\\]*[^/\\\s][^/\\]*(?:\/[^/\\]*[^/\\\s][^/\\]*)*)?$/,
    'is not a folder: names with / between, as in act 1/night',
  )
  .transform((path) =>
    path
      .split('/')
      .map((name) => name.trim())
      .join('/'),
  );

export const placeSchema = z.object({ project: fileIdSchema, folder: folderSchema.default('') });
export type Place = z.input<typeof placeSchema>;
