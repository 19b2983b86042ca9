import { operations } from '../operations.ts';
import { parseQuery, QueryError } from '../query/query.ts';
import { profileProblem } from '../rules/profile.ts';
import { ruleById } from '../rules/rules.ts';
import type { Recipe, Step } from './recipe.ts';

/**
 * What is wrong with a recipe before any file is looked at, as a sentence with the step; undefined where it can be run.
 */
export function recipeProblem(recipe: Recipe): string | undefined {
  for (const [i, step] of recipe.steps.entries()) {
    const problem = stepProblem(step);
    if (problem) return `Step ${i + 1}: ${problem}`;
  }
  return undefined;
}

function stepProblem(step: Step): string | undefined {
  if ('where' in step) {
    try {
      parseQuery(step.where);
    } catch (error) {
      if (error instanceof QueryError) return `the query: ${error.message}.`;
      throw error;
    }
  }
  if (step.do === 'operation') {
    const one = operations.find((candidate) => candidate.id === step.operation);
    if (!one) return `there is no operation “${step.operation}”.`;
    const parsed = one.options.safeParse(step.options);
    if (parsed.success) return undefined;
    const issue = parsed.error.issues[0];
    return `${one.title}: option ${issue?.path.join('.') || '(all)'} does not fit: ${issue?.message ?? 'not as expected'}.`;
  }
  if (step.do === 'script')
    return step.source === undefined && step.script === undefined ? 'name a script, or write one.' : undefined;
  if (step.do === 'fix' || step.do === 'check') {
    const unknown = step.rules.find((id) => ruleById(id) === undefined);
    if (unknown !== undefined) return `“${unknown}” is no house rule.`;
    return step.profile && profileProblem(step.profile);
  }
  return undefined;
}
