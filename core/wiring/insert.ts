import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { closesLoop } from './along.ts';
import { loopProblem, typeProblem } from './connect.ts';
import type { Wiring } from './wiring.ts';

/** How a node stands in a wire: what it takes, and what it gives on. */
export interface Way {
  readonly input: string;
  readonly output: string;
}

/**
 * The way in which a node can be put into wires of one output, or why it cannot, as a sentence. The input is the one
 * that passes for the output (pass rule), so that pulling the node out again leaves everything as it was; both have to
 * be free. O(ports + wires).
 */
export function insertWay(
  doc: Doc,
  kinds: Kinds,
  wiring: Pick<Wiring, 'into' | 'outOf'>,
  node: GraphNode,
  wires: readonly Wire[],
): Way | string {
  const [first] = wires;
  if (!first) return 'There is no wire to stand in.';
  const source = doc.nodes.get(first.from.node)!;
  if (source.graph !== node.graph) return `“${caption(node)}” is in another graph than the wire.`;
  if (source.id === node.id || wires.some((wire) => wire.to.node === node.id))
    return `“${caption(node)}” is at that wire already.`;
  let reason = `“${caption(node)}” passes nothing on, so it cannot stand in a wire.`;
  for (const output of node.ports) {
    if (output.direction !== 'out' || output.of !== undefined) continue;
    const input = kinds.passInput(node, output.id);
    if (!input) continue;
    const taken = wiring.into({ node: node.id, port: input.id }) !== undefined;
    if (taken || wiring.outOf({ node: node.id, port: output.id }).length > 0) {
      reason = `“${caption(node)}” is wired at “${taken ? input.name : output.name}” already: pull it out first.`;
      continue;
    }
    const problem = wayProblem(doc, kinds, node, { input: input.id, output: output.id }, wires);
    if (problem === undefined) return { input: input.id, output: output.id };
    reason = problem;
  }
  return reason;
}

function wayProblem(
  doc: Doc,
  kinds: Kinds,
  node: GraphNode,
  { input, output }: Way,
  wires: readonly Wire[],
): string | undefined {
  const { from } = wires[0]!;
  const [into, outOf]: [PortRef, PortRef] = [
    { node: node.id, port: input },
    { node: node.id, port: output },
  ];
  // a node without wires closes no loop
  const forbidden = kinds.catalogue.loops === 'forbidden' && indexOf(doc).wiresOf(node.id).length > 0;
  const enters = typeProblem(doc, kinds, from, into);
  if (enters) return enters;
  if (forbidden && closesLoop(doc, from.node, node.id)) return loopProblem(doc.nodes.get(from.node)!, node);
  for (const { to } of wires) {
    const leaves = typeProblem(doc, kinds, outOf, to);
    if (leaves) return leaves;
    if (forbidden && closesLoop(doc, node.id, to.node)) return loopProblem(node, doc.nodes.get(to.node)!);
  }
  return undefined;
}

/** Puts a node into wires of one output: they start from it now, and it takes what they carried. */
export function insertInto(wiring: Wiring, node: GraphNode, wires: readonly Wire[], way: Way): void {
  const { from } = wires[0]!;
  wiring.carryAll(wires.map((wire) => ({ wire, from: { node: node.id, port: way.output } })));
  wiring.connect(from, { node: node.id, port: way.input });
}
