import type { Revision } from '@basitax/api/files';
import { mayAct } from '@basitax/api/roles';
import { isDirty } from '@basitax/core/session/session';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, untilMeasured } from '../../api/client.ts';
import { usePerson } from '../../api/person.ts';
import { teamApi } from '../../api/team.ts';
import { Button, Dialog, Notice, TextInput } from '../../ui/controls.tsx';
import { ask } from '../inspect/questions.ts';
import { openLeft } from '../layout.ts';
import { useEditor } from '../store.ts';
import { verdicts } from '../verdicts.ts';

/** All revisions of the file, newest first: to be looked at, and restored. */
export function RevisionsDialog({ onClose, onRestored }: { onClose: () => void; onRestored: () => void }): ReactNode {
  const fileId = useEditor((state) => state.fileId);
  const shown = useEditor((state) => state.revision);
  const dirty = useEditor(isDirty);
  const person = usePerson().data;
  const navigate = useNavigate();
  const revisions = useQuery({
    queryKey: ['revisions', fileId],
    queryFn: () => api.revisions(fileId),
    staleTime: 0,
    refetchInterval: ({ state }) => untilMeasured(state.data),
  });
  const [busy, setBusy] = useState(false);
  const [naming, setNaming] = useState<number>();
  const queries = useQueryClient();
  const head = revisions.data?.[0]?.number ?? 0;
  const restore = async (revision: Revision): Promise<void> => {
    setBusy(true);
    try {
      const file = await api.restore(fileId, head, revision.number);
      toast.success(`Revision ${revision.number} is restored, as revision ${file.head.number}.`);
      onClose();
      onRestored();
    } catch (error) {
      toast.error('Not restored', { description: (error as Error).message });
      void revisions.refetch();
    } finally {
      setBusy(false);
    }
  };
  const mayName = person ? mayAct(person.role, 'editor') : false;
  const give = async (number: number, name: string): Promise<void> => {
    try {
      await teamApi.nameRevision(fileId, number, name.trim());
      setNaming(undefined);
    } catch (error) {
      toast.error('It was not named', { description: (error as Error).message });
    }
    await Promise.all([revisions.refetch(), queries.invalidateQueries({ queryKey: ['files'] })]);
  };
  const look = (number: number): void => {
    onClose();
    navigate(number === head ? `/files/${fileId}` : `/files/${fileId}/revisions/${number}`);
  };
  const compare = (number: number): void => {
    ask({ other: { file: fileId, revision: number } });
    openLeft('compare');
    onClose();
  };
  const no =
    person && !mayAct(person.role, 'editor')
      ? 'It takes the role editor.'
      : dirty
        ? 'Save your changes first, or undo them.'
        : busy
          ? 'Restoring …'
          : undefined;
  return (
    <Dialog
      open
      onClose={onClose}
      title="Revisions"
      about="Newest first. Restoring adds a revision; nothing is ever lost."
      size="wide"
    >
      {revisions.isPending ? (
        <Notice title="Loading …" />
      ) : revisions.isError ? (
        <Notice title={revisions.error.message} alert />
      ) : (
        <ol className="flex min-h-0 flex-col overflow-auto">
          {revisions.data.map((one) => (
            <li
              key={one.number}
              className="grid grid-cols-[2.5rem_1fr_auto] items-center gap-3 border-t border-line py-2 first:border-0"
            >
              <span className="text-right font-mono text-soft">{one.number}</span>
              <div className="min-w-0">
                {naming === one.number ? (
                  <form
                    className="flex gap-1.5 pb-1"
                    onSubmit={(event) => {
                      event.preventDefault();
                      void give(one.number, String(new FormData(event.currentTarget).get('name') ?? ''));
                    }}
                  >
                    <TextInput
                      name="name"
                      aria-label={`Name of revision ${one.number}`}
                      autoFocus
                      maxLength={100}
                      defaultValue={one.name}
                      placeholder="as in Rehearsal 2; empty for none"
                      className="flex-1"
                    />
                    <Button type="submit" look="primary">
                      Name
                    </Button>
                    <Button onClick={() => setNaming(undefined)}>Cancel</Button>
                  </form>
                ) : (
                  one.name && <p className="text-xs font-bold text-accent">{one.name}</p>
                )}
                <p className="font-bold break-words">{one.message}</p>
                <p className="text-xs text-soft">
                  {one.author}, {format(new Date(one.createdAt), 'd MMM yyyy, HH:mm')} ·{' '}
                  {plural(one.measures.nodes, 'node')}
                  {one.measures.crossings !== undefined
                    ? ` · ${plural(one.measures.crossings, 'crossing')}`
                    : ' · being measured …'}
                  {one.findings &&
                    one.findings.error + one.findings.warning > 0 &&
                    ` · ${plural(one.findings.error, 'error')}, ${plural(one.findings.warning, 'warning')}`}
                  {one.verdict && <span className={verdicts[one.verdict].look}> · {verdicts[one.verdict].short}</span>}
                </p>
                <p className="font-mono text-xs text-soft">
                  <span title={`Fingerprint of the ends: ${one.fingerprint.ends}`}>
                    ends {one.fingerprint.ends.slice(0, 8)}
                  </span>
                  {' · '}
                  <span title={`Fingerprint of everything: ${one.fingerprint.everything}`}>
                    everything {one.fingerprint.everything.slice(0, 8)}
                  </span>
                </p>
              </div>
              <span className="flex gap-1.5">
                <Button
                  aria-label={`Name revision ${one.number}`}
                  dim={mayName ? undefined : 'It takes the role editor.'}
                  onClick={() => setNaming(one.number)}
                >
                  Name …
                </Button>
                <Button aria-label={`Compare with revision ${one.number}`} onClick={() => compare(one.number)}>
                  Compare
                </Button>
                {one.number === shown ? (
                  <span className="self-center px-2 text-xs text-soft">shown now</span>
                ) : (
                  <Button
                    dim={dirty ? 'Save your changes first, or undo them.' : undefined}
                    onClick={() => look(one.number)}
                  >
                    Look
                  </Button>
                )}
                {one.number !== head && (
                  <Button dim={no} aria-label={`Restore revision ${one.number}`} onClick={() => void restore(one)}>
                    Restore
                  </Button>
                )}
              </span>
            </li>
          ))}
        </ol>
      )}
    </Dialog>
  );
}
