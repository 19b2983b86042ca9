import { attributesOf, columnsOf, textOfValue, valueOfText } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import { type Doc, emptyDoc } from '../document/doc.ts';
import { docFromJson } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { legalName } from '../document/names.ts';
import { type AttributeBearer, type AttributeType, attributeTypes } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { must } from '../must.ts';
import { csvText, guarded, unguarded } from '../table/cells.ts';
import type { Assembled } from './assembly.ts';
import { delimiterOf, rowsOf, withoutStatement } from './delimited.ts';
import { say } from './sentences.ts';
import { readTables } from './table-graph.ts';
import { isOwnTable } from './table-plan.ts';

/** The columns of our own tables; `more` holds all other fields of a row as JSON. */
const columns = ['row', 'id', 'name', 'label', 'kind', 'x', 'y', 'from', 'from port', 'to', 'to port'] as const;
const last = 'more';
type Column = (typeof columns)[number] | typeof last;

/** What bears attributes in a table. */
const bearers = ['node', 'wire'] as const;

/** The column of an attribute of nodes or wires, which may share one. */
interface AttributeColumn {
  readonly title: string;
  readonly of: AttributeBearer;
  readonly name: string;
  readonly type: AttributeType;
}

function attributeColumns(doc: Doc): AttributeColumn[] {
  const held: ReadonlySet<string> = new Set([...columns, last]);
  return bearers.flatMap((of) =>
    columnsOf(doc, of, (title) => held.has(title.toLowerCase())).map(({ column, name, holds }) => ({
      title: column,
      of,
      name,
      type: holds,
    })),
  );
}

/**
 * Nodes and wires as one table (RFC 4180), a row each: first what attributes are of, then all nodes, then all wires, with
 * a column for each attribute. What is nested stands beside the rest; frames, notes and graphs have no place in it. A
 * cell that a spreadsheet would take for a formula has a quote in front. O(nodes + wires).
 */
export function writeCsv(doc: Doc): string {
  const attributes = attributeColumns(doc);
  const titles = [...new Set(attributes.map(({ title }) => title))];
  const all: readonly string[] = [...columns, ...titles, last];
  const cells = (row: Readonly<Record<string, string>>): string[] =>
    all.map((column) => (Object.hasOwn(row, column) ? must(row[column]) : ''));
  const byBearer = (of: AttributeBearer) =>
    new Map(attributes.filter((one) => one.of === of).map((one) => [one.name, one]));
  const known = { node: byBearer('node'), wire: byBearer('wire') };
  const valuesOf = (of: 'node' | 'wire', record: object): [string, string][] =>
    Object.entries(attributesOf(record)).map(([name, value]) => {
      const { title, type } = must(known[of].get(name));
      // an empty cell would be no value
      return [title, value === '' ? "'" : guarded(textOfValue(value, type))];
    });
  const { title: _title, root, format: _format, version: _version, ...head } = doc.head;
  const { id: _id, ...graph } = must(doc.graphs.get(root));
  const heads = [
    cells({ row: 'graph', id: guarded(root), name: guarded(doc.head.title), more: JSON.stringify({ head, graph }) }),
    ...attributes.map(({ title, of, name, type }) =>
      cells({ row: 'attribute', id: guarded(title), name: guarded(name), label: of, kind: type }),
    ),
  ];
  const nodes = [...doc.nodes.values()].map(
    ({ id, graph: _graph, frame: _frame, inner: _inner, attributes: _own, name, label, kind, x, y, ...more }) =>
      cells({
        row: 'node',
        id: guarded(id),
        name: guarded(name),
        label: guarded(label ?? ''),
        kind: guarded(kind),
        x: String(x),
        y: String(y),
        ...Object.fromEntries(valuesOf('node', must(doc.nodes.get(id)))),
        more: JSON.stringify(more),
      }),
  );
  const wires = [...doc.wires.values()].map((wire) => {
    const { id, from, to, attributes: _own, ...more } = wire;
    return cells({
      row: 'wire',
      id: guarded(id),
      from: guarded(from.node),
      'from port': guarded(from.port),
      to: guarded(to.node),
      'to port': guarded(to.port),
      ...Object.fromEntries(valuesOf('wire', wire)),
      more: Object.keys(more).length > 0 ? JSON.stringify(more) : '',
    });
  });
  return csvText([all, ...heads, ...nodes, ...wires]);
}

/**
 * Reads such a table, and tables of other programs as `readTables` has them; cells may be parted by commas, semicolons,
 * tabs or bars. Nodes without a place are named in `unplaced`. Throws UnreadableFile where it is no such table. O(text).
 */
export function readCsv(text: string, title: string, kinds: Kinds): Assembled {
  const plain = withoutStatement(text);
  const rows = rowsOf(plain, delimiterOf(text));
  if (rows.length === 0) throw new UnreadableFile(say('empty-table'));
  return isOwnTable(must(rows[0]).cells) ? readOwn(rows, title) : readTables([{ text }], title, kinds);
}

function readOwn(
  rows: readonly { readonly line: number; readonly cells: readonly string[] }[],
  title: string,
): Assembled {
  const titles = must(rows[0]).cells;
  const lower = titles.map((one) => one.toLowerCase());
  const nodes: Json[] = [];
  const wires: Json[] = [];
  const unplaced: Id[] = [];
  let head: Record<string, Json> = {};
  let graph: Record<string, Json> = {};
  const known = new Map<string, { name: string; type: AttributeType }>();
  const at = new Map<string, number>();
  // the columns of ours are told whatever the case of their letters, those of attributes by all of it
  for (const column of [...columns, last]) at.set(column, lower.indexOf(column));
  const own = new Set(at.values());
  for (const { line, cells } of rows.slice(1)) {
    const cell = (column: Column): string => unguarded(cells[at.get(column) ?? -1] ?? '');
    const more = (): Record<string, Json> => {
      if (cell('more') === '') return {};
      try {
        return JSON.parse(cell('more')) as Record<string, Json>;
      } catch {
        throw new UnreadableFile(say('row-not-json', { line }));
      }
    };
    const attributes = (of: 'node' | 'wire'): { attributes?: Record<string, Json> } => {
      const values = titles.flatMap((column, i): [string, Json][] => {
        const text = cells[i] ?? '';
        if (own.has(i) || text === '') return [];
        const { name, type } = known.get(`${of} ${column}`) ?? { name: column, type: 'text' as const };
        return [[name, valueOfText(unguarded(text), type)]];
      });
      return values.length > 0 ? { attributes: Object.fromEntries(values) } : {};
    };
    switch (cell('row')) {
      case 'graph': {
        const said = more();
        head = { ...(said.head as Record<string, Json>), title: cell('name') };
        graph = { ...(said.graph as Record<string, Json>) };
        break;
      }
      case 'attribute': {
        const type = attributeTypes.find((one) => one === cell('kind')) ?? 'text';
        known.set(`${cell('label')} ${cell('id')}`, { name: cell('name'), type });
        break;
      }
      case 'node': {
        const [x, y] = [Number(cell('x')), Number(cell('y'))];
        const hasPlace = cell('x') !== '' && cell('y') !== '' && Number.isFinite(x) && Number.isFinite(y);
        if (!hasPlace) unplaced.push(cell('id'));
        nodes.push({
          ports: [],
          ...more(),
          id: cell('id'),
          graph: 'root',
          kind: cell('kind') || foreignKind,
          name: cell('name') || legalName(cell('id')),
          ...(cell('label') !== '' && { label: cell('label') }),
          x: hasPlace ? x : 0,
          y: hasPlace ? y : 0,
          ...attributes('node'),
        });
        break;
      }
      case 'wire':
        wires.push({
          ...more(),
          id: cell('id'),
          from: { node: cell('from'), port: cell('from port') },
          to: { node: cell('to'), port: cell('to port') },
          ...attributes('wire'),
        });
        break;
      default:
        throw new UnreadableFile(say('row-of-nothing', { line, found: cell('row') }));
    }
  }
  const base = emptyDoc('document', title.slice(0, 300), { id: 'none', version: 0 });
  const read = docFromJson({
    ...base.head,
    ...head,
    root: 'root',
    graphs: [{ name: title.slice(0, 200) || 'Graph', ...graph, id: 'root' }],
    frames: [],
    notes: [],
    nodes,
    wires,
  });
  return { ...read, unplaced };
}
