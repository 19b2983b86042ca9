import { z } from 'zod';

/**
 * What is known of a file beside the document, as it comes over a border: rules that need something that is not known
 * find nothing.
 */
export const factsSchema = z.object({
  assets: z
    .record(z.string(), z.object({ exists: z.boolean(), elsewhere: z.array(z.string()) }))
    .optional()
    .describe(
      'For each path that a parameter holds, whether the asset store has it, and where files of that name lie.',
    ),
  bypassedSince: z
    .record(z.string(), z.object({ revision: z.int(), days: z.number() }))
    .optional()
    .describe('For each bypassed node the revision that bypassed it, and how many days ago that was.'),
});
export type Facts = z.infer<typeof factsSchema>;
