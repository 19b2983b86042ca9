import type { Health } from '@basitax/api/health';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { format } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { teamApi } from '../api/team.ts';
import { aimAt } from '../batch/aim.ts';
import { FindingsChart, ScoreChart } from '../health/charts.tsx';
import { Button, Notice, Segments, Select } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const spans = [
  ['30', '30 days'],
  ['60', '60 days'],
  ['365', 'A year'],
] as const;
type Span = (typeof spans)[number][0];
type Stand = Health['files'][number]['now'];

const cell = 'py-1.5 pr-3';
const number = `${cell} text-right tabular-nums`;

/** How readable the team’s files are over time: what got worse and by which revision, the worst files first. */
export default function HealthScreen(): ReactNode {
  const [params, setParams] = useSearchParams();
  const [project, of] = [params.get('project') ?? undefined, params.get('file') ?? undefined];
  const asked = params.get('days');
  const span: Span = spans.find(([value]) => value === asked)?.[0] ?? '60';
  const projects = useQuery({ queryKey: ['projects'], queryFn: teamApi.projects });
  const health = useQuery({
    queryKey: ['health', project, of, span],
    queryFn: () =>
      teamApi.health({
        days: Number(span),
        ...(project !== undefined && { project }),
        ...(of !== undefined && { of }),
      }),
    staleTime: 0,
    // another span of the same is shown meanwhile; what belongs to others is not
    placeholderData: (last, query) => (query?.queryKey[1] === project && query?.queryKey[2] === of ? last : undefined),
  });
  const go = (change: { project?: string; file?: string; days?: string }): void => {
    const next = {
      ...(project !== undefined && { project }),
      ...(of !== undefined && { file: of }),
      days: span,
      ...change,
    };
    setParams(Object.fromEntries(Object.entries(next).filter(([, value]) => value !== '')) as Record<string, string>);
  };
  const only = of === undefined ? undefined : health.data?.files[0];
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/files">Files</BackLink>
        <h1 className="font-bold">Health</h1>
        {of !== undefined ? (
          <>
            <span className="truncate">{only?.title}</span>
            <Button look="quiet" onClick={() => setParams({ days: span })}>
              All files
            </Button>
          </>
        ) : (
          <Select aria-label="Project" value={project ?? ''} onChange={(event) => go({ project: event.target.value })}>
            <option value="">All projects</option>
            {projects.data?.map((one) => (
              <option key={one.id} value={one.id}>
                {one.title}
              </option>
            ))}
          </Select>
        )}
        <Segments<Span> label="How far back" value={span} choices={spans} onChoose={(days) => go({ days })} />
      </TopLine>
      {health.isPending ? (
        <Notice title="Counting …" />
      ) : health.isError ? (
        <Notice title={health.error.message} alert>
          <Button onClick={() => void health.refetch()}>Try again</Button>
        </Notice>
      ) : health.data.files.length === 0 ? (
        <Notice title="No files here yet." />
      ) : (
        <main className="min-h-0 flex-1 overflow-auto p-5">
          <div className="mx-auto flex max-w-6xl flex-col gap-7">
            <div className="grid grid-cols-1 gap-6 lg:grid-cols-2">
              <ScoreChart
                days={health.data.days}
                title={of === undefined ? 'Readability, mean of the files' : 'Readability'}
              />
              <FindingsChart days={health.data.days} title="Findings of the house rules" />
            </div>
            <Worse rows={health.data.worse} one={of !== undefined} />
            {of === undefined && <WorstFiles rows={health.data.files} onFile={(file) => go({ file, project: '' })} />}
          </div>
        </main>
      )}
    </div>
  );
}

/** A number with the one that it was, where that differs. */
function Change({ from, to, worse }: { from: number | null; to: number | null; worse: 'more' | 'less' }): ReactNode {
  const said = (value: number | null): string => (value === null ? 'none' : Math.round(value).toLocaleString('en'));
  if (from === null || to === null || Math.round(from) === Math.round(to))
    return <span className="text-soft">{said(to)}</span>;
  const isWorse = worse === 'more' ? to > from : to < from;
  return (
    <>
      <span className="text-soft">{said(from)} → </span>
      <b className={isWorse ? 'text-warn' : 'text-good'}>{said(to)}</b>
    </>
  );
}

function NumberHeads(): ReactNode {
  return ['Readability', 'Errors', 'Warnings'].map((title) => (
    <th key={title} className={`${cell} text-right font-normal`}>
      {title}
    </th>
  ));
}

function Numbers({ from, to }: { from: Stand; to: Stand }): ReactNode {
  return (
    <>
      <td className={number}>
        <Change from={from.score} to={to.score} worse="less" />
      </td>
      <td className={number}>
        <Change from={from.error} to={to.error} worse="more" />
      </td>
      <td className={number}>
        <Change from={from.warning} to={to.warning} worse="more" />
      </td>
    </>
  );
}

const first = 8;

function Worse({ rows, one }: { rows: Health['worse']; one: boolean }): ReactNode {
  const [most, setMost] = useState(first);
  return (
    <section aria-label="What got worse" className="flex flex-col gap-2">
      <h2 className="text-base font-bold">What got worse, and by which revision</h2>
      {rows.length === 0 ? (
        <p className="text-sm text-good">No revision in this time made a file worse.</p>
      ) : (
        <table className="w-full text-left text-sm">
          <thead className="text-xs text-soft">
            <tr>
              {!one && <th className={`${cell} font-normal`}>File</th>}
              <th className={`${cell} font-normal`}>Revision</th>
              <th className={`${cell} font-normal`}>By</th>
              <NumberHeads />
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, most).map((row) => (
              <tr key={`${row.file} ${row.number}`} className="border-t border-line">
                {!one && <td className={`${cell} font-bold`}>{row.title}</td>}
                <td className={cell}>
                  <Link
                    to={`/files/${row.file}/revisions/${row.number}`}
                    className="underline decoration-line underline-offset-2"
                  >
                    {row.number}, “{row.message}”
                  </Link>
                </td>
                <td className={`${cell} whitespace-nowrap`}>
                  {row.author} <span className="text-soft">{format(new Date(row.at), 'd MMM')}</span>
                </td>
                <Numbers from={row.before} to={row.after} />
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {rows.length > most && (
        <button type="button" className="self-start text-sm text-soft underline" onClick={() => setMost(rows.length)}>
          {plural(rows.length - most, 'other')}
        </button>
      )}
    </section>
  );
}

function WorstFiles({ rows, onFile }: { rows: Health['files']; onFile: (file: string) => void }): ReactNode {
  const [most, setMost] = useState(25);
  return (
    <section aria-label="Worst files" className="flex flex-col gap-2">
      <div className="flex items-baseline gap-4">
        <h2 className="text-base font-bold">Files, the worst first</h2>
        {rows.length > 0 && (
          <Link
            to="/batches"
            state={aimAt(rows.slice(0, most).map((row) => ({ id: row.file })))}
            className="text-sm underline"
          >
            Batch run over {rows.length > most ? `the worst ${most}` : 'these'} …
          </Link>
        )}
      </div>
      <table className="w-full text-left text-sm">
        <thead className="text-xs text-soft">
          <tr>
            <th className={`${cell} font-normal`}>File</th>
            <th className={`${cell} text-right font-normal`}>Nodes</th>
            <NumberHeads />
            <th className={`${cell} text-right font-normal`}>
              <span className="sr-only">Over time</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.slice(0, most).map((row) => (
            <tr key={row.file} className="border-t border-line">
              <td className={cell}>
                <Link to={`/files/${row.file}`} className="font-bold underline decoration-line underline-offset-2">
                  {row.title}
                </Link>
              </td>
              <td className={number}>{row.nodes.toLocaleString('en')}</td>
              <Numbers from={row.was} to={row.now} />
              <td className="py-1 text-right">
                <Button className="h-7" aria-label={`${row.title} over time`} onClick={() => onFile(row.file)}>
                  Over time
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > most && (
        <button type="button" className="self-start text-sm text-soft underline" onClick={() => setMost(rows.length)}>
          {plural(rows.length - most, 'other')}
        </button>
      )}
    </section>
  );
}
