import { numberColumns, type ReportFormat, type RunReport, reportText } from '@basitax/core/script/report';
import { lazy, type ReactNode, Suspense, useState } from 'react';
import { download } from '../editor/download.ts';
import { Button, Select } from '../ui/controls.tsx';

const ReportChart = lazy(() => import('./report-chart.tsx'));

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

/** A report in each format that it can be written in. */
export const Downloads = ({
  title,
  report,
  children,
}: {
  title: string;
  report: RunReport;
  /** What else can be done with it. */
  children?: ReactNode;
}): ReactNode => (
  <span className="ml-auto flex gap-1.5">
    {children}
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

/** A report: a table with a chart, a picture, or text. */
export function Report({ title, report }: { title: string; report: RunReport }): ReactNode {
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

const shown = (value: unknown): string =>
  value === undefined || value === null
    ? ''
    : typeof value === 'number'
      ? value.toLocaleString('en', { maximumFractionDigits: 2 })
      : typeof value === 'object'
        ? JSON.stringify(value)
        : String(value);

/** The rows, and a chart of one column of numbers where there is one. */
function Table({ title, report }: { title: string; report: TableReport }): ReactNode {
  const { columns, rows } = report;
  const numbers = numberColumns(report);
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
