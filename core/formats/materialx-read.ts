import { z } from 'zod';
import { type Doc, emptyDoc } from '../document/doc.ts';
import type { ReadFile } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import {
  type Frame,
  type Graph,
  type GraphNode,
  headShape,
  type Note,
  type Port,
  tableShapes,
  type Wire,
} from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { mostDepth, repair } from '../document/validate.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';
import { type Item, Outputs, type Scope } from './materialx-outputs.ts';
import { saidIn } from './materialx-said.ts';
import {
  bareBoundary,
  bareFrame,
  bareHost,
  bareNode,
  type Fields,
  filled,
  notNodes,
  ownAttribute,
  type Said,
  wantedId,
} from './materialx-shape.ts';
import { misfitFinding } from './said.ts';
import { find, say } from './sentences.ts';
import { parseTree, type XmlTree } from './xml.ts';

/** Which records an element gave. */
export interface Made {
  node?: Id;
  graph?: Id;
  wire?: Id;
  frame?: Id;
}
export interface ReadTree extends ReadFile {
  readonly unplaced: readonly Id[];
  readonly made: ReadonlyMap<XmlTree, Made>;
}

/**
 * Reads MaterialX 1.39 (https://materialx.org): nodes with inputs and values, node graphs as nested graphs, backdrops
 * as frames, places and colours. What is no part of a graph is kept, to be written back. Nodes without a place are
 * named in `unplaced`. Throws UnreadableFile where it is no such file. O(text).
 */
export function readMaterialx(text: string, title: string): ReadTree {
  const comments = text.match(/<!--/g)?.length ?? 0;
  const read = readTree(parseTree(text), title);
  return comments === 0
    ? read
    : {
        ...read,
        findings: [...read.findings, find('comments', 'info', [], 'comments-left-out', { comments })],
      };
}

/** The same of what was parsed already; with what is said of elements beside, where that is not in them yet. */
export function readTree(tree: XmlTree, title: string, beside?: ReadonlyMap<XmlTree, Said>): ReadTree {
  if (tree.tag !== 'materialx')
    throw new UnreadableFile(say('other-xml', { what: 'MaterialX', is: tree.tag, wanted: 'materialx' }));
  return new Reader(tree, title, beside).read();
}

const endShape = z.object({ node: z.string(), port: z.string() });

class Reader {
  private readonly tree: XmlTree;
  private readonly title: string;
  private readonly findings: Finding[] = [];
  private readonly claim: (wanted: string) => Id;
  /** Ids that are said, each for the first that says it. */
  private readonly given: Set<Id>;
  private readonly saidOf = new Map<XmlTree, Said>();
  private readonly made = new Map<XmlTree, Made>();
  private readonly graphs = new Map<Id, Graph>();
  private readonly nodes = new Map<Id, GraphNode>();
  private readonly frames = new Map<Id, Frame>();
  private readonly scopes: Scope[] = [];
  private readonly loose: LooseWire[] = [];
  private readonly unplaced: Id[] = [];
  private readonly outputs = new Outputs(this.nodes, (element) => this.said(element));
  /** What lies outermost, by tag and name: definitions, and the graphs that they stand before. */
  private readonly beside = new Map<string, XmlTree>();
  /** The definitions that were made for others to know outputs by. */
  private readonly madeDefinitions = new Set<string>();

  constructor(tree: XmlTree, title: string, beside?: ReadonlyMap<XmlTree, Said>) {
    this.tree = tree;
    this.title = title;
    const given: Id[] = [];
    const walk = (element: XmlTree): void => {
      const said = beside?.get(element) ?? this.parsedSaid(element);
      if (said) this.saidOf.set(element, said);
      for (const part of said
        ? [said.node, said.graph, said.wire, said.frame, ...Object.values(said.implied ?? {})]
        : [])
        if (typeof part?.id === 'string') given.push(part.id);
      element.children.forEach(walk);
    };
    walk(tree);
    for (const one of tree.children) {
      const { name } = one.attributes;
      if (name === undefined) continue;
      if (this.said(one).made) this.madeDefinitions.add(name);
      const key = `${one.tag} ${name}`;
      if (!this.beside.has(key)) this.beside.set(key, one);
    }
    this.claim = idClaimer(given);
    this.given = new Set(given);
  }

  read(): ReadTree {
    const rootId = this.idFor(this.said(this.tree).graph, wantedId.root);
    this.graphs.set(rootId, { id: rootId, name: 'Main' });
    this.made.set(this.tree, { graph: rootId });
    const root = this.scan(this.tree.children, rootId, undefined, 0);
    for (const scope of this.scopes) this.implyInputs(scope, scope === root);
    for (const scope of this.scopes) this.build(scope);
    for (const scope of this.scopes) this.connect(scope);
    this.outputs.add();
    const { wires, made } = bridgeLevels(this.loose, this.nodes, this.graphs, rootId, {
      claim: this.claim,
      tell: (finding) => void this.findings.push(finding),
    });
    this.unplaced.push(...made);
    for (const scope of this.scopes) this.fillFrames(scope);
    this.overlay(wires);
    if (root.kept.length > 0)
      this.findings.push(
        find('kept', 'info', [], 'kept-elements', { elements: root.kept.length, tag: must(root.kept[0]).tag }),
      );
    const whole = repair(this.document(rootId, root, wires));
    return {
      doc: whole.doc,
      findings: [...this.findings, ...whole.findings],
      unplaced: this.unplaced.filter((id) => this.said(this.elementOf.get(id)).node?.x === undefined),
      made: this.made,
    };
  }

  private readonly elementOf = new Map<Id, XmlTree>();

  private said(element: XmlTree | undefined): Said {
    return (element && this.saidOf.get(element)) ?? {};
  }

  private parsedSaid(element: XmlTree): Said | undefined {
    const said = saidIn(element);
    if (said !== 'bad') return said;
    this.findings.push(
      find('bad-detail', 'warning', [], 'fields-left-out', { id: element.attributes.name ?? `<${element.tag}>` }),
    );
    return {};
  }

  private idFor(part: Fields | undefined, wanted: string): Id {
    const id = part?.id;
    return typeof id === 'string' && this.given.delete(id) ? id : this.claim(wanted);
  }

  /** Finds out what there is in a graph, and in those within it. */
  private scan(elements: readonly XmlTree[], graph: Id, within: Id | undefined, depth: number, host?: XmlTree): Scope {
    if (depth > mostDepth) throw new UnreadableFile(say('graphs-too-deep', { most: mostDepth }));
    const defined =
      (host &&
        this.definitionOf(host)?.children.flatMap((one) => (one.tag === 'input' ? [one.attributes.name ?? ''] : []))) ??
      [];
    const scope: Scope = {
      graph,
      items: [],
      byName: new Map(),
      inputs: new Map(),
      kept: [],
      implied: this.said(host).implied ?? {},
      defined,
    };
    this.scopes.push(scope);
    for (const element of elements) {
      const said = this.said(element);
      if (said.made) continue;
      if (notNodes.has(element.tag)) scope.kept.push(element);
      else this.find(scope, element, said, within, depth);
    }
    return scope;
  }

  private find(scope: Scope, element: XmlTree, said: Said, within: Id | undefined, depth: number): void {
    const name = element.attributes.name ?? `${element.tag}${scope.items.length + 1}`;
    const what =
      element.tag === 'backdrop'
        ? 'frame'
        : element.tag === 'input' || element.tag === 'output'
          ? 'boundary'
          : element.tag === 'nodegraph' || said.body
            ? 'host'
            : 'node';
    const id = this.idFor(what === 'frame' ? said.frame : said.node, wantedId.item(within, name));
    const made: Made = what === 'frame' ? { frame: id } : { node: id };
    this.made.set(element, made);
    this.elementOf.set(id, element);
    let inner: Scope | undefined;
    if (what === 'host') {
      const body = said.body === undefined ? element : this.bodyNamed(said.body);
      const graph = this.idFor(said.graph, wantedId.graph(id));
      made.graph = graph;
      this.graphs.set(graph, { id: graph, name });
      inner = this.scan(
        said.body === undefined ? element.children : body ? this.insides(body) : [],
        graph,
        id,
        depth + 1,
        element,
      );
    }
    const item: Item = { element, what, name, id, ...(inner && { inner }) };
    scope.items.push(item);
    if (scope.byName.has(name)) this.findings.push(find('doubled-id', 'warning', [id], 'name-twice', { name }));
    else scope.byName.set(name, item);
    if (element.tag === 'input') scope.inputs.set(name, item);
  }

  private bodyNamed(name: string): XmlTree | undefined {
    return this.beside.get(`nodegraph ${name}`);
  }

  private definitionOf({ attributes: { nodedef } }: XmlTree): XmlTree | undefined {
    return nodedef === undefined ? undefined : this.beside.get(`nodedef ${nodedef}`);
  }

  /** What lies in a graph that a definition stands before: its inputs are in the definition. */
  private insides(body: XmlTree): readonly XmlTree[] {
    return [...(this.definitionOf(body)?.children.filter((one) => one.tag === 'input') ?? []), ...body.children];
  }

  /** Makes the inputs that a graph names and its definition has. */
  private implyInputs(scope: Scope, isRoot: boolean): void {
    for (const { element } of [...scope.items]) {
      for (const input of [element, ...element.children]) {
        const name = input.attributes.interfacename;
        if (name === undefined || scope.inputs.has(name) || isRoot) continue;
        const said = scope.implied[name];
        const id = this.idFor(said, wantedId.item(scope.graph, name));
        const made: XmlTree = {
          tag: 'input',
          attributes: { name, ...(input.attributes.type && { type: input.attributes.type }) },
          children: [],
        };
        if (said) this.saidOf.set(made, { node: said });
        this.made.set(made, { node: id });
        this.elementOf.set(id, made);
        const item: Item = { element: made, what: 'boundary', name, id, isImplied: true };
        scope.items.push(item);
        scope.inputs.set(name, item);
      }
    }
  }

  private portsOf(inner: Scope): Port[] {
    const place = ({ name, isImplied }: Item): number => (isImplied ? inner.defined.indexOf(name) : -1);
    return inner.items
      .filter((item) => item.what === 'boundary')
      .sort((a, b) => place(a) - place(b))
      .map(({ element, id, name }) => ({
        id,
        name,
        type: (element.attributes.type ?? 'any').slice(0, 100),
        direction: element.tag === 'input' ? 'in' : 'out',
      }));
  }

  private build(scope: Scope): void {
    for (const { element, what, id, inner, isImplied } of scope.items) {
      if (what === 'frame') {
        this.frames.set(id, { id, graph: scope.graph, ...bareFrame(element) });
        continue;
      }
      if (element.attributes.xpos === undefined || element.attributes.ypos === undefined) this.unplaced.push(id);
      const bare =
        what === 'boundary'
          ? bareBoundary(element, isImplied)
          : inner
            ? bareHost(element, this.portsOf(inner), this.said(element).body === undefined ? inner.kept : [])
            : bareNode(this.withoutMade(element), (end) => this.said(end).port ?? must(end.attributes.name));
      // what leads to the first output has to know its name
      const ports = tableShapes.nodes.shape.ports.safeParse(this.said(element).node?.ports).data as Port[] | undefined;
      this.nodes.set(id, {
        id,
        graph: scope.graph,
        ...bare,
        ...(ports && { ports }),
        ...(inner && { inner: inner.graph }),
      });
    }
  }

  /** A node without the definition that was made for others to know its outputs. */
  private withoutMade(element: XmlTree): XmlTree {
    const { nodedef, ...attributes } = element.attributes;
    return nodedef !== undefined && this.madeDefinitions.has(nodedef) ? { ...element, attributes } : element;
  }

  private connect(scope: Scope): void {
    for (const item of scope.items) {
      if (item.what === 'node')
        for (const input of item.element.children)
          if (input.tag === 'input')
            this.wire(scope, input, item, this.said(input).port ?? input.attributes.name ?? 'in');
      if (item.what === 'boundary' && item.element.tag === 'output') this.wire(scope, item.element, item, 'in');
      if (item.what !== 'host') continue;
      // what is led into a graph stands at its inputs, and where a node stands for it at those of the node
      const isBody = this.said(item.element).body !== undefined;
      for (const input of isBody
        ? item.element.children
        : must(item.inner)
            .items.filter((one) => !one.isImplied)
            .map((one) => one.element)) {
        const boundary = input.tag === 'input' ? must(item.inner).inputs.get(input.attributes.name ?? '') : undefined;
        if (boundary) this.wire(scope, input, item, boundary.id);
      }
    }
  }

  private wire(scope: Scope, element: XmlTree, to: Item, targetPort: string): void {
    const { nodename, nodegraph, interfacename, output } = element.attributes;
    const source = nodename ?? nodegraph ?? interfacename;
    const said = this.said(element).wire;
    const kept = said && endShape.safeParse(said.from).data;
    if (source === undefined && !kept) return;
    const from =
      source === undefined
        ? undefined
        : nodename === undefined && nodegraph === undefined
          ? scope.inputs.get(source)
          : scope.byName.get(source);
    const id = this.idFor(said, wantedId.wire(to.id, element.attributes.name ?? targetPort));
    this.made.set(element, { ...this.made.get(element), wire: id });
    const ends: [Id | undefined, Id | undefined] = [from?.id ?? kept?.node, to.id];
    const sourcePort = from ? this.outputs.portOf(from, output, element.attributes.type ?? 'any') : kept?.port;
    this.loose.push({
      id,
      source: source ?? must(kept).node,
      target: to.name,
      sourcePort,
      targetPort,
      from: ends[0],
      to: ends[1],
      late: () => ends,
      extra: {},
    });
  }

  /** Members lie in the smallest of the frames that name them, and frames in the smallest that names all of theirs. */
  private fillFrames(scope: Scope): void {
    const held = scope.items
      .filter((item) => item.what === 'frame')
      .map((item) => ({
        id: item.id,
        names: new Set(
          (item.element.attributes.contains ?? '')
            .split(',')
            .map((name) => name.trim())
            .filter(Boolean),
        ),
      }))
      .sort((a, b) => b.names.size - a.names.size);
    held.forEach(({ id, names }, i) => {
      for (const name of names) {
        const item = scope.byName.get(name);
        if (item && item.what !== 'frame') this.nodes.set(item.id, { ...must(this.nodes.get(item.id)), frame: id });
      }
      const around = held
        .slice(0, i)
        .findLast(
          (other) =>
            names.size > 0 && other.names.size > names.size && [...names].every((name) => other.names.has(name)),
        );
      if (around) this.frames.set(id, { ...must(this.frames.get(id)), parent: around.id });
    });
  }

  /** Puts over the records what is said of them. */
  private overlay(wires: Map<Id, Wire>): void {
    const tables = { node: this.nodes, graph: this.graphs, wire: wires, frame: this.frames } as unknown as Record<
      keyof Made,
      Map<Id, Record<string, Json>>
    >;
    const shapes = {
      node: tableShapes.nodes,
      graph: tableShapes.graphs,
      wire: tableShapes.wires,
      frame: tableShapes.frames,
    };
    for (const [element, made] of this.made) {
      for (const part of Object.keys(made) as (keyof Made)[]) {
        const [said, id] = [this.said(element)[part], must(made[part])];
        const record = tables[part].get(id);
        // an id is taken already, and of most nothing else is said
        if (!said || !record || (said.id === id && Object.keys(said).length === 1)) continue;
        const over = {
          ...record,
          ...said,
          id,
          ...(part === 'node' && said.params !== undefined && { params: merged(record.params, said.params) }),
        };
        const read = shapes[part].safeParse(
          Object.fromEntries(Object.entries(over).filter(([, value]) => value !== null)),
        );
        if (read.success) tables[part].set(id, read.data as never);
        else this.findings.push(misfitFinding(id));
      }
    }
  }

  private document(rootId: Id, root: Scope, wires: Map<Id, Wire>): Doc {
    const said = this.said(this.tree).document ?? {};
    const head =
      headShape
        .partial()
        .omit({ root: true })
        .safeParse(said.head ?? {}).data ?? {};
    const notes = z.array(tableShapes.notes).safeParse(said.notes ?? []).data ?? [];
    const extra = z.record(z.string(), z.json()).safeParse(said.extra ?? {}).data ?? {};
    const { [ownAttribute]: _own, ...attributes } = this.tree.attributes;
    const kept = filled({ attributes, children: root.kept });
    const base = emptyDoc('document', this.title.slice(0, 300), { id: 'none', version: 0 });
    return {
      head: { ...base.head, ...(head as Partial<Doc['head']>), root: rootId },
      extra: { ...extra, ...(kept as unknown as Record<string, Json>) },
      graphs: this.graphs,
      frames: this.frames,
      nodes: this.nodes,
      wires,
      notes: new Map(notes.map((note) => [note.id, note as Note])),
    };
  }
}

/** Parameters with those of the file that are said otherwise. */
function merged(record: Json | undefined, said: Json): Json {
  const all = { ...(record as Record<string, Json> | undefined), ...(said as Record<string, Json> | null) };
  const left = Object.fromEntries(Object.entries(all).filter(([, value]) => value !== null));
  return Object.keys(left).length > 0 ? left : null;
}
