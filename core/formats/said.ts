import type { Id } from '../document/ids.ts';
import type { Finding } from '../finding.ts';
import { find } from './sentences.ts';

/** That fields which we had written do not fit any more. */
export const misfitFinding = (id: Id): Finding => find('bad-detail', 'warning', [id], 'fields-left-out', { id });
