import { z } from 'zod';
import { recipeSchema } from '../batch/recipe.ts';
import { type RecipeOutcome, runRecipe } from '../batch/run.ts';
import { catalogueSchema } from '../document/catalogue.ts';
import { apply } from '../edit/step.ts';
import { type Change, compareDocs } from '../inspect/compare/compare.ts';
import { createContext } from '../operation.ts';
import { factsSchema } from '../rules/facts.ts';
import type { Asking } from '../script/assets.ts';
import { mostSource, scriptJobSchema } from '../script/job.ts';
import type { ScriptOptions, ScriptValues } from '../script/options.ts';
import { describeScript, reached, reduceScript, runScript, type ScriptOutcome } from '../script/run.ts';
import { type SandboxFailure, usualLimits } from '../script/sandbox.ts';
import { byProfile, type Revised, revised } from './revised.ts';
import { refuse } from './sentences.ts';
import { task } from './task.ts';
import { need } from './tools.ts';

/** What a script would do, with each change in words. */
export interface PlannedScript extends ScriptOutcome {
  readonly changes: readonly Change[];
  /** The script ran over these, in this order. */
  readonly over: readonly string[];
}

const script = task(scriptJobSchema, async (input, tools): Promise<PlannedScript> => {
  const doc = need(tools.doc);
  const context = createContext(tools.kinds, input.seed, {
    progress: (fraction, what) => tools.progress(fraction * 0.8, what),
  });
  if (!doc.graphs.has(input.graph)) throw refuse('no-graph', { graph: input.graph });
  const reach = reached(context, doc, input.graph, input.reach);
  const outcome = await runScript(context, doc, reach, input.source, input.values as ScriptValues, {
    ...usualLimits,
    assets: input.assets,
    ...(input.time !== undefined && { time: input.time }),
  });
  tools.progress(0.85, 'listing what would change');
  const both = { before: tools.kinds, after: tools.kinds };
  const changes = outcome.edit.steps.length === 0 ? [] : compareDocs(doc, apply(doc, outcome.edit), both).changes;
  return { ...outcome, changes, over: reach.items };
});

/** What a script makes of what its `each` gave for each file. */
const reduce = task(
  z.object({
    source: z.string().max(mostSource),
    values: z.record(z.string(), z.json()).default({}),
    results: z.array(z.object({ file: z.string(), result: z.json() })).max(100_000),
  }),
  (input, tools): Promise<ScriptOutcome> =>
    reduceScript(createContext(tools.kinds, 1), input.source, input.values as ScriptValues, input.results),
);

/** The options that a script declares, and why it cannot be read where it cannot. */
const scriptOptions = task(
  z.object({ source: z.string() }),
  async (input, tools): Promise<{ options: ScriptOptions; failure: SandboxFailure | undefined }> => {
    return describeScript(createContext(tools.kinds, 1), input.source);
  },
);

const known = z.object({ score: z.number(), fingerprint: z.object({ ends: z.string(), everything: z.string() }) });

/** What a recipe would do to a file, without the documents themselves, and what a revision of it would store. */
export interface PlannedRecipe extends Asking {
  readonly outcome: Omit<RecipeOutcome, 'doc' | 'kinds' | 'edit'>;
  readonly revised: Revised | undefined;
}

const recipe = task(
  byProfile.extend({
    recipe: recipeSchema,
    seed: z.int(),
    catalogues: z.array(catalogueSchema),
    known: known.optional(),
    assets: factsSchema.shape.assets,
  }),
  async (input, tools): Promise<PlannedRecipe> => {
    const doc = need(tools.doc);
    const {
      doc: after,
      kinds,
      edit,
      ...outcome
    } = await runRecipe(doc, input.recipe, {
      kinds: tools.kinds,
      seed: input.seed,
      catalogues: input.catalogues,
      known: input.known,
      assets: input.assets,
      progress: tools.progress,
    });
    const { wanted } = outcome;
    if (outcome.result !== 'changed') return { outcome, revised: undefined, wanted };
    const made = revised(doc, after, edit, { before: tools.kinds, kinds, isOld: false, profile: input.profile }, tools);
    return 'refusal' in made
      ? { outcome: { ...outcome, result: 'failed', why: made.refusal }, revised: undefined, wanted }
      : { outcome, revised: made, wanted };
  },
);

/** Scripts, and recipes that may hold them. */
export const scriptTasks = { script, scriptOptions, reduce, recipe } as const;
