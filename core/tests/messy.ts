import { type Doc, emptyDoc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { GraphNode, Port, Wire } from '../document/schema.ts';
import { fileLike } from './graphs.ts';

/**
 * A file as a team has it after a deadline: the wiring of `fileLike`, in columns along the flow that nobody has tidied.
 * Kinds are unknown, so that any catalogue takes it.
 */
export function messyDoc(seed: number, count: number): Doc {
  const { from, to } = fileLike(seed, count);
  const random = seededRandom(seed * 7919 + 1);
  const rows = Math.max(4, Math.round(Math.sqrt(count) * 0.9));
  const inputs: Port[][] = Array.from({ length: count }, () => []);
  const wires = new Map<string, Wire>();
  from.forEach((source, i) => {
    const ports = inputs[to[i]!]!;
    const id = `in${ports.length + 1}`;
    ports.push({ id, name: id, type: 'any', direction: 'in' });
    wires.set(`w${i}`, { id: `w${i}`, from: { node: `n${source}`, port: 'out' }, to: { node: `n${to[i]}`, port: id } });
  });
  const nodes = new Map<string, GraphNode>();
  inputs.forEach((ports, i) => {
    const [column, row] = [Math.floor(i / rows), (i * 7) % rows];
    nodes.set(`n${i}`, {
      id: `n${i}`,
      graph: 'root',
      kind: 'generated.node',
      name: `Node_${i}`,
      x: Math.round(column * 230 + (random() - 0.5) * 90),
      y: Math.round(row * 150 + (random() - 0.5) * 80),
      ports: [...ports, { id: 'out', name: 'out', type: 'any', direction: 'out' }],
    });
  });
  return { ...emptyDoc(`messy${seed}`, `Generated ${seed}`, { id: 'test', version: 1 }), nodes, wires };
}
