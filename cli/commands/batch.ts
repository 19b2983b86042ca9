import { dirname, join } from 'node:path';
import { mappingSchema } from '@basitax/core/batch/mapping';
import { type Recipe, recipeSchema, type Step } from '@basitax/core/batch/recipe';
import { countsOf } from '@basitax/core/batch/run';
import type { Catalogue } from '@basitax/core/document/catalogue';
import { Kinds } from '@basitax/core/document/kinds';
import { apply } from '@basitax/core/edit/step';
import { verdictWords } from '@basitax/core/inspect/fingerprint';
import { must } from '@basitax/core/must';
import { withAssets } from '@basitax/core/script/assets';
import { scriptEnd } from '@basitax/core/script/job';
import { Pool } from '@basitax/threads/pool';
import { assetsOption, folderStore } from '../assets.ts';
import { type Command, type Loaded, type Outcome, type Status, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { checkScript } from '../script-check.ts';
import { mostAtOnce } from '../threads.ts';

interface Work {
  readonly recipe: Recipe;
  readonly pool: Pool;
  readonly catalogues: readonly Catalogue[];
  readonly assets?: ReturnType<typeof folderStore>;
}

/** Does a recipe on a file; says what became of it. */
async function runRecipe({ doc, kinds }: Loaded, { recipe, pool, catalogues, assets }: Work): Promise<Outcome> {
  const { outcome, revised } = await withAssets(
    (known) =>
      pool.run(
        'recipe',
        { recipe, seed: 1, catalogues, ...(known && { assets: known }) },
        { doc, catalogue: kinds.catalogue, limit: scriptEnd },
      ),
    assets,
  );
  const counts = revised ? countsOf(revised.edit) : { added: 0, removed: 0, changed: 0 };
  const { added, removed, changed } = counts;
  const what =
    outcome.result === 'changed'
      ? `${added} added, ${removed} removed, ${changed} changed; readability ${outcome.score.before.toFixed(1)} → ${outcome.score.after.toFixed(1)}; function ${verdictWords[outcome.verdict]}`
      : outcome.why;
  const log = outcome.log.map((line) => line.text);
  const status: Status = outcome.result === 'failed' ? 'failed' : outcome.result === 'stopped' ? 'findings' : 'fine';
  return {
    status,
    text: [...log, `${outcome.result}${what === '' ? '' : `: ${what}`}`].join('\n'),
    json: {
      result: outcome.result,
      why: outcome.why,
      ...counts,
      readability: outcome.score,
      function: outcome.verdict,
      log,
    },
    findings: outcome.findings,
    ...(revised && {
      doc: apply(doc, revised.edit),
      ...(catalogues[0] && { kinds: new Kinds(catalogues[0]) }),
    }),
  };
}

export const batchCommands: readonly Command[] = [
  fileCommand({
    name: 'batch',
    usage: 'RECIPE.json FILE…',
    about: 'Applies a recipe to files: operations, scripts, fixes, checks, conditions.',
    options: { assets: assetsOption },
    lead: ['a recipe'],
    writes: true,
    says: 'lines',
    atOnce: mostAtOnce,
    async prepare({ words, values, io }): Promise<Work> {
      const file = must(words[0]);
      const recipe = await io.json(file, recipeSchema, 'recipe');
      const steps: Step[] = [];
      const scripts: (readonly [place: string, source: string])[] = [];
      // scripts that a recipe names as files stand beside it
      for (const step of recipe.steps) {
        if (step.do !== 'script') steps.push(step);
        else if (step.source === undefined && step.script === undefined)
          throw new Unusable(`${file}: a script step needs its source here; the library is only in the application.`);
        else {
          const beside = step.source === undefined && step.script ? join(dirname(file), step.script.id) : undefined;
          const source = step.source ?? (await io.text(must(beside)));
          scripts.push([beside ?? file, source]);
          steps.push({ ...step, source });
        }
      }
      const pool = new Pool(mostAtOnce);
      try {
        for (const [place, source] of scripts) await checkScript(pool, place, source);
      } catch (error) {
        pool.close();
        throw error;
      }
      return { recipe: { steps }, pool, catalogues: [], assets: folderStore(values.assets) };
    },
    each: (_file, loaded, _call, work) => runRecipe(loaded, work),
    close: ({ pool }) => pool.close(),
  }),
  fileCommand({
    name: 'upgrade',
    usage: 'MAPPING.json FILE… --with CATALOGUE.json',
    about: 'Reads files with another version of their catalogue.',
    options: { with: { type: 'string', value: 'CATALOGUE', about: 'The catalogue to read them with.' } },
    lead: ['a mapping'],
    writes: true,
    says: 'lines',
    atOnce: mostAtOnce,
    async prepare({ words, values, io }): Promise<Work> {
      if (values.with === undefined)
        throw new Unusable('upgrade needs --with CATALOGUE.json, the catalogue to read the files with.');
      const mapping = await io.json(must(words[0]), mappingSchema, 'mapping');
      const catalogue = await io.catalogue(values.with);
      const to = { id: catalogue.id, version: catalogue.version };
      return {
        recipe: { steps: [{ do: 'upgrade', to, mapping }] },
        pool: new Pool(mostAtOnce),
        catalogues: [catalogue],
      };
    },
    each: (_file, loaded, _call, work) => runRecipe(loaded, work),
    close: ({ pool }) => pool.close(),
  }),
];
