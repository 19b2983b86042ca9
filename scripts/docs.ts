// npm run docs: writes the parts of docs/ that follow from the code. A test says when they are behind.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileJsonSchema } from '@basitax/core/document/file';
import { headShape, tableNames, tableShapes } from '@basitax/core/document/schema';
import { scopeCases } from '@basitax/core/tests/scope-cases';
import { z } from 'zod';
import { noticesText } from './notices.ts';
import { rulesPage } from './rules-page.ts';
import { pictureFile, pictureOf, withCases } from './scope-pictures.ts';
import { apiModule, libModule, modelModule } from './script-api.ts';
import { scriptingPage } from './scripting-page.ts';

interface Property {
  readonly type?: string | readonly string[];
  readonly description?: string;
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly items?: Property;
  readonly properties?: Record<string, Property>;
  readonly anyOf?: readonly Property[];
}

function typeOf(property: Property): string {
  if (property.const !== undefined) return JSON.stringify(property.const);
  if (property.enum) return property.enum.map((value) => JSON.stringify(value)).join(' \\| ');
  if (property.type === 'array') return `list of ${typeOf(property.items ?? {})}`;
  if (property.properties) return `{ ${Object.keys(property.properties).join(', ')} }`;
  return String(property.type ?? 'any JSON');
}

function rows(shape: z.ZodType): string[] {
  const schema = z.toJSONSchema(shape, { io: 'input', unrepresentable: 'any' }) as {
    properties: Record<string, Property>;
    required?: string[];
  };
  return Object.entries(schema.properties).map(
    ([name, property]) =>
      `| \`${name}\` | ${typeOf(property)} | ${schema.required?.includes(name) ? 'yes' : ''} | ${property.description ?? ''} |`,
  );
}

const titles = { graphs: 'Graphs', frames: 'Frames', nodes: 'Nodes', wires: 'Wires', notes: 'Notes' } as const;
const head = ['| field | type | needed | meaning |', '|---|---|---|---|'];

/** The text of docs/format.md. */
export function formatPage(): string {
  return [
    '# The file format',
    '',
    'A document is one JSON file, `*.graph.json`, in UTF-8: the fields of the document itself, then five tables as lists, one record a line, sorted by id, keys in a fixed order, so that a diff can be read. [format.schema.json](format.schema.json) is its JSON Schema. This page and the schema are made from the Zod schema in `core/document/schema.ts` by `npm run docs`.',
    '',
    '- Identity is by **id**, unique over the whole document; names are for people.',
    '- Positions are in pixels at 100 % zoom, x to the right, y downwards; a position is a top-left corner.',
    '- Fields that this version does not know are kept, at every level, and written back.',
    '- A downloaded file also holds `routes`: for each wire its corners, `[[x, y], …]`, from the outer edge of the source port to that of the target port. They are derived; reading leaves them out.',
    '- Reading repairs what is broken (a wire to nothing, a doubled id, an illegal name …) and lists every repair.',
    '',
    '## The document',
    '',
    ...head,
    ...rows(headShape),
    '',
    ...tableNames.flatMap((name) => [`## ${titles[name]} (\`${name}\`)`, '', ...head, ...rows(tableShapes[name]), '']),
    '## Kinds that every catalogue has',
    '',
    '`std.reroute`, `std.beacon`, `std.tap`, `std.feed` carry data from one place to another; `std.input` and `std.output` are the ports of a nested graph, seen from inside: the port of the nested node has the id of its boundary node; `std.nested` holds a graph.',
    '',
    '## GraphML',
    '',
    '`<port name>` inside `<node>`, `sourceport` and `targetport` on `<edge>`, a nested `<graph>` for a nested graph and, with data `role` = `frame`, for a frame. Keys by `attr.name`: `x`, `y`, `width`, `height` (top-left, pixels), `name`, `kind`, `label`, `title`, `color`, `parameters` (JSON) on nodes and `route` on edges (`x,y x,y …`). Ids of nodes, wires and ports written by others stay as they are, there and back; keys that we do not know are carried through, markup included. An edge that names no port gets one here, and is written back without one. A node without size gets one from its captions and ports; without position it is arranged on import. Edges that cross levels are led through boundary ports, and that is reported. XML that declares entities of its own is refused.',
    '',
    '## JSON Graph Format',
    '',
    '[Version 2](https://jsongraphformat.info), `*.jgf.json`: nodes by id with `label` and `metadata`, edges with `source`, `target`, `relation`. Metadata `x` and `y` are places, `sourcePort` and `targetPort` name ports; everything else that we know stands under `basitax`, so that a document comes back whole. Of what others wrote, labels, relations and metadata go back as they came. Of several graphs the first is read, hyperedges are left out; both are said.',
    '',
    '## MaterialX',
    '',
    '[Version 1.39](https://materialx.org), `*.mtlx`: a node is an element with its kind as the tag, inputs with values or connections, `xpos` and `ypos` (200 pixels are 1), `uicolor`, `uiname` for the label; a `<nodegraph>` is a nested graph, its inputs and outputs the ports of the node outside; a `<backdrop>` is a frame, with its note as `doc`; a `dot` is a reroute point. A nested graph within another is written as a definition, a graph and a node that stands for it, since node graphs do not lie in others there; nodes of several outputs get a definition too. What the standard has no place for stands as JSON in the attribute `basitax`, which the file declares, so that a document comes back whole. Of what others wrote, definitions, looks and attributes that we do not know go back as they came; comments are left out, and that is said. Numbers and switches become parameters of their type; colours and vectors stay text.',
    '',
    '## GEXF',
    '',
    '[Version 1.3](https://gexf.net) and older, `*.gexf`: nodes and edges of all graphs with `label`, places and colours of the viz module, and the attributes `basitax-name`, `basitax-kind`, `basitax-from-port`, `basitax-to-port`; `basitax-more` holds all other fields as JSON. Nested graphs are laid beside the rest; frames and notes have no place in it. Of what others wrote, attributes, weights, sizes and shapes go back as they came; trees of nodes, as version 1.2 had them, are read flat, and lists of times are left out; both are said.',
    '',
    '## CSV of nodes and wires',
    '',
    'One table (RFC 4180), `*.csv`: a row for each node and wire, with `row`, `id`, `name`, `label`, `kind`, `x`, `y`, `from`, `from port`, `to`, `to port`, and in `more` all other fields as JSON. Nested graphs are laid beside the rest; frames and notes have no place in it. A cell that a spreadsheet would take for a formula has a quote in front. Tables of edges that others wrote are read as well: columns called source and target or from and to, or the first two where there are no titles; further columns stay with the wire.',
    '',
    '## SVG',
    '',
    'A picture of the outermost graph at 100 % zoom, `*.svg`, in vectors and the colours of paper; nothing is read from it.',
    '',
    '## What is not in a file',
    '',
    'Each time that a file is written, by download or on the command line, what its format has no place for is said: it is found by reading the file again and comparing.',
    '',
  ].join('\n');
}

export const schemaText = (): string => `${JSON.stringify(fileJsonSchema(), null, 2)}\n`;

if (process.argv[1]?.endsWith('docs.ts')) {
  writeFileSync(new URL('../docs/format.md', import.meta.url), formatPage());
  writeFileSync(new URL('../docs/format.schema.json', import.meta.url), schemaText());
  writeFileSync(new URL('../core/script/generated/model.ts', import.meta.url), modelModule());
  writeFileSync(new URL('../core/script/generated/api.ts', import.meta.url), apiModule());
  writeFileSync(new URL('../core/script/generated/lib.ts', import.meta.url), libModule());
  writeFileSync(new URL('../docs/scripting.md', import.meta.url), scriptingPage());
  writeFileSync(new URL('../docs/house-rules.md', import.meta.url), rulesPage());
  writeFileSync(new URL('../THIRD-PARTY-NOTICES', import.meta.url), noticesText());
  mkdirSync(new URL('../docs/scope/', import.meta.url), { recursive: true });
  for (const one of [...scopeCases.heard, ...scopeCases.fed])
    writeFileSync(new URL(`../${pictureFile(one)}`, import.meta.url), pictureOf(one));
  const links = new URL('../docs/remote-links.md', import.meta.url);
  writeFileSync(links, withCases(readFileSync(links, 'utf8')));
}
