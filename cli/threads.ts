import { availableParallelism } from 'node:os';

/** How many files are worked on at the same time at the most. */
export const mostAtOnce = Math.min(availableParallelism(), 16);
