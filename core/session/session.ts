import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf, tableOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { diff } from '../edit/diff.ts';
import { type Met, meet } from '../edit/meet.ts';
import type { Conflict } from '../edit/rebase.ts';
import { apply, type Edit, StaleEdit } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import { must } from '../must.ts';
import {
  type Act,
  emptyHistory,
  type History,
  isAct,
  lastSerial,
  type Renamed,
  redo,
  renamedIn,
  type Turned,
  undo,
  withAct,
  withOthers,
} from './history.ts';

/** What is sent to be saved, as it was when it was sent. */
export interface Saving {
  readonly fileId: string;
  readonly revision: number;
  readonly base: Doc;
  readonly doc: Doc;
  /** The last act in it. */
  readonly serial: number;
}

/**
 * One person's work on one file, whatever shows it. Immutable; `reduce` makes the next one.
 *
 * Laws, each held by a test of `session.test.ts`:
 * 1. What is not in `base` is in `diff(base, doc)`, and `isDirty` says so: no step but `undo` takes anything of one's
 * own away.
 * 2. What is stored is what was sent: acts done while it was on its way are unsaved after it.
 * 3. A step about another file, or about a save that is no longer on its way, changes nothing.
 * 4. Whoever takes in what others saved, in whatever order, ends with the same document as they, once all have saved.
 * 5. Undoing all acts leaves what others did.
 */
export interface Session extends History {
  readonly fileId: string;
  readonly title: string;
  readonly kinds: Kinds;
  /** The revision that `base` is. */
  readonly revision: number;
  readonly base: Doc;
  readonly doc: Doc;
  /** The serial of the last act that is in `base`. */
  readonly saved: number;
  /** The serial that the next act gets. */
  readonly next: number;
  readonly saving: Saving | undefined;
  readonly graph: Id;
  /** In the order in which it was selected. */
  readonly selection: readonly Id[];
}

export type SessionStep =
  /** Does an edit, under a name. Fails as `stale` where it was made on another document. */
  | {
      readonly type: 'do';
      readonly title: string;
      readonly said?: string | undefined;
      readonly edit: Edit;
      readonly select?: readonly Id[] | undefined;
      readonly at?: number;
    }
  /** Fail as `nothing` where there is nothing to take back, or to do again. */
  | { readonly type: 'undo' }
  | { readonly type: 'redo' }
  /**
   * Undoes or does again until this act is the last one; 0 undoes all that is remembered. Fails as `gone` where there
   * is no such act.
   */
  | { readonly type: 'go'; readonly to: number }
  /**
   * Notes that the document is on its way to be saved. Fails as `nothing` where there is nothing to save, as `busy`
   * where it is on its way already.
   */
  | { readonly type: 'send' }
  /** What was sent did not arrive. */
  | { readonly type: 'unsent'; readonly saving: Saving }
  /** What was sent is a revision now. */
  | { readonly type: 'stored'; readonly saving: Saving; readonly revision: number; readonly title: string }
  /**
   * Takes in a newer revision, under what is not saved yet. `choices`: what leads from theirs to both, where somebody
   * chose; else theirs stands where both touched the same. Fails as `busy` while something is on its way, as `old`
   * where the revision is no newer one.
   */
  | {
      readonly type: 'take in';
      readonly revision: number;
      readonly theirs: Doc;
      readonly title: string;
      readonly choices?: Edit;
      readonly at?: number;
    }
  | { readonly type: 'select'; readonly items: readonly Id[] }
  /** Fails as `gone` where there is no such graph. */
  | { readonly type: 'show'; readonly graph: Id; readonly items: readonly Id[] };

export type Failure = 'stale' | 'nothing' | 'busy' | 'old' | 'gone';

export type Reduced =
  | {
      readonly session: Session;
      /** What of one's own could not be undone or done again, since others changed the same. */
      readonly left: readonly Conflict[];
      readonly failure?: undefined;
    }
  | { readonly failure: Failure };

/** A session that begins with a revision of a file. */
export function openSession(
  file: Pick<Session, 'fileId' | 'title' | 'kinds' | 'revision'> & { readonly doc: Doc },
): Session {
  return {
    ...file,
    ...emptyHistory,
    base: file.doc,
    saved: 0,
    next: 1,
    saving: undefined,
    graph: file.doc.head.root,
    selection: [],
  };
}

/** Is there anything that is not in `base`? */
export const isDirty = (session: Pick<Session, 'past' | 'floor' | 'saved'>): boolean =>
  lastSerial(session) !== session.saved;

/** The acts that are not in `base`, the first first; undone ones that are in it are not told. */
export const unsavedActs = ({ past, saved }: Session): readonly Act[] =>
  past.filter(isAct).filter((act) => act.serial > saved);

/** The next session, or why a step cannot be done. Nothing is half done. */
export function reduce(session: Session, step: SessionStep): Reduced {
  switch (step.type) {
    case 'do':
      return act(session, step);
    case 'undo':
    case 'redo': {
      const turned = (step.type === 'undo' ? undo : redo)(session.doc, session, session.kinds);
      return turned
        ? { session: turnedTo(session, turned, step.type === 'undo'), left: turned.left }
        : { failure: 'nothing' };
    }
    case 'go':
      return go(session, step.to);
    case 'send':
      if (session.saving) return { failure: 'busy' };
      if (diff(session.base, session.doc).steps.length === 0) return { failure: 'nothing' };
      return done({
        ...session,
        saving: {
          fileId: session.fileId,
          revision: session.revision,
          base: session.base,
          doc: session.doc,
          serial: lastSerial(session),
        },
      });
    case 'unsent':
      return done(session.saving === step.saving ? { ...session, saving: undefined } : session);
    case 'stored':
      if (session.saving !== step.saving) return done(session);
      return done({
        ...session,
        revision: step.revision,
        title: step.title,
        base: step.saving.doc,
        saved: step.saving.serial,
        saving: undefined,
      });
    case 'take in':
      return takeIn(session, step);
    case 'select':
      return done({ ...session, selection: step.items });
    case 'show':
      return session.doc.graphs.has(step.graph)
        ? done({ ...session, graph: step.graph, selection: step.items })
        : { failure: 'gone' };
  }
}

const done = (session: Session, left: readonly Conflict[] = []): Reduced => ({ session, left });

const thatAre = (doc: Doc, ids: readonly Id[]): readonly Id[] => ids.filter((id) => tableOf(doc, id) !== undefined);

function act(session: Session, { title, said, edit, select, at = 0 }: SessionStep & { type: 'do' }): Reduced {
  const { graph, selection, next } = session;
  if (edit.steps.length === 0) return done(select ? { ...session, selection: thatAre(session.doc, select) } : session);
  let doc: Doc;
  try {
    doc = apply(session.doc, edit);
  } catch (error) {
    if (error instanceof StaleEdit) return { failure: 'stale' };
    throw error;
  }
  const after = thatAre(doc, select ?? selection);
  const history = withAct(
    session,
    { type: 'act', serial: next, title, said, edit, at, graph, before: selection, after },
    { before: session.doc, after: doc },
  );
  return done({
    ...session,
    ...history,
    doc,
    next: next + 1,
    selection: after,
    graph: doc.graphs.has(graph) ? graph : doc.head.root,
  });
}

function turnedTo(session: Session, { doc, history, act, left }: Turned, isUndo: boolean): Session {
  const turned: Session = {
    ...session,
    ...history,
    doc,
    graph: doc.graphs.has(act.graph) ? act.graph : doc.head.root,
    selection: thatAre(doc, isUndo ? act.before : act.after),
  };
  // where others had changed all of it, nothing may be left that they do not have
  const mayBeSaved = left.length > 0 || act.edit.steps.length === 0;
  return mayBeSaved && diff(session.base, doc).steps.length === 0 ? { ...turned, saved: lastSerial(turned) } : turned;
}

function go(session: Session, to: number): Reduced {
  const isPast = to === session.floor || session.past.some((entry) => isAct(entry) && entry.serial === to);
  if (!isPast && !session.future.some((entry) => isAct(entry) && entry.serial === to)) return { failure: 'gone' };
  let now = session;
  const left: Conflict[] = [];
  while (lastSerial(now) !== to) {
    const next = reduce(now, { type: isPast ? 'undo' : 'redo' });
    if (next.failure !== undefined) return { failure: 'gone' };
    now = next.session;
    left.push(...next.left);
  }
  return done(now, left);
}

/** My state over a newer revision, to be decided on or taken in. */
export const meetIn = ({ base, doc, kinds }: Session, theirs: Doc): Met => meet(base, doc, theirs, kinds);

function takeIn(
  session: Session,
  { revision, theirs, title, choices, at = 0 }: SessionStep & { type: 'take in' },
): Reduced {
  if (session.saving) return { failure: 'busy' };
  if (revision <= session.revision) return { failure: 'old' };
  const {
    done: sides,
    rebased: { edit, notes },
  } = meetIn(session, theirs);
  const meant = apply(theirs, edit);
  // own acts get the names that were free: the rest of what changed is theirs
  const names = new Map(
    notes.flatMap(({ place }) => {
      const id = must(place[0]);
      const [from, to] = [session.doc.nodes.get(id)?.name, meant.nodes.get(id)?.name];
      return from !== undefined && to !== undefined ? [[id, { from, to }] as const] : [];
    }),
  );
  const own = new Set(sides.mine.steps.map((one) => JSON.stringify(one)));
  const also = { steps: sides.theirs.steps.filter((one) => own.has(JSON.stringify(one))) };
  const history = withOthers(renamedIn(session, names), title, diff(renamed(session.doc, names), meant), also);
  const taken: Session = {
    ...session,
    ...history,
    revision,
    base: theirs,
    doc: meant,
    graph: meant.graphs.has(session.graph) ? session.graph : meant.head.root,
  };
  const rest: Session = {
    ...taken,
    selection: thatAre(meant, session.selection),
    saved: diff(theirs, meant).steps.length === 0 ? lastSerial(taken) : session.saved,
  };
  if (!choices) return done(rest);
  const chosen = diff(meant, apply(theirs, choices));
  return act(rest, { type: 'do', title: 'Choices between versions', edit: chosen, at });
}

/** The document as the acts make it once they give these names. */
function renamed(doc: Doc, names: Renamed): Doc {
  const tx = new Transaction(doc);
  for (const [id, { to }] of names) tx.set('nodes', id, 'name', to);
  if (names.size > 0)
    for (const tap of indexOf(doc).nodesOfKind(builtin.tap)) {
      const heard = names.get(tap.beacon?.id ?? '');
      if (heard && tap.beacon?.name === heard.from)
        tx.set('nodes', tap.id, 'beacon', { ...tap.beacon, name: heard.to });
    }
  return tx.doc;
}
