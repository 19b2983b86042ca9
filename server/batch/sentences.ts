import { sentences } from '@basitax/core/said';

/** What a batch run says of a file that it cannot go on with. */
export const { say, refuse } = sentences('batch-run', {
  'no-plan': () => 'There is no plan for this file.',
  'nothing-changed': () => 'The run changed nothing in this file.',
  'not-stored': ({ why }: { why: string }) => why,
  'author-gone': ({ author }: { author: string }) =>
    `${author}, who made the schedule, may not change files any more. It is switched off; somebody else can make a new one.`,
  'all-left-out': () => 'All changes of this file were left out.',
  'part-stopped': ({ why }: { why: string }) => `Without the changes that were left out: ${why}`,
  'part-refused': ({ why }: { why: string }) =>
    `What was accepted cannot be stored without the changes that were left out: ${why}`,
  'too-long': () => 'The file took longer than two minutes and was stopped.',
});
