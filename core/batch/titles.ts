import { operationById } from '../operations.ts';
import { askedBy } from '../rules/profile.ts';
import { type Asked, rules, usualRules } from '../rules/rules.ts';
import { plural } from '../words.ts';
import type { RuleStep, Step } from './recipe.ts';

/** A step in a few words. */
export function stepTitle(step: Step): string {
  switch (step.do) {
    case 'operation':
      return operationById(step.operation).title;
    case 'script':
      return step.title || 'Script';
    case 'fix':
      return `Fix ${rulesSaid(step, 'what house rules find')}`;
    case 'check':
      return `Check ${rulesSaid(step, 'the house rules')}`;
    case 'only':
      return `Only files with ${plural(step.least, 'node')} like ${step.where}`;
    case 'keep':
      return step.what === 'ends' ? 'Stop if the ends change' : 'Stop if the function changes';
    case 'better':
      return step.by > 0 ? `Stop unless readability rises by ${step.by}` : 'Stop if readability falls';
    case 'found':
      return `Only files with findings of ${rulesSaid(step, 'the house rules')}`;
    case 'no-new':
      return `Stop at new findings of ${rulesSaid(step, 'the house rules')}`;
    case 'table':
      return step.title ? `Table “${step.title}”` : 'Table';
    case 'upgrade':
      return `Upgrade to ${step.to.id}, version ${step.to.version}`;
  }
}

function rulesSaid({ profile, rules: ids }: RuleStep, all: string): string {
  if (profile) return `${all} as ${profile.title ? `“${profile.title}” has` : 'a profile has'} them`;
  return ids.length === 0 ? all : rules.flatMap((rule) => (ids.includes(rule.id) ? rule.title : [])).join(', ');
}

/** What a step looks for: a profile, rules by name, or the usual ones. */
export const askedIn = ({ profile, rules: ids }: RuleStep): readonly Asked[] =>
  profile
    ? askedBy(profile)
    : (ids.length === 0 ? usualRules : rules.filter((rule) => ids.includes(rule.id))).map((rule) => ({ rule }));
