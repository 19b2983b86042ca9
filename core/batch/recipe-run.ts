import type { Catalogue } from '../document/catalogue.ts';
import { type Doc, graphOf, indexOf } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { Kinds } from '../document/kinds.ts';
import { apply } from '../edit/step.ts';
import { type Finding, type Severity, severities } from '../finding.ts';
import { addTo } from '../group-by.ts';
import { compareFingerprints, type Fingerprint, fingerprint, type Verdict } from '../inspect/fingerprint.ts';
import { scoreOfDoc } from '../inspect/readability.ts';
import { must } from '../must.ts';
import { type Context, createContext } from '../operation.ts';
import { needProblem, operate, operationById } from '../operations.ts';
import { select } from '../query/query.ts';
import { type Asked, checkAsked } from '../rules/rules.ts';
import { Refused } from '../said.ts';
import type { AssetFacts } from '../script/assets.ts';
import type { LogLine, ScriptOutput } from '../script/host.ts';
import { reached, runScript } from '../script/run.ts';
import { usualLimits } from '../script/sandbox.ts';
import type { Row } from '../table/cells.ts';
import { readTable } from '../table/in.ts';
import { refuse as tableRefuse } from '../table/sentences.ts';
import { plural } from '../words.ts';
import type { Step } from './recipe.ts';
import { refuse, say } from './sentences.ts';
import { askedIn } from './titles.ts';
import { upgrade } from './upgrade.ts';

/** What one step did to a file. */
export interface StepReport {
  readonly step: number;
  readonly summary: string;
}

export interface RecipeTools {
  readonly kinds: Kinds;
  /** Where ids start from: another for each file of each run. */
  readonly seed: number;
  /** Catalogues that steps of upgrading ask for. */
  readonly catalogues: readonly Catalogue[];
  /** What is known of the asset store; undefined: there is none to ask. */
  readonly assets?: AssetFacts | undefined;
  /** Readability and fingerprint of the document, where they are known already. */
  readonly known?: { readonly score: number; readonly fingerprint: Fingerprint } | undefined;
  /** Rows of a table about this file, with its first row, where a step reads one. */
  readonly table?: readonly Row[] | undefined;
  progress?(fraction: number, what: string): void;
}

/** Ends a recipe before its end. */
export class Ended extends Error {
  readonly result: 'left-out' | 'stopped';
  constructor(result: 'left-out' | 'stopped', why: string) {
    super(why);
    this.result = result;
  }
}

/** How often fixes are done over again, since one may bring another to light. */
const mostRounds = 8;

/** Points that are lost in rounding are no loss. */
const leastGain = 1e-6;

const graverThan = (found: readonly Finding[], least: Severity): Finding[] =>
  found.filter((one) => severities.indexOf(one.severity) <= severities.indexOf(least));

/** The same finding before and after: by rule and place, whatever its numbers. */
const keyOf = ({ rule, place }: Finding): string => `${rule} ${place.join(' ')}`;

/** A recipe as it is done on a copy, step by step. */
export class RecipeRun {
  doc: Doc;
  kinds: Kinds;
  readonly steps: StepReport[] = [];
  readonly findings: Finding[] = [];
  readonly log: LogLine[] = [];
  readonly outputs: ScriptOutput[] = [];
  readonly results: { readonly step: number; readonly value: Json }[] = [];
  readonly wanted = new Set<string>();
  private readonly tools: RecipeTools;
  private readonly before: Doc;
  private readonly scoreBefore: number;
  private readonly base: Context;
  /**
   * What the function is compared with, and the catalogue that it is read with: after an upgrade, the old document with
   * its mapping applied.
   */
  private reference: { readonly doc: Doc; readonly kinds: Kinds };
  private print: Fingerprint | undefined;
  private hasLost = false;
  /** The function had changed before an upgrade, so that it stays a change. */
  private hadChanged = false;

  constructor(doc: Doc, tools: RecipeTools, scoreBefore: number) {
    this.before = doc;
    this.scoreBefore = scoreBefore;
    this.doc = doc;
    this.kinds = tools.kinds;
    this.tools = tools;
    this.base = createContext(tools.kinds, tools.seed);
    this.reference = { doc, kinds: tools.kinds };
    this.print = tools.known?.fingerprint;
  }

  /** Ids go on in one row through all steps. */
  private get context(): Context {
    return { ...this.base, kinds: this.kinds };
  }

  /** What was lost in an upgrade has changed the function, whatever the hashes say. */
  verdict(): Verdict {
    if (this.hasLost || this.hadChanged) return 'changed';
    this.print ??= fingerprint(this.reference.doc, this.reference.kinds);
    return compareFingerprints(this.print, fingerprint(this.doc, this.kinds));
  }

  /** Does a step; gives what it did in a sentence. */
  async step(step: Step): Promise<string> {
    switch (step.do) {
      case 'operation':
        return this.operation(step);
      case 'script':
        return this.script(step);
      case 'fix':
        return this.fix(askedIn(step));
      case 'check':
        return this.check(askedIn(step), step.stop);
      case 'only': {
        const count = this.graphs('all').reduce(
          (sum, graph) => sum + select(step.where, this.doc, this.kinds, graph).length,
          0,
        );
        if (count < step.least)
          throw new Ended(
            'left-out',
            `${count === 0 ? 'No node is' : count === 1 ? 'One node is' : `${count} nodes are`} like ${step.where}.`,
          );
        return `${plural(count, 'node')} like ${step.where}.`;
      }
      case 'keep': {
        const verdict = this.verdict();
        if (verdict === 'changed' || (verdict === 'ends-same' && step.what === 'everything'))
          throw new Ended(
            'stopped',
            this.hasLost ? 'The upgrade could not keep all.' : 'The function fingerprint changes.',
          );
        return 'The function fingerprint is the same.';
      }
      case 'better': {
        const score = scoreOfDoc(this.doc, this.kinds);
        const gain = score - this.scoreBefore;
        const said = { before: this.scoreBefore, after: score, by: step.by };
        if (gain < step.by - leastGain) throw new Ended('stopped', say('not-better', said).message);
        return say('better', said).message;
      }
      case 'found': {
        const found = graverThan(checkAsked(this.doc, this.kinds, askedIn(step)), step.severity);
        if (found.length === 0) throw new Ended('left-out', say('nothing-found').message);
        return `${plural(found.length, 'finding')}.`;
      }
      case 'no-new':
        return this.noNew(step);
      case 'table':
        return this.table();
      case 'upgrade':
        return this.upgrade(step);
    }
  }

  /** Ends the recipe where rules find what they did not find in the file as it came. */
  private noNew(step: Step & { do: 'no-new' }): string {
    const asked = askedIn(step);
    const known = new Map<string, number>();
    for (const one of checkAsked(this.before, this.tools.kinds, asked))
      known.set(keyOf(one), (known.get(keyOf(one)) ?? 0) + 1);
    const fresh = graverThan(checkAsked(this.doc, this.kinds, asked), step.severity).filter((one) => {
      const left = known.get(keyOf(one)) ?? 0;
      known.set(keyOf(one), left - 1);
      return left <= 0;
    });
    this.findings.push(...fresh);
    const [first] = fresh;
    if (first)
      throw new Ended('stopped', say('new-finding', { message: first.message, more: fresh.length - 1 }).message);
    return say('nothing-new').message;
  }

  private graphs(which: 'all' | 'outermost'): Id[] {
    const { root } = this.doc.head;
    return which === 'outermost'
      ? [root]
      : [root, ...[...this.doc.graphs.keys()].filter((id) => id !== root).sort(compareIds)];
  }

  private operation({ operation: id, where, graphs, options }: Step & { do: 'operation' }): string {
    const one = operationById(id);
    const said: string[] = [];
    for (const graph of this.graphs(graphs)) {
      // an earlier graph may have taken this one with it
      if (!this.doc.graphs.has(graph)) continue;
      const wantsAll = where === '' && (one.needs.what === 'nothing' || one.needs.all === true);
      const items = wantsAll
        ? []
        : where === ''
          ? indexOf(this.doc)
              .nodesIn(graph)
              .map((node) => node.id)
          : select(where, this.doc, this.kinds, graph);
      if (items.length === 0 && !wantsAll) continue;
      if (needProblem(one, this.doc, { graph, items })) continue;
      const { edit, report } = operate(id, this.context, this.doc, { graph, items }, options);
      this.doc = apply(this.doc, edit);
      this.findings.push(...report.findings);
      said.push(report.summary);
    }
    return said.length === 0
      ? 'Nothing here is concerned.'
      : said.length === 1
        ? must(said[0])
        : `${said[0]} And in ${plural(said.length - 1, 'other graph')}.`;
  }

  private async script({ source, where, graphs, values }: Step & { do: 'script' }): Promise<string> {
    if (source === undefined) throw refuse('script-not-taken');
    const said: string[] = [];
    for (const graph of this.graphs(graphs)) {
      if (!this.doc.graphs.has(graph)) continue;
      const reach = reached(this.context, this.doc, graph, { over: 'query', query: where });
      if (reach.items.length === 0) continue;
      const outcome = await runScript(this.context, this.doc, reach, source, values, {
        ...usualLimits,
        assets: this.tools.assets,
      });
      // nothing of this run counts then, and it goes on to hear what other graphs ask
      for (const path of outcome.wanted) this.wanted.add(path);
      this.log.push(...outcome.log);
      if (outcome.failure) {
        const { line, message, node } = outcome.failure;
        const name = node === undefined ? undefined : this.doc.nodes.get(node)?.name;
        throw refuse('script-failed', { line, message, name });
      }
      // it is asked of the file as a whole: once is enough, in however many graphs the script runs
      const step = this.steps.length;
      if (outcome.result !== undefined && !this.results.some((one) => one.step === step))
        this.results.push({ step, value: outcome.result });
      this.doc = apply(this.doc, outcome.edit);
      this.findings.push(...outcome.report.findings);
      this.outputs.push(...outcome.outputs);
      said.push(outcome.report.summary);
    }
    return said.length === 0
      ? 'Nothing here is concerned.'
      : said.length === 1
        ? must(said[0])
        : `${said[0]} And in ${plural(said.length - 1, 'other graph')}.`;
  }

  private fix(some: readonly Asked[]): string {
    let done = 0;
    for (let round = 0; round < mostRounds; round++) {
      const before = done;
      const found = checkAsked(this.doc, this.kinds, some).filter((item) => item.fix);
      const groups = new Map<string, Finding[]>();
      for (const item of found) {
        const key = JSON.stringify([
          must(item.fix).operation,
          must(item.fix).options,
          graphOf(this.doc, item.place.at(-1)),
        ]);
        addTo(groups, key, item);
      }
      // what is mended the same way is mended together: parting one pair at a time pushes nodes onto others; where that
      // is refused, each by itself
      for (const group of groups.values())
        done += this.mend(group) ? group.length : group.filter((item) => this.mend([item])).length;
      if (done === before) break;
    }
    const rest = checkAsked(this.doc, this.kinds, some);
    this.findings.push(...rest);
    const choices = rest.filter((item) => item.choices).length;
    const chosen =
      choices === 0
        ? ''
        : `, ${choices === rest.length ? 'for you to choose' : `${choices} of them for you to choose`}`;
    return `${plural(done, 'fix', 'fixes')} done, ${plural(rest.length, 'finding')} left${chosen}.`;
  }

  /**
   * Does the fix of findings that have the same one. False where nothing came of it: it was refused, or another fix
   * mended it already.
   */
  private mend(same: readonly Finding[]): boolean {
    const { operation, options } = must(must(same[0]).fix);
    const graph = graphOf(this.doc, must(same[0]).place.at(-1));
    const items = [...new Set(same.flatMap((item) => must(item.fix).selection))];
    const isThere = (id: Id): boolean => this.doc.nodes.has(id) || this.doc.frames.has(id) || this.doc.wires.has(id);
    if (
      graph === undefined ||
      !items.every(isThere) ||
      needProblem(operationById(operation), this.doc, { graph, items })
    )
      return false;
    try {
      const { edit } = operate(operation, this.context, this.doc, { graph, items }, options);
      this.doc = apply(this.doc, edit);
      return edit.steps.length > 0;
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      return false;
    }
  }

  private check(some: readonly Asked[], stop: 'error' | 'warning' | 'never'): string {
    const found = checkAsked(this.doc, this.kinds, some);
    this.findings.push(...found);
    const grave = found.find((item) =>
      stop === 'error' ? item.severity === 'error' : stop === 'warning' ? item.severity !== 'info' : false,
    );
    if (grave) throw new Ended('stopped', grave.message);
    return found.length === 0 ? 'Nothing was found.' : `${plural(found.length, 'finding')}.`;
  }

  /** Takes over what a table says of this file. What cannot be taken is found, by line. */
  private table(): string {
    const { table } = this.tools;
    if (!table) throw tableRefuse('table-not-given');
    const { edit, findings, rows, changes } = readTable(this.doc, this.kinds, table, this.context.newId);
    this.findings.push(...findings);
    this.doc = apply(this.doc, edit);
    return `${plural(rows, 'row')}, ${plural(changes, 'change')}${findings.length > 0 ? `, ${plural(findings.length, 'line')} left` : ''}.`;
  }

  private upgrade({ to, mapping }: Step & { do: 'upgrade' }): string {
    const wanted = this.tools.catalogues.find((one) => one.id === to.id && one.version === to.version);
    if (!wanted) throw refuse('no-catalogue-version', { version: to.version, to: to.id });
    const kinds = new Kinds(wanted);
    const { edit, mapped, findings, summary } = upgrade(this.doc, this.kinds, kinds, mapping);
    this.hadChanged ||= this.verdict() !== 'same';
    this.hasLost ||= findings.some((item) => item.severity !== 'info');
    this.doc = apply(this.doc, edit);
    this.kinds = kinds;
    this.reference = { doc: mapped, kinds };
    this.print = undefined;
    this.findings.push(...findings);
    return summary;
  }
}
