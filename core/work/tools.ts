import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';

/** What a task is given beside its input. */
export interface Tools {
  readonly kinds: Kinds;
  readonly doc: Doc | undefined;
  progress(fraction: number, what: string): void;
}

export function need(doc: Doc | undefined): Doc {
  if (!doc) throw new Error('This task wants a document.');
  return doc;
}
