import { availableParallelism } from 'node:os';

/** How many files are worked on at the same time. */
export const threadsFor = (files: number): number => Math.max(1, Math.min(availableParallelism(), files, 16));
