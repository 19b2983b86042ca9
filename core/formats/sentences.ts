import { sentences } from '../said.ts';
import { plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('formats', {
  'bad-line': ({ line, message }: { line: number; message: string }) => `Line ${line}: ${message}`,
  'bad-row': ({ i, why }: { i: number; why: string }) => `Row ${i + 1}: ${why}`,
  'comments-left-out': ({ comments }: { comments: number }) =>
    `${plural(comments, 'comment')} of the file ${comments === 1 ? 'was' : 'were'} left out.`,
  'fields-left-out': ({ id }: { id: string }) => `Some fields of ${id} do not fit; they were left out.`,
  hyperedges: ({ hyperedges }: { hyperedges: number }) =>
    `${hyperedges} hyperedges were left out: a wire has two ends.`,
  'more-graphs': ({ graphs }: { graphs: number }) => `The file holds ${graphs} graphs; the first one was read.`,
  'names-made-legal': ({ called, what }: { called: number; what: string }) =>
    `${called} of the names hold spaces or other signs, “${what.slice(0, 60)}” for one: legal names were made from them, and they are kept as labels.`,
  'row-with-one-end': ({ i, isTitled }: { i: number; isTitled: boolean }) =>
    `Row ${i + (isTitled ? 2 : 1)} names one end only and was left out.`,
  'without-position': ({ missing }: { missing: number }) =>
    `${plural(missing, 'node')} had no position and ${missing === 1 ? 'was' : 'were'} arranged.`,
});
