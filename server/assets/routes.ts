import { assetsApi } from '@basitax/api/services';
import type { AssetFacts } from '@basitax/core/script/assets';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import type { AssetStore } from './store.ts';

function there(assets: AssetStore | undefined): AssetStore {
  if (!assets)
    throw new HttpProblem(
      503,
      'No asset store',
      'No asset store is set up here; name one in ASSET_STORE_URL, or type the path.',
    );
  return assets;
}

/**
 * Finds where an asset lies by its file name: a browser gives no path of what is dropped on it; and tells whether there
 * is anything at a path.
 */
export function assetRoutes(assets: AssetStore | undefined): Route[] {
  return bind(assetsApi, {
    find: async ({ query }) => ({ paths: await there(assets).find(query.name) }),
    exists: async ({ query }) => ({ exists: await there(assets).has(query.path) }),
    check: async ({ body }) => ({ assets: await checkPaths(there(assets), body.paths) }),
  });
}

/** Questions that stand open at the store at a time. */
const together = 8;

/** Whether there is anything at each path, and where files of the same name lie where there is not. */
export async function checkPaths(assets: AssetStore, paths: readonly string[]): Promise<AssetFacts> {
  const todo = [...new Set(paths)];
  const found: AssetFacts = {};
  const work = async (): Promise<void> => {
    for (let path = todo.pop(); path !== undefined; path = todo.pop()) {
      const exists = await assets.has(path);
      const name = path.split('/').at(-1) ?? '';
      found[path] = { exists, elsewhere: exists || name === '' ? [] : [...(await assets.find(name))] };
    }
  };
  await Promise.all(Array.from({ length: together }, work));
  return found;
}
