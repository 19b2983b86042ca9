import { type Doc, emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import { framePad } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { legalName } from '../document/names.ts';
import type { Flow, Frame, Graph, GraphNode, Head, Port, Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { must } from '../must.ts';
import {
  type DotAttributes,
  type DotEnd,
  type DotGraph,
  type DotStatement,
  type DotSubgraph,
  parseDot,
} from './dot-parse.ts';
import { recordPorts, recordText } from './dot-record.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';

/** Points to the inch: DOT gives sizes in inches and places in points, which we take as pixels. */
export const inch = 72;

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

/**
 * Reads DOT (https://graphviz.org/doc/info/lang.html): ports of records and by compass, `pos`, `width` and `height`,
 * clusters as frames, `rankdir` as the flow; all attributes are kept, to be written back. Nodes without a position are
 * named in `unplaced`.
 * Throws UnreadableFile with the line where the text is no DOT. O(text).
 */
export function readDot(text: string, title: string, _kinds: Kinds): ReadFile & { unplaced: readonly Id[] } {
  const graphs = parseDot(text);
  const [first] = graphs;
  if (!first) throw new UnreadableFile('this DOT file holds no graph.');
  const reader = new Reader(first);
  if (graphs.length > 1)
    reader.say('more-graphs', 'warning', `The file holds ${graphs.length} graphs; the first one was read.`);
  return reader.read(title);
}

class Reader {
  private readonly findings: Finding[] = [];
  private readonly graph: { id: Id } & Record<string, Json> = { id: 'root' };
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly frames = new Map<Id, Frame>();
  private readonly claim = idClaimer(['root']);
  private readonly nodeIds = new Map<string, Id>();
  private readonly attributes = new Map<Id, Record<string, string>>();
  private readonly edges: { from: DotEnd; to: DotEnd; attributes: DotAttributes }[] = [];
  /** In a strict graph the edges by their ends: a second one adds its attributes to the first. */
  private readonly strictEdges = new Map<string, number>();
  private readonly clusters = new Map<string, { id: Id; own: Record<string, string> }>();
  private readonly graphAttributes: Record<string, string> = {};
  private readonly dot: DotGraph;

  constructor(dot: DotGraph) {
    this.dot = dot;
  }

  say(rule: string, severity: Finding['severity'], message: string, place: readonly Id[] = []): void {
    this.findings.push(finding(rule, severity, place, message));
  }

  read(title: string): ReadFile & { unplaced: readonly Id[] } {
    const { dot } = this;
    if (!dot.isDirected)
      this.say('undirected', 'info', 'The edges have no direction; they are read from the first end to the second.');
    this.walk(dot.statements, { node: {}, edge: {}, frame: undefined }, this.graphAttributes);
    const unplaced = [...this.nodeIds].flatMap(([name, id]) => (this.place(id, name) ? [] : [id]));
    const name = dot.id ?? 'Main';
    const graphs = new Map<Id, Graph>([
      [
        'root',
        {
          ...this.graph,
          id: 'root',
          name: name.slice(0, 200),
          flow: flows.get(this.graphAttributes.rankdir) ?? 'down',
        },
      ],
    ]);
    const { wires, made } = bridgeLevels(this.looseWires(), this.nodes, graphs, 'root', {
      claim: this.claim,
      say: (rule, severity, message, place) => this.say(rule, severity, message, place),
    });
    const head: Head = {
      format: 'basitax-graph',
      version: 1,
      id: 'document',
      title: this.graphAttributes.label ? recordText(this.graphAttributes.label).slice(0, 300) : title,
      catalogue: { id: 'none', version: 0 },
      root: 'root',
    };
    const extra: Record<string, Json> = {
      dot: {
        ...this.graphAttributes,
        ...(!dot.isDirected && { ' undirected': 'true' }),
        ...(dot.isStrict && { ' strict': 'true' }),
      },
    };
    const doc: Doc = {
      ...emptyDoc(head.id, head.title),
      head,
      extra,
      graphs,
      nodes: this.nodes,
      wires,
      frames: this.frames,
    };
    const whole = repair(doc);
    return { doc: whole.doc, findings: [...this.findings, ...whole.findings], unplaced: [...unplaced, ...made] };
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
    const { id, own } = known ?? { id: this.claim(one.id ?? 'cluster'), own: {} };
    if (!known) {
      if (one.id !== undefined) this.clusters.set(one.id, { id, own });
      // its place among the frames is kept before those inside it
      this.frames.set(id, { id, graph: 'root', title: '', x: 0, y: 0, width: 200, height: 120 });
    }
    const parent = known ? this.frames.get(id)?.parent : scope.frame;
    const named = this.walk(one.statements, { ...scope, frame: id }, own);
    this.frames.set(id, {
      id,
      graph: 'root',
      title: own.label === undefined ? '' : recordText(own.label).slice(0, 500),
      ...(parent !== undefined && { parent }),
      x: 0,
      y: 0,
      width: 200,
      height: 120,
      pad: framePad,
      ...(own.color !== undefined && { color: own.color.slice(0, 30) }),
      dot: own,
    } as Frame);
    return named;
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
      throw new UnreadableFile(`this DOT has more than ${mostEdges} edges.`);
  }

  /**
   * Makes the node where it is new; attributes add to those that it has, and the first cluster that names it holds it.
   */
  private node(name: string, scope: Scope, attributes: DotAttributes): string {
    const known = this.nodeIds.get(name);
    if (known === undefined) {
      const id = this.claim(name);
      this.nodeIds.set(name, id);
      this.attributes.set(id, { ...scope.node, ...attributes });
      this.nodes.set(id, {
        id,
        graph: 'root',
        kind: 'foreign.node',
        name: legalName(name),
        x: 0,
        y: 0,
        ports: [],
        ...(scope.frame !== undefined && { frame: scope.frame }),
      });
    } else {
      Object.assign(must(this.attributes.get(known)), attributes);
      const node = must(this.nodes.get(known));
      if (node.frame === undefined && scope.frame !== undefined) this.nodes.set(known, { ...node, frame: scope.frame });
    }
    return name;
  }

  /** What its attributes say of a node, once all of them are known. True where they give it a place. */
  private place(id: Id, name: string): boolean {
    const attributes = must(this.attributes.get(id));
    const node = must(this.nodes.get(id));
    const isRecord = /record$/.test(attributes.shape ?? '');
    const text =
      attributes.label === undefined
        ? undefined
        : recordText(attributes.label, isRecord, { N: name, G: this.dot.id ?? '' });
    const [width, height] = [inches(attributes.width), inches(attributes.height)];
    const at = /^\s*(-?[\d.]+)\s*,\s*(-?[\d.]+)/.exec(attributes.pos ?? '');
    const size = at && width && height ? { width, height } : undefined;
    // which side a port lies on follows from its edges
    const ports = (isRecord ? recordPorts(attributes.label ?? '') : []).map(
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
    this.nodes.set(id, {
      ...node,
      ...(text && text !== node.name && { label: text.slice(0, 500) }),
      ...(size && { size }),
      ...(attributes.color !== undefined && { color: attributes.color.slice(0, 30) }),
      // y grows upwards there, and a node's place is its middle
      ...(at && { x: Number(at[1]) - (size?.width ?? 104) / 2, y: -Number(at[2]) - (size?.height ?? 40) / 2 }),
      ports,
      ...(Object.keys(attributes).length > 0 && { dot: attributes }),
    } as GraphNode);
    return at !== null;
  }

  private looseWires(): LooseWire[] {
    return this.edges.map(({ from, to, attributes }, i) => {
      const [source, target] = [must(this.nodeIds.get(from.node)), must(this.nodeIds.get(to.node))];
      const compassOf = ({ port, compass }: DotEnd): string | undefined =>
        compass && (port === undefined ? compass : `${port}:${compass}`);
      const [tail, head] = [compassOf(from), compassOf(to)];
      const kept = {
        ...attributes,
        ...(tail && { tailport: tail }),
        ...(head && { headport: head }),
      };
      return {
        id: this.claim(`e${i + 1}`),
        source,
        target,
        sourcePort: from.port,
        targetPort: to.port,
        from: source,
        to: target,
        late: () => [source, target] as [Id, Id],
        extra: (Object.keys(kept).length > 0 ? { dot: kept } : {}) as Partial<Wire>,
      };
    });
  }
}

const inches = (text: string | undefined): number | undefined => {
  const value = Number(text);
  return text !== undefined && Number.isFinite(value) && value > 0 ? Math.round(value * inch) : undefined;
};
