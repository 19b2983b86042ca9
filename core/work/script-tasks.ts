import { z } from 'zod';
import { type ChangeGroup, changeGroups, withoutGroups } from '../batch/change-groups.ts';
import { recipeSchema } from '../batch/recipe.ts';
import { type RecipeOutcome, runRecipe, stoppedBy } from '../batch/run.ts';
import { catalogueSchema } from '../document/catalogue.ts';
import { caption, type Doc, graphOf } from '../document/doc.ts';
import { sameJson } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply, type Edit, editSchema } from '../edit/step.ts';
import { groupBy } from '../group-by.ts';
import { type Change, compareDocs } from '../inspect/compare/compare.ts';
import { type Sketch, sketch } from '../inspect/sketch.ts';
import { createContext } from '../operation.ts';
import { factsSchema } from '../rules/facts.ts';
import type { Asking } from '../script/assets.ts';
import { mostSource, scriptJobSchema } from '../script/job.ts';
import type { ScriptOptions, ScriptValues } from '../script/options.ts';
import { describeScript, reached, reduceScript, runScript, type ScriptOutcome } from '../script/run.ts';
import { type SandboxFailure, usualLimits } from '../script/sandbox.ts';
import { rowSchema } from '../table/cells.ts';
import { byProfile, type Refusal, type Revised, revised } from './revised.ts';
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
  /** What changes, by what is accepted as one; none where the file is read with another catalogue afterwards. */
  readonly groups: readonly Omit<ChangeGroup, 'steps' | 'ids'>[];
}

const recipe = task(
  byProfile.extend({
    recipe: recipeSchema,
    seed: z.int(),
    catalogues: z.array(catalogueSchema),
    known: known.optional(),
    assets: factsSchema.shape.assets,
    table: z.array(rowSchema).optional(),
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
      table: input.table,
      progress: tools.progress,
    });
    const { wanted } = outcome;
    if (outcome.result !== 'changed') return { outcome, revised: undefined, wanted, groups: [] };
    const made = revised(doc, after, edit, { before: tools.kinds, kinds, isOld: false, profile: input.profile }, tools);
    return 'refusal' in made
      ? { outcome: { ...outcome, result: 'failed', why: made.refusal }, revised: undefined, wanted, groups: [] }
      : {
          outcome,
          revised: made,
          wanted,
          groups: isRepinned(doc, after) ? [] : grouped(doc, after, edit, tools.kinds),
        };
  },
);

const isRepinned = (before: Doc, after: Doc): boolean => !sameJson(before.head.catalogue, after.head.catalogue);

const grouped = (before: Doc, after: Doc, edit: Edit, kinds: Kinds): PlannedRecipe['groups'] =>
  changeGroups(before, after, edit, kinds).map(({ steps: _, ids: __, ...told }) => told);

/** What is left of a plan without some of its changes, or why that cannot be stored. */
export type PartOfPlan =
  | { readonly revised: Revised }
  | Refusal
  | { readonly stopped: string }
  | { readonly nothing: true };

/** Leaves some of the changes out that a recipe planned, and asks the conditions of the recipe again. */
const part = task(
  byProfile.extend({ recipe: recipeSchema, edit: editSchema, left: z.array(z.string()), known: known.optional() }),
  async (input, tools): Promise<PartOfPlan> => {
    const doc = need(tools.doc);
    const groups = changeGroups(doc, apply(doc, input.edit), input.edit, tools.kinds);
    const edit = withoutGroups(input.edit, groups, new Set(input.left));
    if (edit.steps.length === 0) return { nothing: true };
    const after = apply(doc, edit);
    const asked = { kinds: tools.kinds, seed: 1, catalogues: [], known: input.known };
    const stopped = await stoppedBy(doc, after, input.recipe, asked);
    if (stopped !== undefined) return { stopped };
    const both = { before: tools.kinds, kinds: tools.kinds };
    const made = revised(doc, after, edit, { ...both, isOld: false, profile: input.profile }, tools);
    return 'refusal' in made ? made : { revised: made };
  },
);

/** Where one group of changes lies: a picture of the graph that holds most of it, and names of some of what changes. */
export interface PicturedGroup {
  readonly sketch: Sketch;
  /** Which graph is shown, where the file has several. */
  readonly graph: string | undefined;
  readonly names: readonly string[];
}

const mostNames = 12;

const pictureGroup = task(
  z.object({ edit: editSchema, key: z.string() }),
  (input, tools): PicturedGroup | undefined => {
    const before = need(tools.doc);
    const after = apply(before, input.edit);
    const group = changeGroups(before, after, input.edit, tools.kinds).find((one) => one.key === input.key);
    if (!group) return undefined;
    const marked = new Set(group.ids);
    // what goes is shown as it was
    const doc = group.ids.some((id) => graphOf(after, id) !== undefined) ? after : before;
    const graphs = groupBy(group.ids, (id) => graphOf(doc, id));
    const [graph = doc.head.root] = [...graphs].sort((a, b) => b[1].length - a[1].length)[0] ?? [];
    const named = group.ids.flatMap((id) => doc.nodes.get(id) ?? []);
    return {
      sketch: sketch(doc, tools.kinds, { width: 640, height: 360, graph, marked }),
      graph: doc.graphs.size > 1 ? doc.graphs.get(graph)?.name : undefined,
      names: named.slice(0, mostNames).map(caption),
    };
  },
);

/** Scripts, and recipes that may hold them. */
export const scriptTasks = { script, scriptOptions, reduce, recipe, part, pictureGroup } as const;
