import { didYouMean } from '../closest.ts';
import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import { type FieldValue, fieldById, queryFields } from './fields.ts';
import { fits, parseQuery, type Query, QueryError, select, writeQuery } from './query.ts';
import { say } from './sentences.ts';

/** What is known of a file without reading it. */
export interface FileFacts {
  readonly title: string;
  /** The title of its project, and its id. */
  readonly project: string;
  readonly folder: string;
  readonly tags: readonly string[];
  /** Of the newest revision. */
  readonly author: string;
  readonly message: string;
  readonly revision: string;
  readonly number: number;
  readonly catalogue: string;
  /** Days since the newest revision. */
  readonly days: number;
  readonly nodes: number;
  readonly wires: number;
  readonly frames: number;
  readonly crossings: number | undefined;
  readonly overlaps: number | undefined;
  /** 0 to 100; undefined where it has not been measured yet. */
  readonly readability: number | undefined;
  /** Undefined where house rules have not looked yet. */
  readonly errors: number | undefined;
  readonly warnings: number | undefined;
  /** The ids of the house rules that found something. */
  readonly rules: readonly string[];
}

/** Something that a query can ask of a file. */
export interface FileField {
  readonly id: string;
  readonly title: string;
  readonly type: 'text' | 'number';
  /** All that it has there: any of it may fit. */
  read(facts: FileFacts): readonly FieldValue[];
}

const text = (id: string, title: string, read: (facts: FileFacts) => string | readonly string[]): FileField => ({
  id,
  title,
  type: 'text',
  read: (facts) => [read(facts)].flat(),
});
const number = (id: string, title: string, read: (facts: FileFacts) => number | undefined): FileField => ({
  id,
  title,
  type: 'number',
  read: (facts) => [read(facts)],
});

/** All fields of files, in the order in which help lists them. */
export const fileFields: readonly FileField[] = [
  text('title', 'Title', (facts) => facts.title),
  text('project', 'Project', (facts) => facts.project),
  text('folder', 'Folder', (facts) => facts.folder),
  text('tag', 'Tag', (facts) => facts.tags),
  text('author', 'Author of the newest revision', (facts) => facts.author),
  text('message', 'Message of the newest revision', (facts) => facts.message),
  text('revision', 'Name of the newest revision', (facts) => facts.revision),
  text('catalogue', 'Catalogue', (facts) => facts.catalogue),
  text('finding', 'House rules that find something', (facts) => facts.rules),
  number('readability', 'Readability, 0 to 100', (facts) => facts.readability),
  number('errors', 'Errors that house rules find', (facts) => facts.errors),
  number('warnings', 'Warnings that house rules find', (facts) => facts.warnings),
  number('nodes', 'Number of nodes', (facts) => facts.nodes),
  number('wires', 'Number of wires', (facts) => facts.wires),
  number('frames', 'Number of frames', (facts) => facts.frames),
  number('crossings', 'Crossings of wires', (facts) => facts.crossings),
  number('overlaps', 'Overlaps of nodes', (facts) => facts.overlaps),
  number('revisions', 'Number of revisions', (facts) => facts.number),
  number('days', 'Days since the last change', (facts) => facts.days),
];

const byId = new Map(fileFields.map((field) => [field.id, field]));

/** A query over files that can be asked: its words are known, and so are those of the nodes that it looks for. */
export interface FileQuery {
  readonly query: Query;
  /** What `has(…)` asks for, as text; each once. */
  readonly nodes: readonly string[];
}

/**
 * Reads a query over files: the language of nodes, with the fields of files, and `has(…)` around a query over nodes.
 * Throws QueryError at the place of the mistake; what no file and no node can have is one. O(length).
 */
export function parseFileQuery(text: string): FileQuery {
  const query = parseQuery(text);
  const nodes = new Set<string>();
  const check = (part: Query): void => {
    if (part.type === 'not') check(part.of);
    if (part.type === 'and' || part.type === 'or') {
      check(part.left);
      check(part.right);
    }
    if (part.type === 'has') nodes.add(writeQuery(part.of));
    if (part.type !== 'field') return;
    const field = byId.get(part.field);
    if (!field) {
      // a word for nodes in the place of one for files is the likeliest slip of all
      const isOfNodes = fieldById(part.field) !== undefined;
      const hint = isOfNodes
        ? ` Did you mean has(${part.field}${part.compare}${part.value})?`
        : didYouMean(part.field, [...byId.keys()]);
      throw new QueryError(say('no-field-of-files', { field: part.field, hint, known: [...byId.keys()] }), part.at);
    }
    const isOrdered = part.compare !== ':' && part.compare !== '=' && part.compare !== '!=';
    if (field.type === 'text' && isOrdered) throw new QueryError(say('is-text', { field: part.field }), part.at);
    if (field.type === 'number' && (part.value.trim() === '' || Number.isNaN(Number(part.value))))
      throw new QueryError(say('number-wanted', { field: part.field, value: part.value }), part.at);
  };
  check(query);
  return { query, nodes: [...nodes] };
}

/** Does a document hold nodes like a query? A text says why it cannot be asked of this one. O(nodes). */
export function holdsNodes(doc: Doc, kinds: Kinds, nodes: string): boolean | string {
  try {
    return [...doc.graphs.keys()].some((graph) => select(nodes, doc, kinds, graph).length > 0);
  } catch (error) {
    if (error instanceof QueryError) return error.plain;
    throw error;
  }
}

const plain = (value: unknown): string => String(value).toLowerCase();

/**
 * Does a file fit? Plain words are sought in title, folder, tags, author, message and name of the revision. `holds`
 * says whether it has nodes like a query, as `FileQuery.nodes` lists it, or undefined where that is not known; the
 * answer is undefined where it hangs on that (Kleene’s three values). O(length of the query).
 */
export function matchesFile(
  query: Query,
  facts: FileFacts,
  holds: (nodes: string) => boolean | undefined,
): boolean | undefined {
  const of = (part: Query): boolean | undefined => matchesFile(part, facts, holds);
  switch (query.type) {
    case 'all':
      return true;
    case 'text':
      return [facts.title, facts.folder, ...facts.tags, facts.author, facts.message, facts.revision].some((one) =>
        plain(one).includes(plain(query.value)),
      );
    case 'not': {
      const inner = of(query.of);
      return inner === undefined ? undefined : !inner;
    }
    case 'and': {
      const [left, right] = [of(query.left), of(query.right)];
      if (left === false || right === false) return false;
      return left && right;
    }
    case 'or': {
      const [left, right] = [of(query.left), of(query.right)];
      if (left === true || right === true) return true;
      return left === undefined ? undefined : right;
    }
    case 'has':
      return holds(writeQuery(query.of));
    case 'field': {
      const own = byId.get(query.field)?.read(facts) ?? [];
      // nothing of several may be the value that is not wanted
      return query.compare === '!=' ? own.every((one) => fits(query, one)) : own.some((one) => fits(query, one));
    }
  }
}

/** A word that may stand at the end of a query that is being written. */
export interface QueryOffer {
  /** Where what is being written begins. */
  readonly from: number;
  readonly words: readonly { readonly word: string; readonly title: string }[];
}

const most = 12;

/**
 * What may be written at the end of a query over files: its fields, and the values that files have there. Within
 * `has(…)`: the fields of nodes. O(files).
 */
export function offerFileQuery(before: string, files: readonly FileFacts[]): QueryOffer {
  const typed = /[^\s()]*$/.exec(before)?.[0] ?? '';
  const from = before.length - typed.length;
  // a value or bracket that is closed wants a blank first
  if (/[)"]$/.test(before)) return { from, words: [] };
  const compare = /^([a-z]+)(!=|<=|>=|[:=<>])("?)(.*)$/i.exec(typed);
  if (compare) {
    const [, name = '', sign = '', , part = ''] = compare;
    const field = byId.get(name.toLowerCase());
    if (!field || field.type === 'number') return { from, words: [] };
    const values = new Set(files.flatMap((facts) => field.read(facts).map(String)));
    // what is written out already is no offer
    const fitting = [...values]
      .filter((value) => value !== '' && plain(value) !== plain(part) && plain(value).includes(plain(part)))
      .sort();
    return {
      from,
      words: fitting.slice(0, most).map((value) => ({
        word: `${name}${sign}${/[\s()"]/.test(value) ? JSON.stringify(value) : value}`,
        title: '',
      })),
    };
  }
  const isInside = (before.match(/has\(/g)?.length ?? 0) > 0 && depthAt(before) > 0;
  const fields = isInside
    ? queryFields.map((field) => ({ word: `${field.id}:`, title: field.title }))
    : [
        ...fileFields.map((field) => ({
          word: `${field.id}${field.type === 'number' ? '<' : ':'}`,
          title: field.title,
        })),
        { word: 'has(', title: 'Holds nodes like …' },
      ];
  return { from, words: fields.filter(({ word }) => word.startsWith(typed.toLowerCase())).slice(0, 24) };
}

/** How many brackets are open at the end of a text. */
const depthAt = (text: string): number => (text.match(/\(/g)?.length ?? 0) - (text.match(/\)/g)?.length ?? 0);
