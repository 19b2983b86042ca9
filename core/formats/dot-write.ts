import {
  type Attributes,
  attributesOf,
  attributesWithDefaults,
  columnsOf,
  type KnownAttribute,
  textOfValue,
} from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, geometryOf, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { AttributeType, Frame, Graph, GraphNode, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { type Route, routeWires } from '../route/route.ts';
import { fittingSize, portId, ticketLabel, usualSize } from './dot-label.ts';
import {
  type drawnAttributes,
  encodeJson,
  inch,
  isRegular,
  knownAttributes,
  ourAttribute,
  packedPorts,
  wasBefore,
} from './dot-names.ts';
import { labelText } from './dot-read.ts';
import { isHtml, recordText } from './dot-record.ts';
import { splineText } from './dot-spline.ts';
import { OuterIds } from './outer-ids.ts';

const directions = { right: 'LR', left: 'RL', down: 'TB', up: 'BT' } as const;
/** The side of a node at which its outputs and its inputs lie, as a point of the compass. */
const compass = { right: ['e', 'w'], left: ['w', 'e'], down: ['s', 'n'], up: ['n', 's'] } as const;

type Kept = Readonly<Record<string, string>>;
type Bearer = keyof typeof drawnAttributes;

/** An attribute as DOT has it. */
interface Column {
  readonly dot: string;
  readonly type: AttributeType;
}

/**
 * The outermost graph as DOT: places in points and sizes in inches, which are kept, frames as clusters, attributes as
 * attributes. Nodes of ours are tables with a cell for each port, which lies where the port does; nodes of others keep
 * their shape and label, in letters that fit. With `withRoutes` edges have the ways of the wires. Drawn by `neato -n2`
 * it looks as it does here. DOT has no nested graphs and no notes: those are left out, but for a file of several graphs.
 * O(document), and the cost of routing.
 */
export function writeDot(doc: Doc, kinds: Kinds, withRoutes = false): string {
  const root = must(doc.graphs.get(doc.head.root));
  const hosts = indexOf(doc).nodesIn(root.id);
  const isSeveral =
    Number((doc.extra.dot as { graphs?: Json } | undefined)?.graphs) > 1 &&
    hosts.length > 0 &&
    hosts.every((node) => node.inner !== undefined);
  const graphs = isSeveral ? hosts.map((node) => must(doc.graphs.get(must(node.inner)))) : [root];
  return graphs.map((graph) => new Writer(doc, kinds, graph, withRoutes).write()).join('');
}

class Writer {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly graph: Graph;
  private readonly withRoutes: boolean;
  private readonly isFromDot: boolean;
  private readonly lines: string[] = [];
  private readonly isDirected: boolean;
  private readonly ids = new OuterIds();
  private readonly clusterIds = new OuterIds((id) => (id.startsWith('cluster') ? id : `cluster_${id}`));
  private readonly columns: Readonly<Record<Bearer, ReadonlyMap<string, Column>>>;

  constructor(doc: Doc, kinds: Kinds, graph: Graph, withRoutes: boolean) {
    this.doc = doc;
    this.kinds = kinds;
    this.graph = graph;
    this.withRoutes = withRoutes;
    this.isFromDot = doc.extra.dot !== undefined;
    this.isDirected = graph.undirected !== true;
    const of = (bearer: Bearer) => this.columnsOf(bearer);
    this.columns = { graph: of('graph'), node: of('node'), wire: of('wire'), frame: of('frame') };
  }

  /** What attributes are called in DOT: one of another format that the language would draw by gets a stroke in front. */
  private columnsOf(of: Bearer): ReadonlyMap<string, Column> {
    const isTheirs = (one: KnownAttribute): boolean => this.isFromDot && one.from === undefined && one.holds === 'text';
    const isHeld = (title: string, one: KnownAttribute): boolean =>
      !isTheirs(one) && (knownAttributes.has(title.toLowerCase()) || title.startsWith(ourAttribute));
    return new Map(
      columnsOf(this.doc, of, isHeld, (title) => `_${title}`).map((one): [string, Column] => [
        one.name,
        { dot: one.column, type: one.holds },
      ]),
    );
  }

  write(): string {
    const { graph } = this;
    const index = indexOf(this.doc);
    const strict = graph.strict ? 'strict ' : '';
    this.lines.push(`${strict}${this.isDirected ? 'digraph' : 'graph'} ${quotedId(graph.name)} {`);
    const label = this.titleText();
    // these would put nodes elsewhere than they say
    const moved = (name: string): string => (moving.has(name) || name === 'rankdir' ? wasBefore + name : name);
    const kept = Object.entries(this.attributes('graph', graph)).map(([name, value]) => [moved(name), value]);
    const own: Kept = {
      ...(Object.fromEntries(kept) as Kept),
      ...(label !== undefined && { label }),
      rankdir: directions[graph.flow ?? 'right'],
      [ourAttribute]: encodeJson(this.head()),
    };
    for (const [name, value] of Object.entries(own)) this.lines.push(`  ${quoted(name)}=${quoted(value)};`);
    const rects = frameRects(this.doc, this.kinds, graph.id);
    for (const frame of index.framesIn(graph.id))
      if (frame.parent === undefined || !this.doc.frames.has(frame.parent)) this.frame(frame, rects, '  ');
    for (const node of index.nodesIn(graph.id))
      if (node.frame === undefined || !this.doc.frames.has(node.frame)) this.node(node, '  ');
    const routes = this.withRoutes ? routeWires(this.doc, this.kinds, graph.id) : new Map<Id, Route>();
    for (const wire of index.wiresIn(graph.id)) this.wire(wire, routes.get(wire.id));
    this.lines.push('}', '');
    return this.lines.join('\n');
  }

  /** The label of the graph, where it came with one: as it came, while it says the title. */
  private titleText(): string | undefined {
    const kept = attributesOf(this.graph).label;
    if (typeof kept !== 'string' || kept === '') return kept === '' ? '' : undefined;
    const { title } = this.doc.head;
    return recordText(kept, false, { G: this.graph.name }).slice(0, 300) === title ? kept : labelText(title);
  }

  /** What we say of the whole beside. */
  private head(): object {
    const { id, title, catalogue, sets, wireStyle, attributes } = this.doc.head;
    const { id: _id, attributes: _own, ...graph } = this.graph;
    const columns = (Object.keys(this.columns) as Bearer[]).flatMap((of) =>
      [...this.columns[of]]
        .filter(([name, one]) => name !== one.dot || one.type !== 'text')
        .map(([name, { dot, type }]) => ({ of, dot, name, type })),
    );
    return {
      ...{ id, title, catalogue, sets, wireStyle, attributes, graph },
      ...(this.isFromDot && { from: 'dot' }),
      ...(columns.length > 0 && { columns }),
    };
  }

  /** The attributes of a record under the names that DOT has them. */
  private attributes(of: Bearer, record: object): Record<string, string> {
    const values = of === 'graph' ? attributesOf(record) : attributesWithDefaults(this.doc, of, record);
    return Object.fromEntries(
      Object.entries(values).map(([name, value]) => {
        const { dot, type } = must(this.columns[of].get(name));
        return [dot, textOfValue(value, type)];
      }),
    );
  }

  private frame(frame: Frame, rects: ReturnType<typeof frameRects>, indent: string): void {
    const index = indexOf(this.doc);
    this.lines.push(`${indent}subgraph ${quotedId(this.clusterIds.of(frame))} {`);
    const { graph: _graph, parent: _parent, attributes: _attributes, foreignId: _foreign, title, ...more } = frame;
    const kept = this.attributes('frame', frame);
    const says =
      kept.label !== undefined && recordText(kept.label, false, { G: this.graph.name }).slice(0, 500) === title;
    const rect = rects.get(frame.id);
    const own: Kept = {
      ...kept,
      label: says ? must(kept.label) : labelText(title),
      ...(frame.color && { color: frame.color }),
      ...(rect && {
        bb: [rect.x, -(rect.y + rect.height), rect.x + rect.width, -rect.y].map(plainNumber).join(','),
        lp: `${plainNumber(rect.x + rect.width / 2)},${plainNumber(-(rect.y + 12))}`,
      }),
      [ourAttribute]: encodeJson(more),
    };
    for (const [name, value] of Object.entries(own)) this.lines.push(`${indent}  ${quoted(name)}=${quoted(value)};`);
    for (const inner of index.framesWithin(frame.id)) this.frame(inner, rects, `${indent}  `);
    for (const node of index.membersOf(frame.id)) this.node(node, `${indent}  `);
    this.lines.push(`${indent}}`);
  }

  private node(node: GraphNode, indent: string): void {
    const rect = rectOf(this.doc, this.kinds, node);
    const theirs: Readonly<Record<string, Json>> = isForeign(node) ? attributesOf(node) : {};
    const lines = isForeign(node) ? linesAround(theirs) : 0;
    const least = Math.min(rect.width, rect.height);
    const drawn = (side: number): number => Math.max(1, (isRegular(theirs) ? least : side) - lines);
    const sides = { width: rect.width, height: rect.height };
    // what is drawn smaller than it is comes back as it was
    const were = Object.entries(sides).filter(([, side]) => isForeign(node) && drawn(side) !== side);
    const own: Kept = {
      ...(isForeign(node) ? this.foreign(node, rect.width, rect.height) : this.ours(node)),
      pos: `${plainNumber(rect.x + rect.width / 2)},${plainNumber(-(rect.y + rect.height / 2))}`,
      width: plainNumber(drawn(rect.width) / inch),
      height: plainNumber(drawn(rect.height) / inch),
      fixedsize: 'true',
      ...Object.fromEntries(were.map(([name, side]) => [wasBefore + name, plainNumber(side / inch)])),
    };
    this.lines.push(`${indent}${quotedId(this.ids.of(node))}${attributeText(own)};`);
  }

  /** A node of another program: its own shape and label, in letters of which all find room. */
  private foreign(node: GraphNode, width: number, height: number): Kept {
    const kept = this.attributes('node', node);
    const shape = kept.shape ?? '';
    const outer = this.ids.of(node);
    const seen = node.label || (node.name === outer ? outer : node.name);
    const isRecord = /record$/.test(shape);
    const said =
      kept.label === undefined ? outer : recordText(kept.label, isRecord, { N: outer, G: this.graph.name }) || outer;
    const label =
      said === seen || (kept.label === '' && seen === outer)
        ? kept.label
        : isRecord
          ? htmlFree(labelText(seen))
          : labelText(seen);
    const given = Number(kept.fontsize ?? 14);
    const size = Math.min(
      given > 0 ? given : 14,
      fittingSize(label ?? outer, shape, width, height) / (kept.fontname === undefined ? 1 : widestFont),
    );
    const written: Record<string, string> = { fontsize: plainNumber(size), fixedsize: 'true' };
    const was = Object.fromEntries(
      Object.keys(written).flatMap((name) => (kept[name] === undefined ? [] : [[wasBefore + name, kept[name]]])),
    ) as Kept;
    return {
      ...kept,
      ...(node.color !== undefined && { color: node.color }),
      ...(label !== undefined && { label }),
      ...written,
      ...was,
    };
  }

  /** A node of ours: a table of its size, and all its fields as JSON beside. */
  private ours(node: GraphNode): Kept {
    const geometry = geometryOf(this.doc, this.kinds, node);
    const { id: _id, graph: _graph, frame: _frame, inner: _inner, attributes: _attributes, ...more } = node;
    const isTicket = geometry.shape === 'ticket';
    return {
      ...this.attributes('node', node),
      shape: geometry.shape === 'point' ? 'circle' : 'box',
      ...(isTicket
        ? { margin: '0', fontsize: String(usualSize) }
        : { fontsize: plainNumber(fittingSize(geometry.title, 'box', geometry.width, geometry.height)) }),
      label: isTicket ? ticketLabel(geometry) : geometry.shape === 'point' ? '' : labelText(geometry.title),
      ...(node.color && { color: node.color }),
      [ourAttribute]: encodeJson({ ...more, ports: packedPorts(node.ports) }),
    };
  }

  private wire(wire: Wire, route: Route | undefined): void {
    const kept: Record<string, string> = this.attributes('wire', wire);
    const ends = (['from', 'to'] as const).map((which): string => {
      const node = must(this.doc.nodes.get(wire[which].node));
      const side = which === 'from' ? 'out' : 'in';
      const port = portAt(node.ports, wire[which].port, side);
      const attribute = which === 'from' ? 'tailport' : 'headport';
      const name = quotedId(this.ids.of(node));
      // an end that came without a port goes back without one
      if (isForeign(node)) {
        const foreign = port === undefined || port.foreign === '' ? undefined : (port.foreign ?? port.id);
        keepCompass(kept, attribute, foreign);
        return foreign === undefined ? name : `${name}:${quotedId(foreign)}`;
      }
      const geometry = geometryOf(this.doc, this.kinds, node);
      const [outward, inward] = compass[this.graph.flow ?? 'right'];
      const point = side === 'out' ? outward : inward;
      const hasCell =
        geometry.shape === 'ticket' &&
        !geometry.closed &&
        geometry.ports.some((one) => one.id === wire[which].port && one.direction === side);
      return hasCell ? `${name}:${quotedId(portId(side, wire[which].port))}:${point}` : `${name}:${point}`;
    });
    const isOurs = [wire.from.node, wire.to.node].some((id) => !isForeign(must(this.doc.nodes.get(id))));
    const { id, from, to, attributes: _attributes, ...more } = wire;
    const marks = isOurs || Object.keys(more).length > 0;
    const own: Kept = {
      ...kept,
      ...(route && route.length > 1 && { pos: splineText(route, this.isDirected && kept.dir !== 'none') }),
      ...(marks && { [ourAttribute]: encodeJson({ id, ports: [from.port, to.port], more }) }),
    };
    this.lines.push(`  ${ends[0]} ${this.isDirected ? '->' : '--'} ${ends[1]}${attributeText(own)};`);
  }
}

/** Which side of a node an edge of others meets; the port that stood there goes where it is another one now. */
function keepCompass(kept: Record<string, string>, attribute: string, port: string | undefined): void {
  const was = kept[attribute];
  if (was === undefined) return;
  const [, named, point] = /^(?:([\s\S]*):)?(n|ne|e|se|s|sw|w|nw|c|_)$/.exec(was) ?? [];
  if (point !== undefined && named !== undefined && named !== port) kept[attribute] = point;
}

/** Attributes of a graph that scale or turn what was placed. */
const moving: ReadonlySet<string> = new Set(['ratio', 'rotate', 'landscape', 'orientation', 'scale', 'normalize']);

/** How much wider than usual the letters of a font that somebody has chosen may be. */
const widestFont = 1.25;
/** What further lines around a shape add to its size: four points on each side for each (as measured). */
function linesAround({ shape, peripheries }: Attributes): number {
  const byShape = /^double/.test(String(shape)) ? 2 : /^triple/.test(String(shape)) ? 3 : 1;
  const count = peripheries === undefined ? byShape : Number(peripheries);
  return count > 1 ? (count - 1) * 8 : 0;
}

/** Nodes that came from elsewhere keep their shape and label. */
const isForeign = (node: GraphNode): boolean => node.kind === foreignKind;

/** Text of a record without the marks that would part it. */
const htmlFree = (text: string): string => text.replace(/[|{}<>]/g, '\\$&');

/** A number without an exponent, to a hundredth of a point or a ten-thousandth of an inch. */
const plainNumber = (value: number): string => {
  const rounded = Math.round(value * 10_000) / 10_000 + 0;
  return Math.abs(rounded) < 1e21 ? String(rounded) : rounded.toFixed(0);
};

const attributeText = (own: Kept): string =>
  Object.keys(own).length === 0
    ? ''
    : ` [${Object.entries(own)
        .map(([name, value]) => `${quoted(name)}=${quoted(value)}`)
        .join(', ')}]`;

const isWord = (text: string): boolean =>
  /^[A-Za-z_][A-Za-z0-9_]*$/.test(text) && !/^(node|edge|graph|digraph|subgraph|strict)$/i.test(text);

/** A name: a word as it is, all else in quotes. */
function quotedId(text: string): string {
  if (isWord(text)) return text;
  // a backslash before a quote or a line break would escape it
  const inside = text.replace(/(\\+)(["\n]?)|"/g, (found, slashes: string | undefined, behind: string, at: number) => {
    if (slashes === undefined) return '\\"';
    const escapes = behind !== '' || at + found.length === text.length;
    return `${slashes}${escapes && slashes.length % 2 === 1 ? '\\' : ''}${behind === '"' ? '\\"' : behind}`;
  });
  return `"${inside}"`;
}

/** A value: HTML-like text in its own brackets. */
const quoted = (text: string): string => (isHtml(text) && balanced(text) ? text : quotedId(text));

function balanced(text: string): boolean {
  // comments have rules of their own
  if (text.includes('<!')) return false;
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '<') depth++;
    else if (text[i] === '>' && --depth === 0 && i < text.length - 1) return false;
  }
  return depth === 0;
}
