import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('work', {
  'no-graph': ({ graph }: { graph: string }) => `This file has no graph “${graph}”.`,
  'not-in-file': ({ id }: { id: string }) => `There is nothing with the id “${id}” in this file.`,
  'no-node-named': ({ name }: { name: string }) => `There is no node “${name}” in this file, by id or by path.`,
  'no-format': ({ format }: { format: string }) => `There is no format “${format}”.`,
  'too-long': ({ seconds }: { seconds: number }) =>
    `This took longer than ${seconds} seconds and was stopped. Nothing was changed.`,
  'too-much-memory': () => 'This needed too much memory and was stopped. Nothing was changed.',
});
