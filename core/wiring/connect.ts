import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, Port, PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { closesLoop } from './along.ts';
import { isCarrier } from './carriers.ts';
import { say } from './sentences.ts';
import { carriedType, inputsReached, opens, portOrPart } from './types.ts';

/**
 * Why what an output gives does not fit an input, as a sentence; undefined where it fits. Through reroute points and
 * remote links the true ends are asked.
 */
export function typeProblem(doc: Doc, kinds: Kinds, from: PortRef, to: PortRef): Saying | undefined {
  const source = must(doc.nodes.get(from.node));
  const output = must(portOrPart(kinds, source, from.port, 'out'));
  const given = { ...output, type: carriedType(doc, kinds, from) };
  const target = must(doc.nodes.get(to.node));
  if (!isCarrier(target.kind)) return kinds.refusal(must(portOrPart(kinds, target, to.port, 'in')), given);
  for (const ref of inputsReached(doc, to)) {
    const node = must(doc.nodes.get(ref.node));
    const refusal = kinds.refusal(must(portOrPart(kinds, node, ref.port, 'in')), given);
    if (refusal) return say('type-refused-behind', { refusal: refusal.message, node: caption(node) });
  }
  return undefined;
}

/** What a wire asks of both ends before types and loops: that nodes and ports are there. */
function endProblem(doc: Doc, kinds: Kinds, from: PortRef, to: PortRef): Saying | undefined {
  const [source, target] = [doc.nodes.get(from.node), doc.nodes.get(to.node)];
  if (!source || !target) return say('no-node', { node: source ? to.node : from.node });
  if (!portOrPart(kinds, source, from.port, 'out'))
    return say('no-output', { source: caption(source), port: from.port });
  if (!portOrPart(kinds, target, to.port, 'in')) return say('no-input', { node: caption(target), id: to.port });
  return undefined;
}

export interface ConnectOptions {
  /** The ends may lie in different graphs, since ports will be made for the borders between. */
  readonly across?: boolean | undefined;
  /** A wire that goes, and closes no loop. */
  readonly without?: Id | undefined;
}

/**
 * Why two ports cannot be wired, as a sentence, or undefined where they can. Components that are not opened yet may be
 * named. Whether the input is taken is asked apart.
 */
export function connectProblem(
  doc: Doc,
  kinds: Kinds,
  from: PortRef,
  to: PortRef,
  { across = false, without }: ConnectOptions = {},
): Saying | undefined {
  const missing = endProblem(doc, kinds, from, to);
  if (missing) return missing;
  const [source, target] = [must(doc.nodes.get(from.node)), must(doc.nodes.get(to.node))];
  if (source.graph !== target.graph && !across) return say('across-border');
  const refusal = typeProblem(doc, kinds, from, to);
  if (refusal) return refusal;
  if (
    source.graph === target.graph &&
    kinds.catalogue.loops === 'forbidden' &&
    closesLoop(doc, source.id, target.id, without)
  )
    return loopProblem(source, target);
  return undefined;
}

export const loopProblem = (source: GraphNode, target: GraphNode): Saying =>
  say('closes-loop', { source: caption(source), target: caption(target) });

/** A pair of ports that fit. Lower is better. */
export interface Pair {
  readonly from: PortRef;
  readonly to: PortRef;
  readonly cost: number;
}

/**
 * How well an output fits an input: the same type and name best, then the same type, then what is assignable, then what
 * takes anything.
 */
export function fitCost(kinds: Kinds, to: Port, given: { readonly type: string; readonly name: string }): number {
  if (!kinds.accepts(to.type, given.type)) return Number.POSITIVE_INFINITY;
  const named = to.name.toLowerCase() === given.name.toLowerCase() ? 0 : 1;
  if (to.type === given.type) return named;
  return (to.type === 'any' || given.type === 'any' ? 4 : 2) + named;
}

/** Ports that may be named: those that the node has, then the components that others would open into. */
export function portsAndParts(kinds: Kinds, node: GraphNode, direction: 'in' | 'out'): Port[] {
  const own = node.ports.filter((port) => port.direction === direction);
  const there = new Set(own.map((port) => port.id));
  return [
    ...own,
    ...own
      .filter((port) => opens(node, port))
      .flatMap((port) => kinds.parts(port).filter((part) => !there.has(part.id))),
  ];
}

/**
 * Every pair of an output of one node and an input of another of its graph that fit, best first: by how well they fit,
 * then outputs that do not feed the node yet, then in the order of ports. Components count only where they are opened.
 * `taken`: wired inputs too.
 * O(outputs · inputs).
 */
export function fittingPairs(doc: Doc, kinds: Kinds, source: Id, target: Id, taken: boolean): Pair[] {
  const [from, to] = [doc.nodes.get(source), doc.nodes.get(target)];
  if (!from || from.graph !== to?.graph) return [];
  const index = indexOf(doc);
  const pairs: Pair[] = [];
  for (const output of from.ports) {
    if (output.direction !== 'out') continue;
    const ref = { node: source, port: output.id };
    const given = { name: output.name, type: carriedType(doc, kinds, ref) };
    const feeds = index.wiresOutOf(source, output.id).some((wire) => wire.to.node === target);
    for (const input of to.ports) {
      if (input.direction !== 'in') continue;
      const wire = index.wireInto(target, input.id);
      if (wire && (!taken || (wire.from.node === source && wire.from.port === output.id))) continue;
      const cost = fitCost(kinds, input, given) + (feeds ? 0.5 : 0);
      const pair = { from: ref, to: { node: target, port: input.id }, cost };
      if (cost < Number.POSITIVE_INFINITY && typeProblem(doc, kinds, pair.from, pair.to) === undefined)
        pairs.push(pair);
    }
  }
  return pairs.sort((a, b) => a.cost - b.cost);
}
