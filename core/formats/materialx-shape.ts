import { hexOf, parseColor } from '../color/contrast.ts';
import { builtin } from '../document/builtin.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { legalName } from '../document/names.ts';
import type { Frame, GraphNode, Port } from '../document/schema.ts';
import { must } from '../must.ts';
import type { XmlTree } from './xml.ts';

/** Places in MaterialX are counted in nodes, not pixels: as many pixels at 100 % zoom are one. */
export const unit = 200;

/** What came with a file of others, and goes back as it came. */
export interface Kept {
  /** Its name there, where ours is another. */
  readonly name?: string;
  readonly attributes?: Readonly<Record<string, string>>;
  /** Of inputs by their names: attributes beside name, type, value and connection. */
  readonly inputs?: Readonly<Record<string, Readonly<Record<string, string>>>>;
  /** Elements that are no part of a graph. */
  readonly children?: readonly XmlTree[];
  /** The type of a node whose further outputs are known only by what leads to them. */
  readonly type?: string;
  /** An input that the graph’s definition has, and not the graph. */
  readonly implied?: true;
}
export const keptOf = (record: object): Kept => (record as { mtlx?: Kept }).mtlx ?? {};

/** The units that a node's inputs are given in, by input. */
export const unitsOf = (node: object): Readonly<Record<string, string | undefined>> =>
  Object.fromEntries(Object.entries(keptOf(node).inputs ?? {}).map(([name, { unit }]) => [name, unit]));

/**
 * The attribute that holds what a standard reader has no use for, and its parts as JSON: fields by record, where they
 * differ from what the element says.
 */
export const ownAttribute = 'basitax';
/** The ids that records get by where they stand, as long as nothing else is said of them. */
export const wantedId = {
  root: 'root',
  /** Nodes and frames, in a graph of a node or outermost. */
  item: (within: Id | undefined, name: string): Id => (within === undefined ? name : `${within}/${name}`),
  graph: (host: Id): Id => `${host}:inside`,
  wire: (to: Id, input: string): Id => `${to}.${input}`,
};
export type Fields = Readonly<Record<string, Json>>;
export interface Said {
  readonly node?: Fields;
  readonly graph?: Fields;
  readonly wire?: Fields;
  readonly frame?: Fields;
  readonly document?: Fields;
  /** Graphs: fields of the inputs that their definition has, by name. */
  readonly implied?: Readonly<Record<string, Fields>>;
  /** Inputs and outputs of nodes: our id of the port, where it is no name there. */
  readonly port?: string;
  /** Nodes that stand for a graph: the name of that graph. */
  readonly body?: string;
  /** Made for other readers; nothing is read from it. */
  readonly made?: true;
}

/** What MaterialX has beside nodes (specification 1.39, from memory). */
export const notNodes: ReadonlySet<string> = new Set(
  `nodedef implementation typedef member unitdef unittypedef unit targetdef geominfo geomprop geompropdef geomattr token look lookgroup materialassign
  visibility collection propertyset property propertyassign propertysetassign variant variantset variantassign attributedef xi:include`.split(
    /\s+/,
  ),
);
export const connections = ['nodename', 'nodegraph', 'interfacename', 'output'] as const;

/** The tag of a node by its kind, and its kind by the tag. A dot passes on what it gets, as our reroute points do. */
export function tagOf(kind: string): string {
  if (kind === builtin.reroute) return 'dot';
  const bare = kind.startsWith('materialx.') ? kind.slice('materialx.'.length) : kind;
  return /^[A-Za-z_][\w.-]*$/.test(bare) && !notNodes.has(bare) ? bare : legalName(bare);
}
export function kindOf(tag: string): string {
  if (tag === 'dot') return builtin.reroute;
  return (tag.includes('.') ? tag : `materialx.${tag}`).slice(0, 200);
}

/** A value as an input holds it. */
export function valueText(value: Json): string {
  return typeof value === 'string'
    ? value
    : typeof value === 'number' || typeof value === 'boolean'
      ? String(value)
      : JSON.stringify(value);
}

/** A value as a parameter: numbers and switches as what they are; colours, vectors and all else stay text. */
export function valueFrom(type: string, text: string): Json {
  if (type === 'boolean' && (text === 'true' || text === 'false')) return text === 'true';
  const value = Number(text);
  return (type === 'float' || type === 'integer') && text.trim() !== '' && Number.isFinite(value) ? value : text;
}

/** The type that an input takes for a value: the one of its port where that fits. */
export function typeOfValue(value: Json, wanted: string | undefined): string {
  if (typeof value === 'number') return wanted === 'integer' && Number.isInteger(value) ? 'integer' : 'float';
  if (typeof value === 'boolean') return 'boolean';
  return typeof value === 'string' && wanted !== undefined && !['any', 'float', 'integer', 'boolean'].includes(wanted)
    ? typeName(wanted)
    : 'string';
}
export const typeName = (type: string): string => type.replace(/[^A-Za-z0-9_]/g, '_');

/** A colour as three parts of 0 to 1, and as `#rrggbb`; undefined where it is none. */
export const colorText = (color: string): string | undefined =>
  /^#[0-9a-f]{6}$/i.test(color)
    ? must(parseColor(color))
        .map((part) => String(Math.round((part / 255) * 10000) / 10000))
        .join(', ')
    : undefined;
export function colorOf(text: string): string | undefined {
  const [r = Number.NaN, g = Number.NaN, b = Number.NaN] = text
    .split(',')
    .map((part) => Math.max(0, Math.min(1, Number(part))) * 255);
  return [r, g, b].every(Number.isFinite) ? hexOf([r, g, b]) : undefined;
}

/** Pixels of a length in nodes; undefined where it is no number. */
export function pixels(text: string | undefined): number | undefined {
  const value = text === undefined || text.trim() === '' ? Number.NaN : Number(text);
  return Number.isFinite(value) ? Math.round(value * unit * 1000) / 1000 : undefined;
}

const without = (attributes: Readonly<Record<string, string>>, names: readonly string[]): Record<string, string> =>
  Object.fromEntries(Object.entries(attributes).filter(([name]) => !names.includes(name) && name !== ownAttribute));

/** What there is to keep, or nothing. */
export function filled(kept: Kept): { mtlx?: Kept } {
  const some = Object.entries(kept).filter(
    ([, value]) => value !== undefined && (typeof value !== 'object' || Object.keys(value).length > 0),
  );
  return some.length > 0 ? { mtlx: Object.fromEntries(some) } : {};
}

const shown = ['xpos', 'ypos', 'uicolor', 'uiname'];
type Bare = Omit<GraphNode, 'id' | 'graph'>;

/** What an element says of how its node is shown. */
function look({ attributes }: XmlTree): Pick<Bare, 'name' | 'label' | 'x' | 'y' | 'color'> {
  const color = attributes.uicolor === undefined ? undefined : colorOf(attributes.uicolor);
  return {
    name: legalName(attributes.name ?? ''),
    ...(attributes.uiname !== undefined && { label: attributes.uiname.slice(0, 500) }),
    x: pixels(attributes.xpos) ?? 0,
    y: pixels(attributes.ypos) ?? 0,
    ...(color !== undefined && { color }),
  };
}

const nameKept = (element: XmlTree): Kept => {
  const { name } = element.attributes;
  return name !== undefined && legalName(name) !== name ? { name } : {};
};

/** A node by its element alone, without its connections. */
export function bareNode(element: XmlTree, portOf: (end: XmlTree) => string): Bare {
  const { tag, attributes, children } = element;
  const inputs = children.filter((child) => child.tag === 'input' && child.attributes.name !== undefined);
  const outputs = children.filter((child) => child.tag === 'output' && child.attributes.name !== undefined);
  const params = new Map<string, Json>();
  const keptInputs = new Map<string, Record<string, string>>();
  const ports: Port[] = inputs.map((input) => {
    const { name, type = 'any', value, uiname } = input.attributes;
    const id = portOf(input);
    if (value !== undefined) params.set(id, valueFrom(type, value));
    const rest = without(input.attributes, ['name', 'type', 'value', 'uiname', ...connections]);
    if (Object.keys(rest).length > 0) keptInputs.set(must(name), rest);
    return { id, name: (uiname ?? id).slice(0, 200), type: type.slice(0, 100), direction: 'in' };
  });
  const { type = 'any' } = attributes;
  if (type === 'multioutput')
    for (const output of outputs)
      ports.push({ id: portOf(output), name: portOf(output), type: output.attributes.type ?? 'any', direction: 'out' });
  else if (type !== 'none') ports.push({ id: 'out', name: 'out', type: type.slice(0, 100), direction: 'out' });
  const kept: Kept = {
    ...nameKept(element),
    attributes: without(attributes, ['name', 'type', ...shown]),
    inputs: Object.fromEntries(keptInputs),
    children: children.filter((child) => child.tag !== 'input' && child.tag !== 'output'),
  };
  return {
    ...look(element),
    kind: kindOf(tag),
    ports,
    ...(params.size > 0 && { params: Object.fromEntries(params) }),
    ...filled(kept),
  };
}

/** What carries data into a graph or out of it. */
export function bareBoundary(element: XmlTree, implied = false): Bare {
  const isInput = element.tag === 'input';
  const port = isInput ? 'out' : 'in';
  const name = element.attributes.name ?? '';
  const attributes = without(element.attributes, ['name', 'type', ...shown, ...connections]);
  // names of a definition’s inputs are no names of the graph: a node may have the same
  const kept: Kept = { ...nameKept(element), attributes, ...(implied && { implied, name }) };
  const type = (element.attributes.type ?? 'any').slice(0, 100);
  return {
    ...look(element),
    kind: isInput ? builtin.input : builtin.output,
    ports: [{ id: port, name: port, type, direction: port }],
    ...filled(kept),
  };
}

/** The node outside that holds a graph; its ports come from what is inside. */
export function bareHost(element: XmlTree, ports: readonly Port[], children: readonly XmlTree[]): Bare {
  const kept: Kept = { ...nameKept(element), attributes: without(element.attributes, ['name', ...shown]), children };
  return { ...look(element), kind: builtin.nested, ports: [...ports], ...filled(kept) };
}

export function bareFrame(element: XmlTree): Omit<Frame, 'id' | 'graph'> {
  const { attributes } = element;
  const { x, y, color } = look(element);
  return {
    title: (attributes.uiname ?? attributes.name ?? '').slice(0, 500),
    x,
    y,
    width: pixels(attributes.width) ?? 240,
    height: pixels(attributes.height) ?? 160,
    ...(color !== undefined && { color }),
    ...(attributes.doc !== undefined && { note: attributes.doc.slice(0, 20000) }),
    ...filled({ attributes: without(attributes, ['name', 'contains', 'width', 'height', 'doc', ...shown]) }),
  };
}
