import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { type Doc, tableOf } from '@basitax/core/document/doc';
import type { Json } from '@basitax/core/document/json';
import { apply } from '@basitax/core/edit/step';
import { nodesNamed } from '@basitax/core/inspect/answers';
import { must } from '@basitax/core/must';
import { createContext } from '@basitax/core/operation';
import { operationById, runOperation } from '@basitax/core/operations';
import { select } from '@basitax/core/query/query';
import { withAssets } from '@basitax/core/script/assets';
import { type ScriptReach, scriptEnd } from '@basitax/core/script/job';
import { type ScriptValues, valueFromText } from '@basitax/core/script/options';
import { reportFormats, reportOf, reportText, usualFormat } from '@basitax/core/script/report';
import { Pool } from '@basitax/threads/pool';
import { assetsOption, folderStore } from '../assets.ts';
import { type Call, type Command, Failed, type Loaded, type Outcome, Unusable } from '../command.ts';
import { fileCommand } from '../engine.ts';
import { checkScript } from '../script-check.ts';
import { mostAtOnce } from '../threads.ts';
import { nodesIn } from './inspect.ts';

interface Values {
  readonly option?: string[] | undefined;
  readonly options?: string | undefined;
  readonly where?: string | undefined;
  readonly graph?: string | undefined;
  readonly select?: string | undefined;
  readonly assets?: string | undefined;
  readonly report?: string | undefined;
  readonly 'dry-run'?: boolean | undefined;
}

interface Script {
  readonly file: string;
  readonly source: string;
  readonly given: ScriptValues;
  readonly pool: Pool;
  readonly assets: ReturnType<typeof folderStore>;
  /** What `each` gave, by file, in the order of the files. */
  readonly results: Map<string, Json | undefined>;
}

/** `--option k=v`, as often as there are options. */
function pairsOf({ option }: Values): readonly (readonly [string, string])[] {
  return (option ?? []).map((pair) => {
    const at = pair.indexOf('=');
    if (at < 1) throw new Unusable(`--option takes NAME=VALUE, not “${pair}”.`);
    return [pair.slice(0, at), pair.slice(at + 1)] as const;
  });
}

/** A value as JSON where it is some, else as text. */
function valueFrom(text: string): Json {
  try {
    return JSON.parse(text) as Json;
  } catch {
    return text;
  }
}

function operationOptions(values: Values): Readonly<Record<string, Json>> {
  let given: unknown = {};
  try {
    given = JSON.parse(values.options ?? '{}');
  } catch (error) {
    throw new Unusable(`--options is not valid JSON: ${(error as Error).message}.`);
  }
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    throw new Unusable('--options takes an object in JSON, such as {"keep": 0.5}.');
  return {
    ...(given as Record<string, Json>),
    ...Object.fromEntries(pairsOf(values).map(([name, text]) => [name, valueFrom(text)])),
  };
}

/** The graph that is meant: by id or name, or the outermost. */
function graphOf(doc: Doc, graph: string | undefined): string {
  if (graph === undefined) return doc.head.root;
  if (doc.graphs.has(graph)) return graph;
  const named = [...doc.graphs.values()].filter((one) => one.name === graph);
  if (named.length === 1) return must(named[0]).id;
  throw new Unusable(
    named.length > 1
      ? `${named.length} graphs are called “${graph}”; name one by its id.`
      : `there is no graph “${graph}”.`,
  );
}

async function prepareScript({ words, values, io }: Call<Values>): Promise<Script> {
  const file = must(words[0]);
  const source = await io.text(file);
  const pool = new Pool(mostAtOnce);
  try {
    const [{ options, failure }] = await Promise.all([
      pool.run('scriptOptions', { source }, { catalogue: emptyCatalogue, limit: scriptEnd }),
      checkScript(pool, file, source),
    ]);
    if (failure) throw new Failed(`${file}${failure.line === undefined ? '' : `:${failure.line}`}: ${failure.message}`);
    const given = Object.fromEntries(pairsOf(values).map(([name, text]) => [name, valueFromText(options, name, text)]));
    return { file, source, given, pool, assets: folderStore(values.assets), results: new Map() };
  } catch (error) {
    pool.close();
    throw error;
  }
}

async function runScript(file: string, loaded: Loaded, values: Values, script: Script): Promise<Outcome> {
  const { doc, kinds } = loaded;
  script.results.set(file, undefined);
  const graph = graphOf(doc, values.graph);
  const ids = nodesIn(doc, values.select);
  const reach: ScriptReach =
    ids.length > 0
      ? { over: 'selection', items: [...ids] }
      : values.where !== undefined
        ? { over: 'query', query: values.where }
        : { over: 'all' };
  const outcome = await withAssets(
    (assets) =>
      script.pool.run(
        'script',
        { graph, reach, source: script.source, values: script.given, seed: 1, ...(assets && { assets }) },
        { doc, catalogue: kinds.catalogue, limit: scriptEnd },
      ),
    script.assets,
  );
  const log = outcome.log.map((line) => line.text);
  if (outcome.failure) {
    const { line, message, node } = outcome.failure;
    const place = `${script.file}${line === undefined ? '' : `:${line}`}`;
    const about = node === undefined ? '' : ` (at “${doc.nodes.get(node)?.name ?? node}”)`;
    throw new Failed([...log, `${place}: ${message}${about}`].join('\n'));
  }
  script.results.set(file, outcome.result);
  const changes = outcome.changes.flatMap(({ sentence, consequences = [] }) => [
    sentence,
    ...consequences.map((one) => `  ${one.sentence}`),
  ]);
  return {
    text: [...log, ...(values['dry-run'] ? changes : []), outcome.report.summary].join('\n'),
    json: {
      summary: outcome.report.summary,
      log,
      changes,
      ...(outcome.result !== undefined && { result: outcome.result }),
    },
    findings: outcome.report.findings,
    outputs: outcome.outputs,
    ...(outcome.edit.steps.length > 0 && { doc: apply(doc, outcome.edit) }),
  };
}

/** Has the script put together what it gave for each file; prints the report, or writes it where that is said. */
async function report({ values, io }: Call<Values>, script: Script): Promise<string | undefined> {
  const results = [...script.results].flatMap(([file, result]) => (result === undefined ? [] : [{ file, result }]));
  if (results.length === 0) {
    if (values.report !== undefined)
      throw new Unusable(`${script.file} has no “each” that gives something for a file.`);
    return undefined;
  }
  const outcome = await script.pool.run(
    'reduce',
    { source: script.source, values: script.given, results },
    { catalogue: emptyCatalogue, limit: scriptEnd },
  );
  if (outcome.failure) {
    const { line, message } = outcome.failure;
    throw new Failed(`${script.file}${line === undefined ? '' : `:${line}`}: ${message}`);
  }
  if (outcome.result === undefined) {
    if (values.report !== undefined) throw new Unusable(`${script.file} has no “all” that makes a report.`);
    return undefined;
  }
  const made = reportOf(outcome.result);
  const ending = values.report === undefined ? undefined : values.report.slice(values.report.lastIndexOf('.') + 1);
  const format = reportFormats.find((one) => one === ending) ?? usualFormat[made.is];
  const log = outcome.log.map((one) => `${one.text}\n`).join('');
  const text = reportText(made, values.json && values.report === undefined ? 'json' : format);
  if (values.report === undefined)
    return values.json ? JSON.stringify({ report: JSON.parse(text) as Json }) : `${log}${text}`;
  await io.write(values.report, text);
  return values.quiet || values.json ? '' : `${log}Wrote ${values.report}.`;
}

async function doOperation(loaded: Loaded, id: string, values: Values, options: object): Promise<Outcome> {
  const { doc, kinds } = loaded;
  const graph = graphOf(doc, values.graph);
  const wanted = (values.select ?? '').split(',').filter(Boolean);
  const { ids, missing } = nodesNamed(doc, wanted);
  const others = missing.filter((item) => tableOf(doc, item) === undefined);
  if (others.length > 0) throw new Unusable(`there is nothing with the id or path “${others[0]}”.`);
  const found = values.where === undefined ? [] : select(values.where, doc, kinds, graph);
  const items = [...new Set([...ids, ...missing, ...found])];
  // of many files some hold nothing that is meant
  if (values.where !== undefined && items.length === 0)
    return { text: `No node fits ${values.where}.`, json: { summary: '' } };
  const { edit, report } = await runOperation(id, createContext(kinds, 1), doc, { graph, items }, options);
  return {
    text: report.summary,
    json: { summary: report.summary },
    findings: report.findings,
    ...(edit.steps.length > 0 && { doc: apply(doc, edit) }),
  };
}

const isScript = (name: string): boolean => /\.[cm]?[jt]s$/.test(name);

export const runCommand: Command = fileCommand({
  name: 'run',
  usage: 'OPERATION|SCRIPT.ts FILE…',
  about: 'Runs an operation or a script on files; each file is changed as a whole or not at all.',
  options: {
    graph: { type: 'string', value: 'GRAPH', about: 'The graph, by id or name. By default the outermost.' },
    select: { type: 'string', value: 'NODE,…', about: 'The nodes to work on, by id or path.' },
    where: { type: 'string', value: 'QUERY', about: 'The nodes to work on, by a query.' },
    option: { type: 'string', multiple: true, value: 'NAME=VALUE', about: 'An option of the script or operation.' },
    assets: assetsOption,
    report: {
      type: 'string',
      value: 'FILE',
      about:
        'Where to write what a script’s “all” made of all files: .csv, .md, .json, .svg or .txt. By default it is printed.',
    },
    options: { type: 'string', value: 'JSON', about: 'All options of the operation at once.' },
  },
  lead: ['an operation or a script'],
  writes: true,
  says: 'lines',
  async prepare(call: Call<Values>) {
    const first = must(call.words[0]);
    if (isScript(first)) return prepareScript(call);
    operationById(first);
    return { options: operationOptions(call.values) };
  },
  each: (file, loaded, { words, values }, prepared) =>
    'pool' in prepared
      ? runScript(file, loaded, values, prepared)
      : doOperation(loaded, must(words[0]), values, prepared.options),
  finish: (call, prepared) => ('pool' in prepared ? report(call, prepared) : undefined),
  close(prepared) {
    if ('pool' in prepared) prepared.pool.close();
  },
  atOnce: mostAtOnce,
});
