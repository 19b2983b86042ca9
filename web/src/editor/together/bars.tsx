import { isDirty } from '@basitax/core/session/session';
import { plural } from '@basitax/core/words';
import { formatDistanceToNow } from 'date-fns';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/controls.tsx';
import { openDialog } from '../dialogs.ts';
import { useEditor } from '../store.ts';
import { tellAdapted } from './adapted.ts';
import { useLive } from './live.ts';
import { goOn, takeIn } from './meet.ts';
import { type Draft, forget, putBack, takeUp, useUnsaved } from './unsaved.ts';

const look = 'flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-accent-wash px-4 py-1.5 text-sm';
const small = 'h-7';

/**
 * What stands above the canvas when something is to be known: left unsaved, saved by others, thrown away, not
 * connected.
 */
export function TogetherBars(): ReactNode {
  return (
    <>
      <LeftUnsaved />
      <Newer />
      <Away />
    </>
  );
}

function LeftUnsaved(): ReactNode {
  const { left, problem } = useUnsaved();
  const readOnly = useEditor((state) => state.readOnly);
  const dirty = useEditor(isDirty);
  const [busy, setBusy] = useState(false);
  const draft = left[0];
  const take = async (wanted: Draft): Promise<void> => {
    setBusy(true);
    try {
      const met = await takeUp(wanted);
      if (met)
        openDialog({
          meet: met,
          button: 'Restore with these choices',
          resolved: (edit) => putBack(wanted, edit),
        });
      else toast.success('Your changes are back. Save them when they are ready.');
    } catch (error) {
      toast.error('Your changes could not be restored', { description: (error as Error).message });
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      {problem && (
        <p role="alert" className={`${look} text-warn`}>
          {problem}
        </p>
      )}
      {draft && readOnly === undefined && (
        <section aria-label="Unsaved changes" className={look}>
          <span className="min-w-0">
            You left {plural(draft.titles.length, 'unsaved change')} here{' '}
            {formatDistanceToNow(draft.at, { addSuffix: true })}
            <span className="text-soft"> ({[...new Set(draft.titles)].slice(0, 4).join(', ')})</span>, made on revision{' '}
            {draft.revision}.
          </span>
          <span className="ml-auto flex gap-1.5">
            <Button
              className={small}
              look="primary"
              dim={dirty ? 'Save or undo what you have begun here first.' : busy ? 'Restoring …' : undefined}
              onClick={() => void take(draft)}
            >
              Restore them
            </Button>
            <Button className={small} onClick={() => void forget([draft])}>
              Discard them
            </Button>
          </span>
        </section>
      )}
    </>
  );
}

/** Somebody saved a newer revision: without changes of one’s own it is shown by itself, else one is told. */
function Newer(): ReactNode {
  const head = useLive((state) => state.head);
  const revision = useEditor((state) => state.revision);
  const dirty = useEditor(isDirty);
  const isBusy = useEditor(
    (state) =>
      state.preview !== undefined ||
      state.moving !== undefined ||
      state.job !== undefined ||
      state.saving !== undefined,
  );
  const number = head?.number ?? 0;
  const isNewer = number > revision;
  const shows = isNewer && !dirty && !isBusy;
  const from = useMemo(() => (head ? [head] : []), [head]);
  useEffect(() => {
    if (!shows) return;
    takeIn(number, from).catch((error: Error) =>
      toast.error('The newest revision cannot be read', { description: error.message }),
    );
  }, [shows, number, from]);
  useEffect(() => {
    if (shows && head) toast(`Revision ${head.number} by ${head.author}: “${head.message}”`);
  }, [shows, head]);
  if (!head || !isNewer || !dirty) return null;
  const take = async (): Promise<void> => {
    try {
      const met = await takeIn(number, from);
      if (met && 'rebased' in met)
        openDialog({
          meet: met,
          button: 'Keep editing with these choices',
          resolved: async (edit) => tellAdapted(goOn(met, edit)),
        });
      else if (met) tellAdapted(met);
    } catch (error) {
      toast.error('The newest revision could not be taken in', { description: (error as Error).message });
    }
  };
  return (
    <section aria-label="A newer revision" className={look}>
      <span className="min-w-0">
        {head.author} has saved revision {head.number}: “{head.message}”. When you save, your changes go on top of it.
      </span>
      <Button
        className={`ml-auto ${small}`}
        dim={isBusy ? 'Finish what is in hand first.' : undefined}
        onClick={() => void take()}
      >
        Take it in now
      </Button>
    </section>
  );
}

function Away(): ReactNode {
  const { isConnected, isTrashed } = useLive();
  const [isLong, setLong] = useState(false);
  useEffect(() => {
    setLong(false);
    if (isConnected) return;
    // a line that is opened anew by itself is nothing to be told
    const timer = setTimeout(() => setLong(true), 3000);
    return () => clearTimeout(timer);
  }, [isConnected]);
  if (isTrashed)
    return (
      <p role="alert" className={look}>
        Somebody has put this file into the trash. It cannot be saved until it is restored from there; what you changed
        is kept in this browser.
      </p>
    );
  if (isConnected || !isLong) return null;
  return (
    <p role="status" className={look}>
      The server does not answer. You can keep working: your changes are kept in this browser until they can be saved.
    </p>
  );
}
