import { z } from 'zod';
import { contract } from './contract.ts';

const sequenceSchema = z
  .string()
  .max(40)
  .regex(/^\S+( \S+)?$/, 'is not a key or row of two keys');

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

export const settingNameSchema = z.string().regex(/^(shortcuts|views-[a-zA-Z0-9_-]{1,64})$/, 'is not a setting');

/** What a setting of that name holds. */
export const settingOf = (name: string): typeof shortcutsSchema | typeof savedViewsSchema =>
  name === 'shortcuts' ? shortcutsSchema : savedViewsSchema;

const one = z.object({ name: settingNameSchema });

/** What a person has set up: shortcuts, and the views saved in each file. Nobody sees those of others. */
export const settingsApi = {
  get: contract({
    method: 'get',
    path: '/api/settings/:name',
    about: 'One of your settings',
    role: 'viewer',
    params: one,
    answer: z.object({ value: z.unknown().describe('Null where nothing is set.') }),
  }),
  change: contract({
    method: 'put',
    path: '/api/settings/:name',
    about: 'Changes one of your settings',
    role: 'viewer',
    quiet: true,
    params: one,
    body: z.object({ value: z.unknown() }),
  }),
};
