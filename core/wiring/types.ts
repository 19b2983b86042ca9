import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import { beaconOf, isCarrier, tapsOf } from './carriers.ts';

/** A port as the node has it now. */
export function portOf(node: GraphNode | undefined, port: string, direction: 'in' | 'out'): Port | undefined {
  return node && portAt(node.ports, port, direction);
}

/**
 * Can a compound port of the node open into components? Outputs do wherever their type has some; inputs only where
 * something is computed.
 */
export function opens(node: GraphNode, port: Port): boolean {
  if (isCarrier(node.kind) || node.kind === builtin.feed) return false;
  return port.direction === 'out' || (node.inner === undefined && node.kind !== builtin.output);
}

/**
 * A port of a node, or the component that one of them would open into: the way to ask for a port that may still be
 * closed.
 */
export function portOrPart(
  kinds: Kinds,
  node: GraphNode | undefined,
  port: string,
  direction: 'in' | 'out',
): Port | undefined {
  const there = portOf(node, port, direction);
  if (there || !node) return there;
  const whole = node.ports.find(
    (own) => own.direction === direction && port.startsWith(`${own.id}.`) && opens(node, own),
  );
  return whole && kinds.parts(whole).find((part) => part.id === port);
}

/**
 * The type of what an output gives: through reroute points and remote links that of what they carry, `any` where
 * nothing comes. O(carriers).
 */
export function carriedType(doc: Doc, kinds: Kinds, from: PortRef): string {
  let at = from;
  const seen = new Set<Id>();
  for (;;) {
    const node = doc.nodes.get(at.node);
    if (!node || seen.has(node.id)) return 'any';
    if (!isCarrier(node.kind)) return portOrPart(kinds, node, at.port, 'out')?.type ?? 'any';
    seen.add(node.id);
    const carrier = node.kind === builtin.tap ? beaconOf(doc, node) : node;
    const wire = carrier && indexOf(doc).wireInto(carrier.id, 'in');
    if (!wire) return 'any';
    at = wire.from;
  }
}

/**
 * The inputs that what is wired to an input comes to: itself, or, behind reroute points and remote links, all that
 * these feed. O(reached).
 */
export function inputsReached(doc: Doc, to: PortRef): PortRef[] {
  const found: PortRef[] = [];
  const seen = new Set<Id>();
  const todo = [to];
  for (let at = todo.pop(); at; at = todo.pop()) {
    const node = doc.nodes.get(at.node);
    if (!node || !isCarrier(node.kind)) {
      found.push(at);
      continue;
    }
    if (seen.has(node.id)) continue;
    seen.add(node.id);
    const taps = node.kind === builtin.beacon ? tapsOf(doc, node.id) : [];
    for (const carrier of [node, ...taps])
      for (const wire of indexOf(doc).wiresOutOf(carrier.id, 'out')) todo.push(wire.to);
  }
  return found;
}
