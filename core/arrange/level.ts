import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, isVertical, type Point, portPoint } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

/**
 * Moves nodes across the flow so that their wires run straight from port to port, from the parent on: first those wired
 * to it, then those wired to them. Where several wires join two nodes the first one counts. Nodes that no wire reaches
 * are loose. O(nodes
 * + wires).
 */
export function level(
  doc: Doc,
  kinds: Kinds,
  nodes: readonly GraphNode[],
  parent: GraphNode,
): { places: Map<Id, Point>; loose: GraphNode[] } {
  const index = indexOf(doc);
  const axis = isVertical(flowOf(doc, parent.graph)) ? 'x' : 'y';
  const chosen = new Set(nodes.map((node) => node.id));
  const shift = new Map<Id, number>([[parent.id, 0]]);
  const todo: Id[] = [parent.id];
  for (let k = 0; k < todo.length; k++) {
    const id = todo[k]!;
    for (const wire of index.wiresOf(id)) {
      const other = wire.from.node === id ? wire.to.node : wire.from.node;
      if (!chosen.has(other) || shift.has(other)) continue;
      const start = portPoint(doc, kinds, doc.nodes.get(wire.from.node)!, wire.from.port, 'out');
      const end = portPoint(doc, kinds, doc.nodes.get(wire.to.node)!, wire.to.port, 'in');
      if (!start || !end) continue;
      const [own, theirs] = wire.from.node === id ? [start, end] : [end, start];
      shift.set(other, own[axis] + shift.get(id)! - theirs[axis]);
      todo.push(other);
    }
  }
  shift.delete(parent.id);
  const places = new Map<Id, Point>();
  for (const [id, by] of shift) {
    const node = doc.nodes.get(id)!;
    places.set(id, { x: node.x, y: node.y, [axis]: node[axis] + by });
  }
  return { places, loose: nodes.filter((node) => node.id !== parent.id && !shift.has(node.id)) };
}
