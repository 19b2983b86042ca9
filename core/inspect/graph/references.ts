import type { Doc } from '../../document/doc.ts';
import type { Id } from '../../document/ids.ts';
import { isExpression } from '../../document/kinds.ts';
import type { GraphNode } from '../../document/schema.ts';

/** The nodes that a node's expressions refer to. */
export function referencesOf(doc: Doc, node: GraphNode): Id[] {
  const ids: Id[] = [];
  for (const value of Object.values(node.params ?? {})) {
    if (isExpression(value))
      for (const segment of value.expression)
        if (typeof segment !== 'string' && doc.nodes.has(segment.node)) ids.push(segment.node);
  }
  return ids;
}

/**
 * The references of a node's expressions to nodes that are not there any more, each as (own parameter, id that is
 * sought).
 */
export function lostReferences(doc: Doc, node: GraphNode): { readonly parameter: string; readonly node: Id }[] {
  return Object.entries(node.params ?? {}).flatMap(([parameter, value]) =>
    isExpression(value)
      ? value.expression.flatMap((segment) =>
          typeof segment !== 'string' && !doc.nodes.has(segment.node) ? [{ parameter, node: segment.node }] : [],
        )
      : [],
  );
}
