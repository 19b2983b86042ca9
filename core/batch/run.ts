import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import type { Edit } from '../edit/step.ts';
import { type Finding, limitFindings } from '../finding.ts';
import type { Verdict } from '../inspect/fingerprint.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { must } from '../must.ts';
import { QueryError } from '../query/query.ts';
import { Refused } from '../said.ts';
import type { LogLine, ScriptOutput } from '../script/host.ts';
import { recipeProblem } from './check.ts';
import type { Recipe, Step } from './recipe.ts';
import { Ended, RecipeRun, type RecipeTools, type StepReport } from './recipe-run.ts';
import { stepTitle } from './titles.ts';

/**
 * What became of one file: changed; as it was; left out by a condition; stopped by a check, so that it stays as it was;
 * failed, so that it stays as it was.
 */
export const outcomes = ['changed', 'unchanged', 'left-out', 'stopped', 'failed'] as const;
export type RecipeResult = (typeof outcomes)[number];

export interface RecipeOutcome {
  readonly result: RecipeResult;
  /** Why it was left out, stopped or failed. */
  readonly why: string;
  /** Everything that was done, as the shortest edit; empty unless the result is `changed`. */
  readonly edit: Edit;
  readonly steps: readonly StepReport[];
  readonly findings: readonly Finding[];
  readonly log: readonly LogLine[];
  readonly outputs: readonly ScriptOutput[];
  /** What `each` of a script gave for the file, by step from 0. */
  readonly results: readonly { readonly step: number; readonly value: Json }[];
  /** Paths that the asset store has to be asked for; where there are any, nothing else here counts. */
  readonly wanted: readonly string[];
  readonly verdict: Verdict;
  /** Readability of 0 to 100 over all graphs, before and after. */
  readonly score: { readonly before: number; readonly after: number };
  readonly counts: { readonly added: number; readonly removed: number; readonly changed: number };
  /** The document afterwards, and the catalogue that it is read with. */
  readonly doc: Doc;
  readonly kinds: Kinds;
}

/** Findings of each rule that are kept. */
const mostFindings = 20;

/**
 * Does a recipe on a copy of a document; all or nothing. What is refused, a script that fails and a query with a
 * mistake fail the file, with the step that did. Throws Refused where no file could be done. The same input gives the
 * same outcome. Cost: that of the steps, and twice that of readability and fingerprint where something changed.
 */
export async function runRecipe(doc: Doc, recipe: Recipe, tools: RecipeTools): Promise<RecipeOutcome> {
  const problem = recipeProblem(recipe);
  if (problem) throw new Refused(problem);
  const scoreBefore = tools.known?.score ?? scoreOfDoc(doc, tools.kinds);
  const run = new RecipeRun(doc, tools, scoreBefore);
  let [result, why]: [RecipeResult, string] = ['unchanged', ''];
  try {
    for (const [i, step] of recipe.steps.entries()) {
      tools.progress?.((0.8 * i) / recipe.steps.length, stepTitle(step));
      run.steps.push({ step: i, summary: await run.step(step) });
    }
    if (run.doc !== doc && diff(doc, run.doc).steps.length > 0) result = 'changed';
  } catch (error) {
    if (error instanceof Ended) [result, why] = [error.result, error.message];
    else if (error instanceof Refused || error instanceof QueryError)
      [result, why] = [
        'failed',
        `Step ${run.steps.length + 1}, ${stepTitle(must(recipe.steps[run.steps.length]))}: ${error.message}`,
      ];
    else throw error;
  }
  const edit = result === 'changed' ? diff(doc, run.doc) : { steps: [] };
  tools.progress?.(0.85, 'comparing');
  return {
    result,
    why,
    edit,
    steps: run.steps,
    findings: limitFindings(run.findings, mostFindings),
    log: run.log,
    outputs: run.outputs,
    results: run.results,
    wanted: [...run.wanted],
    verdict: result === 'changed' ? run.verdict() : 'same',
    score: { before: scoreBefore, after: result === 'changed' ? scoreOfDoc(run.doc, run.kinds) : scoreBefore },
    counts: countsOf(edit),
    doc: result === 'changed' ? run.doc : doc,
    kinds: result === 'changed' ? run.kinds : tools.kinds,
  };
}

/** How many records an edit adds, removes and changes. */
export function countsOf(edit: Edit): RecipeOutcome['counts'] {
  const ids = { add: new Set<Id>(), remove: new Set<Id>(), set: new Set<Id>() };
  for (const step of edit.steps) ids[step.type].add(step.id);
  return { added: ids.add.size, removed: ids.remove.size, changed: ids.set.size };
}

/** Steps that ask something of what came of a file, and change nothing. */
const conditions: ReadonlySet<Step['do']> = new Set(['keep', 'better', 'no-new', 'check']);

/**
 * Asks the conditions of a recipe of a document that holds a part of what the recipe would do. Why it is stopped, or
 * undefined where all hold. Cost: that of the conditions.
 */
export async function stoppedBy(doc: Doc, part: Doc, recipe: Recipe, tools: RecipeTools): Promise<string | undefined> {
  const asked = recipe.steps.filter((step) => conditions.has(step.do));
  if (asked.length === 0) return undefined;
  const run = new RecipeRun(doc, tools, tools.known?.score ?? scoreOfDoc(doc, tools.kinds));
  run.doc = part;
  try {
    for (const step of asked) await run.step(step);
  } catch (error) {
    if (error instanceof Ended) return error.message;
    throw error;
  }
  return undefined;
}
