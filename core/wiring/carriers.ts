import { builtin } from '../document/builtin.ts';
import { type Doc, graphPath, indexOf } from '../document/doc.ts';
import type { GraphNode } from '../document/schema.ts';

/** Does a kind of node give on what it takes, whatever that is? */
export const isCarrier = (kind: string): boolean => kind === builtin.reroute || kind === builtin.beacon || kind === builtin.tap;

/** The beacon that a tap hears: by id where the document has it, else by name in its own graph and then outwards. */
export function beaconOf(doc: Doc, tap: GraphNode): GraphNode | undefined {
  const wanted = tap.beacon;
  if (!wanted) return undefined;
  const known = wanted.id === undefined ? undefined : doc.nodes.get(wanted.id);
  if (known?.kind === builtin.beacon) return known;
  for (const graph of graphPath(doc, tap.graph).reverse()) {
    const heard = indexOf(doc)
      .nodesIn(graph)
      .find((node) => node.kind === builtin.beacon && node.name === wanted.name);
    if (heard) return heard;
  }
  return undefined;
}
