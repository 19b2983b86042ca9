import { z } from 'zod';

export const titleSchema = z.string().trim().min(1, 'Give it a name.').max(200);

/** What a sentence was made from, for programs. */
export const paramsSchema = z.record(
  z.string(),
  z.union([z.string(), z.number(), z.boolean(), z.null(), z.array(z.string()).readonly()]).optional(),
);

/** A line of a script's console. */
export const logLineSchema = z.object({
  level: z.enum(['log', 'warn']),
  text: z.string(),
  line: z.int().optional().describe('The line of the script that said it.'),
});

/** Values in a query with commas between, as a list; undefined where it is absent. `most`: its length, in characters. */
export const commaList = (about: string, most = 4000) =>
  z
    .string()
    .max(most)
    .optional()
    .describe(about)
    .transform((text) => text?.split(',').flatMap((one) => one.trim() || []));
