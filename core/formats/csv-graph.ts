import { csvParseRows } from 'd3-dsv';
import { type Doc, emptyDoc } from '../document/doc.ts';
import { docFromJson, type ReadFile } from '../document/file.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { legalName } from '../document/names.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { repair } from '../document/validate.ts';
import { type Finding, finding } from '../finding.ts';
import { csvText, guarded, unguarded } from '../table/cells.ts';
import { bridgeLevels, idClaimer, type LooseWire } from './levels.ts';
import { find } from './sentences.ts';

/** The columns of our own tables; `more` holds all other fields of a row as JSON. */
const columns = ['row', 'id', 'name', 'label', 'kind', 'x', 'y', 'from', 'from port', 'to', 'to port', 'more'] as const;
type Column = (typeof columns)[number];

/**
 * Nodes and wires as one table (RFC 4180), a row each: first all nodes, then all wires. What is nested stands beside
 * the rest; frames, notes and graphs have no place in it. A cell that a spreadsheet would take for a formula has a
 * quote in front. O(nodes + wires).
 */
export function writeCsv(doc: Doc): string {
  const cells = (row: Partial<Record<Column, string>>): string[] => columns.map((column) => row[column] ?? '');
  const nodes = [...doc.nodes.values()].map(
    ({ id, graph: _graph, frame: _frame, inner: _inner, name, label, kind, x, y, ...more }) =>
      cells({
        row: 'node',
        id: guarded(id),
        name: guarded(name),
        label: guarded(label ?? ''),
        kind: guarded(kind),
        x: String(x),
        y: String(y),
        more: JSON.stringify(more),
      }),
  );
  const wires = [...doc.wires.values()].map(({ id, from, to, ...more }) =>
    cells({
      row: 'wire',
      id: guarded(id),
      from: guarded(from.node),
      'from port': guarded(from.port),
      to: guarded(to.node),
      'to port': guarded(to.port),
      more: Object.keys(more).length > 0 ? JSON.stringify(more) : '',
    }),
  );
  return csvText([columns, ...nodes, ...wires]);
}

const sources = ['source', 'from', 'src', 'start'];
const targets = ['target', 'to', 'dst', 'end'];

/**
 * Reads such a table, and tables of edges as others write them: a row each, with columns called source and target or
 * from and to, or the first two where there are no titles; what stands in further columns is kept with the wire. Nodes
 * without a place are named in `unplaced`.
 * Throws UnreadableFile where it is no such table. O(text).
 */
export function readCsv(text: string, title: string): ReadFile & { unplaced: readonly Id[] } {
  const rows = csvParseRows(text).filter((row) => row.some((cell) => cell.trim() !== ''));
  const head = rows[0]?.map((cell) => cell.trim().toLowerCase()) ?? [];
  if (rows.length === 0) throw new UnreadableFile('this table is empty.');
  return head[0] === 'row' && head.includes('id') ? readOwn(rows, head, title) : readEdges(rows, head, title);
}

function readOwn(
  rows: readonly string[][],
  head: readonly string[],
  title: string,
): ReadFile & { unplaced: readonly Id[] } {
  const nodes: Json[] = [];
  const wires: Json[] = [];
  const unplaced: Id[] = [];
  for (const [i, row] of rows.entries()) {
    if (i === 0) continue;
    const cell = (column: Column): string => unguarded(row[head.indexOf(column)] ?? '');
    const more = (): Record<string, Json> => {
      if (cell('more') === '') return {};
      try {
        return JSON.parse(cell('more')) as Record<string, Json>;
      } catch {
        throw new UnreadableFile(`Row ${i + 1}: what stands in the column “more” is no JSON.`);
      }
    };
    if (cell('row') === 'node') {
      const [x, y] = [Number(cell('x')), Number(cell('y'))];
      const hasPlace = cell('x') !== '' && cell('y') !== '' && Number.isFinite(x) && Number.isFinite(y);
      if (!hasPlace) unplaced.push(cell('id'));
      const label = cell('label') === '' ? {} : { label: cell('label') };
      nodes.push({
        ...more(),
        id: cell('id'),
        graph: 'root',
        kind: cell('kind') || 'foreign.node',
        name: cell('name') || legalName(cell('id')),
        ...label,
        x: hasPlace ? x : 0,
        y: hasPlace ? y : 0,
      });
    } else if (cell('row') === 'wire')
      wires.push({
        ...more(),
        id: cell('id'),
        from: { node: cell('from'), port: cell('from port') },
        to: { node: cell('to'), port: cell('to port') },
      });
    else throw new UnreadableFile(`Row ${i + 1}: the first column says “${row[0]}”; it is node or wire.`);
  }
  const base = emptyDoc('document', title.slice(0, 300), { id: 'none', version: 0 });
  const withPorts = nodes.map((node) => ({ ports: [], ...(node as object) }));
  return {
    ...docFromJson({
      ...base.head,
      graphs: [{ id: 'root', name: title.slice(0, 200) || 'Graph' }],
      frames: [],
      notes: [],
      nodes: withPorts,
      wires,
    }),
    unplaced,
  };
}

function readEdges(
  rows: readonly string[][],
  head: readonly string[],
  title: string,
): ReadFile & { unplaced: readonly Id[] } {
  const [from, to] = [
    head.findIndex((name) => sources.includes(name)),
    head.findIndex((name) => targets.includes(name)),
  ];
  const isTitled = from >= 0 && to >= 0;
  const [a, b] = isTitled ? [from, to] : [0, 1];
  if (rows.some((row) => row.length < 2))
    throw new UnreadableFile(
      'this table has rows of one cell: a table of edges has two ends in each row, under titles such as source and target.',
    );
  const findings: Finding[] = [];
  const claim = idClaimer(['root']);
  const nodes = new Map<Id, GraphNode>();
  const ids = new Map<string, Id>();
  const nodeOf = (name: string): Id => {
    const known = ids.get(name);
    if (known !== undefined) return known;
    const id = claim(name);
    ids.set(name, id);
    nodes.set(id, {
      id,
      graph: 'root',
      kind: 'foreign.node',
      name: legalName(name),
      ...(name !== legalName(name) && { label: name.slice(0, 500) }),
      x: 0,
      y: 0,
      ports: [],
    });
    return id;
  };
  const loose: LooseWire[] = [];
  rows.slice(isTitled ? 1 : 0).forEach((row, i) => {
    const [source, target] = [(row[a] ?? '').trim(), (row[b] ?? '').trim()];
    if (source === '' || target === '') {
      findings.push(find('half-edge', 'warning', [], 'row-with-one-end', { i, isTitled }));
      return;
    }
    const more = Object.fromEntries(
      row.flatMap((cell, k) =>
        k === a || k === b || cell === '' ? [] : [[isTitled ? (head[k] ?? String(k + 1)) : String(k + 1), cell]],
      ),
    );
    const [one, other] = [nodeOf(source), nodeOf(target)];
    const extra = Object.keys(more).length > 0 ? ({ csv: more } as Partial<Wire>) : {};
    loose.push({
      id: claim(`e${i + 1}`),
      source,
      target,
      sourcePort: undefined,
      targetPort: undefined,
      from: one,
      to: other,
      late: () => [one, other],
      extra,
    });
  });
  if (loose.length === 0)
    throw new UnreadableFile(
      'this table holds no edge: each row has two ends, under titles such as source and target.',
    );
  const base = emptyDoc('document', title.slice(0, 300), { id: 'none', version: 0 });
  const say = (rule: string, severity: Finding['severity'], message: string, place: readonly Id[]): void =>
    void findings.push(finding(rule, severity, place, message));
  const graphs = new Map([['root', { id: 'root', name: title.slice(0, 200) || 'Graph' }]]);
  const { wires, made } = bridgeLevels(loose, nodes, graphs, 'root', { claim, say });
  const whole = repair({ ...base, graphs, nodes, wires });
  return { doc: whole.doc, findings: [...findings, ...whole.findings], unplaced: [...nodes.keys(), ...made] };
}
