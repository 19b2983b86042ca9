// npm run docs: writes the parts of docs/ that follow from the code. A test says when they are behind.
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileJsonSchema } from '@basitax/core/document/file';
import { headShape, tableNames, tableShapes } from '@basitax/core/document/schema';
import { scopeCases } from '@basitax/core/tests/scope-cases';
import { z } from 'zod';
import { formatsSection } from './formats-page.ts';
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
    ...formatsSection,
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
