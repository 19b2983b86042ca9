import { sentences } from '../said.ts';
import { listed, plural } from '../words.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('edit', {
  'feeds-changed': ({ inputs, source }: { inputs: string[]; source: string | undefined }) =>
    `${plural(inputs.length, 'input')} ${inputs.length === 1 ? 'takes' : 'take'} ${source === undefined ? 'nothing' : `“${source}”`} now, which neither side meant: ${listed(inputs)}. Look at what feeds ${inputs.length === 1 ? 'it' : 'them'}.`,
  'name-taken': ({ node, free }: { node: string; free: string }) =>
    `“${node}” is now in use, so this one is called “${free}”.`,
});
