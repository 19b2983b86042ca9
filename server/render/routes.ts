import { renderApi } from '@basitax/api/services';
import { HttpProblem } from '../http/problem.ts';
import { bind, type Route } from '../http/route.ts';
import type { RenderService } from './service.ts';

/** Pictures and times of nodes, as the editor has them now. */
export function renderRoutes(service: RenderService | undefined): Route[] {
  return bind(renderApi, {
    async render({ body }) {
      if (!service)
        throw new HttpProblem(
          503,
          'No render service',
          'No render service is set up here; name one in RENDER_SERVICE_URL.',
        );
      return { rendered: await service.render(body.jobs) };
    },
  });
}
