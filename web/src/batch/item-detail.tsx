import type { BatchItem, BatchRun, ItemDetail } from '@basitax/api/batches';
import { stepTitle } from '@basitax/core/batch/titles';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { useQuery } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client.ts';
import { download } from '../editor/download.ts';
import { verdicts } from '../editor/verdicts.ts';
import { useTheme } from '../theme.ts';
import { Button, Segments } from '../ui/controls.tsx';
import { isOpen, states } from './words.ts';

type Tab = 'changes' | 'steps' | 'findings' | 'console';
const most = 300;

/** One file of a run: how it looks before and after, each change in words, what steps, rules and scripts had to say. */
export function ItemDetailPane({ run, item }: { run: BatchRun; item: BatchItem }): ReactNode {
  const theme = useTheme((state) => state.theme);
  const [tab, setTab] = useState<Tab>('changes');
  const isThere = !isOpen(item.state) || item.base !== null;
  const detail = useQuery({
    queryKey: ['batch-item', run.id, item.file, item.base, item.state],
    queryFn: () => api.batchItem(run.id, item.file),
    enabled: isThere,
  });
  const { data } = detail;
  const verdict = item.summary && verdicts[item.summary.verdict];
  return (
    <aside
      aria-label={item.title}
      className="flex w-[30rem] shrink-0 flex-col gap-3 overflow-hidden border-l border-line bg-panel p-4 text-sm"
    >
      <header className="flex items-baseline gap-2">
        <h2 className="min-w-0 flex-1 truncate text-base font-bold">{item.title}</h2>
        <span className={states[item.state].look}>{states[item.state].text}</span>
      </header>
      {/* both sides of conflicts are told below */}
      {item.why !== '' && !data?.conflicts.length && <p className="text-warn">{item.why}</p>}
      {isThere && (
        <div className="grid grid-cols-2 gap-2">
          {(['before', 'after'] as const).map((which) => (
            <figure key={which} className="flex flex-col gap-1">
              <img
                src={api.batchPictureAddress(run.id, item.file, which, theme)}
                alt={`${item.title} ${which} the run`}
                className="aspect-video w-full rounded-sm border border-line bg-ground object-contain"
              />
              <figcaption className="flex gap-2 text-xs text-soft">
                <span className="capitalize">{which}</span>
                {item.summary && (
                  <span className="tabular-nums">readability {item.summary.score[which].toFixed(1)}</span>
                )}
              </figcaption>
            </figure>
          ))}
        </div>
      )}
      {verdict && <p className={`font-bold ${verdict.look}`}>{verdict.text}</p>}
      <p className="flex gap-4">
        <Link className="underline" to={`/files/${item.file}`} target="_blank">
          Open the file
        </Link>
        {item.applied !== null && (
          <Link className="underline" to={`/files/${item.file}/revisions/${item.applied}`} target="_blank">
            Revision {item.applied}, as it was applied
          </Link>
        )}
      </p>
      {!isThere ? (
        <p className="text-soft">Not checked yet.</p>
      ) : detail.isPending ? (
        <p role="status" className="text-soft">
          Listing what would change …
        </p>
      ) : detail.isError ? (
        <p role="alert" className="text-warn">
          {detail.error.message}
        </p>
      ) : (
        data && (
          <>
            {data.conflicts.length > 0 && <Conflicts detail={data} />}
            <Segments<Tab>
              label="What is told"
              value={tab}
              choices={[
                ['changes', `Changes ${data.changes.length}`],
                ['steps', `Steps ${data.steps.length}`],
                ['findings', `Findings ${data.findings.length}`],
                ['console', `Console ${data.log.length + data.outputs.length}`],
              ]}
              onChoose={setTab}
            />
            <section
              // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls is reached by key
              tabIndex={0}
              aria-label={`List of ${tab}`}
              className="min-h-0 flex-1 overflow-auto rounded-sm border border-line bg-ticket px-2 py-1"
            >
              {tab === 'changes' && (
                <Lines
                  none="Nothing would be changed."
                  lines={data.changes.flatMap(({ sentence, consequences = [] }) => [
                    sentence,
                    ...consequences.map((one) => `· ${one}`),
                  ])}
                />
              )}
              {tab === 'steps' && (
                <Lines
                  none="No step was done."
                  lines={data.steps.map(
                    (one) => `${one.step + 1}. ${stepTitle(must(run.recipe.steps[one.step]))}: ${one.summary}`,
                  )}
                />
              )}
              {tab === 'findings' && (
                <Lines
                  none="Nothing was found."
                  lines={data.findings.map((one) => `${one.severity}: ${one.message}`)}
                />
              )}
              {tab === 'console' && (
                <>
                  {data.outputs.map(({ name, text }) => (
                    <p key={name} className="flex items-center gap-2 border-b border-line py-0.5">
                      <span className="flex-1 truncate font-mono text-xs">{name}</span>
                      <Button
                        className="h-6 px-2 text-xs"
                        onClick={() => download(`${item.title} ${name}`, text, 'text/plain')}
                      >
                        Download
                      </Button>
                    </p>
                  ))}
                  <Lines none="The scripts wrote nothing." lines={data.log.map((line) => line.text)} />
                </>
              )}
            </section>
          </>
        )
      )}
    </aside>
  );
}

/** Both sides of what came into conflict, who saved meanwhile, and what to do about it. */
function Conflicts({ detail: { file, conflicts, saved } }: { detail: ItemDetail }): ReactNode {
  return (
    <section
      aria-label="Changed in the meantime"
      className="flex max-h-64 shrink-0 flex-col gap-2 overflow-auto rounded-sm border border-warn p-2"
    >
      <p>
        Saved in the meantime:{' '}
        {saved.map(({ number, author, message }, i) => (
          <span key={number}>
            {i > 0 && ', '}
            <Link className="underline" to={`/files/${file}/revisions/${number}`} target="_blank">
              revision {number}
            </Link>{' '}
            by {author}
            {message !== '' && ` (${message})`}
          </span>
        ))}
        . Plan the file again to run the recipe on its current content.
      </p>
      <table className="w-full text-left text-xs">
        <thead className="text-soft">
          <tr>
            <th className="font-normal">What</th>
            <th className="font-normal">Before</th>
            <th className="font-normal">This run</th>
            <th className="font-normal">The file now</th>
          </tr>
        </thead>
        <tbody>
          {conflicts.flatMap(({ title, ids, rows }) =>
            rows.map((row) => (
              <tr key={`${ids.join()} ${row.what}`} className="border-t border-line align-top">
                <td className="pr-2">
                  <Link
                    className="underline"
                    to={`/files/${file}?${new URLSearchParams(ids.slice(0, 40).map((id) => ['node', id]))}`}
                    target="_blank"
                  >
                    {title}
                  </Link>{' '}
                  {row.what}
                </td>
                <td className="pr-2 break-words">{row.before || 'not set'}</td>
                <td className="pr-2 break-words">{row.mine || 'not set'}</td>
                <td className="break-words">{row.theirs || 'not set'}</td>
              </tr>
            )),
          )}
        </tbody>
      </table>
    </section>
  );
}

function Lines({ lines, none }: { lines: readonly string[]; none: string }): ReactNode {
  if (lines.length === 0) return <p className="py-1 text-soft">{none}</p>;
  return (
    <ul>
      {lines.slice(0, most).map((line, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the list does not change while it is shown
        <li key={i} className="border-b border-line py-0.5 break-words last:border-0">
          {line}
        </li>
      ))}
      {lines.length > most && <li className="py-1 text-soft">{plural(lines.length - most, 'line')} more</li>}
    </ul>
  );
}
