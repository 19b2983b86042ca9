import { caption, type Doc, indexOf } from '@basitax/core/document/doc';
import type { Point } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import type { GraphNode, PortRef, Wire } from '@basitax/core/document/schema';
import { must } from '@basitax/core/must';
import { mainOutput } from '@basitax/core/wiring/add';
import { Candidates, type Hand } from '@basitax/core/wiring/candidates';
import { bridges } from '@basitax/core/wiring/convert';
import { fittingKinds } from '@basitax/core/wiring/fitting';
import { portOrPart } from '@basitax/core/wiring/types';
import { toast } from 'sonner';
import { create } from 'zustand';
import { perform } from './actions.ts';
import { openDialog } from './dialogs.ts';
import { type Editing, enterGraph, useEditor } from './store.ts';

const { getState } = useEditor;

/** A wire in hand: what it hangs on, and what becomes of it when it is put down. */
export interface InHand {
  readonly hand: Hand;
  /** A wire that is there already, whose other end was taken up. */
  readonly wire?: Id;
  /** All consumers of an output, which will take from another one. */
  readonly all?: PortRef;
  /** Taken by the body of a node: any of its ports will do. */
  readonly body?: Id;
  /** Held by the pressed pointer, or carried about until it is put down. */
  readonly mode: 'drag' | 'carry';
}

interface HandState {
  readonly inHand: InHand | undefined;
  /** The last candidate that was gone to while carrying. */
  readonly visited: Id | undefined;
}

/** The wire in hand, if there is one. */
export const useHand = create<HandState>(() => ({ inHand: undefined, visited: undefined }));

/** What takes a wire in hand: which ports, and of which nodes at least one does. */
export interface Found {
  readonly candidates: Candidates;
  readonly fitting: ReadonlySet<Id>;
}

let known: { readonly doc: Doc; readonly inHand: InHand; readonly found: Found } | undefined;

/** Worked out once for a version of the document. O(ports). */
export function candidatesFor(inHand: InHand): Found {
  const { doc, kinds } = getState();
  if (known?.doc !== doc || known.inHand !== inHand) {
    const candidates = new Candidates(doc, kinds, inHand.hand);
    const fitting = new Set<Id>();
    for (const node of doc.nodes.values())
      if (node.id !== inHand.hand.fixed.node && candidates.fits(node)) fitting.add(node.id);
    known = { doc, inHand, found: { candidates, fitting } };
  }
  return known.found;
}

/** The same for what is in hand now. */
export function candidatesNow(): Found | undefined {
  const { inHand } = useHand.getState();
  return inHand && candidatesFor(inHand);
}

/** The selected node that what is in hand can be put to: any but the one that it hangs on. */
export function goalOf(
  inHand: InHand | undefined,
  { doc, selection }: Pick<Editing, 'doc' | 'selection'>,
): Id | undefined {
  return selection.find((id) => doc.nodes.has(id) && id !== inHand?.hand.fixed.node);
}

export function takeInHand(inHand: InHand): void {
  useHand.setState({ inHand, visited: undefined });
}

export function letGo(): void {
  useHand.setState({ inHand: undefined, visited: undefined });
}

/**
 * What a press on a port takes up: a new wire from an output or an open input; at a wired input the end of its wire;
 * with Shift all that an output feeds.
 */
export function fromPort(doc: Doc, node: Id, port: string, direction: 'in' | 'out', all: boolean): InHand {
  const index = indexOf(doc);
  const ref = { node, port };
  if (direction === 'in') {
    const wire = index.wireInto(node, port);
    return wire ? endOf(wire, 'to', 'drag') : { hand: { fixed: ref, direction }, mode: 'drag' };
  }
  const [first] = index.wiresOutOf(node, port);
  return all && first
    ? { hand: { fixed: first.to, direction: 'in' }, all: ref, mode: 'drag' }
    : { hand: { fixed: ref, direction }, mode: 'drag' };
}

/** One end of a wire, taken up to be put elsewhere. */
export function endOf(wire: Wire, end: 'from' | 'to', mode: InHand['mode']): InHand {
  return {
    hand: end === 'to' ? { fixed: wire.from, direction: 'out' } : { fixed: wire.to, direction: 'in' },
    wire: wire.id,
    mode,
  };
}

/** Any fitting port of a node, from its main output, or its first input where it gives nothing. */
export function fromBody(node: GraphNode): InHand | undefined {
  const output = mainOutput(getState().kinds, node);
  const input = node.ports.find((port) => port.direction === 'in')?.id;
  const port = output ?? input;
  return port === undefined
    ? undefined
    : {
        hand: { fixed: { node: node.id, port }, direction: output === undefined ? 'in' : 'out' },
        body: node.id,
        mode: 'drag',
      };
}

const ports = (node: GraphNode): { port: string; direction: 'in' | 'out' }[] =>
  [
    ...node.ports.filter((port) => port.direction === 'out'),
    ...node.ports.filter((port) => port.direction === 'in'),
  ].map((port) => ({ port: port.id, direction: port.direction }));

/** By key: takes up the selected wire, or the main output of the selected node. */
export function takeSelected(): void {
  const { doc, selection, kinds } = getState();
  const wire = selection.map((id) => doc.wires.get(id)).find((one) => one !== undefined);
  if (wire) {
    takeInHand(endOf(wire, 'to', 'carry'));
    return;
  }
  const node = selection.map((id) => doc.nodes.get(id)).find((one) => one !== undefined);
  if (!node) return;
  const output = mainOutput(kinds, node);
  const first = output === undefined ? ports(node)[0] : { port: output, direction: 'out' as const };
  if (!first) toast(`“${caption(node)}” has no port.`, { duration: 2500 });
  else takeInHand({ hand: { fixed: { node: node.id, port: first.port }, direction: first.direction }, mode: 'carry' });
}

/** Another end: the next port of the node in hand, its inputs behind its outputs; of a wire its other end. */
export function nextEnd(): void {
  const { inHand } = useHand.getState();
  const { doc } = getState();
  if (!inHand) return;
  const wire = inHand.wire === undefined ? undefined : doc.wires.get(inHand.wire);
  if (wire) {
    takeInHand(endOf(wire, inHand.hand.direction === 'out' ? 'from' : 'to', 'carry'));
    return;
  }
  const { fixed, direction } = inHand.hand;
  const all = ports(must(doc.nodes.get(fixed.node)));
  const next = must(
    all[(all.findIndex((one) => one.port === fixed.port && one.direction === direction) + 1) % all.length],
  );
  takeInHand({ hand: { fixed: { node: fixed.node, port: next.port }, direction: next.direction }, mode: 'carry' });
}

/** Goes to the next node that takes what is in hand, the nearest first, and selects it. */
export function nextCandidate(): void {
  const found = candidatesNow();
  const { inHand, visited } = useHand.getState();
  const { doc, graph } = getState();
  if (!found || !inHand) return;
  const start = must(doc.nodes.get(inHand.hand.fixed.node));
  const far = (node: GraphNode): number =>
    start.graph === graph ? Math.hypot(node.x - start.x, node.y - start.y) : node.x + node.y;
  const row = indexOf(doc)
    .nodesIn(graph)
    .filter((node) => found.fitting.has(node.id))
    .sort((a, b) => far(a) - far(b) || (a.id < b.id ? -1 : 1));
  const next = row[(row.findIndex((node) => node.id === visited) + 1) % Math.max(1, row.length)];
  if (!next) {
    toast('No node of this graph takes what is in hand.', { duration: 2500 });
    return;
  }
  useHand.setState({ visited: next.id });
  enterGraph(graph, [next.id]);
}

/** Both ends of what would be wired, output first. */
function endsWith(hand: Hand, ref: PortRef): { from: PortRef; to: PortRef } {
  return hand.direction === 'out' ? { from: hand.fixed, to: ref } : { from: ref, to: hand.fixed };
}

/**
 * Puts what is in hand to a port. Where it does not fit, the ways to make it fit are offered, or the reason is said.
 */
export async function putToPort(inHand: InHand, ref: PortRef): Promise<void> {
  const { doc, kinds } = getState();
  const node = doc.nodes.get(ref.node);
  const port = portOrPart(kinds, node, ref.port, inHand.hand.direction === 'out' ? 'in' : 'out');
  if (!node || !port) return;
  const refusal = candidatesFor(inHand).candidates.refusal(node, port);
  const ends = endsWith(inHand.hand, ref);
  if (refusal) {
    letGo();
    const ways = inHand.all === undefined && inHand.wire === undefined ? bridges(doc, kinds, ends.from, ends.to) : [];
    if (ways.length > 0) openDialog({ bridge: ends, why: refusal.message });
    else toast.error('That does not fit', { description: refusal.message, duration: 6000 });
    return;
  }
  letGo();
  if (inHand.all) await perform('re-source', { from: inHand.all, to: ref }, []);
  else if (inHand.wire !== undefined)
    await perform(
      'carry-wire',
      { wire: inHand.wire, end: inHand.hand.direction === 'out' ? 'to' : 'from', to: ref, replace: true, across: true },
      [],
    );
  else await perform('connect', { ...ends, replace: true, across: true }, []);
}

/**
 * Puts what is in hand to a node: to the one port that fits, or one chosen from all that do, hidden ones and components
 * too.
 */
export async function putToNode(inHand: InHand, id: Id): Promise<void> {
  const node = getState().doc.nodes.get(id);
  if (!node || id === inHand.hand.fixed.node) {
    letGo();
    return;
  }
  if (inHand.body !== undefined) {
    letGo();
    await perform('connect', { from: { node: inHand.body }, to: { node: id } }, []);
    return;
  }
  const fitting = candidatesFor(inHand).candidates.of(node);
  const [only] = fitting;
  if (fitting.length === 1) await putToPort(inHand, { node: id, port: must(only).port.id });
  else if (only) openDialog({ ports: id, inHand });
  else {
    const other = node.ports.find((port) => port.direction !== inHand.hand.direction);
    if (other) await putToPort(inHand, { node: id, port: other.id });
    else {
      letGo();
      toast(`“${caption(node)}” has no ${inHand.hand.direction === 'out' ? 'input' : 'output'}.`, { duration: 3000 });
    }
  }
}

/** Lets what is in hand go over empty ground: lists the kinds that fit there, or makes the only one there is. */
export async function putToGround(inHand: InHand, at: Point): Promise<void> {
  letGo();
  const { fixed, direction } = inHand.hand;
  if (inHand.all) return;
  const kindsThatFit = fittingKinds(
    getState().kinds,
    { type: candidatesFor(inHand).candidates.type, name: fixed.port },
    direction,
  );
  const end = direction === 'out' ? { from: fixed } : { to: fixed };
  const own = kindsThatFit.filter((one) => !one.kind.id.startsWith('std.'));
  const place = { x: Math.round(at.x), y: Math.round(at.y) };
  if (own.length === 1 && inHand.wire === undefined)
    await perform('add-node', { kind: must(own[0]).kind.id, ...end, ...place }, []);
  else openDialog({ add: { where: 'at', ...end, ...place, ...(inHand.wire !== undefined && { wire: inHand.wire }) } });
}
