import { groupBy } from '../group-by.ts';
import type { Doc } from './doc.ts';
import type { Id } from './ids.ts';
import { isExpression } from './kinds.ts';
import type { GraphNode } from './schema.ts';

// Expressions are wires that nobody draws: whatever follows data follows them, too.

/** An expression that reads a parameter of a node. */
export interface Reading {
  /** Whose expression it is, and of which of its parameters. */
  readonly node: Id;
  readonly parameter: string;
  /** The node that it reads, whether that is there or not, and which parameter of it. */
  readonly reads: Id;
  readonly of: string;
}

const none: readonly Reading[] = [];
const ofRecord = new WeakMap<GraphNode, readonly Reading[]>();

/** What the expressions of a node read, each once for each reference. Kept with the record. */
export function readingsOf(node: GraphNode): readonly Reading[] {
  if (node.params === undefined) return none;
  let found = ofRecord.get(node);
  if (!found) {
    const readings = Object.entries(node.params).flatMap(([parameter, value]) =>
      isExpression(value)
        ? value.expression.flatMap((part) =>
            typeof part === 'string' ? [] : [{ node: node.id, parameter, reads: part.node, of: part.parameter }],
          )
        : [],
    );
    found = readings.length === 0 ? none : readings;
    ofRecord.set(node, found);
  }
  return found;
}

/** The nodes of the document that a node's expressions read, by the order of its parameters. */
export const readBy = (doc: Doc, node: GraphNode): Id[] =>
  readingsOf(node).flatMap(({ reads }) => (doc.nodes.has(reads) ? [reads] : []));

/** What a node's expressions read and the document does not have. */
export const lostReadings = (doc: Doc, node: GraphNode): readonly Reading[] => {
  const all = readingsOf(node);
  return all.length === 0 ? none : all.filter(({ reads }) => !doc.nodes.has(reads));
};

const ofVersion = new WeakMap<Doc['nodes'], ReadonlyMap<Id, readonly Reading[]>>();

/** The expressions that read a node. O(nodes) for a version of the nodes when first asked, then O(1). */
export const readersOf = (doc: Doc, id: Id): readonly Reading[] => readersIn(doc).get(id) ?? none;

/** Does any expression of the document read anything? Cost as `readersOf`. */
export const hasReadings = (doc: Doc): boolean => readersIn(doc).size > 0;

function readersIn(doc: Doc): ReadonlyMap<Id, readonly Reading[]> {
  let byRead = ofVersion.get(doc.nodes);
  if (!byRead) {
    byRead = groupBy([...doc.nodes.values()].flatMap(readingsOf), ({ reads }) => reads);
    ofVersion.set(doc.nodes, byRead);
  }
  return byRead;
}
