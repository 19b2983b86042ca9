import dagre from '@dagrejs/dagre';
import ELK, { type ElkExtendedEdge } from 'elkjs/lib/elk.bundled.js';
import { type LayeredGraph, normalSpacing } from '../arrange/layered/graph.ts';

/** A wire as an engine draws it: x, y, x, y … */
export type Drawn = readonly number[];

/** Top-left corners of the nodes by node number, and the wires by edge number. */
export interface Laid {
  readonly x: ArrayLike<number>;
  readonly y: ArrayLike<number>;
  readonly wires: readonly Drawn[];
}

/** elkjs, layered, ports fixed where they are, orthogonal wires. */
export async function layElk(graph: LayeredGraph): Promise<Laid> {
  const ports: { id: string; x: number; y: number; layoutOptions: Record<string, string> }[][] = Array.from(
    { length: graph.count },
    () => [],
  );
  const seen = new Set<number>();
  for (let e = 0; e < graph.from.length; e++) {
    const u = graph.from[e]!;
    const v = graph.to[e]!;
    ports[v]!.push({ id: `i${e}`, x: 0, y: graph.toOffset[e]!, layoutOptions: { 'elk.port.side': 'WEST' } });
    if (seen.has(graph.net[e]!)) continue;
    seen.add(graph.net[e]!);
    ports[u]!.push({
      id: `o${graph.net[e]}`,
      x: graph.width[u]!,
      y: graph.fromOffset[e]!,
      layoutOptions: { 'elk.port.side': 'EAST' },
    });
  }
  const laid = await new ELK().layout({
    id: 'root',
    layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'RIGHT', 'elk.edgeRouting': 'ORTHOGONAL' },
    children: Array.from({ length: graph.count }, (_, v) => ({
      id: String(v),
      width: graph.width[v]!,
      height: graph.height[v]!,
      layoutOptions: { 'elk.portConstraints': 'FIXED_POS' },
      ports: ports[v]!,
    })),
    edges: Array.from(graph.from, (_, e) => ({ id: `e${e}`, sources: [`o${graph.net[e]}`], targets: [`i${e}`] })),
  });
  const wires = laid.edges!.map((edge: ElkExtendedEdge): Drawn => {
    const section = edge.sections?.[0];
    if (!section) return [];
    return [section.startPoint, ...(section.bendPoints ?? []), section.endPoint].flatMap((p) => [p.x, p.y]);
  });
  return { x: laid.children!.map((node) => node.x!), y: laid.children!.map((node) => node.y!), wires };
}

/**
 * dagre with network simplex; it knows no ports, so its wires are drawn from the port to its path's inner points to the
 * port.
 */
export async function layDagre(graph: LayeredGraph): Promise<Laid> {
  const g = new dagre.graphlib.Graph({ multigraph: true });
  g.setGraph({ rankdir: 'LR', nodesep: normalSpacing.across, ranksep: normalSpacing.along, ranker: 'network-simplex' });
  g.setDefaultEdgeLabel(() => ({}));
  for (let v = 0; v < graph.count; v++) g.setNode(String(v), { width: graph.width[v]!, height: graph.height[v]! });
  graph.from.forEach((u, e) => g.setEdge(String(u), String(graph.to[e]), {}, String(e)));
  dagre.layout(g);
  const at = Array.from({ length: graph.count }, (_, v) => g.node(String(v)));
  const x = at.map((node) => node.x! - node.width! / 2);
  const y = at.map((node) => node.y! - node.height! / 2);
  const wires = Array.from(graph.from, (u, e): Drawn => {
    const v = graph.to[e]!;
    const points: { x: number; y: number }[] = g.edge({ v: String(u), w: String(v), name: String(e) }).points ?? [];
    const inner = points.slice(1, -1).flatMap((p) => [p.x, p.y]);
    return [x[u]! + graph.width[u]!, y[u]! + graph.fromOffset[e]!, ...inner, x[v]!, y[v]! + graph.toOffset[e]!];
  });
  return { x, y, wires };
}
