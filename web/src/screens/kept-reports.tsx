import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format } from 'date-fns';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { Downloads, Report } from '../batch/report.tsx';
import { tell } from '../batch/words.ts';
import { Button, Notice, Segments, Select } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const TotalsChart = lazy(() => import('../batch/totals-chart.tsx'));

const dated = (at: string): string => format(new Date(at), 'd MMM yyyy, HH:mm');

/** Reports of batch runs that were kept: the list, one of them, and how its numbers went from night to night. */
export default function KeptReportsScreen(): ReactNode {
  const { id } = useParams();
  const reports = useQuery({ queryKey: ['kept-reports'], queryFn: api.keptReports });
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to="/batches">Batch runs</BackLink>
        <h1 className="font-bold">Kept reports</h1>
        <span className="text-soft">Each as it was when a person or a schedule kept it.</span>
      </TopLine>
      <main className="flex min-h-0 flex-1">
        <section aria-label="Reports" className="w-80 shrink-0 overflow-auto border-r border-line bg-panel p-2">
          {reports.isPending ? (
            <Notice title="Loading the reports …" />
          ) : reports.isError ? (
            <Notice title={reports.error.message} alert />
          ) : reports.data.length === 0 ? (
            <p className="p-2 text-sm text-soft">
              No reports are kept yet. A schedule keeps those of its scripts; the page of a run’s reports has a button.
            </p>
          ) : (
            <ul>
              {reports.data.map((one) => (
                <li key={one.id}>
                  <Link
                    to={`/reports/${one.id}`}
                    aria-current={one.id === id || undefined}
                    className="flex flex-col rounded-sm px-2 py-1.5 text-sm hover:bg-accent-wash aria-current:bg-accent-wash"
                  >
                    <span className="truncate font-bold">{one.title}</span>
                    <span className="truncate">{one.runTitle}</span>
                    <span className="text-xs text-soft">
                      {dated(one.createdAt)}, {one.schedule === null ? one.person : 'by its schedule'}
                    </span>
                  </Link>
                </li>
              ))}
            </ul>
          )}
        </section>
        <section aria-label="Report" className="min-w-0 flex-1 overflow-auto p-5">
          {id === undefined ? <Notice title="Choose a report" /> : <Kept key={id} id={id} />}
        </section>
      </main>
    </div>
  );
}

function Kept({ id }: { id: string }): ReactNode {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const may = lacksRole(usePerson().data, 'editor');
  const kept = useQuery({ queryKey: ['kept-report', id], queryFn: () => api.keptReport(id), retry: false });
  if (kept.isPending) return <Notice title="Loading the report …" />;
  if (kept.isError) return <Notice title={kept.error.message} alert />;
  const { title, run, runTitle, createdAt, report, before, totals } = kept.data;
  const remove = (): void =>
    void api
      .removeKeptReport(id)
      .then(() => {
        navigate('/reports');
        return queries.invalidateQueries({ queryKey: ['kept-reports'] });
      })
      .catch(tell);
  return (
    <div className="flex flex-col gap-4">
      <header className="flex flex-wrap items-center gap-3">
        <h2 className="text-base font-bold">{title}</h2>
        <span className="text-sm text-soft">
          {dated(createdAt)}, from{' '}
          <Link className="underline" to={`/batches/${run}`}>
            {runTitle}
          </Link>
        </span>
        <Downloads title={title} report={report}>
          <Button className="h-7" dim={may} onClick={remove}>
            Remove the report
          </Button>
        </Downloads>
      </header>
      {before.length > 0 && <Course kept={[...before].reverse().concat([{ ...kept.data, totals }])} />}
      <Report title={title} report={report} />
    </div>
  );
}

/** How a column of numbers went over all the times that the report was kept. */
function Course({
  kept,
}: {
  kept: readonly { createdAt: string; totals: Record<string, { sum: number; mean: number }> }[];
}): ReactNode {
  const columns = Object.keys(kept.at(-1)?.totals ?? {});
  const [column, setColumn] = useState(columns[0]);
  const [which, setWhich] = useState<'sum' | 'mean'>('sum');
  if (column === undefined) return null;
  const points = kept.flatMap(({ createdAt, totals }) => {
    const one = totals[column];
    return one ? [{ when: format(new Date(createdAt), 'd MMM HH:mm'), value: one[which] }] : [];
  });
  return (
    <section aria-label="Over time" className="flex flex-col gap-1 rounded border border-line bg-panel p-3">
      <div className="flex items-center gap-2 text-sm">
        <h3 className="font-bold">Over {plural(kept.length, 'run')}</h3>
        <Select aria-label="Column" value={column} onChange={(event) => setColumn(event.target.value)}>
          {columns.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
        <Segments<'sum' | 'mean'>
          label="Sum or mean"
          value={which}
          choices={[
            ['sum', 'Sum'],
            ['mean', 'Mean'],
          ]}
          onChoose={setWhich}
        />
      </div>
      <Suspense fallback={<p className="text-sm text-soft">Drawing the chart …</p>}>
        <TotalsChart title={`${column}, ${which}`} points={points} />
      </Suspense>
    </section>
  );
}
