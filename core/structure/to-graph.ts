import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, graphPath, indexOf } from '../document/doc.ts';
import { rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, namesIn } from '../document/names.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { Carrier } from '../wiring/across.ts';
import { Wiring } from '../wiring/wiring.ts';
import { renameNode } from './rename.ts';
import { find, refuse } from './sentences.ts';

/**
 * Moves nodes of one graph into another one. Wires among them stay; wires to others are carried on over the ports of
 * the nested graphs between, so that what is computed stays. Names that are taken there are numbered, and said. Throws
 * Refused.
 * O(document).
 */
export function moveToGraph(
  tx: Transaction,
  kinds: Kinds,
  nodes: readonly GraphNode[],
  target: Id,
  newId: (prefix: string) => string,
): Finding[] {
  const doc = tx.before;
  const set = new Set(nodes.map((node) => node.id));
  refuseUnmovable(doc, nodes, target);
  const found: Finding[] = [];
  const cut = [...new Set(nodes.flatMap((node) => indexOf(doc).wiresOf(node.id)))].filter(
    (wire) => set.has(wire.from.node) !== set.has(wire.to.node),
  );
  const wiring = new Wiring(tx, kinds, newId);
  for (const wire of cut) wiring.remove(wire);
  const shift = shiftInto(doc, kinds, nodes, target);
  const taken = namesIn(doc, target);
  for (const node of nodes) {
    const name = freeName(node.name, taken);
    if (name !== node.name) {
      found.push(find('name-numbered', 'info', [node.id], 'renamed', { node: node.name, name }));
      renameNode(tx, doc, node, name);
    }
    tx.set('nodes', node.id, 'graph', target);
    tx.set('nodes', node.id, 'frame', undefined);
    tx.move(node.id, node.x + shift.x, node.y + shift.y);
  }
  for (const note of doc.notes.values())
    if (note.tiedTo !== undefined && set.has(note.tiedTo)) tx.set('notes', note.id, 'graph', target);
  const idle = new Set<Id>(
    cut.flatMap(({ from }) => (doc.nodes.get(from.node)?.inner === undefined ? from.node : from.port)),
  );
  // what went out through the graph's own port goes straight to those who listened there
  const wanted = cut.flatMap((wire) =>
    goals(doc, wire.to, set.has(wire.from.node), target, idle).map((goal) => ({
      from: wire.from,
      to: goal.ref,
      off: wire.off === true || goal.off,
      by: goal.by,
    })),
  );
  for (const { by } of wanted) if (by && tx.get('wires', by)) wiring.remove(must(tx.get('wires', by)));
  const carrier = new Carrier(wiring, newId);
  // what stands behind a port that is itself being wired anew waits until that is done; what is left then is open
  for (let waiting = wanted; waiting.length > 0; ) {
    const next = waiting.filter(({ from, to, off }) => !carrier.carry(from, to, off));
    if (next.length === waiting.length) break;
    waiting = next;
  }
  carrier.tidy(idle);
  return found;
}

function refuseUnmovable(doc: Doc, nodes: readonly GraphNode[], target: Id): void {
  if (!doc.graphs.has(target)) throw refuse('no-graph', { target });
  const inside = new Set(graphPath(doc, target));
  for (const node of nodes) {
    if (isBoundary(node.kind)) throw refuse('port-cannot-move', { node: caption(node) });
    if (node.inner !== undefined && inside.has(node.inner)) throw refuse('into-itself', { node: caption(node) });
    if (node.graph === target) throw refuse('in-graph-already', { node: caption(node) });
  }
}

/**
 * The inputs that a wire is to reach: its own, or, where that is a port of a graph which its source has left or
 * entered, those beyond it, with the wire that gives way there.
 */
function goals(
  doc: Doc,
  to: PortRef,
  sourceMoved: boolean,
  target: Id,
  idle: Set<Id>,
): { ref: PortRef; off: boolean; by?: Id }[] {
  const own = [{ ref: to, off: false }];
  const node = must(doc.nodes.get(to.node));
  if (!sourceMoved || node.bypassed) return own;
  const path = graphPath(doc, target);
  const host = indexOf(doc).hostOf(node.graph);
  const isLeft = node.kind === builtin.output && host !== undefined && !host.bypassed && !path.includes(node.graph);
  const isEntered = node.inner !== undefined && path.includes(node.inner);
  if (!isLeft && !isEntered) return own;
  idle.add(isLeft ? node.id : to.port);
  const beyond = isLeft ? indexOf(doc).wiresOutOf(host.id, node.id) : indexOf(doc).wiresOutOf(to.port, 'out');
  return beyond.flatMap((wire) =>
    goals(doc, wire.to, true, target, idle).map((goal) => ({
      ref: goal.ref,
      off: goal.off || wire.off === true,
      by: goal.by ?? wire.id,
    })),
  );
}

/** The nodes keep their places among one another and go beside what is there. */
function shiftInto(doc: Doc, kinds: Kinds, nodes: readonly GraphNode[], target: Id): { x: number; y: number } {
  const own = must(unite(nodes.map((node) => rectOf(doc, kinds, node))));
  const there = unite(
    indexOf(doc)
      .nodesIn(target)
      .map((node) => rectOf(doc, kinds, node)),
  );
  return there
    ? { x: Math.round(there.x - own.x), y: Math.round(there.y + there.height + 80 - own.y) }
    : { x: 0, y: 0 };
}
