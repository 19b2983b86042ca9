import type { Id } from '../document/ids.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { find } from './sentences.ts';

// What readers of several formats say in the same words.

/** That names which are none were changed, where there are such. */
export const renamedFindings = (called: readonly string[]): readonly Finding[] =>
  called.length === 0
    ? []
    : [find('name', 'info', [], 'names-made-legal', { called: called.length, what: must(called[0]) })];

/** That fields which we had written do not fit any more. */
export const misfitFinding = (id: Id): Finding => find('bad-detail', 'warning', [id], 'fields-left-out', { id });
