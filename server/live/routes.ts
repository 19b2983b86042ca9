import { z } from 'zod';
import { fileIdSchema } from '../api.ts';
import { openEvents } from '../http/events.ts';
import { type Route, route } from '../http/route.ts';
import { standingSchema, tabSchema } from '../team-api.ts';
import { type LiveFiles, leave, stand } from './live.ts';

const one = z.object({ id: fileIdSchema });
const tab = one.extend({ tab: tabSchema });

/** Who is in a file, and where, and which revision is the newest, as it happens. */
export function liveRoutes(live: LiveFiles): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/files/:id/live',
      about: 'Who is in a file and which revision is its newest, as server-sent events',
      role: 'viewer',
      params: one,
      file: 'id',
      async handle({ params, ctx }) {
        const line = openEvents(ctx);
        line.onClose(live.watch(params.id, (now) => line.send(now)));
        return undefined;
      },
    }),
    route({
      method: 'put',
      path: '/api/files/:id/presence/:tab',
      about: 'Says where one is in a file',
      role: 'viewer',
      quiet: true,
      params: tab,
      file: 'id',
      body: standingSchema,
      async handle({ params, body, person }) {
        await stand(params.id, params.tab, person, body);
        return undefined;
      },
    }),
    route({
      method: 'delete',
      path: '/api/files/:id/presence/:tab',
      about: 'Says that one has closed a file',
      role: 'viewer',
      quiet: true,
      params: tab,
      async handle({ params, person }) {
        await leave(params.tab, person);
        return undefined;
      },
    }),
  ];
}
