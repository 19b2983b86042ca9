import { sentences } from '../said.ts';
import { plural } from '../words.ts';

/** What others say ends our sentence: its full stop is ours. */
const unended = (text: string): string => text.replace(/\.+$/, '');

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('formats', {
  // files that cannot be read; the name of the file, or “Line 3: ”, stands before them
  'unknown-ending': ({ name, endings }: { name: string; endings: readonly string[] }) =>
    `“${name}” has no known ending. Known ones are ${endings.join(', ')}.`,
  'unknown-format': ({ name, endings }: { name: string; endings: readonly string[] }) =>
    `“${name}” is in no format that can be read, and its name does not say one. These can be read: ${endings.join(', ')}.`,
  'only-out': (one: { name: string; isPicture: boolean; title: string; endings: readonly string[] }) =>
    `“${one.name}” is ${one.isPicture ? 'a picture' : `an ${one.title.toLowerCase()}`}, which can be written but not read. These can be read: ${one.endings.join(', ')}.`,
  'is-png': () => 'this is a PNG picture. No graph can be read from a picture.',
  'is-jpeg': () => 'this is a JPEG picture. No graph can be read from a picture.',
  'is-gif': () => 'this is a GIF picture. No graph can be read from a picture.',
  'is-pdf': () => 'this is a PDF. No graph can be read from it; look for the file it was made from.',
  'is-old-office': () => 'this is an old Office file. Save it as CSV and import that.',
  'is-office': () => 'this is an Office file. Save the sheet with the edges or nodes as CSV and import that.',
  'is-sqlite': () => 'this is an SQLite database. Export its tables as CSV and import those.',
  'is-bzip2': () => 'this is packed with bzip2. Unpack it first.',
  'is-xz': () => 'this is packed with xz. Unpack it first.',
  'is-7z': () => 'this is a 7z archive. Unpack it first.',
  'not-text': () => 'this is not a text file. Export the graph in a text format and import that.',
  'unknown-encoding': () => 'the encoding of this file is unknown. Save it as UTF-8 and import it again.',
  'unpacks-too-large': ({ what, most }: { what: string; most: string }) =>
    `${what} unpacks to more than ${most}, the most that can be read.`,
  'too-large': ({ what, size, most }: { what: string; size: string; most: string }) =>
    `${what} has ${size}; the most is ${most}.`,
  broken: ({ what, why }: { what: string; why: string }) => `this ${what} is broken: ${unended(why)}.`,
  'gzip-cut-short': () => 'this gzip file is broken: its end is missing.',
  'too-many-entries': ({ most }: { most: number }) => `this archive holds more than ${most} files.`,
  'archive-without-graph': ({ name, files, endings }: { name: string; files: number; endings: readonly string[] }) =>
    `“${name}” is an archive of ${plural(files, 'file')}, none with the ending of a graph (${endings.join(', ')} …).`,
  'archive-of-graphs': ({ name, graphs }: { name: string; graphs: number }) =>
    `“${name}” is an archive that holds ${graphs} graphs. Import it in the list of files, which takes all of them, or unpack it first.`,
  'bad-shape': ({ what, where, why }: { what: string; where: string; why: string }) =>
    `this is not ${what}: ${where}: ${unended(why)}.`,
  'no-graph': ({ what, lacks }: { what: string; lacks: string }) => `this ${what} holds no graph: it has no ${lacks}.`,
  'graphs-too-deep': ({ most }: { most: number }) =>
    `graphs are nested more than ${most} deep; unnest some before you import the file.`,
  'not-xml': ({ why }: { why: string }) => `this is not well-formed XML: ${unended(why)}.`,
  'other-xml': ({ what, is, wanted }: { what: string; is: string; wanted: string }) =>
    `this XML is not ${what}: its outermost element is <${is}>, not <${wanted}>.`,
  'xml-empty': () => 'this XML has no element.',
  'xml-entities': () =>
    'this XML declares entities of its own, which are not read for safety; remove the declaration between [ and ].',
  'xml-too-deep': ({ most }: { most: number }) => `this XML is nested deeper than ${most} elements.`,
  'not-yaml': ({ why }: { why: string }) => `this is not valid YAML: ${unended(why)}.`,
  'yaml-references': () =>
    'this YAML refers to other parts of itself (& and *), which is not read for safety; write those parts out.',
  'dot-start': () => 'this is not valid DOT: a graph has to begin here, with “graph” or “digraph”.',
  'dot-too-deep': ({ most }: { most: number }) => `this DOT is nested deeper than ${most} subgraphs.`,
  'dot-too-many-edges': ({ most }: { most: number }) => `this DOT has more than ${most.toLocaleString('en')} edges.`,
  'dot-open': ({ what }: { what: string }) => `this is not valid DOT: ${what} is never closed.`,
  'dot-attribute-with-port': () => 'this is not valid DOT: an attribute has no port.',
  'dot-arrow': ({ isDirected }: { isDirected: boolean }) =>
    `this is not valid DOT: edges of a ${isDirected ? 'digraph are written ->, not --' : 'graph are written --, not ->'}.`,
  'dot-name-missing': () => 'this is not valid DOT: a name or a value is missing.',
  'dot-word': ({ word }: { word: string }) =>
    `this is not valid DOT: “${word}” is a word of the language; put it in quotes to use it as a name.`,
  'dot-join': () => 'this is not valid DOT: + joins only texts in quotes.',
  'dot-sign-missing': ({ sign }: { sign: string }) => `this is not valid DOT: a ${sign} is missing here.`,
  'dot-sign-misplaced': ({ sign }: { sign: string }) => `this is not valid DOT: “${sign}” cannot stand here.`,
  'gml-key-missing': () => 'this is not valid GML: a key is missing here.',
  'gml-neither': ({ found }: { found: string }) => `this is not valid GML: “${found}” is neither a key nor a value.`,
  'gml-too-deep': ({ most }: { most: number }) => `this GML is nested deeper than ${most} lists.`,
  'gml-closes-nothing': () => 'this is not valid GML: a ] closes nothing here.',
  'gml-cut-short': () => 'this is not valid GML: it ends within a list.',
  'empty-mermaid': () => 'this Mermaid file is empty.',
  'other-mermaid': ({ kind }: { kind: string }) =>
    `this is another kind of Mermaid diagram (${kind}); only flowcharts can be read.`,
  'mermaid-start': () => 'this is not a Mermaid flowchart: it has to begin with “flowchart” or “graph”.',
  'mermaid-end': () => 'this “end” closes no subgraph.',
  'mermaid-neither': ({ found }: { found: string }) => `“${found}” is neither a node nor an arrow of a flowchart.`,
  'empty-table': () => 'this table is empty.',
  'row-not-json': ({ line }: { line: number }) => `Row ${line}: the column “more” does not hold valid JSON.`,
  'row-of-nothing': ({ line, found }: { line: number; found: string }) =>
    `Row ${line}: the first column says “${found}”; it has to be node or wire.`,
  'no-id-column': () => 'this table of nodes has no column for their ids or names.',
  'no-end-column': () => 'this table of edges has no column for one of their two ends.',
  'rows-of-one-cell': () =>
    'the rows of this table have one cell: a table of edges has two ends in each row, under titles such as source and target.',
  'no-edges': () => 'this table holds no edge: each row has two ends, under titles such as source and target.',
  'unknown-role': ({ found, roles }: { found: string; roles: readonly string[] }) =>
    `“${found}” does not say what a column is. Write one of ${roles.join(', ')}, =, and the column.`,
  'unknown-column': ({ column, columns }: { column: string; columns: readonly string[] }) =>
    `there is no column “${column}”. The columns are ${columns.join(', ')}.`,
  // what was found while a file was read
  'several-graphs': ({ graphs }: { graphs: number }) =>
    `The file holds ${graphs} graphs; each is nested in a node of its own.`,
  undirected: () =>
    'The edges have no direction in the file. Here they run from the first end to the second, and they are written back without a direction.',
  'drawn-elsewhere': ({ edges }: { edges: number }) =>
    `The file says how another program drew ${plural(edges, 'edge')}. Wires are drawn anew here, so that was left out.`,
  'tree-of-nodes': ({ nodes }: { nodes: number }) =>
    `${plural(nodes, 'node')} ${nodes === 1 ? 'was' : 'were'} inside other nodes and ${nodes === 1 ? 'is' : 'are'} now beside them; the attribute “pid” names the node around each.`,
  'node-without-id': () => 'A node without an id was left out.',
  elsewhere: ({ locators }: { locators: number }) =>
    `${plural(locators, 'graph or node', 'graphs or nodes')} ${locators === 1 ? 'is' : 'are'} kept in other files, which were not read.`,
  'bad-number': ({ field, id, text }: { field: string; id: string; text: string }) =>
    `${field} of “${id.slice(0, 60)}” is “${text.slice(0, 30)}”, which is not a number; it was left out.`,
  'bad-parameters': ({ node }: { node: string }) =>
    `The parameters of “${node}” are not a JSON object; they were left out.`,
  'kept-elements': ({ elements, tag }: { elements: number; tag: string }) =>
    `${plural(elements, 'element')} outside the graphs, such as <${tag}>, ${elements === 1 ? 'is' : 'are'} kept and written back.`,
  'name-twice': ({ name }: { name: string }) =>
    `Two elements of one graph have the name ${name}; connections lead to the first one.`,
  'id-twice': ({ id }: { id: string }) =>
    `Two nodes of the file have the id “${id.slice(0, 60)}”; edges lead to the first one.`,
  'edge-to-nothing': ({ edge, missing }: { edge: string; missing: string }) =>
    `Edge ${edge} leads to “${missing}”, which is not in the file; the edge was left out.`,
  'input-multiplied': ({ port, node }: { port: string; node: string }) =>
    `The input ${port} of ${node} has several edges. An input takes one wire, so it got another port.`,
  'edge-over-border': ({ edge }: { edge: string }) =>
    `Edge ${edge} crosses the border of a nested graph; it now runs through boundary ports.`,
  'loops-kept': ({ loops, largest }: { loops: number; largest: number }) =>
    loops === 1
      ? `The wires run in a loop of ${largest} nodes; it is kept.`
      : `The wires run in ${loops} loops, the largest of ${largest} nodes; they are kept.`,
  'self-loops-kept': ({ nodes }: { nodes: number }) =>
    nodes === 1
      ? 'One node is wired to itself; the wire is kept.'
      : `${nodes} nodes are wired to themselves; the wires are kept.`,
  'labels-cut': ({ labels, most, first }: { labels: number; most: number; first: string }) =>
    `${plural(labels, 'label')} of more than ${most.toLocaleString('en')} characters ${labels === 1 ? 'was' : 'were'} cut; the first one begins with “${first.slice(0, 40)}”.`,
  'looks-left-out': ({ statements }: { statements: number }) =>
    `Left out: ${plural(statements, 'statement')} on how things look (classes, styles, clicks).`,
  'unseen-links': ({ links }: { links: number }) =>
    `Left out: ${plural(links, 'invisible link')} (~~~), which only ${links === 1 ? 'keeps' : 'keep'} nodes apart.`,
  'no-rows': () => 'The table holds the titles of columns and no rows.',
  'rows-without-id': ({ rows, line }: { rows: number; line: number }) =>
    `${plural(rows, 'row')} without a node ${rows === 1 ? 'was' : 'were'} left out; the first one is row ${line}.`,
  'unsure-table': ({ doubt, plan }: { doubt: string; plan: string }) => `${doubt} ${plan}`,
  'rows-are-nodes': ({ id }: { id: string }) => `Each row was read as a node, called by ${id}.`,
  'rows-are-edges': ({ source, target, hasTitles }: { source: string; target: string; hasTitles: boolean }) =>
    `Each row was read as an edge from ${source} to ${target}${hasTitles ? '' : ', the first row too'}.`,
  'one-end-named': () => 'Only one of its columns has the title of an end of an edge.',
  'ends-guessed': () =>
    'The titles do not say which columns hold the two ends of the edges, so the first two columns are used.',
  'bad-line': ({ line, message }: { line: number; message: string }) => `Line ${line}: ${message}`,
  'bad-row': ({ i, why }: { i: number; why: string }) => `Row ${i + 1}: ${why}`,
  'column-twice': ({ role }: { role: string }) => `Two columns are the ${role}. Choose one.`,
  'comments-left-out': ({ comments }: { comments: number }) =>
    `${plural(comments, 'comment')} of the file ${comments === 1 ? 'was' : 'were'} left out.`,
  'fields-left-out': ({ id }: { id: string }) => `Some fields of ${id} do not fit; they were left out.`,
  hyperedges: ({ hyperedges }: { hyperedges: number }) =>
    `${hyperedges} hyperedges were left out: a wire has two ends.`,
  'more-graphs': ({ graphs }: { graphs: number }) => `The file holds ${graphs} graphs; the first one was read.`,
  'names-made-legal': ({ called, what, name }: { called: number; what: string; name: string }) =>
    called === 1
      ? `One name holds more than letters, digits and _: the node is shown as “${what.slice(0, 60)}”, and scripts call it ${name.slice(0, 60)}.`
      : `${called.toLocaleString('en')} names hold more than letters, digits and _: nodes are shown as they were called, such as “${what.slice(0, 60)}”, and scripts call that one ${name.slice(0, 60)}.`,
  'no-ends-chosen': () => 'Choose which column holds the source of each edge, and which its target.',
  'no-id-chosen': () => 'Choose which column holds the id or name of each node.',
  'other-encoding': ({ encoding }: { encoding: string }) =>
    `The file is not in UTF-8; it was read as ${encoding}. If letters look wrong, save it as UTF-8 and import it again.`,
  'read-as': ({ named, held }: { named: string; held: string }) =>
    `The file is called like ${named} and holds ${held}; it was read as that.`,
  'row-with-one-end': ({ line }: { line: number }) => `Row ${line} names one end only and was left out.`,
  'without-position': ({ missing, isQuick }: { missing: number; isQuick: boolean }) =>
    isQuick
      ? `${plural(missing, 'node')} had no position. A graph of this size is only put in columns along its wires; arrange it for a better layout.`
      : `${plural(missing, 'node')} had no position and ${missing === 1 ? 'was' : 'were'} arranged.`,
});
