import { builtin } from '../document/builtin.ts';
import { type Doc, graphPath, indexOf, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { SaidFinding } from '../said.ts';
import { find } from './sentences.ts';

/** Does a kind of node give on what it takes, whatever that is? */
export const isCarrier = (kind: string): boolean =>
  kind === builtin.reroute || kind === builtin.beacon || kind === builtin.tap;

/**
 * The beacon that a tap hears: by id where the document has it, else by name in its own graph and then outwards; the
 * nearest wins. O(depth).
 */
export function beaconOf(doc: Doc, tap: GraphNode): GraphNode | undefined {
  const wanted = tap.beacon;
  if (!wanted) return undefined;
  const known = wanted.id === undefined ? undefined : doc.nodes.get(wanted.id);
  if (known?.kind === builtin.beacon) return known;
  const called = beaconsCalled(doc, wanted.name);
  if (called.length === 0) return undefined;
  for (const graph of graphPath(doc, tap.graph).reverse()) {
    const heard = called.find((node) => node.graph === graph);
    if (heard) return heard;
  }
  return undefined;
}

const beaconsCalled = (doc: Doc, name: string): GraphNode[] =>
  indexOf(doc)
    .nodesNamed(name)
    .filter((node) => node.kind === builtin.beacon);

/**
 * All beacons that a name could mean from a graph: its own, then those further out. The first is the one that is heard.
 */
function beaconsInReach(doc: Doc, graph: Id, name: string): GraphNode[] {
  const path = graphPath(doc, graph).reverse();
  return beaconsCalled(doc, name)
    .filter((node) => path.includes(node.graph))
    .sort((a, b) => path.indexOf(a.graph) - path.indexOf(b.graph));
}

const ends = new WeakMap<ReadonlyMap<Id, GraphNode>, ReadonlyMap<Id, readonly GraphNode[]>>();

/**
 * The taps that hear a beacon, in all graphs. First call for a version of the nodes O(taps · depth), later ones O(1).
 */
export function tapsOf(doc: Doc, beacon: Id): readonly GraphNode[] {
  let byBeacon = ends.get(doc.nodes);
  if (!byBeacon) {
    const found = new Map<Id, GraphNode[]>();
    for (const tap of indexOf(doc).nodesOfKind(builtin.tap)) {
      const heard = beaconOf(doc, tap);
      if (!heard) continue;
      const list = found.get(heard.id);
      if (list) list.push(tap);
      else found.set(heard.id, [tap]);
    }
    byBeacon = found;
    ends.set(doc.nodes, byBeacon);
  }
  return byBeacon.get(beacon) ?? [];
}

/**
 * Taps that have lost their beacon, and those that hear by name where several beacons on their way out have it. O(taps
 * · depth).
 */
export function remoteFindings(doc: Doc): SaidFinding[] {
  return indexOf(doc)
    .nodesOfKind(builtin.tap)
    .flatMap((tap) => {
      const place = placeOf(doc, tap.graph, tap.id);
      const heard = beaconOf(doc, tap);
      const name = tap.beacon?.name ?? '';
      if (!heard) return [find('lost-tap', 'warning', place, 'beacon-not-there', { tap: tap.name, name })];
      const called = beaconsInReach(doc, tap.graph, heard.name);
      const graphName = (node: GraphNode): string => `“${doc.graphs.get(node.graph)?.name ?? node.graph}”`;
      if (heard.id !== tap.beacon?.id && called.length > 1)
        return [
          find('beacon-name-repeats', 'info', place, 'heard-by-name', {
            tap: tap.name,
            name,
            heard: graphName(heard),
            called: graphName(must(called[1])),
          }),
        ];
      if (heard.id === tap.beacon?.id && called[0] && called[0].id !== heard.id)
        return [
          find('beacon-name-repeats', 'info', place, 'nearer-beacon', {
            tap: tap.name,
            name,
            heard: graphName(heard),
            called: graphName(called[0]),
          }),
        ];
      return [];
    });
}
