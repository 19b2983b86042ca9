import { z } from 'zod';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';
import type { AssetStore } from './store.ts';

/** Finds where an asset lies by its file name: a browser gives no path of what is dropped on it. */
export function assetRoutes(assets: AssetStore | undefined): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/assets',
      role: 'viewer',
      query: z.object({ name: z.string().min(1).max(255) }),
      async handle({ query }) {
        if (!assets) throw new HttpProblem(503, 'No asset store', 'No asset store is set up here; name one in ASSET_STORE_URL, or type the path.');
        return { paths: await assets.find(query.name) };
      },
    }),
  ];
}
