import { builtin } from '../document/builtin.ts';
import { caption } from '../document/doc.ts';
import { portPoint, rectOf } from '../document/geometry.ts';
import { typesIn } from '../document/kinds.ts';
import { freeName, legalName, namesIn } from '../document/names.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import type { Context } from '../operation.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { carriedType } from '../wiring/types.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { FreePlaces } from './places.ts';
import { refuse } from './sentences.ts';

export interface FeedOptions {
  readonly scope: 'graph' | 'frame';
  /** Ids of types; that of the output where empty. */
  readonly types: string;
  /** Take wires of the output away where the feed supplies the same. */
  readonly takeWires: boolean;
}

/** Puts a standing feed behind an output. Throws Refused with the reason. O(nodes log n + feedable inputs). */
export function addFeed(
  context: Context,
  wiring: Wiring,
  from: PortRef,
  options: FeedOptions,
): { feed: GraphNode; taken: number } {
  const { kinds } = context;
  const doc = wiring.tx.before;
  const source = must(doc.nodes.get(from.node));
  const given = carriedType(doc, kinds, from);
  const types = typesIn(options.types);
  if (types.length === 0) {
    if (given === 'any') throw refuse('type-unknown', { source: caption(source) });
    types.push(given);
  }
  for (const type of types) {
    if (!kinds.hasType(type)) throw refuse('no-type', { type, id: kinds.catalogue.types.map((one) => one.id) });
    if (!kinds.accepts(type, given))
      throw refuse('type-does-not-fit', {
        type: kinds.type(type).title,
        given: kinds.type(given).title,
        source: caption(source),
      });
  }
  if (options.scope === 'frame' && source.frame === undefined)
    throw refuse('source-in-no-frame', { source: caption(source) });
  const bare: GraphNode = {
    id: context.newId('n'),
    graph: source.graph,
    kind: builtin.feed,
    name: freeName(`${legalName(caption(source))}_feed`, namesIn(doc, source.graph)),
    x: 0,
    y: 0,
    ...(options.scope === 'frame' && { frame: must(source.frame) }),
    params: { types: types.join(', ') },
    ports: kinds.startPorts(builtin.feed),
  };
  const { width, height } = rectOf(doc, kinds, bare);
  const port = portPoint(doc, kinds, source, from.port, 'out') ?? source;
  const feed = { ...bare, ...new FreePlaces(doc, kinds, source.graph).beside(port, 'behind', { width, height }) };
  wiring.tx.add('nodes', feed);
  wiring.connect(from, { node: feed.id, port: 'in' });
  const needless = options.takeWires ? needlessWires(context, wiring, from, feed) : [];
  for (const wire of needless) wiring.disconnect(wire);
  return { feed, taken: needless.length };
}

/** The wires of an output whose inputs the feed would supply if they were not there. */
function needlessWires(context: Context, wiring: Wiring, from: PortRef, feed: GraphNode): Wire[] {
  const { kinds } = context;
  const wires = wiring
    .outOf(from)
    .filter((wire) => !wire.off && kinds.feedable(must(wiring.tx.get('nodes', wire.to.node)), wire.to.port));
  const trial = new Transaction(wiring.tx.doc);
  for (const wire of wires) trial.remove('wires', wire.id);
  const without = effectiveWiring(trial.doc, kinds);
  return wires.filter((wire) => without.feedOf(wire.to.node, wire.to.port) === feed.id);
}
