import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import { type Finding, finding } from '../finding.ts';

/** Removes a nested graph with all that lies in it, however deep. */
export function removeGraph(tx: Transaction, doc: Doc, graph: Id): void {
  const inner: Id[] = [];
  const todo = [graph];
  for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
    inner.push(id);
    for (const node of indexOf(doc).nodesIn(id)) if (node.inner !== undefined) todo.push(node.inner);
  }
  for (const id of inner) for (const wire of indexOf(doc).wiresIn(id)) tx.remove('wires', wire.id);
  for (const id of inner) {
    for (const node of indexOf(doc).nodesIn(id)) tx.remove('nodes', node.id);
    for (const note of indexOf(doc).notesIn(id)) tx.remove('notes', note.id);
    for (const frame of indexOf(doc).framesIn(id)) tx.remove('frames', frame.id);
  }
  for (const id of inner) tx.remove('graphs', id);
}

/** What an output would give with all of the set bypassed: the output behind it that stays, or why it is open. */
export function sourceAround(doc: Doc, kinds: Kinds, set: ReadonlySet<Id>, from: PortRef): { source: PortRef; off: boolean } | undefined {
  let [at, off] = [from, false];
  const seen = new Set<string>();
  while (set.has(at.node)) {
    const key = `${at.node} ${at.port}`;
    if (seen.has(key)) return undefined;
    seen.add(key);
    const node = doc.nodes.get(at.node) as GraphNode;
    const pass = kinds.passInput(node, at.port);
    const wire = pass && indexOf(doc).wireInto(node.id, pass.id);
    if (!wire) return undefined;
    off ||= wire.off === true;
    at = wire.from;
  }
  return { source: at, off };
}

/**
 * Deletes nodes. Healing gives every consumer outside the source that it would have with all of them bypassed (docs/semantics.md);
 * without healing the wires go too. What stays open and what loses its other end is listed. O(wires touched + document).
 */
export function removeNodes(tx: Transaction, kinds: Kinds, nodes: readonly GraphNode[], heal: boolean): Finding[] {
  const doc = tx.doc;
  const index = indexOf(doc);
  const set = new Set(nodes.map((node) => node.id));
  const found: Finding[] = [];
  const lost = (wire: Wire, why: string): void => {
    const to = doc.nodes.get(wire.to.node) as GraphNode;
    found.push(
      finding(
        'input-opened',
        'warning',
        [to.id],
        `Input “${to.ports.find((port) => port.direction === 'in' && port.id === wire.to.port)?.name ?? wire.to.port}” of “${caption(to)}” is open now${why}.`,
      ),
    );
  };
  const healed: Wire[] = [];
  const gone = new Set<Id>();
  for (const node of nodes) {
    for (const wire of index.wiresOf(node.id)) {
      if (gone.has(wire.id)) continue;
      gone.add(wire.id);
      if (!set.has(wire.from.node) || set.has(wire.to.node)) continue;
      const around = heal ? sourceAround(doc, kinds, set, wire.from) : undefined;
      if (around) healed.push({ ...wire, from: around.source, ...(around.off && { off: true as const }) });
      else lost(wire, heal ? ', since nothing passes for it' : '');
    }
  }
  for (const id of gone) tx.remove('wires', id);
  for (const wire of healed) tx.add('wires', wire);
  for (const node of nodes) {
    if (node.kind === builtin.beacon) {
      const taps = [...doc.nodes.values()].filter((tap) => tap.kind === builtin.tap && tap.beacon?.id === node.id && !set.has(tap.id));
      for (const tap of taps) found.push(finding('lost-tap', 'warning', [tap.id], `Tap “${tap.name}” listened for “${node.name}” and hears nothing now.`));
    }
    for (const note of index.notesIn(node.graph)) if (note.tiedTo === node.id) tx.set('notes', note.id, 'tiedTo', undefined);
    if (node.inner !== undefined) removeGraph(tx, doc, node.inner);
    if (isBoundary(node.kind)) found.push(...dropBoundaryPort(tx, doc, node, set));
    tx.remove('nodes', node.id);
  }
  return found;
}

/** A boundary node that goes takes its port and the port's wires away from the host. */
function dropBoundaryPort(tx: Transaction, doc: Doc, boundary: GraphNode, set: ReadonlySet<Id>): Finding[] {
  const host = indexOf(doc).hostOf(boundary.graph);
  if (!host || set.has(host.id)) return [];
  const found: Finding[] = [];
  for (const wire of indexOf(doc).wiresOf(host.id)) {
    const own = (wire.to.node === host.id && wire.to.port === boundary.id) || (wire.from.node === host.id && wire.from.port === boundary.id);
    if (!own || !tx.get('wires', wire.id)) continue;
    tx.remove('wires', wire.id);
    found.push(finding('wire-lost', 'warning', [host.id], `The port “${boundary.name}” of “${caption(host)}” went, and a wire with it.`));
  }
  const ports = tx.get('nodes', host.id)?.ports.filter((port) => port.id !== boundary.id);
  if (ports) tx.set('nodes', host.id, 'ports', ports);
  return found;
}
