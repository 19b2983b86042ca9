import { libraryApi } from '@basitax/api/library';
import { bind, type Route, seenRevision } from '../http/route.ts';
import type { Library } from './library.ts';

/** Scripts and recipes: each says itself who may run and who may change it. */
export function libraryRoutes(library: Library): Route[] {
  return bind(libraryApi, {
    list: async ({ query, person }) => ({ items: await library.list(person, query.type) }),
    async make({ body, person }) {
      return library.make(body, person);
    },
    versions: async ({ params, person }) => ({ versions: await library.versions(params.id, person) }),
    async version({ params, person, ctx }) {
      const found = await library.version(params.id, params.version, person);
      ctx.set('ETag', `"${found.version}"`);
      return found;
    },
    async change({ params, body, person, ctx }) {
      return library.change(params.id, seenRevision(ctx), body, person);
    },
    async remove({ params, person }) {
      await library.remove(params.id, person);
      return undefined;
    },
  });
}
