import type { BatchItem, BatchRun, GroupedChange } from '@basitax/api/batches';
import { groupBy } from '@basitax/core/group-by';
import { plural } from '@basitax/core/words';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Check as CheckIcon, X } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import { Link } from 'react-router';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { useTheme } from '../theme.ts';
import { Button, Notice, Segments } from '../ui/controls.tsx';
import { tell } from './words.ts';

type By = 'what' | 'kind' | 'file';

/** How the files of a run stand, in so far as its changes depend on it. */
const standing = (run: BatchRun, items: readonly BatchItem[]): string =>
  `${run.phase} ${items.map((item) => `${item.state}${item.accepted}${item.leftOut}`).join()}`;

/** What a run would change over all files, the same change of many nodes as one, accepted or left out one by one. */
export function ChangesView({ run, items }: { run: BatchRun; items: readonly BatchItem[] }): ReactNode {
  const [by, setBy] = useState<By>('what');
  const [file, setFile] = useState<string>();
  const [chosen, setChosen] = useState<string>();
  const changing = items.filter(({ summary }) => summary && Object.values(summary.counts).some((count) => count > 0));
  const of = by === 'file' ? (file ?? changing[0]?.file) : undefined;
  const changes = useQuery({
    queryKey: ['batch-changes', run.id, of, standing(run, items)],
    queryFn: () => api.batchChanges(run.id, of),
    placeholderData: keepPreviousData,
    enabled: by !== 'file' || of !== undefined,
  });
  const groups = changes.data ?? [];
  const shown = groups.find((group) => group.key === chosen);
  const sections =
    by === 'file'
      ? [['', groups] as const]
      : [...groupBy(groups, (one) => (by === 'what' ? one.what : one.of || 'No kind'))];
  return (
    <>
      <section aria-label="Changes" className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-3 border-b border-line px-4 py-2">
          <Segments<By>
            label="Group by"
            value={by}
            choices={[
              ['what', 'By what changes'],
              ['kind', 'By kind'],
              ['file', 'By file'],
            ]}
            onChoose={setBy}
          />
          {by === 'file' && (
            <select
              aria-label="File"
              className="h-7 min-w-0 rounded-sm border border-line bg-panel px-1 text-sm"
              value={of}
              onChange={(event) => setFile(event.target.value)}
            >
              {changing.map((item) => (
                <option key={item.file} value={item.file}>
                  {item.title}
                </option>
              ))}
            </select>
          )}
          <span className="ml-auto text-sm text-soft">
            {changes.data && `${plural(groups.length, 'change')} of ${sumOf(groups)}`}
          </span>
        </div>
        <div className="min-h-0 flex-1 overflow-auto">
          {changes.isError ? (
            <p role="alert" className="p-4 text-sm text-warn">
              {changes.error.message}
            </p>
          ) : changes.isPending && (by !== 'file' || of !== undefined) ? (
            <p role="status" className="p-4 text-sm text-soft">
              Listing the changes …
            </p>
          ) : groups.length === 0 ? (
            <p className="p-4 text-sm text-soft">
              {run.phase === 'planning'
                ? 'The dry run is in progress.'
                : changing.length > 0
                  ? 'The changes of this run are accepted or rejected file by file, under “Files”.'
                  : 'The run would change nothing.'}
            </p>
          ) : (
            sections.map(([title, list]) => (
              <section key={title} aria-label={title || 'Changes of the file'}>
                {title !== '' && (
                  <h3 className="sticky top-0 z-10 flex items-center gap-2 border-b border-line bg-panel px-4 py-1 text-sm font-bold">
                    {title}
                    <span className="font-normal text-soft">{sumOf(list)}</span>
                    {list.length > 1 && <Decide run={run} groups={list} file={of} all={title} />}
                  </h3>
                )}
                <ul>
                  {list.map((group) => (
                    <li
                      key={group.key}
                      className={`flex items-center gap-3 border-b border-line px-4 py-1.5 text-sm ${group.key === chosen ? 'bg-accent-wash' : ''}`}
                    >
                      <button
                        type="button"
                        className="min-w-0 flex-1 text-left hover:underline"
                        aria-current={group.key === chosen || undefined}
                        onClick={() => setChosen(group.key)}
                      >
                        <span className="block truncate">{titleOf(group, by)}</span>
                        <span className="block text-xs text-soft">
                          {counted(group)}
                          {of === undefined && ` in ${plural(group.files, 'file')}`}
                        </span>
                      </button>
                      <Standing group={group} />
                      <Decide run={run} groups={[group]} file={of} />
                    </li>
                  ))}
                </ul>
              </section>
            ))
          )}
        </div>
      </section>
      {shown ? (
        <ChangePane
          key={`${shown.key} ${of}`}
          run={run}
          group={shown}
          state={standing(run, items)}
          {...(of !== undefined && { first: of })}
        />
      ) : (
        <aside className="flex w-[30rem] shrink-0 border-l border-line bg-panel">
          <Notice title="Choose a change">
            The places are shown here, file by file. If a file is not accepted yet, accepting one change applies only
            that change.
          </Notice>
        </aside>
      )}
    </>
  );
}

/** How many of what it changes. */
const counted = ({ things, unit }: GroupedChange): string => plural(things, unit);

/** The same of several changes together. */
function sumOf(groups: readonly GroupedChange[]): string {
  const units = new Set(groups.map((group) => group.unit));
  const things = groups.reduce((sum, one) => sum + one.things, 0);
  return plural(things, units.size === 1 ? [...units].join('') : 'thing');
}

/** A change without what the heading above it says. */
function titleOf({ what, of, said }: GroupedChange, by: By): string {
  const about = by === 'what' ? of : by === 'kind' ? what : [what, of].filter(Boolean).join(' · ');
  return [about, said].filter(Boolean).join(': ') || what;
}

function Standing({ group: { files, taken, left } }: { group: GroupedChange }): ReactNode {
  const of = (count: number): string => (count === files ? '' : ` in ${count} of ${files}`);
  return (
    <span className="w-36 shrink-0 text-right text-xs">
      {taken > 0 && <span className="block text-good">accepted{of(taken)}</span>}
      {left > 0 && <span className="block text-warn">left out{of(left)}</span>}
      {taken === 0 && left === 0 && <span className="text-soft">not decided</span>}
    </span>
  );
}

/** Accepts groups, or leaves them out, in a file or in all. */
function Decide({
  run,
  groups,
  file,
  all,
}: {
  run: BatchRun;
  groups: readonly GroupedChange[];
  file: string | undefined;
  /** What they are called together. */
  all?: string;
}): ReactNode {
  const may = lacksRole(usePerson().data, 'editor');
  if (!['review', 'applied', 'cancelled'].includes(run.phase) || !run.counts.planned) return null;
  const decide = (accepted: boolean): void =>
    void api
      .takeInBatch(
        run.id,
        accepted,
        groups.map((group) => group.key),
        file === undefined ? undefined : [file],
      )
      .catch(tell);
  const what = all ?? groups[0]?.what ?? '';
  const isTaken = groups.every((group) => group.taken > 0 && group.left === 0);
  const isLeft = groups.every((group) => group.left > 0 && group.taken === 0);
  return (
    <span className={`flex shrink-0 gap-1 ${all === undefined ? '' : 'ml-auto'}`}>
      <Button
        className="h-7 px-2 aria-pressed:border-good aria-pressed:bg-accent-wash aria-pressed:font-bold"
        dim={may}
        aria-label={`Accept ${what}`}
        aria-pressed={isTaken}
        onClick={() => decide(true)}
      >
        <CheckIcon size={14} /> Accept
      </Button>
      <Button
        className="h-7 px-2 aria-pressed:border-warn aria-pressed:bg-accent-wash aria-pressed:font-bold"
        dim={may}
        aria-label={`Leave out ${what}`}
        aria-pressed={isLeft}
        onClick={() => decide(false)}
      >
        <X size={14} /> Leave out
      </Button>
    </span>
  );
}

/** Where a change lies: its files, and a picture of the one that is chosen. */
function ChangePane({
  run,
  group,
  state,
  first,
}: {
  run: BatchRun;
  group: GroupedChange;
  state: string;
  first?: string;
}): ReactNode {
  const theme = useTheme((one) => one.theme);
  const [file, setFile] = useState(first);
  const files = useQuery({
    queryKey: ['batch-change', run.id, group.key, state],
    queryFn: () => api.batchChangeFiles(run.id, group.key),
    placeholderData: keepPreviousData,
  });
  const shown = file ?? files.data?.[0]?.file;
  const where = useQuery({
    queryKey: ['batch-change-in', run.id, group.key, shown, theme],
    queryFn: () => api.batchChangeIn(run.id, group.key, shown ?? '', theme),
    enabled: shown !== undefined,
  });
  return (
    <aside
      aria-label={group.what}
      className="flex w-[30rem] shrink-0 flex-col gap-3 overflow-hidden border-l border-line bg-panel p-4 text-sm"
    >
      <header>
        <h2 className="text-base font-bold">{[group.what, group.of].filter(Boolean).join(' · ')}</h2>
        {group.said !== '' && <p className="break-words">{group.said}</p>}
      </header>
      <div className="aspect-video w-full shrink-0 rounded-sm border border-line bg-ground">
        {where.data ? (
          <img
            src={`data:image/svg+xml,${encodeURIComponent(where.data.svg)}`}
            alt={`Where it lies: ${where.data.names.join(', ')}`}
            className="size-full object-contain"
          />
        ) : (
          <p role="status" className="p-2 text-soft">
            {where.isError ? where.error.message : 'Drawing …'}
          </p>
        )}
      </div>
      {where.data && (
        <p className="text-soft">
          {where.data.graph !== undefined && `In the graph “${where.data.graph}”. `}
          {where.data.names.length > 0 &&
            `${where.data.names.join(', ')}${where.data.names.length < group.things ? ' …' : ''}`}
        </p>
      )}
      <h3 className="font-bold">{plural(group.files, 'file')}</h3>
      <ul className="min-h-0 flex-1 overflow-auto rounded-sm border border-line bg-ticket">
        {(files.data ?? []).map((one) => (
          <li
            key={one.file}
            className={`flex items-center gap-2 border-b border-line px-2 py-1 ${one.file === shown ? 'bg-accent-wash' : ''}`}
          >
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              aria-current={one.file === shown || undefined}
              onClick={() => setFile(one.file)}
            >
              {one.title} <span className="text-soft">{one.things.toLocaleString('en')}</span>
            </button>
            <Link className="underline" to={`/files/${one.file}`} target="_blank">
              Open
            </Link>
            <Decide
              run={run}
              groups={[
                {
                  ...group,
                  taken: one.accepted === true && !one.left ? 1 : 0,
                  left: one.left ? 1 : 0,
                  what: `${group.what} in ${one.title}`,
                },
              ]}
              file={one.file}
            />
          </li>
        ))}
      </ul>
    </aside>
  );
}
