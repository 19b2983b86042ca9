/** What a change is about: what is computed, what things are called, or where and how they stand. */
export const layers = ['function', 'words', 'layout'] as const;
export type Layer = (typeof layers)[number];
