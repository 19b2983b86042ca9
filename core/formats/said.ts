import type { z } from 'zod';
import type { Id } from '../document/ids.ts';
import type { Finding } from '../finding.ts';
import type { Saying } from '../said.ts';
import { find, say } from './sentences.ts';

/** That fields which we had written do not fit any more. */
export const misfitFinding = (id: Id): Finding => find('bad-detail', 'warning', [id], 'fields-left-out', { id });

/** What is wrong first in JSON of another shape, and where in it; `at` is where the part that was looked at lies. */
export const badShape = (what: string, { issues: [issue] }: z.ZodError, at?: string): Saying =>
  say('bad-shape', {
    what,
    where: [at, ...(issue?.path ?? [])].filter((part) => part !== undefined).join('.') || 'the whole',
    why: issue?.message ?? 'not as expected',
  });
