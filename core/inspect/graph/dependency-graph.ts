import type { Doc } from '../../document/doc.ts';
import { readBy } from '../../document/expressions.ts';
import type { Id } from '../../document/ids.ts';
import type { Kinds } from '../../document/kinds.ts';
import type { GraphNode } from '../../document/schema.ts';
import { effectiveWiring, type Source } from '../../wiring/effective.ts';

/** Who reads whom, once all that only carries data is taken out: nodes as numbers, so that algorithms walk arrays. */
export interface DependencyGraph {
  /** The nodes that compute and the boundary of the file, sorted by id. */
  readonly nodes: readonly GraphNode[];
  readonly at: ReadonlyMap<Id, number>;
  /** `inputs[i]`: what feeds each wired input of node i. */
  readonly inputs: readonly (readonly { readonly port: string; readonly source: Source }[])[];
  /** `before[i]`: the nodes that node i reads, by inputs and expressions, each once, in that order. */
  readonly before: readonly (readonly number[])[];
  /** `after[i]`: the nodes that read node i, each once. */
  readonly after: readonly (readonly number[])[];
}

const made = new WeakMap<Doc, { kinds: Kinds; graph: DependencyGraph }>();

/** Made once for a version of a document. O(ports + references). */
export function dependencyGraph(doc: Doc, kinds: Kinds): DependencyGraph {
  const known = made.get(doc);
  if (known?.kinds === kinds) return known.graph;
  const wiring = effectiveWiring(doc, kinds);
  const nodes = wiring.nodes;
  const at = new Map(nodes.map((node, i) => [node.id, i]));
  const inputs = nodes.map((node) =>
    node.ports.flatMap((port) => {
      const source = port.direction === 'in' ? wiring.source(node.id, port.id) : undefined;
      return source && at.has(source.node) ? [{ port: port.id, source }] : [];
    }),
  );
  const before = nodes.map((node, i) => [
    ...new Set([
      ...inputs[i]!.map((input) => at.get(input.source.node)!),
      ...readBy(doc, node).flatMap((id) => at.get(id) ?? []),
    ]),
  ]);
  const graph = { nodes, at, inputs, before, after: reversed(before) };
  made.set(doc, { kinds, graph });
  return graph;
}

/** The same edges the other way round. O(nodes + edges). */
export function reversed(edges: readonly (readonly number[])[]): number[][] {
  const back: number[][] = edges.map(() => []);
  edges.forEach((list, i) => {
    for (const k of list) back[k]!.push(i);
  });
  return back;
}

/**
 * Everything that can be reached from some nodes, themselves included, past none that is `closed`. O(nodes + edges).
 */
export function reachable(
  edges: readonly (readonly number[])[],
  from: Iterable<number>,
  closed: ReadonlySet<number> = new Set(),
): Set<number> {
  const found = new Set<number>();
  const todo: number[] = [];
  const add = (i: number): void => {
    if (found.has(i) || closed.has(i)) return;
    found.add(i);
    todo.push(i);
  };
  for (const i of from) add(i);
  for (let i = todo.pop(); i !== undefined; i = todo.pop()) for (const k of edges[i]!) add(k);
  return found;
}
