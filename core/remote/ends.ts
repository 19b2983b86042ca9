import { builtin } from '../document/builtin.ts';
import { caption, type Doc, graphPath, indexOf } from '../document/doc.ts';
import { titleOf } from '../document/geometry.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import type { EffectiveWiring } from '../wiring/effective.ts';
import { portOf } from '../wiring/types.ts';

/**
 * How one end of a remote link, or a standing feed, stands. A beacon is `heard` or `unheard`, a tap `fed` or `lost`, a
 * feed `heard` where it supplies something; each is `open` where nothing comes to its source.
 */
export type EndState = 'heard' | 'unheard' | 'fed' | 'lost' | 'open';

export const isEnd = (kind: string): boolean =>
  kind === builtin.beacon || kind === builtin.tap || kind === builtin.feed;

/** How a beacon, tap or feed stands; undefined for other nodes. */
export function endState(doc: Doc, wiring: EffectiveWiring, node: GraphNode): EndState | undefined {
  switch (node.kind) {
    case builtin.beacon:
      if (!wiring.source(node.id, 'in')) return 'open';
      return tapsOf(doc, node.id).length > 0 ? 'heard' : 'unheard';
    case builtin.tap: {
      const beacon = beaconOf(doc, node);
      if (!beacon) return 'lost';
      return wiring.source(beacon.id, 'in') ? 'fed' : 'open';
    }
    case builtin.feed:
      if (!wiring.source(node.id, 'in')) return 'open';
      return wiring.suppliedBy(node.id).length > 0 ? 'heard' : 'unheard';
    default:
      return undefined;
  }
}

/**
 * The other ends of a remote link: the taps of a beacon, or the beacon of a tap with the other taps behind it; the
 * nodes that a feed supplies, or the feeds of a node.
 */
export function otherEnds(doc: Doc, wiring: EffectiveWiring, node: GraphNode): GraphNode[] {
  if (node.kind === builtin.beacon) return [...tapsOf(doc, node.id)];
  if (node.kind === builtin.tap) {
    const beacon = beaconOf(doc, node);
    return beacon ? [beacon, ...tapsOf(doc, beacon.id).filter((tap) => tap.id !== node.id)] : [];
  }
  const ids =
    node.kind === builtin.feed
      ? wiring.suppliedBy(node.id).map((at) => at.node)
      : node.ports.flatMap((port) => (port.direction === 'in' ? (wiring.feedOf(node.id, port.id) ?? []) : []));
  return [...new Set(ids)].map((id) => must(doc.nodes.get(id)));
}

/** What an end is used for, in words: the inputs that a tap gives to; what a beacon or feed takes from. */
export function endUse(doc: Doc, node: GraphNode): string {
  const named = (end: PortRef, direction: 'in' | 'out'): string =>
    `${portOf(doc.nodes.get(end.node), end.port, direction)?.name ?? end.port} of ${caption(must(doc.nodes.get(end.node)))}`;
  if (node.kind !== builtin.tap) {
    const wire = indexOf(doc).wireInto(node.id, 'in');
    return wire ? `takes ${named(wire.from, 'out')}` : 'takes nothing';
  }
  const [first, ...rest] = indexOf(doc).wiresFrom(node.id);
  if (!first) return 'gives to nothing';
  return `feeds ${named(first.to, 'in')}${rest.length > 0 ? ` and ${rest.length} more` : ''}`;
}

/** Where a node is, in words: its frame, and the graphs from the outermost in. */
export function endPlace(doc: Doc, node: GraphNode): string {
  const graphs = graphPath(doc, node.graph).map((graph) => doc.graphs.get(graph)?.name ?? graph);
  const frame = node.frame === undefined ? undefined : doc.frames.get(node.frame);
  return [...(frame ? [titleOf(frame)] : []), graphs.join(' / ')].join(', in ');
}

/** The node that computes behind a beacon, tap or feed, however many carriers lie between. */
export function nodeBehind(doc: Doc, wiring: EffectiveWiring, node: GraphNode): GraphNode | undefined {
  const end = node.kind === builtin.tap ? beaconOf(doc, node) : node;
  const source = end && wiring.source(end.id, 'in');
  return source && doc.nodes.get(source.node);
}
