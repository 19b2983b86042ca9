import { z } from 'zod';

const setting = z
  .strictObject({
    severity: z
      .enum(['error', 'warning', 'info', 'off'])
      .optional()
      .describe('Its severity here; `off` leaves it out. By default that of the rule.'),
    where: z.string().max(2000).optional().describe('Only findings about nodes that match this query.'),
    options: z
      .record(z.string().max(100), z.json())
      .optional()
      .describe('What the rule is set to; its defaults where absent.'),
  })
  .describe('A rule that is named is checked, unless it is off.');

/**
 * The house rules of a team, as a file has them: which are looked for, how grave each is, about what, and its limits.
 */
export const profileSchema = z.strictObject({
  title: z.string().max(200).optional(),
  others: z
    .enum(['usual', 'off'])
    .default('usual')
    .describe('Rules that are not named: those that are on by default are checked, or none.'),
  rules: z.record(z.string().min(1).max(100), setting).default({}),
});
export type Profile = z.infer<typeof profileSchema>;
