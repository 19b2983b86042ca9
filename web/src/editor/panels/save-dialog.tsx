import type { Catalogue } from '@basitax/core/document/catalogue';
import { caption, type Doc } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import { type Rebased, rebase } from '@basitax/core/edit/rebase';
import { apply, type Edit } from '@basitax/core/edit/step';
import type { Verdict } from '@basitax/core/inspect/fingerprint';
import { Cancelled, plural } from '@basitax/core/operation';
import type { Problem } from '@basitax/server/api';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { ApiProblem, api } from '../../api/client.ts';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { workRunner } from '../../work/runner.ts';
import { markSaved, replaceDocument, useEditing, useEditor } from '../store.ts';
import { verdicts } from '../verdicts.ts';

type Changes = NonNullable<Problem['changes']>;

/** What would be saved, in a few words. */
function summary(edit: Edit): string {
  const touched = new Map<string, Set<string>>();
  for (const step of edit.steps) touched.set(step.type, (touched.get(step.type) ?? new Set()).add(step.id));
  const word = { add: 'added', remove: 'removed', set: 'changed' } as const;
  return (['add', 'remove', 'set'] as const).flatMap((type) => (touched.has(type) ? [`${plural(touched.get(type)!.size, 'thing')} ${word[type]}`] : [])).join(', ');
}

const meanings: Partial<Record<Verdict, string>> = { same: ' What the graph computes has not changed.', changed: ' The graph computes something else.' };

/** What the changes do to what the graph computes, worked out beside the interface. */
function useVerdict(base: Doc, edit: Edit, catalogue: Catalogue): Verdict | undefined {
  const [verdict, setVerdict] = useState<Verdict>();
  useEffect(() => {
    const abort = new AbortController();
    setVerdict(undefined);
    workRunner.run('verdict', { edit }, { doc: base, catalogue, signal: abort.signal }).then(setVerdict, (error: unknown) => !(error instanceof Cancelled) && console.error(error));
    return () => abort.abort();
  }, [base, edit, catalogue]);
  return verdict;
}

/** Saves what was done as a revision with a message. Where somebody saved meanwhile, shows what, and brings one's own changes over. */
export function SaveDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { base, doc, catalogue, fileId, revision, title } = useEditing();
  const [message, setMessage] = useState('');
  const [problem, setProblem] = useState<string>();
  const [changes, setChanges] = useState<Changes>();
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const edit = useMemo(() => diff(base, doc), [base, doc]);
  const verdict = useVerdict(base, edit, catalogue);

  const refresh = (): void => {
    void queries.invalidateQueries({ queryKey: ['files'] });
    void queries.invalidateQueries({ queryKey: ['revisions', fileId] });
  };
  const save = async (): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      const file = await api.save(fileId, revision, edit, message.trim());
      markSaved(file.head.number, doc, file.title);
      refresh();
      toast.success(`Saved as revision ${file.head.number}.`);
      onClose();
    } catch (error) {
      if (error instanceof ApiProblem && error.problem?.changes) setChanges(error.problem.changes);
      else setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const saveCopy = async (): Promise<void> => {
    const { file } = await api.uploadText(`${title}, copy.graph.json`, writeDoc({ ...doc, head: { ...doc.head, title: `${title}, copy` } }));
    refresh();
    markSaved(revision, doc, title);
    onClose();
    navigate(`/files/${file.id}`);
  };
  if (changes) return <Meanwhile changes={changes} mine={edit} onClose={onClose} onMerged={() => setChanges(undefined)} onCopy={saveCopy} />;
  return (
    <Dialog open onClose={onClose} title="Save a revision" about={`${summary(edit) || 'Nothing was changed'}. Revision ${revision + 1} of “${title}”.`}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (message.trim() && edit.steps.length > 0 && !busy) void save();
        }}
      >
        <Field label="What was done, and why" problem={problem}>
          <TextInput autoFocus maxLength={500} value={message} onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <p className={`text-sm font-bold ${verdict ? verdicts[verdict].look : 'text-soft'}`} role="status">
          {verdict ? `${verdicts[verdict].text}.${meanings[verdict] ?? ''}` : 'Function fingerprint: comparing …'}
        </p>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            type="submit"
            look="primary"
            dim={edit.steps.length === 0 ? 'Nothing was changed.' : message.trim() === '' ? 'Say in a word or two what was done.' : busy ? 'Saving …' : undefined}
          >
            {busy ? 'Saving …' : 'Save'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Somebody else saved since: who and what, and one's own changes on top of theirs where the two touch different things. */
function Meanwhile({
  changes,
  mine,
  onClose,
  onMerged,
  onCopy,
}: {
  changes: Changes;
  mine: Edit;
  onClose: () => void;
  onMerged: () => void;
  onCopy: () => Promise<void>;
}): ReactNode {
  const base = useEditor((state) => state.base);
  const [problem, setProblem] = useState<string>();
  const { head, merged } = useMemo((): { head: typeof base; merged: Rebased } => {
    const theirs: Edit = { steps: (changes.edits as Edit[]).flatMap((edit) => edit.steps) };
    const newest = apply(base, theirs);
    return { head: newest, merged: rebase(mine, diff(base, newest), newest) };
  }, [base, changes, mine]);
  const clean = merged.conflicts.length === 0;
  return (
    <Dialog open onClose={onClose} title="Somebody saved since you opened this" about="Nothing of yours is lost, and nothing of theirs was overwritten." size="wide">
      <ul className="text-sm">
        {changes.revisions.map((one) => (
          <li key={one.number}>
            Revision {one.number} by {one.author}: “{one.message}”
          </li>
        ))}
      </ul>
      {clean ? (
        <p className="text-sm">
          Your changes touch other things than theirs, so both can stand{merged.notes.length > 0 ? `. ${merged.notes.map((note) => note.message).join(' ')}` : '.'}
        </p>
      ) : (
        <div className="flex min-h-0 flex-col gap-1 text-sm">
          <p>
            {plural(merged.conflicts.length, 'change')} of yours {merged.conflicts.length === 1 ? 'meets' : 'meet'} theirs:
          </p>
          <ul className="list-disc overflow-auto pl-5">
            {merged.conflicts.slice(0, 30).map((conflict, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list never changes
              <li key={i}>{conflict.message.replace(conflict.id, head.nodes.has(conflict.id) ? `“${caption(head.nodes.get(conflict.id)!)}”` : conflict.id)}</li>
            ))}
          </ul>
        </div>
      )}
      {problem && (
        <p role="alert" className="text-sm text-warn">
          {problem}
        </p>
      )}
      <div className="flex flex-wrap justify-end gap-2">
        <Button onClick={onClose}>Go on editing</Button>
        <Button onClick={() => void onCopy().catch((error: Error) => setProblem(error.message))}>Save mine as a file of its own</Button>
        {!clean && (
          <Button
            onClick={() => {
              replaceDocument(changes.head, head, merged.edit.steps.length > 0 ? merged.edit : undefined);
              onMerged();
              onClose();
            }}
          >
            Take theirs where they meet
          </Button>
        )}
        {clean && (
          <Button
            look="primary"
            onClick={() => {
              replaceDocument(changes.head, head, merged.edit);
              onMerged();
            }}
          >
            Bring my changes over theirs
          </Button>
        )}
      </div>
    </Dialog>
  );
}
