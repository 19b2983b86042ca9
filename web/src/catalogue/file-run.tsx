import { plural } from '@basitax/core/words';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client.ts';
import { messageOf } from '../ui/attempt.tsx';
import { Button, Dialog } from '../ui/controls.tsx';

type State = 'waiting' | 'planned' | 'done' | 'failed';

interface Row {
  readonly file: string;
  readonly title: string;
  readonly state: State;
  readonly revision?: number;
  readonly words: string;
  readonly findings: readonly { readonly severity: string; readonly message: string }[];
  readonly isChosen: boolean;
}

const verdicts = { same: 'function same', 'ends-same': 'ends same', changed: 'function changed' } as const;

/**
 * An operation over several stored files: first what it would do to each, then, on those that are chosen, a revision of
 * each.
 */
export function FileRun({
  title,
  operation,
  options,
  message,
  files,
  onClose,
}: {
  title: string;
  operation: string;
  options: Record<string, unknown>;
  message: string;
  files: readonly { readonly file: string; readonly title: string }[];
  onClose: () => void;
}): ReactNode {
  const [rows, setRows] = useState<readonly Row[]>(() =>
    files.map((file) => ({ ...file, state: 'waiting', words: 'looking …', findings: [], isChosen: true })),
  );
  const [isBusy, setBusy] = useState(true);
  const stopped = useRef(false);
  const put = (file: string, part: Partial<Row>): void =>
    setRows((old) => old.map((row) => (row.file === file ? { ...row, ...part } : row)));
  const run = async (
    chosen: readonly { readonly file: string; readonly revision?: number }[],
    dryRun: boolean,
  ): Promise<void> => {
    setBusy(true);
    for (const { file, revision } of chosen) {
      if (stopped.current) break;
      try {
        const done = await api.operate(
          file,
          operation,
          { selection: { graph: 'root', items: [] }, options, dryRun, message },
          dryRun ? undefined : revision,
        );
        const verdict = done.review && verdicts[done.review.fingerprint.verdict];
        put(file, {
          state: dryRun ? 'planned' : 'done',
          revision: done.revision,
          words: dryRun
            ? [done.report.summary, verdict].filter(Boolean).join(' · ')
            : `Revision ${done.revision} is stored.`,
          findings: done.report.findings,
        });
      } catch (error) {
        // another one's failure is no reason not to do the rest
        put(file, { state: 'failed', words: messageOf(error), isChosen: false });
      }
    }
    setBusy(false);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it would do is asked once, when it is opened
  useEffect(() => {
    stopped.current = false;
    void run(files, true);
    return () => {
      stopped.current = true;
    };
  }, []);
  const chosen = rows.filter((row) => row.isChosen && row.state === 'planned');
  const isDone = rows.some((row) => row.state === 'done') && chosen.length === 0;
  const looked = rows.filter((row) => row.state !== 'waiting').length;
  return (
    <Dialog
      open
      onClose={onClose}
      size="wide"
      title={title}
      about="What it would do to each file. Each file that you choose gets its own revision, which you can undo by restoring the one before."
    >
      <ul className="min-h-0 overflow-auto text-sm" aria-label="Files">
        {rows.map((row) => {
          const lost = row.findings.filter((item) => item.severity !== 'info');
          return (
            <li key={row.file} className="grid grid-cols-[1.5rem_12rem_1fr] gap-2 border-t border-line py-1.5">
              <input
                type="checkbox"
                className="mt-0.5 size-4 accent-accent"
                aria-label={`Do it to ${row.title}`}
                checked={row.isChosen}
                disabled={row.state !== 'planned' || isBusy}
                onChange={(event) => put(row.file, { isChosen: event.target.checked })}
              />
              <Link className="truncate underline" to={`/files/${row.file}`}>
                {row.title}
              </Link>
              <span className={row.state === 'failed' ? 'text-warn' : row.state === 'done' ? 'text-good' : ''}>
                {row.words}
                {lost.map((item) => (
                  <span key={item.message} className="block text-xs text-warn">
                    {item.message}
                  </span>
                ))}
              </span>
            </li>
          );
        })}
      </ul>
      {isBusy && <progress className="h-2 w-full" aria-label="Files looked at" value={looked} max={rows.length} />}
      <div className="flex justify-end gap-2">
        <Button onClick={onClose}>{isDone ? 'Close' : 'Cancel'}</Button>
        {!isDone && (
          <Button
            look="primary"
            dim={isBusy ? 'It is at work.' : chosen.length === 0 ? 'Choose at least one file.' : undefined}
            onClick={() => void run(chosen as { file: string; revision: number }[], false)}
          >
            Store {plural(chosen.length, 'revision')}
          </Button>
        )}
      </div>
    </Dialog>
  );
}
