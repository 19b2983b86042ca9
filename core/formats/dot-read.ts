import { z } from 'zod';
import { type Attributes, attributeName, valueOfText } from '../document/attributes.ts';
import { builtin } from '../document/builtin.ts';
import { framePad } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import {
  attributeTypes,
  type Flow,
  type Frame,
  type GraphNode,
  graphFields,
  type Head,
  headShape,
  type Port,
  tableShapes,
  type Wire,
} from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { decodeJson, drawnAttributes, inch, isRegular, ourAttribute, unpackedPorts, wasBefore } from './dot-names.ts';
import {
  type DotAttributes,
  type DotEnd,
  type DotGraph,
  type DotStatement,
  type DotSubgraph,
  parseDot,
} from './dot-parse.ts';
import { isHtml, recordPorts, recordText } from './dot-record.ts';
import { misfitFinding } from './said.ts';
import { find, say } from './sentences.ts';

/** What holds where: defaults for nodes and edges, and the cluster that new nodes belong to. */
interface Scope {
  readonly node: DotAttributes;
  readonly edge: DotAttributes;
  readonly frame: Id | undefined;
}

/** Edges between groups multiply: a few lines can ask for any number of them. */
const mostEdges = 1_000_000;

const flows: ReadonlyMap<string | undefined, Flow> = new Map([
  ['LR', 'right'],
  ['RL', 'left'],
  ['TB', 'down'],
  ['BT', 'up'],
]);

/** Fields of ours that go along in one attribute as JSON. */
const ourNode = tableShapes.nodes.partial().omit({ id: true, graph: true, frame: true, inner: true });
const ourWire = z.object({
  id: z.string().max(200),
  ports: z.tuple([z.string().max(200), z.string().max(200)]),
  more: tableShapes.wires.partial().omit({ id: true, from: true, to: true }),
});
const ourFrame = tableShapes.frames.partial().omit({ id: true, graph: true, parent: true });
const ourHead = headShape
  .pick({ id: true, title: true, catalogue: true, sets: true, wireStyle: true, attributes: true })
  .extend({
    graph: graphFields,
    from: z.literal('dot'),
    columns: z.array(
      z.object({
        of: z.enum(['graph', 'node', 'wire', 'frame']),
        dot: z.string(),
        name: z.string(),
        type: z.enum(attributeTypes),
      }),
    ),
  })
  .partial();

/**
 * Reads DOT (https://graphviz.org/doc/info/lang.html): ports of records and by compass, `pos`, `width` and `height`,
 * clusters as frames, `rankdir` as the flow; what else is said of anything is an attribute. What another program drew
 * (ways of edges, places of labels) is left out and said, since wires are drawn anew. Of several graphs each is nested in
 * a node. Nodes without a position are named in `unplaced`.
 * Throws UnreadableFile with the line where the text is no DOT. O(text).
 */
export function readDot(text: string, title: string, kinds: Kinds): Assembled {
  const graphs = parseDot(text);
  const [first] = graphs;
  if (!first) throw new UnreadableFile(say('no-graph', { what: 'DOT file', lacks: 'graph { … }' }));
  const made = new Assembly('dot', kinds);
  if (graphs.length === 1) return new Reader(first, made, made.root, '').read(title);
  made.tell(find('several-graphs', 'info', [], 'several-graphs', { graphs: graphs.length }));
  made.graph(made.root, { name: title || 'Graphs' });
  graphs.forEach((dot, i) => {
    const called = dot.id || `Graph ${i + 1}`;
    const inner = made.claim(called);
    made.node({ key: undefined, called, inner, own: { kind: builtin.nested } });
    new Reader(dot, made, inner, `${i} `).walkIn();
  });
  return made.finish({ title }, { dot: { graphs: graphs.length } });
}

class Reader {
  private readonly dot: DotGraph;
  private readonly made: Assembly;
  private readonly graph: Id;
  /** What stands before the names of nodes, so that those of several graphs are told apart. */
  private readonly scope: string;
  private readonly nodeIds = new Map<string, Id>();
  private readonly attributes = new Map<Id, Record<string, string>>();
  private readonly edges: { from: DotEnd; to: DotEnd; attributes: DotAttributes }[] = [];
  /** In a strict graph the edges by their ends: a second one adds its attributes to the first. */
  private readonly strictEdges = new Map<string, number>();
  private readonly clusters = new Map<string, { id: Id; own: Record<string, string> }>();
  private readonly graphAttributes: Record<string, string> = {};
  /** What a file of ours says of the whole. */
  private said: z.infer<typeof ourHead> | undefined;
  private readonly columns = new Map<string, { name: string; type: (typeof attributeTypes)[number] }>();
  private drawn = 0;

  constructor(dot: DotGraph, made: Assembly, graph: Id, scope: string) {
    this.dot = dot;
    this.made = made;
    this.graph = graph;
    this.scope = scope;
  }

  read(title: string): Assembled {
    const called = this.walkIn();
    const { graph: _graph, columns: _columns, attributes: _attributes, from, ...head } = this.said ?? {};
    // that it came from DOT says that its attributes are those of the language
    const extra: Record<string, Json> = this.said && !from ? {} : { dot: { graphs: 1 } };
    return this.made.finish({ title: called || title, ...(head as Partial<Head>) }, extra);
  }

  /** Reads the graph into the document. Returns what it is called, where it says so. */
  walkIn(): string | undefined {
    const { dot, made } = this;
    if (!dot.isDirected) made.tell(undirectedFinding());
    this.walk(dot.statements, { node: {}, edge: {}, frame: undefined }, this.graphAttributes);
    this.readHead();
    for (const [name, id] of this.nodeIds) this.place(id, name);
    for (const [, { id, own }] of this.clusters) this.frame(id, own);
    this.readEdges();
    const { rankdir, label, [ourAttribute]: _ours, ...rest } = this.graphAttributes;
    const flow = flows.get(rankdir) ?? 'down';
    const attributes = this.kept('graph', {
      ...rest,
      ...(label !== undefined && { label }),
      ...(rankdir !== undefined && !flows.has(rankdir) && { rankdir }),
    });
    made.graph(this.graph, {
      name: dot.id || 'Main',
      // what runs to the right says nothing
      ...(flow !== 'right' && { flow }),
      ...(!dot.isDirected && { undirected: true as const }),
      ...(dot.isStrict && { strict: true as const }),
      ...this.said?.graph,
      ...(Object.keys(attributes).length > 0 && { attributes }),
    });
    if (this.drawn > 0) made.tell(find('drawn-elsewhere', 'info', [], 'drawn-elsewhere', { edges: this.drawn }));
    return label === undefined ? undefined : recordText(label, false, { G: dot.id ?? '' });
  }

  private readHead(): void {
    const text = this.graphAttributes[ourAttribute];
    this.said = text === undefined ? undefined : this.ours(text, ourHead, this.graph);
    for (const one of Object.values(this.said?.attributes ?? {})) this.made.declareAs(one);
    for (const { of, dot, name, type } of this.said?.columns ?? []) this.columns.set(`${of} ${dot}`, { name, type });
  }

  /** Fields that we have written, where they fit; said where they do not. */
  private ours<T>(text: string, shape: { safeParse(value: unknown): { data?: T | undefined } }, id: Id): T | undefined {
    let read: T | undefined;
    try {
      const raw = decodeJson(text) as Record<string, unknown>;
      read = shape.safeParse('ports' in raw ? { ...raw, ports: unpackedPorts(raw.ports) } : raw).data;
    } catch {
      read = undefined;
    }
    if (read === undefined) this.made.findings.push(misfitFinding(id));
    return read;
  }

  /** What is said of something as its attributes: without what was drawn, and without what we wrote beside. */
  private kept(of: keyof typeof drawnAttributes, own: Readonly<Record<string, string>>): Attributes {
    const kept: [string, Json][] = [];
    for (const [dot, value] of Object.entries(own)) {
      if (drawnAttributes[of].has(dot) || dot === ourAttribute) continue;
      if (dot.startsWith(wasBefore)) {
        // what we left out altogether
        const name = dot.slice(wasBefore.length);
        if (!Object.hasOwn(own, name)) kept.push([this.columns.get(`${of} ${name}`)?.name ?? name, value]);
        continue;
      }
      // what we wrote over is given back as it was
      const was = own[`${wasBefore}${dot}`];
      if (this.said !== undefined && of === 'node' && ['fixedsize', 'fontsize'].includes(dot) && was === undefined)
        continue;
      const column = this.columns.get(`${of} ${dot}`);
      kept.push([column?.name ?? attributeName(dot), valueOfText(was ?? value, column?.type ?? 'text')]);
    }
    return Object.fromEntries(kept);
  }

  /**
   * Statements of a graph or subgraph, in order: defaults hold for what comes behind them. Returns the nodes that were
   * named.
   */
  private walk(statements: readonly DotStatement[], outer: Scope, own: Record<string, string>): Set<string> {
    let scope = outer;
    const named = new Set<string>();
    for (const one of statements) {
      if (one.is === 'set') Object.assign(own, one.attributes);
      else if (one.is === 'defaults') scope = { ...scope, [one.of]: { ...scope[one.of], ...one.attributes } };
      else if (one.is === 'node') named.add(this.node(one.node, scope, one.attributes));
      else if (one.is === 'edge') this.chain(one.ends, { ...scope.edge, ...one.attributes }, scope, named);
      else for (const name of this.subgraph(one, scope)) named.add(name);
    }
    return named;
  }

  private subgraph(one: DotSubgraph, scope: Scope): Set<string> {
    const isCluster =
      one.id?.startsWith('cluster') === true ||
      one.statements.some(
        (inner) => inner.is === 'set' && inner.attributes.cluster !== undefined && inner.attributes.cluster !== 'false',
      );
    if (!isCluster) return this.walk(one.statements, scope, {});
    // one that is named again goes on
    const known = one.id === undefined ? undefined : this.clusters.get(one.id);
    const { id, own } = known ?? { id: this.made.claim(ourFrameId(one) ?? one.id ?? 'cluster'), own: {} };
    if (!known) {
      this.clusters.set(one.id ?? id, { id, own });
      // its place among the frames is kept before those inside it
      this.made.frames.set(id, {
        id,
        graph: this.graph,
        title: '',
        ...(scope.frame !== undefined && { parent: scope.frame }),
        x: 0,
        y: 0,
        width: 200,
        height: 120,
        pad: framePad,
        ...(one.id !== undefined && one.id !== id && ourFrameId(one) === undefined && { foreignId: one.id }),
      });
    }
    return this.walk(one.statements, { ...scope, frame: id }, own);
  }

  private frame(id: Id, own: Readonly<Record<string, string>>): void {
    const ours = own[ourAttribute] === undefined ? undefined : this.ours(own[ourAttribute], ourFrame, id);
    const attributes = this.kept('frame', own);
    const { color, ...others } = attributes;
    const isColor = typeof color === 'string' && isPlainColor(color);
    const title = own.label === undefined ? '' : recordText(own.label, false, { G: this.dot.id ?? '' }).slice(0, 500);
    // a label that is written again just so from the title needs no keeping
    const rest = without(isColor ? others : attributes, own.label === labelText(title) ? ['label'] : []);
    this.made.frames.set(id, {
      ...must(this.made.frames.get(id)),
      ...boxOf(own.bb),
      title,
      ...(isColor && !ours && { color: color as string }),
      ...ours,
      ...(Object.keys(rest).length > 0 && { attributes: rest }),
    } as Frame);
  }

  private chain(
    ends: readonly (DotEnd | DotSubgraph)[],
    attributes: DotAttributes,
    scope: Scope,
    named: Set<string>,
  ): void {
    const groups = ends.map((end): readonly DotEnd[] =>
      'is' in end ? Array.from(this.subgraph(end, scope), (node) => ({ node })) : [end],
    );
    for (const group of groups) for (const { node } of group) named.add(this.node(node, scope, {}));
    for (let i = 0; i + 1 < groups.length; i++)
      for (const from of must(groups[i])) for (const to of must(groups[i + 1])) this.edge(from, to, attributes);
  }

  private edge(from: DotEnd, to: DotEnd, attributes: DotAttributes): void {
    if (this.dot.isStrict) {
      const pair = [from.node, to.node];
      const key = JSON.stringify(this.dot.isDirected ? pair : pair.sort());
      const known = this.strictEdges.get(key);
      if (known !== undefined) {
        const edge = must(this.edges[known]);
        this.edges[known] = { ...edge, attributes: { ...edge.attributes, ...attributes } };
        return;
      }
      this.strictEdges.set(key, this.edges.length);
    }
    if (this.edges.push({ from, to, attributes }) > mostEdges)
      throw new UnreadableFile(say('dot-too-many-edges', { most: mostEdges }));
  }

  /**
   * Makes the node where it is new; attributes add to those that it has, and the first cluster that names it holds it.
   */
  private node(name: string, scope: Scope, attributes: DotAttributes): string {
    const known = this.nodeIds.get(name);
    if (known === undefined) {
      const id = this.made.node({
        key: this.scope + name,
        outer: plainId(name),
        graph: this.graph,
        frame: scope.frame,
        x: 0,
        y: 0,
        own: { name: 'node' },
      });
      this.nodeIds.set(name, id);
      this.attributes.set(id, { ...scope.node, ...attributes });
    } else {
      Object.assign(must(this.attributes.get(known)), attributes);
      const node = must(this.made.nodes.get(known));
      if (node.frame === undefined && scope.frame !== undefined) this.made.setNode(known, { frame: scope.frame });
    }
    return name;
  }

  /** What its attributes say of a node, once all of them are known. */
  private place(id: Id, name: string): void {
    const own = must(this.attributes.get(id));
    const [width, height] = sizeOf(own);
    const at = /^\s*(-?[\d.]+(?:e[+-]?\d+)?)\s*,\s*(-?[\d.]+(?:e[+-]?\d+)?)/i.exec(own.pos ?? '');
    if (!at) this.made.unplace(id);
    const middle = at && { x: Number(at[1]), y: -Number(at[2]) };
    const ours = own[ourAttribute] === undefined || !this.said ? undefined : this.ours(own[ourAttribute], ourNode, id);
    if (ours) {
      const attributes = without(this.kept('node', own), ['shape', 'label', 'margin', 'width', 'height', 'color']);
      this.made.setNode(id, {
        ports: [],
        ...(ours as Partial<GraphNode>),
        ...(Object.keys(attributes).length > 0 && { attributes }),
        // y grows upwards there, and a node's place is its middle
        ...(middle && width && height && { x: middle.x - width / 2, y: middle.y - height / 2 }),
      });
      return;
    }
    const isRecord = /record$/.test(own.shape ?? '');
    const escapes = { N: plainId(name), G: this.dot.id ?? '' };
    const text = own.label === undefined ? undefined : recordText(own.label, isRecord, escapes);
    // which side a port lies on follows from its edges
    const ports = (isRecord ? recordPorts(own.label ?? '') : []).map(
      (port) =>
        ({
          id: port.id,
          name: port.text || port.id,
          type: 'any',
          direction: 'in',
          foreign: port.id,
          undecided: true,
        }) as Port,
    );
    const attributes = without(this.kept('node', own), ['width', 'height']);
    const { color, ...others } = attributes;
    const isColor = typeof color === 'string' && isPlainColor(color);
    // a label that is written again just so from what people see needs no keeping
    const rest = isColor ? others : attributes;
    const kept =
      own.label !== undefined && own.label === labelText(text || plainId(name)) && text !== name
        ? without(rest, ['label'])
        : rest;
    const [wide, tall] = [width ?? 54, height ?? 36];
    this.made.setNode(id, {
      ...this.made.named(text || plainId(name), id),
      ...(isColor && { color: color as string }),
      ...(middle && { x: rounded(middle.x - wide / 2), y: rounded(middle.y - tall / 2) }),
      ports,
      ...(Object.keys(kept).length > 0 && { attributes: kept }),
    });
    if (width !== undefined || height !== undefined)
      this.made.size(id, { width, height, atLeast: !at && own.fixedsize !== 'true' });
  }

  private readEdges(): void {
    for (const { from, to, attributes } of this.edges) {
      const compassOf = ({ port, compass }: DotEnd): string | undefined =>
        compass && (port === undefined ? compass : `${port}:${compass}`);
      const [tail, head] = [compassOf(from), compassOf(to)];
      if (attributes.pos !== undefined) this.drawn++;
      const ours =
        attributes[ourAttribute] === undefined || !this.said
          ? undefined
          : this.ours(attributes[ourAttribute], ourWire, this.graph);
      const kept = this.kept('wire', {
        ...attributes,
        ...(tail && !ours && { tailport: tail }),
        ...(head && !ours && { headport: head }),
      });
      const [source, target] = [from.node, to.node].map((name) => this.scope + name) as [string, string];
      this.made.edge({
        source,
        target,
        sourcePort: ours?.ports[0] ?? from.port,
        targetPort: ours?.ports[1] ?? to.port,
        attributes: kept,
        ...(ours && { key: ours.id, own: ours.more as Partial<Wire> }),
      });
    }
  }
}

/** A name without the stroke that tells text in quotes from HTML. */
const plainId = (name: string): string => name.replace(/^\\(?=<)/, '');

/** A label of one line or more as DOT has it, without marks, and told from HTML. */
export const labelText = (text: string): string =>
  (isHtml(text) ? '\\' : '') + text.replace(/\\/g, '\\\\').replace(/\n/g, '\\n');

/** The id of a frame of ours, as its cluster says it. */
function ourFrameId({ statements }: DotSubgraph): string | undefined {
  for (const one of statements) {
    const text = one.is === 'set' ? one.attributes[ourAttribute] : undefined;
    if (text === undefined) continue;
    try {
      const { id } = decodeJson(text) as { id?: unknown };
      return typeof id === 'string' && id !== '' && id.length <= 200 ? id : undefined;
    } catch {
      return undefined;
    }
  }
  return undefined;
}

/** A colour that we can show and write again: by number, or by one name. */
const isPlainColor = (text: string): boolean => /^#[0-9a-f]{6}$|^[a-z]{3,25}$/i.test(text);

const without = <T extends object>(record: T, fields: readonly string[]): T =>
  Object.fromEntries(Object.entries(record).filter(([field]) => !fields.includes(field))) as T;

const points = (text: string | undefined): number | undefined => {
  const value = Number(text);
  return text !== undefined && Number.isFinite(value) && value > 0 ? Math.round(value * inch * 100) / 100 : undefined;
};

/** Places come with four digits: halves of sizes bring in more. */
const rounded = (value: number): number => Math.round(value * 1e4) / 1e4;

/** The size that a node is given; what is as wide as high by its shape has both where it is given one. */
function sizeOf(own: Readonly<Record<string, string>>): [width: number | undefined, height: number | undefined] {
  const [wide, tall] = [own[`${wasBefore}width`], own[`${wasBefore}height`]];
  const [width, height] = [points(wide ?? own.width), points(tall ?? own.height)];
  return isRegular(own) && wide === undefined && tall === undefined
    ? [width ?? height, height ?? width]
    : [width, height];
}

/** A rectangle as DOT has it: lower left and upper right corner, y growing upwards. */
function boxOf(text: string | undefined): Partial<Frame> {
  const [left, bottom, right, top] = (text ?? '').split(',').map(Number);
  if (left === undefined || bottom === undefined || right === undefined || top === undefined) return {};
  return [left, bottom, right, top].every(Number.isFinite)
    ? { x: left, y: -top, width: right - left, height: top - bottom }
    : {};
}
