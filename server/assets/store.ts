import { z } from 'zod';
import { HttpProblem } from '../http/problem.ts';

/**
 * Where the team keeps what its files point at. The one way to it: a service of the house, or the stand-in that ships
 * with the demo.
 */
export interface AssetStore {
  /** The paths of all assets with a file name, sorted. Throws HttpProblem where the store does not answer. */
  find(name: string): Promise<readonly string[]>;
  /** Whether there is an asset at a path. Throws HttpProblem where the store does not answer. */
  has(path: string): Promise<boolean>;
}

const found = z.object({ paths: z.array(z.string().max(1000)).max(1000) });
const checked = z.object({ exists: z.boolean() });
const patience = 4000;

/**
 * A store behind HTTP: `GET /find?name=…` gives `{ "paths": […] }`, `GET /exists?path=…` gives `{ "exists": true }`.
 */
export function httpAssetStore(address: string): AssetStore {
  const ask = async <T>(what: string, key: string, value: string, answer: z.ZodType<T>): Promise<T> => {
    const url = new URL(what, address.endsWith('/') ? address : `${address}/`);
    url.searchParams.set(key, value);
    try {
      const response = await fetch(url, { signal: AbortSignal.timeout(patience) });
      if (!response.ok) throw new Error(`it answered ${response.status}`);
      return answer.parse(await response.json());
    } catch (error) {
      throw new HttpProblem(
        502,
        'No answer',
        `The asset store does not answer as it should (${(error as Error).message.slice(0, 200)}); try again, or type the path.`,
      );
    }
  };
  return {
    find: async (name) => (await ask('find', 'name', name, found)).paths,
    has: async (path) => (await ask('exists', 'path', path, checked)).exists,
  };
}
