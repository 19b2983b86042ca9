import { z } from 'zod';
import { hexOf } from '../color/contrast.ts';
import { valueOfText } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import {
  type AttributeType,
  attributeTypes,
  type GraphNode,
  graphFields,
  type Head,
  headShape,
  tableShapes,
  type Wire,
} from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { ourHead, ourNamespace, own, places, typeOfGexf } from './gexf-words.ts';
import { misfitFinding } from './said.ts';
import { find, say } from './sentences.ts';
import { attribute, children, type Element, innerText, innerXml, parseXml } from './xml.ts';

const moreOfNode = tableShapes.nodes.partial().omit({ id: true, graph: true, frame: true, inner: true });
const moreOfWire = tableShapes.wires.partial().omit({ id: true, from: true, to: true });
/** What the graph of a file of ours says beside. */
const headSaid = headShape
  .pick({ id: true, title: true, catalogue: true, sets: true, wireStyle: true, attributes: true })
  .extend({
    graph: graphFields,
    columns: z.array(
      z.object({ of: z.enum(['node', 'edge']), id: z.string(), name: z.string(), type: z.enum(attributeTypes) }),
    ),
  })
  .partial();
type HeadSaid = z.infer<typeof headSaid>;

/** Where a value belongs: the name that records have it under, and its type. */
interface Column {
  readonly name: string;
  readonly type: AttributeType;
}

/**
 * Reads GEXF 1.3 and older (https://gexf.net): labels as names, places and colours of the viz module; everything else
 * that is declared or stands there is an attribute. Values that change in time are a list of what held when.
 * Trees of nodes, as older versions had them, are read flat, with the node around each as its attribute `pid`. Nodes
 * without a place are named in `unplaced`. Throws UnreadableFile where it is no such file. O(text).
 */
export function readGexf(text: string, title: string, kinds: Kinds): Assembled {
  const root = parseXml(text);
  if (root.tag !== 'gexf') throw new UnreadableFile(say('other-xml', { what: 'GEXF', is: root.tag, wanted: 'gexf' }));
  const graph = children(root, 'graph')[0];
  if (!graph) throw new UnreadableFile(say('no-graph', { what: 'GEXF', lacks: '<graph>' }));
  return new Reader(root, graph, kinds).read(title);
}

const attributesOf = (element: Element): [string, string][] => Object.entries(element.attributes);

/** The elements of the viz module, whatever prefix it has. */
const modules: ReadonlySet<string> = new Set(['position', 'color', 'size', 'shape', 'thickness']);
const vizOf = (element: Element): [string, Record<string, string>][] =>
  element.children.flatMap((one, i): [string, Record<string, string>][] => {
    const name = one.tag.slice(one.tag.lastIndexOf(':') + 1);
    // the first of each counts
    const isFirst = modules.has(name) && !element.children.slice(0, i).some((before) => before.tag === one.tag);
    return isFirst ? [[name, { ...one.attributes }]] : [];
  });

const textOf = (element: Element | undefined): string | undefined => element && innerText(innerXml(element));

/** Red, green or blue of a colour, within what there is of it. */
const part = (value: string | undefined): number => Math.max(0, Math.min(255, Number(value) || 0));

const colorOf = (viz: Readonly<Record<string, string>>): string =>
  (viz.hex ?? hexOf([part(viz.r), part(viz.g), part(viz.b)])).slice(0, 30).toLowerCase();

/** What the name of an attribute is made of where it has none of its own, by the place that it stands in. */
const shortNames: Readonly<Record<string, string>> = { value: '', a: 'alpha', z: 'z' };

class Reader {
  private readonly root: Element;
  private readonly graph: Element;
  private readonly made: Assembly;
  private readonly said: HeadSaid;
  private readonly isOurs: boolean;
  private readonly columns = new Map<string, Column>();
  private nested = 0;

  constructor(root: Element, graph: Element, kinds: Kinds) {
    this.root = root;
    this.graph = graph;
    this.made = new Assembly('gexf', kinds);
    this.isOurs = attributesOf(root).some(([name, value]) => name.startsWith('xmlns:') && value === ourNamespace);
    this.said = this.isOurs ? (this.more(attribute(graph, ourHead), headSaid, 'root') ?? {}) : {};
    for (const one of Object.values(this.said.attributes ?? {})) {
      this.made.declareAs(one);
      if (one.from === 'gexf' && one.key !== undefined) this.columns.set(`${one.of} ${one.key}`, one);
    }
    for (const { of, id, name, type } of this.said.columns ?? [])
      this.columns.set(`${of === 'edge' ? 'wire' : of} ${id}`, { name, type });
    this.declare('node');
    this.declare('edge');
  }

  read(title: string): Assembled {
    const { made } = this;
    const about = Object.fromEntries(attributesOf(this.graph));
    const isUndirected = (about.defaultedgetype ?? 'undirected') !== 'directed';
    if (isUndirected && !this.isOurs) made.tell(undirectedFinding());
    const edges: Element[] = [];
    const todo: { element: Element; within: string | undefined }[] = [{ element: this.graph, within: undefined }];
    for (let at = todo.pop(); at; at = todo.pop()) {
      edges.push(...children(at.element, 'edges').flatMap((list) => children(list, 'edge')));
      for (const element of children(at.element, 'nodes').flatMap((list) => children(list, 'node'))) {
        if (at.within !== undefined || attribute(element, 'pid') !== undefined) this.nested++;
        const key = this.readNode(element, at.within);
        if (children(element, 'nodes').length > 0) todo.push({ element, within: key });
      }
    }
    for (const element of edges) this.readEdge(element, isUndirected);
    if (this.nested > 0) made.tell(find('tree-of-nodes', 'warning', [], 'tree-of-nodes', { nodes: this.nested }));
    const meta = children(this.root, 'meta')[0];
    const described = textOf(meta && children(meta, 'description')[0]);
    const called =
      this.said.title ??
      (described !== undefined && textOf(meta && children(meta, 'creator')[0]) === 'Basitax' ? described : title);
    made.graph('root', {
      name: called || 'Graph',
      ...(isUndirected && { undirected: true as const }),
      ...this.said.graph,
      ...this.graphAttributes(about, meta),
    });
    const { graph: _graph, columns: _columns, attributes: _attributes, ...head } = this.said;
    return made.finish({ ...(head as Partial<Head>), title: called });
  }

  /** What the file says of itself and its graph. */
  private graphAttributes(about: Readonly<Record<string, string>>, meta: Element | undefined) {
    const values: [string, Json][] = [];
    for (const [name, value] of Object.entries(about))
      if (
        name !== 'defaultedgetype' &&
        !name.startsWith('xmlns') &&
        name !== ourHead &&
        !(name === 'mode' && value === 'static')
      )
        values.push([this.placed('graph', places.xml(name), name, 'text').name, value]);
    const ofMeta = meta
      ? [
          ...attributesOf(meta),
          ...['creator', 'description', 'keywords'].map((name) => [name, textOf(children(meta, name)[0])] as const),
        ]
      : [];
    for (const [name, value] of ofMeta)
      if (value !== undefined && !(this.isOurs && !this.columns.has(`graph ${places.meta(name)}`)))
        values.push([this.placed('graph', places.meta(name), name, 'text').name, value]);
    return values.length > 0 ? { attributes: Object.fromEntries(values) } : {};
  }

  /** The attribute of values that stand somewhere, declared at the first of them. */
  private placed(of: 'graph' | 'node' | 'wire', key: string, title: string, type: AttributeType): Column {
    const known = this.columns.get(`${of} ${key}`);
    if (known) return known;
    const column = { name: this.made.declare(of, title, { type, key }), type };
    this.columns.set(`${of} ${key}`, column);
    return column;
  }

  /** What the file declares of nodes or edges, without what is ours. */
  private declare(domain: 'node' | 'edge'): void {
    const of = domain === 'edge' ? 'wire' : 'node';
    const ours: readonly string[] = Object.values(own[domain]);
    for (const list of children(this.graph, 'attributes')) {
      if (attribute(list, 'class') !== domain) continue;
      const mode = attribute(list, 'mode');
      for (const one of children(list, 'attribute')) {
        const id = attribute(one, 'id') ?? '';
        if ((this.isOurs && ours.includes(id)) || this.columns.has(`${of} ${id}`)) continue;
        const type = typeOfGexf(attribute(one, 'type'));
        const [fallback, options] = ['default', 'options'].map((name) => textOf(children(one, name)[0]));
        const more = Object.fromEntries([
          ...attributesOf(one).filter(([name]) => name !== 'id' && name !== 'title'),
          ...(options === undefined ? [] : [['options', options]]),
          ...(mode === 'dynamic' ? [['mode', mode]] : []),
        ]);
        const name = this.made.declare(of, attribute(one, 'title') ?? id, {
          type,
          key: id.slice(0, 200),
          ...(fallback !== undefined && { default: valueOfText(fallback, type) }),
          more,
        });
        this.columns.set(`${of} ${id}`, { name, type });
      }
    }
  }

  /** The values of an element: ours by their ids, and the attributes of others. */
  private values(
    element: Element,
    domain: 'node' | 'edge',
    read: ReadonlySet<string>,
  ): { own: ReadonlyMap<string, string>; attributes: Map<string, Json> } {
    const of = domain === 'edge' ? 'wire' : 'node';
    const ours: readonly string[] = this.isOurs ? Object.values(own[domain]) : [];
    const mine = new Map<string, string>();
    const attributes = new Map<string, Json>();
    for (const [name, value] of attributesOf(element))
      if (!read.has(name) && !name.startsWith('xmlns'))
        this.put(attributes, this.placed(of, places.xml(name), name, name === 'weight' ? 'number' : 'text'), value);
    for (const one of children(element, 'attvalues').flatMap((list) => children(list, 'attvalue'))) {
      const [id, value] = [attribute(one, 'for') ?? attribute(one, 'id'), attribute(one, 'value')];
      if (id === undefined || value === undefined) continue;
      if (ours.includes(id)) mine.set(id, value);
      else {
        const times = attributesOf(one).filter(([name]) => !['for', 'id', 'value'].includes(name));
        const column = this.columns.get(`${of} ${id}`) ?? this.placed(of, id, id, 'text');
        if (times.length === 0) this.put(attributes, column, value);
        else {
          // what held when, in the order of the file
          const before = attributes.get(column.name);
          const list = Array.isArray(before) ? before : [];
          attributes.set(column.name, [
            ...list,
            { value: valueOfText(value, column.type), ...Object.fromEntries(times) },
          ]);
        }
      }
    }
    const spells = children(element, 'spells')
      .flatMap((list) => children(list, 'spell'))
      .map((one) => Object.fromEntries(attributesOf(one)));
    if (spells.length > 0) attributes.set(this.placed(of, places.spells, 'spells', 'json').name, spells);
    return { own: mine, attributes };
  }

  private put(attributes: Map<string, Json>, { name, type }: Column, value: string): void {
    attributes.set(name, valueOfText(value, type));
  }

  /** What the viz module says beside place and colour of a node. */
  private look(
    of: 'node' | 'wire',
    viz: readonly [string, Record<string, string>][],
    attributes: Map<string, Json>,
  ): void {
    for (const [element, values] of viz) {
      if (element === 'color' && of === 'wire')
        attributes.set(this.placed(of, places.viz('color', 'rgb'), 'color', 'text').name, colorOf(values));
      for (const [name, value] of Object.entries(values)) {
        if (
          (element === 'position' && (name === 'x' || name === 'y') && of === 'node') ||
          (element === 'color' && ['r', 'g', 'b', 'hex'].includes(name))
        )
          continue;
        const title = shortNames[name] === '' ? element : (shortNames[name] ?? `${element} ${name}`);
        this.put(
          attributes,
          this.placed(of, places.viz(element, name), title, element === 'shape' ? 'text' : 'number'),
          value,
        );
      }
    }
  }

  /** Fields that we have written, where they fit; said where they do not. */
  private more<T>(
    text: string | undefined,
    shape: { safeParse(value: unknown): { data?: T | undefined } },
    id: Id,
  ): T | undefined {
    if (text === undefined) return undefined;
    let read: T | undefined;
    try {
      read = shape.safeParse(JSON.parse(text)).data;
    } catch {
      read = undefined;
    }
    if (read === undefined) this.made.findings.push(misfitFinding(id));
    return read;
  }

  private readNode(element: Element, within: string | undefined): string | undefined {
    const key = attribute(element, 'id');
    if (key === undefined) {
      this.made.tell(find('node-without-id', 'warning', [], 'node-without-id'));
      return undefined;
    }
    const { own: mine, attributes } = this.values(element, 'node', new Set(['id', 'label']));
    if (within !== undefined && attribute(element, 'pid') === undefined)
      attributes.set(this.placed('node', places.xml('pid'), 'pid', 'text').name, within);
    const viz = vizOf(element);
    this.look('node', viz, attributes);
    const seen = Object.fromEntries(viz);
    const label = attribute(element, 'label');
    const called = mine.get(own.node.name);
    const color = seen.color && colorOf(seen.color);
    this.made.node({
      key,
      called: label || key,
      x: Number(seen.position?.x ?? Number.NaN),
      y: Number(seen.position?.y ?? Number.NaN),
      color,
      attributes: Object.fromEntries(attributes),
      own: {
        ...(called !== undefined && { name: called, ...(label !== undefined && label !== called && { label }) }),
        ...(mine.has(own.node.kind) && { kind: must(mine.get(own.node.kind)).slice(0, 200) || foreignKind }),
        ...(this.more(mine.get(own.node.more), moreOfNode, key) as Partial<GraphNode>),
      },
    });
    return key;
  }

  private readEdge(element: Element, isUndirected: boolean): void {
    const { own: mine, attributes } = this.values(element, 'edge', new Set(['id', 'source', 'target', 'type']));
    this.look('wire', vizOf(element), attributes);
    const type = attribute(element, 'type');
    const direction = type === 'mutual' ? 'both' : type === 'undirected' || type === 'directed' ? type : undefined;
    const id = attribute(element, 'id');
    this.made.edge({
      key: id,
      source: attribute(element, 'source') ?? '',
      target: attribute(element, 'target') ?? '',
      sourcePort: mine.get(own.edge.from),
      targetPort: mine.get(own.edge.to),
      attributes: Object.fromEntries(attributes),
      own: {
        ...(direction !== undefined && (direction === 'undirected') !== isUndirected && { direction }),
        ...(direction === 'both' && { direction }),
        // an edge that has no id there goes back without one
        ...(id === undefined && { foreignId: '' }),
        ...(this.more(mine.get(own.edge.more), moreOfWire, id ?? '') as Partial<Wire>),
      },
    });
  }
}
