import { z } from 'zod';

export const changeUnits = ['node', 'frame', 'note', 'wire', 'graph', 'file'] as const;
/** What a change counts. */
export type Unit = (typeof changeUnits)[number];

/**
 * The same change of many things, which is accepted or left as one: a parameter of a kind that goes from one value to
 * another, nodes of a kind that are added with their wires.
 */
export const changeGroupSchema = z.object({
  key: z.string().describe('The same in every file in which the same changes.'),
  what: z.string().describe('What changes: the title of a parameter or field, or “Nodes added” and the like.'),
  of: z.string().describe('The kinds of node that it is about; empty where it is about none.'),
  said: z.string().describe('From which value to which, or what comes with it.'),
  things: z.int().describe('How many change.'),
  unit: z.enum(changeUnits).describe('What they are.'),
});
