import { operations } from '../operations.ts';
import { parseQuery, QueryError } from '../query/query.ts';
import { profileProblem } from '../rules/profile.ts';
import { ruleById } from '../rules/rules.ts';
import type { Saying } from '../said.ts';
import type { Recipe, Step } from './recipe.ts';
import { say } from './sentences.ts';

/**
 * What is wrong with a recipe before any file is looked at, as a sentence with the step; undefined where it can be run.
 */
export function recipeProblem(recipe: Recipe): Saying | undefined {
  for (const [i, step] of recipe.steps.entries()) {
    const problem = stepProblem(step);
    if (problem) return say('step', { step: i + 1, problem: problem.message });
  }
  return undefined;
}

function stepProblem(step: Step): Saying | undefined {
  if ('where' in step) {
    try {
      parseQuery(step.where);
    } catch (error) {
      if (error instanceof QueryError) return say('query-unreadable', { problem: error.message });
      throw error;
    }
  }
  if (step.do === 'operation') {
    const one = operations.find((candidate) => candidate.id === step.operation);
    if (!one) return say('no-operation', { operation: step.operation });
    const parsed = one.options.safeParse(step.options);
    if (parsed.success) return undefined;
    const issue = parsed.error.issues[0];
    return say('option-does-not-fit', {
      operation: one.title,
      option: issue?.path.join('.'),
      problem: issue?.message,
    });
  }
  if (step.do === 'script')
    return step.source === undefined && step.script === undefined ? say('no-script') : undefined;
  if ('rules' in step) {
    const unknown = step.rules.find((id) => ruleById(id) === undefined);
    if (unknown !== undefined) return say('no-rule', { rule: unknown });
    return step.profile && profileProblem(step.profile);
  }
  return undefined;
}
