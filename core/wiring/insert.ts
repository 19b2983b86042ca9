import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { closesLoop } from './along.ts';
import { loopProblem, typeProblem } from './connect.ts';
import { say } from './sentences.ts';
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
): Way | Saying {
  const [first] = wires;
  if (!first) return say('no-wire-to-stand-in');
  const source = must(doc.nodes.get(first.from.node));
  if (source.graph !== node.graph) return say('wire-in-other-graph', { node: caption(node) });
  if (source.id === node.id || wires.some((wire) => wire.to.node === node.id))
    return say('at-wire-already', { node: caption(node) });
  let reason = say('passes-nothing', { node: caption(node) });
  for (const output of node.ports) {
    if (output.direction !== 'out' || output.of !== undefined) continue;
    const input = kinds.passInput(node, output.id);
    if (!input) continue;
    const taken = wiring.into({ node: node.id, port: input.id }) !== undefined;
    if (taken || wiring.outOf({ node: node.id, port: output.id }).length > 0) {
      reason = say('wired-already', { node: caption(node), port: taken ? input.name : output.name });
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
): Saying | undefined {
  const { from } = must(wires[0]);
  const [into, outOf]: [PortRef, PortRef] = [
    { node: node.id, port: input },
    { node: node.id, port: output },
  ];
  // a node without wires closes no loop
  const forbidden = kinds.catalogue.loops === 'forbidden' && indexOf(doc).wiresOf(node.id).length > 0;
  const enters = typeProblem(doc, kinds, from, into);
  if (enters) return enters;
  if (forbidden && closesLoop(doc, from.node, node.id)) return loopProblem(must(doc.nodes.get(from.node)), node);
  for (const { to } of wires) {
    const leaves = typeProblem(doc, kinds, outOf, to);
    if (leaves) return leaves;
    if (forbidden && closesLoop(doc, node.id, to.node)) return loopProblem(node, must(doc.nodes.get(to.node)));
  }
  return undefined;
}

/** Puts a node into wires of one output: they start from it now, and it takes what they carried. */
export function insertInto(wiring: Wiring, node: GraphNode, wires: readonly Wire[], way: Way): void {
  const { from } = must(wires[0]);
  wiring.carryAll(wires.map((wire) => ({ wire, from: { node: node.id, port: way.output } })));
  wiring.connect(from, { node: node.id, port: way.input });
}
