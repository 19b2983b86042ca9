import { shelfApi } from '@basitax/api/shelf';
import { bind, type Route, say } from '../http/route.ts';
import { listTrash, moveFile, nameRevision, removeForEver, tagFile, takeBack, throwAway } from './shelf.ts';
import type { FileStore } from './store.ts';

/** Where files lie: moved, tagged, duplicated, thrown away and taken back by editors; removed for ever by leads. */
export function shelfRoutes(store: FileStore): Route[] {
  return bind(shelfApi, {
    async move({ params, body, person, ctx }) {
      say(ctx, { detail: `to ${await moveFile(params.id, body, person)}` });
      return store.info(params.id);
    },
    async tag({ params, body, ctx }) {
      await tagFile(store.sequelize, params.id, body.tags);
      say(ctx, { detail: body.tags.join(', ') || 'none' });
      return store.info(params.id);
    },
    async duplicate({ params, body, person, ctx }) {
      say(ctx, { detail: `as “${body.title}”` });
      return store.duplicate(params.id, body.title, person.name);
    },
    async nameRevision({ params, body, ctx }) {
      await nameRevision(params.id, params.number, body.name);
      say(ctx, { detail: `Revision ${params.number}: ${body.name || 'no name'}` });
      return undefined;
    },
    async throwAway({ params, person }) {
      await throwAway(params.id, person);
      return undefined;
    },
    trash: async ({ person }) => ({ files: await listTrash(store.sequelize, person) }),
    async takeBack({ params, person, ctx }) {
      say(ctx, { target: `“${await takeBack(params.id, person)}”` });
      return store.info(params.id);
    },
    async removeForGood({ params, person, ctx }) {
      say(ctx, { target: `“${await removeForEver(store.sequelize, params.id, person)}”` });
      return undefined;
    },
  });
}
