import type { Catalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { writeDoc } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import type { Edit } from '@basitax/core/edit/step';
import type { Verdict } from '@basitax/core/inspect/fingerprint';
import { must } from '@basitax/core/must';
import { Cancelled } from '@basitax/core/operation';
import { plural } from '@basitax/core/words';
import type { TaskInput, TaskResult } from '@basitax/core/work/tasks';
import { useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { api } from '../../api/client.ts';
import { useHouseRules } from '../../rules/house.ts';
import { Button, Dialog, Field, TextInput } from '../../ui/controls.tsx';
import { workRunner } from '../../work/runner.ts';
import { endSaving, markSaved, startSaving, useEditing } from '../store.ts';
import { tellAdapted } from '../together/adapted.ts';
import { ConflictsDialog } from '../together/conflicts-dialog.tsx';
import { goOn, type Met, type Saved, save as saveRevision } from '../together/meet.ts';
import { verdicts } from '../verdicts.ts';

/** What would be saved, in a few words. */
function summary(edit: Edit): string {
  const touched = new Map<string, Set<string>>();
  for (const step of edit.steps) touched.set(step.type, (touched.get(step.type) ?? new Set()).add(step.id));
  const word = { add: 'added', remove: 'removed', set: 'changed' } as const;
  return (['add', 'remove', 'set'] as const)
    .flatMap((type) => (touched.has(type) ? [`${plural(must(touched.get(type)).size, 'thing')} ${word[type]}`] : []))
    .join(', ');
}

const meanings: Partial<Record<Verdict, string>> = {
  same: ' What the graph computes has not changed.',
  changed: ' The graph computes something else.',
};

/**
 * What a worker says of the changes, worked out beside the interface; undefined until it has, and where nothing is
 * asked.
 */
function useSaid<T extends 'verdict' | 'addedBy'>(
  task: T,
  asked: TaskInput<T> | undefined,
  base: Doc,
  catalogue: Catalogue,
): TaskResult<T> | undefined {
  const [said, setSaid] = useState<TaskResult<T>>();
  useEffect(() => {
    setSaid(undefined);
    if (!asked) return;
    const abort = new AbortController();
    workRunner
      .run(task, asked, { doc: base, catalogue, signal: abort.signal })
      .then(setSaid, (error: unknown) => !(error instanceof Cancelled) && console.error(error));
    return () => abort.abort();
  }, [task, asked, base, catalogue]);
  return said;
}

const mostErrors = 6;

/**
 * Saves what was done as a revision with a message, over what others saved meanwhile; where both touched the same,
 * shows that side by side.
 */
export function SaveDialog({ onClose }: { onClose: () => void }): ReactNode {
  const { base, doc, catalogue, fileId, revision, title } = useEditing();
  const [message, setMessage] = useState('');
  const [problem, setProblem] = useState<string>();
  const [met, setMet] = useState<Met>();
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const edit = useMemo(() => diff(base, doc), [base, doc]);
  const { rules } = useHouseRules(fileId);
  const { profile } = rules;
  const asksRules = rules.onSave !== 'off';
  const verdict = useSaid(
    'verdict',
    useMemo(() => ({ edit }), [edit]),
    base,
    catalogue,
  );
  // the errors that the changes add
  const added = useSaid(
    'addedBy',
    useMemo(() => (asksRules ? { edit, profile } : undefined), [asksRules, edit, profile]),
    base,
    catalogue,
  );
  const isRefused = rules.onSave === 'refuse' && (added?.length ?? 0) > 0;

  // what is on its way is waited for
  const close = (): void => {
    if (!busy) onClose();
  };
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
  const save = async (): Promise<void> => {
    setBusy(true);
    setProblem(undefined);
    try {
      const answer = await saveRevision(message.trim());
      if ('rebased' in answer) setMet(answer);
      else saved(answer);
    } catch (error) {
      setProblem((error as Error).message);
    } finally {
      setBusy(false);
    }
  };
  const saveResolved = async (resolved: Edit): Promise<void> => {
    tellAdapted(goOn(must(met), resolved));
    const answer = await saveRevision(message.trim());
    if ('rebased' in answer) setMet(answer);
    else saved(answer);
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
          if (message.trim() && edit.steps.length > 0 && !busy && !isRefused) void save();
        }}
      >
        <Field label="What was done, and why" problem={problem}>
          <TextInput autoFocus maxLength={500} value={message} onChange={(event) => setMessage(event.target.value)} />
        </Field>
        <p className={`text-sm font-bold ${verdict ? verdicts[verdict].look : 'text-soft'}`} role="status">
          {verdict ? `${verdicts[verdict].text}.${meanings[verdict] ?? ''}` : 'Function fingerprint: comparing …'}
        </p>
        {asksRules && (
          <div className="text-sm" role="status">
            {added === undefined ? (
              <p className="text-soft">House rules: looking …</p>
            ) : added.length === 0 ? (
              <p className="text-good">House rules: no new errors.</p>
            ) : (
              <>
                <p className="font-bold text-warn">
                  House rules: {plural(added.length, 'new error')}.
                  {isRefused && ' This project refuses to save that: mend them, or undo what brought them.'}
                </p>
                <ul className="list-disc pl-5">
                  {added.slice(0, mostErrors).map((item) => (
                    <li key={`${item.rule} ${item.place.join()} ${item.message}`}>{item.message}</li>
                  ))}
                  {added.length > mostErrors && <li>{plural(added.length - mostErrors, 'other')}</li>}
                </ul>
              </>
            )}
          </div>
        )}
        <div className="flex justify-end gap-2">
          <Button dim={busy ? 'Saving …' : undefined} onClick={close}>
            Cancel
          </Button>
          <Button
            type="submit"
            look="primary"
            dim={
              isRefused
                ? 'The house rules of this project refuse a save that adds errors.'
                : edit.steps.length === 0
                  ? 'Nothing was changed.'
                  : message.trim() === ''
                    ? 'Say in a word or two what was done.'
                    : busy
                      ? 'Saving …'
                      : undefined
            }
          >
            {busy ? 'Saving …' : 'Save'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
