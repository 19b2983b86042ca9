import { attributesIn, attributesOf } from '../document/attributes.ts';
import { builtin, foreignKind } from '../document/builtin.ts';
import { caption, type Doc } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { unitsOf } from '../formats/materialx-shape.ts';
import { countIn } from '../group-by.ts';
import { endsOf } from '../inspect/fingerprint.ts';
import { dependencyGraph } from '../inspect/graph/dependency-graph.ts';
import { must } from '../must.ts';
import { isFileEnd } from '../wiring/effective.ts';
import { addValue, emptyValues, mergeValues, type SeenValues } from './values.ts';

/** A port as nodes of a kind were seen to have it. */
export interface SeenPort {
  readonly id: string;
  readonly direction: 'in' | 'out';
  readonly name: string;
  /** How many nodes have it. */
  nodes: number;
  /** How many nodes have it with which type. */
  readonly types: Map<string, number>;
}

/** A kind of node as it was seen. */
export interface SeenKind {
  readonly id: string;
  /** As nodes of another program are called by it; absent where none are of it. */
  called?: string | undefined;
  nodes: number;
  /** How many files have such nodes, and their titles. */
  files: number;
  readonly titles: Set<string>;
  /** How many of the nodes give nothing to anything. */
  last: number;
  readonly ports: Map<string, SeenPort>;
  readonly parameters: Map<string, SeenValues>;
}

/** An attribute that may say what kind a node of another program is. */
export interface Candidate {
  readonly attribute: string;
  nodes: number;
  readonly values: Set<string>;
}

/** What files show of the kinds of their nodes. Plain enough to go between threads. */
export interface Evidence {
  readonly kinds: Map<string, SeenKind>;
  readonly candidates: Map<string, Candidate>;
  /** For each file: whether it has ends already, and the kinds of the nodes that give nothing to anything. */
  readonly lasts: { readonly hasEnds: boolean; readonly kinds: readonly string[]; readonly last: readonly string[] }[];
  files: number;
  /** Nodes of other programs of which nothing says what kind they are. */
  untold: number;
}

export const noEvidence = (): Evidence => ({
  kinds: new Map(),
  candidates: new Map(),
  lasts: [],
  files: 0,
  untold: 0,
});

/** What other programs call the attribute that says what a node is (common practice). */
const kindWords = [
  'kind',
  'nodekind',
  'nodetype',
  'optype',
  'operation',
  'op',
  'type',
  'class',
  'nodeclass',
  'category',
];
const plainWord = (name: string): string => name.toLowerCase().replace(/[\s_.:-]+/g, '');

/** Distinct values beyond this say that an attribute is a name, not a kind. */
const mostKinds = 400;

/** The longest ids of kinds and parameters that a catalogue takes. */
const mostId = 100;
/** What the ids of learned kinds begin with, as those of kinds that people add. */
const prefix = 'team.';
const mostCalled = mostId - prefix.length;

/** How the attribute that says the kind is chosen: by its name, or from what nodes are called without their number. */
export const byCaption = 'caption';

/** The id that a kind of another program has in the catalogue. */
export const learnedId = (called: string): string =>
  `${prefix}${
    called
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '_')
      .replace(/^_+|_+$/g, '') || 'kind'
  }`.slice(0, mostId);

/**
 * The attribute of a document's nodes that says what kinds they are: the one that is called most like it and tells some
 * nodes apart. Undefined where none does.
 */
export function tellingAttribute(doc: Doc): string | undefined {
  const rank = (name: string): number => kindWords.indexOf(plainWord(name));
  return attributesIn(doc, 'node')
    .filter(({ name, title, count, means }) => rank(title ?? name) >= 0 && count > 0 && means === undefined)
    .sort((a, b) => rank(a.title ?? a.name) - rank(b.title ?? b.name))[0]?.name;
}

/** What a node of another program is called by, as `by` says; undefined where nothing says it. */
export function toldKind(node: GraphNode, by: string | undefined): string | undefined {
  if (by === undefined) return undefined;
  if (by === byCaption) {
    const stem = caption(node)
      .split('\n', 1)[0]
      ?.replace(/[\s_.#-]*\d+$/, '')
      .trim();
    return stem === undefined || stem === '' ? undefined : stem.slice(0, mostCalled);
  }
  const value = attributesOf(node)[by];
  const text = typeof value === 'string' ? value.trim() : typeof value === 'number' ? String(value) : '';
  return text === '' ? undefined : text.slice(0, mostCalled);
}

/** Kinds that every catalogue has, and that nothing is to be learned of. */
const ours: ReadonlySet<string> = new Set(Object.values(builtin));

/**
 * What a document shows of the kinds of its nodes: those by their id, and those of other programs by an attribute, or by
 * what they are called. `by` is the attribute, `byCaption`, or undefined to look for one.
 * O(nodes · (ports + parameters) + wires), and O(kinds) for each name of a kind.
 */
export function evidenceOf(doc: Doc, kinds: Kinds, by?: string): Evidence {
  const found = noEvidence();
  found.files = 1;
  const graph = dependencyGraph(doc, kinds);
  const isLast = new Set(endsOf(doc, kinds, graph).map((i) => must(graph.nodes[i]).id));
  const hasEnds = graph.nodes.some((node) => isFileEnd(doc, kinds, node));
  const telling = by ?? tellingAttribute(doc);
  const left = new Set([...drawnIn(doc), ...(telling === undefined ? [] : [telling])]);
  noteCandidates(doc, found);
  const idOf = idsBy(kinds);
  // what is of no kind that can be learned, or bypassed, never becomes an end
  const last = new Set(
    hasEnds || isLast.size === 0
      ? []
      : graph.nodes.flatMap((node) => (isLast.has(node.id) && !isLearned(node, kinds) ? [''] : [])),
  );
  for (const node of doc.nodes.values()) {
    if (!isLearned(node, kinds)) continue;
    const isForeign = node.kind === foreignKind;
    const called = isForeign ? toldKind(node, telling) : undefined;
    if (isForeign && called === undefined) {
      found.untold++;
      if (isLast.has(node.id)) last.add('');
      continue;
    }
    const id = called === undefined ? node.kind : idOf(called);
    if (!hasEnds && isLast.has(node.id)) last.add(node.bypassed ? '' : id);
    const seen = seenKind(found, id, called);
    seen.nodes++;
    if (!hasEnds && isLast.has(node.id)) seen.last++;
    notePorts(seen, node, kinds);
    noteParameters(seen, node, left);
  }
  for (const seen of found.kinds.values()) {
    seen.files = 1;
    seen.titles.add(doc.head.title);
  }
  found.lasts.push({ hasEnds, kinds: [...found.kinds.keys()], last: [...last] });
  return found;
}

/** Is the kind of a node one that a catalogue may learn? A version of a shared kind is published, not learned. */
const isLearned = (node: GraphNode, kinds: Kinds): boolean =>
  !ours.has(node.kind) &&
  node.inner === undefined &&
  !kinds.kind(node.kind)?.shared &&
  !node.kind.startsWith('shared.');

/** The kind of a catalogue that is called so, by its id or its title. O(kinds). */
export function kindCalled(kinds: Kinds, called: string): string | undefined {
  if (kinds.kind(called)) return called;
  const wanted = plainWord(called);
  return (
    kinds.kind(learnedId(called))?.id ?? kinds.catalogue.kinds.find((kind) => plainWord(kind.title) === wanted)?.id
  );
}

/** The ids that imported nodes have for what they are called by: of a kind that is known, or a new one. */
function idsBy(kinds: Kinds): (called: string) => string {
  const known = new Map<string, string>();
  return (called) => {
    const id = known.get(called) ?? kindCalled(kinds, called) ?? learnedId(called);
    known.set(called, id);
    return id;
  };
}

function seenKind(found: Evidence, id: string, called: string | undefined): SeenKind {
  let seen = found.kinds.get(id);
  if (!seen) {
    seen = {
      id,
      nodes: 0,
      files: 0,
      titles: new Set(),
      last: 0,
      ports: new Map(),
      parameters: new Map(),
    };
    found.kinds.set(id, seen);
  }
  seen.called ??= called;
  return seen;
}

function noteCandidates(doc: Doc, found: Evidence): void {
  for (const { name, means } of attributesIn(doc, 'node'))
    if (means === undefined) found.candidates.set(name, { attribute: name, nodes: 0, values: new Set() });
  for (const node of doc.nodes.values()) {
    if (node.kind !== foreignKind) continue;
    for (const name of Object.keys(attributesOf(node))) {
      const candidate = found.candidates.get(name);
      const told = candidate && toldKind(node, name);
      if (!candidate || told === undefined) continue;
      candidate.nodes++;
      if (candidate.values.size <= mostKinds) candidate.values.add(told);
    }
  }
}

function notePorts(seen: SeenKind, node: GraphNode, kinds: Kinds): void {
  const isForeignAndKnown = node.kind === foreignKind && kinds.kind(seen.id) !== undefined;
  for (const port of node.ports) {
    // what no edge named is one of the ports that a known kind has
    if (port.of !== undefined || (isForeignAndKnown && port.foreign === '')) continue;
    const key = `${port.direction} ${port.id}`;
    let own = seen.ports.get(key);
    if (!own) {
      own = { id: port.id, direction: port.direction, name: port.name, nodes: 0, types: new Map() };
      seen.ports.set(key, own);
    }
    own.nodes++;
    countIn(own.types, port.type);
  }
}

function noteParameters(seen: SeenKind, node: GraphNode, left: ReadonlySet<string>): void {
  const note = (id: string, value: Json, unit?: string): void => {
    if (id.length > mostId) return;
    let own = seen.parameters.get(id);
    if (!own) {
      own = emptyValues();
      seen.parameters.set(id, own);
    }
    addValue(own, value, unit);
  };
  const units = unitsOf(node);
  for (const [id, value] of Object.entries(node.params ?? {})) note(id, value, units[id]);
  if (node.kind !== foreignKind) return;
  for (const [id, value] of Object.entries(attributesOf(node))) if (!left.has(id)) note(id, value);
}

/** The attributes by which DOT draws a node (https://graphviz.org/doc/info/attrs.html, from memory). */
const drawnInDot: ReadonlySet<string> = new Set(
  `color colorscheme distortion fillcolor fixedsize fontcolor fontname fontsize gradientangle group height href image
  imagepos imagescale label labelloc layer margin nojustify ordering orientation penwidth peripheries pin pos rects
  regular samplepoints shape showboxes sides skew sortv style target tooltip url vertices width xlabel xlp z`.split(
    /\s+/,
  ),
);

/** The attributes of a document's nodes that say how they are drawn or called: no parameters. */
const drawnIn = (doc: Doc): ReadonlySet<string> =>
  new Set(
    attributesIn(doc, 'node')
      .filter(
        ({ name, title = name, from, means }) =>
          means !== undefined ||
          // DOT declares nothing
          ((from ?? 'dot') === 'dot' && drawnInDot.has(title.toLowerCase())) ||
          /^(?:viz|graphics)$|^viz:/i.test(title),
      )
      .map(({ name }) => name),
  );

/** Adds what other files show, in place. O(size of the other). */
export function mergeEvidence(into: Evidence, other: Evidence): void {
  into.files += other.files;
  into.untold += other.untold;
  into.lasts.push(...other.lasts);
  for (const candidate of other.candidates.values()) {
    const own = into.candidates.get(candidate.attribute);
    if (!own) {
      into.candidates.set(candidate.attribute, { ...candidate, values: new Set(candidate.values) });
      continue;
    }
    own.nodes += candidate.nodes;
    for (const value of candidate.values) if (own.values.size <= mostKinds) own.values.add(value);
  }
  for (const kind of other.kinds.values()) {
    const own = seenKind(into, kind.id, kind.called);
    own.nodes += kind.nodes;
    own.last += kind.last;
    own.files += kind.files;
    for (const title of kind.titles) own.titles.add(title);
    for (const [key, port] of kind.ports) {
      const known = own.ports.get(key);
      if (!known) {
        own.ports.set(key, { ...port, types: new Map(port.types) });
        continue;
      }
      known.nodes += port.nodes;
      for (const [type, count] of port.types) countIn(known.types, type, count);
    }
    for (const [id, values] of kind.parameters) {
      const known = own.parameters.get(id);
      if (known) mergeValues(known, values);
      else own.parameters.set(id, mergeValues(emptyValues(), values));
    }
  }
}

/** The attributes that may say what kind a node is, the likeliest first: they stand for several nodes each. */
export function candidatesOf({ candidates }: Evidence): { attribute: string; nodes: number; kinds: number }[] {
  const rank = (name: string): number => {
    const at = kindWords.indexOf(plainWord(name));
    return at < 0 ? kindWords.length : at;
  };
  return [...candidates.values()]
    .filter(({ nodes, values }) => nodes > 0 && values.size <= mostKinds && (values.size === 1 || values.size < nodes))
    .map(({ attribute, nodes, values }) => ({ attribute, nodes, kinds: values.size }))
    .sort((a, b) => rank(a.attribute) - rank(b.attribute) || b.nodes - a.nodes || a.kinds - b.kinds);
}
