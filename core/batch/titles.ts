import { plural } from '../operation.ts';
import { operationById } from '../operations.ts';
import type { Rule } from '../rules/rule.ts';
import { rules, usualRules } from '../rules/rules.ts';
import type { Step } from './recipe.ts';

/** A step in a few words. */
export function stepTitle(step: Step): string {
  switch (step.do) {
    case 'operation':
      return operationById(step.operation).title;
    case 'script':
      return step.title || 'Script';
    case 'fix':
      return step.rules.length === 0
        ? 'Fix what house rules find'
        : `Fix ${rulesOf(step.rules)
            .map((rule) => rule.title)
            .join(', ')}`;
    case 'check':
      return step.rules.length === 0
        ? 'Check the house rules'
        : `Check ${rulesOf(step.rules)
            .map((rule) => rule.title)
            .join(', ')}`;
    case 'only':
      return `Only files with ${plural(step.least, 'node')} like ${step.where}`;
    case 'keep':
      return step.what === 'ends' ? 'Stop if the ends change' : 'Stop if the function changes';
    case 'upgrade':
      return `Upgrade to ${step.to.id}, version ${step.to.version}`;
  }
}

/** The rules of a step: the usual ones where none is named. */
export const rulesOf = (ids: readonly string[]): readonly Rule[] => (ids.length === 0 ? usualRules : rules.filter((rule) => ids.includes(rule.id)));
