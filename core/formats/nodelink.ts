import { z } from 'zod';
import {
  type Attributes,
  attributeName,
  attributesOf,
  attributesWithDefaults,
  isUndirected,
} from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { type Doc, nodePath } from '../document/doc.ts';
import { parseJson } from '../document/file.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { badShape } from './said.ts';

const record = z.record(z.string(), z.json());
const shape = z
  .object({
    directed: z.boolean().optional(),
    multigraph: z.boolean().optional(),
    graph: z.union([record, z.array(z.json())]).optional(),
    nodes: z.array(z.union([record, z.string(), z.number()])),
    links: z.array(record).optional(),
    edges: z.array(record).optional(),
  })
  .loose();

/** Is JSON in the shape of nodes and links? */
export const isNodeLink = (raw: unknown): boolean =>
  typeof raw === 'object' &&
  raw !== null &&
  Array.isArray((raw as { nodes?: unknown }).nodes) &&
  (Array.isArray((raw as { links?: unknown }).links) || Array.isArray((raw as { edges?: unknown }).edges)) &&
  (raw as { format?: unknown }).format === undefined;

/** What attributes there are, under names that records may have, without what was read. */
const attributesFrom = (fields: Readonly<Record<string, Json>>, read: readonly string[]): Attributes =>
  Object.fromEntries(
    Object.entries(fields).flatMap(([name, value]) => (read.includes(name) ? [] : [[attributeName(name), value]])),
  );

const text = (value: Json | undefined): string | undefined =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : undefined;

/** What people see of a node, the first of these that there is. */
const captions = ['label', 'name', 'title'];

/**
 * Reads JSON of nodes and links, as NetworkX's `node_link_data` and D3's force layouts have it: ends by the ids of nodes,
 * or by their places in the list where nodes have none. All else is an attribute. Nodes without a place are named in
 * `unplaced`. Throws UnreadableFile where it is no such file. O(text).
 */
export function readNodeLink(source: string, title: string, kinds: Kinds): Assembled {
  const parsed = shape.safeParse(parseJson(source));
  if (!parsed.success) throw new UnreadableFile(badShape('JSON of nodes and links', parsed.error));
  const { nodes, links, edges, directed, multigraph: _multi, graph, ...rest } = parsed.data;
  const made = new Assembly('nodelink', kinds);
  const isUndirected = directed === false;
  if (isUndirected) made.tell(undirectedFinding());
  const keys = nodes.map((node, i) => {
    const fields = typeof node === 'object' ? node : { id: node };
    const key = text(fields.id) ?? text(fields.key) ?? text(fields.name) ?? String(i);
    const ours = fields.basitax as { name?: string; kind?: string } | undefined;
    const caption = captions.find((name) => text(fields[name]) !== undefined && fields[name] !== '');
    const hasPlace = typeof fields.x === 'number' && typeof fields.y === 'number';
    const read = [
      'id',
      'basitax',
      ...(fields.id === undefined ? ['key'] : []),
      ...(caption ? [caption] : []),
      ...(hasPlace ? ['x', 'y'] : []),
    ];
    made.node({
      key,
      called: caption && text(fields[caption]),
      ...(hasPlace && { x: fields.x as number, y: fields.y as number }),
      ...(typeof fields.color === 'string' && /^#[0-9a-f]{6}$/i.test(fields.color) && { color: fields.color }),
      attributes: attributesFrom(fields, read),
      own:
        ours && typeof ours === 'object'
          ? { ...(ours.name && { name: ours.name }), ...(ours.kind && { kind: ours.kind }) }
          : {},
    });
    return key;
  });
  const isByPlace = nodes.every((node) => typeof node === 'object' && node.id === undefined);
  const end = (value: Json | undefined): string => {
    if (typeof value === 'number' && isByPlace) return keys[value] ?? String(value);
    if (typeof value === 'object' && value !== null && !Array.isArray(value))
      return text((value as Record<string, Json>).id) ?? '';
    return text(value) ?? '';
  };
  for (const link of links ?? edges ?? []) {
    const port = (name: string): string | undefined => text(link[name]) || undefined;
    const read = ['source', 'target', ...['sourcePort', 'targetPort'].filter((name) => port(name) !== undefined)];
    made.edge({
      source: end(link.source),
      target: end(link.target),
      sourcePort: port('sourcePort'),
      targetPort: port('targetPort'),
      attributes: attributesFrom(link, read),
    });
  }
  const about = Array.isArray(graph)
    ? Object.fromEntries(graph.filter(Array.isArray) as [string, Json][])
    : (graph ?? {});
  const named = text((about as Record<string, Json>).name);
  const attributes = {
    ...attributesFrom(rest as Record<string, Json>, []),
    ...attributesFrom(about as Record<string, Json>, ['name']),
  };
  const called = named || title;
  made.graph('root', {
    name: called || 'Graph',
    ...(isUndirected && { undirected: true as const }),
    ...(Object.keys(attributes).length > 0 && { attributes }),
  });
  return made.finish({ title: called });
}

/**
 * Nodes and wires of all graphs as JSON of nodes and links: ids are the paths of nodes, attributes fields. What is nested
 * stands beside the rest; frames, notes, parameters and ports without a wire have no place in it. O(nodes + wires).
 */
export function writeNodeLink(doc: Doc): string {
  const paths = new Map([...doc.nodes].map(([id, node]) => [id, nodePath(doc, node)]));
  const root = must(doc.graphs.get(doc.head.root));
  const free = (attributes: Attributes, held: readonly string[]): Record<string, Json> =>
    Object.fromEntries(
      Object.entries(attributes).map(([name, value]) => [held.includes(name) ? `${name}_` : name, value]),
    );
  const graph = {
    directed: root.undirected !== true,
    multigraph: true,
    graph: { name: doc.head.title, ...free(attributesOf(root), ['name']) },
    nodes: [...doc.nodes.values()].map((node) => ({
      id: must(paths.get(node.id)),
      label: node.label || node.name,
      x: node.x,
      y: node.y,
      ...(node.color !== undefined && { color: node.color }),
      ...free(attributesWithDefaults(doc, 'node', node), [
        ...['id', 'label', 'x', 'y', 'basitax'],
        ...(node.color === undefined ? [] : ['color']),
      ]),
      basitax: { name: node.name, ...(node.kind !== foreignKind && { kind: node.kind }) },
    })),
    links: [...doc.wires.values()].map((wire) => ({
      source: must(paths.get(wire.from.node)),
      target: must(paths.get(wire.to.node)),
      key: wire.foreignId || wire.id,
      ...(isUndirected(doc, wire) !== (root.undirected === true) && { directed: !isUndirected(doc, wire) }),
      sourcePort: wire.from.port,
      targetPort: wire.to.port,
      ...free(attributesWithDefaults(doc, 'wire', wire), [
        'source',
        'target',
        'key',
        'sourcePort',
        'targetPort',
        'directed',
      ]),
    })),
  };
  return `${JSON.stringify(graph, null, 1)}\n`;
}
