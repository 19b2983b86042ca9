import { type Doc, table } from './doc.ts';
import type { Json } from './json.ts';
import type { AttributeBearer, AttributeType, Declared, TableName } from './schema.ts';

/** The attributes of one record, by name. */
export type Attributes = Readonly<Record<string, Json>>;

const noAttributes: Attributes = {};
export const attributesOf = (record: object): Attributes =>
  (record as { attributes?: Attributes }).attributes ?? noAttributes;

/** The table whose records bear attributes of a kind; ports stand on nodes. */
const tables: Readonly<Record<Exclude<AttributeBearer, 'port'>, TableName>> = {
  graph: 'graphs',
  node: 'nodes',
  wire: 'wires',
  frame: 'frames',
  note: 'notes',
};

/** Everything in a document that bears attributes of a kind. O(records). */
function* bearersOf(doc: Doc, of: AttributeBearer): Iterable<object> {
  if (of !== 'port') yield* table(doc, tables[of]).values();
  else for (const node of doc.nodes.values()) yield* node.ports;
}

/** How an attribute is called in the head of a document. */
export const attributeKey = (of: AttributeBearer, name: string): string => `${of} ${name}`;

/** Names that JavaScript has a meaning for: nothing may be called so where it can be changed. */
const reserved: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);
const mostName = 180;

/** A name that a record may have an attribute under: the one wanted, cut and told apart where it has to be. */
export function attributeName(wanted: string, isTaken: (name: string) => boolean = () => false): string {
  const base = reserved.has(wanted) ? `${wanted} ` : wanted.slice(0, mostName) || 'attribute';
  let name = base;
  for (let i = 2; isTaken(name); i++) name = `${base} ${i}`;
  return name;
}

/** The type of a value that nobody has declared. */
export function typeOfValue(value: Json): AttributeType {
  if (typeof value === 'boolean') return 'boolean';
  if (typeof value === 'number') return Number.isInteger(value) ? 'integer' : 'number';
  return typeof value === 'string' ? 'text' : 'json';
}

/** A type that holds what two types hold. */
function commonType(one: AttributeType, other: AttributeType): AttributeType {
  if (one === other) return one;
  const numbers: readonly AttributeType[] = ['integer', 'number'];
  return numbers.includes(one) && numbers.includes(other) ? 'number' : 'json';
}

const numeral = /^[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/;

/**
 * Text of a file as a value of a type. What the type cannot hold, or JavaScript cannot without changing it (long whole
 * numbers, infinities), stays text, so that nothing is changed.
 */
export function valueOfText(text: string, type: AttributeType): Json {
  const plain = text.trim();
  if (type === 'boolean') {
    if (/^(?:true|1|yes)$/i.test(plain)) return true;
    return /^(?:false|0|no)$/i.test(plain) ? false : text;
  }
  if (type === 'integer' || type === 'number') {
    const value = Number(plain);
    if (!numeral.test(plain) || !Number.isFinite(value)) return text;
    if (Number.isInteger(value) && !Number.isSafeInteger(value) && String(value) !== plain) return text;
    return type === 'integer' && !Number.isInteger(value) ? text : value + 0;
  }
  if (type !== 'json') return text;
  try {
    return JSON.parse(text) as Json;
  } catch {
    return text;
  }
}

/**
 * A value as text, from which `valueOfText` gives it again: text as it is, all else as JSON. Among values of all types
 * text that would be read as something else is in quotes.
 */
export function textOfValue(value: Json, type: AttributeType = 'text'): string {
  if (typeof value !== 'string') return JSON.stringify(value);
  return type === 'json' && typeof valueOfText(value, 'json') !== 'string' ? JSON.stringify(value) : value;
}

/** A type that holds a value and is as near as can be to the one that was declared. */
function holding(type: AttributeType, value: Json): AttributeType {
  const own = typeOfValue(value);
  if (own === type || type === 'json') return type;
  if (type === 'xml') return own === 'text' ? type : 'json';
  if (type === 'number' && own === 'integer') return type;
  // text that the type could not hold was left as text
  if (own === 'text' && type !== 'text' && typeof valueOfText(value as string, type) === 'string') return type;
  return commonType(type, own);
}

/** The type of values that came as text only: the narrowest that changes none of them. */
export function typeOfTexts(texts: Iterable<string>): AttributeType {
  let found: AttributeType | undefined;
  for (const text of texts) {
    const plain = text.trim();
    if (plain === '') continue;
    // 007 is a name, not a number
    const value = /^0\d/.test(plain) ? text : valueOfText(plain, 'number');
    const type: AttributeType =
      typeof value === 'number' ? typeOfValue(value) : /^(?:true|false)$/i.test(plain) ? 'boolean' : 'text';
    found = found === undefined ? type : commonType(found, type);
    if (found === 'text' || found === 'json') return 'text';
  }
  return found ?? 'text';
}

/** An attribute that something in a document has, or that was declared. */
export interface KnownAttribute extends Declared {
  /** How many have a value of it. */
  readonly count: number;
  /** A type that holds every value that there is, as near as can be to the declared one. */
  readonly holds: AttributeType;
}

const known = new WeakMap<Doc, Map<AttributeBearer, readonly KnownAttribute[]>>();

/**
 * All attributes of one kind of bearer: those declared first, in their order, then the others by name. Made once for a
 * version of a document; O(records · attributes).
 */
export function attributesIn(doc: Doc, of: AttributeBearer): readonly KnownAttribute[] {
  let byBearer = known.get(doc);
  if (!byBearer) {
    byBearer = new Map();
    known.set(doc, byBearer);
  }
  const before = byBearer.get(of);
  if (before) return before;
  const counts = new Map<string, number>();
  const holds = new Map<string, AttributeType>();
  const declared = Object.values(doc.head.attributes ?? {}).filter((one) => one.of === of);
  for (const { name, type } of declared) holds.set(name, type);
  for (const bearer of bearersOf(doc, of))
    for (const [name, value] of Object.entries(attributesOf(bearer))) {
      const type = holds.get(name);
      holds.set(name, type === undefined ? typeOfValue(value) : holding(type, value));
      counts.set(name, (counts.get(name) ?? 0) + 1);
    }
  const names = new Set(declared.map((one) => one.name));
  const found = [
    ...declared.map(
      (one): KnownAttribute => ({ ...one, count: counts.get(one.name) ?? 0, holds: holds.get(one.name) ?? one.type }),
    ),
    ...[...holds]
      .filter(([name]) => !names.has(name))
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, type]): KnownAttribute => ({ of, name, type, holds: type, count: counts.get(name) ?? 0 })),
  ];
  byBearer.set(of, found);
  return found;
}

/** What a record has under an attribute: its own value, else the one that the attribute was declared with. */
export function attributeValue(doc: Doc, of: AttributeBearer, record: object, name: string): Json | undefined {
  const own = attributesOf(record);
  return Object.hasOwn(own, name) ? own[name] : doc.head.attributes?.[attributeKey(of, name)]?.default;
}

/** All attributes of a record, with the values that others have where it has none, for formats without such defaults. */
export function attributesWithDefaults(doc: Doc, of: AttributeBearer, record: object): Attributes {
  const own = attributesOf(record);
  const defaults = attributesIn(doc, of).filter((one) => one.default !== undefined);
  if (defaults.length === 0) return own;
  return { ...Object.fromEntries(defaults.map((one) => [one.name, one.default as Json])), ...own };
}

/**
 * What the attributes of a kind of bearer are called in a file: as where they came from, told apart by `mark` where
 * something else has the name. O(attributes).
 */
export function columnsOf(
  doc: Doc,
  of: AttributeBearer,
  isHeld: (title: string, attribute: KnownAttribute) => boolean,
  mark: (title: string) => string = (title) => `${title}_`,
): readonly (KnownAttribute & { readonly column: string })[] {
  const taken = new Set<string>();
  return attributesIn(doc, of).map((one) => {
    let column = one.title ?? one.name;
    while (isHeld(column, one) || taken.has(column)) column = mark(column);
    taken.add(column);
    return { ...one, column };
  });
}

/** Is the edge of a wire one of which its program says no direction? */
export function isUndirected(
  doc: Doc,
  wire: { readonly from: { readonly node: string }; readonly direction?: string | undefined },
): boolean {
  if (wire.direction !== undefined) return wire.direction === 'undirected';
  const graph = doc.nodes.get(wire.from.node)?.graph;
  return graph !== undefined && doc.graphs.get(graph)?.undirected === true;
}
