import { typeOfTexts, valueOfText } from '../document/attributes.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import type { AttributeType } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { unguarded } from '../table/cells.ts';
import { type Assembled, Assembly } from './assembly.ts';
import { rowsOf, withoutStatement } from './delimited.ts';
import { find, say } from './sentences.ts';
import { type ColumnRole, guessPlan, type TablePlan } from './table-plan.ts';

/** A table with the way in which it is to be read, or as it explains itself. */
export interface GivenTable {
  readonly text: string;
  readonly plan?: TablePlan | undefined;
}

/** A table as rows and columns. */
interface Table {
  readonly plan: TablePlan;
  readonly titles: readonly string[];
  readonly rows: readonly { readonly line: number; readonly cells: readonly string[] }[];
}

function tableOf({ text, plan }: GivenTable): Table & { readonly doubt: string | undefined } {
  const guess = plan ? { plan, doubt: undefined } : guessPlan(text);
  const rows = rowsOf(withoutStatement(text), guess.plan.delimiter);
  if (rows.length === 0) throw new UnreadableFile(say('empty-table'));
  const width = rows.reduce((most, { cells }) => Math.max(most, cells.length), 0);
  const named = guess.plan.hasTitles ? (rows[0]?.cells.map((cell) => cell.trim()) ?? []) : [];
  const titles = Array.from({ length: width }, (_, at) => named[at] || `column ${at + 1}`);
  const body = guess.plan.hasTitles ? rows.slice(1) : rows;
  return {
    ...guess,
    titles,
    rows: body.map(({ line, cells }) => ({ line, cells: cells.map((cell) => unguarded(cell.trim())) })),
  };
}

/**
 * Reads tables of other programs as a graph: a row for each edge, a row for each node, or a square of who is joined to
 * whom; a table of edges may have one of nodes beside it. Columns that are none of the ends are attributes, of the type
 * that all their cells have. Nodes that only edges name are made. All are named in `unplaced`, but for those that the
 * table gives a place. Throws UnreadableFile where it is no such table. O(cells).
 */
export function readTables(given: readonly GivenTable[], title: string, kinds: Kinds): Assembled {
  const made = new Assembly('csv', kinds);
  const tables = given.map(tableOf);
  // nodes first, so that edges find them
  const order = { nodes: 0, matrix: 1, edges: 2 } as const;
  for (const table of [...tables].sort((a, b) => order[a.plan.kind] - order[b.plan.kind])) {
    if (table.doubt !== undefined)
      made.tell(find('unsure-table', 'warning', [], 'unsure-table', { doubt: table.doubt, plan: toldPlan(table) }));
    if (table.plan.kind === 'nodes') readNodes(made, table);
    else if (table.plan.kind === 'edges') readEdges(made, table);
    else readMatrix(made, table);
  }
  return made.finish({ title });
}

/** How a table was read, in words. */
function toldPlan({ plan, titles }: Table): string {
  const at = (role: ColumnRole): string => `“${titles[plan.roles.indexOf(role)] ?? ''}”`;
  return plan.kind === 'nodes'
    ? say('rows-are-nodes', { id: at('id') }).message
    : say('rows-are-edges', { source: at('source'), target: at('target'), hasTitles: plan.hasTitles }).message;
}

/** The columns that are attributes, with the type of all their cells. */
function attributeColumns(made: Assembly, of: 'node' | 'wire', { plan, titles, rows }: Table) {
  return titles.flatMap((title, at): { at: number; name: string; type: AttributeType }[] => {
    if (plan.roles[at]) return [];
    const type = typeOfTexts(
      (function* () {
        for (const { cells } of rows) yield cells[at] ?? '';
      })(),
    );
    return [{ at, name: made.declare(of, title, { type }), type }];
  });
}

const valuesOf = (
  columns: readonly { at: number; name: string; type: AttributeType }[],
  cells: readonly string[],
): Record<string, Json> =>
  Object.fromEntries(
    columns.flatMap(({ at, name, type }) => {
      const cell = cells[at] ?? '';
      return cell === '' ? [] : [[name, valueOfText(cell, type)]];
    }),
  );

function reader({ plan }: Table): (cells: readonly string[], role: ColumnRole) => string {
  const at = new Map(plan.roles.flatMap((role, i) => (role ? [[role, i] as const] : [])));
  return (cells, role) => cells[at.get(role) ?? -1] ?? '';
}

function readNodes(made: Assembly, table: Table): void {
  const columns = attributeColumns(made, 'node', table);
  const cell = reader(table);
  if (!table.plan.roles.includes('id')) throw new UnreadableFile(say('no-id-column'));
  for (const { line, cells } of table.rows) {
    const key = cell(cells, 'id');
    if (key === '') {
      made.count('row-without-id', (rows) => find('row-without-id', 'warning', [], 'rows-without-id', { rows, line }));
      continue;
    }
    const number = (role: ColumnRole): number => (cell(cells, role) === '' ? Number.NaN : Number(cell(cells, role)));
    const color = cell(cells, 'color');
    made.node({
      key,
      called: cell(cells, 'label') || key,
      x: number('x'),
      y: number('y'),
      ...(color !== '' && { color }),
      attributes: valuesOf(columns, cells),
    });
  }
}

function nodeOf(made: Assembly, key: string): string {
  if (made.idOf(key) === undefined) made.node({ key, called: key });
  return key;
}

function readEdges(made: Assembly, table: Table): void {
  const cell = reader(table);
  for (const role of ['source', 'target'] as const)
    if (!table.plan.roles.includes(role)) throw new UnreadableFile(say('no-end-column'));
  if (table.rows.length > 0 && table.rows.every(({ cells }) => cells.length < 2))
    throw new UnreadableFile(say('rows-of-one-cell'));
  const columns = attributeColumns(made, 'wire', table);
  const before = made.edges;
  for (const { line, cells } of table.rows) {
    const [source, target] = [cell(cells, 'source'), cell(cells, 'target')];
    if (source === '' || target === '') {
      made.findings.push(find('half-edge', 'warning', [], 'row-with-one-end', { line }));
      continue;
    }
    made.edge({
      source: nodeOf(made, source),
      target: nodeOf(made, target),
      sourcePort: cell(cells, 'sourcePort') || undefined,
      targetPort: cell(cells, 'targetPort') || undefined,
      attributes: valuesOf(columns, cells),
    });
  }
  if (table.rows.length === 0 && table.plan.hasTitles) made.tell(find('no-rows', 'warning', [], 'no-rows'));
  // titles alone are a table without edges
  if (made.edges === before && (table.rows.length > 0 || !table.plan.hasTitles))
    throw new UnreadableFile(say('no-edges'));
}

/** A square: what stands in a row and a column says how much the node of the row is joined to that of the column. */
function readMatrix(made: Assembly, { plan, rows, titles }: Table): void {
  const isNamed = plan.hasTitles;
  const names = isNamed ? titles.slice(1) : rows.map((_, i) => String(i + 1));
  for (const name of names) nodeOf(made, name);
  const weight = made.declare('wire', 'weight', { type: 'number' });
  rows.forEach(({ cells }, i) => {
    const values = isNamed ? cells.slice(1) : cells;
    values.forEach((cell, k) => {
      const value = Number(cell);
      const [source, target] = [names[i], names[k]];
      if (cell === '' || value === 0 || source === undefined || target === undefined) return;
      made.edge({ source, target, attributes: value === 1 ? {} : { [weight]: value } });
    });
  });
}
