import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';

/** A mistake in a query: what was expected, and the place of it from 0. */
export class QueryError extends Error {
  readonly at: number;
  constructor(message: string, at: number) {
    super(`${message} (at sign ${at + 1})`);
    this.name = 'QueryError';
    this.at = at;
  }
}

export type Query =
  | { readonly type: 'text'; readonly value: string }
  | { readonly type: 'field'; readonly field: string; readonly compare: Compare; readonly value: string }
  | { readonly type: 'not'; readonly of: Query }
  | { readonly type: 'and' | 'or'; readonly left: Query; readonly right: Query }
  | { readonly type: 'all' };

type Compare = ':' | '=' | '!=' | '<' | '<=' | '>' | '>=';

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
    if (!match) throw new QueryError(`“${text[at]}” stands where a word is expected`, at);
    const [, quoted, close, compare, bracket, word] = match;
    if (quoted !== undefined) {
      if (close !== '"') throw new QueryError('A quote is not closed', at);
      found.push({ type: 'quoted', text: quoted.replace(/\\(.)/g, '$1'), at });
    } else if (compare !== undefined) found.push({ type: 'compare', text: compare, at });
    else if (bracket !== undefined) found.push({ type: bracket === '(' ? 'open' : 'close', text: bracket, at });
    else if (word !== undefined) found.push({ type: 'word', text: word, at });
  }
  return found;
}

/**
 * Reads the one search language: words and "quoted words" are sought in names, labels and kinds; `field:part`, `field=value`,
 * `field<number` compare; `and`, `or`, `not` and brackets join, side by side means and. Throws QueryError at the place of the mistake.
 */
export function parseQuery(text: string): Query {
  const list = tokens(text);
  let i = 0;
  const isWord = (word: string): boolean => list[i]?.type === 'word' && list[i]!.text.toLowerCase() === word;
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
    while (i < list.length && list[i]!.type !== 'close' && !isWord('or')) {
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
  const term = (): Query => {
    const token = list[i++];
    if (!token) throw new QueryError('A word is missing at the end', text.length);
    if (token.type === 'open') {
      if (++depth > 50) throw new QueryError('Brackets lie more than 50 deep', token.at);
      const inner = either();
      depth--;
      if (list[i]?.type !== 'close') throw new QueryError('A bracket is not closed', token.at);
      i++;
      return inner;
    }
    if (token.type === 'close' || token.type === 'compare') throw new QueryError(`“${token.text}” stands where a word is expected`, token.at);
    const compare = list[i];
    if (token.type === 'word' && compare?.type === 'compare') {
      const value = list[++i];
      if (!value || (value.type !== 'word' && value.type !== 'quoted')) throw new QueryError(`A value is missing behind “${token.text}${compare.text}”`, value?.at ?? text.length);
      i++;
      return { type: 'field', field: token.text.toLowerCase(), compare: compare.text as Compare, value: value.text };
    }
    return { type: 'text', value: token.text };
  };
  let depth = 0;
  if (list.length === 0) return { type: 'all' };
  const query = either();
  if (i < list.length) throw new QueryError(`“${list[i]!.text}” closes nothing`, list[i]!.at);
  return query;
}

/** What a node shows to a query, by field; parameters by their id. */
function fieldOf(doc: Doc, kinds: Kinds, node: GraphNode, field: string): string | number | boolean | undefined {
  switch (field) {
    case 'name':
      return node.name;
    case 'label':
      return node.label ?? '';
    case 'kind':
      return `${kinds.title(node.kind)} ${node.kind}`;
    case 'category':
      return kinds.category(node.kind).title;
    case 'frame':
      return node.frame === undefined ? '' : (doc.frames.get(node.frame)?.title ?? '');
    case 'bypassed':
      return node.bypassed === true;
    case 'pinned':
      return node.pinned === true;
    case 'x':
      return node.x;
    case 'y':
      return node.y;
    default: {
      const value = kinds.value(node, field);
      return typeof value === 'object' ? JSON.stringify(value) : (value ?? undefined);
    }
  }
}

const plain = (value: unknown): string => String(value).toLowerCase();

/** Does a node fit the query? O(length of the query and of what it looks at). */
export function matches(query: Query, doc: Doc, kinds: Kinds, node: GraphNode): boolean {
  switch (query.type) {
    case 'all':
      return true;
    case 'text':
      return [caption(node), node.name, kinds.title(node.kind)].some((text) => plain(text).includes(plain(query.value)));
    case 'not':
      return !matches(query.of, doc, kinds, node);
    case 'and':
      return matches(query.left, doc, kinds, node) && matches(query.right, doc, kinds, node);
    case 'or':
      return matches(query.left, doc, kinds, node) || matches(query.right, doc, kinds, node);
    case 'field': {
      const own = fieldOf(doc, kinds, node, query.field);
      if (own === undefined) return false;
      if (query.compare === ':') return plain(own).includes(plain(query.value));
      if (query.compare === '=' || query.compare === '!=') return (plain(own) === plain(query.value)) === (query.compare === '=');
      const [a, b] = [Number(own), Number(query.value)];
      if (Number.isNaN(a) || Number.isNaN(b)) return false;
      return query.compare === '<' ? a < b : query.compare === '<=' ? a <= b : query.compare === '>' ? a > b : a >= b;
    }
  }
}

/** The ids of the nodes of a graph that fit, in id order. Throws QueryError. O(nodes). */
export function select(text: string, doc: Doc, kinds: Kinds, graph: Id): Id[] {
  const query = parseQuery(text);
  return indexOf(doc)
    .nodesIn(graph)
    .filter((node) => matches(query, doc, kinds, node))
    .map((node) => node.id);
}
