import { caption, type Doc, placeOf } from '../document/doc.ts';
import type { Reading } from '../document/expressions.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { apply, type Edit } from '../edit/step.ts';
import type { Finding, Severity } from '../finding.ts';
import { must } from '../must.ts';
import type { Report } from '../operation.ts';
import { byName } from '../words.ts';
import { isFileEnd, type Source } from './effective.ts';
import { type InputChange, inputChanges, mayChangeInputs } from './input-changes.ts';
import { readingsLost } from './keep-readings.ts';
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

/** The rule of findings that say that an end computes nothing any more. Whatever shows reports goes by it. */
export const endLost = 'end-lost';

/** Fields of a node that say whether it is an end that counts. */
const endFields: ReadonlySet<string> = new Set(['bypassed', 'kind', 'graph', 'inner']);

/** Ends of the file that are none any more, in order of their names. O(nodes) where the edit may do that, else O(steps). */
function endsLost(doc: Doc, after: Doc, kinds: Kinds, edit: Edit): GraphNode[] {
  const mayLose = edit.steps.some(
    (step) =>
      step.table === 'nodes' && (step.type === 'remove' || (step.type === 'set' && endFields.has(step.path[0] ?? ''))),
  );
  if (!mayLose) return [];
  return [...doc.nodes.values()]
    .filter((node) => {
      if (!isFileEnd(doc, kinds, node)) return false;
      const now = after.nodes.get(node.id);
      return !now || !isFileEnd(after, kinds, now);
    })
    .sort((a, b) => byName(caption(a), caption(b)));
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

/** What an act is for, which is told all the same and not asked about. */
export interface Meant {
  /** Leaving inputs of a node open. */
  readonly opens?: (node: Id) => boolean;
  /** Nodes that were chosen by name: whoever takes away an end itself knows that it is one. */
  readonly chosen?: ReadonlySet<Id>;
}

/** All that an edit did to what nodes take, and to the ends. Cost: that of `inputChanges`. */
export function guard(doc: Doc, kinds: Kinds, edit: Edit, { opens, chosen }: Meant = {}): Guarded {
  // most acts only place, name and colour: they need no document to be looked at
  if (!mayChangeInputs(doc, edit)) return unchanged;
  const after = apply(doc, edit);
  // as people look for them: by what they are called
  const changes = inputChanges(doc, after, kinds, edit).sort(
    (a, b) => byName(caption(a.node), caption(b.node)) || byName(a.input.name, b.input.name),
  );
  const lost = readingsLost(doc, after, edit);
  const sentences = sentencesOf(doc, changes, kinds);
  if (lost.length > 0) {
    const nodes = [...new Set(lost.map(({ node }) => caption(must(after.nodes.get(node)))))];
    sentences.push(say('readings-lost', { count: lost.length, nodes }).message);
  }
  const ends = endsLost(doc, after, kinds, edit);
  if (ends.length > 0) sentences.push(say('ends-lost', { count: ends.length, ends: ends.map(caption) }).message);
  return {
    changes,
    sentences,
    findings: [
      ...changes.flatMap((one) => findingOf(doc, after, one, opens?.(one.node.id) ? 'info' : 'warning') ?? []),
      ...lost.map((one) => lossOf(doc, after, kinds, one)),
      ...ends.map((end) => {
        const stays = after.nodes.get(end.id);
        const place = stays ? placeOf(after, stays.graph, end.id) : placeOf(doc, end.graph, end.id);
        const severity = chosen?.has(end.id) ? 'info' : 'warning';
        return find(endLost, severity, place, 'end-lost', { end: caption(end), isGone: !stays });
      }),
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
