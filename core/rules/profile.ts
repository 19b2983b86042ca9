import { z } from 'zod';
import { parseQuery, QueryError } from '../query/query.ts';
import { type Asked, ruleById, rules } from './rules.ts';

const setting = z
  .strictObject({
    severity: z.enum(['error', 'warning', 'info', 'off']).optional().describe('How grave it is here; `off` leaves it out. As the rule has it where absent.'),
    where: z.string().max(2000).optional().describe('Only what is about nodes like this query.'),
    options: z.record(z.string().max(100), z.json()).optional().describe('What the rule is set to; its defaults where absent.'),
  })
  .describe('A rule that is named is looked for, unless it is off.');

/** The house rules of a team, as a file has them: which are looked for, how grave each is, about what, and its limits. */
export const profileSchema = z.strictObject({
  title: z.string().max(200).optional(),
  others: z.enum(['usual', 'off']).default('usual').describe('Rules that are not named: the usual ones are looked for, or none.'),
  rules: z.record(z.string().min(1).max(100), setting).default({}),
});
export type Profile = z.infer<typeof profileSchema>;

/** What a profile asks for, in the order of the rules. Expects one that `profileProblem` has nothing against. */
export function askedBy(profile: Profile): Asked[] {
  return rules.flatMap((rule): Asked[] => {
    const set = profile.rules[rule.id];
    if (!set) return profile.others === 'usual' && !rule.optional ? [{ rule }] : [];
    if (set.severity === 'off') return [];
    return [{ rule, severity: set.severity, where: set.where, options: rule.options?.parse(set.options ?? {}) }];
  });
}

/** Why a profile cannot be used, as a sentence that says where; undefined where it can. */
export function profileProblem(profile: Profile): string | undefined {
  for (const [id, { where, options }] of Object.entries(profile.rules)) {
    const rule = ruleById(id);
    if (!rule) return `There is no house rule “${id}”. There are: ${rules.map((one) => one.id).join(', ')}.`;
    if (options !== undefined && Object.keys(options).length > 0) {
      if (!rule.options) return `The house rule “${id}” has nothing that can be set.`;
      const parsed = rule.options.strict().safeParse(options);
      const issue = parsed.error?.issues[0];
      if (issue) return `The house rule “${id}”: ${issue.path.join('.') || 'its options'}: ${issue.message}.`;
    }
    if (where === undefined) continue;
    try {
      parseQuery(where);
    } catch (error) {
      if (error instanceof QueryError) return `The house rule “${id}”: the query “${where}” cannot be read: ${error.message}`;
      throw error;
    }
  }
  return undefined;
}
