import { builtin } from '../document/builtin.ts';
import { type Doc, emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import { geometryOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { legalName } from '../document/names.ts';
import {
  detailFields,
  type Flow,
  type Frame,
  flowSchema,
  type Graph,
  type GraphNode,
  type Head,
  headShape,
  laterFields,
  type Note,
  type Port,
  type Records,
  tableShapes,
  type Wire,
} from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { mostDepth, repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { must } from '../must.ts';
import { bridgeLevels, type LooseWire } from './levels.ts';
import { misfitFinding, renamedFindings } from './said.ts';
import { attribute, children, type Element, innerText, innerXml, parseXml } from './xml.ts';

interface Key {
  readonly name: string;
  readonly fallback: string | undefined;
}

/** The data of one element: what we know by attr.name, the rest as raw text by key id. */
interface Data {
  readonly known: ReadonlyMap<string, string>;
  readonly rest: Readonly<Record<string, string>>;
}

/** A key's definition as another program wrote it, kept to be written back. */
interface ForeignKey {
  readonly id: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly fallback?: string;
}

const detailShape = tableShapes.nodes.pick(detailFields).strip();
const laterShapes = {
  nodes: tableShapes.nodes.pick(laterFields.nodes).strip(),
  frames: tableShapes.frames.pick(laterFields.frames).strip(),
  notes: tableShapes.notes.pick(laterFields.notes).strip(),
};

const ourNodeKeys = [
  'x',
  'y',
  'width',
  'height',
  'name',
  'kind',
  'label',
  'title',
  'color',
  'parameters',
  'role',
  'pinned',
  'bypassed',
  'beacon',
  'note',
  'pad',
  'text',
  'tied',
  'detail',
  'more',
  'picture',
];
const ourKeys: Record<string, ReadonlySet<string>> = {
  node: new Set(ourNodeKeys),
  edge: new Set(['route', 'off']),
  port: new Set(['direction', 'type', 'title']),
  graph: new Set(['name', 'title', 'flow', 'catalogue', 'document', 'sets']),
};

/**
 * Reads GraphML (http://graphml.graphdrawing.org, primer and specification): ports, nested graphs, keys. Ids of others
 * stay as they are, keys that we do not know are carried through, and what had to be repaired is listed. Nodes without
 * a position are named in `unplaced`. Throws UnreadableFile where there is no graph in it. O(text).
 */
export function readGraphml(text: string, title: string, kinds: Kinds): ReadFile & { unplaced: readonly Id[] } {
  const xml = parseXml(text);
  const root = children(xml, 'graphml')[0];
  if (!root)
    throw new UnreadableFile(
      `this XML is no GraphML: its outermost element is <${Object.keys(xml).find((name) => !name.startsWith('?') && !name.startsWith('#')) ?? ''}>, not <graphml>.`,
    );
  const graph = children(root, 'graph')[0];
  if (!graph) throw new UnreadableFile('this GraphML holds no <graph>.');
  const reader = new Reader(root, kinds);
  if (children(root, 'graph').length > 1)
    reader.say(
      'more-graphs',
      'warning',
      `The file holds ${children(root, 'graph').length} graphs; the first one was read.`,
    );
  return reader.read(graph, title);
}

class Reader {
  private readonly kinds: Kinds;
  private readonly keys = new Map<string, Key>();
  private readonly foreignKeys: ForeignKey[] = [];
  private readonly rootAttributes: Record<string, string> = {};
  private readonly findings: Finding[] = [];
  private readonly graphs = new Map<Id, Graph>();
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly frames = new Map<Id, Frame>();
  private readonly notes = new Map<Id, Note>();
  private readonly loose: LooseWire[] = [];
  private readonly used = new Set<string>();
  /** From the file's node ids to ours. */
  private readonly nodeIds = new Map<string, Id>();
  private readonly unplaced: Id[] = [];
  private readonly renamed: string[] = [];

  constructor(root: Element, kinds: Kinds) {
    this.kinds = kinds;
    for (const [name, value] of Object.entries(root))
      if (name.startsWith('@') && typeof value === 'string') this.rootAttributes[name.slice(1)] = value;
    for (const key of children(root, 'key')) {
      const id = attribute(key, 'id');
      if (id === undefined) continue;
      const name = attribute(key, 'attr.name') ?? id;
      const fallback = children(key, 'default')[0];
      this.keys.set(id, { name, fallback: fallback && innerXml(fallback) });
      const domain = attribute(key, 'for') ?? 'all';
      if (ourKeys[domain]?.has(name)) continue;
      const attributes = Object.fromEntries(
        Object.entries(key).flatMap(([field, value]) =>
          field.startsWith('@') && typeof value === 'string' ? [[field.slice(1), value]] : [],
        ),
      );
      this.foreignKeys.push({ id, attributes, ...(fallback && { fallback: innerXml(fallback) }) });
    }
  }

  say(rule: string, severity: Finding['severity'], message: string, place: readonly Id[] = []): void {
    this.findings.push(finding(rule, severity, place, message));
  }

  read(graph: Element, title: string): ReadFile & { unplaced: readonly Id[] } {
    const data = this.data(graph, 'graph');
    const rootId = this.claim(attribute(graph, 'id') ?? 'root', 'root');
    if (attribute(graph, 'edgedefault') === 'undirected')
      this.say('undirected', 'info', 'The edges have no direction; they are read from source to target.');
    this.readGraph(graph, rootId, data, 'Main');
    this.walk(graph, rootId);
    const { wires, made } = bridgeLevels(this.loose, this.nodes, this.graphs, rootId, {
      claim: (wanted) => this.claim(wanted, wanted),
      say: (rule, severity, message, place) => this.say(rule, severity, message, place),
    });
    this.unplaced.push(...made);
    const head: Head = {
      format: 'basitax-graph',
      version: 1,
      id: this.parsed<string>(data.known.get('document')) ?? this.claim('document', 'document'),
      title: data.known.get('title') ?? title,
      catalogue: this.catalogue(data),
      root: rootId,
      ...this.sets(data),
    };
    const extra: Record<string, Json> = {};
    if (this.foreignKeys.length > 0) extra.graphmlKeys = this.foreignKeys as unknown as Json;
    const attributes = Object.fromEntries(Object.entries(this.rootAttributes).filter(([name]) => name !== 'xmlns'));
    if (Object.keys(attributes).length > 0) extra.graphmlRoot = attributes;
    this.fitSizes(wires);
    this.sayLoops(wires);
    this.findings.push(...renamedFindings(this.renamed));
    const doc: Doc = {
      head,
      extra,
      graphs: this.graphs,
      frames: this.frames,
      nodes: this.nodes,
      wires,
      notes: this.notes,
    };
    const whole = repair(doc);
    return { doc: whole.doc, findings: [...this.findings, ...whole.findings], unplaced: this.unplaced };
  }

  private sets(data: Data): Pick<Head, 'sets'> {
    const read = headShape.shape.sets.safeParse(this.parsed<object>(data.known.get('sets')));
    return read.data ? { sets: read.data } : {};
  }

  private catalogue(data: Data): Head['catalogue'] {
    const stored = this.parsed<Head['catalogue']>(data.known.get('catalogue'));
    return typeof stored?.id === 'string' && Number.isInteger(stored.version)
      ? { id: stored.id, version: stored.version }
      : { id: this.kinds.catalogue.id, version: this.kinds.catalogue.version };
  }

  private parsed<T>(text: string | undefined): T | undefined {
    if (text === undefined) return undefined;
    try {
      return JSON.parse(text) as T;
    } catch {
      return undefined;
    }
  }

  /** An id that is free in the whole document: the one wanted, or a numbered one. */
  private claim(wanted: string, fallback: string): Id {
    const base = wanted === '' ? fallback : wanted.slice(0, 190);
    let id = base;
    for (let i = 2; this.used.has(id); i++) id = `${base}~${i}`;
    this.used.add(id);
    return id;
  }

  private data(element: Element, domain: keyof typeof ourKeys): Data {
    const known = new Map<string, string>();
    const rest: Record<string, string> = {};
    for (const item of children(element, 'data')) {
      const id = attribute(item, 'key');
      if (id === undefined) continue;
      const raw = innerXml(item);
      const name = this.keys.get(id)?.name ?? id;
      const text = innerText(raw);
      if (ourKeys[domain]?.has(name) && text !== undefined) known.set(name, text);
      else rest[id] = raw;
    }
    for (const [id, { name, fallback }] of this.keys) {
      const text = fallback === undefined ? undefined : innerText(fallback);
      if (text !== undefined && ourKeys[domain]?.has(name) && !known.has(name) && !(id in rest)) known.set(name, text);
    }
    return { known, rest };
  }

  private readGraph(element: Element, id: Id, data: Data, name: string): void {
    const flow = flowSchema.safeParse(data.known.get('flow'));
    const foreign = attribute(element, 'id');
    this.graphs.set(id, {
      id,
      name: data.known.get('name') ?? name,
      ...(flow.success && flow.data !== 'right' && { flow: flow.data as Flow }),
      ...(foreign !== undefined && foreign !== id && { foreignId: foreign }),
      ...(Object.keys(data.rest).length > 0 && { data: data.rest }),
    });
  }

  /** Reads nodes and edges of a graph and of those within it, without recursion. */
  private walk(rootElement: Element, rootId: Id): void {
    const todo: { element: Element; graph: Id; frame: Id | undefined; depth: number }[] = [
      { element: rootElement, graph: rootId, frame: undefined, depth: 0 },
    ];
    for (let at = todo.shift(); at; at = todo.shift()) {
      if (at.depth > mostDepth)
        throw new UnreadableFile(
          `graphs lie more than ${mostDepth} deep in one another; unnest some before importing.`,
        );
      for (const element of children(at.element, 'node')) {
        const inner = children(element, 'graph')[0];
        const data = this.data(element, 'node');
        const role = data.known.get('role');
        if (role === 'frame') {
          const frame = this.readFrame(element, at.graph, at.frame, data);
          if (inner) todo.push({ element: inner, graph: at.graph, frame, depth: at.depth + 1 });
        } else if (role === 'note') this.readNote(element, at.graph, data);
        else {
          const node = this.readNode(element, at.graph, at.frame, data, inner !== undefined);
          if (inner && node.inner !== undefined) {
            this.readGraph(inner, node.inner, this.data(inner, 'graph'), data.known.get('label') ?? node.name);
            todo.push({ element: inner, graph: node.inner, frame: undefined, depth: at.depth + 1 });
          }
        }
      }
      if (children(at.element, 'hyperedge').length > 0)
        this.say(
          'hyperedge',
          'warning',
          `${children(at.element, 'hyperedge').length} hyperedges were left out: a wire joins two ports.`,
        );
      for (const element of children(at.element, 'edge')) this.readEdge(element);
    }
  }

  private number(data: Data, field: string, id: Id): number | undefined {
    const text = data.known.get(field);
    if (text === undefined || text.trim() === '') return undefined;
    const value = Number(text);
    if (Number.isFinite(value)) return value;
    this.say(
      'bad-number',
      'warning',
      `${field} of ${id} is “${text.slice(0, 30)}”, which is no number; it counts as absent.`,
      [id],
    );
    return undefined;
  }

  private common(
    element: Element,
    graph: Id,
    data: Data,
    prefix: string,
  ): { id: Id; graph: Id; x: number | undefined; y: number | undefined; foreign: object } {
    const own = attribute(element, 'id');
    const id = this.claim(own ?? prefix, prefix);
    if (own !== undefined && this.nodeIds.has(own))
      this.say(
        'doubled-id',
        'warning',
        `The id ${own} stands twice; the second one is now ${id}, and edges lead to the first.`,
        [id],
      );
    else if (own !== undefined) this.nodeIds.set(own, id);
    const foreign = {
      ...(own !== undefined && own !== id && { foreignId: own }),
      ...(Object.keys(data.rest).length > 0 && { data: data.rest }),
    };
    return { id, graph, x: this.number(data, 'x', id), y: this.number(data, 'y', id), foreign };
  }

  private readFrame(element: Element, graph: Id, parent: Id | undefined, data: Data): Id {
    const { id, x, y, foreign } = this.common(element, graph, data, 'frame');
    const pad = this.parsed<Frame['pad']>(data.known.get('pad'));
    this.frames.set(id, {
      id,
      graph,
      title: data.known.get('title') ?? data.known.get('label') ?? attribute(element, 'id') ?? '',
      ...(parent !== undefined && { parent }),
      x: x ?? 0,
      y: y ?? 0,
      width: this.number(data, 'width', id) ?? 240,
      height: this.number(data, 'height', id) ?? 160,
      ...(pad && { pad }),
      ...(data.known.has('color') && { color: must(data.known.get('color')).slice(0, 30) }),
      ...(data.known.has('note') && { note: must(data.known.get('note')) }),
      ...this.later('frames', data, id),
      ...foreign,
    });
    return id;
  }

  private readNote(element: Element, graph: Id, data: Data): void {
    const { id, x, y, foreign } = this.common(element, graph, data, 'note');
    const tied = data.known.get('tied');
    this.notes.set(id, {
      id,
      graph,
      x: x ?? 0,
      y: y ?? 0,
      width: this.number(data, 'width', id) ?? 200,
      height: this.number(data, 'height', id) ?? 80,
      text: data.known.get('text') ?? '',
      ...(tied !== undefined && { tiedTo: tied }),
      ...this.later('notes', data, id),
      ...foreign,
    });
  }

  private readNode(element: Element, graph: Id, frame: Id | undefined, data: Data, holdsGraph: boolean): GraphNode {
    const { id, x, y, foreign } = this.common(element, graph, data, 'node');
    const [width, height] = [this.number(data, 'width', id), this.number(data, 'height', id)];
    const params = this.parsed<Record<string, Json>>(data.known.get('parameters'));
    if (data.known.has('parameters') && (typeof params !== 'object' || params === null || Array.isArray(params)))
      this.say('bad-parameters', 'warning', `The parameters of ${id} are no JSON object; they were left out.`, [id]);
    if (x === undefined || y === undefined) this.unplaced.push(id);
    const beacon = this.parsed<GraphNode['beacon']>(data.known.get('beacon'));
    const kind = data.known.get('kind') ?? (holdsGraph ? builtin.nested : 'foreign.node');
    const own = attribute(element, 'id') ?? id;
    const label = data.known.get('label');
    const node: GraphNode = {
      id,
      graph,
      kind: kind.slice(0, 200) || 'foreign.node',
      name: data.known.get('name') ?? '',
      ...(label !== undefined && { label: label.slice(0, 500) }),
      x: x ?? 0,
      y: y ?? 0,
      ...(frame !== undefined && { frame }),
      ...(holdsGraph && {
        inner: this.claim(attribute(must(children(element, 'graph')[0]), 'id') ?? `${id}:graph`, `${id}:graph`),
      }),
      ...(typeof beacon?.name === 'string' && { beacon }),
      ...(data.known.get('pinned') === 'true' && { pinned: true as const }),
      ...(data.known.get('bypassed') === 'true' && { bypassed: true as const }),
      ...(width !== undefined && height !== undefined && width > 0 && height > 0 && { size: { width, height } }),
      ...(data.known.has('color') && { color: must(data.known.get('color')).slice(0, 30) }),
      ...this.detail(data, id),
      ...this.later('nodes', data, id),
      ports: this.ports(element),
      ...(params &&
        typeof params === 'object' &&
        !Array.isArray(params) &&
        Object.keys(params).length > 0 && { params }),
      ...foreign,
    };
    const named = node.name !== '' ? node : this.named(node, label ?? own, label === undefined);
    this.nodes.set(id, named);
    return named;
  }

  /** How a node is shown; what does not fit is said and left out. */
  private detail(data: Data, id: Id): Partial<GraphNode> {
    const shown = detailShape.safeParse({
      ...this.parsed<object>(data.known.get('detail')),
      ...(data.known.has('picture') && { picture: data.known.get('picture') }),
    });
    if (!shown.success)
      this.say('bad-detail', 'warning', `The detail or picture of ${id} does not fit; it was left out.`, [id]);
    return shown.data ?? {};
  }

  /** The fields that are carried together; what does not fit is said and left out. */
  private later<T extends keyof typeof laterShapes>(table: T, data: Data, id: Id): Partial<Records[T]> {
    if (!data.known.has('more')) return {};
    const read = laterShapes[table].safeParse(this.parsed<object>(data.known.get('more')));
    if (!read.success) this.findings.push(misfitFinding(id));
    return (read.data ?? {}) as Partial<Records[T]>;
  }

  /** What others call a node becomes its label where it is no legal name; our own files bring both. */
  private named(node: GraphNode, called: string, keep: boolean): GraphNode {
    const name = legalName(called);
    if (name === called) return { ...node, name };
    this.renamed.push(called);
    return { ...node, name, ...(keep && { label: called.slice(0, 500) }) };
  }

  private ports(element: Element): Port[] {
    const ports: Port[] = [];
    const todo = [...children(element, 'port')];
    for (let port = todo.shift(); port; port = todo.shift()) {
      const name = attribute(port, 'name');
      todo.unshift(...children(port, 'port'));
      if (name === undefined) continue;
      const { known, rest } = this.data(port, 'port');
      const direction = known.get('direction');
      const base = {
        id: name,
        name: known.get('title') ?? name,
        type: known.get('type') ?? 'any',
        ...(Object.keys(rest).length > 0 && { data: rest }),
      };
      if (direction !== undefined)
        for (const side of direction.split(' ')) ports.push({ ...base, direction: side === 'out' ? 'out' : 'in' });
      else ports.push({ ...base, direction: 'in', undecided: true } as Port);
    }
    return ports;
  }

  private readEdge(element: Element): void {
    const [source, target] = [attribute(element, 'source') ?? '', attribute(element, 'target') ?? ''];
    const own = attribute(element, 'id');
    const id = this.claim(own ?? `e${this.loose.length + 1}`, 'edge');
    const data = this.data(element, 'edge');
    this.loose.push({
      id,
      source,
      target,
      sourcePort: attribute(element, 'sourceport'),
      targetPort: attribute(element, 'targetport'),
      from: this.nodeIds.get(source),
      to: this.nodeIds.get(target),
      late: () => [this.nodeIds.get(source), this.nodeIds.get(target)],
      extra: {
        ...(data.known.get('off') === 'true' && { off: true as const }),
        ...(own !== id && { foreignId: own ?? '' }),
        ...(Object.keys(data.rest).length > 0 && { data: data.rest }),
      } as Partial<Wire>,
    });
  }

  /** Loops and wires of a node to itself are kept; whoever imports is told, since many kinds of graph forbid them. */
  private sayLoops(wires: ReadonlyMap<Id, Wire>): void {
    const at = new Map([...this.nodes.keys()].map((id, i) => [id, i]));
    const before: number[][] = [...at].map(() => []);
    const own = new Set<Id>();
    for (const { from, to } of wires.values()) {
      if (from.node === to.node) own.add(from.node);
      else must(before[must(at.get(to.node))]).push(must(at.get(from.node)));
    }
    const loops = stronglyConnected(before).filter((component) => component.length > 1);
    const ids = [...at.keys()];
    if (loops.length > 0)
      this.say(
        'loop',
        'info',
        `The wires run in ${loops.length === 1 ? 'a loop' : `${loops.length} loops`}, the largest over ${Math.max(...loops.map((loop) => loop.length))} nodes; they are kept as they are.`,
        [must(ids[must(must(loops[0])[0])])],
      );
    if (own.size > 0)
      this.say(
        'self-loop',
        'info',
        `${own.size === 1 ? 'One node is' : `${own.size} nodes are`} wired to themselves; the wires are kept as they are.`,
        [...own].slice(0, 1),
      );
  }

  /** A size that is just what the node would have anyway is no override. */
  private fitSizes(wires: Doc['wires']): void {
    const doc: Doc = { ...emptyDoc('', ''), graphs: this.graphs, nodes: this.nodes, wires };
    for (const [id, node] of this.nodes) {
      if (!node.size) continue;
      const { size, ...rest } = node;
      const natural = geometryOf(doc, this.kinds, rest);
      if (Math.abs(natural.width - size.width) < 0.5 && Math.abs(natural.height - size.height) < 0.5)
        this.nodes.set(id, rest);
    }
  }
}
