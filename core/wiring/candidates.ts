import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { alongData } from './along.ts';
import { isCarrier } from './carriers.ts';
import { connectProblem, fitCost, loopProblem, portsAndParts, typeProblem } from './connect.ts';
import { say } from './sentences.ts';
import { carriedType, opens, portOrPart } from './types.ts';

/** What a hand holds: a wire by its free end. `fixed` is the port that stays. */
export interface Hand {
  readonly fixed: PortRef;
  /** The side that `fixed` is on. */
  readonly direction: 'in' | 'out';
}

/** A port that the wire in hand could be put to. `isPart`: a component that is not opened yet. */
export interface Candidate {
  readonly port: Port;
  readonly isPart: boolean;
  readonly isTaken: boolean;
  readonly cost: number;
}

/**
 * Answers for one wire in hand which ports of which nodes take it, and why others do not. Loops are asked of a set that
 * is made once,
 * O(wires); then each port costs O(1), or O(reached) at a reroute point.
 */
export class Candidates {
  readonly hand: Hand;
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly given: { readonly type: string; readonly name: string };
  private readonly looping: ReadonlySet<Id>;
  private readonly graph: Id | undefined;
  /** Types alone decide: what hangs on a reroute point has to suit all that this leads to. */
  private readonly isPlain: boolean;

  constructor(doc: Doc, kinds: Kinds, hand: Hand) {
    this.doc = doc;
    this.kinds = kinds;
    this.hand = hand;
    const fixed = doc.nodes.get(hand.fixed.node);
    this.graph = fixed?.graph;
    this.isPlain = hand.direction === 'out' || !isCarrier(fixed?.kind ?? '');
    const port = portOrPart(kinds, doc.nodes.get(hand.fixed.node), hand.fixed.port, hand.direction);
    const type = hand.direction === 'out' ? carriedType(doc, kinds, hand.fixed) : (port?.type ?? 'any');
    this.given = { type, name: port?.name ?? '' };
    this.looping =
      kinds.catalogue.loops === 'forbidden'
        ? alongData(doc, [hand.fixed.node], hand.direction === 'out' ? 'up' : 'down')
        : new Set([]);
  }

  private ends(ref: PortRef): [PortRef, PortRef] {
    return this.hand.direction === 'out' ? [this.hand.fixed, ref] : [ref, this.hand.fixed];
  }

  /** Why a port does not take the wire, as a sentence; undefined where it does. */
  refusal(node: GraphNode, port: Port): Saying | undefined {
    if (port.direction === this.hand.direction)
      return say('same-direction', { port: port.name, direction: port.direction === 'in' ? 'input' : 'output' });
    const [from, to] = this.ends({ node: node.id, port: port.id });
    const fixed = this.doc.nodes.get(this.hand.fixed.node);
    if (!fixed) return say('end-gone');
    if (node.graph !== fixed.graph) return connectProblem(this.doc, this.kinds, from, to, { across: true });
    return (
      typeProblem(this.doc, this.kinds, from, to) ??
      (this.looping.has(node.id)
        ? loopProblem(must(this.doc.nodes.get(from.node)), must(this.doc.nodes.get(to.node)))
        : undefined)
    );
  }

  /**
   * Does any port of the node take the wire? What is not drawn counts too: hidden ports, and components that are not
   * opened.
   */
  fits(node: GraphNode): boolean {
    if (this.looping.has(node.id)) return false;
    const isPlain = this.isPlain && !isCarrier(node.kind) && node.graph === this.graph;
    for (const port of node.ports) {
      if (port.direction === this.hand.direction) continue;
      const takes = (one: Port): boolean => (isPlain ? this.acceptsType(one) : this.refusal(node, one) === undefined);
      if (takes(port) || (opens(node, port) && this.kinds.parts(port).some(takes))) return true;
    }
    return false;
  }

  private acceptsType(port: Port): boolean {
    return this.hand.direction === 'out'
      ? this.kinds.accepts(port.type, this.given.type)
      : this.kinds.accepts(this.given.type, port.type);
  }

  /**
   * The ports of a node that take the wire, the best first: those that fit best, open inputs before wired ones, whole
   * ports before components.
   */
  of(node: GraphNode): Candidate[] {
    const direction = this.hand.direction === 'out' ? 'in' : 'out';
    const own = new Set(node.ports.map((port) => `${port.direction} ${port.id}`));
    return portsAndParts(this.kinds, node, direction)
      .filter((port) => this.refusal(node, port) === undefined)
      .map((port): Candidate => {
        const isPart = !own.has(`${direction} ${port.id}`);
        const isTaken = direction === 'in' && indexOf(this.doc).wireInto(node.id, port.id) !== undefined;
        const fit =
          direction === 'in'
            ? fitCost(this.kinds, port, this.given)
            : fitCost(this.kinds, { id: '', direction: 'in', ...this.given }, port);
        return { port, isPart, isTaken, cost: fit + (isTaken ? 10 : 0) + (isPart ? 20 : 0) };
      })
      .sort((a, b) => a.cost - b.cost);
  }

  /** The type of what the wire carries, or has to. */
  get type(): string {
    return this.given.type;
  }

  /** What is in hand, in words. */
  get title(): string {
    const node = this.doc.nodes.get(this.hand.fixed.node);
    return node ? `${this.given.name} of ${caption(node)}` : '';
  }
}
