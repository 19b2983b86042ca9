import { must } from '../must.ts';
import type { Saying } from '../said.ts';
import { builtin } from './builtin.ts';
import { type Doc, indexOf } from './doc.ts';
import type { Id } from './ids.ts';
import type { Kinds } from './kinds.ts';
import type { GraphNode } from './schema.ts';
import { say } from './sentences.ts';

const legal = /^[A-Za-z][A-Za-z0-9_]*$/;

/** Why a name is none, or undefined where it is one, taken or not. */
export function nameShape(name: string): Saying | undefined {
  if (name === '') return say('name-empty');
  if (!legal.test(name)) return say('name-not-legal', { name });
  return name.length > 200 ? say('name-too-long', { length: name.length }) : undefined;
}

/** What is said of a name that another node has. */
export const takenSentence = (name: string): Saying => say('name-taken', { name });

/**
 * Why a name is refused, as a sentence, or undefined where it is fine. Names are unique in their graph (common
 * practice).
 */
export function nameProblem(doc: Doc, graph: Id, name: string, self?: Id): Saying | undefined {
  const problem = nameShape(name);
  if (problem) return problem;
  const taken = indexOf(doc)
    .nodesNamed(name)
    .find((node) => node.graph === graph && node.id !== self);
  return taken ? takenSentence(name) : undefined;
}

/** The nearest legal name to any text: accents dropped, other signs to `_`, a letter in front. */
export function legalName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9_]+/g, '_')
    .replace(/^_+|_+$/g, '');
  const started = plain === '' ? 'n' : /^[A-Za-z]/.test(plain) ? plain : `n_${plain}`;
  // what is cut may end like what was cut off above: the name of a name is itself
  return started.slice(0, 180).replace(/_+$/, '');
}

/** Names that are taken, and those that were given since. */
export interface Taken {
  has(name: string): boolean;
  add(name: string): void;
  /** The numbers from which a stem is free, as far as they were found. */
  readonly free?: Map<string, number>;
}

const frees = new WeakMap<Taken, Map<string, number>>();

/** The numbers from which stems are free among names that are taken, kept with them. */
function freeNumbers(taken: Taken): Map<string, number> {
  const known = taken.free ?? frees.get(taken);
  if (known) return known;
  const made = new Map<string, number>();
  frees.set(taken, made);
  return made;
}

/** The name itself where it is free, else the next free number behind its stem. `taken` is updated. */
export function freeName(wanted: string, taken: Taken): string {
  let name = wanted;
  if (taken.has(name)) {
    const [, stem = wanted, underscore = ''] = /^(.*?)(_?)\d+$/.exec(wanted) ?? [];
    const joint = underscore || (/\d$/.test(stem) ? '_' : '');
    const free = freeNumbers(taken);
    for (let i = free.get(stem + joint) ?? 2; ; i++) {
      name = `${stem}${joint}${i}`;
      if (taken.has(name)) continue;
      free.set(stem + joint, i);
      break;
    }
  }
  taken.add(name);
  return name;
}

/** The names taken in one graph. O(1) to make and to ask. */
export function namesIn(doc: Doc, graph: Id): Taken {
  const given = new Set<string>();
  const index = indexOf(doc);
  return {
    has: (name) => given.has(name) || index.nodesNamed(name).some((node) => node.graph === graph),
    add: (name) => void given.add(name),
    free: new Map(),
  };
}

/** A tap under the name that its beacon got, where that is among those renamed. */
export function retitled(tap: GraphNode, renamed: ReadonlyMap<Id, string>): GraphNode {
  const name = tap.kind === builtin.tap && tap.beacon?.id !== undefined ? renamed.get(tap.beacon.id) : undefined;
  return name === undefined || name === must(tap.beacon).name ? tap : { ...tap, beacon: { ...must(tap.beacon), name } };
}

/** A name that says nothing: the kind's id or title, with or without a number. */
export function isDefaultName(name: string, kind: string, kinds: Kinds): boolean {
  const stem = name.replace(/_?\d+$/, '').toLowerCase();
  const plain = (text: string): string => text.replace(/[^A-Za-z0-9]+/g, '').toLowerCase();
  const own = stem.replace(/_/g, '');
  return (
    own === 'node' ||
    own === plain(kind) ||
    own === plain(kind.split('.').pop() ?? '') ||
    own === plain(kinds.title(kind))
  );
}
