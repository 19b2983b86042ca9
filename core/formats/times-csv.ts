import { csvFormatRows, csvParseRows } from 'd3-dsv';
import { type Doc, nodePath, nodesByPath } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Finding } from '../finding.ts';
import type { Times } from '../inspect/cost.ts';
import { find } from './sentences.ts';

/**
 * A table of times: RFC 4180, two columns, a first row of titles where its second cell is no number. Cells behind the
 * second are left alone.
 */
export function readTimes(doc: Doc, text: string): { readonly times: Times; readonly findings: readonly Finding[] } {
  const rows = csvParseRows(text.replace(/^\uFEFF/, ''));
  const byPath = nodesByPath(doc);
  const times = new Map<Id, number>();
  const findings: Finding[] = [];
  rows.forEach(([path = '', ms = ''], i) => {
    const say = (why: string): void => void findings.push(find('times', 'warning', [], 'bad-row', { i, why }));
    const value = ms.trim() === '' ? Number.NaN : Number(ms);
    if (path.trim() === '' && ms.trim() === '') return;
    if (!(value >= 0 && Number.isFinite(value))) {
      if (i > 0) say(`“${ms}” is not a time; give milliseconds, such as 12.5.`);
      return;
    }
    const id = byPath.get(path.trim().replace(/^\//, ''));
    if (id === undefined)
      say(`there is no node “${path}”; a path is the names of nested nodes and the node with / between.`);
    else times.set(id, (times.get(id) ?? 0) + value);
  });
  return { times, findings };
}

/** Times by path as times by node; how many paths lead to no node any more is said. */
export function timesByPath(
  doc: Doc,
  byPath: Readonly<Record<string, number>>,
): { readonly times: Times; readonly lost: number } {
  const ids = nodesByPath(doc);
  const times = new Map<Id, number>();
  let lost = 0;
  for (const [path, ms] of Object.entries(byPath)) {
    const id = ids.get(path);
    if (id === undefined) lost++;
    else times.set(id, ms);
  }
  return { times, lost };
}

/** The same table: path and milliseconds, in the order of the times. */
export function writeTimes(doc: Doc, times: Times): string {
  const rows = [...times].flatMap(([id, ms]) => {
    const node = doc.nodes.get(id);
    return node ? [[nodePath(doc, node), String(ms)]] : [];
  });
  return `${csvFormatRows([['node', 'milliseconds'], ...rows])}\n`;
}
