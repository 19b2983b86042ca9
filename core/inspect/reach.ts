import { builtin } from '../document/builtin.ts';
import { type Doc, graphPath, indexOf } from '../document/doc.ts';
import { readBy } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { must } from '../must.ts';
import { beaconOf } from '../wiring/carriers.ts';
import { effectiveWiring, isConcrete } from '../wiring/effective.ts';

/**
 * One dependency: `to` reads what `from` gives, over carriers, bypassed nodes and nested graphs, nearest to `to` first.
 */
interface Hop {
  readonly from: Id;
  readonly to: Id;
  readonly through: readonly Id[];
}

/** Every hop by either end, and by what it passes through. */
export interface Links {
  readonly up: ReadonlyMap<Id, readonly Hop[]>;
  readonly down: ReadonlyMap<Id, readonly Hop[]>;
  readonly through: ReadonlyMap<Id, readonly Hop[]>;
}

const made = new WeakMap<Doc, { kinds: Kinds; links: Links }>();

/**
 * Every hop of effective wiring, those into carriers among them, and the references of expressions. Where data is open,
 * the drawn wire counts, so that nobody loses sight of what hangs there. O(ports + carriers), made once for a version.
 */
export function linksOf(doc: Doc, kinds: Kinds): Links {
  const known = made.get(doc);
  if (known?.kinds === kinds) return known.links;
  const links = { up: new Map<Id, Hop[]>(), down: new Map<Id, Hop[]>(), through: new Map<Id, Hop[]>() };
  const put = (map: Map<Id, Hop[]>, id: Id, hop: Hop): void => {
    const list = map.get(id);
    if (list) list.push(hop);
    else map.set(id, [hop]);
  };
  const link = (from: Id, to: Id, through: readonly Id[]): void => {
    const hop = { from, to, through };
    put(links.up, to, hop);
    put(links.down, from, hop);
    for (const id of through) put(links.through, id, hop);
  };
  const index = indexOf(doc);
  const wiring = effectiveWiring(doc, kinds);
  const follow = (to: Id, node: Id, port: string): void => {
    const source = wiring.source(node, port);
    if (source) link(source.node, to, source.through);
    else {
      const wire = index.wireInto(node, port);
      if (wire && !wire.off) link(wire.from.node, to, []);
    }
  };
  for (const node of doc.nodes.values()) {
    // what a nested graph takes is taken by its boundary nodes
    if (node.inner === undefined)
      for (const port of node.ports) if (port.direction === 'in') follow(node.id, node.id, port.id);
    const host = node.kind === builtin.input ? index.hostOf(node.graph) : undefined;
    if (host) follow(node.id, host.id, node.id);
    const beacon = node.kind === builtin.tap ? beaconOf(doc, node) : undefined;
    if (beacon) {
      const source = wiring.source(beacon.id, 'in');
      if (source) link(source.node, node.id, [beacon.id, ...source.through]);
      else link(beacon.id, node.id, []);
    }
    for (const referred of readBy(doc, node)) link(referred, node.id, []);
  }
  made.set(doc, { kinds, links });
  return links;
}

/**
 * Walks hops from a set: what lies on the way is found, but only the ends go on. How many steps away each is, the
 * nearest first.
 */
function walk(
  doc: Doc,
  links: Links,
  from: Iterable<Id>,
  directions: readonly ('up' | 'down')[],
  steps: number,
): Map<Id, number> {
  const start = new Set<Id>();
  for (const id of from) for (const inner of withInside(doc, id)) start.add(inner);
  const seen = new Map<Id, number>([...start].map((id) => [id, 0]));
  let front: readonly Id[] = [...start];
  for (let step = 0; step < steps && front.length > 0; step++) {
    const next: Id[] = [];
    const reached = (id: Id, goesOn: boolean): void => {
      if (seen.has(id)) return;
      seen.set(id, step + 1);
      if (goesOn) next.push(id);
    };
    for (const id of front) {
      for (const direction of directions) {
        const isUp = direction === 'up';
        // a carrier that one starts from lies on the way of hops; one that is come by does not count for more than its
        // hop
        const hops = start.has(id)
          ? [...(links[direction].get(id) ?? []), ...(isUp ? [] : (links.through.get(id) ?? []))]
          : (links[direction].get(id) ?? []);
        for (const hop of hops) {
          const way = isUp ? hop.through : [...hop.through].reverse();
          for (const carrier of way.slice(way.indexOf(id) + 1)) reached(carrier, directions.length === 2);
          const other = isUp ? hop.from : hop.to;
          const node = doc.nodes.get(other);
          reached(
            other,
            !isUp || directions.length === 2 || (node !== undefined && !node.bypassed && node.inner === undefined),
          );
        }
      }
    }
    front = next;
  }
  for (const id of start) seen.delete(id);
  return seen;
}

/**
 * The same as `reach`, with how many steps away each is: 1 for what is wired to them directly, or over carriers alone.
 * O(hops reached).
 */
export function reachSteps(
  doc: Doc,
  kinds: Kinds,
  from: Iterable<Id>,
  direction: 'up' | 'down',
): ReadonlyMap<Id, number> {
  return walk(doc, linksOf(doc, kinds), from, [direction], Number.POSITIVE_INFINITY);
}

/**
 * All nodes that the given ones depend on (`up`), or that depend on them (`down`), nearest first, without themselves;
 * through remote links, feeds, reroute points, bypassed nodes and nested graphs. `steps` counts hops between nodes that
 * compute.
 * O(hops reached).
 */
export function reach(
  doc: Doc,
  kinds: Kinds,
  from: Iterable<Id>,
  direction: 'up' | 'down',
  steps = Number.POSITIVE_INFINITY,
): Id[] {
  return [...walk(doc, linksOf(doc, kinds), from, [direction], steps).keys()];
}

/**
 * The nodes that compute next to one that only carries data. Where nothing comes to it, what hangs there by drawn wires
 * and remote links, so that it is seen who would starve.
 */
export function carriedBy(doc: Doc, kinds: Kinds, id: Id, direction: 'up' | 'down'): Id[] {
  const carries = (one: Id): boolean => {
    const node = doc.nodes.get(one);
    return node !== undefined && node.inner === undefined && !isConcrete(doc, node);
  };
  if (!carries(id)) return [];
  const hops = linksOf(doc, kinds);
  const found = new Set<Id>();
  const seen = new Set([id]);
  for (const one of seen)
    for (const hop of [...(hops.through.get(one) ?? []), ...(hops[direction].get(one) ?? [])]) {
      const next = direction === 'up' ? hop.from : hop.to;
      if (carries(next)) seen.add(next);
      else found.add(next);
    }
  return [...found];
}

/** Everything that hangs together with the given nodes, whichever way data flows; themselves left out. */
export function connected(doc: Doc, kinds: Kinds, from: Iterable<Id>): Id[] {
  return [...walk(doc, linksOf(doc, kinds), from, ['up', 'down'], Number.POSITIVE_INFINITY).keys()];
}

/** The node and, where it holds a nested graph, all nodes in it. */
export function withInside(doc: Doc, id: Id): Id[] {
  const found: Id[] = [id];
  for (let i = 0; i < found.length; i++) {
    const inner = doc.nodes.get(must(found[i]))?.inner;
    if (inner !== undefined)
      found.push(
        ...indexOf(doc)
          .nodesIn(inner)
          .map((node) => node.id),
      );
  }
  return found;
}

/**
 * The same nodes as one graph sees them: those in it, and for those deeper the host in it. What lies elsewhere is left
 * out.
 */
export function seenFrom(doc: Doc, graph: Id, ids: Iterable<Id>): Id[] {
  const found = new Set<Id>();
  const depth = graphPath(doc, graph).length;
  for (const id of ids) {
    const node = doc.nodes.get(id);
    if (!node) continue;
    if (node.graph === graph) {
      found.add(id);
      continue;
    }
    const path = graphPath(doc, node.graph);
    if (path[depth - 1] !== graph) continue;
    const host = indexOf(doc).hostOf(must(path[depth]));
    if (host) found.add(host.id);
  }
  return [...found];
}
