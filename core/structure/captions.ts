import { RE2JS } from 're2js';
import { type Doc, indexOf } from '../document/doc.ts';
import { compareIds, type Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { freeName, isDefaultName, legalName, nameShape, takenSentence } from '../document/names.ts';
import { type Frame, type GraphNode, mostLabel } from '../document/schema.ts';
import { must } from '../must.ts';
import { refuse } from './sentences.ts';

export const captionTargets = ['name', 'label', 'title'] as const;
/** What is written anew: names or labels of nodes, or titles of frames. */
export type CaptionTarget = (typeof captionTargets)[number];
export const letterCases = ['as it is', 'lower case', 'UPPER CASE', 'Every Word', 'snake_case'] as const;
export const numberOrders = ['selection', 'place'] as const;

export interface CaptionOptions {
  readonly target: CaptionTarget;
  /** The new text, with {words} in braces filled in; the text that is there where empty. */
  readonly pattern: string;
  readonly find: string;
  readonly replace: string;
  /** `find` is a regular expression, and `replace` may name its groups: $1, $2 … */
  readonly regex: boolean;
  readonly letters: (typeof letterCases)[number];
  readonly prefix: string;
  readonly suffix: string;
  readonly start: number;
  readonly step: number;
  readonly digits: number;
  /** Whether numbers follow the order of selection, or places: from left to right, then down. */
  readonly order: (typeof numberOrders)[number];
  /** What is illegal or taken becomes the nearest that is not, instead of being left as it was. */
  readonly mend: boolean;
}

/** The words that a pattern may have in braces, with what they stand for. */
export const patternWords: Readonly<Record<string, string>> = {
  name: 'its name',
  label: 'its label',
  kind: 'the title of its kind',
  category: 'the title of its category',
  frame: 'the title of its frame',
  n: 'a number that counts up',
};

export interface CaptionRow {
  readonly id: Id;
  readonly graph: Id;
  readonly before: string;
  readonly after: string;
  /** Why it stays as it was; undefined where it does not. */
  readonly problem?: string;
  /** What should be thought over, though it is allowed. */
  readonly remark?: string;
}

/**
 * What captions would become, one row for each node or frame. Regular expressions are RE2’s, which match in time linear
 * in the text and cannot hang (Cox, “Regular expression matching can be simple and fast”, 2007). Names that would be
 * illegal or taken stay, and the row says why; two that are exchanged are neither. Throws Refused on a pattern or
 * expression that cannot be read. O(rows).
 */
export function captionRows(
  doc: Doc,
  kinds: Kinds,
  items: readonly (GraphNode | Frame)[],
  options: CaptionOptions,
): CaptionRow[] {
  const write = writer(doc, kinds, options);
  const ordered =
    options.order === 'place' ? [...items].sort((a, b) => a.x - b.x || a.y - b.y || compareIds(a.id, b.id)) : items;
  const numbers = new Map(ordered.map((item, i) => [item.id, options.start + i * options.step]));
  const rows = items.map((item): CaptionRow => {
    const before = captionOf(item, options.target);
    return { id: item.id, graph: item.graph, before, after: write(item, must(numbers.get(item.id))) };
  });
  const most = options.target === 'label' ? mostLabel : 500;
  if (options.target !== 'name')
    return rows.map((row) =>
      row.after.length > most
        ? {
            ...row,
            problem: `It would have ${row.after.length.toLocaleString('en')} characters; ${most.toLocaleString('en')} are the most.`,
          }
        : row,
    );
  return options.mend ? mended(doc, rows) : checked(doc, kinds, rows);
}

export function captionOf(item: GraphNode | Frame, target: CaptionTarget): string {
  if (!('kind' in item)) return item.title;
  return target === 'name' ? item.name : (item.label ?? '');
}

/** How one caption is made. */
function writer(doc: Doc, kinds: Kinds, options: CaptionOptions): (item: GraphNode | Frame, n: number) => string {
  const unknown = [...options.pattern.matchAll(/\{([^{}]*)\}/g)]
    .map(([, word]) => must(word))
    .find((word) => !(word in patternWords));
  if (unknown !== undefined) throw refuse('unknown-pattern-word', { unknown, patternWords: Object.keys(patternWords) });
  const replaced = replacer(options);
  return (item, n) => {
    const node = 'kind' in item ? item : undefined;
    const number = `${n < 0 ? '-' : ''}${String(Math.abs(n)).padStart(options.digits, '0')}`;
    const frame = doc.frames.get((node ? node.frame : (item as Frame).parent) ?? '');
    const words: Record<string, string> = {
      name: node?.name ?? (item as Frame).title,
      label: node ? (node.label ?? node.name) : (item as Frame).title,
      kind: node ? kinds.title(node.kind) : '',
      category: node ? kinds.category(node.kind).title : '',
      frame: frame?.title ?? '',
      n: number,
    };
    const text =
      options.pattern === ''
        ? captionOf(item, options.target)
        : options.pattern.replace(/\{([^{}]*)\}/g, (_, word: string) => must(words[word]));
    const whole = `${options.prefix}${cased(replaced(text), options.letters)}${options.suffix}`;
    // blanks in what was filled in would make every name illegal
    return options.target === 'name' && options.pattern !== ''
      ? whole.trim().replace(/[\s,;:/-]+/g, '_')
      : whole.trim();
  };
}

function replacer({ find, replace, regex }: CaptionOptions): (text: string) => string {
  if (find === '') return (text) => text;
  if (!regex) return (text) => text.split(find).join(replace);
  try {
    const compiled = RE2JS.compile(find);
    compiled.matcher('').replaceAll(replace);
    return (text) => compiled.matcher(text).replaceAll(replace);
  } catch (error) {
    throw refuse('bad-regular-expression', { problem: error instanceof Error ? error.message : String(error) });
  }
}

function cased(text: string, letters: CaptionOptions['letters']): string {
  switch (letters) {
    case 'lower case':
      return text.toLowerCase();
    case 'UPPER CASE':
      return text.toUpperCase();
    case 'Every Word':
      return text.replace(/[\p{L}\p{N}]+/gu, (word) => word.charAt(0).toUpperCase() + word.slice(1));
    case 'snake_case':
      return text
        .replace(/([\p{Ll}\p{N}])(\p{Lu})/gu, '$1_$2')
        .replace(/[^\p{L}\p{N}]+/gu, '_')
        .toLowerCase();
    default:
      return text;
  }
}

/**
 * Illegal and taken names stay as they were. What stays takes its name from others, so that this goes on until nothing
 * changes.
 */
function checked(doc: Doc, kinds: Kinds, rows: readonly CaptionRow[]): CaptionRow[] {
  const problems = new Map<Id, string>();
  for (const { id, before, after } of rows) {
    const problem = after === before ? undefined : nameShape(after);
    if (problem) problems.set(id, problem.message);
  }
  const chosen = new Set(rows.map((row) => row.id));
  for (let again = true; again; ) {
    again = false;
    const given = new Map<string, Id>();
    // who keeps the name has it before those who want it
    const keeps = (row: CaptionRow): boolean => problems.has(row.id) || row.after === row.before;
    for (const row of [...rows.filter(keeps), ...rows.filter((one) => !keeps(one))]) {
      const name = keeps(row) ? row.before : row.after;
      const key = `${row.graph}\n${name}`;
      const isTaken =
        given.has(key) ||
        indexOf(doc)
          .nodesNamed(name)
          .some((node) => node.graph === row.graph && !chosen.has(node.id));
      if (!isTaken || keeps(row)) given.set(key, row.id);
      else {
        problems.set(row.id, takenSentence(name).message);
        again = true;
      }
    }
  }
  return rows.map((row) => {
    const problem = problems.get(row.id);
    const kind = doc.nodes.get(row.id)?.kind ?? '';
    if (problem) return { ...row, problem };
    return row.after !== row.before && isDefaultName(row.after, kind, kinds)
      ? { ...row, remark: 'This says no more than the kind does.' }
      : row;
  });
}

/** Every name made legal, and numbered where it is taken. */
function mended(doc: Doc, rows: readonly CaptionRow[]): CaptionRow[] {
  const chosen = new Set(rows.map((row) => row.id));
  const given = new Map<Id, Set<string>>();
  return rows.map((row) => {
    const taken = given.get(row.graph) ?? new Set<string>();
    given.set(row.graph, taken);
    const has = (name: string): boolean =>
      taken.has(name) ||
      indexOf(doc)
        .nodesNamed(name)
        .some((node) => node.graph === row.graph && !chosen.has(node.id));
    const after = freeName(legalName(row.after), { has, add: (name) => void taken.add(name) });
    return after === row.after
      ? row
      : { ...row, after, remark: `“${row.after}” was ${nameShape(row.after) ? 'not legal' : 'taken'}.` };
  });
}
