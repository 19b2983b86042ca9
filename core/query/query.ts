import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { Params, Saying } from '../said.ts';
import { type FieldValue, fieldById, isField, queryFields, readField } from './fields.ts';
import { say } from './sentences.ts';

/** A mistake in a query: what was expected, and the place of it from 0. */
export class QueryError extends Error implements Saying {
  readonly code: string;
  readonly params: Params;
  readonly at: number;
  /** What was expected, as a sentence without the place. */
  readonly plain: string;
  constructor({ message, code, params }: Saying, at: number) {
    super(`${message} (at character ${at + 1})`);
    this.name = 'QueryError';
    this.code = code;
    this.params = params;
    this.at = at;
    this.plain = /[.?!]$/.test(message) ? message : `${message}.`;
  }
}

/** Brackets may be nested this deep. */
const mostDepth = 50;

export type Query =
  | { readonly type: 'text'; readonly value: string }
  | {
      readonly type: 'field';
      readonly field: string;
      readonly compare: Compare;
      readonly value: string;
      readonly at: number;
    }
  | { readonly type: 'not'; readonly of: Query }
  /** Files alone: holds nodes like this. */
  | { readonly type: 'has'; readonly of: Query; readonly at: number }
  | { readonly type: 'and' | 'or'; readonly left: Query; readonly right: Query }
  | { readonly type: 'all' };

export const compares = [':', '=', '!=', '<', '<=', '>', '>='] as const;
export type Compare = (typeof compares)[number];

interface Token {
  readonly type: 'word' | 'quoted' | 'compare' | 'open' | 'close';
  readonly text: string;
  readonly at: number;
}

function tokens(text: string): Token[] {
  const found: Token[] = [];
  const pattern = /\s+|"((?:[^"\\]|\\.)*)("?)|(!=|<=|>=|[:=<>])|([()])|([^\s"():=<>!]+|!)/gy;
  while (pattern.lastIndex < text.length) {
    const at = pattern.lastIndex;
    const match = pattern.exec(text);
    if (!match) throw new QueryError(say('word-expected', { found: text[at] ?? '' }), at);
    const [, quoted, close, compare, bracket, word] = match;
    if (quoted !== undefined) {
      if (close !== '"') throw new QueryError(say('quote-open'), at);
      found.push({ type: 'quoted', text: quoted.replace(/\\(.)/g, '$1'), at });
    } else if (compare !== undefined) found.push({ type: 'compare', text: compare, at });
    else if (bracket !== undefined) found.push({ type: bracket === '(' ? 'open' : 'close', text: bracket, at });
    else if (word !== undefined) found.push({ type: 'word', text: word, at });
  }
  return found;
}

/**
 * Reads the one search language: words and "quoted words" are sought in names, labels and kinds; `field:part`,
 * `field=value`, `field<number` compare; `and`, `or`, `not` and brackets join, side by side means and. Throws
 * QueryError at the place of the mistake.
 */
export function parseQuery(text: string): Query {
  const list = tokens(text);
  let i = 0;
  const isWord = (word: string): boolean => list[i]?.type === 'word' && must(list[i]).text.toLowerCase() === word;
  const either = (): Query => {
    let left = both();
    while (isWord('or')) {
      i++;
      left = { type: 'or', left, right: both() };
    }
    return left;
  };
  const both = (): Query => {
    let left = unary();
    while (i < list.length && must(list[i]).type !== 'close' && !isWord('or')) {
      if (isWord('and')) i++;
      left = { type: 'and', left, right: unary() };
    }
    return left;
  };
  const unary = (): Query => {
    let negations = 0;
    for (; isWord('not'); i++) negations++;
    const of = term();
    return negations % 2 === 1 ? { type: 'not', of } : of;
  };
  /** What stands behind an opening bracket, up to the one that closes it. */
  const inBrackets = (open: Token): Query => {
    if (++depth > mostDepth) throw new QueryError(say('too-deep', { most: mostDepth }), open.at);
    const inner = either();
    depth--;
    if (list[i]?.type !== 'close') throw new QueryError(say('bracket-open'), open.at);
    i++;
    return inner;
  };
  const term = (): Query => {
    const token = list[i++];
    if (!token) throw new QueryError(say('word-missing'), text.length);
    if (token.type === 'open') return inBrackets(token);
    if (token.type === 'close' || token.type === 'compare')
      throw new QueryError(say('word-expected', { found: token.text }), token.at);
    const compare = list[i];
    if (
      token.type === 'word' &&
      token.text.toLowerCase() === 'has' &&
      compare?.type === 'open' &&
      compare.at === token.at + 3
    ) {
      i++;
      return { type: 'has', of: inBrackets(compare), at: token.at };
    }
    if (token.type === 'word' && compare?.type === 'compare') {
      const value = list[++i];
      if (!value || (value.type !== 'word' && value.type !== 'quoted'))
        throw new QueryError(
          say('value-missing', { before: `${token.text}${compare.text}` }),
          value?.at ?? text.length,
        );
      i++;
      return {
        type: 'field',
        field: token.text.toLowerCase(),
        compare: compare.text as Compare,
        value: value.text,
        at: token.at,
      };
    }
    return { type: 'text', value: token.text };
  };
  let depth = 0;
  if (list.length === 0) return { type: 'all' };
  const query = either();
  if (i < list.length) throw new QueryError(say('closes-nothing', { found: must(list[i]).text }), must(list[i]).at);
  return query;
}

const plain = (value: unknown): string => String(value).toLowerCase();
const yes = new Set(['yes', 'true', '1']);
const no = new Set(['no', 'false', '0']);

/** Does a node fit the query? O(length of the query and of what it looks at). */
export function matches(query: Query, doc: Doc, kinds: Kinds, node: GraphNode): boolean {
  switch (query.type) {
    case 'all':
      return true;
    case 'text':
      return [caption(node), node.name, kinds.title(node.kind)].some((text) =>
        plain(text).includes(plain(query.value)),
      );
    case 'not':
      return !matches(query.of, doc, kinds, node);
    case 'and':
      return matches(query.left, doc, kinds, node) && matches(query.right, doc, kinds, node);
    case 'or':
      return matches(query.left, doc, kinds, node) || matches(query.right, doc, kinds, node);
    case 'field':
      return fits(query, readField(doc, kinds, node, query.field));
    case 'has':
      // refused by checkQuery: nodes hold no nodes
      return false;
  }
}

/** `*` stands for any characters: the whole value has to be like this. */
const isPattern = (value: string): boolean => value.includes('*');

function isLike(own: string, pattern: string): boolean {
  const [first = '', ...rest] = plain(pattern).split('*');
  const text = plain(own);
  if (!text.startsWith(first)) return false;
  let at = first.length;
  for (const [i, part] of rest.entries()) {
    if (i === rest.length - 1) return part === '' || (text.length - part.length >= at && text.endsWith(part));
    const found = text.indexOf(part, at);
    if (found === -1) return false;
    at = found + part.length;
  }
  return at === text.length;
}

/** Does a value fit a comparison? `:` holds a part, `=` is all of it, and `*` stands for anything in both. */
export function fits({ compare, value }: Extract<Query, { type: 'field' }>, own: FieldValue): boolean {
  if (own === undefined) return false;
  if (typeof own === 'string' && isPattern(value) && (compare === ':' || compare === '=')) return isLike(own, value);
  if (compare === ':') return typeof own === 'boolean' ? isSame(own, value) : plain(own).includes(plain(value));
  if (compare === '=') return isSame(own, value);
  if (compare === '!=') return !isSame(own, value);
  const [a, b] = [Number(own), Number(value)];
  if (Number.isNaN(a) || Number.isNaN(b)) return false;
  return compare === '<' ? a < b : compare === '<=' ? a <= b : compare === '>' ? a > b : a >= b;
}

function isSame(own: string | number | boolean, value: string): boolean {
  if (typeof own === 'boolean') return (own ? yes : no).has(plain(value));
  if (typeof own === 'number') return own === Number(value);
  return plain(own) === plain(value);
}

/**
 * Finds what parses but can never fit: fields that nothing knows, comparisons with what is no number, yes-or-no fields
 * asked for something else. Throws QueryError at the place of the mistake.
 */
export function checkQuery(query: Query, doc: Doc, kinds: Kinds): void {
  if (query.type === 'not') checkQuery(query.of, doc, kinds);
  if (query.type === 'and' || query.type === 'or') {
    checkQuery(query.left, doc, kinds);
    checkQuery(query.right, doc, kinds);
  }
  if (query.type === 'has') throw new QueryError(say('has-of-nodes'), query.at);
  if (query.type !== 'field') return;
  if (!isField(doc, kinds, query.field)) {
    throw new QueryError(
      say('no-field', { field: query.field, known: queryFields.map((field) => field.id) }),
      query.at,
    );
  }
  const ordered = query.compare !== ':' && query.compare !== '=' && query.compare !== '!=';
  if (ordered && (query.value.trim() === '' || Number.isNaN(Number(query.value))))
    throw new QueryError(
      say('number-wanted', { field: `${query.field}${query.compare}`, value: query.value }),
      query.at,
    );
  if (fieldById(query.field)?.type === 'yes or no' && !yes.has(plain(query.value)) && !no.has(plain(query.value)))
    throw new QueryError(say('yes-or-no', { field: query.field, value: query.value }), query.at);
}

const isPlain = (text: string): boolean => /^[^\s"():=<>!]+$/.test(text) && !/^(and|or|not)$/i.test(text);
const quoted = (text: string): string => (isPlain(text) ? text : `"${text.replace(/["\\]/g, '\\$&')}"`);

/** The query as text that reads back as the same query. */
export function writeQuery(query: Query): string {
  const inBrackets = (inner: Query, loose: readonly Query['type'][]): string =>
    loose.includes(inner.type) ? `(${writeQuery(inner)})` : writeQuery(inner);
  switch (query.type) {
    case 'all':
      return '';
    case 'text':
      return quoted(query.value);
    case 'field':
      return `${query.field}${query.compare}${quoted(query.value)}`;
    case 'has':
      return `has(${writeQuery(query.of)})`;
    case 'not':
      return `not ${inBrackets(query.of, ['and', 'or', 'not'])}`;
    case 'and':
      return `${inBrackets(query.left, ['or'])} and ${inBrackets(query.right, ['or', 'and'])}`;
    case 'or':
      return `${writeQuery(query.left)} or ${inBrackets(query.right, ['or'])}`;
  }
}

/** The ids of the nodes of a graph that fit, in id order. Throws QueryError. O(nodes). */
export function select(text: string, doc: Doc, kinds: Kinds, graph: Id): Id[] {
  const query = parseQuery(text);
  checkQuery(query, doc, kinds);
  return indexOf(doc)
    .nodesIn(graph)
    .filter((node) => matches(query, doc, kinds, node))
    .map((node) => node.id);
}
