import { type Doc, indexOf } from '../document/doc.ts';
import { rectOf, unite } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { withChanges } from '../document/table.ts';
import { type ArrangeOptions, arrangeByWiring, type Place } from './by-wiring.ts';
import { giveRoom } from './give-room.ts';

/**
 * A selection arranged where it is: what each frame holds of it is laid out by itself inside that frame, in about its
 * present shape, with its corner where it was; frames stay. What is in the way outside moves just as far as it takes.
 * Gives the places of all that move.
 * Cost: that of the layered layout of each group.
 */
export function arrangeInPlace(
  doc: Doc,
  kinds: Kinds,
  graph: Id,
  nodes: readonly GraphNode[],
  options: ArrangeOptions,
): Map<Id, Place> {
  const groups = new Map<Id | undefined, GraphNode[]>();
  for (const node of nodes) {
    const group = groups.get(node.frame);
    if (group) group.push(node);
    else groups.set(node.frame, [node]);
  }
  const places = new Map<Id, Place>();
  for (const [frame, group] of groups) {
    const now = unite(group.map((node) => rectOf(doc, kinds, node)))!;
    const proportion = Math.min(4, Math.max(0.4, now.width / Math.max(1, now.height)));
    const laid = arrangeByWiring(frame === undefined ? doc : alone(doc, group), kinds, graph, group, {
      ...options,
      proportion,
    });
    for (const [id, place] of laid) places.set(id, place);
  }
  const after = moved(doc, places);
  for (const [id, place] of giveRoom(doc, after, kinds, graph)) places.set(id, place);
  return places;
}

/**
 * Only a group and its wires, without the frame around: nothing else is in its way, and no frame is moved or drawn out.
 */
function alone(doc: Doc, group: readonly GraphNode[]): Doc {
  const ids = new Set(group.map((node) => node.id));
  return {
    ...doc,
    frames: new Map(),
    nodes: new Map(group.map(({ frame: _, ...node }) => [node.id, node])),
    wires: new Map([...doc.wires].filter(([, wire]) => ids.has(wire.from.node) && ids.has(wire.to.node))),
  };
}

/** The document with nodes at other places. */
export const moved = (doc: Doc, places: ReadonlyMap<Id, Place>): Doc => ({
  ...doc,
  nodes: withChanges(
    doc.nodes,
    [...places].map(([id, place]) => [id, { ...doc.nodes.get(id)!, ...place }]),
  ),
});

/**
 * Nodes that are wired to chosen ones alone, directly or through one another: they would be left behind. O(wires of
 * those found).
 */
export function hangersOf(doc: Doc, graph: Id, nodes: readonly GraphNode[]): GraphNode[] {
  const index = indexOf(doc);
  const taken = new Set(nodes.map((node) => node.id));
  const found: GraphNode[] = [];
  const ends = (id: Id): Id[] =>
    index
      .wiresOf(id)
      .flatMap((wire) => [wire.from.node, wire.to.node])
      .filter((other) => other !== id);
  for (let again = true; again; ) {
    again = false;
    for (const id of new Set([...taken].flatMap(ends))) {
      const node = doc.nodes.get(id);
      if (taken.has(id) || node?.graph !== graph || node.pinned || !ends(id).every((other) => taken.has(other)))
        continue;
      taken.add(id);
      found.push(node);
      again = true;
    }
  }
  return found.sort((a, b) => compareIds(a.id, b.id));
}
