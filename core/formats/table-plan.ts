import { z } from 'zod';
import { UnreadableFile } from '../document/unreadable.ts';
import type { Saying } from '../said.ts';
import { delimiterOf, delimiters, rowsOf, withoutStatement } from './delimited.ts';
import { say } from './sentences.ts';

/** What a table holds: a row for each edge, a row for each node, or a square of who is joined to whom. */
export const tableKinds = ['edges', 'nodes', 'matrix'] as const;
export type TableKind = (typeof tableKinds)[number];

/** What a column may be. All others are attributes. */
export const columnRoles = [
  'source',
  'target',
  'sourcePort',
  'targetPort',
  'id',
  'label',
  'x',
  'y',
  'color',
  'leave out',
] as const;
export type ColumnRole = (typeof columnRoles)[number];
/** What they are called where people choose them. */
export const roleWords: Readonly<Record<ColumnRole, string>> = {
  source: 'source of the edge',
  target: 'target of the edge',
  sourcePort: 'output at the source',
  targetPort: 'input at the target',
  id: 'id or name of the node',
  label: 'label',
  x: 'x',
  y: 'y',
  color: 'colour',
  'leave out': 'leave out',
};

/** How a table is to be read. */
export const tablePlanSchema = z.object({
  kind: z.enum(tableKinds),
  delimiter: z.enum(delimiters),
  hasTitles: z.boolean().describe('The first row holds the titles of the columns.'),
  roles: z
    .array(z.enum(columnRoles).nullable())
    .max(2000)
    .describe('What each column is; an attribute where it is null.'),
});
export type TablePlan = z.infer<typeof tablePlanSchema>;

// What columns are called, in the languages in which tables come to us most (common practice); all in lower case,
// without accents.
const words: Readonly<Record<string, readonly string[]>> = Object.fromEntries(
  Object.entries({
    source: `source src from start tail parent upstream origin producer sender predecessor node1 node_1 source_id from_id
      sourceid fromid source_node from_node
      von quelle startknoten ursprung elternteil vorganger eltern
      de depuis origine amont expediteur predecesseur
      desde origen padre fuente
      da origem fonte pai sorgente
      van bron`,
    target: `target tgt to end head child downstream destination dest dst consumer receiver successor node2 node_2
      target_id to_id targetid toid target_node to_node
      nach ziel bis endknoten zielknoten kind nachfolger
      vers cible destinataire aval enfant successeur
      hasta destino hijo hacia
      para filho alvo
      destinazione figlio
      naar doel`,
    sourcePort: 'source_port sourceport from_port fromport output source_output',
    targetPort: 'target_port targetport to_port toport input target_input',
    id: 'id node node_id nodeid key identifier uid guid knoten kennung noeud nodo clave chave identifiant',
    label: 'label name title caption bezeichnung titel nom titre nombre titulo nome etichetta naam',
    x: 'x pos_x posx x_pos left',
    y: 'y pos_y posy y_pos top',
    color: 'color colour farbe couleur',
  }).map(([role, text]) => [role, text.split(/\s+/)]),
);

const plainTitle = (title: string): string =>
  title
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase()
    .replace(/œ/g, 'oe')
    .replace(/ß/g, 'ss')
    .trim()
    .replace(/[\s.-]+/g, '_');

const isNumber = (text: string): boolean => text !== '' && Number.isFinite(Number(text));

/** Is a table one that we wrote? */
export const isOwnTable = (titles: readonly string[]): boolean =>
  titles[0]?.trim().toLowerCase() === 'row' && titles.some((title) => title.trim().toLowerCase() === 'id');

/** Why a table cannot be read as a plan has it, as a sentence; undefined where it can. */
export function planProblem({ kind, roles }: TablePlan): Saying | undefined {
  const doubled = columnRoles.find((role) => role !== 'leave out' && roles.filter((one) => one === role).length > 1);
  if (doubled) return say('column-twice', { role: roleWords[doubled] });
  if (kind === 'edges' && !(roles.includes('source') && roles.includes('target'))) return say('no-ends-chosen');
  if (kind === 'nodes' && !roles.includes('id')) return say('no-id-chosen');
  return undefined;
}

/** A plan, and why one may doubt it; undefined where there is no doubt. */
export interface Guess {
  readonly plan: TablePlan;
  readonly doubt: string | undefined;
}

/**
 * How a table is meant: by the titles of its columns, in several languages; by its shape where it has none. O(text).
 */
export function guessPlan(text: string): Guess {
  const delimiter = delimiterOf(text);
  const rows = rowsOf(withoutStatement(text), delimiter).map(({ cells }) => cells.map((cell) => cell.trim()));
  const width = rows.reduce((most, row) => Math.max(most, row.length), 0);
  const titles = (rows[0] ?? []).map(plainTitle);
  const none = (count: number): null[] => Array.from({ length: count }, () => null);
  if (isMatrix(rows))
    return {
      plan: { kind: 'matrix', delimiter, hasTitles: !isNumber(rows[0]?.[1] ?? ''), roles: none(width) },
      doubt: undefined,
    };
  const roles: (ColumnRole | null)[] = none(width);
  const given = new Set<ColumnRole>();
  const give = (role: ColumnRole, at: number): void => {
    if (at < 0 || roles[at] || given.has(role)) return;
    roles[at] = role;
    given.add(role);
  };
  const find = (role: ColumnRole): number =>
    (words[role] ?? []).map((word) => titles.indexOf(word)).find((at) => at >= 0 && !roles[at]) ?? -1;
  const [source, target] = [find('source'), find('target')];
  if (source >= 0 && target >= 0 && source !== target) {
    give('source', source);
    give('target', target);
    for (const role of ['sourcePort', 'targetPort'] as const) give(role, find(role));
    return { plan: { kind: 'edges', delimiter, hasTitles: true, roles }, doubt: undefined };
  }
  const id = find('id');
  const label = find('label');
  if (id >= 0 || (label >= 0 && width > 1)) {
    give('id', id >= 0 ? id : label);
    if (id >= 0) for (const role of ['label', 'x', 'y', 'color'] as const) give(role, find(role));
    else for (const role of ['x', 'y', 'color'] as const) give(role, find(role));
    return {
      plan: { kind: 'nodes', delimiter, hasTitles: true, roles },
      doubt: source >= 0 || target >= 0 ? say('one-end-named').message : undefined,
    };
  }
  // no title says anything: two columns are edges, the first row too unless it looks like titles
  give('source', 0);
  give('target', 1);
  const body = rows.slice(1);
  const seenBelow = new Set(body.flatMap((row) => row.slice(0, 2)));
  const isInUse = titles.slice(0, 2).some((_, at) => seenBelow.has(rows[0]?.[at] ?? ''));
  const differsInKind = (rows[0] ?? []).some(
    (cell, at) => !isNumber(cell) && body.length > 0 && body.every((row) => isNumber(row[at] ?? '')),
  );
  const hasTitles = !isInUse && differsInKind;
  const isClear = width === 2 && isInUse;
  return {
    plan: { kind: 'edges', delimiter, hasTitles, roles },
    doubt: isClear ? undefined : say('ends-guessed').message,
  };
}

/**
 * A plan in which somebody has said what columns are, such as `source=Von,target=Nach`: by their titles, or by their
 * numbers from 1. Throws UnreadableFile where there is no such role or column. O(text).
 */
export function planOf(text: string, said: string): TablePlan {
  const { plan } = guessPlan(text);
  const rows = rowsOf(withoutStatement(text), plan.delimiter);
  const titles = (rows[0]?.cells ?? []).map((cell) => cell.trim());
  const roles: (ColumnRole | null)[] = plan.roles.map(() => null);
  let isTitled = false;
  for (const part of said.split(',')) {
    const [, role = '', column = ''] = /^\s*([^=]*?)\s*=\s*(.*?)\s*$/.exec(part) ?? [];
    const known = columnRoles.find((one) => one.toLowerCase() === role.toLowerCase());
    if (!known) throw new UnreadableFile(say('unknown-role', { found: part.trim(), roles: columnRoles }));
    const named = titles.findIndex((title) => title.toLowerCase() === column.toLowerCase());
    const at = named >= 0 ? named : /^\d+$/.test(column) ? Number(column) - 1 : -1;
    if (at < 0 || at >= roles.length)
      throw new UnreadableFile(
        say('unknown-column', { column, columns: titles.map((title, i) => title || String(i + 1)) }),
      );
    isTitled ||= named >= 0;
    roles[at] = known;
  }
  return {
    ...plan,
    kind: roles.includes('source') || roles.includes('target') ? 'edges' : 'nodes',
    hasTitles: isTitled || plan.hasTitles,
    roles,
  };
}

/** Is the table a square of numbers, with or without the names of nodes around it? */
function isMatrix(rows: readonly (readonly string[])[]): boolean {
  if (rows.length < 2) return false;
  const isValue = (cell: string): boolean => cell === '' || isNumber(cell);
  const first = rows[0] as readonly string[];
  const named = first.slice(1);
  const isNamed =
    named.length === rows.length - 1 &&
    (named.length > 1 || first[0] === '') &&
    rows.slice(1).every((row, i) => row[0] === named[i] && row.length <= first.length && row.slice(1).every(isValue));
  if (isNamed) return true;
  return (
    rows.length > 2 &&
    rows.every((row) => row.length === rows.length && row.every((cell) => cell !== '' && isNumber(cell)))
  );
}
