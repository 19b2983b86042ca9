import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import { readBy } from '../document/expressions.ts';
import { framesAround, titleOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { addTo } from '../group-by.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { must } from '../must.ts';
import type { SaidFinding } from '../said.ts';
import type { Source } from './effective.ts';
import { find } from './sentences.ts';

/** The standing feeds of a document. */
export const feedsOf = (doc: Doc): readonly GraphNode[] => indexOf(doc).nodesOfKind(builtin.feed);

/** The innermost frame that a node stands in, else its graph. */
export const standsIn = (node: GraphNode): Id => node.frame ?? node.graph;

/** What a scope is called: a frame by its title, a graph by its name. */
export function scopeTitle(doc: Doc, scope: Id): string {
  const frame = doc.frames.get(scope);
  return frame ? titleOf(frame) : (doc.graphs.get(scope)?.name ?? scope);
}

/** Feeds of which nobody can tell what they supply: for one type at one place, or in a ring over their sources. */
export interface Tangle {
  readonly feeds: readonly GraphNode[];
  /** At the first of them. */
  readonly finding: SaidFinding;
}

type SourceOf = (node: Id, input: string) => Source | undefined;

/** What a feed supplies: the frame or graph around it that it is said to cover, else its innermost frame or graph. */
export function feedScope(doc: Doc, feed: GraphNode): Id {
  const { covers } = feed;
  if (covers !== undefined) for (const scope of scopesAround(doc, feed)) if (scope === covers) return covers;
  return standsIn(feed);
}

/** The scopes around a node from the nearest outwards: frames, graph, then those around the host, and so on. */
export function* scopesAround(doc: Doc, node: GraphNode): Generator<Id> {
  let at: GraphNode | undefined = node;
  const seen = new Set<Id>();
  while (at && !seen.has(at.id)) {
    seen.add(at.id);
    for (const frame of framesAround(doc, at)) yield frame.id;
    yield at.graph;
    at = indexOf(doc).hostOf(at.graph);
  }
}

/** Standing feeds: who supplies an open input, innermost frame first, then outwards (docs/semantics.md). */
export class Feeds {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  /** What feeds what over drawn wires alone. */
  private readonly drawn: SourceOf;
  private readonly all: readonly GraphNode[];
  private readonly byScope = new Map<Id, GraphNode[]>();
  private readonly upstream = new Map<Id, ReadonlySet<Id>>();
  private readonly types = new Map<Id, readonly string[]>();
  /** The types that any feed is for. */
  private readonly offered = new Set<string>();
  private inputs: Map<Id, PortRef[]> | undefined;
  private known: readonly Tangle[] | undefined;

  /** Undefined where the document has none that is active. */
  static of(doc: Doc, kinds: Kinds, drawn: SourceOf): Feeds | undefined {
    const feeds = feedsOf(doc).filter((node) => !node.bypassed);
    return feeds.length > 0 ? new Feeds(doc, kinds, drawn, feeds) : undefined;
  }

  private constructor(doc: Doc, kinds: Kinds, drawn: SourceOf, feeds: readonly GraphNode[]) {
    this.doc = doc;
    this.kinds = kinds;
    this.drawn = drawn;
    this.all = [...feeds].sort((a, b) => compareIds(a.id, b.id));
    for (const feed of this.all) {
      const scope = feedScope(doc, feed);
      addTo(this.byScope, scope, feed);
      this.types.set(feed.id, kinds.feedTypes(feed));
      for (const type of kinds.feedTypes(feed)) this.offered.add(type);
    }
  }

  /** The feed that supplies an input; none where nothing comes to the nearest one. */
  feedFor(node: GraphNode, input: string): Id | undefined {
    return this.sourceFor(node, input)?.feed;
  }

  /** What a feed gives to an input that has no wire, drawn or switched off. */
  sourceFor(node: GraphNode, input: string): (PortRef & { feed: Id }) | undefined {
    const port = portAt(node.ports, input, 'in');
    if (
      !port ||
      !this.offered.has(port.type) ||
      !this.kinds.feedable(node, input) ||
      indexOf(this.doc).wireInto(node.id, input)
    )
      return undefined;
    for (const scope of scopesAround(this.doc, node)) {
      const offers = this.offers(scope, port.type);
      if (offers.length > 1) return undefined;
      const feed = offers[0];
      if (!feed) continue;
      const source = this.drawn(feed.id, 'in');
      if (!source || this.upstreamOf(feed.id).has(node.id)) return undefined;
      return { node: source.node, port: source.port, feed: feed.id };
    }
    return undefined;
  }

  /** The feeds that could supply an input by where they stand, those of the nearest scope first. O(depth). */
  levelsFor(node: GraphNode, input: string): GraphNode[][] {
    const port = portAt(node.ports, input, 'in');
    if (!port || !this.kinds.feedable(node, input) || indexOf(this.doc).wireInto(node.id, input)) return [];
    return [...scopesAround(this.doc, node)]
      .map((scope) => this.offers(scope, port.type))
      .filter((offers) => offers.length > 0);
  }

  suppliedBy(feed: Id): readonly PortRef[] {
    return this.supplied().get(feed) ?? [];
  }

  /** Feeds that clash, and those that supply one another’s sources. O(feeds · inputs), once. */
  tangles(): readonly Tangle[] {
    this.known ??= [
      ...this.clashes(),
      ...this.rings().map((feeds) => {
        const [place, names] = this.told(feeds);
        return { feeds, finding: find('feed-loop', 'warning', place, 'feed-loop', { names }) };
      }),
    ];
    return this.known;
  }

  private offers(scope: Id, type: string): GraphNode[] {
    return (this.byScope.get(scope) ?? []).filter((feed) => must(this.types.get(feed.id)).includes(type));
  }

  /** Every input that is supplied, by feed, in order of ids. O(nodes of kinds with feedable inputs). */
  private supplied(): Map<Id, PortRef[]> {
    if (this.inputs) return this.inputs;
    this.inputs = new Map();
    for (const node of this.kinds.feedableKinds().flatMap((kind) => indexOf(this.doc).nodesOfKind(kind))) {
      if (node.bypassed) continue;
      for (const port of node.ports) {
        const feed = port.direction === 'in' ? this.feedFor(node, port.id) : undefined;
        if (feed === undefined) continue;
        const list = this.inputs.get(feed);
        if (list) list.push({ node: node.id, port: port.id });
        else this.inputs.set(feed, [{ node: node.id, port: port.id }]);
      }
    }
    for (const list of this.inputs.values()) list.sort((a, b) => compareIds(a.node, b.node));
    return this.inputs;
  }

  /** Where feeds are spoken of, and by what names. */
  private told(feeds: readonly GraphNode[]): [place: Id[], names: string] {
    const first = must(feeds[0]);
    return [placeOf(this.doc, first.graph, first.id), feeds.map((feed) => `“${caption(feed)}”`).join(' and ')];
  }

  private clashes(): Tangle[] {
    const found: Tangle[] = [];
    for (const [scope, feeds] of this.byScope)
      for (const type of new Set(feeds.flatMap((feed) => must(this.types.get(feed.id))))) {
        const offers = this.offers(scope, type);
        if (offers.length < 2) continue;
        const [place, names] = this.told(offers);
        const said = { names, type: this.kinds.type(type).title };
        found.push({ feeds: offers, finding: find('feeds-clash', 'warning', place, 'feeds-clash', said) });
      }
    return found;
  }

  /** Feeds that supply what one another’s sources take, in order of ids. */
  private rings(): GraphNode[][] {
    const before = this.all.map((feed) => {
      const needs = this.upstreamOf(feed.id);
      return this.all.flatMap((other, i) =>
        other !== feed && this.suppliedBy(other.id).some((input) => needs.has(input.node)) ? [i] : [],
      );
    });
    return stronglyConnected(before)
      .filter((ring) => ring.length > 1)
      .map((ring) => [...ring].sort((a, b) => a - b).map((i) => must(this.all[i])));
  }

  /** All nodes that the feed's own source depends on, itself included, over drawn wires and expressions only. */
  upstreamOf(feed: Id): ReadonlySet<Id> {
    let set = this.upstream.get(feed);
    if (!set) {
      const reached = new Set<Id>();
      const todo: Id[] = [];
      const visit = (source: Source | undefined): void => {
        if (source && !reached.has(source.node)) {
          reached.add(source.node);
          todo.push(source.node);
        }
      };
      visit(this.drawn(feed, 'in'));
      for (let id = todo.pop(); id !== undefined; id = todo.pop()) {
        const node = this.doc.nodes.get(id);
        if (!node) continue;
        for (const port of node.ports) if (port.direction === 'in') visit(this.drawn(id, port.id));
        // an expression reads as a wire does
        for (const read of readBy(this.doc, node))
          if (!reached.has(read)) {
            reached.add(read);
            todo.push(read);
          }
      }
      set = reached;
      this.upstream.set(feed, set);
    }
    return set;
  }
}
