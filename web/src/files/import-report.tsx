import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { Check, CircleAlert, Minus } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { Button, Dialog } from '../ui/controls.tsx';
import { cancelImport, closeImport, type Row, useImport } from './import-many.ts';
import { useAsking } from './table-asking.ts';

const most = 20;

/** How an import goes, and at its end what came of each file. */
export function ImportReport(): ReactNode {
  const { rows, isRunning, others } = useImport();
  const isAsking = useAsking((state) => state.asked !== undefined);
  // one dialog at a time
  if (!rows || isAsking) return null;
  const done = rows.filter((row) => row.imported || row.problem || row.left).length;
  const read = rows.filter((row) => row.imported).length;
  const failed = rows.filter((row) => row.problem).length;
  const updated = rows.filter((row) => row.imported?.outcome === 'updated').length;
  const same = rows.filter((row) => row.imported?.outcome === 'same').length;
  const hasFindings = rows.some((row) => row.imported && row.imported.findings.length > 0);
  const hasWarnings = rows.some((row) => weight(row) === 2);
  const only = rows.length === 1 && read === 1 ? must(rows[0]).imported : undefined;
  const title = isRunning
    ? `Reading ${plural(rows.length, 'file')} …`
    : same === rows.length
      ? 'Nothing has changed'
      : only
        ? `“${only.file.title}” is in`
        : failed === rows.length && failed === 1
          ? 'The file was not read'
          : `${read} of ${plural(rows.length, 'file')} ${read === 1 ? 'is' : 'are'} in`;
  const about = isRunning
    ? `${done} of ${rows.length} done. A file that cannot be read does not stop the others.`
    : failed > 0
      ? `${plural(failed, 'file')} could not be read; nothing of ${failed === 1 ? 'it' : 'them'} was stored.`
      : hasFindings
        ? `Below each file is what was found while reading it.${hasWarnings && rows.length > 1 ? ' Files with warnings come first.' : ''}`
        : 'Everything was read without findings.';
  const notes = [
    ...(updated > 0 ? [`${plural(updated, 'file')} came again and got a new revision.`] : []),
    ...(same > 0 ? [`${plural(same, 'file')} ${same === 1 ? 'was' : 'were'} here already, unchanged.`] : []),
    ...(others > 0 ? [`${plural(others, 'file')} of other kinds ${others === 1 ? 'was' : 'were'} left out.`] : []),
  ];
  return (
    <Dialog
      open
      onClose={() => (isRunning ? cancelImport() : closeImport())}
      title={title}
      about={[about, ...(isRunning ? [] : notes)].join(' ')}
      size="wide"
    >
      {isRunning && <progress className="h-2 w-full shrink-0" max={rows.length} value={done} aria-label="Files read" />}
      <ul aria-label="Files" className="min-h-0 overflow-auto text-sm">
        {(isRunning ? rows : worstFirst(rows)).map((row, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two files may have one name
          <li key={i} className="border-t border-line py-1.5 first:border-0">
            <Line row={row} />
          </li>
        ))}
      </ul>
      <div className="flex justify-end gap-2">
        {isRunning ? (
          <Button onClick={cancelImport}>Cancel</Button>
        ) : (
          <>
            <Button onClick={closeImport}>Close</Button>
            {only && (
              <Link
                to={`/files/${only.file.id}`}
                onClick={closeImport}
                className="inline-flex h-8 items-center rounded-sm border border-accent bg-accent px-2.5 text-sm text-on-accent hover:opacity-90"
              >
                Open it
              </Link>
            )}
          </>
        )}
      </div>
    </Dialog>
  );
}

/** How much there is to look at: files that were not read, or only in part, then those with warnings, then all others. */
const weight = ({ problem, left, imported }: Row): number =>
  problem ? 0 : left ? 1 : imported?.findings.some((one) => one.severity !== 'info') ? 2 : 3;
const worstFirst = (rows: readonly Row[]): Row[] => [...rows].sort((a, b) => weight(a) - weight(b));

function Line({ row: { name, imported, problem, left } }: { row: Row }): ReactNode {
  if (problem)
    return (
      <p className="flex gap-2" role="alert">
        <CircleAlert size={15} className="mt-0.5 shrink-0 text-warn" aria-label="not read" />
        <span>
          <b>{name}</b>: {problem}
        </span>
      </p>
    );
  if (!imported)
    return (
      <p className="flex gap-2 text-soft">
        <Minus size={15} className="mt-0.5 shrink-0" aria-hidden="true" />
        {name}
        {left ? `, ${left}` : ' …'}
      </p>
    );
  const { file, findings } = imported;
  return (
    <div className="flex gap-2">
      <Check size={15} className="mt-0.5 shrink-0 text-good" aria-label="read" />
      <div className="min-w-0">
        <Link
          to={`/files/${file.id}`}
          onClick={closeImport}
          className="font-bold underline decoration-line underline-offset-2"
        >
          {file.title}
        </Link>{' '}
        <span className="text-soft">
          from {name}, {plural(file.head.measures.nodes, 'node')}
          {imported.outcome === 'updated' && `, revision ${file.head.number}`}
          {imported.outcome === 'same' && ', here already'}
        </span>
        {findings.length > 0 && (
          <ul className="list-disc pl-5 text-xs">
            {findings.slice(0, most).map((item, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes
              <li key={i}>{item.message}</li>
            ))}
            {findings.length > most && <li>{plural(findings.length - most, 'finding')} more</li>}
          </ul>
        )}
      </div>
    </div>
  );
}
