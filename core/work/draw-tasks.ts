import { z } from 'zod';
import { layOut, neighbourhood } from '../inspect/neighbourhood.ts';
import { must } from '../must.ts';
import { foldedView } from '../structure/fold.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

const id = z.string().min(1);
const ids = z.array(z.string());

/**
 * Routes packed for the way between threads: those of wire `ids[i]` are the corners `start[i]` … `start[i + 1]` of
 * `corners`, as x, y, x, y …
 */
export interface PackedRoutes {
  readonly ids: readonly string[];
  readonly start: Int32Array;
  readonly corners: Float64Array;
}

const routes = task(z.object({ graph: id }), (input, tools): PackedRoutes => {
  const found = [...tools.calm.routes(foldedView(need(tools.doc), tools.kinds), tools.kinds, input.graph)];
  const start = new Int32Array(found.length + 1);
  found.forEach(([, route], i) => {
    start[i + 1] = must(start[i]) + route.length;
  });
  const corners = new Float64Array(must(start[found.length]) * 2);
  found.forEach(([, route], i) => {
    route.forEach((p, k) => {
      corners[(must(start[i]) + k) * 2] = p.x;
      corners[(must(start[i]) + k) * 2 + 1] = p.y;
    });
  });
  return { ids: found.map(([wire]) => wire), start, corners };
});

/** The nodes of a neighbourhood and where they go when it lays itself out. */
const neighbours = task(
  z.object({ graph: id, from: ids, up: z.int(), down: z.int(), grown: ids, pruned: ids }),
  (area, tools): { ids: readonly string[]; places: ReadonlyMap<string, { x: number; y: number }> } => {
    const doc = need(tools.doc);
    const found = neighbourhood(doc, area);
    return { ids: found, places: layOut(doc, tools.kinds, area.graph, found) };
  },
);

/** What the canvas waits for: routes and neighbourhoods. */
export const drawTasks = { routes, neighbours } as const;
