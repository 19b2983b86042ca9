import { builtin, isBoundary } from '../document/builtin.ts';
import type { KindSpec } from '../document/catalogue.ts';
import { caption, type Doc, graphPath, indexOf } from '../document/doc.ts';
import { readingsOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName, legalName } from '../document/names.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, Port, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { withInside } from '../inspect/reach.ts';
import { must } from '../must.ts';
import { Refused, type Saying } from '../said.ts';
import { beaconOf } from '../wiring/carriers.ts';
import { effectiveWiring, isConcrete } from '../wiring/effective.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { copyDoc, paste } from './clipboard.ts';
import { proposeTitle } from './frames.ts';
import { removeGraph } from './remove.ts';
import { find, refuse, say } from './sentences.ts';

/**
 * The kind that a version of a shared kind is in documents: a version never changes, so that what uses it stays what it
 * is until it is updated.
 */
export const sharedKindId = (name: string, version: number): string => `shared.${name}.${version}`;

/** A nested graph as it is published: the graph alone, as a document of its own, and the ports that it has. */
export interface Publishable {
  readonly body: Doc;
  readonly ports: KindSpec['ports'];
  /** It holds a node whose result is what a file is for. */
  readonly end: boolean;
}

/** Something that stands against publishing, at a node. */
export interface Against extends Saying {
  readonly node: Id;
}

/**
 * What stands against publishing a nested graph: a shared kind knows nothing of where it is used, so that all that it
 * takes comes in through its ports. Each thing that comes from elsewhere is listed. O(inside).
 */
export function publishProblems(doc: Doc, kinds: Kinds, host: GraphNode): Against[] {
  if (host.inner === undefined) return [{ node: host.id, ...say('nothing-to-publish', { host: caption(host) }) }];
  const inner = host.inner;
  const isInside = (node: GraphNode | undefined): boolean =>
    node !== undefined && graphPath(doc, node.graph).includes(inner);
  const wiring = effectiveWiring(doc, kinds);
  const found: Against[] = [];
  const note = (node: GraphNode, against: Saying): void => void found.push({ node: node.id, ...against });
  for (const node of doc.nodes.values()) {
    if (!isInside(node)) continue;
    if (node.kind === builtin.tap) {
      const beacon = beaconOf(doc, node);
      if (!isInside(beacon)) note(node, say('tap-listens-outside', { tap: node.name, beacon: beacon?.name }));
    }
    for (const port of node.ports) {
      const feed = port.direction === 'in' ? doc.nodes.get(wiring.feedOf(node.id, port.id) ?? '') : undefined;
      if (feed && !isInside(feed))
        note(node, say('feed-outside', { port: port.name, node: caption(node), feed: caption(feed) }));
    }
    const strange = readingsOf(node).filter(({ reads }) => !isInside(doc.nodes.get(reads)));
    // one for each parameter, however often it refers to what is outside
    for (const _parameter of new Set(strange.map(({ parameter }) => parameter)))
      note(node, say('expression-outside', { node: caption(node) }));
  }
  const taps = [...doc.nodes.values()].filter((node) => node.kind === builtin.tap && !isInside(node));
  for (const tap of taps) {
    const beacon = beaconOf(doc, tap);
    if (beacon && isInside(beacon)) note(beacon, say('tap-outside', { tap: tap.name, beacon: beacon.name }));
  }
  if (host.ports.some((port) => port.of !== undefined)) note(host, say('ports-opened', { opened: caption(host) }));
  return found;
}

/**
 * What a nested graph is likely called as a kind, and where it belongs: as its caption says, or what it holds where that
 * says nothing; in the category of most of what computes inside, an end's before all others. O(inside).
 */
export function publishGuess(
  doc: Doc,
  kinds: Kinds,
  host: GraphNode,
): { title: string; name: string; category: string } {
  const inside = withInside(doc, host.id).flatMap((id) => doc.nodes.get(id) ?? []);
  const real = inside.filter((node) => isConcrete(doc, node) && kinds.kind(node.kind) !== undefined);
  const counts = new Map<string, number>();
  for (const node of real) {
    const { id } = kinds.category(node.kind);
    counts.set(id, (counts.get(id) ?? 0) + (kinds.isEnd(node) ? real.length : 1));
  }
  const [most] = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  const title = !host.label && isDefaultName(host.name, host.kind, kinds) ? proposeTitle(kinds, real) : caption(host);
  return {
    title,
    name: legalName(title).toLowerCase().replace(/_+/g, '_').slice(0, 60),
    category: most?.[0] ?? kinds.catalogue.categories[0]?.id ?? '',
  };
}

/**
 * A nested graph made ready to be published. Throws Refused with the first thing that stands against it. O(document).
 */
export function publishable(doc: Doc, kinds: Kinds, host: GraphNode): Publishable {
  const [problem] = publishProblems(doc, kinds, host);
  if (problem) throw new Refused(problem);
  const { doc: clip } = copyDoc(doc, kinds, { graph: host.graph, items: [host.id] });
  const nodes = new Map([...clip.nodes].filter(([id]) => id !== host.id));
  const graphs = new Map([...clip.graphs].filter(([id]) => id !== host.graph));
  const wires = new Map([...clip.wires].filter(([, wire]) => nodes.has(wire.from.node) && nodes.has(wire.to.node)));
  const { sets: _, ...head } = clip.head;
  const body: Doc = { ...clip, head: { ...head, title: caption(host), root: must(host.inner) }, nodes, graphs, wires };
  return {
    body,
    ...bodyPorts(
      body,
      kinds,
      host.ports.map((port) => port.name),
    ),
  };
}

/** The ports that a graph has as a kind, in an order of their names; and whether it holds an end. O(nodes). */
export function bodyPorts(body: Doc, kinds: Kinds, order: readonly string[]): Pick<Publishable, 'ports' | 'end'> {
  // a type that the team's catalogue lacks would be none elsewhere
  const typeOf = (type: string | undefined): string => (type !== undefined && kinds.hasType(type) ? type : 'any');
  const place = (name: string): number => (order.includes(name) ? order.indexOf(name) : order.length);
  const ports = indexOf(body)
    .nodesIn(body.head.root)
    .filter((node) => isBoundary(node.kind))
    .map(({ name, kind, ports: own }) => ({
      id: name,
      name,
      type: typeOf(own[0]?.type),
      direction: kind === builtin.input ? ('in' as const) : ('out' as const),
      many: false,
      main: true,
      feedable: false,
    }))
    .sort((a, b) => place(a.name) - place(b.name) || (a.name < b.name ? -1 : 1));
  return { ports, end: [...body.nodes.values()].some((node) => kinds.isEnd(node)) };
}

/** Carries the wires of a node over to other ports, by name and side; those that find none go, and are listed. */
function carryByName(wiring: Wiring, node: GraphNode, ports: readonly Port[]): Finding[] {
  const found: Finding[] = [];
  const nameOf = (id: string, direction: 'in' | 'out'): string | undefined => portAt(node.ports, id, direction)?.name;
  const portOf = (id: string, direction: 'in' | 'out'): string | undefined =>
    ports.find((port) => port.direction === direction && port.name === nameOf(id, direction))?.id;
  const wires: Wire[] = wiring.of(node.id);
  wiring.tx.set('nodes', node.id, 'ports', [...ports]);
  for (const wire of wires) {
    const from = wire.from.node === node.id ? portOf(wire.from.port, 'out') : wire.from.port;
    const to = wire.to.node === node.id ? portOf(wire.to.port, 'in') : wire.to.port;
    if (from === undefined || to === undefined) {
      wiring.disconnect(wire);
      const port = wire.to.node === node.id ? wire.to.port : wire.from.port;
      found.push(
        find('wire-lost', 'warning', [node.id], 'wire-not-kept', {
          out: nameOf(port, to === undefined ? 'in' : 'out'),
          port,
          node: caption(node),
        }),
      );
    } else wiring.carry(wire, { from: { node: wire.from.node, port: from }, to: { node: wire.to.node, port: to } });
  }
  return found;
}

/**
 * Makes a node that holds a graph one of a shared kind: what it held goes, its wires go to the ports of the same names.
 * Throws Refused. O(inside).
 */
export function useShared(wiring: Wiring, host: GraphNode, kind: KindSpec): Finding[] {
  if (host.inner === undefined) throw refuse('holds-no-graph', { host: caption(host) });
  const { tx } = wiring;
  const findings = carryByName(wiring, host, wiring.kinds.startPorts(kind.id));
  removeGraph(tx, tx.before, host.inner);
  tx.set('nodes', host.id, 'inner', undefined);
  tx.set('nodes', host.id, 'kind', kind.id);
  return findings;
}

/**
 * Gives a node of a shared kind a graph of its own with what that version held, so that it can be changed here. Throws
 * Refused. O(body).
 */
export function makeOwn(wiring: Wiring, node: GraphNode, body: Doc, newId: (prefix: string) => string): Finding[] {
  const { tx, kinds } = wiring;
  if (!kinds.kind(node.kind)?.shared) throw refuse('no-shared-kind', { node: caption(node) });
  const inner = newId('g');
  tx.add('graphs', { ...must(body.graphs.get(body.head.root)), id: inner, name: caption(node) });
  paste(tx, kinds, { doc: body, incoming: [] }, { graph: inner, at: 'same', incoming: false, newId });
  const ports = indexOf(tx.doc)
    .nodesIn(inner)
    .filter((one) => isBoundary(one.kind))
    .map(
      (one): Port => ({
        id: one.id,
        name: one.name,
        type: one.ports[0]?.type ?? 'any',
        direction: one.kind === builtin.input ? 'in' : 'out',
      }),
    );
  // as the kind has them in order
  const order = node.ports.map((port) => port.name);
  ports.sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name));
  const findings = carryByName(wiring, node, ports);
  tx.set('nodes', node.id, 'kind', builtin.nested);
  tx.set('nodes', node.id, 'inner', inner);
  return findings;
}
