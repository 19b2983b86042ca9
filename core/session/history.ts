import type { Doc } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import { type Conflict, rebase } from '../edit/rebase.ts';
import { apply, type Edit, invert, type Step } from '../edit/step.ts';
import { must } from '../must.ts';

/** Something that one did, by name: one undo. */
export interface Act {
  readonly type: 'act';
  /** Numbers acts of a session in the order in which they were first done, from 1. */
  readonly serial: number;
  readonly title: string;
  /** What it did, in a sentence. */
  readonly said?: string | undefined;
  readonly edit: Edit;
  /** When it was done, in milliseconds since 1970. */
  readonly at: number;
  readonly graph: Id;
  /** What was selected before and after it. */
  readonly before: readonly Id[];
  readonly after: readonly Id[];
  /** The document before and after a large act, so that turning back is no work; only of the latest. */
  readonly docs?: { readonly before: Doc; readonly after: Doc };
}

/** What came from others between one's acts: undo and redo go past it, and leave it. */
export interface FromOthers {
  readonly type: 'others';
  readonly title: string;
  readonly edit: Edit;
  /** What they did just as one had done it already: it is theirs too, and undo leaves it. */
  readonly also?: Edit;
}

export type Entry = Act | FromOthers;

/**
 * What was done and what was undone, each with the latest last.
 *
 * Laws: doing all of `past` from the beginning gives the document, and doing `future` from its end on gives what was
 * undone; undo then redo changes nothing; undoing everything leaves what others did and nothing else.
 */
export interface History {
  readonly past: readonly Entry[];
  readonly future: readonly Entry[];
  /** The serial of the last act that was forgotten; 0 where none was. */
  readonly floor: number;
}

export const emptyHistory: History = { past: [], future: [], floor: 0 };

export const isAct = (entry: Entry): entry is Act => entry.type === 'act';
const lastAct = (entries: readonly Entry[]): number => entries.findLastIndex(isAct);

/** The serial of the last act that stands; that of the last forgotten one where none does. */
export const lastSerial = ({ past, floor }: Pick<History, 'past' | 'floor'>): number =>
  (past[lastAct(past)] as Act | undefined)?.serial ?? floor;

/** So much is kept: acts, and steps in all of them. Some 80 MB at the most; the oldest acts are forgotten beyond it. */
export const mostActs = 1000;
export const mostSteps = 500_000;

/** Acts with so many steps keep their documents, the last so many of them: those share what did not change. */
const [largeAct, mostLarge] = [500, 12];

/**
 * The history with one more act, which led from one document to another; what was undone is gone, and what is too old
 * is forgotten. O(acts).
 */
export function withAct({ past, floor }: History, act: Act, docs: NonNullable<Act['docs']>): History {
  const large = past.filter((entry) => isAct(entry) && entry.docs !== undefined);
  const oldest = large.length >= mostLarge ? large[large.length - mostLarge] : undefined;
  const all = [
    ...past.map((entry) => (entry === oldest ? withoutDocs(entry) : entry)),
    act.edit.steps.length >= largeAct ? { ...act, docs } : act,
  ];
  let [acts, steps, first] = [0, 0, all.length];
  while (first > 0) {
    const entry = must(all[first - 1]);
    steps += entry.edit.steps.length;
    acts += Number(isAct(entry));
    if (first < all.length && (acts > mostActs || steps > mostSteps)) break;
    first--;
  }
  const forgotten = all.slice(0, first).filter(isAct);
  return { past: all.slice(first), future: [], floor: forgotten.at(-1)?.serial ?? floor };
}

const withoutDocs = ({ docs: _, ...entry }: Entry & { docs?: unknown }): Entry => entry as Entry;

/** The history once others changed the document; `also` is what they did as one had done it. */
export function withOthers({ past, future, floor }: History, title: string, edit: Edit, also: Edit): History {
  const others: FromOthers = { type: 'others', title, edit };
  const isNothing = edit.steps.length === 0;
  return {
    past: isNothing && also.steps.length === 0 ? past : [...past, { ...others, also }],
    future: isNothing || future.length === 0 ? future : [...future, others],
    floor,
  };
}

/** A document and its history after undo or redo. */
export interface Turned {
  readonly doc: Doc;
  readonly history: History;
  readonly act: Act;
  /** What of the act was left, since others changed the same. */
  readonly left: readonly Conflict[];
}

/**
 * Takes back one's last act, over what others did since; undefined where there is none. What others changed since stays
 * as they have it.
 * O(steps), O(1) where it is a large act of late, and O(records · log) where others changed something since.
 */
export function undo(doc: Doc, { past, future, floor }: History, kinds: Kinds): Turned | undefined {
  const i = lastAct(past);
  if (i === -1) return undefined;
  const act = past[i] as Act;
  if (i === past.length - 1) {
    const before = act.docs?.after === doc ? act.docs.before : apply(doc, invert(act.edit));
    return { doc: before, act, left: [], history: { past: past.slice(0, i), future: [...future, act], floor } };
  }
  const { edit, doc: before, rest, left } = passed(doc, invert(act.edit), past.slice(i + 1), kinds, act.docs?.before);
  return {
    doc: before,
    act,
    left,
    history: {
      past: [...past.slice(0, i), ...rest],
      future: [...future, { ...withDocs(act, before, doc), edit: invert(edit) }],
      floor,
    },
  };
}

/** Does again what was undone last; undefined where there is nothing. Costs as undo. */
export function redo(doc: Doc, { past, future, floor }: History, kinds: Kinds): Turned | undefined {
  const i = lastAct(future);
  if (i === -1) return undefined;
  const act = future[i] as Act;
  if (i === future.length - 1) {
    const after = act.docs?.before === doc ? act.docs.after : apply(doc, act.edit);
    return { doc: after, act, left: [], history: { past: [...past, act], future: future.slice(0, i), floor } };
  }
  const { edit, doc: after, rest, left } = passed(doc, act.edit, future.slice(i + 1), kinds, act.docs?.after);
  return {
    doc: after,
    act,
    left,
    history: {
      past: [...past, { ...withDocs(act, doc, after), edit }],
      future: [...future.slice(0, i), ...rest],
      floor,
    },
  };
}

/** Fields on which nothing hangs: where things are, and how they look. */
const loose: ReadonlySet<string> = new Set([
  ...['x', 'y', 'width', 'height', 'pad', 'size'],
  ...['label', 'title', 'text', 'color', 'pinned', 'closed'],
]);
const isLoose = (step: Step): boolean =>
  step.type === 'set' && step.table !== 'head' && step.path.length === 1 && loose.has(step.path[0] ?? '');

/**
 * What others did, as one edit, where it and an act are about different loose fields: then neither gives way, and both
 * orders end alike. Undefined where that is not so, or not known. O(steps of both).
 */
function apartFrom(edit: Edit, between: readonly Entry[]): Edit | undefined {
  if (between.some((entry) => isAct(entry) || (entry.also?.steps.length ?? 0) > 0)) return undefined;
  const steps = between.flatMap((entry) => entry.edit.steps);
  if (!steps.every(isLoose)) return undefined;
  const fieldsOf = new Map<Id, Set<string>>();
  for (const { id, path } of steps as (Step & { type: 'set' })[]) {
    const known = fieldsOf.get(id);
    if (known) known.add(must(path[0]));
    else fieldsOf.set(id, new Set(path));
  }
  const isApart = edit.steps.every(
    (step) => isLoose(step) && !(step.type === 'set' && fieldsOf.get(step.id)?.has(step.path[0] ?? '')),
  );
  return isApart ? { steps } : undefined;
}

/** A large act keeps the documents on its two sides, as they are now. */
const withDocs = (act: Act, before: Doc, after: Doc): Act => (act.docs ? { ...act, docs: { before, after } } : act);

/**
 * An edit that was made before others changed the document, done after it; and what they changed as it is seen with the
 * edit done first. `made` is the document that the edit had led to, where that is known: then what is apart costs no
 * more than theirs.
 */
function passed(
  doc: Doc,
  edit: Edit,
  between: readonly Entry[],
  kinds: Kinds,
  made: Doc | undefined,
): { edit: Edit; doc: Doc; rest: readonly Entry[]; left: readonly Conflict[] } {
  const apart = apartFrom(edit, between);
  if (apart) return { edit, doc: made ? apply(made, apart) : apply(doc, edit), rest: between, left: [] };
  const also: Edit = { steps: between.flatMap((entry) => (isAct(entry) ? [] : (entry.also?.steps ?? []))) };
  const title = must(between[0]).title;
  const before = between.length === 1 ? undefined : beforeAll(doc, between);
  const over = before ? diff(before, doc) : must(between[0]).edit;
  const { edit: moved, conflicts } = rebase(edit, over, doc, kinds, also);
  const after = apply(doc, moved);
  // what neither adapts nor gives way leaves the other as it is: both orders do the same
  const isFree = conflicts.length === 0 && sameSteps(moved, edit);
  const theirs = isFree ? over : diff(apply(before ?? beforeAll(doc, between), edit), after);
  const others: FromOthers = { type: 'others', title, edit: theirs, ...(also.steps.length > 0 && { also }) };
  return {
    edit: moved,
    doc: after,
    rest: others.edit.steps.length === 0 && !others.also ? [] : [others],
    left: conflicts,
  };
}

/** The document before some entries. O(their steps). */
const beforeAll = (doc: Doc, entries: readonly Entry[]): Doc =>
  entries.reduceRight((at, entry) => apply(at, invert(entry.edit)), doc);

const sameSteps = (a: Edit, b: Edit): boolean =>
  a.steps.length === b.steps.length && a.steps.every((step, i) => step === b.steps[i]);

/** Names that nodes were given and that turned out to be taken, with those that they have instead. */
export type Renamed = ReadonlyMap<Id, { readonly from: string; readonly to: string }>;

/** Edits with other names for some nodes: those that were given by them and turned out to be taken. */
export function renamedIn(history: History, names: Renamed): History {
  if (names.size === 0) return history;
  const rename = (entry: Entry): Entry => ({ ...withoutDocs(entry), edit: renamedEdit(entry.edit, names) });
  return { past: history.past.map(rename), future: history.future.map(rename), floor: history.floor };
}

function renamedEdit(edit: Edit, names: Renamed): Edit {
  const nameOf = (id: unknown, name: unknown): unknown =>
    typeof id === 'string' && names.get(id)?.from === name ? must(names.get(id)).to : name;
  const beacon = (value: unknown): unknown => {
    const { id, name } = (value ?? {}) as { id?: unknown; name?: unknown };
    return id === undefined ? value : { ...(value as object), name: nameOf(id, name) };
  };
  return {
    steps: edit.steps.map((step) => {
      if (step.table !== 'nodes') return step;
      if (step.type !== 'set') {
        const node = step.value as { name?: unknown; beacon?: unknown };
        return {
          ...step,
          value: {
            ...node,
            name: nameOf(step.id, node.name),
            ...(node.beacon !== undefined && { beacon: beacon(node.beacon) }),
          } as never,
        };
      }
      const value =
        step.path[0] === 'name'
          ? (one: unknown) => nameOf(step.id, one)
          : step.path[0] === 'beacon' && step.path.length === 1
            ? beacon
            : undefined;
      if (!value) return step;
      return {
        ...step,
        ...(step.from !== undefined && { from: value(step.from) as never }),
        ...(step.to !== undefined && { to: value(step.to) as never }),
      };
    }),
  };
}
