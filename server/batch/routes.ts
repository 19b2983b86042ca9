import { fileQuerySchema } from '@basitax/core/batch/recipe';
import type { Context } from 'koa';
import { z } from 'zod';
import {
  acceptSchema,
  batchItemSchema,
  batchRunSchema,
  batchStartSchema,
  fileIdSchema,
  itemDetailSchema,
} from '../api.ts';
import { thumbnailSvg } from '../files/thumbnail.ts';
import { openEvents } from '../http/events.ts';
import { type Route, route } from '../http/route.ts';
import { closedFiles } from '../projects/access.ts';
import type { Batches } from './batches.ts';
import { filesFor } from './files.ts';

const one = z.object({ id: fileIdSchema });
const item = one.extend({ file: fileIdSchema });

/** How often the database is asked how a run stands while somebody looks on, in milliseconds. */
const pace = 500;
const overlap = 5000;

/** Batch runs: editors start and apply their own, leads those of all. */
export function batchRoutes(batches: Batches): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/batches',
      about: 'Batch runs, the latest first',
      answer: z.object({ runs: z.array(batchRunSchema) }),
      role: 'viewer',
      handle: async () => ({ runs: await batches.list() }),
    }),
    route({
      method: 'post',
      path: '/api/batches/files',
      about: 'The files that a run would be about',
      role: 'viewer',
      quiet: true,
      body: z.object({ files: fileQuerySchema }),
      handle: async ({ body, person }) => ({ files: await filesFor(body.files, person) }),
    }),
    route({
      method: 'post',
      path: '/api/batches',
      about: 'Starts a run',
      answer: batchRunSchema,
      role: 'editor',
      body: batchStartSchema,
      async handle({ body, person, ctx }) {
        ctx.status = 201;
        return batches.start(body, person);
      },
    }),
    route({
      method: 'get',
      path: '/api/batches/:id',
      about: 'How a run stands',
      answer: batchRunSchema,
      role: 'viewer',
      params: one,
      handle: ({ params }) => batches.run(params.id),
    }),
    route({
      method: 'get',
      path: '/api/batches/:id/items',
      about: 'Its files',
      answer: z.object({ items: z.array(batchItemSchema) }),
      role: 'viewer',
      params: one,
      async handle({ params, person }) {
        await batches.run(params.id);
        const hidden = new Set(await closedFiles(person));
        return { items: (await batches.items(params.id)).filter((row) => !hidden.has(row.file)) };
      },
    }),
    route({
      method: 'get',
      path: '/api/batches/:id/items/:file',
      about: 'All that was planned for a file',
      answer: itemDetailSchema,
      role: 'viewer',
      params: item,
      file: 'file',
      handle: ({ params }) => batches.detail(params.id, params.file),
    }),
    route({
      method: 'get',
      path: '/api/batches/:id/items/:file/picture.svg',
      about: 'How a file looks before or after',
      role: 'viewer',
      params: item,
      file: 'file',
      query: z.object({ which: z.enum(['before', 'after']), theme: z.enum(['paper', 'night']).default('paper') }),
      async handle({ params, query, ctx }) {
        ctx.type = 'image/svg+xml';
        return thumbnailSvg(await batches.sketch(params.id, params.file, query.which), query.theme);
      },
    }),
    route({
      method: 'post',
      path: '/api/batches/:id/accept',
      about: 'Accepts or rejects files',
      answer: batchRunSchema,
      role: 'editor',
      params: one,
      body: acceptSchema,
      handle: ({ params, body }) => batches.accept(params.id, body.accepted, body.files),
    }),
    route({
      method: 'post',
      path: '/api/batches/:id/apply',
      about: 'Applies what was accepted',
      answer: batchRunSchema,
      role: 'editor',
      params: one,
      body: z.object({ message: z.string().trim().max(500).default('') }),
      handle: ({ params, body, person }) => batches.apply(params.id, body.message, person),
    }),
    route({
      method: 'post',
      path: '/api/batches/:id/cancel',
      about: 'Lets alone what is not done yet',
      answer: batchRunSchema,
      role: 'editor',
      params: one,
      handle: ({ params, person }) => batches.cancel(params.id, person),
    }),
    route({
      method: 'post',
      path: '/api/batches/:id/roll-back',
      about: 'Takes back what was applied',
      answer: batchRunSchema,
      role: 'editor',
      params: one,
      handle: ({ params, person }) => batches.rollBack(params.id, person),
    }),
    route({
      method: 'get',
      path: '/api/batches/:id/events',
      about: 'How the run stands, as server-sent events',
      role: 'viewer',
      params: one,
      async handle({ params, person, ctx }) {
        await batches.run(params.id);
        sendEvents(ctx, batches, params.id, new Set(await closedFiles(person)));
        return undefined;
      },
    }),
  ];
}

/**
 * How the run stands, with what changed since, until the client goes. Files that the person does not see are left out.
 */
function sendEvents(ctx: Context, batches: Batches, id: string, hidden: ReadonlySet<string>): void {
  const line = openEvents(ctx);
  const told = new Map<string, string>();
  let last = '';
  let since: Date | undefined;
  const tell = async (): Promise<void> => {
    while (line.isOpen) {
      const run = await batches.run(id);
      const changes = await batches.changes(id, since);
      // clocks of processes differ: some time is asked for again, and what was told already left out
      if (changes.latest) since = new Date(changes.latest.getTime() - overlap);
      const items = changes.items.filter((row) => !hidden.has(row.file) && told.get(row.file) !== JSON.stringify(row));
      for (const row of items) told.set(row.file, JSON.stringify(row));
      if (items.length > 0 || JSON.stringify(run) !== last) {
        last = JSON.stringify(run);
        line.send({ run, items });
      }
      await new Promise((done) => setTimeout(done, pace));
    }
  };
  tell().catch(line.fail);
}
