import { z } from 'zod';
import { recipeSchema } from '../batch/recipe.ts';
import { type RecipeOutcome, runRecipe } from '../batch/run.ts';
import { catalogueSchema } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { editedProblems, parseDoc, readStored, writeDoc } from '../document/file.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import { type Conflict, rebase } from '../edit/rebase.ts';
import { apply, type Edit, editSchema } from '../edit/step.ts';
import type { Finding, Severity } from '../finding.ts';
import { readFile } from '../formats/formats.ts';
import { type Fingerprint, fingerprint } from '../inspect/fingerprint.ts';
import { type Measures, measureDoc } from '../inspect/measure.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { type Sketch, sketch } from '../inspect/sketch.ts';
import { countUses, type UseCount, useChanges } from '../inspect/uses.ts';
import { addedErrors } from '../rules/added.ts';
import { askedBy, type Profile, profileSchema } from '../rules/profile.ts';
import { checkAsked } from '../rules/rules.ts';
import { forbiddenWiring } from '../wiring/check.ts';
import { need, type Tools } from './tools.ts';

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
  readonly found: { readonly counts: Readonly<Record<Severity, number>>; readonly byRule: Readonly<Record<string, number>> };
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

function noteDoc(doc: Doc, kinds: Kinds): Noted {
  const size = { nodes: doc.nodes.size, wires: doc.wires.size, frames: doc.frames.size };
  return { fingerprint: fingerprint(doc, kinds), size, sketch: sketch(doc, kinds), uses: countUses(doc, kinds) };
}

function judgeDoc(doc: Doc, tools: Tools, profile: Profile): Judged {
  tools.progress(0.3, 'measuring');
  const measures = measureDoc(doc, tools.kinds);
  const score = scoreOfDoc(doc, tools.kinds);
  tools.progress(0.8, 'asking the house rules');
  return { measures, score, found: countFindings(checkAsked(doc, tools.kinds, askedBy(profile))) };
}

const inspectDoc = (doc: Doc, tools: Tools, profile: Profile): Inspected => ({ ...noteDoc(doc, tools.kinds), judged: judgeDoc(doc, tools, profile) });

export const inspect = (raw: unknown, tools: Tools): Inspected => inspectDoc(need(tools.doc), tools, byProfile.parse(raw).profile);

/** What is known of a stored revision without routing it. */
export const note = (_raw: unknown, tools: Tools): Noted => noteDoc(need(tools.doc), tools.kinds);

export const judge = (raw: unknown, tools: Tools): Judged => judgeDoc(need(tools.doc), tools, byProfile.parse(raw).profile);

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

/** A document that an edit led to, checked and inspected. Where it is another state of the file that comes back, its wires are not asked after. */
function revised(
  doc: Doc,
  after: Doc,
  edit: Edit,
  { before, kinds, isOld, profile, refuse = false, later = false }: { before: Kinds; kinds: Kinds; isOld: boolean; profile: Profile; refuse?: boolean; later?: boolean },
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
  return { text: writeDoc(after), edit, title: after.head.title, useChanges: changes, ...(later ? noteDoc(after, kinds) : inspectDoc(after, { ...tools, kinds }, profile)) };
}

function errorsSaid(errors: readonly Finding[]): string {
  const more = errors.length > 3 ? ` And ${errors.length - 3} more.` : '';
  return `The house rules of this project refuse a save that adds errors: ${errors
    .slice(0, 3)
    .map((one) => one.message)
    .join(' ')}${more}`;
}

/** The document after an edit, or as another one stands; judged later where that is asked for. */
export function revise(raw: unknown, tools: Tools): Revised | Refusal {
  const input = byProfile.extend({ edit: z.unknown().optional(), become: z.string().optional(), refuse: z.boolean().default(false), later: z.boolean().default(false) }).parse(raw);
  const doc = need(tools.doc);
  const edit = input.become !== undefined ? diff(doc, parseDoc(input.become).doc) : (editSchema.parse(input.edit) as Edit);
  const { profile, refuse, later } = input;
  return revised(doc, apply(doc, edit), edit, { before: tools.kinds, kinds: tools.kinds, isOld: input.become !== undefined, profile, refuse, later }, tools);
}

/** What a recipe would do to a file, without the documents themselves, and what a revision of it would store. */
export interface PlannedRecipe {
  readonly outcome: Omit<RecipeOutcome, 'doc' | 'kinds' | 'edit'>;
  readonly revised: Revised | undefined;
}

export async function recipe(raw: unknown, tools: Tools): Promise<PlannedRecipe> {
  const known = z.object({ score: z.number(), fingerprint: z.object({ ends: z.string(), everything: z.string() }) });
  const input = byProfile.extend({ recipe: recipeSchema, seed: z.int(), catalogues: z.array(catalogueSchema), known: known.optional() }).parse(raw);
  const doc = need(tools.doc);
  const {
    doc: after,
    kinds,
    edit,
    ...outcome
  } = await runRecipe(doc, input.recipe, { kinds: tools.kinds, seed: input.seed, catalogues: input.catalogues, known: input.known, progress: tools.progress });
  if (outcome.result !== 'changed') return { outcome, revised: undefined };
  const made = revised(doc, after, edit, { before: tools.kinds, kinds, isOld: false, profile: input.profile }, tools);
  return 'refusal' in made ? { outcome: { ...outcome, result: 'failed', why: made.refusal }, revised: undefined } : { outcome, revised: made };
}

/** An edit brought over what was done since to the document that it was made on, and the document with it; or why that cannot be. */
export function bring(raw: unknown, tools: Tools): { conflicts: readonly Conflict[]; revised: Revised | undefined; refusal?: string } {
  const input = byProfile.extend({ base: z.string(), edit: z.unknown(), partly: z.boolean() }).parse(raw);
  const head = need(tools.doc);
  const over = diff(readStored(input.base), head);
  const { edit, conflicts } = rebase(editSchema.parse(input.edit) as Edit, over, head, tools.kinds);
  // what was changed since may stay as it is; what was deleted or wired since cannot be passed over
  const isPossible = conflicts.length === 0 || (input.partly && conflicts.every((one) => one.kind === 'position' || one.kind === 'value'));
  if (!isPossible || edit.steps.length === 0) return { conflicts, revised: undefined };
  const made = revised(head, apply(head, edit), edit, { before: tools.kinds, kinds: tools.kinds, isOld: false, profile: input.profile }, tools);
  return 'refusal' in made ? { conflicts, revised: undefined, refusal: made.refusal } : { conflicts, revised: made };
}

/** A file of any format as our own file text, with what had to be repaired and all that a revision stores. */
export function read(raw: unknown, tools: Tools): Inspected & { text: string; title: string; findings: readonly Finding[] } {
  const input = byProfile.extend({ name: z.string(), text: z.string(), title: z.string().optional() }).parse(raw);
  const read = readFile(input.name, input.text, tools.kinds);
  const doc = input.title === undefined ? read.doc : { ...read.doc, head: { ...read.doc.head, title: input.title } };
  return { text: writeDoc(doc), title: doc.head.title, findings: read.findings, ...inspectDoc(doc, tools, input.profile) };
}
