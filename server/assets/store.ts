import { z } from 'zod';
import { HttpProblem } from '../http/problem.ts';

/** Where the team keeps what its files point at. The one way to it: a service of the house, or the stand-in that ships with the demo. */
export interface AssetStore {
  /** The paths of all assets with a file name, sorted. Throws HttpProblem where the store does not answer. */
  find(name: string): Promise<readonly string[]>;
}

const answer = z.object({ paths: z.array(z.string().max(1000)).max(1000) });
const patience = 4000;

/** A store behind HTTP: `GET /find?name=…` gives `{ "paths": […] }`. */
export function httpAssetStore(address: string): AssetStore {
  return {
    async find(name) {
      const url = new URL('find', address.endsWith('/') ? address : `${address}/`);
      url.searchParams.set('name', name);
      try {
        const response = await fetch(url, { signal: AbortSignal.timeout(patience) });
        if (!response.ok) throw new Error(`it answered ${response.status}`);
        return answer.parse(await response.json()).paths;
      } catch (error) {
        throw new HttpProblem(502, 'No answer', `The asset store does not answer as it should (${(error as Error).message.slice(0, 200)}); try again, or type the path.`);
      }
    },
  };
}
