import { mostActs } from '@basitax/core/session/history';
import { format } from 'date-fns';
import { type ReactNode, useEffect, useRef } from 'react';
import { Button } from '../../ui/controls.tsx';
import { goToAct, redo, undo, whyNoRedo, whyNoUndo } from '../history.ts';
import { whyInPreview } from '../may-edit.ts';
import { useEditing } from '../store.ts';
import { SidePanel } from './side.tsx';

/** One's acts by name, what was undone among them, and what others saved between. A click goes there. */
export function HistoryPanel(): ReactNode {
  const state = useEditing();
  const { past, future, floor, saved, revision } = state;
  const dim = whyInPreview(state);
  const here = useRef<HTMLLIElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the place in the list is what moves
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'nearest' });
  }, [past, future]);
  const rows = [
    ...past.map((entry) => ({ entry, isDone: true })),
    ...[...future].reverse().map((entry) => ({ entry, isDone: false })),
  ];
  const acts = rows.flatMap(({ entry, isDone }) => (entry.type === 'act' ? [{ entry, isDone }] : []));
  const last = acts.filter((one) => one.isDone).at(-1)?.entry;
  const savedMark = (
    <span className="ml-auto shrink-0 rounded-sm bg-accent-wash px-1 text-xs text-ink">Revision {revision}</span>
  );
  return (
    <SidePanel
      id="history"
      title="History"
      about="What you did here since you opened the file. Choose a line to go back, or forward again."
      footer={
        <span className="flex gap-2">
          <Button dim={whyNoUndo(state)} onClick={undo}>
            Undo
          </Button>
          <Button dim={whyNoRedo(state)} onClick={redo}>
            Redo
          </Button>
        </span>
      }
    >
      <ol aria-label="Acts" className="flex flex-col">
        <li ref={last ? undefined : here}>
          <Row
            title={
              floor > 0 ? `Older acts (only the last ${mostActs.toLocaleString('en')} are kept)` : 'As it was opened'
            }
            isHere={!last}
            dim={dim}
            onGo={() => goToAct(floor)}
          >
            {saved === floor && savedMark}
          </Row>
        </li>
        {rows.map(({ entry, isDone }, i) =>
          entry.type === 'act' ? (
            <li key={entry.serial} ref={entry === last ? here : undefined}>
              <Row
                title={entry.title}
                said={entry.said}
                isHere={entry === last}
                isUndone={!isDone}
                dim={dim}
                onGo={() => goToAct(entry.serial)}
              >
                {saved === entry.serial
                  ? savedMark
                  : entry.at > 0 && (
                      <time className="ml-auto shrink-0 text-xs text-soft tabular-nums">
                        {format(entry.at, 'HH:mm')}
                      </time>
                    )}
              </Row>
            </li>
          ) : (
            isDone && (
              // biome-ignore lint/suspicious/noArrayIndexKey: what came from others has no name of its own
              <li key={`others ${i}`} className="my-1 border-l-2 border-line px-2 py-0.5 text-xs text-soft">
                Taken in: {entry.title}
              </li>
            )
          ),
        )}
      </ol>
      {acts.length === 0 && floor === 0 && <p className="text-soft">No acts yet.</p>}
    </SidePanel>
  );
}

function Row({
  title,
  said,
  isHere,
  isUndone,
  dim,
  onGo,
  children,
}: {
  title: string;
  said?: string | undefined;
  isHere: boolean;
  isUndone?: boolean;
  dim: string | undefined;
  onGo: () => void;
  children?: ReactNode;
}): ReactNode {
  return (
    <button
      type="button"
      aria-current={isHere ? 'step' : undefined}
      aria-disabled={dim !== undefined}
      title={dim ?? (isUndone ? 'Undone: choose it to do it again' : undefined)}
      onClick={() => dim === undefined && !isHere && onGo()}
      className={`flex w-full flex-wrap items-baseline gap-x-2 rounded-sm px-2 py-1 text-left hover:bg-accent-wash ${isHere ? 'bg-accent-wash font-bold' : ''} ${isUndone ? 'text-soft italic' : ''}`}
    >
      <span className="min-w-0 flex-1 truncate">{title}</span>
      {children}
      {said && <span className="w-full truncate text-xs font-normal text-soft">{said}</span>}
    </button>
  );
}
