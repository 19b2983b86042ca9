/** What is known of a format without loading what reads and writes it. */
export interface FormatFacts {
  readonly title: string;
  /** The endings of its files, the usual one first. */
  readonly extensions: readonly [string, ...string[]];
  readonly mime: string;
  /** Nothing is read from it. */
  readonly onlyOut?: true;
  /** It holds a document whole. */
  readonly keepsAll?: true;
  /** It has a place for the ways of wires. */
  readonly routes?: true;
  /** What it is for, in a few words, beside its title. */
  readonly about: string;
}

/** All formats, by their ids, in the order in which they are offered. */
export const formatFacts = {
  json: {
    title: 'Graph JSON',
    extensions: ['.graph.json', '.json'],
    mime: 'application/json',
    keepsAll: true,
    routes: true,
    about: 'our own; holds all of it',
  },
  yaml: {
    title: 'Graph YAML',
    extensions: ['.graph.yaml', '.yaml', '.yml'],
    mime: 'application/yaml',
    keepsAll: true,
    about: 'the same to edit by hand',
  },
  graphml: {
    title: 'GraphML',
    extensions: ['.graphml', '.xml'],
    mime: 'application/graphml+xml',
    keepsAll: true,
    routes: true,
    about: 'most graph programs',
  },
  jgf: {
    title: 'JSON Graph Format',
    extensions: ['.jgf.json', '.jgf'],
    mime: 'application/vnd.jgf+json',
    keepsAll: true,
    about: 'nodes and edges as JSON',
  },
  nodelink: {
    title: 'Node-link JSON',
    extensions: ['.nodelink.json'],
    mime: 'application/json',
    about: 'Python and web libraries',
  },
  dot: {
    title: 'DOT',
    extensions: ['.dot', '.gv'],
    mime: 'text/vnd.graphviz',
    routes: true,
    about: 'layout programs',
  },
  gexf: { title: 'GEXF', extensions: ['.gexf'], mime: 'application/gexf+xml', about: 'network analysis' },
  gml: { title: 'GML', extensions: ['.gml'], mime: 'text/vnd.gml', about: 'older graph programs' },
  materialx: {
    title: 'MaterialX',
    extensions: ['.mtlx'],
    mime: 'application/mtlx+xml',
    keepsAll: true,
    about: 'looks',
  },
  csv: {
    title: 'CSV of nodes and wires',
    extensions: ['.csv', '.tsv'],
    mime: 'text/csv',
    about: 'one table, to read back',
  },
  edges: { title: 'Edge list', extensions: ['.edges.csv'], mime: 'text/csv', about: 'a row for each wire' },
  nodes: { title: 'Node list', extensions: ['.nodes.csv'], mime: 'text/csv', about: 'a row for each node' },
  matrix: { title: 'Adjacency matrix', extensions: ['.matrix.csv'], mime: 'text/csv', about: 'who feeds whom' },
  mermaid: {
    title: 'Mermaid',
    extensions: ['.mmd', '.mermaid'],
    mime: 'text/vnd.mermaid',
    about: 'diagrams in Markdown',
  },
  outline: { title: 'Outline', extensions: ['.md'], mime: 'text/markdown', onlyOut: true, about: 'Markdown, to read' },
  svg: { title: 'SVG picture', extensions: ['.svg'], mime: 'image/svg+xml', onlyOut: true, about: 'as it is drawn' },
} as const satisfies Readonly<Record<string, FormatFacts>>;

export type FormatId = keyof typeof formatFacts;
/** Every format by its id. */
export const formatIds = Object.keys(formatFacts) as [FormatId, ...FormatId[]];

/** What is known of a format. */
export const factsOf = (id: FormatId): FormatFacts => formatFacts[id];

/** Endings of the files that can be read. */
export const readEndings: readonly string[] = formatIds.flatMap((id) =>
  factsOf(id).onlyOut ? [] : factsOf(id).extensions,
);

/** Endings that many programs give to files which are no graphs. */
export const plainEndings: readonly string[] = ['.json', '.xml', '.yaml', '.yml'];

/**
 * Is a file among others called like a graph, packed or not? Any JSON or YAML might be anything: only what says more
 * counts.
 */
export function isGraphName(path: string): boolean {
  const name = path.toLowerCase().replace(/\.gz$/, '');
  const telling = readEndings.filter((ending) => ending === '.xml' || !plainEndings.includes(ending));
  return !name.endsWith('.catalogue.json') && telling.some((ending) => name.endsWith(ending));
}

/** Which formats hold a document whole, in words. */
export const keepersWords = `${formatIds
  .filter((id) => factsOf(id).keepsAll)
  .map((id) => factsOf(id).title)
  .join(', ')
  .replace(/, ([^,]*)$/, ' and $1')} keep all of it.`;
