import { describe, expect, it } from 'vitest';
import { recipeProblem } from './check.ts';
import { recipeSchema } from './recipe.ts';
import { stepTitle } from './titles.ts';

const problem = (...steps: object[]): string | undefined => recipeProblem(recipeSchema.parse({ steps }))?.message;

describe('a recipe, before any file is looked at', () => {
  it.each<[object, string]>([
    [{ do: 'operation', operation: 'polish' }, 'Step 2: there is no operation “polish”.'],
    [{ do: 'operation', operation: 'spread', options: { x: 'wide' } }, 'Step 2: Spread: option x does not fit'],
    [{ do: 'operation', operation: 'label', where: 'kind:' }, 'Step 2: the query: A value is missing'],
    [{ do: 'only', where: '(' }, 'Step 2: the query'],
    [{ do: 'script' }, 'Step 2: name a script, or write one.'],
    [{ do: 'fix', rules: ['overlap', 'neat'] }, 'Step 2: “neat” is not a house rule.'],
    [{ do: 'check', rules: ['tidy'] }, 'Step 2: “tidy” is not a house rule.'],
  ])('%j', (step, sentence) => {
    expect(problem({ do: 'keep' }, step)).toContain(sentence);
  });

  it('is fine where every step can be read', () => {
    const steps = [
      { do: 'only', where: 'kind:blur or radius>4', least: 2 },
      { do: 'operation', operation: 'arrange', options: { keep: 0.5 } },
      { do: 'script', source: 'log(1)', title: 'Count' },
      { do: 'fix', rules: ['overlap'] },
      { do: 'check' },
      { do: 'keep', what: 'ends' },
      { do: 'upgrade', to: { id: 'reef', version: 2 }, mapping: { format: 'basitax-mapping', version: 1 } },
    ];
    expect(problem(...steps)).toBeUndefined();
    expect(recipeSchema.parse({ steps }).steps.map(stepTitle)).toEqual([
      'Only files with 2 nodes like kind:blur or radius>4',
      'Arrange by wiring',
      'Count',
      'Fix Overlap',
      'Check the house rules',
      'Stop if the ends change',
      'Upgrade to reef, version 2',
    ]);
  });
});
