import {
  type Attributes,
  attributeKey,
  attributesOf,
  attributesWithDefaults,
  isUndirected,
} from '../document/attributes.ts';
import type { Doc } from '../document/doc.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { AttributeBearer } from '../document/schema.ts';
import { must } from '../must.ts';
import { OuterIds } from './outer-ids.ts';

/** The type of graphs that came from nowhere else. */
export const ownType = 'basitax-graph';

/** What metadata hold of ours, by what they are of: no attribute can stand there under such a name. */
export const heldFields = {
  graph: new Set(['basitax']),
  node: new Set(['basitax', 'x', 'y']),
  edge: new Set(['basitax', 'sourcePort', 'targetPort']),
} as const;

/**
 * A document as JSON Graph Format 2: nodes and edges of all graphs, attributes as metadata, and in the metadata
 * everything else, so that it comes back whole. What came from such a file of others goes back to where it stood.
 * O(document).
 */
export function writeJgf(doc: Doc): string {
  const { title, root, ...head } = doc.head;
  const [nodeIds, edgeIds] = [new OuterIds(), new OuterIds()];
  const whole = must(doc.graphs.get(root));
  const nodes = [...doc.nodes.values()].map(({ attributes: _attributes, ...node }) => {
    const outer = nodeIds.of(node);
    const { beside, about, held } = parted(doc, 'node', must(doc.nodes.get(node.id)), heldFields.node);
    const { id, ...rest } = node;
    const { x, y } = node;
    return [
      outer,
      {
        label: node.label || node.name,
        ...beside,
        metadata: {
          ...about,
          x,
          y,
          basitax: { ...rest, ...(id !== outer && { id }), ...held } as unknown as Json,
        },
      },
    ] as const;
  });
  const edges = [...doc.wires.values()].map((wire) => {
    const { id, from, to, attributes: _attributes, ...rest } = wire;
    const outer = edgeIds.of(wire);
    const { beside, about, held } = parted(doc, 'wire', wire, heldFields.edge);
    const undirected = isUndirected(doc, wire);
    return {
      ...(wire.foreignId !== '' && { id: outer }),
      source: nodeIds.of(must(doc.nodes.get(from.node))),
      target: nodeIds.of(must(doc.nodes.get(to.node))),
      ...(undirected !== (whole.undirected === true) && { directed: !undirected }),
      ...beside,
      metadata: {
        ...about,
        sourcePort: from.port,
        targetPort: to.port,
        basitax: { ...rest, ...((id !== outer || wire.foreignId === '') && { id }), ...held } as unknown as Json,
      },
    };
  });
  const { beside, about } = parted(doc, 'graph', whole, heldFields.graph);
  const graph = {
    id: doc.head.id,
    type: ownType,
    label: title,
    directed: whole.undirected !== true,
    ...beside,
    metadata: {
      ...about,
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

/** The attributes of a record by where they stand: beside the metadata, in them, or among what is ours. */
function parted(
  doc: Doc,
  of: AttributeBearer,
  record: object,
  held: ReadonlySet<string>,
): { beside: Attributes; about: Attributes; held: { attributes?: Attributes } } {
  const own = attributesOf(record);
  const declared = (name: string) => doc.head.attributes?.[attributeKey(of, name)];
  const placeOf = (name: string): string | undefined => {
    const one = declared(name);
    return one?.from === 'jgf' && one.key?.startsWith('@') ? one.key.slice(1) : undefined;
  };
  const beside: [string, Json][] = [];
  const about: [string, Json][] = [];
  const ours: [string, Json][] = [];
  for (const [name, value] of Object.entries(attributesWithDefaults(doc, of, record))) {
    const place = placeOf(name);
    if (place !== undefined) beside.push([place, value]);
    if (!held.has(name) && place === undefined) about.push([name, value]);
    // what metadata cannot hold under its name, and what stands beside them
    else if (Object.hasOwn(own, name)) ours.push([name, value]);
    // a value of its own that is the same as the one that all others have
    if (about.at(-1)?.[0] === name && Object.hasOwn(own, name) && sameJson(declared(name)?.default, value))
      ours.push([name, value]);
  }
  return {
    beside: Object.fromEntries(beside),
    about: Object.fromEntries(about),
    held: ours.length > 0 ? { attributes: Object.fromEntries(ours) } : {},
  };
}

/** What stands in an object, where it is one. */
export const asObject = (value: Json | undefined): Readonly<Record<string, Json>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, Json>) : {};
