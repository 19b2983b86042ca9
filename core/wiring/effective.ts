import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf, placeOf } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import type { SaidFinding } from '../said.ts';
import { beaconOf, remoteFindings } from './carriers.ts';
import { Feeds, type Tangle } from './feeds.ts';
import { hasPart, partId, passes } from './pass.ts';
import { find } from './sentences.ts';
import { portOf } from './types.ts';

/** Where the data at an input truly comes from: an output of a node that computes, or an outer input of the file. */
export interface Source {
  readonly node: Id;
  readonly port: string;
  /** The carriers, bypassed nodes and nested graphs passed on the way, nearest to the input first. */
  readonly through: readonly Id[];
  /** The standing feed that supplied it, if one did. */
  readonly feed?: Id;
}

/** What feeds what, once everything that only carries data is taken out of it. */
export interface EffectiveWiring {
  /** The source at an input, or undefined where it is open. */
  source(node: Id, input: string): Source | undefined;
  /** Where an output goes, over all carriers: inputs of nodes that compute, and outputs of the file. */
  consumers(node: Id, output: string): readonly PortRef[];
  /** Every node that computes, plus the boundary nodes of the root graph, sorted by id. */
  readonly nodes: readonly GraphNode[];
  /** The standing feed that supplies an input, or undefined where none does. */
  feedOf(node: Id, input: string): Id | undefined;
  /** The feeds that could supply an open input by where they stand, those of the nearest place first. */
  feedLevels(node: Id, input: string): readonly (readonly GraphNode[])[];
  /** Feeds that clash or supply one another’s sources: what they would supply nobody can tell. */
  readonly tangles: readonly Tangle[];
  /** All inputs that a standing feed supplies, in order of ids. */
  suppliedBy(feed: Id): readonly PortRef[];
  /** All that the source of a feed depends on over drawn wires, itself included: none of it is supplied by the feed. */
  upstreamOf(feed: Id): ReadonlySet<Id>;
  /**
   * Lost ends, ambiguous names and feeds, loops between feeds: what the findings say of remote links alone, at less
   * cost.
   */
  readonly linkFindings: readonly SaidFinding[];
  /** The same, and loops of carriers. */
  readonly findings: readonly SaidFinding[];
}

const key = (node: Id, port: string): string => `${node}\u0000${port}`;

/** Does the node compute something, or stand for the outside of the file? All else only carries data. */
export function isConcrete(doc: Doc, node: GraphNode): boolean {
  switch (node.kind) {
    case builtin.reroute:
    case builtin.beacon:
    case builtin.tap:
    case builtin.feed:
      return false;
    case builtin.input:
    case builtin.output:
      return node.graph === doc.head.root;
    default:
      return node.inner === undefined;
  }
}

const offGraphs = new WeakMap<Doc, ReadonlySet<Id>>();

/** The nested graphs that are bypassed, with all that lie in them. O(nested graphs · depth), once for a version. */
function bypassedGraphs(doc: Doc): ReadonlySet<Id> {
  let found = offGraphs.get(doc);
  if (!found) {
    const off = new Set<Id>();
    for (const graph of doc.graphs.keys()) {
      const seen = new Set<Id>();
      for (let host = indexOf(doc).hostOf(graph); host && !seen.has(host.id); host = indexOf(doc).hostOf(host.graph)) {
        seen.add(host.id);
        if (host.bypassed) off.add(graph);
      }
    }
    found = off;
    offGraphs.set(doc, found);
  }
  return found;
}

/** Does the node lie in a nested graph that is bypassed, at whatever level? */
export const isInOff = (doc: Doc, node: GraphNode): boolean => bypassedGraphs(doc).has(node.graph);

/**
 * Is the node what the file is for: of a kind that is an end, or an output of the file? What is bypassed, or lies in a
 * nested graph that is, is no end.
 */
export const isFileEnd = (doc: Doc, kinds: Kinds, node: GraphNode): boolean =>
  (kinds.isEnd(node) && !isInOff(doc, node)) || (node.kind === builtin.output && node.graph === doc.head.root);

interface Hop {
  /** Go on at this input, and take only this component of what comes there. */
  readonly input?: PortRef;
  readonly part?: string;
  /** Arrived. */
  readonly output?: PortRef;
}

class Resolver {
  readonly findings: SaidFinding[] = [];
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly feeds: Feeds | undefined;
  private readonly known = new Map<string, Source | null>();
  private readonly loops = new Set<Id>();
  private readonly asked = new Set<string>();

  constructor(doc: Doc, kinds: Kinds, feeds?: Feeds) {
    this.doc = doc;
    this.kinds = kinds;
    this.feeds = feeds;
  }

  /** From an output of a node: what stands behind it. */
  private behind(node: GraphNode, port: string): Hop {
    if (node.kind === builtin.reroute || node.kind === builtin.beacon) return { input: { node: node.id, port: 'in' } };
    if (node.kind === builtin.tap) {
      const beacon = beaconOf(this.doc, node);
      return beacon ? { input: { node: beacon.id, port: 'in' } } : {};
    }
    if (node.bypassed) {
      const pass = passes(this.kinds, node, port, (input) => indexOf(this.doc).wireInto(node.id, input));
      return pass
        ? { input: { node: node.id, port: pass.input.id }, ...(pass.part !== undefined && { part: pass.part }) }
        : {};
    }
    const of = portOf(node, port, 'out')?.of;
    const part = of === undefined ? {} : { part: port.slice(of.length + 1) };
    if (node.inner !== undefined) {
      const inside = this.doc.nodes.get(of ?? port);
      return inside?.kind === builtin.output && inside.graph === node.inner
        ? { input: { node: inside.id, port: 'in' }, ...part }
        : {};
    }
    if (node.kind === builtin.input && node.graph !== this.doc.head.root) {
      const host = indexOf(this.doc).hostOf(node.graph);
      return host ? { input: { node: host.id, port: node.id }, ...part } : {};
    }
    return { output: { node: node.id, port } };
  }

  /** A component of what comes to an input; nothing where that has no such component. */
  private partAt(at: PortRef, part: string): Source | null {
    const asked = `${key(at.node, at.port)} ${part}`;
    // what asks for a component of itself gives nothing
    if (this.asked.has(asked)) return null;
    this.asked.add(asked);
    const whole = this.source(at.node, at.port);
    this.asked.delete(asked);
    const output = whole && portOf(this.doc.nodes.get(whole.node), whole.port, 'out');
    return output && hasPart(this.kinds, output.type, part) ? { ...whole, port: partId(whole.port, part) } : null;
  }

  /** Follows the wiring from an input until a node that computes; each input is followed once. */
  source(node: Id, input: string): Source | undefined {
    const start = key(node, input);
    const known = this.known.get(start);
    if (known !== undefined) return known ?? undefined;
    const trail: { key: string; node: Id }[] = [];
    const onTrail = new Set<string>();
    let at: PortRef = { node, port: input };
    let answer: { node: Id; port: string; through: readonly Id[]; feed?: Id } | null = null;
    let feed: Id | undefined;
    for (;;) {
      const here = key(at.node, at.port);
      const before = this.known.get(here);
      if (before !== undefined) {
        answer = before;
        feed = before?.feed ?? feed;
        break;
      }
      if (onTrail.has(here)) {
        this.reportLoop(at.node);
        break;
      }
      onTrail.add(here);
      trail.push({ key: here, node: at.node });
      const wire = indexOf(this.doc).wireInto(at.node, at.port);
      if (wire?.off) break;
      const next = wire ? wire.from : this.feedFor(at);
      if (!next) break;
      if (!wire) feed = (next as { feed?: Id }).feed;
      const from = this.doc.nodes.get(next.node);
      if (!from) break;
      const hop = this.behind(from, next.port);
      if (hop.output) {
        answer = { ...hop.output, through: [] };
        break;
      }
      if (!hop.input) break;
      at = hop.input;
      trail.push({ key: '', node: from.id });
      if (from.kind === builtin.tap) trail.push({ key: '', node: at.node });
      if (hop.part !== undefined) {
        answer = this.partAt(at, hop.part);
        feed = answer?.feed ?? feed;
        break;
      }
    }
    // every input on the way has the same answer, with what lies behind it as its way
    let through: readonly Id[] = answer?.through ?? [];
    for (let i = trail.length - 1; i >= 0; i--) {
      const step = trail[i] as { key: string; node: Id };
      if (step.key === '') through = [step.node, ...through];
      else
        this.known.set(
          step.key,
          answer && { node: answer.node, port: answer.port, through, ...(feed !== undefined && { feed }) },
        );
    }
    return this.known.get(start) ?? undefined;
  }

  private feedFor(at: PortRef): (PortRef & { feed: Id }) | undefined {
    const node = this.doc.nodes.get(at.node);
    return node && !node.bypassed && isConcrete(this.doc, node) ? this.feeds?.sourceFor(node, at.port) : undefined;
  }

  private reportLoop(id: Id): void {
    if (this.loops.has(id)) return;
    this.loops.add(id);
    const node = this.doc.nodes.get(id);
    if (node)
      this.findings.push(
        find('carrier-loop', 'warning', placeOf(this.doc, node.graph, id), 'loop-of-carriers', { node: node.name }),
      );
  }
}

/**
 * The one answer to what feeds what: through reroute points, bypassed nodes, beacons and taps, standing feeds and
 * nested graphs.
 * Made once for each version of a document. A source costs what lies on its way, and that once; consumers, nodes and
 * findings O(ports + carriers) when they are asked for first.
 */
export function effectiveWiring(doc: Doc, kinds: Kinds): EffectiveWiring {
  const before = known.get(doc);
  if (before?.kinds === kinds) return before.wiring;
  const wiring = new Effective(doc, kinds);
  known.set(doc, { kinds, wiring });
  return wiring;
}

const known = new WeakMap<Doc, { kinds: Kinds; wiring: EffectiveWiring }>();

const nothing: ReadonlySet<Id> = new Set();

class Effective implements EffectiveWiring {
  private readonly doc: Doc;
  private readonly feeds: Feeds | undefined;
  private readonly resolver: Resolver;
  private concrete: readonly GraphNode[] | undefined;
  private byOutput: Map<string, PortRef[]> | undefined;
  private onLinks: readonly SaidFinding[] | undefined;

  constructor(doc: Doc, kinds: Kinds) {
    this.doc = doc;
    const drawn = new Resolver(doc, kinds);
    this.feeds = Feeds.of(doc, kinds, (node, input) => drawn.source(node, input));
    this.resolver = this.feeds ? new Resolver(doc, kinds, this.feeds) : drawn;
  }

  source(node: Id, input: string): Source | undefined {
    return this.resolver.source(node, input);
  }

  consumers(node: Id, output: string): readonly PortRef[] {
    return this.outputs().get(key(node, output)) ?? [];
  }

  get nodes(): readonly GraphNode[] {
    this.concrete ??= [...this.doc.nodes.values()]
      .filter((node) => isConcrete(this.doc, node))
      .sort((a, b) => compareIds(a.id, b.id));
    return this.concrete;
  }

  feedOf(node: Id, input: string): Id | undefined {
    const at = this.doc.nodes.get(node);
    return at && this.feeds && !at.bypassed && isConcrete(this.doc, at) ? this.feeds.feedFor(at, input) : undefined;
  }

  feedLevels(node: Id, input: string): readonly (readonly GraphNode[])[] {
    const at = this.doc.nodes.get(node);
    return at && this.feeds && !at.bypassed && isConcrete(this.doc, at) ? this.feeds.levelsFor(at, input) : [];
  }

  get tangles(): readonly Tangle[] {
    return this.feeds?.tangles() ?? [];
  }

  suppliedBy(feed: Id): readonly PortRef[] {
    return this.feeds?.suppliedBy(feed) ?? [];
  }

  upstreamOf(feed: Id): ReadonlySet<Id> {
    return this.feeds?.upstreamOf(feed) ?? nothing;
  }

  get linkFindings(): readonly SaidFinding[] {
    this.onLinks ??= [...this.tangles.map(({ finding }) => finding), ...remoteFindings(this.doc)];
    return this.onLinks;
  }

  get findings(): readonly SaidFinding[] {
    this.outputs();
    return [...this.resolver.findings, ...this.linkFindings];
  }

  /** What takes from each output; asks every input once. */
  private outputs(): Map<string, PortRef[]> {
    if (this.byOutput) return this.byOutput;
    this.byOutput = new Map();
    for (const node of this.nodes) {
      for (const port of node.ports) {
        const source = port.direction === 'in' ? this.resolver.source(node.id, port.id) : undefined;
        if (!source) continue;
        const at = key(source.node, source.port);
        const list = this.byOutput.get(at);
        if (list) list.push({ node: node.id, port: port.id });
        else this.byOutput.set(at, [{ node: node.id, port: port.id }]);
      }
    }
    return this.byOutput;
  }
}
