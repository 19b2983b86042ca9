import { z } from 'zod';
import { type Doc, placeOf } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Finding, Severity } from '../finding.ts';
import { type Boxes, nodeBoxes } from '../inspect/boxes.ts';
import { type Judged, judge } from '../inspect/faults.ts';
import type { Params, Saying } from '../said.ts';
import { foldedView } from '../structure/fold.ts';
import type { Facts } from './facts.ts';

/** Leftovers are what could go or was forgotten; the others make a graph harder to read or to trust. */
export type RuleGroup = 'leftovers' | 'reading';

/** What a rule is about, in the order in which they are listed. */
export const subjects = [
  'overlaps',
  'wires',
  'frames',
  'names',
  'colours',
  'remote links',
  'leftovers',
  'parameters',
  'size',
] as const;
export type Subject = (typeof subjects)[number];

/** What a rule is set to: as its options have it. */
export type RuleOptions = Readonly<Record<string, unknown>>;

/** A house rule: what it looks for, how bad that is, and why. */
export interface Rule {
  /** Words in kebab case. */
  readonly id: string;
  readonly title: string;
  readonly severity: Severity;
  readonly group: RuleGroup;
  readonly subject: Subject;
  /** One sentence: why it is a rule. */
  readonly why: string;
  /** One sentence: what to do instead. */
  readonly instead: string;
  /** What can be set, each with a default and a description. */
  readonly options?: z.ZodObject;
  /** Looked for only where a team asks for it: a matter of the house’s own taste. */
  readonly optional?: true;
  check(look: Look, options: RuleOptions): Iterable<Found>;
}

/** A rule with options, which its check gets as they are typed. */
export const rule = <Options extends z.ZodObject>(
  one: Omit<Rule, 'options' | 'check'> & {
    readonly options: Options;
    check(look: Look, options: z.output<Options>): Iterable<Found>;
  },
): Rule => one as Rule;

/** A limit that can be set. */
export const most = (start: number, what: string, highest = 100_000): z.ZodDefault<z.ZodNumber> =>
  z.number().min(0).max(highest).default(start).describe(what);

/** A finding before it has the name and severity of its rule. */
export interface Found {
  readonly graph: Id;
  readonly id: Id;
  readonly message: string;
  readonly code: string;
  readonly params: Params;
  readonly fix?: Finding['fix'];
  readonly choices?: Finding['choices'];
  /** Where it differs from the rule’s. */
  readonly severity?: Severity;
}

/** What rules look at: the document, and what several of them ask of it, made once. */
export class Look {
  readonly doc: Doc;
  readonly kinds: Kinds;
  readonly facts: Facts;

  constructor(doc: Doc, kinds: Kinds, facts: Facts) {
    this.doc = doc;
    this.kinds = kinds;
    this.facts = facts;
  }

  /** The document as it is drawn. */
  get view(): Doc {
    return foldedView(this.doc, this.kinds);
  }

  /** Each graph as it is drawn, with what is wrong with it. The routes are made where they are not known yet. */
  *judged(): Iterable<Judged & { readonly graph: Id }> {
    for (const graph of this.doc.graphs.keys()) yield { graph, ...judge(this.view, this.kinds, graph) };
  }

  boxes(graph: Id): Boxes {
    return nodeBoxes(this.view, this.kinds, graph);
  }
}

export const fix = (
  operation: string,
  selection: readonly Id[],
  options?: Json,
): { fix: NonNullable<Finding['fix']> } => ({
  fix: { operation, selection, ...(options !== undefined && { options }) },
});

/** What is known already of a node, as what a rule finds. */
export const foundAt = (node: GraphNode, { message, code, params }: Saying): Found => ({
  graph: node.graph,
  id: node.id,
  message,
  code,
  params,
});

/** One of several things that could be meant. */
export const choice = (
  title: string,
  operation: string,
  selection: readonly Id[],
  options?: Json,
): NonNullable<Finding['choices']>[number] => ({ title, ...fix(operation, selection, options).fix });

/** The findings of a rule, in order of ids: the order of a file’s tables means nothing. */
export function findingsOf(
  rule: Rule,
  look: Look,
  {
    severity: set,
    options,
    concerns,
  }: { severity?: Severity; options?: RuleOptions; concerns?(one: Found): boolean } = {},
): Finding[] {
  const all = [...rule.check(look, options ?? rule.options?.parse({}) ?? {})];
  const found = (concerns ? all.filter(concerns) : all).sort(
    (a, b) => compareIds(a.id, b.id) || (a.message < b.message ? -1 : 1),
  );
  return found.map(({ graph, id, message, code, params, fix: mend, choices, severity }) => ({
    rule: rule.id,
    severity: set ?? severity ?? rule.severity,
    place: placeOf(look.doc, graph, id),
    message,
    code,
    params,
    ...(mend && { fix: mend }),
    ...(choices && { choices }),
  }));
}
