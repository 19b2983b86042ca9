import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import { canonicalJson, type Json } from '../document/json.ts';
import { isExpression, type Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import type { Edit } from '../edit/step.ts';
import type { UseKind, UseMatch } from './use-kinds.ts';

/** One thing that a node uses. */
export interface Use {
  readonly what: UseKind;
  /** The id of the kind, the name of the shared kind or beacon, the parameter, or the path. */
  readonly name: string;
  /**
   * The version of the shared kind, the value of the parameter as text, `beacon` or `tap`, of an asset `read` or
   * `written`; empty else.
   */
  readonly value: string;
}

/** How often something is used in a file. */
export interface UseCount extends Use {
  readonly count: number;
}

/** Longest text that is kept of a value or name; what is longer is found by its beginning. */
export const mostUseText = 180;

/**
 * A value as it is looked up: text as it is, all else as JSON; of an expression its text, with the parameters that it
 * refers to in brackets.
 */
export function textOfUse(value: Json): string {
  const text = isExpression(value)
    ? `= ${value.expression.map((segment) => (typeof segment === 'string' ? segment : `[${segment.parameter}]`)).join('')}`
    : typeof value === 'string'
      ? value
      : canonicalJson(value);
  return text.slice(0, mostUseText);
}

/** All that a node uses. A kind that the catalogue lacks counts by its id. O(parameters). */
export function usesOf(kinds: Kinds, node: GraphNode): Use[] {
  const spec = kinds.kind(node.kind);
  const found: Use[] = [{ what: 'kind', name: node.kind, value: '' }];
  if (spec?.shared) found.push({ what: 'shared', name: spec.shared.name, value: String(spec.shared.version) });
  if (node.kind === builtin.beacon) found.push({ what: 'beacon', name: node.name, value: 'beacon' });
  if (node.kind === builtin.tap && node.beacon) found.push({ what: 'beacon', name: node.beacon.name, value: 'tap' });
  for (const [id, value] of Object.entries(node.params ?? {}))
    found.push({ what: 'value', name: id.slice(0, mostUseText), value: textOfUse(value) });
  for (const { path, isRead } of kinds.pathsOf(node))
    found.push({ what: 'asset', name: textOfUse(path), value: isRead ? 'read' : 'written' });
  return found;
}

class Counter {
  private readonly counts = new Map<string, { use: Use; count: number }>();

  add(kinds: Kinds, node: GraphNode | undefined, by: number): void {
    for (const use of node ? usesOf(kinds, node) : []) {
      const key = JSON.stringify([use.what, use.name, use.value]);
      const entry = this.counts.get(key);
      if (entry) entry.count += by;
      else this.counts.set(key, { use, count: by });
    }
  }

  get result(): UseCount[] {
    return [...this.counts]
      .flatMap(([key, { use, count }]) => (count === 0 ? [] : [{ key, ...use, count }]))
      .sort((a, b) => (a.key < b.key ? -1 : 1))
      .map(({ key: _, ...use }) => use);
  }
}

/** Everything that a document uses, and how often, in a fixed order. O(nodes). */
export function countUses(doc: Doc, kinds: Kinds): UseCount[] {
  const counter = new Counter();
  for (const node of doc.nodes.values()) counter.add(kinds, node, 1);
  return counter.result;
}

/**
 * By how much an edit changes those counts: only what it touches is asked. Kinds may differ where the edit pins the
 * file to another catalogue; then all nodes are asked.
 */
export function useChanges(
  before: Doc,
  after: Doc,
  edit: Edit,
  kinds: { readonly before: Kinds; readonly after: Kinds },
): UseCount[] {
  const touched =
    kinds.before === kinds.after
      ? new Set(edit.steps.flatMap((step) => (step.table === 'nodes' ? [step.id] : [])))
      : new Set([...before.nodes.keys(), ...after.nodes.keys()]);
  const counter = new Counter();
  for (const id of touched) {
    counter.add(kinds.before, before.nodes.get(id), -1);
    counter.add(kinds.after, after.nodes.get(id), 1);
  }
  return counter.result;
}

/**
 * What is looked up; where name or value is left out, any will do. `starts`: what begins so counts too; `part`: what
 * holds the text somewhere, in its id or in its title, whatever its capitals.
 */
export interface UseQuery {
  readonly what: UseKind;
  readonly name?: string | undefined;
  readonly value?: string | undefined;
  readonly match?: UseMatch;
}

/** The ids of kinds, shared kinds or parameters whose title holds a text, whatever its capitals. O(kinds · parameters). */
export function meantNames(kinds: Kinds, what: UseKind, text: string): string[] {
  const sought = text.trim().toLowerCase();
  const holds = (title: string): boolean => title.toLowerCase().includes(sought);
  const found = new Set<string>();
  for (const kind of kinds.all()) {
    if (what === 'kind' && holds(kind.title)) found.add(kind.id);
    if (what === 'shared' && kind.shared && holds(kind.title)) found.add(kind.shared.name);
    if (what === 'value') for (const spec of kinds.parameters(kind.id)) if (holds(spec.title)) found.add(spec.id);
  }
  return [...found];
}

/** Does something that is used fit what is looked up? `meant`: ids that the name means by their titles. */
function fitsUse({ what, name, value, match }: UseQuery, use: Use, meant: ReadonlySet<string>): boolean {
  const fits = (wanted: string | undefined, text: string): boolean => {
    if (wanted === undefined) return true;
    if (match === 'part') return text.toLowerCase().includes(textOfUse(wanted).trim().toLowerCase());
    return match === 'starts' ? text.startsWith(textOfUse(wanted)) : text === textOfUse(wanted);
  };
  return use.what === what && (fits(name, use.name) || meant.has(use.name)) && fits(value, use.value);
}

/** The nodes of a document that use something, in order of ids. O(nodes). */
export function nodesUsing(doc: Doc, kinds: Kinds, query: UseQuery): Id[] {
  const meant = new Set(query.match === 'part' && query.name ? meantNames(kinds, query.what, query.name) : []);
  return [...doc.nodes.values()]
    .filter((node) => usesOf(kinds, node).some((use) => fitsUse(query, use, meant)))
    .map((node) => node.id)
    .sort(compareIds);
}
