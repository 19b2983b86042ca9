import { writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import { type Mapping, mappingSchema } from '@basitax/core/batch/mapping';
import { type Recipe, recipeSchema, type Step } from '@basitax/core/batch/recipe';
import { countsOf } from '@basitax/core/batch/run';
import { type Catalogue, emptyCatalogue } from '@basitax/core/document/catalogue';
import type { Doc } from '@basitax/core/document/doc';
import { Kinds } from '@basitax/core/document/kinds';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { apply } from '@basitax/core/edit/step';
import type { Finding } from '@basitax/core/finding';
import { jsonAs } from '@basitax/core/formats/json-as';
import { readTable, writeTable } from '@basitax/core/formats/table';
import { verdictWords } from '@basitax/core/inspect/fingerprint';
import { must } from '@basitax/core/must';
import { select } from '@basitax/core/query/query';
import type { ScriptReach } from '@basitax/core/script/job';
import { scriptEnd } from '@basitax/core/script/job';
import { type ScriptValues, valueFromText } from '@basitax/core/script/options';
import { Pool } from '@basitax/threads/pool';
import type { z } from 'zod';
import { type Loaded, nodesNamed } from './inspect.ts';
import { Unusable } from './unusable.ts';

/** How commands read and write: given by the command line itself. */
export interface Files {
  load(file: string): Promise<Loaded>;
  save(file: string, loaded: Loaded): Promise<void>;
  text(file: string): Promise<string>;
  write(file: string, text: string): Promise<void>;
  catalogue(file: string): Promise<Catalogue>;
  say(line: string): void;
  complain(file: string, findings: readonly Finding[]): number;
}

export interface BatchValues {
  readonly 'dry-run'?: boolean | undefined;
  readonly option?: string[] | undefined;
  readonly where?: string | undefined;
  readonly graph?: string | undefined;
  readonly select?: string | undefined;
  readonly output?: string | undefined;
  readonly parameters?: string | undefined;
  readonly from?: string | undefined;
  readonly to?: string | undefined;
}

/** Text as JSON of a shape. Throws Unusable with the file and what is wrong. */
export async function jsonOf<T extends z.ZodType>(
  files: Files,
  file: string,
  schema: T,
  what: string,
): Promise<z.output<T>> {
  try {
    return jsonAs(schema, await files.text(file), what);
  } catch (error) {
    throw error instanceof UnreadableFile ? new Unusable(`${file}: ${error.message}`) : error;
  }
}

/** `--option k=v`, as often as there are options. */
function pairsOf(values: BatchValues): readonly (readonly [string, string])[] {
  return (values.option ?? []).map((pair) => {
    const at = pair.indexOf('=');
    if (at < 1) throw new Unusable(`--option wants NAME=VALUE, not “${pair}”.`);
    return [pair.slice(0, at), pair.slice(at + 1)] as const;
  });
}

/** The graph that is meant: by id, or the outermost. */
function graphOf(file: string, doc: Doc, graph: string | undefined): string {
  if (graph !== undefined && !doc.graphs.has(graph)) throw new Unusable(`${file}: there is no graph “${graph}”.`);
  return graph ?? doc.head.root;
}

/** Runs a script over files; each is written where it stands, all of it or nothing, or with a dry run none is. */
export async function runScriptFiles(
  files: Files,
  script: string,
  names: readonly string[],
  values: BatchValues,
): Promise<number> {
  const source = await files.text(script);
  const pool = new Pool(1);
  try {
    const { options, failure: mistake } = await pool.run(
      'scriptOptions',
      { source },
      { catalogue: emptyCatalogue, limit: scriptEnd },
    );
    if (mistake)
      throw new Unusable(`${script}${mistake.line === undefined ? '' : `:${mistake.line}`}: ${mistake.message}`);
    const given: ScriptValues = Object.fromEntries(
      pairsOf(values).map(([name, text]) => [name, valueFromText(options, name, text)]),
    );
    let status = 0;
    for (const name of names) {
      const loaded = await files.load(name);
      const { doc, kinds } = loaded;
      const graph = graphOf(name, doc, values.graph);
      const chosen = (values.select ?? '').split(',').filter(Boolean);
      const { ids, missing } = nodesNamed(doc, chosen);
      if (missing.length > 0) throw new Unusable(`${name}: there is no node “${missing[0]}”, by id or by path.`);
      const reach: ScriptReach =
        chosen.length > 0
          ? { over: 'selection', items: [...ids] }
          : values.where !== undefined
            ? { over: 'query', query: values.where }
            : { over: 'all' };
      const outcome = await pool.run(
        'script',
        { graph, reach, source, values: given, seed: 1 },
        { doc, catalogue: kinds.catalogue, limit: scriptEnd },
      );
      for (const line of outcome.log) files.say(`${name}: ${line.text}`);
      if (outcome.failure) {
        const { line, message, node } = outcome.failure;
        process.stderr.write(
          `${name}: ${script}${line === undefined ? '' : `:${line}`}: ${message}${node === undefined ? '' : ` (at “${doc.nodes.get(node)?.name ?? node}”)`}\n`,
        );
        status = 2;
        continue;
      }
      if (values['dry-run'])
        for (const { sentence, consequences = [] } of outcome.changes)
          for (const line of [sentence, ...consequences.map((one) => `  ${one.sentence}`)])
            files.say(`${name}: ${line}`);
      files.say(
        `${name}: ${outcome.report.summary}${values['dry-run'] && outcome.edit.steps.length > 0 ? ' Dry run: nothing is written.' : ''}`,
      );
      if (!values['dry-run']) {
        if (outcome.edit.steps.length > 0)
          await files.save(values.output ?? name, { ...loaded, doc: apply(doc, outcome.edit) });
        for (const { name: own, text } of outcome.outputs)
          await writeFile(join(dirname(values.output ?? name), `${basename(name).split('.')[0]}-${own}`), text);
      }
      status = Math.max(status, files.complain(name, [...loaded.findings, ...outcome.report.findings]));
    }
    return status;
  } finally {
    pool.close();
  }
}

/** Does a recipe on files, each written where it stands; says of each what became of it. */
async function runRecipeFiles(
  files: Files,
  recipe: Recipe,
  names: readonly string[],
  values: BatchValues,
  catalogues: readonly Catalogue[] = [],
): Promise<number> {
  const pool = new Pool(1);
  try {
    let status = 0;
    for (const name of names) {
      const loaded = await files.load(name);
      const { outcome, revised } = await pool.run(
        'recipe',
        { recipe, seed: 1, catalogues },
        { doc: loaded.doc, catalogue: loaded.kinds.catalogue, limit: scriptEnd },
      );
      for (const line of outcome.log) files.say(`${name}: ${line.text}`);
      const { added, removed, changed } = revised ? countsOf(revised.edit) : { added: 0, removed: 0, changed: 0 };
      const what =
        outcome.result === 'changed'
          ? `${added} added, ${removed} removed, ${changed} changed; readability ${outcome.score.before.toFixed(1)} → ${outcome.score.after.toFixed(1)}; function ${verdictWords[outcome.verdict]}`
          : outcome.why;
      files.say(`${name}: ${outcome.result}${what === '' ? '' : `: ${what}`}`);
      if (revised && !values['dry-run']) {
        const kinds = catalogues[0] ?? loaded.kinds.catalogue;
        await files.save(name, { ...loaded, doc: apply(loaded.doc, revised.edit), kinds: new Kinds(kinds) });
      }
      const isBad = outcome.result === 'failed' || outcome.result === 'stopped';
      status = Math.max(status, isBad ? 1 : 0, files.complain(name, [...loaded.findings, ...outcome.findings]));
    }
    if (values['dry-run']) files.say('Dry run: nothing is written.');
    return status;
  } finally {
    pool.close();
  }
}

/** `batch RECIPE FILE…`: scripts that a recipe names as files stand beside it. */
export async function batch(
  files: Files,
  recipeFile: string,
  names: readonly string[],
  values: BatchValues,
): Promise<number> {
  const recipe = await jsonOf(files, recipeFile, recipeSchema, 'recipe');
  const steps: Step[] = [];
  for (const step of recipe.steps) {
    if (step.do !== 'script' || step.source !== undefined) steps.push(step);
    else if (step.script === undefined)
      throw new Unusable(`${recipeFile}: a script step wants its source here; the library is the application’s.`);
    else steps.push({ ...step, source: await files.text(join(dirname(recipeFile), step.script.id)) });
  }
  return runRecipeFiles(files, { steps }, names, values);
}

/** `upgrade MAPPING FILE… --to CATALOGUE`. */
export async function upgradeFiles(
  files: Files,
  mappingFile: string,
  names: readonly string[],
  values: BatchValues,
): Promise<number> {
  if (values.to === undefined)
    throw new Unusable('upgrade wants --to CATALOGUE.json, the catalogue that the files are to be read with.');
  const mapping: Mapping = await jsonOf(files, mappingFile, mappingSchema, 'mapping');
  const catalogue = await files.catalogue(values.to);
  const recipe = { steps: [{ do: 'upgrade' as const, to: { id: catalogue.id, version: catalogue.version }, mapping }] };
  return runRecipeFiles(files, recipe, names, values, [catalogue]);
}

/** `table FILE` writes one; with `--from CSV` it is read back. */
export async function table(files: Files, name: string, values: BatchValues): Promise<number> {
  const loaded = await files.load(name);
  const { doc, kinds } = loaded;
  if (values.from !== undefined) {
    const { edit, findings, rows, changes } = readTable(doc, kinds, await files.text(values.from));
    files.say(`${name}: ${rows} rows, ${changes} changes.${values['dry-run'] ? ' Dry run: nothing is written.' : ''}`);
    if (!values['dry-run'] && edit.steps.length > 0)
      await files.save(values.output ?? name, { ...loaded, doc: apply(doc, edit) });
    return files.complain(values.from, findings);
  }
  const parameters = (values.parameters ?? '').split(',').filter(Boolean);
  if (parameters.length === 0) throw new Unusable('table wants --parameters NAME,NAME…, or --from CSV to read one.');
  const ids = [...doc.graphs.keys()].flatMap((graph) => select(values.where ?? '', doc, kinds, graph));
  const text = writeTable(
    doc,
    kinds,
    ids.map((id) => must(doc.nodes.get(id))),
    parameters,
  );
  if (values.output === undefined) process.stdout.write(text);
  else await writeFile(values.output, text);
  return 0;
}
