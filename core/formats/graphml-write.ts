import { type Attributes, attributesIn, attributesOf, textOfValue } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import {
  type AttributeBearer,
  type AttributeType,
  type Frame,
  type Graph,
  type GraphNode,
  laterFields,
  type Note,
  type Port,
  type PortRef,
  tableShapes,
  type Wire,
} from '../document/schema.ts';
import { must } from '../must.ts';
import { type Route, routeWires } from '../route/route.ts';
import { type Domain, ourKeys, ourNamespace, ourPrefix, tokenOf } from './graphml-keys.ts';
import { OuterIds } from './outer-ids.ts';
import { attributesText, escapeXml, isFragment, xmlTypes } from './xml.ts';

/** The fields that go along as JSON in one key, by table. */
const carried = {
  graphs: ['foreignId', 'undirected', 'strict'],
  nodes: [...Object.keys(laterFields.nodes), 'foreignId'],
  wires: ['direction', 'foreignId'],
} as const;

type Bearer = Exclude<AttributeBearer, 'frame' | 'note'>;
const domains: Readonly<Record<Bearer, Domain>> = { graph: 'graph', node: 'node', wire: 'edge', port: 'port' };

/** A key of an attribute, as it is declared once all values are known. */
interface Column {
  readonly id: string;
  readonly title: string;
  readonly domain: Domain | 'all';
  readonly more: Readonly<Record<string, string>>;
  readonly fallback: Json | undefined;
  type: AttributeType;
  /** Declared even where nothing has a value of it, as it came. */
  readonly came: boolean;
  isUsed: boolean;
}

/**
 * The document as GraphML, with positions and sizes, and where wanted the routes of the wires; ids and keys of others go
 * back as they came, and attributes of other formats are keys. Only keys that have values are declared. O(document), and
 * the cost of routing.
 */
export function writeGraphml(doc: Doc, kinds: Kinds, withRoutes = false): string {
  return new Writer(doc, kinds, withRoutes).write();
}

class Writer {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly withRoutes: boolean;
  private readonly lines: string[] = [];
  private readonly used = new Set<string>();
  private readonly columns = new Map<string, Column>();
  /** The attribute that holds what describes a bearer. */
  private readonly describing = new Map<Bearer, string>();
  private readonly taken = new Set(ourKeys.map(({ id }) => id));
  private readonly rootAttributes: Readonly<Record<string, string>>;
  private readonly prefixes: ReadonlySet<string>;
  private readonly nodeIds: OuterIds;
  private readonly edgeIds: OuterIds;
  private readonly graphIds: OuterIds;
  private readonly portNames = new Map<Id, OuterIds>();
  private readonly shape: (id: string) => string;

  constructor(doc: Doc, kinds: Kinds, withRoutes: boolean) {
    this.doc = doc;
    this.kinds = kinds;
    this.withRoutes = withRoutes;
    const kept = doc.extra.graphml;
    this.rootAttributes = (typeof kept === 'object' && kept !== null ? kept : {}) as Readonly<Record<string, string>>;
    this.prefixes = new Set(
      Object.keys(this.rootAttributes).flatMap((name) => (name.startsWith('xmlns:') ? [name.slice(6)] : [])),
    );
    // what came from GraphML was read with such ids, whatever the standard says of them
    this.shape = kept === undefined ? tokenOf : (id) => id;
    this.nodeIds = new OuterIds(this.shape);
    this.edgeIds = new OuterIds(this.shape);
    this.graphIds = new OuterIds(this.shape);
    for (const of of Object.keys(domains) as Bearer[]) this.declare(of);
  }

  write(): string {
    this.graph(must(this.doc.graphs.get(this.doc.head.root)));
    const root = attributesText(Object.entries(this.rootAttributes));
    const head = [
      '<?xml version="1.0" encoding="UTF-8"?>',
      `<graphml xmlns="http://graphml.graphdrawing.org/xmlns" xmlns:${ourPrefix}="${ourNamespace}"${root}>`,
      ...ourKeys
        .filter(({ id }) => this.used.has(id))
        .map(
          ({ id, domain, name, title, type }) =>
            `<key id="${id}" for="${domain}" attr.name="${title}" attr.type="${type}" ${ourPrefix}:key="${name}"/>`,
        ),
      ...[...new Set(this.columns.values())]
        .filter(({ isUsed, came }) => isUsed || came)
        .map((one) => this.keyText(one)),
    ];
    return [...head, ...this.lines, '</graphml>', ''].join('\n');
  }

  /** Plans a key for each attribute of a kind of bearer; what the same key held before goes into one again. */
  private declare(of: Bearer): void {
    for (const one of attributesIn(this.doc, of)) {
      if (one.key === '<desc>') {
        this.describing.set(of, one.name);
        continue;
      }
      const isTheirs = one.from === 'graphml';
      const domain = isTheirs && (one.more?.for === 'all' || one.more?.for === 'endpoint') ? 'all' : domains[of];
      const title = one.title ?? one.name;
      const same = [...new Set(this.columns.values())].find(
        (other) =>
          other.domain === domain &&
          (isTheirs && one.key !== undefined ? other.id === one.key : other.title === title && !other.came),
      );
      if (same) {
        if (!same.came) same.type = same.type === one.holds ? same.type : 'json';
        this.columns.set(`${of} ${one.name}`, same);
        continue;
      }
      let id = (isTheirs && one.key) || `${domain === 'all' ? 'a' : domain[0]}${this.columns.size}`;
      while (this.taken.has(id)) id = `${id}_`;
      this.taken.add(id);
      const { for: _for, ...more } = isTheirs ? (one.more ?? {}) : {};
      this.columns.set(`${of} ${one.name}`, {
        id,
        title,
        domain,
        more,
        fallback: one.default,
        type: isTheirs ? one.type : one.holds,
        came: isTheirs,
        isUsed: false,
      });
    }
  }

  private keyText({ id, title, domain, type, more, fallback, came }: Column): string {
    const { desc, 'attr.type': stated, 'attr.name': called, ...rest } = more;
    // a key that names no type had none where it came from
    const named = stated ?? (came && (type === 'text' || type === 'xml') ? undefined : xmlTypes[type]);
    const name = came ? called : title;
    const own = type === 'json' || (type === 'xml' && stated !== undefined) ? ` ${ourPrefix}:type="${type}"` : '';
    const attributes = attributesText(
      Object.entries({ ...(name && { 'attr.name': name }), ...(named && { 'attr.type': named }), ...rest }),
    );
    const inside = [
      ...(desc === undefined ? [] : [`<desc>${desc}</desc>`]),
      ...(fallback === undefined ? [] : [`<default>${this.valueText(fallback, { type, came })}</default>`]),
    ].join('');
    const head = `<key id="${escapeXml(id)}" for="${domain}"${attributes}${own}`;
    return inside === '' ? `${head}/>` : `${head}>${inside}</key>`;
  }

  private valueText(value: Json, { type, came }: Pick<Column, 'type' | 'came'>): string {
    const text = textOfValue(value, type);
    // what came with such a file may use prefixes that it never declared
    return type === 'xml' && isFragment(text, came ? undefined : this.prefixes) ? text : escapeXml(text, '');
  }

  private ours(domain: Domain, values: Readonly<Record<string, string | number | boolean | undefined>>): void {
    for (const [name, value] of Object.entries(values)) {
      if (value === undefined) continue;
      const id = `${domain[0]}_${name}`;
      this.used.add(id);
      this.lines.push(`<data key="${id}">${escapeXml(String(value), '')}</data>`);
    }
  }

  private attributes(of: Bearer, record: object, meant: Attributes = {}): void {
    for (const [name, value] of Object.entries({ ...attributesOf(record), ...meant })) {
      if (name === this.describing.get(of)) continue;
      const column = must(this.columns.get(`${of} ${name}`));
      column.isUsed = true;
      this.lines.push(`<data key="${escapeXml(column.id)}">${this.valueText(value, column)}</data>`);
    }
  }

  /** What stands under keys of others that mean something of ours: as it is now. */
  private meant(node: GraphNode): Attributes {
    const rect = rectOf(this.doc, this.kinds, node);
    const now: Readonly<Record<string, Json | undefined>> = {
      ...rect,
      label: node.label || node.name,
      color: node.color,
    };
    return Object.fromEntries(
      attributesIn(this.doc, 'node').flatMap((one) => {
        const value = one.means === undefined ? undefined : now[one.means];
        return value === undefined
          ? []
          : [[one.name, one.type === 'integer' && typeof value === 'number' ? Math.round(value) : value]];
      }),
    );
  }

  private later(table: keyof typeof carried, record: object): string | undefined {
    const names: readonly string[] = carried[table];
    // what nobody here knows goes along too
    const fields = Object.entries(record).filter(
      ([field, value]) =>
        value !== undefined && (names.includes(field) || !Object.hasOwn(tableShapes[table].shape, field)),
    );
    return fields.length > 0 ? JSON.stringify(Object.fromEntries(fields)) : undefined;
  }

  /** Frames and notes as JSON: other programs would take elements of theirs for nodes. */
  private records(
    records: readonly (Frame | Note)[],
    places?: ReadonlyMap<Id, { readonly x: number; readonly y: number }>,
  ): string | undefined {
    if (records.length === 0) return undefined;
    return JSON.stringify(records.map(({ graph: _graph, ...record }) => ({ ...record, ...places?.get(record.id) })));
  }

  /** The id of ours, where it is not the one that stands in the file. */
  private idBeside(record: { readonly id: Id }, outer: string): string | undefined {
    return record.id === outer ? undefined : record.id;
  }

  private graph(graph: Graph): void {
    const isRoot = graph.id === this.doc.head.root;
    const outer = this.graphIds.of(graph);
    const isUndirected = graph.undirected === true;
    this.lines.push(`<graph id="${escapeXml(outer)}" edgedefault="${isUndirected ? 'undirected' : 'directed'}">`);
    this.description('graph', graph);
    const index = indexOf(this.doc);
    const { attributes, sets, title, catalogue, id } = this.doc.head;
    this.ours('graph', {
      id: this.idBeside(graph, outer),
      name: graph.name,
      ...(isRoot && {
        title,
        catalogue: JSON.stringify(catalogue),
        document: JSON.stringify(id),
        sets: sets && JSON.stringify(sets),
        attributes: attributes && JSON.stringify(attributes),
      }),
      flow: graph.flow,
      frames: this.records(index.framesIn(graph.id), frameRects(this.doc, this.kinds, graph.id)),
      notes: this.records(index.notesIn(graph.id)),
      more: this.later('graphs', graph),
    });
    this.attributes('graph', graph);
    for (const node of index.nodesIn(graph.id)) this.node(node);
    this.wires(graph);
    this.lines.push('</graph>');
  }

  /** What describes an element; in GraphML it stands before all data. */
  private description(of: Bearer, record: object): void {
    const name = this.describing.get(of);
    const value = name === undefined ? undefined : attributesOf(record)[name];
    if (value !== undefined) this.lines.push(`<desc>${escapeXml(textOfValue(value), '')}</desc>`);
  }

  private node(node: GraphNode): void {
    const outer = this.nodeIds.of(node);
    this.lines.push(`<node id="${escapeXml(outer)}">`);
    this.description('node', node);
    this.ours('node', {
      id: this.idBeside(node, outer),
      frame: node.frame,
      ...rectOf(this.doc, this.kinds, node),
      name: node.name,
      kind: node.kind === foreignKind ? undefined : node.kind,
      label: node.label,
      color: node.color,
      parameters: node.params && JSON.stringify(node.params),
      beacon: node.beacon && JSON.stringify(node.beacon),
      pinned: node.pinned,
      bypassed: node.bypassed,
      detail: isDetailed(node)
        ? JSON.stringify({ closed: node.closed, show: node.show, caption: node.caption, pictureOff: node.pictureOff })
        : undefined,
      picture: node.picture,
      more: this.later('nodes', node),
    });
    this.attributes('node', node, this.meant(node));
    this.ports(node);
    if (node.inner !== undefined) this.graph(must(this.doc.graphs.get(node.inner)));
    this.lines.push('</node>');
  }

  private portNamesOf(node: Id): OuterIds {
    let names = this.portNames.get(node);
    if (!names) {
      names = new OuterIds(this.shape);
      this.portNames.set(node, names);
    }
    return names;
  }

  /** A port that is in and out at once is one port to others; ports that only we made are not written. */
  private ports({ id: node, ports }: GraphNode): void {
    // what no edge has named is there by its wires alone, as are further ones for more edges into one port
    const isSaid = ({ id, foreign }: Port): boolean => foreign === '' || (foreign !== undefined && foreign !== id);
    const written = new Set<string>();
    const names = this.portNamesOf(node);
    for (const port of ports) {
      if (isSaid(port) || written.has(port.id)) continue;
      written.add(port.id);
      const both = ports.filter((one) => one.id === port.id && !isSaid(one));
      const outer = names.of(port);
      this.lines.push(`<port name="${escapeXml(outer)}">`);
      this.description('port', port);
      this.ours('port', {
        id: this.idBeside(port, outer),
        direction: both.map((one: Port) => one.direction).join(' '),
        type: port.type,
        title: port.name === port.id ? undefined : port.name,
        foreign: port.foreign,
      });
      this.attributes('port', port);
      this.lines.push('</port>');
    }
  }

  private wires(graph: Graph): void {
    const routes = this.withRoutes ? routeWires(this.doc, this.kinds, graph.id) : new Map<Id, Route>();
    const end = (ref: PortRef, direction: 'in' | 'out', attribute: string): string => {
      const port = portAt(this.doc.nodes.get(ref.node)?.ports ?? [], ref.port, direction);
      const name = port?.foreign ?? ref.port;
      return name === '' ? '' : ` ${attribute}="${escapeXml(this.portNamesOf(ref.node).of({ id: name }))}"`;
    };
    for (const wire of indexOf(this.doc).wiresIn(graph.id)) {
      const outer = this.edgeIds.of(wire);
      const isNamed = wire.foreignId !== '';
      const [from, to] = [must(this.doc.nodes.get(wire.from.node)), must(this.doc.nodes.get(wire.to.node))];
      this.lines.push(
        `<edge${isNamed ? ` id="${escapeXml(outer)}"` : ''} source="${escapeXml(this.nodeIds.of(from))}" target="${escapeXml(this.nodeIds.of(to))}"${end(wire.from, 'out', 'sourceport')}${end(wire.to, 'in', 'targetport')}${directedText(graph, wire)}>`,
      );
      this.description('wire', wire);
      const route = routes.get(wire.id);
      this.ours('edge', {
        id: isNamed ? this.idBeside(wire, outer) : wire.id,
        route: route && routeText(route),
        off: wire.off,
        more: this.later('wires', wire),
      });
      this.attributes('wire', wire);
      this.lines.push('</edge>');
    }
  }
}

/** What an edge says of its direction, where that is not what its graph says. */
function directedText(graph: Graph, { direction }: Wire): string {
  if (direction === undefined) return '';
  const isDirected = direction !== 'undirected';
  return isDirected === (graph.undirected !== true) ? '' : ` directed="${isDirected}"`;
}

const isDetailed = (node: GraphNode): boolean => Boolean(node.closed || node.show || node.caption || node.pictureOff);

/** A route as GraphML and others carry it: `x,y x,y …`. */
export function routeText(route: Route): string {
  return route.map((p) => `${Math.round(p.x * 100) / 100},${Math.round(p.y * 100) / 100}`).join(' ');
}
