import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import { partId, passes } from '../wiring/pass.ts';
import { portOf, portOrPart } from '../wiring/types.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { find } from './sentences.ts';

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

/**
 * What an output would give with all of the set bypassed: the output behind it that stays, or nothing where it is open.
 * Where a component is sought, reroute points outside the set are passed too, since they have none.
 */
export function sourceAround(
  wiring: Wiring,
  set: ReadonlySet<Id>,
  from: PortRef,
): { source: PortRef; off: boolean } | undefined {
  let [at, off] = [from, false];
  let part: string | undefined;
  const seen = new Set<string>();
  for (;;) {
    const node = wiring.tx.get('nodes', at.node) as GraphNode;
    const isSeenThrough = part !== undefined && node.kind === builtin.reroute;
    if (!set.has(at.node) && !isSeenThrough) break;
    const key = `${at.node} ${at.port}`;
    if (seen.has(key)) return undefined;
    seen.add(key);
    const pass = isSeenThrough
      ? { input: must(portOf(node, 'in', 'in')) }
      : passes(wiring.kinds, node, at.port, (port) => wiring.into({ node: node.id, port }));
    const wire = pass && wiring.into({ node: node.id, port: pass.input.id });
    if (!wire) return undefined;
    off ||= wire.off === true;
    part = pass.part ?? part;
    at = wire.from;
  }
  if (part === undefined) return { source: at, off };
  const source = { node: at.node, port: partId(at.port, part) };
  return portOrPart(wiring.kinds, wiring.tx.get('nodes', at.node), source.port, 'out') ? { source, off } : undefined;
}

/**
 * Takes nodes out of their wires. Healing gives every consumer outside the source that it would have with all of them
 * bypassed (docs/semantics.md); without healing the wires go too. Wires among them stay with `inner`. What stays
 * open is told by the registry (`wiring/guard.ts`).
 * O(wires touched).
 */
export function takeOut(wiring: Wiring, nodes: readonly GraphNode[], heal: boolean, inner: 'keep' | 'drop'): void {
  const set = new Set(nodes.map((node) => node.id));
  const carried: { wire: Wire; from: PortRef; off: boolean }[] = [];
  const gone = new Map<Id, Wire>();
  for (const node of nodes) {
    for (const wire of wiring.of(node.id)) {
      const isInner = set.has(wire.from.node) && set.has(wire.to.node);
      if (gone.has(wire.id) || (isInner && inner === 'keep')) continue;
      gone.set(wire.id, wire);
      if (isInner || !set.has(wire.from.node)) continue;
      const around = heal ? sourceAround(wiring, set, wire.from) : undefined;
      if (around) carried.push({ wire, from: around.source, off: around.off });
    }
  }
  const kept = new Set(carried.map(({ wire }) => wire.id));
  for (const wire of gone.values()) if (!kept.has(wire.id)) wiring.disconnect(wire);
  for (const { wire, from, off } of carried) {
    if (off) wiring.switch(wire, true);
    wiring.carry(off ? { ...wire, off } : wire, { from });
  }
}

/**
 * Deletes nodes, after taking them out of their wires. What loses its other end is listed too. O(wires touched +
 * document where a beacon goes).
 */
export function removeNodes(wiring: Wiring, nodes: readonly GraphNode[], heal: boolean): Finding[] {
  const { tx } = wiring;
  const doc = tx.before;
  const index = indexOf(doc);
  const set = new Set(nodes.map((node) => node.id));
  takeOut(wiring, nodes, heal, 'drop');
  const found: Finding[] = [];
  const silenced: { tap: GraphNode; beacon: GraphNode }[] = [];
  for (const graph of new Set(nodes.map((node) => node.graph)))
    for (const note of index.notesIn(graph))
      if (note.tiedTo !== undefined && set.has(note.tiedTo) && tx.get('notes', note.id))
        tx.set('notes', note.id, 'tiedTo', undefined);
  for (const node of nodes) {
    if (node.kind === builtin.beacon) silenced.push(...tapsOf(doc, node.id).map((tap) => ({ tap, beacon: node })));
    if (node.inner !== undefined) removeGraph(tx, doc, node.inner);
    if (isBoundary(node.kind)) found.push(...dropBoundaryPort(wiring, node, set));
    tx.remove('nodes', node.id);
  }
  for (const { tap, beacon } of silenced) if (tx.get('nodes', tap.id)) found.push(silence(tx.doc, tap, beacon));
  return found;
}

/** What a tap hears after its beacon went: nothing, or another one of the name. */
function silence(doc: Doc, tap: GraphNode, beacon: GraphNode): Finding {
  const now = beaconOf(doc, tap);
  const what = now
    ? `hears the one of that name in “${doc.graphs.get(now.graph)?.name ?? now.graph}” now`
    : 'hears nothing now';
  return find('lost-tap', 'warning', placeOf(doc, tap.graph, tap.id), 'tap-lost-beacon', {
    tap: tap.name,
    beacon: beacon.name,
    what,
  });
}

/**
 * A boundary node that goes takes its port, with components that were opened, and the port's wires away from the host.
 */
function dropBoundaryPort(wiring: Wiring, boundary: GraphNode, set: ReadonlySet<Id>): Finding[] {
  const host = indexOf(wiring.tx.before).hostOf(boundary.graph);
  if (!host || set.has(host.id)) return [];
  const found: Finding[] = [];
  const gone = new Set(
    (wiring.tx.get('nodes', host.id)?.ports ?? [])
      .filter((port) => port.id === boundary.id || port.of === boundary.id)
      .map((port) => port.id),
  );
  for (const wire of wiring.of(host.id)) {
    const isOwn =
      (wire.to.node === host.id && gone.has(wire.to.port)) || (wire.from.node === host.id && gone.has(wire.from.port));
    if (!isOwn) continue;
    wiring.disconnect(wire);
    found.push(find('wire-lost', 'warning', [host.id], 'port-went', { boundary: boundary.name, host: caption(host) }));
  }
  const ports = wiring.tx.get('nodes', host.id)?.ports.filter((port) => !gone.has(port.id));
  if (ports) wiring.tx.set('nodes', host.id, 'ports', ports);
  return found;
}
