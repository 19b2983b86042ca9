import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('work', {
  'no-graph': ({ graph }: { graph: string }) => `This file has no graph “${graph}”.`,
  'too-long': ({ seconds }: { seconds: number }) =>
    `This took longer than ${seconds} seconds and was stopped; nothing was changed.`,
  'too-much-memory': () => 'This needed more memory than there is for it and was stopped; nothing was changed.',
});
