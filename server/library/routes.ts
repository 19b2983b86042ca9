import { z } from 'zod';
import {
  fileIdSchema,
  libraryChangeSchema,
  libraryItemSchema,
  libraryMakeSchema,
  libraryTypes,
  libraryVersionSchema,
} from '../api.ts';
import { type Route, route, seenRevision } from '../http/route.ts';
import type { Library } from './library.ts';

const one = z.object({ id: fileIdSchema });
const version = one.extend({ version: z.union([z.literal('head'), z.coerce.number().int().min(1).max(1e9)]) });

/** Scripts and recipes: each says itself who may run and who may change it. */
export function libraryRoutes(library: Library): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/library',
      about: 'Scripts and recipes that one may run',
      answer: z.object({ items: z.array(libraryItemSchema) }),
      role: 'viewer',
      query: z.object({ type: z.enum(libraryTypes).optional() }),
      handle: async ({ query, person }) => ({ items: await library.list(person, query.type) }),
    }),
    route({
      method: 'post',
      path: '/api/library',
      about: 'Keeps a script or recipe',
      answer: libraryVersionSchema,
      role: 'editor',
      body: libraryMakeSchema,
      async handle({ body, person, ctx }) {
        ctx.status = 201;
        return library.make(body, person);
      },
    }),
    route({
      method: 'get',
      path: '/api/library/:id/versions',
      about: 'Its versions',
      answer: z.object({ versions: z.array(libraryItemSchema) }),
      role: 'viewer',
      params: one,
      handle: async ({ params, person }) => ({ versions: await library.versions(params.id, person) }),
    }),
    route({
      method: 'get',
      path: '/api/library/:id/versions/:version',
      about: 'One version',
      answer: libraryVersionSchema,
      role: 'viewer',
      params: version,
      async handle({ params, person, ctx }) {
        const found = await library.version(params.id, params.version, person);
        ctx.set('ETag', `"${found.version}"`);
        return found;
      },
    }),
    route({
      method: 'post',
      path: '/api/library/:id/versions',
      about: 'Keeps the next version',
      answer: libraryVersionSchema,
      role: 'editor',
      params: one,
      body: libraryChangeSchema,
      async handle({ params, body, person, ctx }) {
        ctx.status = 201;
        return library.change(params.id, seenRevision(ctx), body, person);
      },
    }),
    route({
      method: 'delete',
      path: '/api/library/:id',
      about: 'Takes it out of the library',
      role: 'editor',
      params: one,
      async handle({ params, person }) {
        await library.remove(params.id, person);
        return undefined;
      },
    }),
  ];
}
