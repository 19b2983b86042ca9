import { parseQuery, QueryError } from '../query/query.ts';
import type { Profile } from './profile-schema.ts';
import { type Asked, ruleById, rules } from './rules.ts';

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
      if (error instanceof QueryError)
        return `The house rule “${id}”: the query “${where}” cannot be read: ${error.message}`;
      throw error;
    }
  }
  return undefined;
}
