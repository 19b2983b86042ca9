import dagre from '@dagrejs/dagre';
import ELK from 'elkjs/lib/elk.bundled.js';
import { type LayeredGraph, normalSpacing } from '../arrange/layered/graph.ts';
import { layoutLayered } from '../arrange/layered/layered.ts';

/** Top-left corners of the nodes, by node number. */
export interface Laid {
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
}

/** Ours and the reference libraries behind one call, for tests and benchmarks: elkjs layered with fixed ports, dagre, which knows no ports. */
export const engines: Record<'ours' | 'elkjs' | 'dagre', (graph: LayeredGraph) => Promise<Laid>> = {
  ours: async (graph) => layoutLayered(graph, { spacing: normalSpacing, keep: 0 }),
  elkjs: async (graph) => {
    const edgesAt = (ends: Int32Array, v: number): number[] => [...ends.keys()].filter((e) => ends[e] === v);
    const laid = await new ELK().layout({
      id: 'root',
      layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'RIGHT' },
      children: Array.from({ length: graph.count }, (_, v) => ({
        id: String(v),
        width: graph.width[v]!,
        height: graph.height[v]!,
        layoutOptions: { 'elk.portConstraints': 'FIXED_POS' },
        ports: [
          ...edgesAt(graph.from, v).map((e) => ({ id: `o${e}`, x: graph.width[v]!, y: graph.fromOffset[e]! })),
          ...edgesAt(graph.to, v).map((e) => ({ id: `i${e}`, x: 0, y: graph.toOffset[e]! })),
        ],
      })),
      edges: Array.from(graph.from, (_, e) => ({ id: `e${e}`, sources: [`o${e}`], targets: [`i${e}`] })),
    });
    return { x: laid.children!.map((node) => node.x!), y: laid.children!.map((node) => node.y!) };
  },
  dagre: async (graph) => {
    const g = new dagre.graphlib.Graph({ multigraph: true });
    g.setGraph({ rankdir: 'LR', nodesep: normalSpacing.across, ranksep: normalSpacing.along });
    g.setDefaultEdgeLabel(() => ({}));
    for (let v = 0; v < graph.count; v++) g.setNode(String(v), { width: graph.width[v]!, height: graph.height[v]! });
    graph.from.forEach((u, e) => g.setEdge(String(u), String(graph.to[e]), {}, String(e)));
    dagre.layout(g);
    const at = Array.from({ length: graph.count }, (_, v) => g.node(String(v)));
    return { x: at.map((node) => node.x! - node.width! / 2), y: at.map((node) => node.y! - node.height! / 2) };
  },
};
