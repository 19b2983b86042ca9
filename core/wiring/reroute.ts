import { Axes } from '../document/axes.ts';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, type Point, portPoint } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import { freeName, type Taken } from '../document/names.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Wiring } from './wiring.ts';

/** Width and height of a reroute point that nobody has resized, in pixels. */
export const rerouteSize = 16;

/**
 * What stands at a reroute point: its own label, else that of the nearest labelled one upstream. O(reroute points
 * passed).
 */
export function rerouteLabel(doc: Doc, node: GraphNode): { text: string; isOwn: boolean } | undefined {
  const seen = new Set<Id>();
  for (let at: GraphNode | undefined = node; at?.kind === builtin.reroute && !seen.has(at.id); ) {
    if (at.label) return { text: at.label, isOwn: at === node };
    seen.add(at.id);
    const wire = indexOf(doc).wireInto(at.id, 'in');
    at = wire && doc.nodes.get(wire.from.node);
  }
  return undefined;
}

/**
 * Makes a reroute point around a place, a member of the frame that both ends are in, if there is one. Returns its id.
 */
export function addReroute(wiring: Wiring, graph: Id, centre: Point, frame: Id | undefined, id: Id, taken: Taken): Id {
  const node: GraphNode = {
    id,
    graph,
    kind: builtin.reroute,
    name: freeName('Point', taken),
    x: Math.round(centre.x - rerouteSize / 2),
    y: Math.round(centre.y - rerouteSize / 2),
    ...(frame !== undefined && { frame }),
    ports: wiring.kinds.startPorts(builtin.reroute),
  };
  wiring.tx.add('nodes', node);
  return id;
}

/** Leads wires of one output through a reroute point: it takes from the output, and they start from it. */
export function leadThrough(wiring: Wiring, from: PortRef, wires: readonly Wire[], point: Id): void {
  wiring.carryAll(wires.map((wire) => ({ wire, from: { node: point, port: 'out' } })));
  wiring.connect(from, { node: point, port: 'in' });
}

/** The middle between the two ends of a wire, as drawn without regard to anything else. */
export function middleOf(wiring: Wiring, wire: Wire): Point {
  const { tx, kinds } = wiring;
  const end = (ref: PortRef, direction: 'in' | 'out'): Point => {
    const node = must(tx.get('nodes', ref.node));
    return portPoint(tx.before, kinds, node, ref.port, direction) ?? node;
  };
  const [a, b] = [end(wire.from, 'out'), end(wire.to, 'in')];
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
}

/** How far a reroute point stands before the output that it is put on, in pixels. */
const ahead = 36;

/** Where a reroute point for an output stands: straight along the flow. */
export function aheadOf(doc: Doc, wiring: Wiring, node: GraphNode, output: string): Point {
  const axes = Axes.of(flowOf(doc, node.graph));
  const at = axes.in(portPoint(doc, wiring.kinds, node, output, 'out') ?? node);
  return axes.out({ x: at.x + ahead, y: at.y });
}
