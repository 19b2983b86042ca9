import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from './diff.ts';
import { type Rebased, rebase } from './rebase.ts';
import type { Edit } from './step.ts';

/** Two states of a document that both came from one, brought together as far as they let themselves. */
export interface Met {
  readonly base: Doc;
  readonly mine: Doc;
  readonly theirs: Doc;
  /** What each side did since. */
  readonly done: { readonly mine: Edit; readonly theirs: Edit };
  /** Mine, to be done on theirs. */
  readonly rebased: Rebased;
}

/**
 * Brings my state over theirs. The one way to do it, for whoever has two states: a session, what was left unsaved, the
 * merge of files.
 */
export function meet(base: Doc, mine: Doc, theirs: Doc, kinds: Kinds): Met {
  const done = { mine: diff(base, mine), theirs: diff(base, theirs) };
  return { base, mine, theirs, done, rebased: rebase(done.mine, done.theirs, theirs, kinds) };
}
