import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('document', {
  'twice-in-file': ({ what, row }: { what: string; row: string }) =>
    `The ${what} ${row} stands twice in the file; the second one was left out.`,
  'wire-direction': () => 'A wire leads from an output to an input.',
  'type-refused': ({
    to,
    takes,
    from,
    gives,
    bridge,
  }: {
    to: string;
    takes: string;
    from: string;
    gives: string;
    bridge: string | undefined;
  }) => `“${to}” takes ${takes}, “${from}” gives ${gives}${bridge === undefined ? '' : `; “${bridge}” converts it`}.`,
  'value-refused': ({ parameter, expected, value }: { parameter: string; expected: string; value: string }) =>
    `“${parameter}” takes ${expected}, not ${value}.`,
  'name-empty': () => 'A node needs a name: letters, digits and _, starting with a letter.',
  'name-not-legal': ({ name }: { name: string }) =>
    `“${name}” is no legal name: use letters, digits and _, start with a letter, leave out spaces.`,
  'name-too-long': ({ length }: { length: number }) => `A name has at most 200 characters; this one has ${length}.`,
  'name-taken': ({ name }: { name: string }) => `“${name}” is taken by another node of this graph.`,
});
