import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, rectOf } from '../document/geometry.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import { type Frame, type Graph, type GraphNode, laterFields, type Port, type PortRef } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Route, routeWires } from '../route/route.ts';
import { escapeXml } from './xml.ts';

interface OurKey {
  readonly id: string;
  readonly domain: 'node' | 'edge' | 'port' | 'graph';
  readonly name: string;
  readonly type: 'double' | 'string' | 'boolean';
}

const key = (domain: OurKey['domain'], name: string, type: OurKey['type'] = 'string'): OurKey => ({
  id: `${domain[0]}_${name}`,
  domain,
  name,
  type,
});

const keys: readonly OurKey[] = [
  ...(['x', 'y', 'width', 'height'] as const).map((name) => key('node', name, 'double')),
  ...[
    'name',
    'kind',
    'label',
    'title',
    'color',
    'parameters',
    'role',
    'beacon',
    'note',
    'pad',
    'text',
    'tied',
    'detail',
    'picture',
    'more',
  ].map((name) => key('node', name)),
  ...['pinned', 'bypassed'].map((name) => key('node', name, 'boolean')),
  key('edge', 'route'),
  key('edge', 'off', 'boolean'),
  ...['direction', 'type', 'title'].map((name) => key('port', name)),
  ...['name', 'title', 'flow', 'catalogue', 'document', 'sets'].map((name) => key('graph', name)),
];

/** Fields that reading has put on records of others. */
interface Foreign {
  readonly foreignId?: string;
  readonly data?: Readonly<Record<string, string>>;
}

interface KeptKey {
  readonly id: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly fallback?: string;
}

/**
 * The document as GraphML, with positions and sizes, and where wanted the routes of the wires; ids and keys of others go
 * back as they came. O(document), and the cost of routing.
 */
export function writeGraphml(doc: Doc, kinds: Kinds, withRoutes = false): string {
  return new Writer(doc, kinds, withRoutes).write();
}

class Writer {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly withRoutes: boolean;
  private readonly lines: string[] = [];
  private readonly keyIds = new Map<string, string>();
  private readonly kept: readonly KeptKey[];

  constructor(doc: Doc, kinds: Kinds, withRoutes: boolean) {
    this.doc = doc;
    this.kinds = kinds;
    this.withRoutes = withRoutes;
    this.kept = (Array.isArray(doc.extra.graphmlKeys) ? doc.extra.graphmlKeys : []) as unknown as KeptKey[];
    const taken = new Set(this.kept.map((one) => one.id));
    for (const own of keys) {
      let id = own.id;
      while (taken.has(id)) id = `${id}_`;
      taken.add(id);
      this.keyIds.set(`${own.domain} ${own.name}`, id);
    }
  }

  write(): string {
    const attributes = Object.entries((this.doc.extra.graphmlRoot ?? {}) as Record<string, string>)
      .map(([name, value]) => ` ${name}="${value}"`)
      .join('');
    this.lines.push(
      '<?xml version="1.0" encoding="UTF-8"?>',
      `<graphml xmlns="http://graphml.graphdrawing.org/xmlns"${attributes}>`,
    );
    for (const own of keys)
      this.lines.push(
        `<key id="${escapeXml(must(this.keyIds.get(`${own.domain} ${own.name}`)))}" for="${own.domain}" attr.name="${own.name}" attr.type="${own.type}"/>`,
      );
    for (const one of this.kept) {
      const head = Object.entries(one.attributes)
        .map(([name, value]) => ` ${name}="${value}"`)
        .join('');
      this.lines.push(
        one.fallback === undefined ? `<key${head}/>` : `<key${head}><default>${one.fallback}</default></key>`,
      );
    }
    this.graph(must(this.doc.graphs.get(this.doc.head.root)));
    this.lines.push('</graphml>', '');
    return this.lines.join('\n');
  }

  private data(
    domain: OurKey['domain'],
    values: Readonly<Record<string, string | number | boolean | undefined>>,
    foreign: Foreign,
  ): void {
    for (const [name, value] of Object.entries(values))
      if (value !== undefined)
        this.lines.push(
          `<data key="${escapeXml(must(this.keyIds.get(`${domain} ${name}`)))}">${escapeXml(String(value))}</data>`,
        );
    for (const [id, raw] of Object.entries(foreign.data ?? {}))
      this.lines.push(`<data key="${escapeXml(id)}">${raw}</data>`);
  }

  private idOf(record: { id: Id }): string {
    return escapeXml((record as Foreign).foreignId || record.id);
  }

  private graph(graph: Graph): void {
    const isRoot = graph.id === this.doc.head.root;
    this.lines.push(`<graph id="${this.idOf(graph)}" edgedefault="directed">`);
    this.data(
      'graph',
      {
        name: graph.name,
        ...(isRoot && {
          title: this.doc.head.title,
          catalogue: JSON.stringify(this.doc.head.catalogue),
          document: JSON.stringify(this.doc.head.id),
          sets: this.doc.head.sets && JSON.stringify(this.doc.head.sets),
        }),
        flow: graph.flow,
      },
      graph as Foreign,
    );
    const index = indexOf(this.doc);
    const rects = frameRects(this.doc, this.kinds, graph.id);
    const frame = (one: Frame): void => {
      this.lines.push(`<node id="${this.idOf(one)}">`);
      this.data(
        'node',
        {
          role: 'frame',
          title: one.title,
          ...rects.get(one.id),
          color: one.color,
          note: one.note,
          pad: one.pad && JSON.stringify(one.pad),
          more: more('frames', one),
        },
        one as Foreign,
      );
      this.lines.push(`<graph id="${escapeXml(`${one.id}:inside`)}" edgedefault="directed">`);
      for (const inner of index.framesWithin(one.id)) frame(inner);
      for (const node of index.membersOf(one.id)) this.node(node);
      this.lines.push('</graph>', '</node>');
    };
    for (const one of index.framesIn(graph.id)) if (one.parent === undefined) frame(one);
    for (const node of index.nodesIn(graph.id)) if (node.frame === undefined) this.node(node);
    for (const note of index.notesIn(graph.id)) {
      this.lines.push(`<node id="${this.idOf(note)}">`);
      this.data(
        'node',
        {
          role: 'note',
          x: note.x,
          y: note.y,
          width: note.width,
          height: note.height,
          text: note.text,
          tied: note.tiedTo,
          more: more('notes', note),
        },
        note as Foreign,
      );
      this.lines.push('</node>');
    }
    this.wires(graph.id);
    this.lines.push('</graph>');
  }

  private node(node: GraphNode): void {
    const isForeign = (node as Foreign).foreignId !== undefined;
    this.lines.push(`<node id="${this.idOf(node)}">`);
    this.data(
      'node',
      {
        ...rectOf(this.doc, this.kinds, node),
        name: node.name,
        kind: node.kind === 'foreign.node' && isForeign ? undefined : node.kind,
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
        more: more('nodes', node),
      },
      node as Foreign,
    );
    this.ports(node.ports);
    if (node.inner !== undefined) this.graph(must(this.doc.graphs.get(node.inner)));
    this.lines.push('</node>');
  }

  /** A port that is in and out at once is one port to others; ports that only we made are not written. */
  private ports(ports: readonly Port[]): void {
    const written = new Set<string>();
    for (const port of ports) {
      if (port.foreign !== undefined || written.has(port.id)) continue;
      written.add(port.id);
      const both = ports.filter((one) => one.id === port.id && one.foreign === undefined);
      this.lines.push(`<port name="${escapeXml(port.id)}">`);
      this.data(
        'port',
        {
          direction: both.map((one) => one.direction).join(' '),
          type: port.type,
          title: port.name === port.id ? undefined : port.name,
        },
        port as Foreign,
      );
      this.lines.push('</port>');
    }
  }

  private wires(graph: Id): void {
    const routes = this.withRoutes ? routeWires(this.doc, this.kinds, graph) : new Map<Id, Route>();
    const end = (ref: PortRef, direction: 'in' | 'out', attribute: string): string => {
      const port = portAt(this.doc.nodes.get(ref.node)?.ports ?? [], ref.port, direction);
      const name = port?.foreign ?? ref.port;
      return name === '' ? '' : ` ${attribute}="${escapeXml(name)}"`;
    };
    for (const wire of [...indexOf(this.doc).wiresIn(graph)].sort((a, b) => compareIds(a.id, b.id))) {
      const foreign = wire as Foreign;
      const id = foreign.foreignId === '' ? '' : ` id="${this.idOf(wire)}"`;
      const [from, to] = [must(this.doc.nodes.get(wire.from.node)), must(this.doc.nodes.get(wire.to.node))];
      this.lines.push(
        `<edge${id} source="${this.idOf(from)}" target="${this.idOf(to)}"${end(wire.from, 'out', 'sourceport')}${end(wire.to, 'in', 'targetport')}>`,
      );
      const route = routes.get(wire.id);
      this.data('edge', { route: route && routeText(route), off: wire.off }, foreign);
      this.lines.push('</edge>');
    }
  }
}

/** The later fields of a record as JSON, or nothing where it has none. */
function more(table: keyof typeof laterFields, record: object): string | undefined {
  const fields = Object.keys(laterFields[table]).filter(
    (field) => (record as Record<string, unknown>)[field] !== undefined,
  );
  return fields.length > 0
    ? JSON.stringify(Object.fromEntries(fields.map((field) => [field, (record as Record<string, unknown>)[field]])))
    : undefined;
}

const isDetailed = (node: GraphNode): boolean => Boolean(node.closed || node.show || node.caption || node.pictureOff);

/** A route as GraphML and others carry it: `x,y x,y …`. */
export function routeText(route: Route): string {
  return route.map((p) => `${Math.round(p.x * 100) / 100},${Math.round(p.y * 100) / 100}`).join(' ');
}
