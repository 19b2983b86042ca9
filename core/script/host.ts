import { parseColor } from '../color/contrast.ts';
import type { Doc, Selection } from '../document/doc.ts';
import { frameRects, rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { nameShape, takenSentence } from '../document/names.ts';
import { tableShapes } from '../document/schema.ts';
import { diff } from '../edit/diff.ts';
import type { Edit, Step } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import { type Finding, limitFindings } from '../finding.ts';
import { must } from '../must.ts';
import type { Context } from '../operation.ts';
import { operate, operations } from '../operations.ts';
import { QueryError, select } from '../query/query.ts';
import { Refused } from '../said.ts';
import { withFollowers } from '../structure/followers.ts';
import { misfit, skipped, strangeParameters, whyPassedOver } from '../structure/parameters.ts';
import { renameNode } from '../structure/rename.ts';
import { Answers, mayRewire } from './answers.ts';
import { type AssetFacts, KnownAssets } from './assets.ts';
import type { Answer, FileResult, Start } from './bridge.ts';
import { optionValues, readDeclared, type ScriptOptions, type ScriptValues } from './options.ts';
import { type LogTree, type Request, requestSchema } from './requests.ts';
import { Rows } from './rows.ts';
import { find, refuse } from './sentences.ts';

/** One line of the console. */
export interface LogLine {
  readonly level: 'log' | 'warn';
  readonly text: string;
  /** The line of the script that said it. */
  readonly line?: number;
  /** What was said, opened out, where there is something to open. */
  readonly values?: readonly LogTree[];
}

/** What a line of a script changed. */
export interface Touched {
  readonly line: number;
  readonly ids: readonly Id[];
}

/** A file that a script gives out beside its edit. */
export interface ScriptOutput {
  readonly name: string;
  readonly text: string;
}

/** The most that a script may say: lines and characters in the console, characters given out, nodes skipped. */
export const mostSaid = { lines: 1000, characters: 200_000, output: 5_000_000, outputs: 20, skips: 20_000 } as const;

/** What a script's row of chance starts from: the same for all, whatever their ids are made from. */
const chance = 1;

/** Thrown to a script that only has to say what its options are. */
const describing = 'describing';

/** What a script is given beside the document. */
export interface Beside {
  /** What is known of the asset store; absent: there is none to ask. */
  readonly assets?: AssetFacts | undefined;
  /** What `each` gave for each file: the script is to put them together with `all`. */
  readonly results?: readonly FileResult[] | undefined;
}

/**
 * What stands on this side of the sandbox's border: a document with the script's changes so far, and the rules that
 * hold for each. Takes requests and gives answers as JSON text; what is refused is an answer too. A change costs a
 * step; an operation what it costs anywhere.
 */
export class ScriptHost {
  readonly log: LogLine[] = [];
  readonly outputs: ScriptOutput[] = [];
  readonly findings: Finding[] = [];
  declared: ScriptOptions = {};
  /** What `each` or `all` gave; undefined where the script has none. */
  result: Json | undefined;
  /** What a script declared was refused. */
  isDeclaring = false;
  /** The script was run for its options alone, and has said them. */
  isDone = false;
  /** How long the host itself has worked, in milliseconds: no time of the script's. */
  spent = 0;
  private readonly context: Context;
  private readonly before: Doc;
  private readonly selection: Selection;
  private readonly values: ScriptValues | typeof describing;
  private readonly rows: Rows;
  private readonly answers: Answers;
  private readonly results: readonly FileResult[] | undefined;
  private readonly assets: KnownAssets;
  private readonly byLine = new Map<number, Set<Id>>();
  private readonly knownParameters = new Set<string>();
  private tx: Transaction;
  /** The document after the last operation: what has been set by hand since stands in `tx`. */
  private settled: Doc;
  /** The latest document that is wired as the present one is: what feeds what is not looked at anew for a label. */
  private wired: Doc;
  /** How many of the steps since then were looked at for that. */
  private looked = 0;
  private names = new Map<Id, Map<string, Id>>();
  private characters = 0;
  private given = 0;

  /** `values` undefined: the script is run only as far as its options. */
  constructor(
    context: Context,
    doc: Doc,
    selection: Selection,
    values: ScriptValues | undefined,
    { assets, results }: Beside = {},
  ) {
    this.results = results;
    this.context = context;
    this.before = doc;
    this.settled = doc;
    this.selection = selection;
    this.values = values ?? describing;
    this.rows = new Rows(context.kinds);
    this.answers = new Answers(context.kinds, this.rows);
    this.assets = new KnownAssets(assets);
    this.wired = doc;
    this.tx = new Transaction(doc);
  }

  /** What the model starts with, as JSON text. */
  start(): string {
    const { title, root } = this.before.head;
    const start: Start = {
      title,
      root,
      graph: this.selection.graph,
      selected: this.selection.items,
      seed: chance,
      operations: operations.map((one) => one.id),
      ...(this.results && { results: this.results }),
      ...this.rows.all(this.before),
    };
    return JSON.stringify(start);
  }

  /** Paths that were asked for and are not known: the caller finds them out, and runs the script again. */
  get wanted(): readonly string[] {
    return this.assets.wanted;
  }

  /** What each line changed, in the order of lines. */
  get touched(): readonly Touched[] {
    return [...this.byLine].sort(([a], [b]) => a - b).map(([line, ids]) => ({ line, ids: [...ids] }));
  }

  private touch(line: number | null | undefined, ids: Iterable<Id>): void {
    if (typeof line !== 'number') return;
    const known = this.byLine.get(line) ?? new Set();
    for (const id of ids) known.add(id);
    if (known.size > 0) this.byLine.set(line, known);
  }

  /** Everything that was done, as the shortest edit. */
  edit(): Edit {
    this.settle();
    return diff(this.before, this.settled);
  }

  answer(text: string): string {
    const started = Date.now();
    try {
      return JSON.stringify(this.take(this.read(text)));
    } catch (error) {
      if (error === describing) {
        this.isDone = true;
        return JSON.stringify({ stop: true } satisfies Answer);
      }
      if (error instanceof Refused || error instanceof QueryError)
        return JSON.stringify({ error: error.message } satisfies Answer);
      throw error;
    } finally {
      this.spent += Date.now() - started;
    }
  }

  private read(text: string): Request {
    const request = requestSchema.safeParse(text.startsWith('{') ? JSON.parse(text) : undefined);
    if (request.success) return request.data;
    const issue = request.error.issues[0];
    throw refuse('request-does-not-fit', { what: issue?.path.join('.'), issue: issue?.message });
  }

  private take(request: Request): Answer {
    switch (request.do) {
      case 'set':
        return this.set(request);
      case 'move':
        return this.move(request);
      case 'field':
        return this.field(request);
      case 'run':
        return this.run(request);
      case 'select':
        return { result: select(request.query, this.settle(), this.context.kinds, request.graph) };
      case 'size': {
        const { width, height } = rectOf(this.tx.doc, this.context.kinds, this.node(request.node));
        return { result: { width, height } };
      }
      case 'rects':
        return {
          result: Object.fromEntries(
            [...frameRects(this.settle(), this.context.kinds, request.graph)].map(([id, rect]) => [
              id,
              [rect.x, rect.y, rect.width, rect.height],
            ]),
          ),
        };
      case 'options':
        this.isDeclaring = true;
        this.declared = readDeclared(request.declared);
        this.isDeclaring = false;
        if (this.values === describing) throw describing;
        return { result: optionValues(this.declared, this.values) };
      case 'log':
        return this.say(request);
      case 'progress':
        this.context.progress(Math.min(1, Math.max(0, request.fraction ?? 0)), request.what.slice(0, 200));
        return {};
      case 'skip':
        this.skipped(
          find('script-skip', 'info', [this.node(request.node).id], 'skipped', {
            name: this.node(request.node).name,
            reason: request.reason,
          }),
        );
        return {};
      case 'output':
        return this.output(request.name, request.text);
      case 'result':
        return this.give(request.value);
      case 'asset':
        return { result: this.assets.at(request.path).exists };
      case 'assets-named':
        return { result: [...this.assets.named(request.name)] };
      case 'order':
      case 'ends':
      case 'reach':
        return { result: this.answers.ofWiring(request, this.wiring()) };
      default:
        return { result: this.answers.to(request, this.settle()) };
    }
  }

  private node(id: Id): NonNullable<ReturnType<Doc['nodes']['get']>> {
    const node = this.tx.get('nodes', id);
    if (!node) throw refuse('no-node', { id });
    return node;
  }

  private skipped(reason: Finding): void {
    if (this.findings.length < mostSaid.skips) this.findings.push(reason);
  }

  private set({ node: id, parameter, value, must, replace, line }: Request & { do: 'set' }): Answer {
    const node = this.node(id);
    const reason = whyPassedOver(this.context.kinds, node, parameter, replace === true);
    if (reason && must) throw new Refused(reason);
    if (reason) {
      this.checkParameter(parameter);
      this.skipped(skipped(node, reason));
      return { result: false };
    }
    const problem = misfit(this.context.kinds, node, parameter, value);
    if (problem) throw new Refused(problem);
    this.tx.setParameter(node.id, parameter, value);
    this.touch(line, [id]);
    return { result: true };
  }

  /** A parameter that neither a kind nor a node has is a slip of the pen. */
  private checkParameter(parameter: string): void {
    const { kinds } = this.context;
    if (this.knownParameters.size === 0) {
      for (const kind of kinds.all()) for (const { id } of kind.parameters) this.knownParameters.add(id);
      for (const id of strangeParameters(this.before, kinds)) this.knownParameters.add(id);
    }
    if (!this.knownParameters.has(parameter))
      throw refuse('no-such-parameter', { parameter, known: [...this.knownParameters] });
  }

  private move({ node: id, x, y, line }: Request & { do: 'move' }): Answer {
    const node = this.node(id);
    if (x === null || y === null || Math.abs(x) > 1e6 || Math.abs(y) > 1e6)
      throw refuse('bad-place', { node: node.name, x, y });
    this.tx.move(node.id, x, y);
    this.touch(line, [id]);
    const now = this.node(id);
    return { result: { x: now.x, y: now.y } };
  }

  private field({ table, id, field, value, line }: Request & { do: 'field' }): Answer {
    const record = this.tx.get(table, id);
    if (!record) throw refuse('no-record', { table, id });
    this.touch(line, [id]);
    const what = `“${'name' in record ? record.name : 'title' in record ? record.title : 'the note'}”`;
    if (table === 'nodes' && field === 'name') return this.rename(id, String(value));
    if (field === 'bypassed' || field === 'pinned') this.tx.set('nodes', id, field, value === true ? true : undefined);
    else if (field === 'color') {
      if (value !== '' && !parseColor(String(value))) throw refuse('no-colour', { what, value: String(value) });
      this.tx.set(table, id, 'color', value === '' ? undefined : String(value).toLowerCase());
    } else if (writable[table].includes(field)) {
      const shape = must(
        (
          tableShapes[table].shape as Record<
            string,
            { safeParse(value: unknown): { success: boolean; error?: { issues: { message: string }[] } } }
          >
        )[field],
      );
      const checked = shape.safeParse(value);
      if (!checked.success)
        throw refuse('field-does-not-fit', { what, field, issues: checked.error?.issues[0]?.message });
      const isEmpty = value === '' && field !== 'title' && field !== 'text';
      this.tx.set(table, id, field as never, (isEmpty ? undefined : value) as never);
    } else throw refuse('no-such-field', { what, field });
    return {};
  }

  private rename(id: Id, name: string): Answer {
    const node = this.node(id);
    const taken = this.namesOf(node.graph);
    const holder = taken.get(name);
    const problem = nameShape(name) ?? (holder !== undefined && holder !== id ? takenSentence(name) : undefined);
    if (problem) throw refuse('value-does-not-fit', { node: node.name, problem: problem.message });
    taken.delete(node.name);
    taken.set(name, id);
    const from = this.tx.edit.steps.length;
    renameNode(this.tx, this.settled, node, name);
    // a beacon's taps and a nested node's ports carry the name too
    const others = this.tx.edit.steps.slice(from + 1);
    return others.length === 0 ? {} : { delta: this.rows.touched(this.tx.doc, { steps: others }) };
  }

  private namesOf(graph: Id): Map<string, Id> {
    let names = this.names.get(graph);
    if (!names) {
      names = new Map(
        [...this.tx.doc.nodes.values()].flatMap((node) =>
          node.graph === graph ? [[node.name, node.id] as const] : [],
        ),
      );
      this.names.set(graph, names);
    }
    return names;
  }

  /** A document that is wired as the present one: what was set since is looked at once, and settled only where it counts. */
  private wiring(): Doc {
    const { steps } = this.tx.edit;
    while (this.looked < steps.length) {
      if (!mayRewire(this.settled, must(steps[this.looked++]))) continue;
      this.settle();
      break;
    }
    return this.wired;
  }

  /** The document with all that was done, notes that follow what moved included. */
  private settle(): Doc {
    const steps = this.tx.edit.steps;
    if (steps.length > 0) {
      const followed = withFollowers(this.settled, this.context.kinds, { steps });
      for (const step of followed.steps.slice(steps.length)) this.tx.push(step);
      this.settled = this.tx.doc;
      if (steps.some((step) => mayRewire(this.settled, step))) this.wired = this.settled;
      this.tx = new Transaction(this.settled);
      this.looked = 0;
    }
    return this.settled;
  }

  private run({ operation, graph, items, options, line }: Request & { do: 'run' }): Answer {
    const doc = this.settle();
    const { edit, report } = operate(operation, this.context, doc, { graph, items }, options);
    const steps: Step[] = [];
    for (const step of edit.steps) {
      this.tx.push(step);
      steps.push(step);
    }
    this.settled = this.tx.doc;
    if (steps.some((step) => mayRewire(this.settled, step))) this.wired = this.settled;
    this.tx = new Transaction(this.settled);
    this.looked = 0;
    this.names = new Map();
    this.touch(
      line,
      steps.map((step) => step.id),
    );
    for (const one of report.findings) this.skipped(one);
    const result = {
      summary: report.summary,
      findings: limitFindings(report.findings).map((one) => one.message),
      made: [...(report.select ?? [])],
    };
    return { result, ...(steps.length > 0 && { delta: this.rows.touched(this.settled, { steps }) }) };
  }

  private say({ level, text, line, values }: Request & { do: 'log' }): Answer {
    if (this.log.length > mostSaid.lines || this.characters > mostSaid.characters) return {};
    this.characters += text.length + (values ? JSON.stringify(values).length : 0);
    const isFull = this.log.length === mostSaid.lines || this.characters > mostSaid.characters;
    this.log.push(
      isFull
        ? { level: 'warn', text: 'The console is full; what else is said is left out.' }
        : { level, text, ...(typeof line === 'number' && { line }), ...(values && { values }) },
    );
    return {};
  }

  private give(value: Json): Answer {
    this.given += JSON.stringify(value).length;
    if (this.given > mostSaid.output) throw refuse('too-much-output', { output: mostSaid.output });
    this.result = value;
    return {};
  }

  private output(name: string, text: string): Answer {
    if (!/^[\w .-]{1,100}$/.test(name)) throw refuse('bad-file-name', { name });
    this.given += text.length;
    if (this.given > mostSaid.output) throw refuse('too-much-output', { output: mostSaid.output });
    if (this.outputs.length >= mostSaid.outputs) throw refuse('too-many-outputs', { outputs: mostSaid.outputs });
    this.outputs.push({ name, text });
    return {};
  }
}

const writable: Readonly<Record<'nodes' | 'frames' | 'notes', readonly string[]>> = {
  nodes: ['label'],
  frames: ['title', 'note'],
  notes: ['text'],
};
