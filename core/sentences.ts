import { didYouMean } from './closest.ts';
import { sentences } from './said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('core', {
  'no-graph': ({ graph }: { graph: string }) => `This file has no graph “${graph}”.`,
  'no-operation': ({ id, what }: { id: string; what: readonly string[] }) =>
    `There is no operation “${id}”.${didYouMean(id, what) || ` There are: ${what.join(', ')}.`}`,
  'no-such-option': ({ one, name, known }: { one: string; name: string; known: readonly string[] }) =>
    `${one}: there is no option “${name}”.${didYouMean(name, known) || (known.length === 0 ? ' It has none.' : ` There are: ${known.join(', ')}.`)}`,
  'option-does-not-fit': ({ one, what, issue }: { one: string; what: string | undefined; issue: string | undefined }) =>
    `${one}: option ${what || '(all)'} does not fit: ${issue ?? 'not as expected'}.`,
  'selection-does-not-fit': ({ one, problem }: { one: string; problem: string }) => `${one}: ${problem}`,
});
