import type { Doc } from '../document/doc.ts';
import type { Json } from '../document/json.ts';

/** What came with a file of others, and goes back as it came. */
export interface Kept {
  readonly label?: string | undefined;
  readonly metadata?: Json;
  readonly relation?: string | undefined;
  readonly directed?: boolean | undefined;
  /** Edges that named no id, and graphs. */
  readonly unnamed?: true;
}
export const keptOf = (record: object): Kept => (record as { jgf?: Kept }).jgf ?? {};

/** The type of graph that says that its metadata are ours. */
export const ownType = 'basitax-graph';

/**
 * A document as JSON Graph Format 2: nodes and edges of all graphs, and in the metadata everything else, so that it
 * comes back whole. Where it came from such a file of others, labels, relations and metadata go back as they came, with
 * the places of nodes. O(document).
 */
export function writeJgf(doc: Doc): string {
  const whole = keptOf(doc.extra);
  const { title, root, ...head } = doc.head;
  const nodes = [...doc.nodes.values()].map(({ id, ...node }) => {
    const { label, metadata } = keptOf(node);
    const { x, y } = node;
    return [
      id,
      {
        label: label ?? node.label ?? node.name,
        metadata: { ...asObject(metadata), x, y, basitax: node as unknown as Json },
      },
    ] as const;
  });
  const edges = [...doc.wires.values()].map(({ id, from, to, ...wire }) => {
    const { label, metadata, relation, directed, unnamed } = keptOf(wire);
    return {
      ...(!unnamed && { id }),
      source: from.node,
      target: to.node,
      ...(relation !== undefined && { relation }),
      ...(directed !== undefined && { directed }),
      ...(label !== undefined && { label }),
      metadata: {
        ...asObject(metadata),
        sourcePort: from.port,
        targetPort: to.port,
        basitax: { ...wire, id } as unknown as Json,
      },
    };
  });
  const graph = {
    id: doc.head.id,
    type: ownType,
    label: title,
    directed: whole.directed ?? true,
    metadata: {
      ...asObject(whole.metadata),
      basitax: {
        head: { ...head, root },
        extra: doc.extra,
        graphs: [...doc.graphs.values()],
        frames: [...doc.frames.values()],
        notes: [...doc.notes.values()],
      } as unknown as Json,
    },
    nodes: Object.fromEntries(nodes),
    edges,
  };
  return `${JSON.stringify({ graph }, null, 1)}\n`;
}

/** What stands in an object, where it is one. */
export const asObject = (value: Json | undefined): Readonly<Record<string, Json>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, Json>) : {};
