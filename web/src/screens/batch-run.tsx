import { againStates, type BatchItem, type BatchRun } from '@basitax/api/batches';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Check as CheckIcon, RotateCw, X } from 'lucide-react';
import { type ReactNode, useMemo, useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api } from '../api/client.ts';
import { lacksRole, usePerson } from '../api/person.ts';
import { repeatOf } from '../batch/aim.ts';
import { BeforeView } from '../batch/before.tsx';
import { ChangesView } from '../batch/changes.tsx';
import { ItemDetailPane } from '../batch/item-detail.tsx';
import { useRun } from '../batch/use-run.ts';
import { isOpen, phases, states, tell } from '../batch/words.ts';
import { verdicts } from '../editor/verdicts.ts';
import { Button, Dialog, Field, Notice, Segments, TextInput } from '../ui/controls.tsx';
import { BackLink, linkLook, TopLine } from '../ui/top-line.tsx';

type View = 'files' | 'changes' | 'before';
type Filter = 'all' | 'change' | 'trouble' | 'function' | 'worse';
const fits: Readonly<Record<Filter, (item: BatchItem) => boolean>> = {
  all: () => true,
  // what was rejected stays as it is
  change: (item) =>
    !(item.state === 'planned' && item.accepted === false) &&
    ['planned', 'to-apply', 'applied', 'to-roll-back', 'rolled-back', 'kept', 'conflict'].includes(item.state),
  trouble: (item) => ['failed', 'stopped', 'conflict', 'kept'].includes(item.state),
  function: (item) => item.summary !== null && item.summary.verdict !== 'same',
  worse: (item) => item.summary !== null && item.summary.score.after < item.summary.score.before - 0.5,
};

/** One batch run: each file with what would become of it, accepted or rejected, applied, and taken back. */
export default function BatchRunScreen(): ReactNode {
  const { id = '' } = useParams();
  const { run, items, isAway } = useRun(id);
  const [params, setParams] = useSearchParams();
  const [filter, setFilter] = useState<Filter>('all');
  const asked = params.get('view');
  const view: View = asked === 'changes' || asked === 'before' ? asked : 'files';
  const shown = useMemo(() => items.filter(fits[filter]), [items, filter]);
  const chosen = items.find((item) => item.file === params.get('file'));
  const count = (one: Filter): string => items.filter(fits[one]).length.toLocaleString('en');
  return (
    <div className="flex h-full flex-col">
      <TopLine actions={run && <Acts run={run} />}>
        <BackLink to="/batches">Batch runs</BackLink>
        <h1 className="truncate font-bold">{run?.title ?? 'Batch run'}</h1>
        {run && <span className="shrink-0 text-sm text-soft">{phases[run.phase]}</span>}
      </TopLine>
      {!run ? (
        <Notice
          title={
            isAway
              ? 'The run could not be loaded. It may have been removed, or the server does not answer. Trying again …'
              : 'Loading the run …'
          }
          alert={isAway}
        />
      ) : (
        <main className="flex min-h-0 flex-1 flex-col">
          <Progress run={run} isAway={isAway}>
            <Segments<View>
              label="View"
              value={view}
              choices={[
                ['files', 'Files'],
                ['changes', 'Changes'],
                ...(run.repeats === null ? [] : [['before', 'Since the previous run'] as const]),
              ]}
              onChoose={(one) => setParams(one === 'files' ? {} : { view: one }, { replace: true })}
            />
          </Progress>
          <div className="flex min-h-0 flex-1">
            {view === 'changes' ? (
              <ChangesView run={run} items={items} />
            ) : view === 'before' ? (
              <BeforeView run={run} onChoose={(file) => setParams({ file }, { replace: true })} />
            ) : (
              <>
                <section aria-label="Files" className="flex min-w-0 flex-1 flex-col">
                  <div className="flex items-center gap-3 px-4 py-2">
                    <Segments<Filter>
                      label="Which files"
                      value={filter}
                      choices={[
                        ['all', `All ${count('all')}`],
                        ['change', `Would change ${count('change')}`],
                        ['trouble', `Trouble ${count('trouble')}`],
                        ['function', `Function changes ${count('function')}`],
                        ['worse', `Harder to read ${count('worse')}`],
                      ]}
                      onChoose={setFilter}
                    />
                    <AcceptAll run={run} items={shown} />
                  </div>
                  <Rows
                    items={shown}
                    run={run}
                    chosen={chosen?.file}
                    onChoose={(file) => setParams({ file }, { replace: true })}
                  />
                </section>
                {chosen ? (
                  <ItemDetailPane key={`${chosen.file} ${chosen.base}`} run={run} item={chosen} />
                ) : (
                  <aside className="flex w-[30rem] shrink-0 border-l border-line bg-panel">
                    <Notice title="Choose a file">
                      What would change is shown here, next to how the file looks now.
                    </Notice>
                  </aside>
                )}
              </>
            )}
          </div>
        </main>
      )}
    </div>
  );
}

/** How far the run is, by what became of its files. */
function Progress({ run, isAway, children }: { run: BatchRun; isAway: boolean; children: ReactNode }): ReactNode {
  const open = Object.entries(run.counts).reduce(
    (sum, [state, count]) => sum + (isOpen(state as BatchItem['state']) ? (count ?? 0) : 0),
    0,
  );
  const parts = Object.entries(run.counts).map(
    ([state, count]) => `${count} ${states[state as BatchItem['state']].text}`,
  );
  return (
    <div className="flex flex-col gap-1 border-b border-line px-4 py-2">
      <progress className="h-1.5 w-full" value={run.total - open} max={run.total} aria-label="Files that are done" />
      <div className="flex items-center gap-4">
        {children}
        <p role="status" className="text-sm">
          {plural(run.total, 'file')}: {parts.join(', ')}
          {isAway && <span className="text-warn"> · The server does not answer. This is the last known state.</span>}
        </p>
      </div>
    </div>
  );
}

function Acts({ run }: { run: BatchRun }): ReactNode {
  const person = usePerson().data;
  const [applying, setApplying] = useState(false);
  const may = lacksRole(person, 'editor');
  const goesOn = ['planning', 'applying', 'rolling-back'].includes(run.phase);
  const applied = run.counts.applied ?? 0;
  const stuck = againStates.reduce((sum, state) => sum + (run.counts[state] ?? 0), 0);
  return (
    <>
      {!goesOn && run.recipe.steps.some((step) => step.do === 'script') && (
        <Link to={`/batches/${run.id}/report`} className={linkLook} title="What scripts made of all files">
          Reports
        </Link>
      )}
      {!goesOn && !run.recipe.steps.some((step) => step.do === 'table') && (
        <Link
          to="/batches"
          state={repeatOf(run)}
          title="Sets up a new run with this recipe, title and choice of files"
          className={linkLook}
        >
          Repeat …
        </Link>
      )}
      {stuck > 0 && !goesOn && (
        <Button
          dim={may}
          title="Plans again the files that failed, were stopped or had a conflict, with their current content"
          onClick={() => void api.againInBatch(run.id).catch(tell)}
        >
          Plan {plural(stuck, 'file')} again
        </Button>
      )}
      {goesOn && (
        <Button dim={may} onClick={() => void api.cancelBatch(run.id).catch(tell)}>
          Cancel
        </Button>
      )}
      {applied > 0 && !goesOn && (
        <Button
          dim={may}
          title="Takes each change back in a new revision; later changes are kept"
          onClick={() => void api.rollBackBatch(run.id).catch(tell)}
        >
          Roll back {plural(applied, 'file')}
        </Button>
      )}
      {!goesOn && run.phase !== 'rolled-back' && (
        <Button
          look="primary"
          dim={may ?? (run.accepted === 0 ? 'Accept files first.' : undefined)}
          onClick={() => setApplying(true)}
        >
          Apply to {plural(run.accepted, 'file')} …
        </Button>
      )}
      {applying && <ApplyDialog run={run} onClose={() => setApplying(false)} />}
    </>
  );
}

function ApplyDialog({ run, onClose }: { run: BatchRun; onClose: () => void }): ReactNode {
  const [message, setMessage] = useState(run.title);
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Apply to ${plural(run.accepted, 'file')}`}
      about="Each accepted file gets one revision with this message. Changes that others saved in the meantime are kept, or reported as conflicts. The run can be rolled back."
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onClose();
          void api.applyBatch(run.id, message).catch(tell);
        }}
      >
        <Field label="Message">
          <TextInput value={message} maxLength={500} required onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <Button
          type="submit"
          look="primary"
          dim={message.trim() === '' ? 'Describe the change in a few words.' : undefined}
        >
          Apply
        </Button>
      </form>
    </Dialog>
  );
}

/** Accepts or rejects all that are listed. */
function AcceptAll({ run, items }: { run: BatchRun; items: readonly BatchItem[] }): ReactNode {
  const files = items.filter((item) => item.state === 'planned').map((item) => item.file);
  if (files.length === 0) return null;
  const accept = (accepted: boolean): void => void api.acceptInBatch(run.id, accepted, files).catch(tell);
  return (
    <span className="ml-auto flex gap-2">
      <Button className="h-7" onClick={() => accept(true)}>
        Accept {files.length}
      </Button>
      <Button className="h-7" onClick={() => accept(false)}>
        Reject {files.length}
      </Button>
    </span>
  );
}

const rowHeight = 44;
const columns = 'grid grid-cols-[minmax(0,1fr)_8rem_7rem_5rem_5rem_4.25rem] items-center gap-3 px-4';

/** The files of the run; of a thousand only those in sight are there. */
function Rows({
  items,
  run,
  chosen,
  onChoose,
}: {
  items: readonly BatchItem[];
  run: BatchRun;
  chosen: string | undefined;
  onChoose: (file: string) => void;
}): ReactNode {
  const room = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => room.current,
    estimateSize: () => rowHeight,
    overscan: 10,
  });
  return (
    <>
      <div className={`${columns} border-y border-line py-1 text-xs text-soft`} aria-hidden="true">
        <span>File</span>
        <span>Becomes</span>
        <span>Changes</span>
        <span>Readability</span>
        <span>Function</span>
        <span>Accept</span>
      </div>
      <div ref={room} className="min-h-0 flex-1 overflow-auto">
        {items.length === 0 && <p className="p-4 text-sm text-soft">No files in this state.</p>}
        <ul aria-label="Files of the run" className="relative" style={{ height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const item = must(items[index]);
            return (
              <li
                key={item.file}
                className={`${columns} absolute inset-x-0 border-b border-line text-sm ${item.file === chosen ? 'bg-accent-wash' : ''}`}
                style={{ top: start, height: rowHeight }}
              >
                <button
                  type="button"
                  className="min-w-0 text-left hover:underline"
                  aria-current={item.file === chosen || undefined}
                  onClick={() => onChoose(item.file)}
                >
                  <span className="block truncate font-bold">{item.title}</span>
                  {item.leftOut > 0 && (
                    <span
                      className="block truncate text-xs text-soft"
                      title="Until the run is applied, the figures shown include all of its changes."
                    >
                      {plural(item.leftOut, 'change')} left out
                    </span>
                  )}
                  {item.why !== '' && (
                    <span className="block truncate text-xs text-soft" title={item.why}>
                      {item.why}
                    </span>
                  )}
                </button>
                <span className={states[item.state].look}>{states[item.state].text}</span>
                <Numbers item={item} />
                <Accept run={run} item={item} />
              </li>
            );
          })}
        </ul>
      </div>
    </>
  );
}

function Numbers({ item: { summary } }: { item: BatchItem }): ReactNode {
  if (!summary || (summary.counts.added === 0 && summary.counts.removed === 0 && summary.counts.changed === 0))
    return (
      <>
        <span />
        <span className="text-soft tabular-nums">{summary ? summary.score.before.toFixed(0) : ''}</span>
        <span />
      </>
    );
  const { counts, score, verdict } = summary;
  const better = score.after - score.before;
  return (
    <>
      <span
        className="truncate tabular-nums"
        title={`${counts.added} added, ${counts.removed} removed, ${counts.changed} changed`}
      >
        {[
          counts.added > 0 && `+${counts.added}`,
          counts.removed > 0 && `−${counts.removed}`,
          counts.changed > 0 && `${counts.changed} changed`,
        ]
          .filter(Boolean)
          .join(', ')}
      </span>
      <span className="tabular-nums">
        {score.before.toFixed(0)} →{' '}
        <span className={better > 0.5 ? 'font-bold text-good' : better < -0.5 ? 'text-warn' : ''}>
          {score.after.toFixed(0)}
        </span>
      </span>
      <span className={verdicts[verdict].look}>
        {verdict === 'same' ? 'same' : verdict === 'ends-same' ? 'ends same' : 'changed'}
      </span>
    </>
  );
}

function Accept({ run, item }: { run: BatchRun; item: BatchItem }): ReactNode {
  if (againStates.some((state) => state === item.state) && !['planning', 'applying'].includes(run.phase))
    return (
      <Button
        square
        className="size-7"
        aria-label={`Plan ${item.title} again`}
        title="Plan it again, with its current content"
        onClick={() => void api.againInBatch(run.id, [item.file]).catch(tell)}
      >
        <RotateCw size={14} />
      </Button>
    );
  if (item.state !== 'planned') return <span />;
  const accept = (accepted: boolean): void => void api.acceptInBatch(run.id, accepted, [item.file]).catch(tell);
  return (
    <span className="flex gap-1">
      <Button
        look={item.accepted === true ? 'primary' : 'plain'}
        square
        className="size-7"
        aria-label={`Accept ${item.title}`}
        aria-pressed={item.accepted === true}
        onClick={() => accept(true)}
      >
        <CheckIcon size={14} />
      </Button>
      <Button
        look={item.accepted === false ? 'primary' : 'plain'}
        square
        className="size-7"
        aria-label={`Reject ${item.title}`}
        aria-pressed={item.accepted === false}
        onClick={() => accept(false)}
      >
        <X size={14} />
      </Button>
    </span>
  );
}
