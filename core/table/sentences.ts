import { mostLabel } from '../document/schema.ts';
import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('table', {
  'bad-line': ({ line, message }: { line: number; message: string }) => `Line ${line}: ${message}`,
  'no-head': () => 'the first row names the columns, one of them “id” or “path”.',
  'no-node': ({ id, path }: { id: string; path: string }) =>
    `there is no node ${id === '' ? `“${path}”` : `with the id “${id}”${path === '' ? '' : `, and none at “${path}”`}`}.`,
  twice: ({ path, first }: { path: string; first: number }) =>
    `“${path}” stands in line ${first} already; this row is left out.`,
  'other-length': ({ cells, head }: { cells: number; head: number }) =>
    `the row has ${cells} cells, the first one ${head}; what is missing is left as it is.`,
  'doubled-column': ({ column }: { column: string }) => `the column “${column}” stands twice; the last one counts.`,
  'no-parameter': ({ column }: { column: string }) => `no node has a parameter “${column}”; the column is left out.`,
  'label-too-long': ({ node }: { node: string }) =>
    `the label of “${node}” is longer than ${mostLabel.toLocaleString('en')} characters.`,
  'no-color': ({ node, value }: { node: string; value: string }) =>
    `“${value}” is not a colour for “${node}”; write one as #2f7d6b, or (none).`,
  'several-frames': ({ title, count }: { title: string; count: number }) =>
    `${count} frames of its graph are called “${title}”; give them different titles first.`,
  'title-too-long': () => 'the title of the frame is longer than 500 characters.',
  'no-value': ({ node, value, parameter }: { node: string; value: string; parameter: string }) =>
    `${node}: “${value}” is not a value of ${parameter}.`,
  'too-large': ({ megabytes }: { megabytes: number }) => `The table is larger than ${megabytes} MB unpacked.`,
  'not-xlsx': () => 'This is not an XLSX table that can be read.',
  'table-not-given': () => 'the table was not given.',
  'no-query': ({ problem }: { problem: string }) => `The query over nodes cannot be read: ${problem}`,
});
