import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import { normalSpacing } from '@basitax/core/arrange/layered/graph';
import { routeTaskOf } from '@basitax/core/arrange/layered/layered';
import { layOut } from '@basitax/core/arrange/layered/layout';
import type { Quality } from '@basitax/core/arrange/layered/order';
import { cornersOf, routeAll } from '@basitax/core/route/router';
import { type Laid, layDagre, layElk } from '@basitax/core/tests/engines';
import { layDot } from './dot.ts';

export type EngineName = 'quick' | 'best' | 'elkjs' | 'dagre' | 'dot';

/** Our router and ports over anybody's positions. */
export function withOurWires(graph: LayeredGraph, laid: Pick<Laid, 'x' | 'y'>): Laid {
  const task = routeTaskOf(graph, laid.x, laid.y);
  return { x: laid.x, y: laid.y, wires: routeAll(task).map((path, e) => (path ? cornersOf(path, task.ends[e]!) : [])) };
}

const ours =
  (quality: Quality) =>
  async (graph: LayeredGraph): Promise<Laid> => {
    const { frames: _, ...plain } = graph;
    return { ...layOut(plain, { spacing: normalSpacing, keep: 0, quality }), wires: [] };
  };

/**
 * Everything that is compared, behind one call. Ours gives positions; its wires are drawn by our router, outside the
 * time that is taken.
 */
export const engines: Record<EngineName, (graph: LayeredGraph) => Promise<Laid>> = {
  quick: ours('quick'),
  best: ours('best'),
  elkjs: layElk,
  dagre: layDagre,
  dot: (graph) => layDot(graph),
};
