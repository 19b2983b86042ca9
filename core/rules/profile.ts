import { parseQuery, QueryError } from '../query/query.ts';
import type { Saying } from '../said.ts';
import type { Profile } from './profile-schema.ts';
import { type Asked, ruleById, rules } from './rules.ts';
import { say } from './sentences.ts';

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
export function profileProblem(profile: Profile): Saying | undefined {
  for (const [id, { where, options }] of Object.entries(profile.rules)) {
    const rule = ruleById(id);
    if (!rule) return say('no-rule', { id, rules: rules.map((one) => one.id) });
    if (options !== undefined && Object.keys(options).length > 0) {
      if (!rule.options) return say('nothing-to-set', { id });
      const parsed = rule.options.strict().safeParse(options);
      const issue = parsed.error?.issues[0];
      if (issue) return say('option-does-not-fit', { id, option: issue.path.join('.'), problem: issue.message });
    }
    if (where === undefined) continue;
    try {
      parseQuery(where);
    } catch (error) {
      if (error instanceof QueryError) return say('query-unreadable', { id, where, problem: error.message });
      throw error;
    }
  }
  return undefined;
}
