import { caption, type Doc, placeOf } from '../document/doc.ts';
import { lostReadings, type Reading, readersOf } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { apply, type Edit } from '../edit/step.ts';
import type { Finding, Severity } from '../finding.ts';
import { must } from '../must.ts';
import type { Report } from '../operation.ts';
import { byName } from '../words.ts';
import type { Source } from './effective.ts';
import { type InputChange, inputChanges, mayChangeInputs } from './input-changes.ts';
import { find, say } from './sentences.ts';

/** The rule of findings that say that an input has lost what it took. Whatever shows reports goes by it. */
export const inputOpened = 'input-opened';

/** What came to inputs, in a word: their type where they have one in common. */
function whatOf(changes: readonly InputChange[], kinds: Kinds): string {
  const types = new Set(changes.map(({ input }) => input.type));
  const [only] = types;
  return types.size === 1 && only !== undefined && only !== 'any'
    ? `${changes.length === 1 ? 'its' : 'their'} ${kinds.type(only).title.toLowerCase()}`
    : changes.length === 1
      ? 'what fed it'
      : 'what fed them';
}

const namesOf = (changes: readonly InputChange[]): string[] => [...new Set(changes.map(({ node }) => caption(node)))];

/** What an act did to inputs that it does not name itself, in sentences with numbers. */
function sentencesOf(doc: Doc, changes: readonly InputChange[], kinds: Kinds): string[] {
  const dark = changes.filter((one) => one.before && !one.after);
  const indirect = changes.filter((one) => !one.isDirect && one.after);
  const elsewhere = indirect.filter((one) => one.before);
  // what a new feed supplies is what that act is about
  const lit = indirect.filter(({ before, after }) => !before && !(after?.feed && !doc.nodes.has(after.feed)));
  const told = (some: readonly InputChange[]) => ({ count: some.length, nodes: namesOf(some) });
  return [
    ...(dark.length > 0 ? [say('inputs-opened', { ...told(dark), what: whatOf(dark, kinds) }).message] : []),
    ...(elsewhere.length > 0 ? [say('inputs-elsewhere', told(elsewhere)).message] : []),
    ...(lit.length > 0 ? [say('inputs-supplied', told(lit)).message] : []),
  ];
}

/** The rule of findings that say that an expression has lost what it reads. */
export const expressionLost = 'expression-lost';

/** Expressions of nodes that stay whose nodes went with the edit. O(nodes) where nodes went, once for a version. */
function lostBy(doc: Doc, after: Doc, edit: Edit): Reading[] {
  return edit.steps.flatMap((step) =>
    step.type === 'remove' && step.table === 'nodes'
      ? readersOf(doc, step.id).filter(({ node, parameter }) => {
          const reader = after.nodes.get(node);
          // a node that goes may be replaced in what read it
          return (
            reader && lostReadings(after, reader).some((one) => one.parameter === parameter && one.reads === step.id)
          );
        })
      : [],
  );
}

/** What is found at an expression that lost what it reads. */
function lossOf(doc: Doc, after: Doc, kinds: Kinds, { node: id, parameter, reads }: Reading): Finding {
  const node = must(after.nodes.get(id));
  return find(expressionLost, 'warning', placeOf(after, node.graph, id), 'reading-lost', {
    node: caption(node),
    parameter: kinds.parameter(node.kind, parameter)?.title ?? parameter,
    read: caption(must(doc.nodes.get(reads))),
  });
}

/** What is found at each input that takes something else. */
function findingOf(
  doc: Doc,
  after: Doc,
  { node, input, before, after: now }: InputChange,
  severity: Severity,
): Finding | undefined {
  const place = placeOf(after, node.graph, node.id);
  const at = { input: input.name, node: caption(node) };
  const title = (id: string): string => caption(must(after.nodes.get(id) ?? doc.nodes.get(id)));
  const named = (source: Source): string => title(source.node);
  if (before && !now) {
    const feed = before.feed === undefined ? undefined : title(before.feed);
    return find(inputOpened, severity, place, 'input-opened', { ...at, source: named(before), feed });
  }
  if (before?.feed === now?.feed) return undefined;
  // a wire in place of a feed that gives the same changes nothing for the input
  if (before?.node === now?.node && before?.port === now?.port && now?.feed === undefined) return undefined;
  return find('feed-changed', 'info', place, 'feed-changed', {
    ...at,
    before: before?.feed && title(before.feed),
    now: now?.feed && title(now.feed),
  });
}

/** What an act did to what nodes take, whichever way that came about. */
export interface Guarded {
  /** Each input that takes something else, by the names of nodes and inputs. */
  readonly changes: readonly InputChange[];
  /** The same in sentences with numbers. */
  readonly sentences: readonly string[];
  readonly findings: readonly Finding[];
}

const unchanged: Guarded = { changes: [], sentences: [], findings: [] };

/**
 * All that an edit did to what nodes take. `isMeant`: leaving inputs of a node open is what the act is for. Cost: that of
 * `inputChanges`.
 */
export function guard(doc: Doc, kinds: Kinds, edit: Edit, isMeant: (node: Id) => boolean = () => false): Guarded {
  // most acts only place, name and colour: they need no document to be looked at
  if (!mayChangeInputs(doc, edit)) return unchanged;
  const after = apply(doc, edit);
  // as people look for them: by what they are called
  const changes = inputChanges(doc, after, kinds, edit).sort(
    (a, b) => byName(caption(a.node), caption(b.node)) || byName(a.input.name, b.input.name),
  );
  const lost = lostBy(doc, after, edit);
  const sentences = sentencesOf(doc, changes, kinds);
  if (lost.length > 0) {
    const nodes = [...new Set(lost.map(({ node }) => caption(must(after.nodes.get(node)))))];
    sentences.push(say('readings-lost', { count: lost.length, nodes }).message);
  }
  return {
    changes,
    sentences,
    findings: [
      ...changes.flatMap((one) => findingOf(doc, after, one, isMeant(one.node.id) ? 'info' : 'warning') ?? []),
      ...lost.map((one) => lossOf(doc, after, kinds, one)),
    ],
  };
}

/**
 * The report of an act with all that it did to what nodes take, said in its summary with a number and listed input by
 * input. No act can do without it: the registry asks it of each.
 */
export function guarded(report: Report, { sentences, findings }: Guarded): Report {
  if (sentences.length === 0 && findings.length === 0) return report;
  return {
    ...report,
    summary: [report.summary, ...sentences].join(' '),
    findings: [...report.findings, ...findings],
  };
}
