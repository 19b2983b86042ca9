import { ApiProblem } from '@basitax/api/client';
import type { FileInfo } from '@basitax/api/files';
import type { Problem } from '@basitax/api/problem';
import type { Doc } from '@basitax/core/document/doc';
import { readStored } from '@basitax/core/document/file';
import { diff } from '@basitax/core/edit/diff';
import type { Met as MetDocs } from '@basitax/core/edit/meet';
import { apply, type Edit } from '@basitax/core/edit/step';
import { meetIn } from '@basitax/core/session/session';
import { api } from '../../api/client.ts';
import { endSaving, markSaved, startSaving, takeInRevision, useEditor } from '../store.ts';

const { getState } = useEditor;

/** One’s own changes and those that others saved meanwhile, brought together as far as they let themselves. */
export interface Met extends MetDocs {
  /** The newest revision. */
  readonly head: number;
  /** Who saved what, where that is known. */
  readonly revisions: readonly { readonly number: number; readonly author: string; readonly message: string }[];
}

type Changes = NonNullable<Problem['changes']>;

const metWith = (theirs: Doc, head: number, revisions: Met['revisions']): Met => ({
  ...meetIn(getState(), theirs),
  head,
  revisions,
});

/**
 * Goes on from the newest revision, with one’s own changes on top; `choices` where both touched the same. Gives back
 * what was adapted on the way.
 */
export function goOn({ head, theirs, revisions, rebased }: Met, choices?: Edit): readonly string[] {
  const last = revisions.at(-1);
  const title = last ? `Revision ${last.number} by ${last.author}: “${last.message}”` : `Revision ${head}`;
  if (!takeInRevision(head, theirs, title, choices))
    throw new Error('Finish what is in hand first, or drop the preview.');
  return rebased.notes.map((note) => note.message);
}

export interface Saved {
  readonly file: FileInfo | undefined;
  /** What it was brought over, the latest last. */
  readonly over: Met['revisions'];
  /** What was adapted to theirs, a sentence each, such as a name that was numbered. */
  readonly adapted: readonly string[];
}

/**
 * Saves what was changed as a revision. Where others saved meanwhile and touched different things, brings it over
 * theirs and saves that; where both touched the same, gives back what met, and nothing is done. `file` is undefined
 * where theirs hold all of it already.
 */
export async function save(message: string): Promise<Saved | Met> {
  const over: { number: number; author: string; message: string }[] = [];
  const adapted: string[] = [];
  for (;;) {
    const saving = startSaving();
    if (!saving) return { file: undefined, over, adapted };
    try {
      const file = await api.save(saving.fileId, saving.revision, diff(saving.base, saving.doc), message);
      markSaved(saving, file.head.number, file.title);
      return { file, over, adapted };
    } catch (error) {
      endSaving(saving);
      if (!(error instanceof ApiProblem && error.problem?.changes)) throw error;
      if (getState().fileId !== saving.fileId)
        throw new Error(
          'Others saved this file in the meantime, and you opened another file before yours was saved. Open it again: your changes are kept in this browser.',
        );
      const { edits, head, revisions }: Changes = error.problem.changes;
      const met = metWith((edits as Edit[]).reduce(apply, saving.base), head, revisions);
      if (met.rebased.conflicts.length > 0) return met;
      over.push(...met.revisions);
      adapted.push(...goOn(met));
    }
  }
}

/**
 * Takes in what others saved, under one’s own changes. Gives back what met where both touched the same; then nothing is
 * done. Waits for whatever is in hand, previewed or being saved: undefined where it has to be asked again later, or
 * there is nothing to take in;
 * else what was adapted.
 */
export async function takeIn(
  number: number,
  revisions: Met['revisions'] = [],
): Promise<Met | readonly string[] | undefined> {
  const { fileId } = getState();
  const { text, number: head } = await api.revision(fileId, number);
  const { revision, preview, moving, saving, fileId: now } = getState();
  if (now !== fileId || revision >= head || preview || moving || saving) return undefined;
  const met = metWith(readStored(text), head, revisions);
  return met.rebased.conflicts.length > 0 ? met : goOn(met);
}
