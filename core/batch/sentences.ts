import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('batch', {
  better: ({ before, after }: { before: number; after: number; by: number }) =>
    `Readability goes from ${before.toFixed(1)} to ${after.toFixed(1)}.`,
  'not-better': ({ before, after, by }: { before: number; after: number; by: number }) =>
    `Readability goes from ${before.toFixed(1)} to ${after.toFixed(1)}${by > 0 ? `; it has to rise by ${by} at least` : ''}.`,
  'nothing-found': () => 'House rules find nothing of what was asked for.',
  'nothing-new': () => 'House rules find nothing new.',
  'new-finding': ({ message, more }: { message: string; more: number }) =>
    `House rules find something new: ${message}${more > 0 ? ` And ${more} more.` : ''}`,
  'no-catalogue-version': ({ version, to }: { version: number; to: string }) =>
    `there is no version ${version} of a catalogue “${to}”.`,
  'script-failed': ({ line, message, name }: { line: number | undefined; message: string; name: string | undefined }) =>
    `${line === undefined ? '' : `line ${line}: `}${message}${name === undefined ? '' : ` (at “${name}”)`}`,
  'script-not-taken': () => 'the script was not taken from the library.',
  step: ({ step, problem }: { step: number; problem: string }) => `Step ${step}: ${problem}`,
  'query-unreadable': ({ problem }: { problem: string }) => `the query: ${problem}.`,
  'no-operation': ({ operation }: { operation: string }) => `there is no operation “${operation}”.`,
  'option-does-not-fit': ({
    operation,
    option,
    problem,
  }: {
    operation: string;
    option: string | undefined;
    problem: string | undefined;
  }) => `${operation}: option ${option || '(all)'} does not fit: ${problem ?? 'not as expected'}.`,
  'no-script': () => 'name a script, or write one.',
  'no-rule': ({ rule }: { rule: string }) => `“${rule}” is no house rule.`,
});
