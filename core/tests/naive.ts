import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

// What feeds what, and who depends on whom, as docs/semantics.md says it, with nothing kept and nothing clever: what the
// core says is held against this. Components of ports are left out.

interface At {
  readonly node: Id;
  readonly port: string;
}

const all = (doc: Doc): GraphNode[] => [...doc.nodes.values()];
const wireInto = (doc: Doc, at: At) =>
  [...doc.wires.values()].find((wire) => wire.to.node === at.node && wire.to.port === at.port);
const hostOf = (doc: Doc, graph: Id): GraphNode | undefined => all(doc).find((node) => node.inner === graph);

export const computes = (doc: Doc, node: GraphNode): boolean =>
  !([builtin.reroute, builtin.beacon, builtin.tap, builtin.feed] as string[]).includes(node.kind) &&
  node.inner === undefined &&
  (!([builtin.input, builtin.output] as string[]).includes(node.kind) || node.graph === doc.head.root);

/** The graphs from a node's own outwards. */
function* graphsAround(doc: Doc, node: GraphNode): Generator<Id> {
  for (let at: GraphNode | undefined = node; at; at = hostOf(doc, at.graph)) yield at.graph;
}

function heard(doc: Doc, tap: GraphNode): GraphNode | undefined {
  const beacons = all(doc).filter((node) => node.kind === builtin.beacon);
  const byId = beacons.find((node) => node.id === tap.beacon?.id);
  if (byId) return byId;
  for (const graph of graphsAround(doc, tap)) {
    const found = beacons.find((node) => node.graph === graph && node.name === tap.beacon?.name);
    if (found) return found;
  }
  return undefined;
}

/** Where an output truly comes from. `feeds`: do standing feeds count? */
function behind(doc: Doc, kinds: Kinds, at: At, feeds: boolean, steps: number): At | undefined {
  const node = doc.nodes.get(at.node);
  if (!node || steps > 300) return undefined;
  const into = (id: Id, port: string): At | undefined => sourceOf(doc, kinds, { node: id, port }, feeds, steps + 1);
  if (node.kind === builtin.reroute || node.kind === builtin.beacon) return into(node.id, 'in');
  if (node.kind === builtin.tap) {
    const beacon = heard(doc, node);
    return beacon && into(beacon.id, 'in');
  }
  if (node.bypassed) {
    const input = kinds.passInput(node, at.port);
    return input && into(node.id, input.id);
  }
  if (node.inner !== undefined) return doc.nodes.has(at.port) ? into(at.port, 'in') : undefined;
  if (node.kind === builtin.input && node.graph !== doc.head.root) {
    const host = hostOf(doc, node.graph);
    return host && into(host.id, node.id);
  }
  return at;
}

/** What an input takes. */
export function sourceOf(doc: Doc, kinds: Kinds, at: At, feeds = true, steps = 0): At | undefined {
  const wire = wireInto(doc, at);
  if (wire) return wire.off ? undefined : behind(doc, kinds, wire.from, feeds, steps);
  return feeds ? fed(doc, kinds, at) : undefined;
}

/** All frames and graphs around a node, the nearest first. */
function around(doc: Doc, node: GraphNode): Id[] {
  const scopes: Id[] = [];
  for (let inside: GraphNode | undefined = node; inside; inside = hostOf(doc, inside.graph)) {
    for (let frame = doc.frames.get(inside.frame ?? ''); frame; frame = doc.frames.get(frame.parent ?? ''))
      scopes.push(frame.id);
    scopes.push(inside.graph);
  }
  return scopes;
}

const scopeOf = (doc: Doc, feed: GraphNode): Id =>
  around(doc, feed).find((scope) => scope === feed.covers) ?? feed.frame ?? feed.graph;

function fed(doc: Doc, kinds: Kinds, at: At): At | undefined {
  const node = doc.nodes.get(at.node)!;
  const port = node.ports.find((one) => one.id === at.port && one.direction === 'in');
  if (!port || node.bypassed || !computes(doc, node) || !kinds.feedable(node, port.id)) return undefined;
  for (const scope of around(doc, node)) {
    const offers = all(doc).filter(
      (one) =>
        one.kind === builtin.feed && !one.bypassed && scopeOf(doc, one) === scope && one.params?.types === port.type,
    );
    if (offers.length > 1) return undefined;
    if (offers[0]) {
      const source = sourceOf(doc, kinds, { node: offers[0].id, port: 'in' }, false);
      return source && upstream(doc, kinds, source.node, false).has(node.id) ? undefined : source;
    }
  }
  return undefined;
}

/** What a node reads: by inputs, and by expressions. */
export function reads(doc: Doc, kinds: Kinds, node: GraphNode, feeds = true): Id[] {
  const inputs = node.ports.flatMap((port) => {
    const source = port.direction === 'in' ? sourceOf(doc, kinds, { node: node.id, port: port.id }, feeds) : undefined;
    return source ? [source.node] : [];
  });
  const referred = Object.values(node.params ?? {}).flatMap((value) =>
    isExpression(value) ? value.expression.flatMap((part) => (typeof part === 'string' ? [] : [part.node])) : [],
  );
  return [...inputs, ...referred.filter((id) => doc.nodes.has(id))];
}

/** A node and all that it depends on. */
export function upstream(doc: Doc, kinds: Kinds, id: Id, feeds = true): ReadonlySet<Id> {
  const found = new Set([id]);
  for (const one of found) for (const next of reads(doc, kinds, doc.nodes.get(one)!, feeds)) found.add(next);
  return found;
}

/** Is the node bypassed, or in something that is? */
export const isOff = (doc: Doc, node: GraphNode): boolean => {
  for (let at: GraphNode | undefined = node; at; at = hostOf(doc, at.graph)) if (at.bypassed) return true;
  return false;
};

/** The nodes that compute something which counts now: those that are on, and what these read. */
export function countsNow(doc: Doc, kinds: Kinds): ReadonlySet<Id> {
  const on = all(doc).filter((node) => computes(doc, node) && !isOff(doc, node));
  return new Set(
    on.flatMap((node) => [...upstream(doc, kinds, node.id)].filter((id) => computes(doc, doc.nodes.get(id)!))),
  );
}
