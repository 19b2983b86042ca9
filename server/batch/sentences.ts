import { sentences } from '@basitax/core/said';

/** What a batch run says of a file that it cannot go on with. */
export const { say, refuse } = sentences('batch-run', {
  'no-plan': () => 'There is no plan for this file.',
  'nothing-changed': () => 'The run changed nothing in this file.',
  'not-stored': ({ why }: { why: string }) => why,
  'too-long': () => 'The file took longer than two minutes and was stopped.',
});
