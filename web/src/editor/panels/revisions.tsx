import type { Revision } from '@basitax/api/files';
import { isDirty } from '@basitax/core/session/session';
import { plural } from '@basitax/core/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { format } from 'date-fns';
import { type ReactNode, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api, untilMeasured } from '../../api/client.ts';
import { lacksRole, usePerson } from '../../api/person.ts';
import { teamApi } from '../../api/team.ts';
import { Button, Dialog, Notice, TextInput } from '../../ui/controls.tsx';
import { RowMenu } from '../../ui/menus.tsx';
import { ask } from '../inspect/questions.ts';
import { openLeft } from '../layout.ts';
import { useEditor } from '../store.ts';
import { verdicts } from '../verdicts.ts';

/** All revisions of the file, newest first: to be looked at, and restored. */
export function RevisionsDialog({ onClose, onRestored }: { onClose: () => void; onRestored: () => void }): ReactNode {
  const fileId = useEditor((state) => state.fileId);
  const dirty = useEditor(isDirty);
  const person = usePerson().data;
  const revisions = useQuery({
    queryKey: ['revisions', fileId],
    queryFn: () => api.revisions(fileId),
    staleTime: 0,
    refetchInterval: ({ state }) => untilMeasured(state.data),
  });
  const [busy, setBusy] = useState(false);
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
  const needsRole = lacksRole(person, 'editor');
  const unsaved = dirty ? 'Save your changes first, or undo them.' : undefined;
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
            <RevisionRow
              key={one.number}
              revision={one}
              head={head}
              dim={{
                name: needsRole,
                look: unsaved,
                restore: needsRole ?? unsaved ?? (busy ? 'Restoring …' : undefined),
              }}
              onNamed={() => void revisions.refetch()}
              onRestore={() => void restore(one)}
              onClose={onClose}
            />
          ))}
        </ol>
      )}
    </Dialog>
  );
}

function RevisionRow({
  revision,
  head,
  dim,
  onNamed,
  onRestore,
  onClose,
}: {
  revision: Revision;
  head: number;
  /** Why something cannot be done now. */
  dim: Readonly<Record<'name' | 'look' | 'restore', string | undefined>>;
  onNamed: () => void;
  onRestore: () => void;
  onClose: () => void;
}): ReactNode {
  const { number } = revision;
  const fileId = useEditor((state) => state.fileId);
  const shown = useEditor((state) => state.revision);
  const navigate = useNavigate();
  const [naming, setNaming] = useState(false);
  const look = (): void => {
    onClose();
    navigate(number === head ? `/files/${fileId}` : `/files/${fileId}/revisions/${number}`);
  };
  const compare = (): void => {
    ask({ other: { file: fileId, revision: number } });
    openLeft('compare');
    onClose();
  };
  const named = (): void => {
    setNaming(false);
    onNamed();
  };
  return (
    <RowMenu
      heading={`Revision ${number}`}
      groups={[
        [
          {
            id: 'look',
            title: 'Look at it',
            dim: number === shown ? 'It is shown now.' : dim.look,
            run: look,
          },
          { id: 'compare', title: 'Compare with it', run: compare },
        ],
        [
          { id: 'name', title: 'Name it …', dim: dim.name, run: () => setNaming(true) },
          {
            id: 'restore',
            title: 'Restore it',
            dim: number === head ? 'It is the newest revision.' : dim.restore,
            run: onRestore,
          },
        ],
      ]}
    >
      <li className="grid grid-cols-[2.5rem_1fr_auto] items-center gap-3 border-t border-line py-2 first:border-0">
        <span className="text-right font-mono text-soft">{number}</span>
        <div className="min-w-0">
          {naming ? (
            <NameForm fileId={fileId} revision={revision} onNamed={named} onCancel={() => setNaming(false)} />
          ) : (
            revision.name && <p className="text-xs font-bold text-accent">{revision.name}</p>
          )}
          <RevisionFacts revision={revision} />
        </div>
        <span className="flex gap-1.5">
          <Button aria-label={`Name revision ${number}`} dim={dim.name} onClick={() => setNaming(true)}>
            Name …
          </Button>
          <Button aria-label={`Compare with revision ${number}`} onClick={compare}>
            Compare
          </Button>
          {number === shown ? (
            <span className="self-center px-2 text-xs text-soft">shown now</span>
          ) : (
            <Button dim={dim.look} onClick={look}>
              Look
            </Button>
          )}
          {number !== head && (
            <Button dim={dim.restore} aria-label={`Restore revision ${number}`} onClick={onRestore}>
              Restore
            </Button>
          )}
        </span>
      </li>
    </RowMenu>
  );
}

function NameForm({
  fileId,
  revision: { number, name },
  onNamed,
  onCancel,
}: {
  fileId: string;
  revision: Revision;
  onNamed: () => void;
  onCancel: () => void;
}): ReactNode {
  const queries = useQueryClient();
  const give = async (wanted: string): Promise<void> => {
    try {
      await teamApi.nameRevision(fileId, number, wanted.trim());
      onNamed();
      void queries.invalidateQueries({ queryKey: ['files'] });
    } catch (error) {
      toast.error('It was not named', { description: (error as Error).message });
    }
  };
  return (
    <form
      className="flex gap-1.5 pb-1"
      onSubmit={(event) => {
        event.preventDefault();
        void give(String(new FormData(event.currentTarget).get('name') ?? ''));
      }}
    >
      <TextInput
        name="name"
        aria-label={`Name of revision ${number}`}
        autoFocus
        maxLength={100}
        defaultValue={name}
        placeholder="as in Rehearsal 2; empty for none"
        className="flex-1"
      />
      <Button type="submit" look="primary">
        Name
      </Button>
      <Button onClick={onCancel}>Cancel</Button>
    </form>
  );
}

/** Who saved it and when, how readable it is, and what it computes. */
function RevisionFacts({
  revision: { message, author, createdAt, measures, findings, verdict, fingerprint },
}: {
  revision: Revision;
}): ReactNode {
  return (
    <>
      <p className="font-bold break-words">{message}</p>
      <p className="text-xs text-soft">
        {author}, {format(new Date(createdAt), 'd MMM yyyy, HH:mm')} · {plural(measures.nodes, 'node')}
        {measures.crossings !== undefined ? ` · ${plural(measures.crossings, 'crossing')}` : ' · being measured …'}
        {findings &&
          findings.error + findings.warning > 0 &&
          ` · ${plural(findings.error, 'error')}, ${plural(findings.warning, 'warning')}`}
        {verdict && <span className={verdicts[verdict].look}> · {verdicts[verdict].short}</span>}
      </p>
      <p className="font-mono text-xs text-soft">
        <span title={`Fingerprint of the ends: ${fingerprint.ends}`}>ends {fingerprint.ends.slice(0, 8)}</span>
        {' · '}
        <span title={`Fingerprint of everything: ${fingerprint.everything}`}>
          everything {fingerprint.everything.slice(0, 8)}
        </span>
      </p>
    </>
  );
}
