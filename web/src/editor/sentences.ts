import { sentences } from '@basitax/core/said';

/** What the editor says where something cannot be done, beside what core says. */
export const { say, refuse } = sentences('editor', {
  'check-too-long': () => 'Checking the script took too long and was stopped.',
  'graph-changed': () => 'The graph changed in the meantime. Try again.',
  'no-options': () => 'The options of the script could not be read.',
});
