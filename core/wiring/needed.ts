import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { readBy } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { beaconOf } from './carriers.ts';
import { effectiveWiring, isFileEnd } from './effective.ts';
import { passes } from './pass.ts';

/**
 * Everything that an end of the file depends on: nodes of end kinds and root outputs, what feeds them through wires,
 * remote links, feeds, nested graphs and expressions, and what carries that. Boundary nodes belong to their graph.
 * `generous`: wires that are switched off and inputs that a bypassed node does not pass count too, and bypassed ends
 * are ends, so that nothing goes that could be switched on again; so do feeds that clash or lie in a ring.
 * Undefined where the file has no end that counts. O(ports + wires).
 */
export function neededNodes(doc: Doc, kinds: Kinds, generous: boolean): ReadonlySet<Id> | undefined {
  const ends = [...doc.nodes.values()].filter(
    (node) => isFileEnd(doc, kinds, node) || (generous && kinds.kind(node.kind)?.end === true),
  );
  // with all of them bypassed nothing can be said to be needed
  if (!ends.some((node) => isFileEnd(doc, kinds, node))) return undefined;
  const walk = new Walk(doc, kinds, generous);
  for (const node of ends) walk.whole(node);
  // which of them is meant is for somebody to choose: till then all count
  if (generous) for (const { feeds } of effectiveWiring(doc, kinds).tangles) for (const feed of feeds) walk.whole(feed);
  return walk.run();
}

class Walk {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly generous: boolean;
  private readonly kept = new Set<Id>();
  private readonly seen = new Set<string>();
  private readonly todo: PortRef[] = [];
  private readonly feeds: ReturnType<typeof effectiveWiring> | undefined;

  constructor(doc: Doc, kinds: Kinds, generous: boolean) {
    this.doc = doc;
    this.kinds = kinds;
    this.generous = generous;
    this.feeds = indexOf(doc).nodesOfKind(builtin.feed).length > 0 ? effectiveWiring(doc, kinds) : undefined;
  }

  run(): ReadonlySet<Id> {
    for (let at = this.todo.pop(); at; at = this.todo.pop()) this.output(at);
    return this.kept;
  }

  /** Keeps a node, with the hosts that hold it and their boundary nodes. */
  private keep(node: GraphNode): void {
    if (this.kept.has(node.id)) return;
    this.kept.add(node.id);
    for (const id of readBy(this.doc, node)) this.whole(must(this.doc.nodes.get(id)));
    for (const graph of [node.graph, ...(node.inner === undefined ? [] : [node.inner])])
      for (const one of indexOf(this.doc).nodesIn(graph)) if (isBoundary(one.kind)) this.kept.add(one.id);
    const host = indexOf(this.doc).hostOf(node.graph);
    if (host) this.keep(host);
  }

  /** A node with all that it takes. */
  whole(node: GraphNode): void {
    this.keep(node);
    for (const port of node.ports) if (port.direction === 'in') this.input(node, port.id);
  }

  private input(node: GraphNode, port: string): void {
    const key = `${node.id}\u0000${port}`;
    if (this.seen.has(key)) return;
    this.seen.add(key);
    const wire: Wire | undefined = indexOf(this.doc).wireInto(node.id, port);
    if (wire && (this.generous || !wire.off)) this.todo.push(wire.from);
    const feed = wire ? undefined : this.feeds?.source(node.id, port)?.feed;
    if (feed !== undefined) this.whole(must(this.doc.nodes.get(feed)));
  }

  private output({ node: id, port }: PortRef): void {
    const node = must(this.doc.nodes.get(id));
    this.keep(node);
    const of = portAt(node.ports, port, 'out')?.of ?? port;
    if (node.kind === builtin.tap) {
      const beacon = beaconOf(this.doc, node);
      if (beacon) this.whole(beacon);
    } else if (node.kind === builtin.input) {
      const host = indexOf(this.doc).hostOf(node.graph);
      if (host) this.input(host, node.id);
    } else if (node.bypassed && !this.generous) {
      const pass = passes(this.kinds, node, port, (input) => indexOf(this.doc).wireInto(id, input));
      if (pass) this.input(node, pass.input.id);
    } else if (node.inner !== undefined) {
      const inside = this.doc.nodes.get(of);
      if (inside?.kind === builtin.output) this.whole(inside);
      if (node.bypassed) this.whole(node);
    } else this.whole(node);
  }
}
