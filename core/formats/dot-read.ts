import { parse } from 'ts-graphviz/ast';
import { type Doc, emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import { framePad } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { legalName } from '../document/names.ts';
import { checkDotNesting } from '../document/nesting.ts';
import type { Flow, Frame, Graph, GraphNode, Head, Port, Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { must } from '../must.ts';
import { recordPorts, recordText } from './dot-record.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';

/** Points to the inch: DOT gives sizes in inches and places in points, which we take as pixels. */
export const inch = 72;

/** The part of the parser's tree that is walked here. */
interface Syntax {
  readonly type: string;
  readonly children: readonly Syntax[];
  readonly id?: Literal;
  readonly directed?: boolean;
  readonly kind?: 'Graph' | 'Node' | 'Edge';
  readonly key?: Literal;
  readonly value?: Literal;
  readonly targets?: readonly Syntax[];
  readonly port?: Literal;
  readonly compass?: Literal;
}
interface Literal {
  readonly value: string;
  readonly quoted: boolean | 'html';
}

type Attributes = Readonly<Record<string, string>>;

/** What holds where: defaults for nodes and edges, and the cluster that new nodes belong to. */
interface Scope {
  readonly node: Attributes;
  readonly edge: Attributes;
  readonly frame: Id | undefined;
}

const flows: Record<string, Flow> = { LR: 'right', RL: 'left', TB: 'down', BT: 'up' };
const compass = new Set(['n', 'ne', 'e', 'se', 's', 'sw', 'w', 'nw', 'c', '_']);
/** Syntax nodes that are read at the most; the parser's own limit would refuse graphs of some thousand edges. */
const mostSyntax = 5_000_000;

/**
 * Reads DOT (https://graphviz.org/doc/info/lang.html): ports of records and by compass, `pos`, `width` and `height`,
 * clusters as frames, `rankdir` as the flow; all attributes are kept, to be written back. Nodes without a position are
 * named in `unplaced`.
 * Throws UnreadableFile with the line where the text is no DOT. O(text).
 */
export function readDot(text: string, title: string, _kinds: Kinds): ReadFile & { unplaced: readonly Id[] } {
  const graphs = syntaxOf(text).children.filter((one) => one.type === 'Graph');
  if (graphs.length === 0) throw new UnreadableFile('this DOT file holds no graph.');
  const reader = new Reader();
  if (graphs.length > 1)
    reader.say('more-graphs', 'warning', `The file holds ${graphs.length} graphs; the first one was read.`);
  return reader.read(must(graphs[0]), title);
}

function syntaxOf(text: string): Syntax {
  checkDotNesting(text);
  try {
    return parse(text, { maxASTNodes: mostSyntax }) as unknown as Syntax;
  } catch (error) {
    if (!(error instanceof Error)) throw error;
    const { location } = (error.cause ?? {}) as { location?: { start?: { line?: number } } };
    throw new UnreadableFile(`this is no DOT: ${error.message}`, location?.start?.line);
  }
}

class Reader {
  private readonly findings: Finding[] = [];
  private readonly graph: { id: Id } & Record<string, Json> = { id: 'root' };
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly frames = new Map<Id, Frame>();
  private readonly claim = idClaimer(['root']);
  private readonly nodeIds = new Map<string, Id>();
  private readonly attributes = new Map<Id, Record<string, string>>();
  private readonly edges: { from: Syntax; to: Syntax; attributes: Attributes }[] = [];
  private readonly graphAttributes: Record<string, string> = {};

  say(rule: string, severity: Finding['severity'], message: string, place: readonly Id[] = []): void {
    this.findings.push(finding(rule, severity, place, message));
  }

  read(graph: Syntax, title: string): ReadFile & { unplaced: readonly Id[] } {
    if (graph.directed === false)
      this.say('undirected', 'info', 'The edges have no direction; they are read from the first end to the second.');
    this.walk(graph.children, { node: {}, edge: {}, frame: undefined }, this.graphAttributes);
    const unplaced = [...this.nodeIds.values()].filter((id) => !this.place(id));
    const name = graph.id?.value ?? 'Main';
    const graphs = new Map<Id, Graph>([
      [
        'root',
        {
          ...this.graph,
          id: 'root',
          name: name.slice(0, 200),
          flow: flows[this.graphAttributes.rankdir ?? 'TB'] ?? 'down',
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
      dot: { ...this.graphAttributes, ...(graph.directed === false && { ' undirected': 'true' }) },
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
  private walk(statements: readonly Syntax[], outer: Scope, own: Record<string, string>): Set<string> {
    let scope = outer;
    const named = new Set<string>();
    for (const one of statements) {
      if (one.type === 'Attribute') own[must(one.key).value] = textOf(must(one.value));
      else if (one.type === 'AttributeList') {
        const set = attributesOf(one);
        if (one.kind === 'Graph') Object.assign(own, set);
        else if (one.kind === 'Node') scope = { ...scope, node: { ...scope.node, ...set } };
        else scope = { ...scope, edge: { ...scope.edge, ...set } };
      } else if (one.type === 'Node') {
        named.add(this.node(must(one.id).value, scope, attributesOf(one)));
      } else if (one.type === 'Subgraph') for (const name of this.subgraph(one, scope)) named.add(name);
      else if (one.type === 'Edge') this.chain(one, scope, named);
    }
    return named;
  }

  private subgraph(one: Syntax, scope: Scope): Set<string> {
    const own: Record<string, string> = {};
    const isCluster =
      one.id?.value.startsWith('cluster') === true ||
      one.children.some(
        (child) => child.type === 'Attribute' && child.key?.value === 'cluster' && child.value?.value !== 'false',
      );
    if (!isCluster) return this.walk(one.children, scope, own);
    const id = this.claim(one.id?.value ?? 'cluster');
    // its place among the frames is kept before those inside it
    this.frames.set(id, { id, graph: 'root', title: '', x: 0, y: 0, width: 200, height: 120 });
    const named = this.walk(one.children, { ...scope, frame: id }, own);
    this.frames.set(id, {
      id,
      graph: 'root',
      title: own.label === undefined ? '' : recordText(own.label).slice(0, 500),
      ...(scope.frame !== undefined && { parent: scope.frame }),
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

  private chain(one: Syntax, scope: Scope, named: Set<string>): void {
    const attributes = { ...scope.edge, ...attributesOf(one) };
    const groups = (one.targets ?? []).map((target): Syntax[] => {
      if (target.type === 'NodeRefGroup') return [...target.children];
      if (target.type === 'Subgraph')
        return [...this.subgraph(target, scope)].map((value) => ({
          type: 'NodeRef',
          children: [],
          id: { value, quoted: false },
        }));
      return [target];
    });
    for (const group of groups) for (const ref of group) named.add(this.node(must(ref.id).value, scope, {}));
    for (let i = 0; i + 1 < groups.length; i++)
      for (const from of must(groups[i]))
        for (const to of must(groups[i + 1])) this.edges.push({ from, to, attributes });
  }

  /**
   * Makes the node where it is new; attributes add to those that it has, and the first cluster that names it holds it.
   */
  private node(name: string, scope: Scope, attributes: Attributes): string {
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
  private place(id: Id): boolean {
    const attributes = must(this.attributes.get(id));
    const node = must(this.nodes.get(id));
    const isRecord = /record$/.test(attributes.shape ?? '');
    const text =
      attributes.label === undefined || attributes.label === '\\N' ? undefined : recordText(attributes.label, isRecord);
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
    const portOf = (ref: Syntax): string | undefined =>
      ref.port && !compass.has(ref.port.value) ? ref.port.value : undefined;
    const compassOf = (ref: Syntax): string | undefined =>
      ref.compass?.value ?? (ref.port && compass.has(ref.port.value) ? ref.port.value : undefined);
    return this.edges.map(({ from, to, attributes }, i) => {
      const [source, target] = [must(this.nodeIds.get(must(from.id).value)), must(this.nodeIds.get(must(to.id).value))];
      const [tail, head] = [compassOf(from), compassOf(to)];
      const kept = {
        ...attributes,
        ...(tail && { tailport: portOf(from) ? `${portOf(from)}:${tail}` : tail }),
        ...(head && { headport: portOf(to) ? `${portOf(to)}:${head}` : head }),
      };
      return {
        id: this.claim(`e${i + 1}`),
        source,
        target,
        sourcePort: portOf(from),
        targetPort: portOf(to),
        from: source,
        to: target,
        late: () => [source, target] as [Id, Id],
        extra: (Object.keys(kept).length > 0 ? { dot: kept } : {}) as Partial<Wire>,
      };
    });
  }
}

function attributesOf(list: Syntax): Record<string, string> {
  return Object.fromEntries(
    list.children
      .filter((one) => one.type === 'Attribute')
      .map((one) => [must(one.key).value, textOf(must(one.value))]),
  );
}

/** HTML-like text keeps its brackets, so that it can be told from a plain one and goes back as it came. */
const textOf = (literal: Literal): string => (literal.quoted === 'html' ? `<${literal.value}>` : literal.value);

const inches = (text: string | undefined): number | undefined => {
  const value = Number(text);
  return text !== undefined && Number.isFinite(value) && value > 0 ? Math.round(value * inch) : undefined;
};
