import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import type { Edit, Step } from '../edit/step.ts';
import { tapsOf } from './carriers.ts';
import { effectiveWiring, isConcrete, type Source } from './effective.ts';
import { feedsOf } from './feeds.ts';
import { portOf } from './types.ts';

/** An input that takes something else after an edit, by effective wiring. */
export interface InputChange {
  /** As it is after the edit. */
  readonly node: GraphNode;
  readonly input: Port;
  readonly before: Source | undefined;
  readonly after: Source | undefined;
  /** The edit wrote the wire at this very input: what it takes now is what the act was about. */
  readonly isDirect: boolean;
}

const key = (node: Id, port: string): string => `${node}\u0000${port}`;

/** Inputs of nodes that compute which take what comes to some inputs, over all that only carries data. */
class Downstream {
  readonly found = new Map<string, PortRef>();
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly seen = new Set<string>();
  private readonly todo: PortRef[] = [];

  constructor(doc: Doc, kinds: Kinds) {
    this.doc = doc;
    this.kinds = kinds;
  }

  fromInput(at: PortRef): void {
    this.todo.push(at);
    for (let next = this.todo.pop(); next; next = this.todo.pop()) this.visit(next);
  }

  /** All that takes from a node, and its own inputs. */
  fromNode(node: GraphNode): void {
    for (const port of node.ports) if (port.direction === 'in') this.fromInput({ node: node.id, port: port.id });
    this.outOf(node);
    this.behind(node);
    for (let next = this.todo.pop(); next; next = this.todo.pop()) this.visit(next);
  }

  /** What standing feeds supply. */
  fromFeeds(): void {
    const wiring = effectiveWiring(this.doc, this.kinds);
    for (const feed of feedsOf(this.doc))
      for (const at of wiring.suppliedBy(feed.id)) this.found.set(key(at.node, at.port), at);
  }

  private visit(at: PortRef): void {
    const here = key(at.node, at.port);
    const node = this.doc.nodes.get(at.node);
    if (!node || this.seen.has(here)) return;
    this.seen.add(here);
    if (isConcrete(this.doc, node) && !node.bypassed) {
      this.found.set(here, at);
      return;
    }
    if (node.inner !== undefined) {
      const inside = this.doc.nodes.get(portOf(node, at.port, 'in')?.of ?? at.port);
      if (inside) this.outOf(inside);
    }
    if (node.inner === undefined || node.bypassed) this.outOf(node);
    this.behind(node);
  }

  /** The wires that leave a node, by all its outputs or by one with its components. */
  private outOf(node: GraphNode, port?: string): void {
    for (const wire of indexOf(this.doc).wiresFrom(node.id))
      if (port === undefined || wire.from.port === port || portOf(node, wire.from.port, 'out')?.of === port)
        this.todo.push(wire.to);
  }

  /** Where what comes to a node goes on without a wire: taps, feeds, the node around. */
  private behind(node: GraphNode): void {
    if (node.kind === builtin.beacon) for (const tap of tapsOf(this.doc, node.id)) this.outOf(tap);
    if (node.kind === builtin.feed)
      for (const at of effectiveWiring(this.doc, this.kinds).suppliedBy(node.id))
        this.found.set(key(at.node, at.port), at);
    const host = node.kind === builtin.output ? indexOf(this.doc).hostOf(node.graph) : undefined;
    if (host) this.outOf(host, node.id);
  }
}

/** Fields of a node that say what it takes, passes or gives. */
const wiringFields = new Set(['bypassed', 'kind', 'inner', 'ports', 'beacon', 'graph']);

const isNamed = (node: GraphNode | undefined): boolean => node?.kind === builtin.beacon;

/** Does a step on a node change what comes to an input, over whatever way but feeds? */
function matters(step: Step, node: GraphNode | undefined): boolean {
  if (step.type !== 'set') return true;
  const field = step.path[0] ?? '';
  return (
    wiringFields.has(field) ||
    (field === 'name' && isNamed(node)) ||
    (field === 'params' && node?.kind === builtin.feed)
  );
}

/** Can a step change what lies in whose scope, or what a feed's source depends on? */
function reachesFeeds(step: Step, node: GraphNode | undefined): boolean {
  const field = step.type === 'set' ? (step.path[0] ?? '') : undefined;
  if (step.table === 'nodes')
    return matters(step, node) || field === 'frame' || field === 'covers' || field === 'params';
  return step.table === 'frames' ? field === undefined || field === 'graph' || field === 'parent' : field === undefined;
}

/** May an edit change what any input takes? O(steps). */
export const mayChangeInputs = (doc: Doc, edit: Edit): boolean =>
  edit.steps.some((step) => {
    if (step.type !== 'set' || step.table === 'wires') return true;
    const node = step.table === 'nodes' ? doc.nodes.get(step.id) : undefined;
    return (node && matters(step, node)) || (feedsOf(doc).length > 0 && reachesFeeds(step, node));
  });

/** Inputs that may take something else, in one of both documents. */
function candidates(doc: Doc, kinds: Kinds, edit: Edit): Map<string, PortRef> {
  const down = new Downstream(doc, kinds);
  const names = new Set<string>();
  for (const step of edit.steps) {
    if (step.table === 'wires') {
      const wire = doc.wires.get(step.id);
      if (wire) down.fromInput(wire.to);
      if (step.type === 'set' && step.path[0] === 'to')
        for (const end of [step.from, step.to]) if (end) down.fromInput(end as unknown as PortRef);
    }
    if (step.table !== 'nodes') continue;
    const node = doc.nodes.get(step.id);
    if (!node || !matters(step, node)) continue;
    down.fromNode(node);
    if (isNamed(node)) names.add(node.name);
  }
  if (names.size > 0)
    for (const tap of indexOf(doc).nodesOfKind(builtin.tap)) if (names.has(tap.beacon?.name ?? '')) down.fromNode(tap);
  if (feedsOf(doc).length > 0 && edit.steps.some((step) => reachesFeeds(step, doc.nodes.get(step.id))))
    down.fromFeeds();
  return down.found;
}

/** The inputs at which an edit itself writes a wire. */
function written(doc: Doc, after: Doc, edit: Edit): Set<string> {
  const found = new Set<string>();
  for (const step of edit.steps) {
    if (step.table !== 'wires') continue;
    for (const wire of [doc.wires.get(step.id), after.wires.get(step.id)] as (Wire | undefined)[])
      if (wire) found.add(key(wire.to.node, wire.to.port));
  }
  return found;
}

const same = (a: Source | undefined, b: Source | undefined): boolean =>
  a?.node === b?.node && a?.port === b?.port && a?.feed === b?.feed;

/**
 * Inputs of nodes that were there before and are there after, which take something else by effective wiring: over
 * carriers, remote links, feeds, bypassed nodes and nested graphs. In order of ids. O(what is touched and what hangs on
 * it over carriers), and O(feedable inputs) where the file has feeds.
 */
export function inputChanges(doc: Doc, after: Doc, kinds: Kinds, edit: Edit): InputChange[] {
  const asked = new Map([...candidates(doc, kinds, edit), ...candidates(after, kinds, edit)]);
  if (asked.size === 0) return [];
  const [then, now] = [effectiveWiring(doc, kinds), effectiveWiring(after, kinds)];
  const own = written(doc, after, edit);
  const found: InputChange[] = [];
  for (const [at, { node: id, port }] of asked) {
    const node = after.nodes.get(id);
    const input = portOf(node, port, 'in');
    const old = doc.nodes.get(id);
    if (!node || !input || !old || node.bypassed || !isConcrete(after, node)) continue;
    const [before, behind] = [then.source(id, port), now.source(id, port)];
    if (same(before, behind)) continue;
    found.push({ node, input, before, after: behind, isDirect: own.has(at) });
  }
  return found.sort((a, b) => compareIds(a.node.id, b.node.id) || compareIds(a.input.id, b.input.id));
}
