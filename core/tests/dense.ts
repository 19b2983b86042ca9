import fc from 'fast-check';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { docFromSeed, testCatalogue, testKinds } from './arbitrary.ts';

/**
 * A whole document from a seed with all ways by which data goes without a drawn wire: beacons and taps, standing feeds
 * in frames and in a nested graph, expressions, bypassed nodes and a bypassed nested graph, wires that are switched off.
 */
export function denseDoc(seed: number, size: number): Doc {
  const doc = docFromSeed(seed, size);
  const random = seededRandom(seed + 7);
  const int = (below: number): number => Math.floor(random() * below);
  const nodes = new Map(doc.nodes);
  const wires = new Map(doc.wires);
  const graphs = [...doc.graphs.keys()];
  const frames = [...doc.frames.keys()];
  const place = (): Pick<GraphNode, 'graph' | 'frame' | 'x' | 'y'> => {
    const graph = graphs[int(graphs.length)] ?? 'root';
    const frame = graph === 'root' && frames.length > 0 && random() < 0.5 ? frames[int(frames.length)] : undefined;
    return { graph, x: int(2000), y: int(2000), ...(frame && { frame }) };
  };
  const giving = (graph: string, type: string): GraphNode[] =>
    [...nodes.values()].filter(
      (node) => node.graph === graph && node.ports.some((port) => port.direction === 'out' && port.type === type),
    );
  const feedFrom = (id: string, graph: string, type: string): void => {
    const all = giving(graph, type);
    const from = all[int(all.length)];
    if (!from || random() < 0.1) return;
    const port = from.ports.find((one) => one.direction === 'out' && one.type === type)!;
    wires.set(`w-${id}-in`, {
      id: `w-${id}-in`,
      from: { node: from.id, port: port.id },
      to: { node: id, port: 'in' },
    });
  };
  for (let i = 0; i < 3; i++) {
    const kind = ['tint', 'shade', 'round'][int(3)]!;
    nodes.set(`k${i}`, {
      id: `k${i}`,
      kind,
      name: `Kelp_${i}`,
      ...place(),
      ports: testKinds.startPorts(kind),
      ...(random() < 0.15 && { bypassed: true as const }),
    });
  }
  for (let i = 0; i < 1 + int(3); i++) {
    const type = random() < 0.7 ? 'num' : 'int';
    const id = `feed${i}`;
    nodes.set(id, {
      id,
      kind: builtin.feed,
      name: `Feed_${i}`,
      ...place(),
      params: { types: type },
      ports: testKinds.startPorts(builtin.feed),
      ...(random() < 0.1 && { bypassed: true as const }),
    });
    feedFrom(id, nodes.get(id)!.graph, type);
  }
  for (let i = 0; i < int(3); i++) {
    const id = `beacon${i}`;
    const name = `Light_${int(2)}`;
    const graph = graphs[int(graphs.length)]!;
    const taken = [...nodes.values()].some((node) => node.graph === graph && node.name === name);
    nodes.set(id, {
      id,
      kind: builtin.beacon,
      name: taken ? `${name}_${i}` : name,
      ...place(),
      graph,
      frame: undefined,
      ports: testKinds.startPorts(builtin.beacon),
    });
    feedFrom(id, graph, 'num');
    const tap = `tap${i}`;
    const where = place();
    nodes.set(tap, {
      id: tap,
      kind: builtin.tap,
      name: `Tap_${i}`,
      ...where,
      beacon: { id: random() < 0.7 ? id : 'elsewhere', name: nodes.get(id)!.name },
      ports: testKinds.startPorts(builtin.tap),
    });
    const takers = [...nodes.values()].filter((node) => node.graph === where.graph && node.kind === 'add');
    const to = takers[int(takers.length)];
    if (to)
      wires.set(`w-${to.id}-b`, {
        id: `w-${to.id}-b`,
        from: { node: tap, port: 'out' },
        to: { node: to.id, port: 'b' },
      });
  }
  const sources = [...nodes.values()].filter((node) => node.kind === 'src');
  for (const node of sources)
    if (random() < 0.25) {
      const valued = [...nodes.values()].filter(({ kind }) => testCatalogue.kinds.some((one) => one.id === kind));
      const read = valued[int(valued.length)]!.id;
      nodes.set(node.id, { ...node, params: { value: { expression: ['1 + ', { node: read, parameter: 'value' }] } } });
    }
  const host = nodes.get('host');
  if (host && random() < 0.3) nodes.set('host', { ...host, bypassed: true });
  // a frame stays undefined rather than set so: records are compared as they are stored
  for (const node of nodes.values())
    if ('frame' in node && node.frame === undefined) {
      const { frame: _, ...rest } = node;
      nodes.set(node.id, rest);
    }
  return { ...doc, nodes, wires: wires as Map<string, Wire> };
}

export const denseArbitrary = (most = 16): fc.Arbitrary<Doc> =>
  fc
    .tuple(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 2, max: most }))
    .map(([seed, size]) => denseDoc(seed, size));
