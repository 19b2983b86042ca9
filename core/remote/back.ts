import { builtin } from '../document/builtin.ts';
import { caption, type Doc, graphPath, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { removeNodes } from '../structure/remove.ts';
import { Carrier } from '../wiring/across.ts';
import { beaconOf, tapsOf } from '../wiring/carriers.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { say } from './sentences.ts';

export interface Returned {
  readonly wires: number;
  readonly taps: number;
  readonly beacons: number;
  /** Ends that stay, with the reason. */
  readonly findings: Finding[];
}

/**
 * Turns wires that start from taps into drawn ones again, from what feeds the beacon; over borders they get ports. A
 * tap that gives to nothing any more goes, and with the last tap of a beacon the beacon, healed. What feeds what does
 * not change: where it would, the tap stays and is listed. O(taps + wires touched).
 */
export function toWires(
  wiring: Wiring,
  newId: (prefix: string) => string,
  wires: readonly Wire[],
  taps: readonly GraphNode[],
): Returned {
  const { tx } = wiring;
  const doc = tx.before;
  const carrier = new Carrier(wiring, newId);
  const findings: Finding[] = [];
  let count = 0;
  const freed: GraphNode[] = [];
  for (const wire of wires) {
    const tap = must(doc.nodes.get(wire.from.node));
    const problem = drawAgain(wiring, carrier, wire, tap);
    if (problem === undefined) count++;
    else if (!findings.some((item) => item.place.at(-1) === tap.id))
      findings.push({ rule: 'tap-stays', severity: 'warning', place: [tap.id], ...problem });
  }
  const candidates = new Map(
    [...taps, ...wires.map((wire) => must(doc.nodes.get(wire.from.node)))].map((tap) => [tap.id, tap]),
  );
  for (const tap of candidates.values()) {
    if (wiring.of(tap.id).length > 0 || !beaconOf(doc, tap)) continue;
    freed.push(tap);
    tx.remove('nodes', tap.id);
  }
  const gone = new Set(freed.map((tap) => tap.id));
  const beacons = [...new Set(freed.map((tap) => must(beaconOf(doc, tap))))].filter((beacon) =>
    tapsOf(doc, beacon.id).every((tap) => gone.has(tap.id)),
  );
  const idle = beacons.filter((beacon) => canGo(wiring, beacon));
  findings.push(...removeNodes(wiring, idle, true).filter((item) => item.rule !== 'lost-tap'));
  return { wires: count, taps: freed.length, beacons: idle.length, findings };
}

/** A beacon that nothing comes to keeps the inputs behind it from being fed by others; it stays. */
const canGo = (wiring: Wiring, beacon: GraphNode): boolean =>
  wiring.into({ node: beacon.id, port: 'in' }) !== undefined || wiring.of(beacon.id).length === 0;

/**
 * What a tap gives, as the output of a node that is no tap: through beacons that are taps of others too. Undefined
 * where nothing comes.
 */
function behind(wiring: Wiring, doc: Doc, tap: GraphNode): { from: PortRef; off: boolean } | undefined {
  const seen = new Set<Id>();
  let off = false;
  for (let at: GraphNode = tap; ; ) {
    const beacon = seen.has(at.id) ? undefined : beaconOf(doc, at);
    seen.add(at.id);
    const wire = beacon && wiring.into({ node: beacon.id, port: 'in' });
    if (!wire) return undefined;
    off ||= wire.off === true;
    const source = must(doc.nodes.get(wire.from.node));
    if (source.kind !== builtin.tap) return { from: wire.from, off };
    at = source;
  }
}

/** Draws one wire again; says why not where that would change what feeds what. */
function drawAgain(wiring: Wiring, carrier: Carrier, wire: Wire, tap: GraphNode): Saying | undefined {
  const doc = wiring.tx.before;
  if (!beaconOf(doc, tap)) return say('back-beacon-lost', { tap: tap.name, beacon: tap.beacon?.name });
  const source = behind(wiring, doc, tap);
  if (!source) return say('back-nothing-behind', { tap: tap.name });
  const off = source.off || wire.off === true;
  const [from, to] = [must(wiring.tx.get('nodes', source.from.node)), must(wiring.tx.get('nodes', wire.to.node))];
  if (from.graph === to.graph) {
    if (off !== (wire.off === true)) wiring.switch(wire, off);
    wiring.carry(off ? { ...wire, off } : wire, { from: source.from });
    return undefined;
  }
  const border = bypassedBorder(doc, from, to);
  if (border) return say('back-through-bypassed', { tap: tap.name, border: caption(border) });
  if (!carrier.carry(source.from, wire.to, off)) return say('back-nothing-behind', { tap: tap.name });
  return undefined;
}

/** A bypassed nested node between two graphs, if there is one. */
function bypassedBorder(doc: Doc, from: GraphNode, to: GraphNode): GraphNode | undefined {
  const [up, down] = [graphPath(doc, from.graph), graphPath(doc, to.graph)];
  const between = [...up.filter((graph) => !down.includes(graph)), ...down.filter((graph) => !up.includes(graph))];
  return between.map((graph) => indexOf(doc).hostOf(graph)).find((host) => host?.bypassed);
}

/**
 * The wires that start from taps: of selected taps, of all taps of selected beacons, or the selected wires themselves;
 * and these taps.
 */
export function linkedWires(doc: Doc, items: readonly Id[]): { wires: Wire[]; taps: GraphNode[] } {
  const index = indexOf(doc);
  const wires = new Map<Id, Wire>();
  const taps = new Map<Id, GraphNode>();
  for (const id of items) {
    const wire = doc.wires.get(id);
    if (wire && doc.nodes.get(wire.from.node)?.kind === builtin.tap) wires.set(id, wire);
    const node = doc.nodes.get(id);
    for (const tap of node?.kind === builtin.beacon ? tapsOf(doc, id) : node?.kind === builtin.tap ? [node] : [])
      taps.set(tap.id, tap);
  }
  for (const tap of taps.values()) for (const wire of index.wiresFrom(tap.id)) wires.set(wire.id, wire);
  return { wires: [...wires.values()], taps: [...taps.values()] };
}
