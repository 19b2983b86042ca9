import { sentences } from '../said.ts';
import { listed, plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('edit', {
  'lost-below': ({ id, below }: { id: string; below: string }) => `${id} needs ${below}, which was deleted.`,
  'added-by-both': ({ id }: { id: string }) => `Both sides added ${id}, in different ways.`,
  'deleted-by-both': ({ id }: { id: string }) => `Both sides deleted ${id}.`,
  'deleted-and-changed': ({ id }: { id: string }) => `One side deleted ${id} and the other changed it.`,
  'deleted-since': ({ id }: { id: string }) => `${id} was deleted.`,
  'changed-by-both': ({ field, id }: { field: string; id: string }) => `Both sides changed ${field} of ${id}.`,
  'wired-by-both': ({ port, node }: { port: string; node: string }) => `Both sides wired the input ${port} of ${node}.`,
  'feeds-changed': ({ inputs, source }: { inputs: string[]; source: string | undefined }) =>
    `${plural(inputs.length, 'input')} ${inputs.length === 1 ? 'takes' : 'take'} ${source === undefined ? 'nothing' : `“${source}”`} now, which neither side meant: ${listed(inputs)}. Look at what feeds ${inputs.length === 1 ? 'it' : 'them'}.`,
  'name-taken': ({ node, free }: { node: string; free: string }) =>
    `“${node}” is now in use, so this one is called “${free}”.`,
});
