import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Finding } from '../finding.ts';
import { askedBy } from './profile.ts';
import type { Profile } from './profile-schema.ts';
import { checkAsked } from './rules.ts';

interface Version {
  readonly doc: Doc;
  readonly kinds: Kinds;
}

/** What is found twice at one place by one rule counts twice. */
const keyOf = (item: Finding): string => JSON.stringify([item.rule, item.place.at(-1)]);

/**
 * The errors by a profile that a version has and the one before it had not: what a save adds, so that a file with old
 * errors can still be worked on.
 * Rules whose facts are not known find nothing. Cost: that of the rules, twice where there are errors.
 */
export function addedErrors(before: Version, after: Version, profile: Profile): Finding[] {
  // a rule may be graver in single cases than it is as a whole, so that all are asked
  const errorsOf = ({ doc, kinds }: Version): Finding[] =>
    checkAsked(doc, kinds, askedBy(profile)).filter((item) => item.severity === 'error');
  const now = errorsOf(after);
  if (now.length === 0) return [];
  const known = new Map<string, number>();
  for (const item of errorsOf(before)) known.set(keyOf(item), (known.get(keyOf(item)) ?? 0) + 1);
  return now.filter((item) => {
    const left = known.get(keyOf(item)) ?? 0;
    if (left > 0) known.set(keyOf(item), left - 1);
    return left === 0;
  });
}
