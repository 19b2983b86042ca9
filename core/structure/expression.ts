import { type Doc, indexOf } from '../document/doc.ts';
import type { Expression, Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

/**
 * An expression as it is typed: references stand in brackets, [Node.parameter]. References to nodes that are gone
 * say so.
 */
export function expressionText(doc: Doc, { expression }: Expression): string {
  return expression
    .map((segment) =>
      typeof segment === 'string' ? segment : `[${doc.nodes.get(segment.node)?.name ?? lostName}.${segment.parameter}]`,
    )
    .join('');
}

/** What stands in an expression for a node that is gone. */
const lostName = 'lost';

/**
 * Reads an expression as it is typed. References are sought by the name of a node in the graph of `self`, then in the
 * graphs around it.
 * Gives a sentence where a reference leads nowhere.
 */
export function readExpression(doc: Doc, kinds: Kinds, self: GraphNode, text: string): Expression | string {
  const segments: (string | { node: string; parameter: string })[] = [];
  let last = 0;
  for (const match of text.matchAll(/\[([A-Za-z][A-Za-z0-9_]*)\.([^[\]]+)\]/g)) {
    const [whole, name, parameter] = match as unknown as [string, string, string];
    const node = nodeNamed(doc, self, name);
    if (!node && name === lostName)
      return `The expression refers to a node that is gone: enter the name of another one for “${lostName}”.`;
    if (!node) return `No node is called “${name}” in this graph or around it.`;
    if (!kinds.parameter(node.kind, parameter) && node.params?.[parameter] === undefined)
      return `“${name}” (${kinds.title(node.kind)}) has no parameter “${parameter}”.`;
    if (match.index > last) segments.push(text.slice(last, match.index));
    segments.push({ node: node.id, parameter });
    last = match.index + whole.length;
  }
  if (last < text.length) segments.push(text.slice(last));
  return { expression: segments };
}

function nodeNamed(doc: Doc, self: GraphNode, name: string): GraphNode | undefined {
  const index = indexOf(doc);
  const found = index.nodesNamed(name);
  for (let graph: string | undefined = self.graph; graph !== undefined; graph = index.hostOf(graph)?.graph) {
    const here = found.find((node) => node.graph === graph);
    if (here) return here;
  }
  return undefined;
}
