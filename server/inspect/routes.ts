import { useKinds } from '@basitax/core/inspect/use-kinds';
import { z } from 'zod';
import { fileIdSchema, timesSchema, useSearchSchema } from '../api.ts';
import { TimesRow } from '../db/models.ts';
import type { FileStore } from '../files/store.ts';
import { type Route, route } from '../http/route.ts';
import { hiddenFrom } from '../projects/access.ts';
import { fileLinks, namesOfUses, searchUses } from './uses.ts';

const one = z.object({ id: fileIdSchema });

/**
 * What is asked over all files: where things are used, what hangs on what; and what is known of a file beside its
 * document.
 */
export function inspectRoutes(store: FileStore): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/uses',
      role: 'viewer',
      query: useSearchSchema,
      handle: async ({ query, person }) => searchUses(query, await hiddenFrom(person)),
    }),
    route({
      method: 'get',
      path: '/api/uses/names',
      role: 'viewer',
      query: z.object({
        what: z.enum(useKinds),
        starts: z.string().max(200).default(''),
        of: z.string().max(200).optional(),
      }),
      handle: async ({ query, person }) => ({ names: await namesOfUses(query, await hiddenFrom(person)) }),
    }),
    route({
      method: 'get',
      path: '/api/map',
      role: 'viewer',
      handle: async ({ person }) => fileLinks(await hiddenFrom(person)),
    }),
    route({
      method: 'get',
      path: '/api/files/:id/bypassed',
      role: 'viewer',
      params: one,
      file: 'id',
      handle: async ({ params }) => ({ since: await store.bypassedSince(params.id) }),
    }),
    route({
      method: 'get',
      path: '/api/files/:id/times',
      role: 'viewer',
      params: one,
      file: 'id',
      async handle({ params }) {
        await store.file(params.id);
        const row = await TimesRow.findByPk(params.id);
        return {
          times: row
            ? {
                byPath: JSON.parse(row.content),
                author: row.author,
                source: row.source,
                createdAt: row.createdAt.toISOString(),
              }
            : null,
        };
      },
    }),
    route({
      method: 'put',
      path: '/api/files/:id/times',
      about: 'Keeps the times of a file’s nodes',
      role: 'editor',
      params: one,
      file: 'id',
      body: timesSchema,
      async handle({ params, body, person }) {
        await store.file(params.id);
        await TimesRow.upsert({
          fileId: params.id,
          content: JSON.stringify(body.byPath),
          author: person.name,
          source: body.source,
          createdAt: new Date(),
        });
        return undefined;
      },
    }),
  ];
}
