import { z } from 'zod';

/** What the files of a team use of one another and of the asset store, as it comes over a border. */
export const fileLinksSchema = z.object({
  files: z.array(z.object({ id: z.string(), title: z.string() })),
  shared: z
    .array(z.object({ name: z.string(), title: z.string(), from: z.string() }))
    .describe('Shared kinds, with the file that each was published from last.'),
  uses: z
    .array(
      z.object({
        file: z.string(),
        what: z.enum(['shared', 'asset']),
        name: z.string(),
        written: z.boolean(),
        count: z.int(),
      }),
    )
    .describe('Which file uses which shared kind, and reads or writes which asset, and how often.'),
});
export type FileLinks = z.infer<typeof fileLinksSchema>;
