import { z } from 'zod';
import { parseDoc, readStored } from '../document/file.ts';
import { diff } from '../edit/diff.ts';
import { rebase } from '../edit/rebase.ts';
import { conflictPoints, conflictSentences, type Point } from '../edit/resolve.ts';
import { apply, editSchema } from '../edit/step.ts';
import {
  byProfile,
  type Inspected,
  inspectDoc,
  type Judged,
  judgeDoc,
  type Noted,
  noteDoc,
  type Refusal,
  type Revised,
  revised,
} from './revised.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

const inspect = task(byProfile, (input, tools): Inspected => inspectDoc(need(tools.doc), tools, input.profile));

/** What is known of a stored revision without routing it. */
const note = task(z.object({}), (_input, tools): Noted => noteDoc(need(tools.doc), tools.kinds));

const judge = task(byProfile, (input, tools): Judged => judgeDoc(need(tools.doc), tools, input.profile));

/** The document after an edit, or as another one stands; judged later where that is asked for. */
const revise = task(
  z.intersection(
    byProfile.extend({ refuse: z.boolean().default(false), later: z.boolean().default(false) }),
    z.union([z.object({ edit: editSchema }), z.object({ become: z.string() })]),
  ),
  (input, tools): Revised | Refusal => {
    const doc = need(tools.doc);
    const edit = 'become' in input ? diff(doc, parseDoc(input.become).doc) : input.edit;
    const { profile, refuse, later } = input;
    return revised(
      doc,
      apply(doc, edit),
      edit,
      { before: tools.kinds, kinds: tools.kinds, isOld: 'become' in input, profile, refuse, later },
      tools,
    );
  },
);

/** What came of bringing an edit over: conflicts in sentences, and with both sides of each. */
interface Brought {
  readonly conflicts: readonly string[];
  readonly points: readonly Point[];
  readonly revised: Revised | undefined;
  readonly refusal?: string;
}

/**
 * An edit brought over what was done since to the document that it was made on, and the document with it; or why that
 * cannot be.
 */
const bring = task(
  byProfile.extend({ base: z.string(), edit: editSchema, partly: z.boolean() }),
  (input, tools): Brought => {
    const head = need(tools.doc);
    const base = readStored(input.base);
    const { edit, conflicts: met } = rebase(input.edit, diff(base, head), head, tools.kinds);
    const versions = { base, mine: apply(base, input.edit), theirs: head };
    const conflicts = conflictSentences(versions, met, { mine: 'this run', theirs: 'the file' });
    const points = conflictPoints(versions, met);
    // what was changed since may stay as it is; what was deleted or wired since cannot be passed over
    const isPossible =
      met.length === 0 || (input.partly && met.every((one) => one.kind === 'position' || one.kind === 'value'));
    if (!isPossible || edit.steps.length === 0) return { conflicts, points, revised: undefined };
    const made = revised(
      head,
      apply(head, edit),
      edit,
      { before: tools.kinds, kinds: tools.kinds, isOld: false, profile: input.profile },
      tools,
    );
    return 'refusal' in made
      ? { conflicts, points, revised: undefined, refusal: made.refusal }
      : { conflicts, points, revised: made };
  },
);

/** What a server stores of files and their revisions. */
export const revisionTasks = { inspect, note, judge, revise, bring } as const;
