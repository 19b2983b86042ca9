import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useParams } from 'react-router';
import { toast } from 'sonner';
import { api } from '../api/client.ts';
import { Downloads, Report } from '../batch/report.tsx';
import { Problem, tellFailure } from '../ui/attempt.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

async function keep(run: string, step: number): Promise<void> {
  try {
    const kept = await api.keepReport(run, step);
    toast(`“${kept.title}” is kept.`, {
      action: { label: 'Show it', onClick: () => window.open(`/reports/${kept.id}`, '_blank', 'noopener') },
    });
  } catch (error) {
    tellFailure('The report could not be kept')(error);
  }
}

/** What the scripts of a run made of all its files: tables, pictures, text. */
export default function BatchReportScreen(): ReactNode {
  const { id = '' } = useParams();
  const reports = useQuery({ queryKey: ['batch-report', id], queryFn: () => api.batchReports(id), retry: false });
  return (
    <div className="flex h-full flex-col">
      <TopLine>
        <BackLink to={`/batches/${id}`}>The run</BackLink>
        <h1 className="font-bold">Reports</h1>
        <span className="text-soft">What scripts made of all files of the run.</span>
        <Link className="ml-auto text-sm underline" to="/reports">
          Kept reports
        </Link>
      </TopLine>
      <main className="flex min-h-0 flex-1 flex-col gap-6 overflow-auto p-5">
        {reports.isPending ? (
          <Notice title="Putting the reports together …" />
        ) : reports.isError ? (
          <Notice title={reports.error.message} alert>
            <Button onClick={() => void reports.refetch()}>Try again</Button>
          </Notice>
        ) : reports.data.length === 0 ? (
          <Notice title="This run has no report.">
            A script makes one with two functions: each(file), and all(results) for what each gave.
          </Notice>
        ) : (
          reports.data.map(({ step, title, files, report, problem }) => (
            <section key={step} aria-label={title} className="flex flex-col gap-2">
              <div className="flex flex-wrap items-center gap-3">
                <h2 className="text-base font-bold">{title}</h2>
                <span className="text-sm text-soft">
                  Step {step + 1}, {plural(files, 'file')}
                </span>
                {report && (
                  <Downloads title={title} report={report}>
                    <Button
                      className="h-7"
                      title="As it is now, whatever becomes of the run"
                      onClick={() => void keep(id, step)}
                    >
                      Keep this report
                    </Button>
                  </Downloads>
                )}
              </div>
              <Problem text={problem} />
              {report && <Report title={title} report={report} />}
            </section>
          ))
        )}
      </main>
    </div>
  );
}
