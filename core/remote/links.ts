import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import { portPoint, rectOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import { freeName, legalName, namesIn, type Taken } from '../document/names.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { beaconOf } from '../wiring/carriers.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { proposeName } from './names.ts';
import { FreePlaces } from './places.ts';
import { refuse } from './sentences.ts';

/** Wires of one output that become taps. `name`: of the beacon, where one is made; proposed where absent. */
export interface LinkRequest {
  readonly from: PortRef;
  readonly wires: readonly Wire[];
  readonly name?: string | undefined;
}

/**
 * Who shares a tap: each input has its own, or the inputs of one node share one, or those of all nodes of one frame.
 */
export const sharings = ['input', 'node', 'frame'] as const;
export type Sharing = (typeof sharings)[number];

export interface Linked {
  readonly beacons: Id[];
  readonly taps: Id[];
  readonly wires: number;
}

/** Does a wire lead to a beacon, so that it is the link itself? */
export const leadsToBeacon = (doc: Doc, wire: Wire): boolean => doc.nodes.get(wire.to.node)?.kind === builtin.beacon;

/**
 * Turns wires into remote links: the output gets a beacon, unless it has one or is an end of a link itself, and each
 * consumer a tap; the wires stay the same wires and start from the tap. What feeds what does not change. Nothing else
 * moves. Throws Refused. O(nodes log n + wires).
 */
export class Linker {
  private readonly wiring: Wiring;
  private readonly newId: (prefix: string) => string;
  private readonly doc: Doc;
  private readonly places = new Map<Id, FreePlaces>();
  private readonly names = new Map<Id, Taken>();
  /** Beacons that were made by now, by output. */
  private readonly made = new Map<string, GraphNode>();

  constructor(wiring: Wiring, newId: (prefix: string) => string) {
    this.wiring = wiring;
    this.newId = newId;
    this.doc = wiring.tx.before;
  }

  link(request: LinkRequest, sharing: Sharing): Linked {
    const wires = request.wires.filter((wire) => !leadsToBeacon(this.doc, wire)).sort((a, b) => compareIds(a.id, b.id));
    if (wires.length === 0) return { beacons: [], taps: [], wires: 0 };
    const { beacon, made } = this.beaconFor(
      request.from,
      wires.map((wire) => wire.to),
      request.name,
    );
    const groups = new Map<string, Wire[]>();
    for (const wire of wires) {
      const key = this.groupOf(wire, sharing);
      const group = groups.get(key);
      if (group) group.push(wire);
      else groups.set(key, [wire]);
    }
    const taps = [...groups.values()].map((group) => this.tapFor(beacon, group));
    // a tap whose wires all have taps of their own now is needed no longer
    const source = must(this.doc.nodes.get(request.from.node));
    if (source.kind === builtin.tap && this.wiring.of(source.id).length === 0)
      this.wiring.tx.remove('nodes', source.id);
    return { beacons: made ? [beacon.id] : [], taps, wires: wires.length };
  }

  private groupOf(wire: Wire, sharing: Sharing): string {
    const to = must(this.doc.nodes.get(wire.to.node));
    if (sharing === 'frame' && to.frame !== undefined) return `frame ${to.frame}`;
    return sharing === 'input' ? wire.id : to.id;
  }

  placesIn(graph: Id): FreePlaces {
    let places = this.places.get(graph);
    if (!places) {
      places = new FreePlaces(this.doc, this.wiring.kinds, graph);
      this.places.set(graph, places);
    }
    return places;
  }

  namesIn(graph: Id): Taken {
    let names = this.names.get(graph);
    if (!names) {
      names = namesIn(this.doc, graph);
      this.names.set(graph, names);
    }
    return names;
  }

  /**
   * The beacon that carries what an output gives: itself, the one that a tap hears, one that is wired to it, or a new
   * one.
   */
  beaconFor(from: PortRef, uses: readonly PortRef[], name: string | undefined): { beacon: GraphNode; made: boolean } {
    const source = must(this.doc.nodes.get(from.node));
    if (source.kind === builtin.beacon) return { beacon: source, made: false };
    if (source.kind === builtin.tap) {
      const heard = beaconOf(this.doc, source);
      if (!heard) throw refuse('tap-without-beacon', { source: source.name, beacon: source.beacon?.name });
      return { beacon: heard, made: false };
    }
    const there = indexOf(this.doc)
      .wiresOutOf(from.node, from.port)
      .find((wire) => !wire.off && leadsToBeacon(this.doc, wire));
    if (there) return { beacon: must(this.doc.nodes.get(there.to.node)), made: false };
    const key = `${from.node} ${from.port}`;
    const fresh = this.made.get(key);
    if (fresh) return { beacon: fresh, made: false };
    const beacon = this.newBeacon(from, uses, name);
    this.made.set(key, beacon);
    return { beacon, made: true };
  }

  /** Makes a beacon of a reroute point where it stands; its wires stay. */
  ofPoint(point: GraphNode, name: string): GraphNode {
    const { tx, kinds } = this.wiring;
    const wire = indexOf(this.doc).wireInto(point.id, 'in');
    const taken = this.namesIn(point.graph);
    const uses = indexOf(this.doc)
      .wiresFrom(point.id)
      .map((one) => one.to);
    const proposed = (): string =>
      point.label || !wire
        ? freeName(legalName(point.label || point.name), taken)
        : proposeName(this.doc, kinds, wire.from, uses, taken);
    const { label: _, size: __, ...rest } = point;
    const beacon: GraphNode = { ...rest, kind: builtin.beacon, name: name || proposed() };
    const [old, now] = [rectOf(this.doc, kinds, point), rectOf(this.doc, kinds, beacon)];
    tx.set('nodes', point.id, 'kind', beacon.kind);
    tx.set('nodes', point.id, 'name', beacon.name);
    tx.set('nodes', point.id, 'label', undefined);
    tx.set('nodes', point.id, 'size', undefined);
    tx.move(
      point.id,
      Math.round(point.x + (old.width - now.width) / 2),
      Math.round(point.y + (old.height - now.height) / 2),
    );
    return beacon;
  }

  private newBeacon(from: PortRef, uses: readonly PortRef[], name: string | undefined): GraphNode {
    const { tx, kinds } = this.wiring;
    const source = must(this.doc.nodes.get(from.node));
    const taken = this.namesIn(source.graph);
    const beacon: GraphNode = {
      id: this.newId('n'),
      graph: source.graph,
      kind: builtin.beacon,
      name: name ? freeName(name, taken) : proposeName(this.doc, kinds, from, uses, taken),
      x: 0,
      y: 0,
      ...(source.frame !== undefined && { frame: source.frame }),
      ports: kinds.startPorts(builtin.beacon),
    };
    const { width, height } = rectOf(this.doc, kinds, beacon);
    const port = portPoint(this.doc, kinds, source, from.port, 'out') ?? source;
    const placed = { ...beacon, ...this.placesIn(source.graph).beside(port, 'behind', { width, height }) };
    tx.add('nodes', placed);
    this.wiring.connect(from, { node: placed.id, port: 'in' });
    return placed;
  }

  private tapFor(beacon: GraphNode, wires: readonly Wire[]): Id {
    const first = must(this.doc.nodes.get(must(wires[0]).to.node));
    const ports = wires.map(
      (wire) =>
        portPoint(this.doc, this.wiring.kinds, must(this.doc.nodes.get(wire.to.node)), wire.to.port, 'in') ?? first,
    );
    // several share the tap: it stands before the one that comes first
    const places = this.placesIn(first.graph);
    const tap = this.newTap(beacon, first.graph, first.frame, (size) =>
      places.beside(places.first(ports), 'before', size),
    );
    this.wiring.carryAll(wires.map((wire) => ({ wire, from: { node: tap, port: 'out' } })));
    return tap;
  }

  /** A tap of a beacon, in a graph and frame, placed by its size. */
  newTap(
    beacon: GraphNode,
    graph: Id,
    frame: Id | undefined,
    place: (size: { width: number; height: number }) => { x: number; y: number },
  ): Id {
    const { tx, kinds } = this.wiring;
    const tap: GraphNode = {
      id: this.newId('n'),
      graph,
      kind: builtin.tap,
      name: freeName(`${beacon.name}_tap`, this.namesIn(graph)),
      x: 0,
      y: 0,
      ...(frame !== undefined && { frame }),
      beacon: { id: beacon.id, name: beacon.name },
      ports: kinds.startPorts(builtin.tap),
    };
    const { width, height } = rectOf(this.doc, kinds, tap);
    tx.add('nodes', { ...tap, ...place({ width, height }) });
    return tap.id;
  }
}

/** The wires by the output that they come from, in order of ids. Those that lead to beacons are left out. */
export function byOutput(doc: Doc, wires: readonly Wire[]): LinkRequest[] {
  const nets = new Map<string, { from: PortRef; wires: Wire[] }>();
  for (const wire of [...wires].sort((a, b) => compareIds(a.id, b.id))) {
    if (leadsToBeacon(doc, wire)) continue;
    const key = `${wire.from.node} ${wire.from.port}`;
    const net = nets.get(key);
    if (net) net.wires.push(wire);
    else nets.set(key, { from: wire.from, wires: [wire] });
  }
  return [...nets.values()];
}

/** How a beacon is spoken of: by its name, with its label where it has one. */
export const beaconTitle = (beacon: GraphNode): string =>
  beacon.label ? `${caption(beacon)} (${beacon.name})` : beacon.name;
