import { type Delimiter, delimiters, rowsOf, withoutStatement } from '@basitax/core/formats/delimited';
import {
  type ColumnRole,
  columnRoles,
  planProblem,
  roleWords,
  type TableKind,
  type TablePlan,
  tableKinds,
} from '@basitax/core/formats/table-plan';
import { plural } from '@basitax/core/words';
import { type ReactNode, useMemo, useState } from 'react';
import { Problem } from '../ui/attempt.tsx';
import { Button, Check, Dialog, Field, Segments, Select } from '../ui/controls.tsx';
import { type Asked, useAsking } from './table-asking.ts';

const shownRows = 6;
/** How much of a table is looked at for the preview. */
const seen = 100_000;

const kindWords: Readonly<Record<TableKind, string>> = {
  edges: 'A row for each edge',
  nodes: 'A row for each node',
  matrix: 'A matrix of connections',
};
const delimiterWords: Readonly<Record<Delimiter, string>> = { ',': 'comma', ';': 'semicolon', '\t': 'tab', '|': 'bar' };
const rolesOf: Readonly<Record<TableKind, readonly ColumnRole[]>> = {
  edges: ['source', 'target', 'sourcePort', 'targetPort', 'label', 'leave out'],
  nodes: ['id', 'label', 'x', 'y', 'color', 'leave out'],
  matrix: [],
};

/** Asks what the columns of a table are, with its first rows, where that is not sure. */
export default function TablePlanDialog(): ReactNode {
  const asked = useAsking((state) => state.asked);
  return asked ? <Asking key={asked.name} asked={asked} /> : null;
}

function Asking({ asked }: { asked: Asked }): ReactNode {
  const answer = useAsking((state) => state.answer);
  const [plan, setPlan] = useState<TablePlan>(asked.plan);
  const [beside, setBeside] = useState(asked.beside);
  const [forAlike, setForAlike] = useState(asked.alike > 0);
  const isWhole = asked.text.length <= seen;
  const rows = useMemo(() => {
    const text = withoutStatement(isWhole ? asked.text : asked.text.slice(0, asked.text.lastIndexOf('\n', seen)));
    return rowsOf(text, plan.delimiter).map(({ cells }) => cells.map((cell) => cell.trim()));
  }, [asked.text, isWhole, plan.delimiter]);
  const width = Math.min(
    rows.reduce((most, row) => Math.max(most, row.length), 0),
    2000,
  );
  const roles = Array.from({ length: width }, (_, i) => plan.roles[i] ?? null);
  const now: TablePlan = { ...plan, roles };
  const problem = planProblem(now)?.message;
  const put = (part: Partial<TablePlan>): void => setPlan({ ...now, ...part });
  const body = plan.hasTitles ? rows.slice(1) : rows;
  return (
    <Dialog
      open
      onClose={() => answer('stop')}
      size="huge"
      title={`What are the columns of “${asked.name}”?`}
      about={
        asked.doubt ??
        'This file holds edges, and the other file holds nodes. Check what the columns are, and whether the files belong together.'
      }
    >
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Segments
          label="What each row is"
          value={plan.kind}
          choices={tableKinds.map((kind) => [kind, kindWords[kind]] as const)}
          onChoose={(kind) =>
            put({ kind, roles: roles.map((role) => (role && rolesOf[kind].includes(role) ? role : null)) })
          }
        />
        <Field label="Cells are separated by">
          <Select
            value={plan.delimiter}
            onChange={(event) => put({ delimiter: event.target.value as Delimiter, roles: [] })}
          >
            {delimiters.map((one) => (
              <option key={one} value={one}>
                {delimiterWords[one]}
              </option>
            ))}
          </Select>
        </Field>
        <Check
          label="The first row contains titles"
          checked={plan.hasTitles}
          onChange={(hasTitles) => put({ hasTitles })}
        />
      </div>
      <div className="min-h-0 overflow-auto rounded-sm border border-line">
        <table className="text-sm" aria-label="The first rows">
          <thead>
            <tr className="bg-panel">
              {roles.map((role, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                <th key={i} className="p-1.5 text-left font-normal">
                  {plan.kind !== 'matrix' && (
                    <Select
                      aria-label={`What column ${i + 1} is${plan.hasTitles && rows[0]?.[i] ? `, ${rows[0][i]}` : ''}`}
                      className="w-44"
                      value={role ?? ''}
                      onChange={(event) => {
                        const next = columnRoles.find((one) => one === event.target.value) ?? null;
                        put({ roles: roles.map((one, k) => (k === i ? next : one)) });
                      }}
                    >
                      <option value="">an attribute</option>
                      {rolesOf[plan.kind].map((one) => (
                        <option key={one} value={one}>
                          {roleWords[one]}
                        </option>
                      ))}
                    </Select>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, shownRows).map((row, r) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
              <tr key={r} className={`border-t border-line ${r === 0 && plan.hasTitles ? 'font-bold' : ''}`}>
                {roles.map((_, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place
                  <td key={i} className="max-w-44 truncate px-3 py-1" title={row[i]}>
                    {row[i]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="text-sm text-soft">{problem === undefined && toldResult(now, body, isWhole)}</p>
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2 text-sm">
        {plan.kind === 'edges' && asked.others.length > 0 && (
          <Field label="Its nodes are in">
            <Select value={String(beside)} onChange={(event) => setBeside(Number(event.target.value))}>
              <option value="-1">no other table</option>
              {asked.others.map((one, i) => (
                <option key={one.name} value={String(i)}>
                  {one.name}
                </option>
              ))}
            </Select>
          </Field>
        )}
        {asked.alike > 0 && (
          <Check
            label={`Read ${plural(asked.alike, 'more table')} with the same columns like this`}
            checked={forAlike}
            onChange={setForAlike}
          />
        )}
      </div>
      <Problem text={problem} />
      <div className="flex justify-end gap-2">
        <Button onClick={() => answer('stop')}>Cancel the import</Button>
        <Button onClick={() => answer('leave out')}>Leave it out</Button>
        <Button
          look="primary"
          dim={problem}
          onClick={() => answer({ plan: now, beside: plan.kind === 'edges' ? beside : -1, forAlike })}
        >
          Import the table
        </Button>
      </div>
    </Dialog>
  );
}

/** What would come of the table. */
function toldResult({ kind, roles }: TablePlan, rows: readonly (readonly string[])[], isWhole: boolean): string {
  const more = isWhole ? '' : ' in its first part';
  if (kind === 'matrix') return `${plural(rows.length, 'node')}${more}.`;
  const attributes = roles.filter((role) => role === null).length;
  const beside = attributes > 0 ? `, each with ${plural(attributes, 'attribute')}` : '';
  if (kind === 'nodes') return `${plural(rows.length, 'node')}${more}${beside}.`;
  const ends = new Set<string>();
  for (const row of rows)
    for (const role of ['source', 'target'] as const) {
      const cell = row[roles.indexOf(role)];
      if (cell) ends.add(cell);
    }
  return `${plural(rows.length, 'edge')} between ${plural(ends.size, 'node')}${more}${beside}.`;
}
