import { z } from 'zod';
import { contract } from './contract.ts';
import { fileIdSchema } from './places.ts';

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

export const tabSchema = z.string().regex(/^[a-z0-9]{8,32}$/, 'is not a tab');

export const presentSchema = standingSchema.extend({ tab: z.string(), person: z.string(), name: z.string() });
export type Present = z.infer<typeof presentSchema>;

/** What is sent to whoever has a file open, each time that it changes. */
export const liveSchema = z.object({
  head: z.object({ number: z.int(), author: z.string(), message: z.string() }),
  trashed: z.boolean(),
  people: z.array(presentSchema),
});
export type Live = z.infer<typeof liveSchema>;

const one = z.object({ id: fileIdSchema });
const tab = one.extend({ tab: tabSchema });

/** Who is in a file, and where, and which revision is the newest, as it happens. */
export const liveApi = {
  watch: contract({
    method: 'get',
    path: '/api/files/:id/live',
    about: 'Who is in a file and which revision is its newest, as server-sent events',
    role: 'viewer',
    params: one,
    file: 'id',
    media: ['text/event-stream'],
    events: liveSchema,
  }),
  stand: contract({
    method: 'put',
    path: '/api/files/:id/presence/:tab',
    about: 'Says where one is in a file',
    role: 'viewer',
    quiet: true,
    most: 32 * 1024,
    params: tab,
    file: 'id',
    body: standingSchema,
  }),
  leave: contract({
    method: 'delete',
    path: '/api/files/:id/presence/:tab',
    about: 'Says that one has closed a file',
    role: 'viewer',
    quiet: true,
    params: tab,
  }),
};
