import type { Doc } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding } from '../finding.ts';
import { groupBy } from '../group-by.ts';
import { endsOf, nodeHashes } from '../inspect/fingerprint.ts';
import { cyclesOf } from '../inspect/graph/components.ts';
import { dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import { reSource } from '../wiring/re-source.ts';
import type { Wiring } from '../wiring/wiring.ts';
import { removeNodes } from './remove.ts';

/**
 * Nodes that compute the same, by their function hash, in groups of at least two within one graph, each in order of
 * ids. Ends, ports of the file, bypassed nodes and those on a cycle are left out: none of them could go without a
 * change. O(nodes), and the cost of the hashes.
 */
export function equalNodes(doc: Doc, kinds: Kinds): readonly (readonly GraphNode[])[] {
  const known = made.get(doc);
  if (known?.kinds === kinds) return known.groups;
  const graph = dependencyGraph(doc, kinds);
  const hashes = nodeHashes(doc, kinds);
  // where a file has no end, what nobody reads is one: it is left out too
  const ends = new Set(endsOf(doc, kinds, graph));
  // on a cycle equal nodes may read one another
  const circling = new Set(cyclesOf(graph.before).flat());
  const groups = groupBy(
    graph.nodes.map((node, i) => ({ node, i })),
    ({ node, i }) =>
      node.bypassed || ends.has(i) || kinds.isFixture(node.kind) || circling.has(i)
        ? undefined
        : `${node.graph} ${hashes[i]}`,
  );
  const found = [...groups.values()].filter((group) => group.length > 1).map((group) => group.map(({ node }) => node));
  made.set(doc, { kinds, groups: found });
  return found;
}

const made = new WeakMap<Doc, { kinds: Kinds; groups: readonly (readonly GraphNode[])[] }>();

/**
 * Takes away all but the first of each group; what takes from the others takes from the first, in wires and
 * expressions. What the ends compute stays the same. Nodes whose consumers cannot all move stay, and are listed.
 * Returns how many went. O(wires and expressions touched · groups).
 */
export function mergeEqual(
  wiring: Wiring,
  groups: readonly (readonly GraphNode[])[],
): { gone: readonly Id[]; findings: readonly Finding[] } {
  const { tx } = wiring;
  const into = new Map<Id, Id>();
  const findings: Finding[] = [];
  for (const [first, ...others] of groups as readonly [GraphNode, ...GraphNode[]][])
    for (const node of others) {
      const stays = node.ports
        .filter((port) => port.direction === 'out')
        .flatMap(
          (port) =>
            reSource(wiring, { node: node.id, port: port.id }, { node: first.id, port: port.id }, undefined).findings,
        );
      findings.push(...stays);
      if (stays.length === 0) into.set(node.id, first.id);
    }
  for (const reader of [...tx.before.nodes.values()].sort((a, b) => compareIds(a.id, b.id)))
    for (const [parameter, value] of Object.entries(reader.params ?? {})) {
      if (
        !isExpression(value) ||
        !value.expression.some((segment) => typeof segment !== 'string' && into.has(segment.node))
      )
        continue;
      tx.setParameter(reader.id, parameter, {
        expression: value.expression.map((segment) =>
          typeof segment === 'string' ? segment : { ...segment, node: into.get(segment.node) ?? segment.node },
        ),
      });
    }
  const gone = [...into.keys()];
  findings.push(
    ...removeNodes(
      wiring,
      gone.map((id) => must(tx.get('nodes', id))),
      false,
    ),
  );
  return { gone, findings };
}
