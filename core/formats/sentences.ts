import { sentences } from '../said.ts';
import { plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('formats', {
  'bad-line': ({ line, message }: { line: number; message: string }) => `Line ${line}: ${message}`,
  'bad-row': ({ i, why }: { i: number; why: string }) => `Row ${i + 1}: ${why}`,
  'column-twice': ({ role }: { role: string }) => `Two columns are the ${role}. Choose one.`,
  'comments-left-out': ({ comments }: { comments: number }) =>
    `${plural(comments, 'comment')} of the file ${comments === 1 ? 'was' : 'were'} left out.`,
  'fields-left-out': ({ id }: { id: string }) => `Some fields of ${id} do not fit; they were left out.`,
  hyperedges: ({ hyperedges }: { hyperedges: number }) =>
    `${hyperedges} hyperedges were left out: a wire has two ends.`,
  'more-graphs': ({ graphs }: { graphs: number }) => `The file holds ${graphs} graphs; the first one was read.`,
  'names-made-legal': ({ called, what, name }: { called: number; what: string; name: string }) =>
    called === 1
      ? `One name holds more than letters, digits and _: the node is shown as “${what.slice(0, 60)}”, and scripts call it ${name.slice(0, 60)}.`
      : `${called.toLocaleString('en')} names hold more than letters, digits and _: nodes are shown as they were called, such as “${what.slice(0, 60)}”, and scripts call that one ${name.slice(0, 60)}.`,
  'no-ends-chosen': () => 'Choose which column holds the source of each edge, and which its target.',
  'no-id-chosen': () => 'Choose which column holds the id or name of each node.',
  'other-encoding': ({ encoding }: { encoding: string }) =>
    `The file is not in UTF-8; it was read as ${encoding}. If letters look wrong, save it as UTF-8 and import it again.`,
  'read-as': ({ named, held }: { named: string; held: string }) =>
    `The file is called like ${named} and holds ${held}; it was read as that.`,
  'row-with-one-end': ({ line }: { line: number }) => `Row ${line} names one end only and was left out.`,
  'without-position': ({ missing, isQuick }: { missing: number; isQuick: boolean }) =>
    isQuick
      ? `${plural(missing, 'node')} had no position. A graph of this size is only put in columns along its wires; arrange it for a better layout.`
      : `${plural(missing, 'node')} had no position and ${missing === 1 ? 'was' : 'were'} arranged.`,
});
