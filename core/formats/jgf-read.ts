import { z } from 'zod';
import { type Doc, emptyDoc } from '../document/doc.ts';
import { docFromJson, parseJson, type ReadFile } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { legalName } from '../document/names.ts';
import type { Graph, GraphNode, Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { must } from '../must.ts';
import { asObject, type Kept, ownType } from './jgf-write.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';
import { find } from './sentences.ts';

const metadata = z.record(z.string(), z.json());
const nodeShape = z
  .object({ id: z.string().optional(), label: z.string().optional(), metadata: metadata.optional() })
  .loose();
const edgeShape = z.object({
  id: z.string().optional(),
  source: z.string(),
  target: z.string(),
  relation: z.string().optional(),
  directed: z.boolean().optional(),
  label: z.string().optional(),
  metadata: metadata.optional(),
});
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
 * `x` and `y` of the metadata as places;
 * all else is kept, to be written back. Nodes without a place are named in `unplaced`. Throws UnreadableFile where it
 * is no such file. O(text).
 */
export function readJgf(text: string, title: string): ReadFile & { unplaced: readonly Id[] } {
  const raw = parseJson(text);
  const parsed = fileShape.safeParse(raw);
  if (!parsed.success) {
    const only = (raw as { graph?: unknown } | null)?.graph;
    const issue = only === undefined ? undefined : graphShape.safeParse(only).error?.issues[0];
    throw new UnreadableFile(
      `this is no JSON Graph Format: ${issue ? `graph.${issue.path.join('.')}: ${issue.message}` : 'it holds neither a “graph” nor “graphs”'}.`,
    );
  }
  const graphs = 'graph' in parsed.data ? [parsed.data.graph] : Object.values(parsed.data.graphs);
  const [graph] = graphs;
  if (!graph) throw new UnreadableFile('this JSON Graph Format file holds no graph.');
  const findings: Finding[] = [];
  if (graphs.length > 1) findings.push(find('more-graphs', 'warning', [], 'more-graphs', { graphs: graphs.length }));
  if (graph.hyperedges && graph.hyperedges.length > 0)
    findings.push(find('hyperedges', 'warning', [], 'hyperedges', { hyperedges: graph.hyperedges.length }));
  const read =
    graph.type === ownType && graph.metadata?.basitax !== undefined ? readOwn(graph) : new Foreign(graph, title).read();
  return { ...read, findings: [...findings, ...read.findings] };
}

const nodesOf = ({ nodes }: JgfGraph): [string, z.infer<typeof nodeShape>][] =>
  Array.isArray(nodes) ? nodes.map((node) => [node.id, node]) : Object.entries(nodes);

/** What we wrote: everything stands in the metadata. What others changed on the way counts: places, labels and ends. */
function readOwn(graph: JgfGraph): ReadFile & { unplaced: readonly Id[] } {
  const parsed = own.safeParse(must(graph.metadata).basitax);
  if (!parsed.success)
    throw new UnreadableFile(
      `this is no JSON Graph Format of ours: graph.metadata.basitax.${must(parsed.error.issues[0]).path.join('.')}: ${must(parsed.error.issues[0]).message}.`,
    );
  const { head, extra, graphs, frames, notes } = parsed.data;
  const read = docFromJson({
    ...extra,
    ...head,
    title: graph.label ?? '',
    graphs,
    frames,
    notes,
    nodes: nodesOf(graph).map(([id, node]) => {
      const { basitax, x, y } = node.metadata ?? {};
      return { ...asObject(basitax), ...(typeof x === 'number' && { x }), ...(typeof y === 'number' && { y }), id };
    }),
    wires: graph.edges.map((edge, i) => {
      const { basitax, sourcePort, targetPort } = edge.metadata ?? {};
      const kept = asObject(basitax);
      return {
        ...kept,
        id: edge.id ?? kept.id ?? `e${i + 1}`,
        from: { node: edge.source, port: sourcePort ?? 'out' },
        to: { node: edge.target, port: targetPort ?? 'in' },
      };
    }),
  });
  return { ...read, unplaced: [] };
}

class Foreign {
  private readonly graph: JgfGraph;
  private readonly title: string;
  private readonly findings: Finding[] = [];
  private readonly claim = idClaimer(['root']);
  private readonly ids = new Map<string, Id>();

  constructor(graph: JgfGraph, title: string) {
    this.graph = graph;
    this.title = title;
  }

  read(): ReadFile & { unplaced: readonly Id[] } {
    const { graph } = this;
    if (graph.directed === false)
      this.say('undirected', 'info', 'The edges have no direction; they are read from the first end to the second.');
    const nodes = new Map<Id, GraphNode>();
    const unplaced: Id[] = [];
    for (const [name, { label, metadata: about }] of nodesOf(graph)) {
      const id = this.claim(name);
      this.ids.set(name, id);
      const { x, y } = about ?? {};
      const hasPlace = typeof x === 'number' && typeof y === 'number';
      if (!hasPlace) unplaced.push(id);
      const kept: Kept = { ...(label !== undefined && { label }), ...(about && { metadata: about }) };
      nodes.set(id, {
        id,
        graph: 'root',
        kind: 'foreign.node',
        name: legalName(label ?? name),
        ...(label !== undefined && label !== legalName(label) && { label: label.slice(0, 500) }),
        x: hasPlace ? x : 0,
        y: hasPlace ? y : 0,
        ports: [],
        jgf: kept,
      } as GraphNode);
    }
    const graphs = new Map<Id, Graph>([['root', { id: 'root', name: (graph.label ?? this.title).slice(0, 200) }]]);
    const { wires, made } = bridgeLevels(this.looseWires(), nodes, graphs, 'root', {
      claim: this.claim,
      say: (rule, severity, message, place) => this.say(rule, severity, message, place),
    });
    const kept: Kept = {
      ...(graph.metadata && { metadata: graph.metadata }),
      ...(graph.directed !== undefined && { directed: graph.directed }),
    };
    const base = emptyDoc('document', (graph.label ?? this.title).slice(0, 300), { id: 'none', version: 0 });
    const doc: Doc = { ...base, extra: { jgf: kept as unknown as Json }, graphs, nodes, wires };
    const whole = repair(doc);
    return { doc: whole.doc, findings: [...this.findings, ...whole.findings], unplaced: [...unplaced, ...made] };
  }

  private say(rule: string, severity: Finding['severity'], message: string, place: readonly Id[] = []): void {
    this.findings.push(finding(rule, severity, place, message));
  }

  private looseWires(): LooseWire[] {
    return this.graph.edges.map((edge, i) => {
      const { id, source, target, metadata: about, ...rest } = edge;
      const [from, to] = [this.ids.get(source), this.ids.get(target)];
      const port = (name: string): string | undefined =>
        typeof about?.[name] === 'string' ? (about[name] as string) : undefined;
      const kept: Kept = {
        ...rest,
        ...(about && { metadata: about }),
        ...(id === undefined && { unnamed: true as const }),
      };
      return {
        id: this.claim(id ?? `e${i + 1}`),
        source,
        target,
        sourcePort: port('sourcePort'),
        targetPort: port('targetPort'),
        from,
        to,
        late: () => [from, to] as [Id | undefined, Id | undefined],
        extra: { jgf: kept } as Partial<Wire>,
      };
    });
  }
}
