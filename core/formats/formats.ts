import { arrangeByWiring } from '../arrange/by-wiring.ts';
import { noScheme } from '../color/scheme.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { parseDoc, type ReadFile, writeDoc } from '../document/file.ts';
import { rectOf, unite } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { graphSvg } from '../handover/page.ts';
import { must } from '../must.ts';
import { type Route, routeWires } from '../route/route.ts';
import { sheetColors } from '../sheet/colors.ts';
import { misfits } from '../wiring/check.ts';
import { readCsv, writeCsv } from './csv-graph.ts';
import { readDot } from './dot-read.ts';
import { writeDot } from './dot-write.ts';
import { endings, type FormatId, readEndings } from './endings.ts';
import { readGexf } from './gexf-read.ts';
import { writeGexf } from './gexf-write.ts';
import { readGraphml } from './graphml-read.ts';
import { writeGraphml } from './graphml-write.ts';
import { readJgf } from './jgf-read.ts';
import { writeJgf } from './jgf-write.ts';
import { lostBetween } from './lost.ts';
import { readMaterialx } from './materialx-read.ts';
import { writeMaterialx } from './materialx-write.ts';
import { find } from './sentences.ts';

export interface Format {
  readonly id: FormatId;
  readonly title: string;
  readonly extensions: readonly string[];
  readonly mime: string;
  /** Files of old are in Latin-1, and are read so where they are no UTF-8. */
  readonly latin1?: true;
  /** Absent where it is a picture that nothing is read from. */
  readonly read?: (text: string, title: string, kinds: Kinds) => ReadFile;
  write(doc: Doc, kinds: Kinds, options?: WriteOptions): string;
}

export interface WriteOptions {
  /** The ways of the wires too, in formats that have a place for them: for programs that draw them as they are here. */
  readonly routes?: boolean;
}

/** Files over this size are refused before they are read. */
const mostBytes = 64 * 1024 * 1024;

export const formats: readonly Format[] = [
  {
    id: 'json',
    title: 'Graph JSON',
    extensions: endings.json,
    mime: 'application/json',
    read: (text) => parseDoc(text),
    write: (doc, kinds, { routes } = {}) => writeDoc(doc, routes ? allRoutes(doc, kinds) : undefined),
  },
  {
    id: 'graphml',
    title: 'GraphML',
    extensions: endings.graphml,
    mime: 'application/graphml+xml',
    read: (text, title, kinds) => placeUnplaced(readGraphml(text, title, kinds), kinds),
    write: (doc, kinds, { routes } = {}) => writeGraphml(doc, kinds, routes),
  },
  {
    id: 'jgf',
    title: 'JSON Graph Format',
    extensions: endings.jgf,
    mime: 'application/vnd.jgf+json',
    read: (text, title, kinds) => placeUnplaced(readJgf(text, title), kinds),
    write: writeJgf,
  },
  {
    id: 'dot',
    title: 'DOT',
    extensions: endings.dot,
    mime: 'text/vnd.graphviz',
    latin1: true,
    read: (text, title, kinds) => placeUnplaced(readDot(text, title, kinds), kinds),
    write: writeDot,
  },
  {
    id: 'gexf',
    title: 'GEXF',
    extensions: endings.gexf,
    mime: 'application/gexf+xml',
    read: (text, title, kinds) => placeUnplaced(readGexf(text, title), kinds),
    write: (doc) => writeGexf(doc),
  },
  {
    id: 'materialx',
    title: 'MaterialX',
    extensions: endings.materialx,
    mime: 'application/mtlx+xml',
    read: (text, title, kinds) => placeUnplaced(readMaterialx(text, title), kinds),
    write: writeMaterialx,
  },
  {
    id: 'csv',
    title: 'CSV of nodes and wires',
    extensions: endings.csv,
    mime: 'text/csv',
    read: (text, title, kinds) => placeUnplaced(readCsv(text, title), kinds),
    write: (doc) => writeCsv(doc),
  },
  {
    id: 'svg',
    title: 'SVG picture',
    extensions: endings.svg,
    mime: 'image/svg+xml',
    write: (doc, kinds) => graphSvg(doc, kinds, sheetColors.paper, noScheme),
  },
];

/** The format of a file by its name. Throws UnreadableFile where none fits. */
export function formatOf(fileName: string): Format {
  const ending = endingOf(fileName);
  const found = formats.find((format) => ending !== undefined && format.extensions.includes(ending));
  if (!found)
    throw new UnreadableFile(
      `“${fileName}” has no known ending; there are ${formats.flatMap((format) => format.extensions).join(', ')}.`,
    );
  return found;
}

/** The longest of the endings that a name has. */
export const endingOf = (fileName: string): string | undefined =>
  formats
    .flatMap((format) => format.extensions)
    .filter((extension) => fileName.toLowerCase().endsWith(extension))
    .sort((a, b) => b.length - a.length)[0];

/** Can a file of this name be in Latin-1, where it is no UTF-8? */
export const mayBeLatin1 = (fileName: string): boolean =>
  formats.some(
    (format) =>
      format.latin1 === true && format.extensions.some((extension) => fileName.toLowerCase().endsWith(extension)),
  );

/** A title for a file: its name without folders and ending. */
export function titleOf(fileName: string): string {
  const base = fileName.split(/[\\/]/).pop() ?? fileName;
  const ending = endingOf(base);
  return (ending ? base.slice(0, -ending.length) : base).slice(0, 300) || 'Untitled';
}

/** Reads a file of any known format. Throws UnreadableFile with one sentence where it cannot. */
export function readFile(fileName: string, text: string, kinds: Kinds): ReadFile {
  if (text.length > mostBytes)
    throw new UnreadableFile(
      `“${fileName}” has ${Math.round(text.length / 1024 / 1024)} MB; the most is ${mostBytes / 1024 / 1024} MB.`,
    );
  const format = formatOf(fileName);
  if (!format.read)
    throw new UnreadableFile(
      `“${fileName}” is a picture: nothing can be read from ${format.title}, only from ${readEndings.join(', ')}.`,
    );
  const read = format.read(text.replace(/^\uFEFF/, ''), titleOf(fileName), kinds);
  const odd = misfits(read.doc, kinds);
  return odd.length === 0 ? read : { ...read, findings: [...read.findings, ...odd] };
}

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
  if (!format.read) return { text, lost: ['everything but the picture of its outermost graph'] };
  // our own format holds all of it, and what it adds is not read back
  return { text, lost: format.id === 'json' ? [] : lostBetween(doc, format.read(text, doc.head.title, kinds).doc) };
}

function allRoutes(doc: Doc, kinds: Kinds): Map<Id, Route> {
  return new Map([...doc.graphs.keys()].flatMap((graph) => [...routeWires(doc, kinds, graph)]));
}

/** Nodes that came without a position are arranged: all of a graph where none has one, else below those that have. */
function placeUnplaced(read: ReadFile & { unplaced: readonly Id[] }, kinds: Kinds): ReadFile {
  const missing = new Set(read.unplaced);
  let doc = read.doc;
  if (missing.size === 0) return read;
  const nodes = new Map(doc.nodes);
  for (const graph of doc.graphs.keys()) {
    const all = indexOf(doc).nodesIn(graph);
    const loose = all.filter((node) => missing.has(node.id));
    if (loose.length === 0) continue;
    const placed = unite(all.filter((node) => !missing.has(node.id)).map((node) => rectOf(doc, kinds, node)));
    const origin = placed ? { x: placed.x, y: placed.y + placed.height + 60 } : { x: 0, y: 0 };
    for (const [id, place] of arrangeByWiring(doc, kinds, graph, loose, { keep: 0 }))
      nodes.set(id, { ...must(nodes.get(id)), x: place.x + origin.x, y: place.y + origin.y });
  }
  doc = { ...doc, nodes };
  return {
    doc,
    findings: [...read.findings, find('arranged-on-import', 'info', [], 'without-position', { missing: missing.size })],
  };
}
