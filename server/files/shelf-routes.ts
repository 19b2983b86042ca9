import { z } from 'zod';
import { fileIdSchema, fileSchema } from '../api.ts';
import { type Route, route, say } from '../http/route.ts';
import { duplicateSchema, placeSchema, revisionNameSchema, tagsSchema, trashedSchema } from '../team-api.ts';
import { listTrash, moveFile, nameRevision, removeForEver, tagFile, takeBack, throwAway } from './shelf.ts';
import type { FileStore } from './store.ts';

const one = z.object({ id: fileIdSchema });

/** Where files lie: moved, tagged, duplicated, thrown away and taken back by editors; removed for ever by leads. */
export function shelfRoutes(store: FileStore): Route[] {
  return [
    route({
      method: 'put',
      path: '/api/files/:id/place',
      about: 'Moves a file to a project and folder',
      answer: fileSchema,
      role: 'editor',
      params: one,
      file: 'id',
      body: placeSchema,
      async handle({ params, body, person, ctx }) {
        say(ctx, { detail: `to ${await moveFile(params.id, body, person)}` });
        return store.info(params.id);
      },
    }),
    route({
      method: 'put',
      path: '/api/files/:id/tags',
      about: 'Sets the tags of a file',
      answer: fileSchema,
      role: 'editor',
      params: one,
      file: 'id',
      body: z.object({ tags: tagsSchema }),
      async handle({ params, body, ctx }) {
        await tagFile(store.sequelize, params.id, body.tags);
        say(ctx, { detail: body.tags.join(', ') || 'none' });
        return store.info(params.id);
      },
    }),
    route({
      method: 'post',
      path: '/api/files/:id/duplicate',
      about: 'Makes another file that begins as this one stands',
      answer: fileSchema,
      role: 'editor',
      params: one,
      file: 'id',
      body: duplicateSchema,
      async handle({ params, body, person, ctx }) {
        ctx.status = 201;
        say(ctx, { detail: `as “${body.title}”` });
        return store.duplicate(params.id, body.title, person.name);
      },
    }),
    route({
      method: 'put',
      path: '/api/files/:id/revisions/:number/name',
      about: 'Names a revision',
      role: 'editor',
      params: one.extend({ number: z.coerce.number().int().min(1).max(1e9) }),
      file: 'id',
      body: revisionNameSchema,
      async handle({ params, body, ctx }) {
        await nameRevision(params.id, params.number, body.name);
        say(ctx, { detail: `Revision ${params.number}: ${body.name || 'no name'}` });
        return undefined;
      },
    }),
    route({
      method: 'delete',
      path: '/api/files/:id',
      about: 'Puts a file into the trash',
      role: 'editor',
      params: one,
      file: 'id',
      async handle({ params, person }) {
        await throwAway(params.id, person);
        return undefined;
      },
    }),
    route({
      method: 'get',
      path: '/api/trash',
      about: 'What lies in the trash',
      answer: z.object({ files: z.array(trashedSchema) }),
      role: 'viewer',
      handle: async ({ person }) => ({ files: await listTrash(store.sequelize, person) }),
    }),
    route({
      method: 'post',
      path: '/api/trash/:id/restore',
      about: 'Takes a file out of the trash',
      answer: fileSchema,
      role: 'editor',
      params: one,
      async handle({ params, person, ctx }) {
        say(ctx, { target: `“${await takeBack(params.id, person)}”` });
        return store.info(params.id);
      },
    }),
    route({
      method: 'delete',
      path: '/api/trash/:id',
      about: 'Removes a file from the trash for ever',
      role: 'lead',
      params: one,
      async handle({ params, person, ctx }) {
        say(ctx, { target: `“${await removeForEver(store.sequelize, params.id, person)}”` });
        return undefined;
      },
    }),
  ];
}
