import { builtin, isBoundary } from '../document/builtin.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import { flowOf, isVertical, portPoint, type Rect, rectOf, unite } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, legalName, namesIn, type Taken } from '../document/names.ts';
import type { GraphNode, Port, PortRef, Wire } from '../document/schema.ts';
import type { Transaction } from '../edit/transaction.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { Refused, type Saying } from '../said.ts';
import { carriedType, portOf } from '../wiring/types.ts';
import { type Chosen, frameTree, heldBy, leaving, sharedFrame } from './frames.ts';
import { renameNode } from './rename.ts';
import { find, refuse, say } from './sentences.ts';

/** How far boundary nodes stand from what is nested, and from one another, in pixels at 100 % zoom. */
const aside = 200;
const apart = 60;
/**
 * What a node that holds a graph is taken to measure when it is put in the middle of what it took up: whatever its
 * ports, so that the place can be told again.
 */
const hostMiddle = { x: 60, y: 20 } as const;

/** Where the node that holds some others is put, and from which it is told how far it was moved since. */
function hostPlace(rects: readonly Rect[]): { x: number; y: number } {
  const bounds = unite(rects);
  if (!bounds) return { x: 0, y: 0 };
  return {
    x: Math.round(bounds.x + bounds.width / 2 - hostMiddle.x),
    y: Math.round(bounds.y + bounds.height / 2 - hostMiddle.y),
  };
}

/** What a port carries, in a word: as the port that it stands for is called, unless that says nothing. */
function carriedName(node: GraphNode, port: string, direction: 'in' | 'out'): string | undefined {
  const { name = port } = portOf(node, port, direction) ?? {};
  return /^(in|out|input|output|result|value)\d*$/i.test(name) ? undefined : legalName(name);
}

/** A node as people call it, as part of a name. */
const nodeWord = (node: GraphNode): string => legalName(caption(node)).slice(0, 40);

/** The wires of one output, which enter or leave the new graph through one port. */
interface Cut {
  readonly from: PortRef;
  readonly wires: readonly Wire[];
}

function cutWires(doc: Doc, inside: ReadonlySet<Id>, wires: readonly Wire[]): { incoming: Cut[]; outgoing: Cut[] } {
  const group = (chosen: readonly Wire[]): Cut[] => {
    const cuts = new Map<string, { from: PortRef; wires: Wire[] }>();
    for (const wire of chosen) {
      const key = JSON.stringify([wire.from.node, wire.from.port]);
      const cut = cuts.get(key) ?? { from: wire.from, wires: [] };
      cut.wires.push(wire);
      cuts.set(key, cut);
    }
    return [...cuts.values()];
  };
  const comesIn = (wire: Wire): boolean => !inside.has(wire.from.node) && inside.has(wire.to.node);
  const goesOut = (wire: Wire): boolean =>
    inside.has(wire.from.node) && doc.nodes.get(wire.to.node) !== undefined && !inside.has(wire.to.node);
  return { incoming: group(wires.filter(comesIn)), outgoing: group(wires.filter(goesOut)) };
}

/** Across the flow, where a port stands: ports of the new graph come in the order in which their wires lie. */
function across(doc: Doc, kinds: Kinds, ref: PortRef, direction: 'in' | 'out'): number {
  const node = must(doc.nodes.get(ref.node));
  const point = portPoint(doc, kinds, node, ref.port, direction) ?? node;
  return isVertical(flowOf(doc, node.graph)) ? point.x : point.y;
}

/** A port that the new graph is to have: for which wires, and how it is to be called. */
interface WantedPort {
  readonly direction: 'in' | 'out';
  readonly cut: Cut;
  /** By what it carries, and for whom or from whom where several carry the same. */
  readonly name: string;
  /** Its place among the ports of its direction. */
  readonly row: number;
}

/** The ports for the wires that are cut, in the order in which the wires lie. */
function wantedPorts(doc: Doc, kinds: Kinds, cuts: ReturnType<typeof cutWires>): WantedPort[] {
  const lying = (cut: readonly Cut[], where: (one: Cut) => number): Cut[] =>
    [...cut].sort((a, b) => where(a) - where(b) || compareIds(must(a.wires[0]).id, must(b.wires[0]).id));
  const least = (cut: Cut): number => Math.min(...cut.wires.map((wire) => across(doc, kinds, wire.to, 'in')));
  const nodeAt = ({ node }: PortRef): GraphNode => must(doc.nodes.get(node));
  // what comes in is for the one that takes it, or from the one that gives it to several; what goes out is from inside
  const named = (direction: 'in' | 'out', { from, wires }: Cut): { what: string | undefined; who: GraphNode } => {
    const only = direction === 'in' && wires.length === 1 ? must(wires[0]).to : undefined;
    return only
      ? { what: carriedName(nodeAt(only), only.port, 'in'), who: nodeAt(only) }
      : { what: carriedName(nodeAt(from), from.port, 'out'), who: nodeAt(from) };
  };
  const last = (cut: Cut): number => across(doc, kinds, cut.from, 'out');
  const sides = [
    { direction: 'in' as const, list: lying(cuts.incoming, least) },
    { direction: 'out' as const, list: lying(cuts.outgoing, last) },
  ];
  const all = sides.flatMap(({ direction, list }) =>
    list.map((cut, row) => ({ direction, cut, row, ...named(direction, cut) })),
  );
  const same = new Map<string, number>();
  for (const { what } of all) if (what !== undefined) same.set(what, (same.get(what) ?? 0) + 1);
  return all.map(({ direction, cut, row, what, who }) => {
    if (what === undefined) {
      const isInside = direction === 'out' || cut.wires.length === 1;
      return { direction, cut, row, name: isInside ? `${nodeWord(who)}_${direction}` : nodeWord(who) };
    }
    return { direction, cut, row, name: same.get(what) === 1 ? what : `${what}_${nodeWord(who)}` };
  });
}

/** What somebody calls a port of the new graph: by its side, and its place there from 0. */
export interface PortName {
  readonly direction: 'in' | 'out';
  readonly row: number;
  readonly name: string;
}

/** Where the node of a port stands inside: before what is nested or behind it, one under the other. */
function boundaryPlace(bounds: Rect, vertical: boolean, { direction, row }: WantedPort): { x: number; y: number } {
  const isIn = direction === 'in';
  const at = vertical
    ? { x: bounds.x + row * 3 * apart, y: isIn ? bounds.y - aside / 2 : bounds.y + bounds.height + aside / 2 }
    : { x: isIn ? bounds.x - aside : bounds.x + bounds.width + aside / 2, y: bounds.y + row * apart };
  return { x: Math.round(at.x), y: Math.round(at.y) };
}

/** The node that a port of the graph `inner` is, inside. */
const boundaryNode = (
  id: Id,
  inner: Id,
  name: string,
  type: string,
  direction: 'in' | 'out',
  place: { x: number; y: number },
): GraphNode => ({
  id,
  graph: inner,
  kind: direction === 'in' ? builtin.input : builtin.output,
  name,
  ...place,
  ports: [
    direction === 'in'
      ? { id: 'out', name: 'out', type, direction: 'out' }
      : { id: 'in', name: 'in', type, direction: 'in' },
  ],
});

/** Moves what was chosen into a graph, with all that it holds and the notes that are tied to it. */
function moveInside(tx: Transaction, chosen: Chosen, inner: Id, around: Id | undefined): void {
  const doc = tx.before;
  const nodes = heldBy(doc, chosen);
  const frames = chosen.frames.flatMap((frame) => frameTree(doc, frame.id));
  for (const frame of frames) tx.set('frames', frame.id, 'graph', inner);
  for (const frame of chosen.frames) {
    if (frame.parent !== around) tx.set('frames', frame.id, 'outerFrame', frame.parent);
    tx.set('frames', frame.id, 'parent', undefined);
  }
  for (const node of nodes) tx.set('nodes', node.id, 'graph', inner);
  for (const node of chosen.nodes) {
    if (node.frame !== around) tx.set('nodes', node.id, 'outerFrame', node.frame);
    tx.set('nodes', node.id, 'frame', undefined);
  }
  const gone = new Set<Id>([...nodes, ...frames].map((one) => one.id));
  const graph = must(nodes[0]).graph;
  for (const note of indexOf(doc).notesIn(graph))
    if (note.tiedTo !== undefined && gone.has(note.tiedTo)) tx.set('notes', note.id, 'graph', inner);
}

/** Leads the wires that are cut over a port: those of one output keep their ids where they fan out. */
function leadOver(tx: Transaction, host: Id, { direction, cut }: WantedPort, port: Id, wire: Id): void {
  const isIn = direction === 'in';
  tx.add('wires', { id: wire, from: cut.from, to: isIn ? { node: host, port } : { node: port, port: 'in' } });
  const from = isIn ? { node: port, port: 'out' } : { node: host, port };
  for (const one of cut.wires) tx.set('wires', one.id, 'from', from);
}

/**
 * Puts nodes and frames into a graph of their own, held by a node in their middle. The wires that are cut go over
 * ports, one for each output that goes in or comes out, in the order in which they lie; each keeps its id on the side
 * where it fans out, so that `unnest` gives back exactly what was there. Ports are called by what they carry, unless
 * `called` says otherwise. Returns the id of the node that holds them, and what is to be said. Throws Refused.
 * O(document).
 */
export function nest(
  tx: Transaction,
  kinds: Kinds,
  chosen: Chosen,
  name: string,
  newId: (prefix: string) => string,
  called: readonly PortName[] = [],
): { host: Id; findings: Finding[] } {
  const doc = tx.before;
  const nodes = heldBy(doc, chosen);
  const port = nodes.find((node) => isBoundary(node.kind));
  if (port) throw refuse('port-stays', { port: caption(port) });
  const first = nodes[0];
  if (!first) throw refuse('select-nodes-first');
  const { graph } = first;
  const around = sharedFrame(doc, [...chosen.nodes, ...chosen.frames]);
  const wires = [...new Set(nodes.flatMap((node) => indexOf(doc).wiresOf(node.id)))].sort((a, b) =>
    compareIds(a.id, b.id),
  );
  const wanted = wantedPorts(doc, kinds, cutWires(doc, new Set(nodes.map((node) => node.id)), wires));
  const rects = nodes.map((node) => rectOf(doc, kinds, node));
  const bounds = must(unite(rects));
  const [inner, host] = [newId('g'), newId('n')];
  const flow = doc.graphs.get(graph)?.flow;
  tx.add('graphs', { id: inner, name, ...(flow && { flow }) });
  const findings = leaving(doc, chosen, around);

  const names = new Set(nodes.map((node) => node.name));
  const taken: Taken = { has: (one) => names.has(one), add: (one) => void names.add(one) };
  const ports = wanted.map((one): Port => {
    const id = newId('n');
    const type = carriedType(doc, kinds, one.cut.from);
    const chosenName = called.find(({ direction, row }) => direction === one.direction && row === one.row)?.name;
    const own = freeName(chosenName ?? one.name, taken);
    const place = boundaryPlace(bounds, isVertical(flowOf(doc, graph)), one);
    tx.add('nodes', boundaryNode(id, inner, own, type, one.direction, place));
    return { id, name: own, type, direction: one.direction };
  });
  tx.add('nodes', {
    id: host,
    graph,
    kind: builtin.nested,
    name: freeName(legalName(name), namesIn(doc, graph)),
    ...(legalName(name) !== name && { label: name }),
    ...hostPlace(rects),
    ...(around !== undefined && { frame: around }),
    inner,
    ports,
  });
  moveInside(tx, chosen, inner, around);
  for (const [i, one] of wanted.entries()) leadOver(tx, host, one, must(ports[i]).id, newId('w'));
  return { host, findings };
}

/** Why a nested graph cannot be put back among what is around it, as a sentence; undefined where it can. */
export function unnestProblem(doc: Doc, host: GraphNode): Saying | undefined {
  if (host.inner === undefined || !doc.graphs.has(host.inner)) return say('holds-nothing', { host: caption(host) });
  if (host.bypassed) return say('host-bypassed', { host: caption(host) });
  const opened = [
    host,
    ...indexOf(doc)
      .nodesIn(host.inner)
      .filter((node) => isBoundary(node.kind)),
  ].find((node) => node.ports.some((port) => port.of !== undefined));
  if (opened) return say('ports-opened', { opened: caption(opened) });
  return undefined;
}

/**
 * Puts what a nested graph holds back among what is around it, by as much beside its old place as the node that holds
 * it was moved; its ports and that node go. What was nested and not touched since comes back exactly. Names that are
 * taken are numbered, and said; so are inputs that open. Throws Refused. O(document).
 */
export function unnest(tx: Transaction, kinds: Kinds, host: GraphNode): { select: Id[]; findings: Finding[] } {
  const doc = tx.before;
  const problem = unnestProblem(doc, host);
  if (problem) throw new Refused(problem);
  const index = indexOf(doc);
  const inner = must(host.inner);
  const all = index.nodesIn(inner);
  const nodes = all.filter((node) => !isBoundary(node.kind));
  const place = hostPlace(nodes.map((node) => rectOf(doc, kinds, node)));
  const shift = nodes.length > 0 ? { x: host.x - place.x, y: host.y - place.y } : { x: 0, y: 0 };
  const findings: Finding[] = [];
  rewire(tx, doc, host, inner);

  const fitting = (frame: Id | undefined): Id | undefined =>
    frame !== undefined && doc.frames.get(frame)?.graph === host.graph ? frame : host.frame;
  const own = namesIn(doc, host.graph);
  const taken: Taken = { has: (name) => name !== host.name && own.has(name), add: own.add };
  for (const frame of index.framesIn(inner)) {
    tx.set('frames', frame.id, 'graph', host.graph);
    if (shift.x !== 0) tx.set('frames', frame.id, 'x', frame.x + shift.x);
    if (shift.y !== 0) tx.set('frames', frame.id, 'y', frame.y + shift.y);
    if (frame.parent === undefined) tx.set('frames', frame.id, 'parent', fitting(frame.outerFrame));
    tx.set('frames', frame.id, 'outerFrame', undefined);
  }
  for (const note of index.notesIn(inner)) {
    tx.set('notes', note.id, 'graph', host.graph);
    if (shift.x !== 0) tx.set('notes', note.id, 'x', note.x + shift.x);
    if (shift.y !== 0) tx.set('notes', note.id, 'y', note.y + shift.y);
    if (all.some((node) => node.id === note.tiedTo && isBoundary(node.kind)))
      tx.set('notes', note.id, 'tiedTo', undefined);
  }
  for (const node of nodes) {
    const name = freeName(node.name, taken);
    if (name !== node.name) {
      findings.push(find('name-numbered', 'info', [node.id], 'renamed', { node: node.name, name }));
      renameNode(tx, doc, node, name);
    }
    tx.set('nodes', node.id, 'graph', host.graph);
    if (node.frame === undefined) tx.set('nodes', node.id, 'frame', fitting(node.outerFrame));
    tx.set('nodes', node.id, 'outerFrame', undefined);
    // what covered the graph that goes covers what is around it
    if (node.covers === inner) tx.set('nodes', node.id, 'covers', host.graph);
    if (shift.x !== 0 || shift.y !== 0) tx.move(node.id, node.x + shift.x, node.y + shift.y);
  }
  for (const note of doc.notes.values()) if (note.tiedTo === host.id) tx.set('notes', note.id, 'tiedTo', undefined);
  for (const node of all) if (isBoundary(node.kind)) tx.remove('nodes', node.id);
  tx.remove('nodes', host.id);
  tx.remove('graphs', inner);
  return { select: nodes.map((node) => node.id), findings };
}

/** Joins the wires on both sides of a graph's ports. What comes to an input that nothing feeds outside is open. */
function rewire(tx: Transaction, doc: Doc, host: GraphNode, inner: Id): void {
  const index = indexOf(doc);
  /**
   * Where an output that a wire comes from really is: outside behind an input of the graph, inside behind a port of the
   * host.
   */
  const source = (
    from: PortRef,
    seen: ReadonlySet<string> = new Set(),
  ): { from: PortRef; off: boolean } | undefined => {
    const node = must(doc.nodes.get(from.node));
    const key = `${from.node} ${from.port}`;
    if (seen.has(key)) return undefined;
    let behind: Wire | undefined;
    if (node.kind === builtin.input && node.graph === inner) behind = index.wireInto(host.id, node.id);
    else if (node.id === host.id) behind = index.wireInto(from.port, 'in');
    else return { from, off: false };
    const found = behind && source(behind.from, new Set([...seen, key]));
    return found && { from: found.from, off: found.off || behind?.off === true };
  };
  const isBorder = (node: GraphNode): boolean => node.id === host.id || (node.graph === inner && isBoundary(node.kind));
  const wires = new Map([...index.wiresIn(inner), ...index.wiresOf(host.id)].map((wire) => [wire.id, wire]));
  // first all that ends at a port of the graph goes, so that no input has two wires on the way
  const kept = [...wires.values()].filter((wire) => !isBorder(must(doc.nodes.get(wire.to.node))));
  for (const wire of wires.values()) if (isBorder(must(doc.nodes.get(wire.to.node)))) tx.remove('wires', wire.id);
  for (const wire of kept) {
    const found = source(wire.from);
    if (!found) {
      tx.remove('wires', wire.id);
      continue;
    }
    tx.set('wires', wire.id, 'from', found.from);
    if (found.off) tx.set('wires', wire.id, 'off', true);
  }
}
