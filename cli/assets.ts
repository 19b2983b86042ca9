import { existsSync, statSync } from 'node:fs';
import { basename, resolve, sep } from 'node:path';
import type { AssetFacts } from '@basitax/core/script/assets';
import { glob } from 'tinyglobby';
import { Unusable } from './command.ts';

export const assetsOption = {
  type: 'string',
  value: 'FOLDER',
  about: 'The folder that the paths in the files start from, for scripts that ask “assets”.',
} as const;

/**
 * A folder as an asset store: whether there is anything at a path within it, and where files of a name lie. Undefined
 * without a folder. Throws Unusable where it is none.
 */
export function folderStore(
  folder: string | undefined,
): ((paths: readonly string[]) => Promise<AssetFacts>) | undefined {
  if (folder === undefined) return undefined;
  const root = resolve(folder);
  if (!existsSync(root) || !statSync(root).isDirectory())
    throw new Unusable(`--assets: there is no folder “${folder}”.`);
  let listed: Promise<string[]> | undefined;
  return async (paths) => {
    const facts: AssetFacts = {};
    for (const path of paths) {
      const inside = resolve(root, path);
      const exists = inside.startsWith(root + sep) && existsSync(inside);
      if (!exists) listed ??= glob('**', { cwd: root });
      const all = exists ? [] : ((await listed) ?? []);
      facts[path] = { exists, elsewhere: all.filter((one) => basename(one) === basename(path)).sort() };
    }
    return facts;
  };
}
