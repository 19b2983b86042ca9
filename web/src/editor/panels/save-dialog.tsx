import { writeDoc } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import type { Edit } from '@basitax/core/edit/step';
import { must } from '@basitax/core/must';
import { plural } from '@basitax/core/words';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { endSaving, markSaved, startSaving, useEditing } from '../store.ts';
import { tellAdapted } from '../together/adapted.ts';
import { ConflictsDialog } from '../together/conflicts-dialog.tsx';
import { goOn, type Met, type Saved, save as saveRevision } from '../together/meet.ts';
import { ChecksSaid, useChecks } from './save-checks.tsx';

/** What would be saved, in a few words. */
function summary(edit: Edit): string {
  const touched = new Map<string, Set<string>>();
  for (const step of edit.steps) touched.set(step.type, (touched.get(step.type) ?? new Set()).add(step.id));
  const word = { add: 'added', remove: 'removed', set: 'changed' } as const;
  return (['add', 'remove', 'set'] as const)
    .flatMap((type) => (touched.has(type) ? [`${plural(must(touched.get(type)).size, 'thing')} ${word[type]}`] : []))
    .join(', ');
}

/** Saving, and what comes of it: saved, refused with a problem, or met with what others saved. */
function useSave(message: string, onClose: () => void) {
  const { doc, fileId, revision, title } = useEditing();
  const [problem, setProblem] = useState<string>();
  const [met, setMet] = useState<Met>();
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const refresh = (): void => {
    void queries.invalidateQueries({ queryKey: ['files'] });
    void queries.invalidateQueries({ queryKey: ['revisions', fileId] });
  };
  const saved = ({ file, over, adapted }: Saved): void => {
    refresh();
    tellAdapted(adapted);
    const last = over.at(-1);
    const on = last ? ` on top of revision ${last.number} by ${last.author}: “${last.message}”` : '';
    if (file) toast.success(`Saved as revision ${file.head.number}${on}.`);
    else toast('Nothing is left to save: the newest revision has your changes already.');
    onClose();
  };
  const once = async (): Promise<void> => {
    const answer = await saveRevision(message.trim());
    if ('rebased' in answer) setMet(answer);
    else saved(answer);
  };
  const save = async (): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      await once();
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const saveResolved = async (resolved: Edit): Promise<void> => {
    tellAdapted(goOn(must(met), resolved));
    await once();
  };
  const saveCopy = async (): Promise<void> => {
    const saving = startSaving();
    if (!saving) throw new Error('It is being saved already, or there is nothing to save.');
    try {
      const { file } = await api.upload(
        `${title}, copy.graph.json`,
        writeDoc({ ...doc, head: { ...doc.head, title: `${title}, copy` } }),
      );
      refresh();
      markSaved(saving, revision, title);
      onClose();
      navigate(`/files/${file.id}`);
    } finally {
      endSaving(saving);
    }
  };
  return { problem, met, busy, save, saveResolved, saveCopy };
}

/** Why it cannot be saved now; undefined where it can. */
function whyNot(edit: Edit, message: string, busy: boolean, isRefused: boolean): string | undefined {
  if (isRefused) return 'The house rules of this project refuse a save that adds errors.';
  if (edit.steps.length === 0) return 'Nothing was changed.';
  if (message.trim() === '') return 'Say in a word or two what was done.';
  return busy ? 'Saving …' : undefined;
}

/**
 * Saves what was done as a revision with a message, over what others saved meanwhile; where both touched the same,
 * shows that side by side.
 */
export function SaveDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { base, doc, catalogue, fileId, revision, title } = useEditing();
  const [message, setMessage] = useState('');
  const { problem, met, busy, save, saveResolved, saveCopy } = useSave(message, onClose);
  const edit = useMemo(() => diff(base, doc), [base, doc]);
  const checks = useChecks(fileId, edit, base, catalogue);
  const dim = whyNot(edit, message, busy, checks.isRefused);
  // what is on its way is waited for
  const close = (): void => {
    if (!busy) onClose();
  };
  if (met)
    return (
      <ConflictsDialog
        key={met.head}
        met={met}
        button="Save with these choices"
        onResolved={saveResolved}
        onCopy={saveCopy}
        onClose={onClose}
      />
    );
  return (
    <Dialog
      open
      onClose={close}
      title="Save a revision"
      about={`${summary(edit) || 'Nothing was changed'}. Revision ${revision + 1} of “${title}”.`}
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (dim === undefined) void save();
        }}
      >
        <Field label="What was done, and why" problem={problem}>
          <TextInput autoFocus maxLength={500} value={message} onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <ChecksSaid checks={checks} />
        <div className="flex justify-end gap-2">
          <Button dim={busy ? 'Saving …' : undefined} onClick={close}>
            Cancel
          </Button>
          <Button type="submit" look="primary" dim={dim}>
            {busy ? 'Saving …' : 'Save'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
