import { type Doc, emptyDoc, type Selection } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { Edit } from '../edit/step.ts';
import type { Context, Report } from '../operation.ts';
import { select } from '../query/query.ts';
import { plural } from '../words.ts';
import type { FileResult } from './bridge.ts';
import { compileScript, ScriptSyntax } from './compile.ts';
import { type Beside, type LogLine, ScriptHost, type ScriptOutput, type Touched } from './host.ts';
import type { ScriptReach } from './job.ts';
import type { ScriptOptions, ScriptValues } from './options.ts';
import { readingOrder } from './reading-order.ts';
import { runInSandbox, type SandboxFailure, type ScriptLimits, usualLimits } from './sandbox.ts';
import { refuse } from './sentences.ts';

/** What a script did. With a failure the edit is empty: all or nothing. */
export interface ScriptOutcome {
  readonly edit: Edit;
  /** Its findings are what was skipped, and what operations had to say. */
  readonly report: Report;
  readonly log: readonly LogLine[];
  readonly outputs: readonly ScriptOutput[];
  readonly failure: SandboxFailure | undefined;
  /** What its `each` gave for this file, or its `all` for all of them; undefined where it has none. */
  readonly result: Json | undefined;
  /** What each line changed, or would have where the script failed. */
  readonly touched: readonly Touched[];
  /** Paths that the asset store has to be asked for; where there are any, nothing else here counts. */
  readonly wanted: readonly string[];
}

/** The nodes that a script runs over, in their order. Throws QueryError. */
export function reached(context: Context, doc: Doc, graph: string, reach: ScriptReach): Selection {
  if (reach.over === 'selection') return { graph, items: reach.items.filter((id) => doc.nodes.has(id)) };
  const fits = new Set(select(reach.over === 'query' ? reach.query : '', doc, context.kinds, graph));
  return { graph, items: readingOrder(doc).filter((id) => fits.has(id)) };
}

/**
 * Runs a script on a document: the same input gives the same edit, wherever it runs. Throws Refused where there is no
 * such graph; all that is wrong with the script itself is its failure. Cost: that of the script, and of sending the
 * document over the border once.
 */
export async function runScript(
  context: Context,
  doc: Doc,
  selection: Selection,
  source: string,
  values: ScriptValues,
  { assets, results, ...limits }: ScriptLimits & Beside = usualLimits,
): Promise<ScriptOutcome> {
  if (!doc.graphs.has(selection.graph)) throw refuse('no-graph', { graph: selection.graph });
  const host = new ScriptHost(context, doc, selection, values, { assets, results });
  const failure = await inSandbox(source, host, limits);
  const edit = failure ? { steps: [] } : host.edit();
  const touched = new Set(edit.steps.map((step) => step.id)).size;
  const summary = failure
    ? 'The script ended with an error; nothing was changed.'
    : touched === 0
      ? 'The script changed nothing.'
      : `The script changed ${plural(touched, 'thing')}.`;
  return {
    edit,
    report: { summary, findings: failure ? [] : host.findings },
    log: host.log,
    outputs: failure ? [] : host.outputs,
    failure,
    result: failure ? undefined : host.result,
    touched: host.touched,
    wanted: host.wanted,
  };
}

/**
 * Has a script put together with `all` what its `each` gave for each file; it sees no file then. Costs what the script
 * does.
 */
export function reduceScript(
  context: Context,
  source: string,
  values: ScriptValues,
  results: readonly FileResult[],
): Promise<ScriptOutcome> {
  const doc = emptyDoc('none', '');
  return runScript(context, doc, { graph: doc.head.root, items: [] }, source, values, { ...usualLimits, results });
}

/**
 * What a script declares, without running it any further; one that calls no `options` has none. The failure is one that
 * it would have anywhere:
 * a mistake of form, or in what it declares. What comes of there being no nodes here is none.
 */
export async function describeScript(
  context: Context,
  source: string,
): Promise<{ readonly options: ScriptOptions; readonly failure: SandboxFailure | undefined }> {
  const doc = emptyDoc('none', '');
  const host = new ScriptHost(context, doc, { graph: doc.head.root, items: [] }, undefined);
  const failure = await inSandbox(source, host, { ...usualLimits, time: 2000 });
  const isItsOwn =
    failure !== undefined && (/^SyntaxError/.test(failure.message) || host.isDeclaring || !isReadable(source));
  return { options: host.declared, failure: isItsOwn ? failure : undefined };
}

function isReadable(source: string): boolean {
  try {
    compileScript(source);
    return true;
  } catch (error) {
    if (error instanceof ScriptSyntax) return false;
    throw error;
  }
}

async function inSandbox(source: string, host: ScriptHost, limits: ScriptLimits): Promise<SandboxFailure | undefined> {
  try {
    return await runInSandbox(compileScript(source), host, limits);
  } catch (error) {
    if (error instanceof ScriptSyntax)
      return { message: error.message, ...(error.line !== undefined && { line: error.line }) };
    throw error;
  }
}
