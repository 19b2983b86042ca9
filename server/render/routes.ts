import { z } from 'zod';
import { HttpProblem } from '../http/problem.ts';
import { type Route, route } from '../http/route.ts';
import type { RenderService } from './service.ts';

const job = z.object({
  path: z.string().min(1).max(2000),
  kind: z.string().min(1).max(200),
  values: z.record(z.string(), z.unknown()),
});

/** Pictures and times of nodes, as the editor has them now. */
export function renderRoutes(service: RenderService | undefined): Route[] {
  return [
    route({
      method: 'post',
      path: '/api/render',
      quiet: true,
      role: 'editor',
      body: z.object({ jobs: z.array(job).min(1).max(100) }),
      async handle({ body }) {
        if (!service)
          throw new HttpProblem(
            503,
            'No render service',
            'No render service is set up here; name one in RENDER_SERVICE_URL.',
          );
        return { rendered: await service.render(body.jobs) };
      },
    }),
  ];
}
