import { plural } from '@basitax/core/operation';
import { formatDistanceToNow } from 'date-fns';
import { type ReactNode, useEffect, useState } from 'react';
import { toast } from 'sonner';
import { Button } from '../../ui/controls.tsx';
import { openDialog } from '../dialogs.ts';
import { isDirty, useEditor } from '../store.ts';
import { useLive } from './live.ts';
import { goOn, takeIn } from './meet.ts';
import { type Draft, forget, takeUp, useUnsaved } from './unsaved.ts';

const look = 'flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-accent-wash px-4 py-1.5 text-sm';
const small = 'h-7';

/** What stands above the canvas when something is to be known: left unsaved, saved by others, thrown away, not connected. */
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
          button: 'Take up',
          resolved: async (edit) => {
            goOn(met, edit);
            await forget([wanted]);
          },
        });
      else toast.success('Your changes are here again; save them when they are ready.');
    } catch (error) {
      toast.error('They cannot be taken up', { description: (error as Error).message });
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
            You left {plural(draft.edits.length, 'act')} here unsaved, {formatDistanceToNow(draft.at, { addSuffix: true })}
            {draft.titles.length > 0 && <span className="text-soft"> ({[...new Set(draft.titles)].slice(0, 4).join(', ')})</span>}, made on revision {draft.revision}.
          </span>
          <span className="ml-auto flex gap-1.5">
            <Button
              className={small}
              look="primary"
              dim={dirty ? 'Save or undo what you have begun here first.' : busy ? 'Taking up …' : undefined}
              onClick={() => void take(draft)}
            >
              Take them up
            </Button>
            <Button className={small} onClick={() => void forget([draft])}>
              Throw them away
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
  const isBusy = useEditor((state) => state.preview !== undefined || state.moving !== undefined || state.job !== undefined || state.saving !== undefined);
  const number = head?.number ?? 0;
  const isNewer = number > revision;
  const shows = isNewer && !dirty && !isBusy;
  useEffect(() => {
    if (!shows) return;
    takeIn(number).catch((error: Error) => toast.error('The newest revision cannot be read', { description: error.message }));
  }, [shows, number]);
  useEffect(() => {
    if (shows && head) toast(`Revision ${head.number} by ${head.author}: “${head.message}”`);
  }, [shows, head]);
  if (!head || !isNewer || !dirty) return null;
  const take = async (): Promise<void> => {
    try {
      const met = await takeIn(number);
      if (met) openDialog({ meet: met, button: 'Go on with these choices', resolved: async (edit) => goOn(met, edit) });
    } catch (error) {
      toast.error('It cannot be taken in', { description: (error as Error).message });
    }
  };
  return (
    <section aria-label="A newer revision" className={look}>
      <span className="min-w-0">
        {head.author} saved revision {head.number} meanwhile: “{head.message}”. Saving brings your changes over it.
      </span>
      <Button className={`ml-auto ${small}`} dim={isBusy ? 'Finish what is in hand first.' : undefined} onClick={() => void take()}>
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
        Somebody has put this file into the trash. It cannot be saved until it is restored from there; what you changed is kept in this browser.
      </p>
    );
  if (isConnected || !isLong) return null;
  return (
    <p role="status" className={look}>
      The server does not answer. Go on: what you do is kept in this browser, and can be saved when it is there again.
    </p>
  );
}
