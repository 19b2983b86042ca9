import { liveApi } from '@basitax/api/live';
import { openEvents } from '../http/events.ts';
import { bind, type Route } from '../http/route.ts';
import { reachable } from '../projects/access.ts';
import { type LiveFiles, leave, stand } from './live.ts';

/** Who is in a file, and where, and which revision is the newest, as it happens. */
export function liveRoutes(live: LiveFiles): Route[] {
  return bind(liveApi, {
    async watch({ params, ctx }) {
      const line = openEvents(ctx, async (now) => void (await reachable(now, params.id, 'anywhere')));
      line.onClose(live.watch(params.id, (now) => line.send(now)));
      return undefined;
    },
    async stand({ params, body, person }) {
      await stand(params.id, params.tab, person, body);
      return undefined;
    },
    async leave({ params, person }) {
      await leave(params.tab, person);
      return undefined;
    },
  });
}
