import type { Id } from '../../document/ids.ts';
import { groupBy } from '../../group-by.ts';
import { must } from '../../must.ts';
import { plural } from '../../words.ts';
import type { Change } from './compare.ts';
import { layers } from './layers.ts';

/** From so many nodes on the same change is one entry. */
const least = 3;

/**
 * Puts the same change of several nodes into one entry, at the place of the first, with each by itself folded under it:
 * another kind in place of one, a parameter set to the same value, nodes bypassed. O(changes).
 */
export function alike(changes: readonly Change[]): readonly Change[] {
  const keyOf = ({ type, alike: what }: Change): string | undefined => what && `${type} ${what}`;
  const groups = groupBy(changes, keyOf);
  return changes.flatMap((change) => {
    const group = groups.get(keyOf(change) ?? '') ?? [];
    if (group.length < least) return [change];
    return group[0] === change ? [entryOf(group)] : [];
  });
}

function entryOf(group: readonly Change[]): Change {
  const first = must(group[0]);
  const rank = (change: Change): number => layers.indexOf(change.layer);
  const gravest = group.reduce((one, other) => (rank(other) < rank(one) ? other : one));
  return {
    type: first.type,
    layer: gravest.layer,
    sentence: `${first.alike}: ${plural(group.length, 'node')}.`,
    nodes: group.flatMap(({ after }): Id[] => (after === undefined ? [] : [after])),
    consequences: group.flatMap(({ consequences, ...own }) => [own, ...(consequences ?? [])]),
  };
}
