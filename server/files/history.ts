import type { Id } from '@basitax/core/document/ids';
import type { Edit } from '@basitax/core/edit/step';

/** One revision with the edit that led to it; the first has none. */
export interface Past {
  readonly number: number;
  readonly createdAt: Date;
  readonly edit: Edit | undefined;
}

/**
 * Since which revision each of some nodes is bypassed, asked of the revisions from the newest back, and how many days
 * that is before `now`. What no edit switched is so since the last one that was looked at. O(steps of the revisions
 * that are read).
 */
export async function sinceWhen(
  nodes: Iterable<Id>,
  past: AsyncIterable<Past>,
  now: Date,
): Promise<Record<Id, { revision: number; days: number }>> {
  const sought = new Set(nodes);
  const since: Record<Id, { revision: number; days: number }> = {};
  let last: Past | undefined;
  const found = (id: Id, at: Past): void => {
    if (sought.delete(id))
      since[id] = { revision: at.number, days: (now.getTime() - at.createdAt.getTime()) / 86_400_000 };
  };
  for await (const one of past) {
    last = one;
    for (const step of one.edit?.steps ?? [])
      if (step.table === 'nodes' && (step.type === 'add' || (step.type === 'set' && step.path[0] === 'bypassed')))
        found(step.id, one);
    if (sought.size === 0) break;
  }
  if (last) for (const id of [...sought]) found(id, last);
  return since;
}
