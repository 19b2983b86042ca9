import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Edit } from '../edit/step.ts';
import { groupBy } from '../group-by.ts';
import { must } from '../must.ts';
import type { changeGroupSchema } from './change-group-schema.ts';
import { Teller, type Told } from './change-told.ts';
import { changeWords as words } from './change-words.ts';
import { tied } from './tied-steps.ts';

/** A group with the steps that it holds. */
export interface ChangeGroup extends z.infer<typeof changeGroupSchema> {
  /** Places in the list of steps. */
  readonly steps: readonly number[];
  /** What changes, by id. */
  readonly ids: readonly Id[];
}

/** Of more different values than so many there is one group, for all of them. */
const mostValues = 12;

/**
 * Puts the steps of an edit, made of `before` and `after` by `diff`, into groups. Each step is in one group; what cannot
 * be without one another is in the same: a node with its wires, frames and ports, names that change places, a beacon
 * with its taps. So what is left of the edit without some of its groups can be applied. O(steps · log), and O(wires) where
 * nodes become of another kind.
 */
export function changeGroups(before: Doc, after: Doc, edit: Edit, kinds: Kinds): readonly ChangeGroup[] {
  const { steps } = edit;
  const told = new Teller(before, after, kinds);
  const parts = tied(before, after, steps).map((part): { steps: readonly number[]; told: Told; values: boolean } => {
    const own = part.map((i) => must(steps[i]));
    const field = told.field(must(own[0]));
    const values = field !== undefined && own.every((step) => told.field(step) === field);
    return { steps: part, told: values ? told.plain(own) : told.structure(own), values };
  });
  // many different values are one group
  const byField = groupBy(
    parts.filter((part) => part.values),
    ({ told: { what, of } }) => JSON.stringify([what, of]),
  );
  const isMany = new Set(
    [...byField].flatMap(([key, all]) => (new Set(all.map((one) => one.told.said)).size > mostValues ? [key] : [])),
  );
  const groups = groupBy(parts, ({ told: { what, of, said }, values }) =>
    JSON.stringify([what, of, values && isMany.has(JSON.stringify([what, of])) ? words.many : said]),
  );
  return [...groups]
    .map(([key, all]): ChangeGroup => {
      const [what, of, said] = JSON.parse(key) as [string, string, string];
      const own = all.flatMap((part) => part.steps).sort((a, b) => a - b);
      const ids = [...new Set(own.map((i) => must(steps[i]).id))];
      return {
        key: shortHash(key),
        what,
        of,
        said,
        ...told.counted(own.map((i) => must(steps[i]))),
        steps: own,
        ids,
      };
    })
    .sort((a, b) => b.things - a.things || must(a.steps[0]) - must(b.steps[0]));
}

/** What is left of an edit without some of its groups. O(steps). */
export function withoutGroups(edit: Edit, groups: readonly ChangeGroup[], left: ReadonlySet<string>): Edit {
  const gone = new Set(groups.flatMap((group) => (left.has(group.key) ? group.steps : [])));
  return { steps: edit.steps.filter((_, i) => !gone.has(i)) };
}

const shortHash = (text: string): string => bytesToHex(sha256(utf8ToBytes(text))).slice(0, 24);
