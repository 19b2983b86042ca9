import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('work', {
  'no-graph': ({ graph }: { graph: string }) => `This file has no graph “${graph}”.`,
});
