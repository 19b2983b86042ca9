import { type Doc, graphPath, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { addTo } from '../group-by.ts';
import { must } from '../must.ts';
import { isConcrete } from '../wiring/effective.ts';
import { dependencyGraph, reversed } from './graph/dependency-graph.ts';
import { waysBetween } from './graph/paths.ts';
import { carriedBy } from './reach.ts';
import { allOn, countingNow } from './standing.ts';

/** The ways that data takes from one node to another, as the graph shows them in which both are seen. */
export interface Paths {
  readonly from: Id;
  readonly to: Id;
  readonly shortest: readonly Id[];
  /** Everything on any of them, with what carries data between. */
  readonly all: readonly Id[];
  /** What each of them passes, the two ends left out. */
  readonly passed: readonly Id[];
  /** Undefined where a cycle lies on the way, so that there is no end to them. */
  readonly count: number | undefined;
  /** None of them is there now: they would be if all that is switched off were on. */
  readonly ifOn: boolean;
}

/**
 * The ways between two nodes, whichever comes first; undefined where neither depends on the other. Where none leads
 * there now, those that would if all that is switched off were on. A nested graph on the way is one thing, however many
 * ways lead through what it holds; of two wires between the same two things there is one way.
 * O(edges · log nodes), and O(nodes · outputs) inside nested graphs on the way.
 */
export function pathsBetween(doc: Doc, kinds: Kinds, one: Id, other: Id): Paths | undefined {
  if (!doc.nodes.has(one) || !doc.nodes.has(other)) return undefined;
  const either = (of: Doc, ifOn: boolean): Paths | undefined =>
    new Ways(of, kinds, one, other, ifOn).find() ?? new Ways(of, kinds, other, one, ifOn).find();
  const now = either(doc, false);
  if (now) return now;
  const on = allOn(doc);
  return on === doc ? undefined : either(on, true);
}

/** The dependency graph as one sees it from outside of the nested graphs that neither end lies in. */
class Ways {
  private readonly doc: Doc;
  private readonly from: Id;
  private readonly to: Id;
  private readonly ifOn: boolean;
  private readonly graph: ReturnType<typeof dependencyGraph>;
  private readonly kinds: Kinds;
  private readonly counts: ReadonlySet<number>;
  /** The graphs that are looked into: those around both ends. */
  private readonly open: ReadonlySet<Id>;
  /** What is seen: nodes that compute, and outputs of nested graphs by the node inside that they come from. */
  private readonly ids: Id[] = [];
  private readonly places = new Map<string, number>();
  private readonly edges: Map<number, Set<Id>>[] = [];
  private readonly holders = new Map<number, Id | undefined>();

  constructor(doc: Doc, kinds: Kinds, from: Id, to: Id, ifOn: boolean) {
    this.doc = doc;
    this.kinds = kinds;
    this.from = from;
    this.to = to;
    this.ifOn = ifOn;
    this.graph = dependencyGraph(doc, kinds);
    this.counts = countingNow(doc, kinds);
    this.open = new Set([from, to].flatMap((id) => graphPath(doc, must(doc.nodes.get(id)).graph)));
  }

  find(): Paths | undefined {
    const { doc, graph } = this;
    for (const i of this.counts) {
      const holder = this.holderOf(i);
      if (holder === undefined || holder === this.to) this.entries(i, this.place(i));
      else if (must(graph.after[i]).some((k) => this.counts.has(k) && this.holderOf(k) !== holder))
        this.entriesOfExit(i, holder, this.place(i));
    }
    const edges = this.ids.map((id, i) =>
      id === this.to ? [] : [...must(this.edges[i]).keys()].filter((k) => this.ids[k] !== this.from),
    );
    const [start, goal] = [this.standIns(this.from, 'out'), this.standIns(this.to, 'in')];
    const ways = waysBetween(edges, reversed(edges), start, goal);
    if (!ways) return undefined;
    const idsOf = (places: Iterable<number>): Id[] => [...new Set([...places].map((i) => must(this.ids[i])))];
    const carriers = new Set<Id>();
    for (const i of ways.all)
      for (const [k, through] of must(this.edges[i])) if (ways.all.has(k)) for (const id of through) carriers.add(id);
    const all = new Set([this.from, ...idsOf(ways.all), ...carriers, this.to]);
    return {
      from: this.from,
      to: this.to,
      shortest: idsOf(ways.shortest),
      all: [...all].filter((id) => doc.nodes.has(id)),
      passed: idsOf(ways.passed).filter((id) => id !== this.from && id !== this.to),
      count: ways.count,
      ifOn: this.ifOn,
    };
  }

  /** The node that holds the outermost nested graph around a node which is not looked into. */
  private holderOf(i: number): Id | undefined {
    if (!this.holders.has(i)) {
      const closed = graphPath(this.doc, must(this.graph.nodes[i]).graph).find((id) => !this.open.has(id));
      this.holders.set(i, closed === undefined ? undefined : indexOf(this.doc).hostOf(closed)?.id);
    }
    return this.holders.get(i);
  }

  /** Where a node that computes is found among what is seen; what lies in an end of the ways is that end. */
  private place(i: number): number {
    const holder = this.holderOf(i);
    const id = holder ?? must(this.graph.nodes[i]).id;
    const key = holder === undefined || holder === this.to ? id : `${holder} ${i}`;
    let place = this.places.get(key);
    if (place === undefined) {
      place = this.ids.push(id) - 1;
      this.edges.push(new Map());
      this.places.set(key, place);
    }
    return place;
  }

  private edge(from: number, to: number, through: readonly Id[]): void {
    if (from === to) return;
    const known = must(this.edges[from]).get(to);
    if (known) for (const id of through) known.add(id);
    else must(this.edges[from]).set(to, new Set(through));
  }

  /** What a node reads from outside of what it lies in. */
  private entries(i: number, to: number, holder = this.holderOf(i)): number[] {
    const { nodes, before, inputs, at } = this.graph;
    const through = new Map<number, Id[]>();
    for (const { source } of must(inputs[i])) {
      const k = must(at.get(source.node));
      for (const carrier of source.through) addTo(through, k, carrier);
    }
    const inside: number[] = [];
    for (const k of must(before[i])) {
      if (holder !== undefined && this.holderOf(k) === holder) inside.push(k);
      else if (nodes[k]) this.edge(this.place(k), to, through.get(k) ?? []);
    }
    return inside;
  }

  /** What one output of a nested graph depends on outside of it. */
  private entriesOfExit(exit: number, holder: Id, to: number): void {
    const seen = new Set([exit]);
    for (const i of seen) for (const k of this.entries(i, to, holder)) seen.add(k);
  }

  /** Where ways begin or end for a node: itself, or, where it only carries data, what is nearest behind and before. */
  private standIns(id: Id, side: 'in' | 'out'): Set<number> {
    const node = must(this.doc.nodes.get(id));
    if (node.inner !== undefined || isConcrete(this.doc, node))
      return new Set(this.ids.flatMap((one, place) => (one === id ? [place] : [])));
    return new Set(
      carriedBy(this.doc, this.kinds, id, side === 'in' ? 'up' : 'down').flatMap((one) => {
        const i = this.graph.at.get(one);
        return i !== undefined && this.counts.has(i) ? [this.place(i)] : [];
      }),
    );
  }
}
