import type { Doc } from '@basitax/core/document/doc';
import { readStored } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import { type Rebased, rebase } from '@basitax/core/edit/rebase';
import { apply, type Edit } from '@basitax/core/edit/step';
import type { FileInfo, Problem } from '@basitax/server/api';
import { api } from '../../api/client.ts';
import { ApiProblem } from '../../api/http.ts';
import { endSaving, markSaved, replaceDocument, startSaving, useEditor } from '../store.ts';

const { getState } = useEditor;

/** One’s own changes and those that others saved meanwhile, brought together as far as they let themselves. */
export interface Met {
  /** The newest revision. */
  readonly head: number;
  /** Who saved what, where that is known. */
  readonly revisions: readonly { readonly number: number; readonly author: string; readonly message: string }[];
  readonly base: Doc;
  readonly mine: Doc;
  readonly theirs: Doc;
  readonly rebased: Rebased;
}

export function meet(base: Doc, mine: Doc, theirs: Doc, head: number, revisions: Met['revisions']): Met {
  return { head, revisions, base, mine, theirs, rebased: rebase(diff(base, mine), diff(base, theirs), theirs, getState().kinds) };
}

type Changes = NonNullable<Problem['changes']>;

function metOn(changes: Changes): Met {
  const { base, doc } = getState();
  return meet(base, doc, (changes.edits as Edit[]).reduce(apply, base), changes.head, changes.revisions);
}

/** Goes on from the newest revision, with one’s own changes on top. */
export function goOn({ head, theirs }: Met, edit: Edit): void {
  replaceDocument(head, theirs, edit.steps.length > 0 ? edit : undefined);
}

export interface Saved {
  readonly file: FileInfo | undefined;
  /** What it was brought over, the latest last. */
  readonly over: Met['revisions'];
}

/**
 * Saves what was changed as a revision. Where others saved meanwhile and touched different things, brings it over theirs and saves that; where both
 * touched the same, gives back what met, and nothing is done. `file` is undefined where theirs hold all of it already.
 */
export async function save(message: string): Promise<Saved | Met> {
  const over: { number: number; author: string; message: string }[] = [];
  for (;;) {
    const saving = startSaving();
    const edit = diff(saving.base, saving.doc);
    if (edit.steps.length === 0) {
      endSaving(saving);
      return { file: undefined, over };
    }
    try {
      const file = await api.save(saving.fileId, saving.revision, edit, message);
      markSaved(saving, file.head.number, file.title);
      return { file, over };
    } catch (error) {
      endSaving(saving);
      if (!(error instanceof ApiProblem && error.problem?.changes)) throw error;
      if (getState().fileId !== saving.fileId)
        throw new Error('Others have saved this file meanwhile, and another file was opened before yours was saved. Open it again: what you did is kept in this browser.');
      const met = metOn(error.problem.changes);
      if (met.rebased.conflicts.length > 0) return met;
      over.push(...met.revisions);
      goOn(met, met.rebased.edit);
    }
  }
}

/**
 * Takes in what others saved, under one’s own changes. Gives back what met where both touched the same; then nothing is done. Waits for whatever is
 * in hand, previewed or being saved: undefined where it has to be asked again later, or there is nothing to take in.
 */
export async function takeIn(number: number): Promise<Met | undefined> {
  const { fileId } = getState();
  const { text, number: head } = await api.revision(fileId, number);
  const { base, doc, revision, preview, moving, saving, fileId: now } = getState();
  if (now !== fileId || revision >= head || preview || moving || saving) return undefined;
  const met = meet(base, doc, readStored(text), head, []);
  if (met.rebased.conflicts.length > 0) return met;
  goOn(met, met.rebased.edit);
  return undefined;
}
