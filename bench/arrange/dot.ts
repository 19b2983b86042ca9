import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import type { Drawn, Laid } from '@basitax/core/tests/engines';
import { instance } from '@viz-js/viz';

const inch = 72;

/**
 * Graphviz dot as WebAssembly: nodes are tables of fixed size whose cells are the ports, wires polylines from cell to
 * cell.
 * Lengths are points, 72 to the inch, taken as pixels. `nslimit` bounds its network simplex, as its handbook says.
 */
export async function layDot(graph: LayeredGraph, nslimit?: number): Promise<Laid> {
  const viz = await instance();
  const inRows = new Map<number, number[]>();
  const outRows = new Map<number, { net: number; y: number }[]>();
  for (let e = 0; e < graph.from.length; e++) {
    push(inRows, graph.to[e]!, e);
    const outs = outRows.get(graph.from[e]!) ?? [];
    if (!outs.some((one) => one.net === graph.net[e]))
      push(outRows, graph.from[e]!, { net: graph.net[e]!, y: graph.fromOffset[e]! });
  }
  const lines: string[] = [
    'digraph G {',
    `rankdir=LR; splines=polyline; nodesep=${26 / inch}; ranksep=${72 / inch};`,
    nslimit === undefined ? '' : `nslimit=${nslimit}; nslimit1=${nslimit};`,
  ];
  lines.push('node [shape=plain, margin=0, label=""];');
  for (let v = 0; v < graph.count; v++) {
    const ins = (inRows.get(v) ?? []).map((e) => ({ id: `i${e}`, y: graph.toOffset[e]! }));
    const outs = (outRows.get(v) ?? []).map((one) => ({ id: `o${one.net}`, y: one.y }));
    const half = Math.floor(graph.width[v]! / 2);
    const table = (ports: { id: string; y: number }[]): string => {
      ports.sort((a, b) => a.y - b.y);
      let top = 0;
      const rows = ports.map((port, i) => {
        const next = ports[i + 1];
        // a cell is twice as high as its port lies below its top, so that its middle is the port
        const least = Math.max(1, Math.round(2 * (port.y - top)));
        const height = next ? Math.min(least, Math.max(1, Math.round(port.y + (next.y - port.y) / 2 - top))) : least;
        const row =
          (i === 0 && height > 18 ? cell(height / 2 - 9 > 0 ? height - 18 : 0, '', half) : '') +
          cell(i === 0 && height > 18 ? 18 : height, port.id, half);
        top += i === 0 && height > 18 ? height : height;
        return row;
      });
      return `<TABLE BORDER="0" CELLBORDER="0" CELLSPACING="0" CELLPADDING="0">${rows.join('')}${cell(Math.max(0, graph.height[v]! - top), '', half)}</TABLE>`;
    };
    lines.push(
      `n${v} [label=<<TABLE BORDER="0" CELLBORDER="0" CELLSPACING="0" CELLPADDING="0" FIXEDSIZE="TRUE" WIDTH="${graph.width[v]}" HEIGHT="${graph.height[v]}"><TR><TD>${table(ins)}</TD><TD>${table(outs)}</TD></TR></TABLE>>];`,
    );
  }
  for (let e = 0; e < graph.from.length; e++)
    lines.push(`n${graph.from[e]}:o${graph.net[e]}:e -> n${graph.to[e]}:i${e}:w [id="e${e}"];`);
  lines.push('}');
  const answer = viz.render(lines.join('\n'), { format: 'json', engine: 'dot' });
  if (answer.status !== 'success') throw new Error(answer.errors.map((one) => one.message).join(' '));
  const drawn = JSON.parse(answer.output) as {
    bb: string;
    objects: { name: string; pos: string; width: string; height: string }[];
    edges?: { id: string; pos: string }[];
  };
  const top = Number(drawn.bb.split(',')[3]);
  const x = new Float64Array(graph.count);
  const y = new Float64Array(graph.count);
  for (const object of drawn.objects) {
    const v = Number(object.name.slice(1));
    const [cx, cy] = object.pos.split(',').map(Number) as [number, number];
    x[v] = cx - graph.width[v]! / 2;
    y[v] = top - cy - graph.height[v]! / 2;
  }
  const wires: Drawn[] = Array.from(graph.from, () => []);
  for (const edge of drawn.edges ?? []) {
    const e = Number(edge.id.slice(1));
    const [u, v] = [graph.from[e]!, graph.to[e]!];
    // "e,x,y" is where the arrow ends; the rest are control points, every third one lies on the line
    const parts = edge.pos.split(' ').filter((part) => !part.startsWith('e,') && !part.startsWith('s,'));
    const points = parts.filter((_, i) => i % 3 === 0).map((part) => part.split(',').map(Number) as [number, number]);
    const inner = points.slice(1, -1).flatMap(([px, py]) => [px, top - py]);
    wires[e] = [x[u]! + graph.width[u]!, y[u]! + graph.fromOffset[e]!, ...inner, x[v]!, y[v]! + graph.toOffset[e]!];
  }
  return { x, y, wires };
}

const cell = (height: number, port: string, width: number): string =>
  height <= 0
    ? ''
    : `<TR><TD FIXEDSIZE="TRUE" WIDTH="${width}" HEIGHT="${Math.round(height)}"${port ? ` PORT="${port}"` : ''}></TD></TR>`;

function push<V>(map: Map<number, V[]>, key: number, value: V): void {
  const list = map.get(key);
  if (list) list.push(value);
  else map.set(key, [value]);
}
