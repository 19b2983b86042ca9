import { type ReportFormat, type RunReport, reportText } from '@basitax/core/script/report';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { useParams } from 'react-router';
import { api } from '../api/client.ts';
import { download } from '../editor/download.ts';
import { Button, Notice, Select } from '../ui/controls.tsx';
import { BackLink, TopLine } from '../ui/top-line.tsx';

const ReportChart = lazy(() => import('../batch/report-chart.tsx'));

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
                {report && <Downloads title={title} report={report} />}
              </div>
              {problem && (
                <p role="alert" className="text-sm text-warn">
                  {problem}
                </p>
              )}
              {report && <Report title={title} report={report} />}
            </section>
          ))
        )}
      </main>
    </div>
  );
}

const types: Readonly<Record<ReportFormat, string>> = {
  csv: 'text/csv',
  md: 'text/markdown',
  json: 'application/json',
  svg: 'image/svg+xml',
  txt: 'text/plain',
};
const formats: Readonly<Record<RunReport['is'], readonly (readonly [ReportFormat, string])[]>> = {
  table: [
    ['csv', 'CSV'],
    ['md', 'Markdown'],
    ['json', 'JSON'],
  ],
  picture: [['svg', 'SVG']],
  text: [['txt', 'Text']],
  json: [['json', 'JSON']],
};

const Downloads = ({ title, report }: { title: string; report: RunReport }): ReactNode => (
  <span className="ml-auto flex gap-1.5">
    {formats[report.is].map(([format, name]) => (
      <Button
        key={format}
        className="h-7"
        onClick={() => download(`${title}.${format}`, reportText(report, format), types[format])}
      >
        Download {name}
      </Button>
    ))}
  </span>
);

function Report({ title, report }: { title: string; report: RunReport }): ReactNode {
  switch (report.is) {
    case 'table':
      return <Table title={title} report={report} />;
    case 'picture':
      // an image runs nothing that stands in it
      return (
        <img
          src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(report.text)}`}
          alt={title}
          className="max-w-full self-start rounded-sm border border-line bg-white p-2"
        />
      );
    case 'text':
      return (
        <pre className="overflow-auto border border-line bg-ticket p-2 font-mono text-xs whitespace-pre-wrap">
          {report.text}
        </pre>
      );
    case 'json':
      return (
        <pre className="overflow-auto border border-line bg-ticket p-2 font-mono text-xs">
          {reportText(report, 'json')}
        </pre>
      );
  }
}

type TableReport = RunReport & { is: 'table' };
const first = 100;

const isNumber = (rows: TableReport['rows'], column: string): boolean =>
  rows.every((row) => row[column] === undefined || row[column] === null || typeof row[column] === 'number');
const shown = (value: unknown): string =>
  value === undefined || value === null
    ? ''
    : typeof value === 'number'
      ? value.toLocaleString('en', { maximumFractionDigits: 2 })
      : typeof value === 'object'
        ? JSON.stringify(value)
        : String(value);

/** The rows, and a chart of one column of numbers where there is one. */
function Table({ title, report: { columns, rows } }: { title: string; report: TableReport }): ReactNode {
  const numbers = columns.filter((column) => isNumber(rows, column));
  const label = columns.find((column) => !numbers.includes(column));
  const [most, setMost] = useState(first);
  const [charted, setCharted] = useState(numbers[0]);
  const isCharted = label !== undefined && charted !== undefined;
  return (
    <div className={`grid items-start gap-4 ${isCharted ? 'lg:grid-cols-2' : ''}`}>
      {isCharted && (
        <div className="flex min-w-0 flex-col gap-1 lg:order-2">
          <span className="flex items-center gap-2 text-sm text-soft">
            Chart of
            <Select aria-label="Chart of" value={charted} onChange={(event) => setCharted(event.target.value)}>
              {numbers.map((column) => (
                <option key={column}>{column}</option>
              ))}
            </Select>
          </span>
          <Suspense fallback={<p className="text-sm text-soft">Drawing the chart …</p>}>
            <ReportChart title={`${title}: ${charted}`} rows={rows} label={label} value={charted} />
          </Suspense>
        </div>
      )}
      <div className="flex min-w-0 flex-col gap-1">
        <div className="max-h-[70vh] overflow-auto rounded-sm border border-line">
          <table className="w-full text-left text-sm">
            <thead className="sticky top-0 bg-panel text-xs text-soft">
              <tr>
                {columns.map((column) => (
                  <th
                    key={column}
                    scope="col"
                    className={`px-2 py-1 font-normal ${numbers.includes(column) ? 'text-right' : ''}`}
                  >
                    {column}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.slice(0, most).map((row, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the rows do not change while they are shown
                <tr key={i} className="border-t border-line">
                  {columns.map((column) => (
                    <td
                      key={column}
                      className={`px-2 py-0.5 break-words ${numbers.includes(column) ? 'text-right tabular-nums' : ''}`}
                    >
                      {shown(row[column])}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {rows.length > most && (
          <button type="button" className="self-start text-sm text-soft underline" onClick={() => setMost(most * 10)}>
            {(rows.length - most).toLocaleString('en')} more rows
          </button>
        )}
      </div>
    </div>
  );
}
