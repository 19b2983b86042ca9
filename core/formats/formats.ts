import { z } from 'zod';
import { noScheme } from '../color/scheme.ts';
import { type Doc, emptyDoc, nodesByPath } from '../document/doc.ts';
import { parseDoc, type ReadFile, writeDoc } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import type { Finding } from '../finding.ts';
import { graphSvg } from '../handover/page.ts';
import { must } from '../must.ts';
import { type Route, routeWires } from '../route/route.ts';
import { sheetColors } from '../sheet/colors.ts';
import { LetterOutlines } from '../sheet/letters.ts';
import { misfits } from '../wiring/check.ts';
import { mostOfOne, tooLarge } from './archive.ts';
import { readCsv, writeCsv } from './csv-own.ts';
import { decodeFile } from './decode.ts';
import { formatOfText, looksLikeTable } from './detect.ts';
import { readDot } from './dot-read.ts';
import { writeDot } from './dot-write.ts';
import { writeEdges, writeMatrix, writeNodes } from './edge-lists.ts';
import { type FormatFacts, type FormatId, factsOf, formatIds, plainEndings, readEndings } from './endings.ts';
import { readGexf } from './gexf-read.ts';
import { writeGexf } from './gexf-write.ts';
import { readGml, writeGml } from './gml.ts';
import { readGraphml } from './graphml-read.ts';
import { writeGraphml } from './graphml-write.ts';
import { readJgf } from './jgf-read.ts';
import { writeJgf } from './jgf-write.ts';
import { lostBetween } from './lost.ts';
import { readMaterialx } from './materialx-read.ts';
import { writeMaterialx } from './materialx-write.ts';
import { readMermaid } from './mermaid-read.ts';
import { mermaidId, writeMermaid } from './mermaid-write.ts';
import { readNodeLink, writeNodeLink } from './nodelink.ts';
import { writeOutline } from './outline-md.ts';
import { placeUnplaced } from './place.ts';
import { find, say } from './sentences.ts';
import { type GivenTable, readTables } from './table-graph.ts';
import type { TablePlan } from './table-plan.ts';
import { readYaml, writeYaml } from './yaml.ts';

export interface WriteOptions {
  /** The ways of the wires too, in formats that have a place for them: for programs that draw them as they are here. */
  readonly routes?: boolean;
}

export interface ReadOptions {
  /** What the text was found in, where that was not UTF-8. */
  readonly encoding?: string | undefined;
  /** How a table is meant, where somebody has said so. */
  readonly plan?: TablePlan | undefined;
  /** A table of nodes that belongs to a table of edges. */
  readonly beside?: string | undefined;
}

type Unplaced = ReadFile & { readonly unplaced?: readonly Id[] };

interface ReadAndWrite {
  /** Absent where nothing is read from it. */
  readonly read?: (text: string, title: string, kinds: Kinds) => Unplaced;
  write(doc: Doc, kinds: Kinds, options: WriteOptions): string;
  /** What nodes are called in the file, where not by their ids: by that what is read again is told. */
  readonly called?: (doc: Doc) => ReadonlyMap<string, Id>;
}

const byMermaid = (doc: Doc): ReadonlyMap<string, Id> =>
  new Map(
    [...doc.nodes.values()]
      .filter((node: GraphNode) => node.graph === doc.head.root)
      .map((node) => [mermaidId(node), node.id]),
  );
const byNumber = (doc: Doc): ReadonlyMap<string, Id> => new Map([...doc.nodes.keys()].map((id, i) => [String(i), id]));

const acts: Readonly<Record<FormatId, ReadAndWrite>> = {
  json: {
    read: (text) => parseDoc(text),
    write: (doc, kinds, { routes }) => writeDoc(doc, routes ? allRoutes(doc, kinds) : undefined),
  },
  yaml: { read: readYaml, write: writeYaml },
  graphml: { read: readGraphml, write: (doc, kinds, { routes }) => writeGraphml(doc, kinds, routes) },
  jgf: { read: readJgf, write: writeJgf },
  nodelink: { read: readNodeLink, write: writeNodeLink, called: nodesByPath },
  dot: { read: readDot, write: (doc, kinds, { routes }) => writeDot(doc, kinds, routes) },
  gexf: { read: readGexf, write: writeGexf },
  gml: { read: readGml, write: writeGml, called: byNumber },
  materialx: { read: readMaterialx, write: writeMaterialx },
  csv: { read: readCsv, write: writeCsv },
  edges: { read: readCsv, write: writeEdges, called: nodesByPath },
  nodes: { read: readCsv, write: writeNodes, called: nodesByPath },
  matrix: { read: readCsv, write: writeMatrix, called: nodesByPath },
  mermaid: { read: readMermaid, write: writeMermaid, called: byMermaid },
  outline: { write: writeOutline },
  svg: { write: (doc, kinds) => graphSvg(doc, kinds, sheetColors.paper, noScheme, new LetterOutlines()) },
};

export interface Format extends FormatFacts, Pick<ReadAndWrite, 'called'> {
  readonly id: FormatId;
  /** Reads a text; nodes without a place are arranged. Absent where nothing is read from it. */
  readonly read?: (text: string, title: string, kinds: Kinds) => ReadFile;
  write(doc: Doc, kinds: Kinds, options?: WriteOptions): string;
}

export const formats: readonly Format[] = formatIds.map((id): Format => {
  const { read, write, called } = acts[id];
  return {
    id,
    ...factsOf(id),
    ...(read && { read: (text, title, kinds) => placeUnplaced(read(text, title, kinds), kinds) }),
    write: (doc, kinds, options = {}) => write(doc, kinds, options),
    ...(called && { called }),
  };
});

const formatBy = new Map(formats.map((format) => [format.id, format]));
export const formatById = (id: FormatId): Format => must(formatBy.get(id));

/** The format of a file by its name. Throws UnreadableFile where none fits. */
export function formatOf(fileName: string): Format {
  const ending = endingOf(fileName);
  const found = formats.find((format) => ending !== undefined && format.extensions.includes(ending));
  if (!found)
    throw new UnreadableFile(
      say('unknown-ending', { name: fileName, endings: formats.flatMap((format) => format.extensions) }),
    );
  return found;
}

const allEndings = formats.flatMap((format) => format.extensions).sort((a, b) => b.length - a.length);

/** The longest of the endings that a name has. */
export const endingOf = (fileName: string): string | undefined =>
  allEndings.find((extension) => fileName.toLowerCase().endsWith(extension));

/** A title for a file: its name without folders and ending. */
export function titleOf(fileName: string): string {
  const base = (fileName.split(/[\\/]/).pop() ?? fileName).replace(/\.gz$/i, '');
  const ending = endingOf(base);
  return (ending ? base.slice(0, -ending.length) : base).slice(0, 300) || 'Untitled';
}

/** The format of a file: by what it holds, else by its name. Throws UnreadableFile where neither says. */
function formatOfFile(fileName: string, text: string): { format: Format; findings: readonly Finding[] } {
  const held = formatOfText(text);
  const ending = endingOf(fileName);
  const named = ending === undefined ? undefined : formats.find((format) => format.extensions.includes(ending));
  if (held === undefined) {
    if (named) return { format: named, findings: [] };
    if (looksLikeTable(text)) return { format: formatById('csv'), findings: [] };
    throw new UnreadableFile(say('unknown-format', { name: fileName, endings: readEndings }));
  }
  const format = formatById(held);
  // some endings say no more than how a format is written
  const isOther = named && named.id !== held && !plainEndings.includes(must(ending));
  return {
    format,
    findings: isOther ? [find('other-format', 'info', [], 'read-as', { named: named.title, held: format.title })] : [],
  };
}

/**
 * Reads a file of any known format: what it holds decides which, then its name. Throws UnreadableFile with one sentence
 * where it cannot.
 */
export function readFile(fileName: string, text: string, kinds: Kinds, options: ReadOptions = {}): ReadFile {
  if (text.length > mostOfOne) throw tooLarge(`“${fileName}”`, text.length);
  const plain = text.replace(/^\uFEFF/, '');
  const title = titleOf(fileName);
  const tables = options.plan || options.beside !== undefined ? tablesOf(plain, options) : undefined;
  const { format, findings } = tables ? { format: formatById('csv'), findings: [] } : formatOfFile(fileName, plain);
  if (!format.read)
    throw new UnreadableFile(
      say('only-out', { name: fileName, isPicture: format.id === 'svg', title: format.title, endings: readEndings }),
    );
  const read = tables ? placeUnplaced(readTables(tables, title, kinds), kinds) : format.read(plain, title, kinds);
  const encoded: Finding[] = options.encoding
    ? [find('encoding', 'info', [], 'other-encoding', { encoding: options.encoding })]
    : [];
  return { doc: read.doc, findings: [...encoded, ...findings, ...read.findings, ...misfits(read.doc, kinds)] };
}

/** A table with what somebody has said of it, and that of the nodes beside it. */
const tablesOf = (text: string, { plan, beside }: ReadOptions): readonly GivenTable[] => [
  { text, plan },
  ...(beside === undefined ? [] : [{ text: beside }]),
];

/** A file as it came, in bytes or as text that was decoded. */
export const fileContent = z.union([z.string(), z.custom<Uint8Array>((value) => value instanceof Uint8Array)]);

/** The same from the bytes of a file, whatever they are encoded in or packed with. Throws UnreadableFile. */
export function readBytes(
  fileName: string,
  content: string | Uint8Array,
  kinds: Kinds,
  options: Omit<ReadOptions, 'encoding'> = {},
): ReadFile {
  if (typeof content === 'string') return readFile(fileName, content, kinds, options);
  const { text, name, encoding } = decodeFile(content, fileName);
  return readFile(name, text, kinds, { ...options, encoding });
}

/** What pictures of a document lack of it. */
export const lostInPictures: readonly string[] = ['everything but the picture of its outermost graph'];

/**
 * A document in a format, and what of it is not in there: found by reading it again. Cost: that of writing and of
 * reading.
 */
export function written(
  format: Format,
  doc: Doc,
  kinds: Kinds,
  options: WriteOptions = {},
): { readonly text: string; readonly lost: readonly string[] } {
  const text = format.write(doc, kinds, options);
  if (format.id === 'svg') return { text, lost: lostInPictures };
  if (!format.read) return { text, lost: ['everything but what it says in words'] };
  // our own format holds all of it, and what it adds is not read back
  if (format.id === 'json') return { text, lost: [] };
  let again: Doc;
  try {
    again = format.read(text, doc.head.title, kinds).doc;
  } catch (error) {
    if (!(error instanceof UnreadableFile)) throw error;
    // a table of nothing is no table
    again = emptyDoc('', '');
  }
  return { text, lost: lostBetween(doc, format.called ? calledAs(again, format.called(doc)) : again) };
}

/** A document that was read, with nodes under the ids that they had before they were written. */
function calledAs(doc: Doc, ids: ReadonlyMap<string, Id>): Doc {
  const before = (node: GraphNode): Id => ids.get(node.foreignId ?? node.id) ?? node.id;
  const renamed = new Map([...doc.nodes.values()].map((node) => [node.id, before(node)]));
  return {
    ...doc,
    nodes: new Map(
      [...doc.nodes.values()].map(({ foreignId: _, ...node }) => [
        must(renamed.get(node.id)),
        { ...node, id: must(renamed.get(node.id)) },
      ]),
    ),
    wires: new Map(
      [...doc.wires].map(([id, wire]) => [
        id,
        {
          ...wire,
          from: { ...wire.from, node: must(renamed.get(wire.from.node)) },
          to: { ...wire.to, node: must(renamed.get(wire.to.node)) },
        },
      ]),
    ),
  };
}

function allRoutes(doc: Doc, kinds: Kinds): Map<Id, Route> {
  return new Map([...doc.graphs.keys()].flatMap((graph) => [...routeWires(doc, kinds, graph)]));
}
