import ELK, { type ElkExtendedEdge, type ElkNode } from 'elkjs/lib/elk.bundled.js';
import type { LayeredGraph } from '../arrange/layered/graph.ts';
import type { Line } from '../inspect/lines.ts';

const nodeName = (v: number): string => `n${v}`;

/** elkjs with frames as compound nodes, layered, ports fixed where they are: its own right-angled wires as lines. */
export async function elkWiresWithFrames(graph: LayeredGraph): Promise<Line[]> {
  const seen = new Set<number>();
  const nodes = Array.from({ length: graph.count }, (_, v): ElkNode & { ports: NonNullable<ElkNode['ports']> } => ({
    id: nodeName(v),
    width: graph.width[v]!,
    height: graph.height[v]!,
    layoutOptions: { 'elk.portConstraints': 'FIXED_POS' },
    ports: [],
  }));
  for (let e = 0; e < graph.from.length; e++) {
    const [u, v] = [graph.from[e]!, graph.to[e]!];
    nodes[v]!.ports.push({ id: `i${e}`, x: 0, y: graph.toOffset[e]!, layoutOptions: { 'elk.port.side': 'WEST' } });
    if (seen.has(graph.net[e]!)) continue;
    seen.add(graph.net[e]!);
    nodes[u]!.ports.push({
      id: `o${graph.net[e]}`,
      x: graph.width[u]!,
      y: graph.fromOffset[e]!,
      layoutOptions: { 'elk.port.side': 'EAST' },
    });
  }
  const pads = graph.frames;
  const boxes = Array.from(pads?.parent ?? [], (_, f): ElkNode & { children: ElkNode[] } => ({
    id: `f${f}`,
    layoutOptions: {
      'elk.padding': `[top=${pads!.above[f]},left=${pads!.before[f]},bottom=${pads!.below[f]},right=${pads!.after[f]}]`,
    },
    children: [],
  }));
  const whole: ElkNode[] = [];
  const into = (frame: number): ElkNode[] => (frame < 0 ? whole : boxes[frame]!.children);
  nodes.forEach((node, v) => {
    into(pads?.of[v] ?? -1).push(node);
  });
  boxes.forEach((box, f) => {
    into(pads!.parent[f]!).push(box);
  });
  const laid = await new ELK().layout({
    id: 'root',
    layoutOptions: {
      'elk.algorithm': 'layered',
      'elk.direction': 'RIGHT',
      'elk.edgeRouting': 'ORTHOGONAL',
      'elk.hierarchyHandling': 'INCLUDE_CHILDREN',
      'elk.json.edgeCoords': 'ROOT',
    },
    children: whole,
    edges: Array.from(graph.from, (_, e) => ({ id: `e${e}`, sources: [`o${graph.net[e]}`], targets: [`i${e}`] })),
  });
  return laid.edges!.map((edge: ElkExtendedEdge, e): Line => {
    const section = edge.sections?.[0];
    const route = section ? [section.startPoint, ...(section.bendPoints ?? []), section.endPoint] : [];
    return { net: String(graph.net[e]), ends: [nodeName(graph.from[e]!), nodeName(graph.to[e]!)], route };
  });
}
