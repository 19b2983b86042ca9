import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { CalmRoutes } from '../route/calm.ts';

/** What a task is given beside its input. */
export interface Tools {
  readonly kinds: Kinds;
  readonly doc: Doc | undefined;
  /** Routes of the document that this worker follows from edit to edit. */
  readonly calm: CalmRoutes;
  progress(fraction: number, what: string): void;
}

export function need(doc: Doc | undefined): Doc {
  if (!doc) throw new Error('This task wants a document.');
  return doc;
}
