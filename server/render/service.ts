import { z } from 'zod';
import { HttpProblem } from '../http/problem.ts';

/** A node as a render service is told of it: what it is and what is set on it, and under which path it stands. */
export interface RenderJob {
  readonly path: string;
  readonly kind: string;
  readonly values: Readonly<Record<string, unknown>>;
}

/** A small picture of what a node gives, as a data address, and how long that took, in milliseconds. */
export interface Rendered {
  readonly path: string;
  readonly picture: string;
  readonly ms: number;
}

/**
 * What makes pictures of nodes and measures them. The one way to it: a service of the house, or the stand-in that ships
 * with the demo.
 */
export interface RenderService {
  /** In the order in which they were asked for. Throws HttpProblem where the service does not answer. */
  render(jobs: readonly RenderJob[]): Promise<readonly Rendered[]>;
}

const answer = z.object({
  rendered: z.array(z.object({ path: z.string(), picture: z.string().max(100_000), ms: z.number().min(0) })).max(1000),
});
const patience = 20_000;

/**
 * A service behind HTTP: `POST /render` with `{ "jobs": [{ path, kind, values }] }` gives `{ "rendered": [{ path,
 * picture, ms }] }`.
 */
export function httpRenderService(address: string): RenderService {
  return {
    async render(jobs) {
      const url = new URL('render', address.endsWith('/') ? address : `${address}/`);
      try {
        const response = await fetch(url, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ jobs }),
          signal: AbortSignal.timeout(patience),
        });
        if (!response.ok) throw new Error(`it answered ${response.status}`);
        return answer.parse(await response.json()).rendered;
      } catch (error) {
        throw new HttpProblem(
          502,
          'No answer',
          `The render service does not answer as it should (${(error as Error).message.slice(0, 200)}); try again later.`,
        );
      }
    },
  };
}
