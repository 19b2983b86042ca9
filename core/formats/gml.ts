import { hexOf, parseColor } from '../color/contrast.ts';
import {
  attributeName,
  attributesIn,
  attributesOf,
  attributesWithDefaults,
  isUndirected,
} from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { mostNested } from '../document/nesting.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { type Assembled, Assembly, undirectedFinding } from './assembly.ts';
import { find, say } from './sentences.ts';

// Himsolt, “GML: A portable Graph File Format” (University of Passau, 1997), from memory: lists of keys and values,
// where a value is a number, a text in quotes, or a list in square brackets; texts are ASCII with entities.

/** A list as it stands: a key may stand in it more than once. */
type GmlList = readonly (readonly [string, GmlValue])[];
type GmlValue = number | string | { readonly list: GmlList };

const token = /\s+|#[^\n]*|"([^"]*)"|\[|\]|[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?(?![\w.])|[A-Za-z_][\w.-]*/y;

/** Parses GML. Throws UnreadableFile with the line where it is none. O(text). */
function parseGml(text: string): GmlList {
  const stack: [string, GmlValue][][] = [[]];
  const keys: string[] = [];
  let key: string | undefined;
  let at = 0;
  const line = (): number => text.slice(0, at).split('\n').length;
  const put = (value: GmlValue): void => {
    if (key === undefined) throw new UnreadableFile(say('gml-key-missing'), line());
    must(stack.at(-1)).push([key, value]);
    key = undefined;
  };
  while (at < text.length) {
    token.lastIndex = at;
    const found = token.exec(text);
    if (!found)
      throw new UnreadableFile(
        say('gml-neither', {
          found: text
            .slice(at, at + 12)
            .replace(/\s+/g, ' ')
            .trim(),
        }),
        line(),
      );
    const [part, quoted] = found;
    if (quoted !== undefined) put(decodeText(quoted));
    else if (part === '[') {
      if (key === undefined) throw new UnreadableFile(say('gml-key-missing'), line());
      if (stack.length > mostNested.json)
        throw new UnreadableFile(say('gml-too-deep', { most: mostNested.json }), line());
      keys.push(key);
      key = undefined;
      stack.push([]);
    } else if (part === ']') {
      if (stack.length === 1 || key !== undefined) throw new UnreadableFile(say('gml-closes-nothing'), line());
      const list = must(stack.pop());
      must(stack.at(-1)).push([must(keys.pop()), { list }]);
    } else if (/^[+\-.\d]/.test(part)) put(Number(part));
    else if (/^[A-Za-z_]/.test(part)) {
      if (key !== undefined) {
        // some programs write words without quotes
        put(part);
      } else key = part;
    }
    at = token.lastIndex;
  }
  if (stack.length > 1 || key !== undefined) throw new UnreadableFile(say('gml-cut-short'), line());
  return must(stack[0]);
}

const entities: Readonly<Record<string, string>> = { quot: '"', amp: '&', lt: '<', gt: '>', apos: "'" };
const decodeText = (text: string): string =>
  text.replace(
    /&(?:#(\d{1,7})|#x([\da-fA-F]{1,6})|(\w+));/g,
    (whole, decimal?: string, hex?: string, name?: string) => {
      if (name !== undefined) return entities[name] ?? whole;
      const code = decimal === undefined ? Number.parseInt(hex ?? '', 16) : Number(decimal);
      return code <= 0x10ffff ? String.fromCodePoint(code) : whole;
    },
  );
const encodeText = (text: string): string =>
  Array.from(text, (char) => {
    const code = must(char.codePointAt(0));
    return char === '"' || char === '&' || code < 32 || code > 126 ? `&#${code};` : char;
  }).join('');

const first = (list: GmlList, key: string): GmlValue | undefined =>
  list.find(([one]) => one.toLowerCase() === key)?.[1];
const listAt = (list: GmlList, key: string): GmlList => {
  const value = first(list, key);
  return typeof value === 'object' ? value.list : [];
};
const numberAt = (list: GmlList, key: string): number | undefined => {
  const value = first(list, key);
  return typeof value === 'number' ? value : undefined;
};

/** A value as JSON: a list as an object, keys that stand several times as rows. */
function jsonOf(value: GmlValue): Json {
  if (typeof value !== 'object') return value;
  const fields = new Map<string, Json[]>();
  for (const [key, one] of value.list) fields.set(key, [...(fields.get(key) ?? []), jsonOf(one)]);
  return Object.fromEntries([...fields].map(([key, all]) => [key, all.length === 1 ? must(all[0]) : all]));
}

/** All that stands in a list as attributes, but for what was read. */
function attributesFrom(list: GmlList, read: readonly string[]): Record<string, Json> {
  const rest = jsonOf({ list: list.filter(([key]) => !read.includes(key.toLowerCase())) }) as Record<string, Json>;
  return Object.fromEntries(Object.entries(rest).map(([name, value]) => [attributeName(name), value]));
}

/**
 * Reads GML: labels as names, `graphics` for places, sizes and colours; all other keys are attributes. Nodes without a
 * place are named in `unplaced`. Throws UnreadableFile with the line where it is no such file. O(text).
 */
export function readGml(text: string, title: string, kinds: Kinds): Assembled {
  const graphs = parseGml(text).flatMap(([key, value]) =>
    key.toLowerCase() === 'graph' && typeof value === 'object' ? [value.list] : [],
  );
  const [graph] = graphs;
  if (!graph) throw new UnreadableFile(say('no-graph', { what: 'GML', lacks: 'graph [ … ]' }));
  const made = new Assembly('gml', kinds);
  if (graphs.length > 1) made.tell(find('more-graphs', 'warning', [], 'more-graphs', { graphs: graphs.length }));
  const isUndirected = numberAt(graph, 'directed') !== 1;
  if (isUndirected) made.tell(undirectedFinding());
  for (const [key, value] of graph) {
    if (key.toLowerCase() !== 'node' || typeof value !== 'object') continue;
    const graphics = listAt(value.list, 'graphics');
    const [x, y, w, h] = ['x', 'y', 'w', 'h'].map((name) => numberAt(graphics, name));
    const fill = first(graphics, 'fill');
    const label = first(value.list, 'label');
    const ours = first(value.list, 'basitax');
    const rest = attributesFrom(graphics, ['x', 'y', 'w', 'h', ...(typeof fill === 'string' ? ['fill'] : [])]);
    made.node({
      key: String(first(value.list, 'id') ?? ''),
      called: label === undefined || label === '' ? undefined : String(label),
      // a place is the middle there
      x: x === undefined ? undefined : x - (w ?? 0) / 2,
      y: y === undefined ? undefined : y - (h ?? 0) / 2,
      width: w,
      height: h,
      ...(typeof fill === 'string' && { color: fill }),
      attributes: {
        ...attributesFrom(value.list, ['id', 'label', 'graphics', ...(ours === undefined ? [] : ['basitax'])]),
        ...(Object.keys(rest).length > 0 && { graphics: rest }),
      },
      own: ownOf(ours),
    });
  }
  for (const [key, value] of graph) {
    if (key.toLowerCase() !== 'edge' || typeof value !== 'object') continue;
    const [source, target] = ['source', 'target'].map((name) => String(first(value.list, name) ?? ''));
    const ours = first(value.list, 'basitax');
    made.edge({
      source: source ?? '',
      target: target ?? '',
      attributes: attributesFrom(value.list, ['source', 'target', ...(ours === undefined ? [] : ['basitax'])]),
      ...portsOf(ours),
    });
  }
  const label = first(graph, 'label');
  const called = typeof label === 'string' && label !== '' ? label : title;
  const attributes = attributesFrom(graph, ['node', 'edge', 'directed', 'label']);
  made.graph('root', {
    name: called || 'Graph',
    ...(isUndirected && { undirected: true as const }),
    ...(Object.keys(attributes).length > 0 && { attributes }),
  });
  return made.finish({ title: called });
}

/** What a file of ours says of a node beside: its name and kind. */
function ownOf(ours: GmlValue | undefined): { name?: string; kind?: string } {
  if (typeof ours !== 'object') return {};
  const [name, kind] = [first(ours.list, 'name'), first(ours.list, 'kind')];
  return { ...(typeof name === 'string' && { name }), ...(typeof kind === 'string' && { kind }) };
}

function portsOf(ours: GmlValue | undefined): { sourcePort?: string; targetPort?: string } {
  if (typeof ours !== 'object') return {};
  const [from, to] = [first(ours.list, 'from'), first(ours.list, 'to')];
  return { ...(typeof from === 'string' && { sourcePort: from }), ...(typeof to === 'string' && { targetPort: to }) };
}

/** Keys as GML takes them: letters and digits. */
const keyOf = (name: string, taken: ReadonlySet<string>): string => {
  const base = name.normalize('NFKD').replace(/[^A-Za-z0-9]/g, '') || 'attribute';
  let key = /^[A-Za-z]/.test(base) ? base : `a${base}`;
  for (let i = 2; taken.has(key.toLowerCase()); i++) key = `${base}${i}`;
  return key;
};

/** The keys that attributes of a kind of bearer have; those that mean something are not given to others. */
function keysOf(doc: Doc, of: 'node' | 'wire', held: readonly string[]): ReadonlyMap<string, string> {
  const taken = new Set(held);
  return new Map(
    attributesIn(doc, of).map((one): [string, string] => {
      const key = keyOf(one.title ?? one.name, taken);
      taken.add(key.toLowerCase());
      return [one.name, key];
    }),
  );
}

function valueText(key: string, value: Json, indent: string): string {
  if (typeof value === 'number')
    return `${indent}${key} ${Number.isInteger(value) && Math.abs(value) < 2 ** 31 ? value : value.toExponential().replace(/e\+?/, 'E')}`;
  if (typeof value === 'boolean') return `${indent}${key} ${value ? 1 : 0}`;
  return `${indent}${key} "${encodeText(typeof value === 'string' ? value : JSON.stringify(value))}"`;
}

/**
 * Nodes and wires of all graphs as GML: ids are numbers, labels what people see, `graphics` places and sizes, attributes
 * keys. What is nested stands beside the rest; frames, notes, parameters and ports that have no wire have no place in it.
 * O(nodes + wires).
 */
export function writeGml(doc: Doc, kinds: Kinds): string {
  const numbers = new Map([...doc.nodes.keys()].map((id, i) => [id, i]));
  const root = must(doc.graphs.get(doc.head.root));
  const nodeKeys = keysOf(doc, 'node', ['id', 'label', 'graphics', 'basitax', 'name']);
  const wireKeys = keysOf(doc, 'wire', ['source', 'target', 'basitax', 'id', 'label']);
  const seen = new Map<string, number>();
  const lines = [
    'graph [',
    `  directed ${root.undirected ? 0 : 1}`,
    ...([...doc.wires.values()].some((wire) => isMulti(doc, wire, seen)) ? ['  multigraph 1'] : []),
    `  label "${encodeText(doc.head.title)}"`,
    ...Object.entries(attributesOf(root)).flatMap(([name, value]) => {
      const key = keyOf(name, new Set(['node', 'edge', 'directed', 'label', 'multigraph']));
      return [valueText(key, value, '  ')];
    }),
  ];
  for (const node of doc.nodes.values()) {
    const rect = rectOf(doc, kinds, node);
    const rgb = parseColor(node.color);
    lines.push(
      '  node [',
      `    id ${numbers.get(node.id)}`,
      `    label "${encodeText(node.label || node.name)}"`,
      `    graphics [ x ${real(rect.x + rect.width / 2)} y ${real(rect.y + rect.height / 2)} w ${real(rect.width)} h ${real(rect.height)}${rgb ? ` fill "${hexOf(rgb)}"` : ''} ]`,
      ...Object.entries(attributesWithDefaults(doc, 'node', node)).map(([name, value]) =>
        valueText(must(nodeKeys.get(name)), value, '    '),
      ),
      `    basitax [ name "${encodeText(node.name)}"${node.kind === foreignKind ? '' : ` kind "${encodeText(node.kind)}"`} ]`,
      '  ]',
    );
  }
  for (const wire of doc.wires.values())
    lines.push(
      '  edge [',
      `    source ${numbers.get(wire.from.node)}`,
      `    target ${numbers.get(wire.to.node)}`,
      ...Object.entries(attributesWithDefaults(doc, 'wire', wire)).map(([name, value]) =>
        valueText(must(wireKeys.get(name)), value, '    '),
      ),
      `    basitax [ from "${encodeText(wire.from.port)}" to "${encodeText(wire.to.port)}" ]`,
      '  ]',
    );
  lines.push(']', '');
  return lines.join('\n');
}

/** Is there another edge between the same two nodes before it? */
function isMulti(
  doc: Doc,
  wire: { from: { node: string }; to: { node: string }; direction?: string | undefined },
  seen: Map<string, number>,
): boolean {
  const ends = [wire.from.node, wire.to.node];
  const key = JSON.stringify(isUndirected(doc, wire) ? ends.sort() : ends);
  const count = seen.get(key) ?? 0;
  seen.set(key, count + 1);
  return count > 0;
}

/** A number that is told from a whole one. */
const real = (value: number): string => {
  const rounded = Math.round(value * 1000) / 1000 + 0;
  return Number.isInteger(rounded) ? `${rounded}.0` : String(rounded);
};
