import { z } from 'zod';
import type { Doc } from '../document/doc.ts';
import { editedProblems, writeDoc } from '../document/file.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Edit } from '../edit/step.ts';
import type { Finding, Severity } from '../finding.ts';
import { type Fingerprint, fingerprint } from '../inspect/fingerprint.ts';
import { type Measures, measureDoc } from '../inspect/measure.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { type Sketch, sketch } from '../inspect/sketch.ts';
import { countUses, type UseCount, useChanges } from '../inspect/uses.ts';
import { addedErrors } from '../rules/added.ts';
import { askedBy } from '../rules/profile.ts';
import { type Profile, profileSchema } from '../rules/profile-schema.ts';
import { checkAsked } from '../rules/rules.ts';
import { forbiddenWiring } from '../wiring/check.ts';
import type { Tools } from './tools.ts';

/** What is known of a revision at once. */
export interface Noted {
  readonly fingerprint: Fingerprint;
  readonly size: Size;
  readonly sketch: Sketch;
  /** Everything that it uses, and how often, in all graphs. */
  readonly uses: readonly UseCount[];
}
export type Size = Pick<Measures, 'nodes' | 'wires' | 'frames'>;

/** What takes routing all wires and asking all rules, and may come later. */
export interface Judged {
  readonly measures: Measures;
  /** Readability of 0 to 100, over all graphs. */
  readonly score: number;
  /** How much the house rules find in it. */
  readonly found: {
    readonly counts: Readonly<Record<Severity, number>>;
    readonly byRule: Readonly<Record<string, number>>;
  };
}

/** What is stored and shown of a revision. */
export interface Inspected extends Noted {
  /** Absent where it is left for later. */
  readonly judged?: Judged;
}

/** What may be asked beside: the house rules by which findings are counted, where they are not the usual ones. */
export const byProfile = z.object({ profile: profileSchema.default(profileSchema.parse({})) });

function countFindings(found: readonly Finding[]): Judged['found'] {
  const counts = { error: 0, warning: 0, info: 0 };
  const byRule: Record<string, number> = {};
  for (const { rule, severity } of found) {
    counts[severity]++;
    byRule[rule] = (byRule[rule] ?? 0) + 1;
  }
  return { counts, byRule };
}

export function noteDoc(doc: Doc, kinds: Kinds): Noted {
  const size = { nodes: doc.nodes.size, wires: doc.wires.size, frames: doc.frames.size };
  return { fingerprint: fingerprint(doc, kinds), size, sketch: sketch(doc, kinds), uses: countUses(doc, kinds) };
}

export function judgeDoc(doc: Doc, tools: Tools, profile: Profile): Judged {
  tools.progress(0.3, 'measuring');
  const measures = measureDoc(doc, tools.kinds);
  const score = scoreOfDoc(doc, tools.kinds);
  tools.progress(0.8, 'asking the house rules');
  return { measures, score, found: countFindings(checkAsked(doc, tools.kinds, askedBy(profile))) };
}

export const inspectDoc = (doc: Doc, tools: Tools, profile: Profile): Inspected => ({
  ...noteDoc(doc, tools.kinds),
  judged: judgeDoc(doc, tools, profile),
});

/** Everything that a revision stores. */
export interface Revised extends Inspected {
  readonly text: string;
  readonly edit: Edit;
  readonly title: string;
  readonly useChanges: readonly UseCount[];
}

/** Why an edit may not be stored: what would have to be repaired, or may not be wired. */
export interface Refusal {
  readonly refusal: string;
}

/**
 * A document that an edit led to, checked and inspected. Where it is another state of the file that comes back, its
 * wires are not asked after.
 */
export function revised(
  doc: Doc,
  after: Doc,
  edit: Edit,
  {
    before,
    kinds,
    isOld,
    profile,
    refuse = false,
    later = false,
  }: { before: Kinds; kinds: Kinds; isOld: boolean; profile: Profile; refuse?: boolean; later?: boolean },
  tools: Tools,
): Revised | Refusal {
  // nothing is dropped: what would have to be repaired is refused
  const problems = editedProblems(after, edit);
  const forbidden = !isOld && problems.length === 0 ? forbiddenWiring(doc, after, kinds, edit) : [];
  const refused = problems[0] ?? forbidden[0];
  if (refused) return { refusal: refused.message };
  const against = refuse ? addedErrors({ doc, kinds: before }, { doc: after, kinds }, profile) : [];
  if (against.length > 0) return { refusal: errorsSaid(against) };
  const changes = useChanges(doc, after, edit, { before, after: kinds });
  return {
    text: writeDoc(after),
    edit,
    title: after.head.title,
    useChanges: changes,
    ...(later ? noteDoc(after, kinds) : inspectDoc(after, { ...tools, kinds }, profile)),
  };
}

function errorsSaid(errors: readonly Finding[]): string {
  const more = errors.length > 3 ? ` And ${errors.length - 3} more.` : '';
  return `The house rules of this project refuse a save that adds errors: ${errors
    .slice(0, 3)
    .map((one) => one.message)
    .join(' ')}${more}`;
}
