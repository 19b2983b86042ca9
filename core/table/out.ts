import { attributesOf } from '../document/attributes.ts';
import { type Doc, nodePath } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { hasParameter } from '../structure/parameters.ts';
import { type Cell, cellOf, fileColumn, fileIdColumn, idColumns, parameterColumn, type TableField } from './cells.ts';

/** Nodes of a document of which something is wanted; `file` is said in a table of several. */
export interface Tabled {
  readonly file: string;
  readonly doc: Doc;
  readonly kinds: Kinds;
  readonly nodes: readonly GraphNode[];
}

/** What the columns of a table are, beside those that say which node it is about. */
export interface Columns {
  readonly fields: readonly TableField[];
  readonly parameters: readonly string[];
}

/** The fields that a table has where nobody says otherwise. */
export const usualFields: readonly TableField[] = ['label'];

function fieldCell(doc: Doc, node: GraphNode, field: TableField): Cell {
  if (field === 'frame') return node.frame === undefined ? '' : (doc.frames.get(node.frame)?.title ?? '');
  return node[field] ?? '';
}

/** The rows of one file. O(nodes · columns). */
export const bodyOf = (
  { doc, kinds, nodes }: Pick<Tabled, 'doc' | 'kinds' | 'nodes'>,
  { fields, parameters }: Columns,
): Cell[][] =>
  nodes.map((node) => [
    node.id,
    nodePath(doc, node),
    kinds.title(node.kind),
    ...fields.map((field) => fieldCell(doc, node, field)),
    ...parameters.map((id) => cellOf(hasParameter(kinds, node, id) ? kinds.value(node, id) : attributesOf(node)[id])),
  ]);

/** The first row of a table. */
export const headOf = ({ fields, parameters }: Columns, files: 'none' | 'named' | 'with ids'): string[] => [
  ...(files === 'none' ? [] : files === 'named' ? [fileColumn] : [fileColumn, fileIdColumn]),
  ...idColumns,
  ...fields,
  ...parameters.map(parameterColumn),
];

/**
 * Nodes of one file as a table: id, path, kind and the fields, then a column for each parameter or attribute, with the
 * value that counts, set or not. Where a node lacks it its cell is empty. O(nodes · columns).
 */
export const tableOf = (one: Pick<Tabled, 'doc' | 'kinds' | 'nodes'>, columns: Columns): Cell[][] => [
  headOf(columns, 'none'),
  ...bodyOf(one, columns),
];

/** The same of several files, with columns before that say which file a row is about. */
export function tablesOf(all: readonly Tabled[], columns: Columns): Cell[][] {
  return [headOf(columns, 'named'), ...all.flatMap((one) => bodyOf(one, columns).map((row) => [one.file, ...row]))];
}
