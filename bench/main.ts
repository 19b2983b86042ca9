// npm run bench [-- arrange] : ours beside reference libraries on the same graphs in one run; ratios, since machines differ.
import { mkdirSync, writeFileSync } from 'node:fs';
import { normalSpacing } from '@basitax/core/arrange/layered/graph';
import { layoutLayered } from '@basitax/core/arrange/layered/layered';
import { randomDag, straightCrossings, withSizes } from '@basitax/core/testing/graphs';
import dagre from '@dagrejs/dagre';
import ELK from 'elkjs/lib/elk.bundled.js';

type Sized = ReturnType<typeof withSizes>;
type Laid = { x: ArrayLike<number>; y: ArrayLike<number> };

interface Row {
  readonly nodes: number;
  readonly wires: number;
  readonly engine: string;
  readonly ms: number;
  readonly crossings: number;
  readonly timeRatio: number;
  readonly crossingRatio: number;
}

const engines: Record<string, (graph: Sized) => Promise<Laid>> = {
  ours: async (graph) => layoutLayered(graph, { spacing: normalSpacing, keep: 0 }),
  elkjs: async (graph) => {
    const ports = (v: number) => [
      ...[...graph.from.keys()].filter((e) => graph.from[e] === v).map((e) => ({ id: `o${e}`, x: graph.width[v]!, y: graph.fromOffset[e]! })),
      ...[...graph.from.keys()].filter((e) => graph.to[e] === v).map((e) => ({ id: `i${e}`, x: 0, y: graph.toOffset[e]! })),
    ];
    const laid = await new ELK().layout({
      id: 'root',
      layoutOptions: { 'elk.algorithm': 'layered', 'elk.direction': 'RIGHT' },
      children: Array.from({ length: graph.count }, (_, v) => ({
        id: String(v),
        width: graph.width[v]!,
        height: graph.height[v]!,
        layoutOptions: { 'elk.portConstraints': 'FIXED_POS' },
        ports: ports(v),
      })),
      edges: Array.from(graph.from, (_, e) => ({ id: `e${e}`, sources: [`o${e}`], targets: [`i${e}`] })),
    });
    return { x: laid.children!.map((node) => node.x!), y: laid.children!.map((node) => node.y!) };
  },
  dagre: async (graph) => {
    const g = new dagre.graphlib.Graph({ multigraph: true });
    g.setGraph({ rankdir: 'LR', nodesep: 26, ranksep: 72 });
    g.setDefaultEdgeLabel(() => ({}));
    for (let v = 0; v < graph.count; v++) g.setNode(String(v), { width: graph.width[v]!, height: graph.height[v]! });
    graph.from.forEach((u, e) => g.setEdge(String(u), String(graph.to[e]), {}, String(e)));
    dagre.layout(g);
    const at = Array.from({ length: graph.count }, (_, v) => g.node(String(v)));
    return { x: at.map((node) => node.x! - node.width! / 2), y: at.map((node) => node.y! - node.height! / 2) };
  },
};

async function arrange(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const nodes of [50, 200, 500]) {
    const graph = withSizes(randomDag(nodes, nodes, nodes * 1.5));
    const measured: { engine: string; ms: number; crossings: number }[] = [];
    for (const [engine, layout] of Object.entries(engines)) {
      const started = process.cpuUsage();
      const laid = await layout(graph);
      const used = process.cpuUsage(started);
      measured.push({ engine, ms: Math.round((used.user + used.system) / 1000), crossings: straightCrossings(graph, laid.x, laid.y) });
    }
    const ours = measured[0]!;
    for (const one of measured)
      rows.push({ nodes, wires: graph.from.length, ...one, timeRatio: round(one.ms / Math.max(1, ours.ms)), crossingRatio: round((one.crossings + 1) / (ours.crossings + 1)) });
  }
  return rows;
}

const round = (value: number): number => Math.round(value * 100) / 100;

const benches: Record<string, () => Promise<Row[]>> = { arrange };
const wanted = process.argv[2] ?? 'arrange';
const bench = benches[wanted];
if (!bench) {
  console.error(`There is no benchmark “${wanted}”; there are ${Object.keys(benches).join(', ')}.`);
  process.exitCode = 1;
} else {
  const rows = await bench();
  console.table(rows);
  const folder = new URL('../.basitax/bench/', import.meta.url);
  mkdirSync(folder, { recursive: true });
  writeFileSync(new URL(`${wanted}.json`, folder), JSON.stringify(rows, null, 2));
}
