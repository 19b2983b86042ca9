import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('batch', {
  'upgrade-no-kind': ({ node, kind }: { node: string; kind: string }) =>
    `“${node}”: the new catalogue has no kind “${kind}”; the node stays as it is. Map it to another kind.`,
  'upgrade-dropped': ({ node, parameter, value }: { node: string; parameter: string; value: string }) =>
    `“${node}”: ${parameter} (${value}) was dropped, as the mapping says.`,
  'upgrade-not-counted': ({ node, parameter, to }: { node: string; parameter: string; to: string }) =>
    `“${node}”: the value of ${parameter} cannot be converted; ${to} keeps it as it is.`,
  'upgrade-no-parameter': ({ node, parameter, value }: { node: string; parameter: string; value: string }) =>
    `“${node}”: its kind no longer has the parameter ${parameter}; its value ${value} is kept, but not used.`,
  'upgrade-value': ({ node, problem }: { node: string; problem: string }) => `“${node}”: ${problem}`,
  'upgrade-no-output': ({ node, port }: { node: string; port: string }) => `“${node}” no longer has the output ${port}`,
  'upgrade-no-input': ({ node, port }: { node: string; port: string }) => `“${node}” no longer has the input ${port}`,
  'upgrade-types': () => 'the types no longer fit',
  'upgrade-wire': ({ source, port, target, why }: { source: string; port: string; target: string; why: string }) =>
    `The wire from “${source}” into ${port} of “${target}” could not be kept: ${why}.`,
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
  'no-rule': ({ rule }: { rule: string }) => `“${rule}” is not a house rule.`,
});
