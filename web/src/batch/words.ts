import type { BatchPhase, ItemState } from '@basitax/api/batches';
import { tellFailure } from '../ui/attempt.tsx';

/** What has become of a file, in a word or two, and how it looks. */
export const states: Readonly<Record<ItemState, { readonly text: string; readonly look: string }>> = {
  waiting: { text: 'waiting', look: 'text-soft' },
  'to-apply': { text: 'to be applied', look: 'text-soft' },
  'to-roll-back': { text: 'to be undone', look: 'text-soft' },
  planned: { text: 'would change', look: '' },
  unchanged: { text: 'unchanged', look: 'text-soft' },
  'left-out': { text: 'left out', look: 'text-soft' },
  stopped: { text: 'stopped', look: 'text-warn' },
  failed: { text: 'failed', look: 'text-warn' },
  cancelled: { text: 'cancelled', look: 'text-soft' },
  applied: { text: 'applied', look: 'text-good' },
  conflict: { text: 'conflict', look: 'text-warn' },
  'rolled-back': { text: 'undone', look: 'text-good' },
  kept: { text: 'not undone', look: 'text-warn' },
};

export const phases: Readonly<Record<BatchPhase, string>> = {
  planning: 'Dry run in progress',
  review: 'To be reviewed',
  applying: 'Being applied',
  applied: 'Applied',
  'rolling-back': 'Being rolled back',
  'rolled-back': 'Rolled back',
  cancelled: 'Cancelled',
};

/** States in which somebody is to do something with a file. */
export const isOpen = (state: ItemState): boolean =>
  state === 'waiting' || state === 'to-apply' || state === 'to-roll-back';

/** Says that an act on a run could not be done. */
export const tell = tellFailure('This did not work');
