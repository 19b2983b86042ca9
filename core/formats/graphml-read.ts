import { type Attributes, attributeKey, valueOfText } from '../document/attributes.ts';
import { builtin, foreignKind } from '../document/builtin.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import {
  type AttributeBearer,
  type AttributeMeaning,
  type Declared,
  detailFields,
  type Flow,
  type Frame,
  flowSchema,
  type GraphNode,
  type Head,
  headShape,
  laterFields,
  type Note,
  type Port,
  type Records,
  tableShapes,
} from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { mostDepth } from '../document/validate.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { type Domain, type FileKey, keysOf, ourNamespace } from './graphml-keys.ts';
import { misfitFinding } from './said.ts';
import { find, say } from './sentences.ts';
import { attribute, children, type Element, innerText, innerXml, parseXml } from './xml.ts';

/** The data of one element: what is ours by its name, and the attributes of others. */
interface Data {
  readonly known: ReadonlyMap<string, string>;
  /** Values that stand for something of ours. */
  readonly meant: ReadonlyMap<AttributeMeaning, string>;
  readonly attributes: Attributes;
}

const detailShape = tableShapes.nodes.pick(detailFields).strip();
const laterShapes = {
  graphs: tableShapes.graphs.pick({ foreignId: true, undirected: true, strict: true }),
  nodes: tableShapes.nodes.pick({ ...laterFields.nodes, foreignId: true }),
  wires: tableShapes.wires.pick({ direction: true, foreignId: true }),
  frames: tableShapes.frames.pick({ ...laterFields.frames, foreignId: true }),
  notes: tableShapes.notes.pick({ ...laterFields.notes, foreignId: true }),
};
/** The bearers whose attributes stand on elements of a domain. */
const bearers: Readonly<Record<Domain, AttributeBearer>> = { graph: 'graph', node: 'node', edge: 'wire', port: 'port' };

/** What people see of a node, the first of these that there is. */
const captions = ['label', 'name', 'title', 'caption'];

/**
 * Reads GraphML (http://graphml.graphdrawing.org, primer and specification): ports, nested graphs, keys. Ids of others
 * stay as they are, keys that are not declared as ours are attributes, and what had to be repaired is listed. Nodes
 * without a position are named in `unplaced`. Throws UnreadableFile where there is no graph in it. O(text).
 */
export function readGraphml(text: string, title: string, kinds: Kinds): Assembled {
  const root = parseXml(text);
  if (root.tag !== 'graphml')
    throw new UnreadableFile(say('other-xml', { what: 'GraphML', is: root.tag, wanted: 'graphml' }));
  const graphs = children(root, 'graph');
  const graph = graphs[0];
  if (!graph) throw new UnreadableFile(say('no-graph', { what: 'GraphML', lacks: '<graph>' }));
  const reader = new Reader(root, graph, kinds);
  if (graphs.length > 1) reader.made.tell(find('more-graphs', 'warning', [], 'more-graphs', { graphs: graphs.length }));
  return reader.read(title);
}

class Reader {
  readonly made: Assembly;
  private readonly kinds: Kinds;
  private readonly graph: Element;
  private readonly keys: ReadonlyMap<string, FileKey>;
  private readonly isOurs: boolean;
  private readonly rootAttributes: Record<string, string> = {};
  /** Keys whose values hold markup somewhere: all of them are taken as they stand. */
  private readonly markup = new Set<string>();
  /** The name that records have a key's attribute under, by bearer and key. */
  private readonly names = new Map<string, string>();
  private readonly meanings = new Map<string, AttributeMeaning>();
  /** Attributes as a file of ours declares them, by bearer and title. */
  private readonly ourDeclared = new Map<string, Declared>();
  /** From names of ports in the file to their ids, where they differ. */
  private readonly portIds = new Map<Id, Map<string, string>>();
  private readonly edgeElements: Element[] = [];

  constructor(root: Element, graph: Element, kinds: Kinds) {
    this.kinds = kinds;
    this.graph = graph;
    this.keys = keysOf(root);
    this.isOurs = [...this.keys.values()].some((key) => key.ours !== undefined);
    for (const [name, value] of Object.entries(root.attributes))
      if (value !== ourNamespace) this.rootAttributes[name] = value;
    this.findMarkup();
    this.made = new Assembly('graphml', kinds, this.one(graph, 'id') ?? (attribute(graph, 'id') || 'root'));
    this.findMeanings();
  }

  read(title: string): Assembled {
    const { made } = this;
    const rootId = made.root;
    this.readDeclared(this.one(this.graph, 'attributes'));
    const data = this.data(this.graph, 'graph');
    for (const key of this.keys.values())
      if (key.ours === undefined && key.domain in bearers) this.nameOf(key.domain as Domain, key);
    if (attribute(this.graph, 'edgedefault') === 'undirected' && !this.isOurs) made.tell(undirectedFinding());
    this.readGraph(this.graph, rootId, data, 'Main');
    this.walk();
    for (const element of this.edgeElements) this.readEdge(element);
    const head: Partial<Head> & { title: string } = {
      id: this.parsed<string>(data.known.get('document')) ?? 'document',
      title: data.known.get('title') ?? title,
      catalogue: this.catalogue(data),
      ...this.sets(data),
    };
    this.declareUnused();
    const { xmlns: _own, ...root } = this.rootAttributes;
    // that it came from GraphML at all says that its ids may stay
    return made.finish(head, this.isOurs && Object.keys(root).length === 0 ? {} : { graphml: root });
  }

  private parsed<T>(text: string | undefined): T | undefined {
    if (text === undefined) return undefined;
    try {
      return JSON.parse(text) as T;
    } catch {
      return undefined;
    }
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

  /** All elements that bear data, the outermost graph first. */
  private *elements(): Iterable<readonly [Domain, Element]> {
    const todo: (readonly [Domain, Element])[] = [['graph', this.graph]];
    for (let at = todo.pop(); at; at = todo.pop()) {
      yield at;
      const [, element] = at;
      for (const domain of ['port', 'graph', 'edge', 'node'] as const)
        for (const one of children(element, domain)) todo.push([domain, one]);
    }
  }

  private findMarkup(): void {
    for (const key of this.keys.values())
      if (key.fallback !== undefined && innerText(key.fallback) === undefined) this.markup.add(key.id);
    for (const [, element] of this.elements())
      for (const item of children(element, 'data')) {
        const id = attribute(item, 'key');
        const raw = innerXml(item);
        if (id !== undefined && raw.includes('<') && innerText(raw) === undefined) this.markup.add(id);
      }
  }

  /** Which keys of others stand for what people see of a node, its colour, its place and size. */
  private findMeanings(): void {
    if (this.isOurs) return;
    const ofNodes = [...this.keys.values()].filter((key) => key.domain === 'node' || key.domain === 'all');
    const find = (title: string, fits: (key: FileKey) => boolean): FileKey | undefined =>
      ofNodes.find((key) => key.title.toLowerCase() === title && fits(key) && !this.markup.has(key.id));
    const isNumeric = (key: FileKey): boolean =>
      key.type === 'number' || key.type === 'integer' || key.more['attr.type'] === undefined;
    const give = (meaning: AttributeMeaning, key: FileKey | undefined): void => {
      if (key) this.meanings.set(key.id, meaning);
    };
    const caption = captions.map((title) => find(title, (key) => key.type === 'text')).find(Boolean);
    give('label', caption);
    give(
      'color',
      find('color', (key) => key.type === 'text'),
    );
    const [x, y] = [find('x', isNumeric), find('y', isNumeric)];
    if (!x || !y) return;
    give('x', x);
    give('y', y);
    const [width, height] = [find('width', isNumeric), find('height', isNumeric)];
    if (!width || !height) return;
    give('width', width);
    give('height', height);
  }

  /** Keys that may stand anywhere and stand nowhere go back all the same. */
  private declareUnused(): void {
    for (const key of this.keys.values())
      if (
        key.ours === undefined &&
        ![...new Set(Object.values(bearers))].some((of) => this.names.has(`${of} ${key.id}`))
      )
        this.nameOf('node', key);
  }

  private readDeclared(text: string | undefined): void {
    const read = headShape.shape.attributes.safeParse(this.parsed<object>(text));
    for (const one of Object.values(read.data ?? {})) {
      this.ourDeclared.set(attributeKey(one.of, one.title ?? one.name), one);
      this.made.declareAs(one);
    }
  }

  /** The name that records have a key's attribute under; the attribute is declared where it was not. */
  private nameOf(domain: Domain, key: FileKey, of: AttributeBearer = bearers[domain]): string {
    const known = this.names.get(`${of} ${key.id}`);
    if (known !== undefined) return known;
    const ours = this.ourDeclared.get(attributeKey(of, key.title));
    const type = this.typeOf(key);
    const { desc, ...more } = key.more;
    const fallback = key.fallback === undefined ? undefined : this.value(key, key.fallback);
    const meaning = domain === 'node' ? this.meanings.get(key.id) : undefined;
    const name =
      ours?.name ??
      (this.isOurs
        ? key.title
        : this.made.declare(of, key.title, {
            type,
            key: key.id.slice(0, 200),
            ...(meaning && { means: meaning }),
            ...(fallback !== undefined && { default: fallback }),
            ...((Object.keys(more).length > 0 || desc !== undefined || key.domain !== domain) && {
              more: { ...more, ...(desc !== undefined && { desc }), ...(key.domain !== domain && { for: key.domain }) },
            }),
          }));
    this.names.set(`${of} ${key.id}`, name);
    return name;
  }

  private typeOf(key: FileKey): Declared['type'] {
    return this.markup.has(key.id) ? 'xml' : key.type;
  }

  private value(key: FileKey, raw: string): Json {
    const type = this.typeOf(key);
    return type === 'xml' ? raw : valueOfText(innerText(raw) ?? raw, type);
  }

  /** One of the things that an element has of ours. */
  private one(element: Element, name: string): string | undefined {
    const item = element.children.findLast(
      (one) => one.tag === 'data' && this.keys.get(attribute(one, 'key') ?? '')?.ours === name,
    );
    return item && innerText(innerXml(item));
  }

  private data(element: Element, domain: Domain, of?: AttributeBearer): Data {
    const known = new Map<string, string>();
    const meant = new Map<AttributeMeaning, string>();
    const attributes: [string, Json][] = [];
    for (const item of element.children) {
      const id = item.tag === 'data' ? attribute(item, 'key') : undefined;
      if (id === undefined) continue;
      const key = this.keys.get(id) ?? this.undeclared(id);
      const raw = innerXml(item);
      if (key.ours !== undefined) {
        const text = innerText(raw);
        if (text !== undefined) known.set(key.ours, text);
        continue;
      }
      const meaning = domain === 'node' ? this.meanings.get(id) : undefined;
      const text = meaning && innerText(raw);
      if (meaning && text !== undefined && this.fits(meaning, text)) {
        meant.set(meaning, text);
        this.nameOf(domain, key, of);
      } else attributes.push([this.nameOf(domain, key, of), this.value(key, raw)]);
    }
    if (domain === 'node')
      for (const [id, meaning] of this.meanings) {
        const fallback = this.keys.get(id)?.fallback;
        const text = fallback === undefined ? undefined : innerText(fallback);
        if (!meant.has(meaning) && text !== undefined && this.fits(meaning, text)) meant.set(meaning, text);
      }
    const described = children(element, 'desc')[0];
    if (described)
      attributes.push([this.describing(of ?? bearers[domain]), innerText(innerXml(described)) ?? innerXml(described)]);
    return { known, meant, attributes: Object.fromEntries(attributes) };
  }

  /** Does a value say what its key stands for? A colour that is none, or a place that is no number, is an attribute. */
  private fits(meaning: AttributeMeaning, text: string): boolean {
    if (meaning === 'label') return text !== '';
    if (meaning === 'color') return /^#[0-9a-f]{3,8}$|^[a-z]{3,30}$/i.test(text);
    return text.trim() !== '' && Number.isFinite(Number(text));
  }

  private undeclared(id: string): FileKey {
    return { id, domain: 'other', title: id, type: 'text', ours: undefined, fallback: undefined, more: {} };
  }

  /** The attribute that holds what stands in <desc>. */
  private describing(of: AttributeBearer): string {
    const known = this.names.get(`${of} <desc>`);
    if (known !== undefined) return known;
    const ours = [...this.ourDeclared.values()].find((one) => one.of === of && one.key === '<desc>');
    const name = ours?.name ?? this.made.declare(of, 'description', { type: 'text', key: '<desc>' });
    this.names.set(`${of} <desc>`, name);
    return name;
  }

  private readGraph(element: Element, id: Id, data: Data, name: string): void {
    const flow = flowSchema.safeParse(data.known.get('flow'));
    const foreign = attribute(element, 'id');
    this.made.graph(id, {
      name: data.known.get('name') ?? name,
      ...(flow.success && flow.data !== 'right' && { flow: flow.data as Flow }),
      ...(!this.isOurs && attribute(element, 'edgedefault') === 'undirected' && { undirected: true as const }),
      ...(foreign !== undefined && foreign !== id && !this.isOurs && { foreignId: foreign }),
      ...(Object.keys(data.attributes).length > 0 && { attributes: data.attributes }),
      ...this.later('graphs', data, id),
    });
    this.records(data.known.get('frames'), id, tableShapes.frames, this.made.frames);
    this.records(data.known.get('notes'), id, tableShapes.notes, this.made.notes);
  }

  /** Frames or notes of a graph, as a file of ours has them. */
  private records<T extends Frame | Note>(
    text: string | undefined,
    graph: Id,
    shape: { safeParse(value: unknown): { data?: T | undefined } },
    into: Map<Id, T>,
  ): void {
    const rows = this.parsed<readonly object[]>(text);
    if (text !== undefined && !Array.isArray(rows)) this.made.findings.push(misfitFinding(graph));
    for (const row of Array.isArray(rows) ? rows : []) {
      const read = shape.safeParse({ ...row, graph }).data;
      if (!read) this.made.findings.push(misfitFinding(graph));
      else {
        const id = this.made.claim(read.id);
        into.set(id, { ...read, id });
      }
    }
  }

  /** Reads nodes of a graph and of those within it, without recursion; edges come when all nodes are there. */
  private walk(): void {
    const todo: { element: Element; graph: Id; frame: Id | undefined; depth: number }[] = [
      { element: this.graph, graph: this.made.root, frame: undefined, depth: 0 },
    ];
    let hyperedges = 0;
    let locators = 0;
    for (let at = todo.shift(); at; at = todo.shift()) {
      if (at.depth > mostDepth) throw new UnreadableFile(say('graphs-too-deep', { most: mostDepth }));
      locators += children(at.element, 'locator').length;
      for (const element of children(at.element, 'node')) {
        const inner = children(element, 'graph')[0];
        locators += children(element, 'locator').length;
        const role = this.one(element, 'role');
        if (role === 'frame') {
          const frame = this.readFrame(element, at.graph, at.frame);
          if (inner) todo.push({ element: inner, graph: at.graph, frame, depth: at.depth + 1 });
        } else if (role === 'note') this.readNote(element, at.graph);
        else {
          const node = this.readNode(element, at.graph, at.frame, inner);
          if (inner && node.inner !== undefined) {
            this.readGraph(inner, node.inner, this.data(inner, 'graph'), node.label ?? node.name);
            todo.push({ element: inner, graph: node.inner, frame: undefined, depth: at.depth + 1 });
          }
        }
      }
      hyperedges += children(at.element, 'hyperedge').length;
      for (const element of children(at.element, 'edge')) this.edgeElements.push(element);
    }
    if (hyperedges > 0) this.made.tell(find('hyperedge', 'warning', [], 'hyperedges', { hyperedges }));
    if (locators > 0) this.made.tell(find('elsewhere', 'warning', [], 'elsewhere', { locators }));
  }

  private number(text: string | undefined, field: string, id: Id): number | undefined {
    if (text === undefined || text.trim() === '') return undefined;
    const value = Number(text);
    if (Number.isFinite(value)) return value;
    this.made.tell(find('bad-number', 'warning', [id], 'bad-number', { field, id, text }));
    return undefined;
  }

  private boxOf(known: ReadonlyMap<string, string>, id: Id, width: number, height: number) {
    return {
      x: this.number(known.get('x'), 'x', id) ?? 0,
      y: this.number(known.get('y'), 'y', id) ?? 0,
      width: this.number(known.get('width'), 'width', id) ?? width,
      height: this.number(known.get('height'), 'height', id) ?? height,
    };
  }

  private readFrame(element: Element, graph: Id, parent: Id | undefined): Id {
    const { known, attributes } = this.data(element, 'node', 'frame');
    const { id } = this.made.key(attribute(element, 'id'), 'frame', known.get('id'));
    const pad = this.parsed<Frame['pad']>(known.get('pad'));
    this.made.frames.set(id, {
      id,
      graph,
      title: known.get('title') ?? known.get('label') ?? attribute(element, 'id') ?? '',
      ...(parent !== undefined && { parent }),
      ...this.boxOf(known, id, 240, 160),
      ...(pad && { pad }),
      ...(known.has('color') && { color: must(known.get('color')).slice(0, 30) }),
      ...(known.has('note') && { note: must(known.get('note')) }),
      ...this.later('frames', { known }, id),
      ...(Object.keys(attributes).length > 0 && { attributes }),
    });
    return id;
  }

  private readNote(element: Element, graph: Id): void {
    const { known, attributes } = this.data(element, 'node', 'note');
    const { id } = this.made.key(attribute(element, 'id'), 'note', known.get('id'));
    const tied = known.get('tied');
    this.made.notes.set(id, {
      id,
      graph,
      ...this.boxOf(known, id, 200, 80),
      text: known.get('text') ?? '',
      ...(tied !== undefined && { tiedTo: tied }),
      ...this.later('notes', { known }, id),
      ...(Object.keys(attributes).length > 0 && { attributes }),
    });
  }

  private readNode(element: Element, graph: Id, frame: Id | undefined, innerElement: Element | undefined): GraphNode {
    const { known, meant, attributes } = this.data(element, 'node');
    const key = attribute(element, 'id');
    // edges know the element by the id that it has in the file, whatever it has here
    const outer = known.get('id') ?? key;
    const said = outer ?? 'node';
    const field = (name: AttributeMeaning): number | undefined =>
      this.number(known.get(name) ?? meant.get(name), name, said);
    const params = this.parsed<Record<string, Json>>(known.get('parameters'));
    if (known.has('parameters') && (typeof params !== 'object' || params === null || Array.isArray(params)))
      this.made.tell(find('bad-parameters', 'warning', [said], 'bad-parameters', { node: said }));
    const beacon = this.parsed<GraphNode['beacon']>(known.get('beacon'));
    const label = known.get('label');
    const inner =
      innerElement &&
      this.made.claim(this.one(innerElement, 'id') ?? (attribute(innerElement, 'id') || `${said}:graph`));
    const id = this.made.node({
      key,
      ...(outer !== undefined && { outer }),
      called: meant.get('label'),
      graph,
      frame: known.get('frame') ?? frame,
      x: field('x'),
      y: field('y'),
      width: field('width'),
      height: field('height'),
      color: known.get('color') ?? meant.get('color'),
      attributes,
      ...(inner !== undefined && { inner }),
      own: {
        kind: (known.get('kind') ?? (inner === undefined ? foreignKind : builtin.nested)).slice(0, 200) || foreignKind,
        ...(known.has('name') && { name: must(known.get('name')) }),
        ...(label !== undefined && { label }),
        ...(typeof beacon?.name === 'string' && { beacon }),
        ...(known.get('pinned') === 'true' && { pinned: true as const }),
        ...(known.get('bypassed') === 'true' && { bypassed: true as const }),
        ...this.detail(known, said),
        ...this.later('nodes', { known }, said),
        ...(params &&
          typeof params === 'object' &&
          !Array.isArray(params) &&
          Object.keys(params).length > 0 && { params }),
      },
    });
    this.made.setNode(id, { ports: this.ports(element, id) });
    return must(this.made.nodes.get(id));
  }

  /** How a node is shown; what does not fit is said and left out. */
  private detail(known: ReadonlyMap<string, string>, id: Id): Partial<GraphNode> {
    if (!known.has('detail') && !known.has('picture')) return {};
    const shown = detailShape.safeParse({
      ...this.parsed<object>(known.get('detail')),
      ...(known.has('picture') && { picture: known.get('picture') }),
    });
    if (!shown.success) this.made.tell(misfitFinding(id));
    return shown.data ?? {};
  }

  /** The fields that are carried together; what does not fit is said and left out. */
  private later<T extends keyof typeof laterShapes>(
    table: T,
    { known }: Pick<Data, 'known'>,
    id: Id,
  ): Partial<Records[T]> {
    if (!known.has('more')) return {};
    const read = laterShapes[table].loose().safeParse(this.parsed<object>(known.get('more')));
    if (!read.success) this.made.findings.push(misfitFinding(id));
    // what we know stands where it belongs, and only the rest is taken from here
    const fields = Object.entries(read.data ?? {}).filter(
      ([field]) => Object.hasOwn(laterShapes[table].shape, field) || !Object.hasOwn(tableShapes[table].shape, field),
    );
    return Object.fromEntries(fields) as Partial<Records[T]>;
  }

  private ports(element: Element, node: Id): Port[] {
    const ports: Port[] = [];
    const todo = [...children(element, 'port')];
    for (let port = todo.shift(); port; port = todo.shift()) {
      const name = attribute(port, 'name');
      todo.unshift(...children(port, 'port'));
      if (name === undefined) continue;
      const { known, attributes } = this.data(port, 'port');
      const direction = known.get('direction');
      const id = known.get('id') ?? name;
      if (id !== name) {
        const byName = this.portIds.get(node) ?? new Map<string, string>();
        byName.set(name, id);
        this.portIds.set(node, byName);
      }
      const base = {
        id,
        name: known.get('title') ?? id,
        type: known.get('type') ?? 'any',
        ...(known.has('foreign') && { foreign: must(known.get('foreign')) }),
        ...(Object.keys(attributes).length > 0 && { attributes }),
      };
      if (direction !== undefined)
        for (const side of direction.split(' ')) ports.push({ ...base, direction: side === 'out' ? 'out' : 'in' });
      else ports.push({ ...base, direction: 'in', undecided: true } as Port);
    }
    return ports;
  }

  private readEdge(element: Element): void {
    const [source, target] = [attribute(element, 'source') ?? '', attribute(element, 'target') ?? ''];
    const { known, attributes } = this.data(element, 'edge');
    const directed = attribute(element, 'directed');
    const port = (end: string, name: string): string | undefined => {
      const given = attribute(element, name);
      const node = this.made.idOf(end);
      return given === undefined || node === undefined ? given : (this.portIds.get(node)?.get(given) ?? given);
    };
    const isUndirected = attribute(this.graph, 'edgedefault') === 'undirected';
    const id = known.get('id') ?? attribute(element, 'id');
    this.made.edge({
      key: id,
      source,
      target,
      sourcePort: port(source, 'sourceport'),
      targetPort: port(target, 'targetport'),
      attributes,
      own: {
        ...(known.get('off') === 'true' && { off: true as const }),
        ...(!this.isOurs && directed === 'false' && !isUndirected && { direction: 'undirected' as const }),
        ...(!this.isOurs && directed === 'true' && isUndirected && { direction: 'directed' as const }),
        // an edge that has no id there goes back without one
        ...(id === undefined && !this.isOurs && { foreignId: '' }),
        ...this.later('wires', { known }, id ?? ''),
      },
    });
  }
}
