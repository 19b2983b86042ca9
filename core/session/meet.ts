import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import { type Rebased, rebase } from '../edit/rebase.ts';

/** Two states of a document that both came from one, brought together as far as they let themselves. */
export interface Met {
  readonly base: Doc;
  readonly mine: Doc;
  readonly theirs: Doc;
  /** Mine, to be done on theirs. */
  readonly rebased: Rebased;
}

/** Brings my state over theirs. The one way to do it, for whoever has two states: a session, the server, a batch, the merge of files. */
export const meet = (base: Doc, mine: Doc, theirs: Doc, kinds: Kinds): Met => ({ base, mine, theirs, rebased: rebase(diff(base, mine), diff(base, theirs), theirs, kinds) });
