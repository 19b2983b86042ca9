import { z } from 'zod';
import { type Attributes, attributeKey, attributeName, typeOfValue } from '../document/attributes.ts';
import { docFromJson, parseJson } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import { type Json, sameJson } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { asObject, heldFields } from './jgf-write.ts';
import { badShape } from './said.ts';
import { find, say } from './sentences.ts';

const metadata = z.record(z.string(), z.json());
const nodeShape = z
  .object({ id: z.string().optional(), label: z.string().optional(), metadata: metadata.optional() })
  .loose();
const edgeShape = z
  .object({
    id: z.string().optional(),
    source: z.string(),
    target: z.string(),
    relation: z.string().optional(),
    directed: z.boolean().optional(),
    label: z.string().optional(),
    metadata: metadata.optional(),
  })
  .loose();
const graphShape = z
  .object({
    id: z.string().optional(),
    type: z.string().optional(),
    label: z.string().optional(),
    directed: z.boolean().optional(),
    metadata: metadata.optional(),
    // version 1 had a list
    nodes: z.union([z.record(z.string(), nodeShape), z.array(nodeShape.required({ id: true }))]).default({}),
    edges: z.array(edgeShape).default([]),
    hyperedges: z.array(z.json()).optional(),
  })
  .loose();
type JgfGraph = z.infer<typeof graphShape>;
const fileShape = z.union([
  z.object({ graph: graphShape }),
  z.object({ graphs: z.union([z.array(graphShape).min(1), z.record(z.string(), graphShape)]) }),
]);

const own = z.object({
  head: metadata,
  extra: metadata,
  graphs: z.array(z.json()),
  frames: z.array(z.json()),
  notes: z.array(z.json()),
});

/**
 * Reads JSON Graph Format 2 (https://jsongraphformat.info) and lists of nodes as version 1 had them: labels as names,
 * `x` and `y` of the metadata as places; all else is an attribute. Nodes without a place are named in `unplaced`. Throws
 * UnreadableFile where it is no such file. O(text).
 */
export function readJgf(text: string, title: string, kinds: Kinds): Assembled {
  const raw = parseJson(text);
  const parsed = fileShape.safeParse(raw);
  if (!parsed.success) {
    const only = (raw as { graph?: unknown } | null)?.graph;
    const error = only === undefined ? undefined : graphShape.safeParse(only).error;
    throw new UnreadableFile(
      error
        ? badShape('JSON Graph Format', error, 'graph')
        : say('no-graph', { what: 'JSON', lacks: '"graph" or "graphs"' }),
    );
  }
  const graphs = 'graph' in parsed.data ? [parsed.data.graph] : Object.values(parsed.data.graphs);
  const [graph] = graphs;
  if (!graph) throw new UnreadableFile(say('no-graph', { what: 'JSON Graph Format file', lacks: '"graph"' }));
  const findings: Finding[] = [];
  if (graphs.length > 1) findings.push(find('more-graphs', 'warning', [], 'more-graphs', { graphs: graphs.length }));
  if (graph.hyperedges && graph.hyperedges.length > 0)
    findings.push(find('hyperedges', 'warning', [], 'hyperedges', { hyperedges: graph.hyperedges.length }));
  const read = graph.metadata?.basitax === undefined ? readForeign(graph, title, kinds) : readOwn(graph);
  return { ...read, findings: [...findings, ...read.findings] };
}

const nodesOf = ({ nodes }: JgfGraph): [string, z.infer<typeof nodeShape>][] =>
  Array.isArray(nodes) ? nodes.map((node) => [node.id, node]) : Object.entries(nodes);

/** What metadata say that is an attribute, under the names that records have it. */
const attributesIn = (about: Readonly<Record<string, Json>> | undefined, held: ReadonlySet<string>): Attributes =>
  Object.fromEntries(
    Object.entries(about ?? {}).flatMap(([name, value]) => (held.has(name) ? [] : [[attributeName(name), value]])),
  );

/** Attributes without those that say what all others have and that no record had itself. */
function withoutDefaults(
  of: 'node' | 'wire',
  attributes: Attributes,
  head: Readonly<Record<string, Json>>,
): Attributes {
  const declared = asObject(head.attributes);
  return Object.fromEntries(
    Object.entries(attributes).filter(([name, value]) => {
      const fallback = asObject(declared[attributeKey(of, name)]).default;
      return fallback === undefined || !sameJson(fallback, value);
    }),
  );
}

/** An object with attributes, where there are any. */
const bearing = (attributes: Attributes): { attributes?: Attributes } =>
  Object.keys(attributes).length > 0 ? { attributes } : {};

/** What we wrote: everything stands in the metadata. What others changed on the way counts: places, labels, values and ends. */
function readOwn(graph: JgfGraph): Assembled {
  const parsed = own.safeParse(must(graph.metadata).basitax);
  if (!parsed.success)
    throw new UnreadableFile(badShape('JSON Graph Format written by Basitax', parsed.error, 'graph.metadata.basitax'));
  const { head, extra, graphs, frames, notes } = parsed.data;
  const ids = new Map<string, Json>();
  const nodes = nodesOf(graph).map(([outer, node]) => {
    const { basitax, x, y } = node.metadata ?? {};
    const kept = asObject(basitax);
    const id = kept.id ?? outer;
    ids.set(outer, id);
    const label = kept.label || kept.name;
    return {
      ...kept,
      ...(node.label !== undefined && node.label !== label && { label: node.label }),
      ...(typeof x === 'number' && { x }),
      ...(typeof y === 'number' && { y }),
      ...bearing({
        ...withoutDefaults('node', attributesIn(node.metadata, heldFields.node), head),
        ...asObject(kept.attributes),
      }),
      id,
    };
  });
  const read = docFromJson({
    ...extra,
    ...head,
    title: graph.label ?? '',
    graphs,
    frames,
    notes,
    nodes,
    wires: graph.edges.map((edge, i) => {
      const { basitax, sourcePort, targetPort } = edge.metadata ?? {};
      const kept = asObject(basitax);
      return {
        ...kept,
        id: kept.id ?? edge.id ?? `e${i + 1}`,
        from: { node: ids.get(edge.source) ?? edge.source, port: sourcePort ?? 'out' },
        to: { node: ids.get(edge.target) ?? edge.target, port: targetPort ?? 'in' },
        ...bearing({
          ...withoutDefaults('wire', attributesIn(edge.metadata, heldFields.edge), head),
          ...asObject(kept.attributes),
        }),
      };
    }),
  });
  return { ...read, unplaced: [] };
}

/** What stands beside the metadata, as attributes with the place that they stand in. */
function beside(
  made: Assembly,
  of: 'graph' | 'node' | 'wire',
  record: Readonly<Record<string, unknown>>,
  read: readonly string[],
  names: Map<string, string>,
): Attributes {
  return Object.fromEntries(
    Object.entries(record).flatMap(([field, value]) => {
      if (read.includes(field) || value === undefined) return [];
      const key = `${of} @${field}`;
      const name = names.get(key) ?? made.declare(of, field, { type: typeOfValue(value as Json), key: `@${field}` });
      names.set(key, name);
      return [[name, value as Json]];
    }),
  );
}

function readForeign(graph: JgfGraph, title: string, kinds: Kinds): Assembled {
  const made = new Assembly('jgf', kinds);
  const names = new Map<string, string>();
  const isUndirected = graph.directed === false;
  if (isUndirected) made.tell(undirectedFinding());
  for (const [key, node] of nodesOf(graph)) {
    const { x, y } = node.metadata ?? {};
    const hasPlace = typeof x === 'number' && typeof y === 'number';
    made.node({
      key,
      called: node.label || key,
      ...(hasPlace && { x, y }),
      attributes: {
        ...beside(made, 'node', node, ['id', 'label', 'metadata'], names),
        ...attributesIn(node.metadata, new Set(hasPlace ? ['x', 'y'] : [])),
      },
    });
  }
  for (const edge of graph.edges) {
    const about = edge.metadata;
    const port = (name: string): string | undefined =>
      typeof about?.[name] === 'string' && about[name] !== '' ? about[name] : undefined;
    const ports = ['sourcePort', 'targetPort'].filter((name) => port(name) !== undefined);
    made.edge({
      key: edge.id,
      source: edge.source,
      target: edge.target,
      sourcePort: port('sourcePort'),
      targetPort: port('targetPort'),
      attributes: {
        ...beside(made, 'wire', edge, ['id', 'source', 'target', 'directed', 'metadata'], names),
        ...attributesIn(about, new Set(ports)),
      },
      own: {
        // an edge that has no id there goes back without one
        ...(edge.id === undefined && { foreignId: '' }),
        ...(edge.directed !== undefined &&
          edge.directed === isUndirected && { direction: edge.directed ? 'directed' : 'undirected' }),
      },
    });
  }
  const called = graph.label || title;
  const read = ['label', 'directed', 'metadata', 'nodes', 'edges', 'hyperedges'];
  const root: Id = made.root;
  made.graph(root, {
    name: called || 'Graph',
    ...(isUndirected && { undirected: true as const }),
    ...bearing({ ...beside(made, 'graph', graph, read, names), ...attributesIn(graph.metadata, new Set()) }),
  });
  return made.finish({ title: called });
}
