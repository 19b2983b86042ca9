import type { Id } from '../document/ids.ts';
import { type Finding, finding } from '../finding.ts';

// What readers of several formats say in the same words.

/** That names which are none were changed, where there are such. */
export const renamedFindings = (called: readonly string[]): readonly Finding[] =>
  called.length === 0
    ? []
    : [
        finding(
          'name',
          'info',
          [],
          `${called.length} of the names hold spaces or other signs, “${called[0]!.slice(0, 60)}” for one: legal names were made from them, and they are kept as labels.`,
        ),
      ];

/** That fields which we had written do not fit any more. */
export const misfitFinding = (id: Id): Finding =>
  finding('bad-detail', 'warning', [id], `Some fields of ${id} do not fit; they were left out.`);
