import { type Catalogue, emptyCatalogue } from '@basitax/core/document/catalogue';
import { type Doc, emptyDoc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import type { Conflict } from '@basitax/core/edit/rebase';
import type { Edit } from '@basitax/core/edit/step';
import { extract, type Neighbourhood } from '@basitax/core/inspect/neighbourhood';
import {
  openSession,
  type Reduced,
  reduce,
  type Saving,
  type Session,
  type SessionStep,
} from '@basitax/core/session/session';
import { withoutNodes } from '@basitax/core/structure/fold';
import { membersOfSet } from '@basitax/core/structure/sets';
import type { Planned } from '@basitax/core/work/plan-tasks';
import { create } from 'zustand';
import { refuse } from './sentences.ts';

/** Where the window stands: screen = graph · zoom + (x, y). */
export interface View {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/**
 * Something that was planned and is shown, but not done: an operation, whose options may be turned, or an edit of
 * another source.
 */
export interface Preview {
  readonly title: string;
  readonly operation?: string | undefined;
  readonly options: Readonly<Record<string, unknown>>;
  readonly planned: Planned;
  readonly after: Doc;
  readonly select: readonly Id[];
  /** Where the window goes back to when it is dropped, where it was fitted to it. */
  readonly back?: View | undefined;
}

interface Job {
  readonly title: string;
  readonly fraction: number;
  readonly what: string;
  cancel(): void;
}

/** Outlines that are drawn for a moment: where nodes would go, or where they were. */
export interface Outlines {
  readonly places: ReadonlyMap<Id, { readonly x: number; readonly y: number }>;
  /** When they began to fade, in milliseconds of `performance.now()`; those of what would happen do not fade. */
  readonly since?: number;
}

/** Nodes that are being dragged, drawn away from their places. */
export interface Moving {
  readonly ids: ReadonlySet<Id>;
  readonly dx: number;
  readonly dy: number;
}

type Places = ReadonlyMap<Id, { readonly x: number; readonly y: number }>;

/** A neighbourhood that is shown in place of the graph; where its nodes stand never reaches the file. */
export interface Surroundings {
  readonly area: Neighbourhood;
  readonly ids: readonly Id[];
  /** Laid out by itself, or as the file has it and then moved by hand. */
  readonly mode: 'automatic' | 'free';
  readonly automatic: Places;
  readonly free: Places;
  /** Where the window stood before. */
  readonly back: View;
}

/** Somewhere one has been: a graph and where the window stood. */
interface Stop {
  readonly graph: Id;
  readonly view: View;
}

/** What the window is to show. */
export type Sight = 'all' | 'selection' | readonly Id[];

/** The session in core, and all that only the screen knows. */
export interface EditorState extends Session {
  /** Why nothing may be changed, as a sentence; undefined where it may. */
  readonly readOnly: string | undefined;
  readonly catalogue: Catalogue;
  readonly view: View;
  /** The window has found its place in a document that was just opened: nothing is drawn before. */
  readonly isPlaced: boolean;
  readonly window: { readonly width: number; readonly height: number };
  /**
   * A hand is moving the window, or did a moment ago: the canvas alone draws, and no node is an element that can be
   * seen.
   */
  readonly inMotion: boolean;
  readonly preview: Preview | undefined;
  /** A key is held to see the graph without the preview. */
  readonly showsBefore: boolean;
  readonly job: Job | undefined;
  readonly moving: Moving | undefined;
  /** Where nodes would go, while an act is pointed at; where they were, for a moment after it. */
  readonly outlines: Outlines | undefined;
  readonly surroundings: Surroundings | undefined;
  /** Named sets whose nodes are not shown, to this person. */
  readonly hiddenSets: readonly Id[];
  /** Places that were left by a jump, the latest last, and those that were gone back from. */
  readonly been: readonly Stop[];
  readonly ahead: readonly Stop[];
  /** Raised to ask the canvas to show everything, the selection, or some things of the graph. */
  readonly lookAt: { readonly what: Sight; readonly count: number };
}

const start: EditorState = {
  ...openSession({ fileId: '', title: '', kinds: new Kinds(emptyCatalogue), revision: 0, doc: emptyDoc('none', '') }),
  readOnly: undefined,
  catalogue: emptyCatalogue,
  view: { x: 0, y: 0, zoom: 1 },
  isPlaced: false,
  window: { width: 0, height: 0 },
  inMotion: false,
  preview: undefined,
  showsBefore: false,
  job: undefined,
  moving: undefined,
  outlines: undefined,
  surroundings: undefined,
  hiddenSets: [],
  been: [],
  ahead: [],
  lookAt: { what: 'all', count: 0 },
};

/** The one store of what is being edited: document, history, selection, window. React and the painter both read it. */
export const useEditor = create<EditorState>(() => start);

const editingFields = [
  'fileId',
  'title',
  'readOnly',
  'revision',
  'catalogue',
  'kinds',
  'base',
  'doc',
  'past',
  'future',
  'floor',
  'saved',
  'saving',
  'graph',
  'selection',
  'preview',
  'job',
  'surroundings',
  'been',
  'ahead',
] as const;

/** What panels read: everything but what changes with each frame of a gesture. */
export type Editing = Pick<EditorState, (typeof editingFields)[number]>;

let picked: Editing | undefined;

/**
 * The same object for all panels until one of its fields changes, so that nothing is made or compared twice in a frame.
 */
function editingOf(state: EditorState): Editing {
  const known = picked;
  if (known && editingFields.every((field) => known[field] === state[field])) return known;
  picked = Object.fromEntries(editingFields.map((field) => [field, state[field]])) as unknown as Editing;
  return picked;
}

/** The state for panels; they are not drawn anew while the window moves. */
export const useEditing = (): Editing => useEditor(editingOf);

const { getState, setState } = useEditor;

let without: { doc: Doc; sets: readonly Id[]; shown: Doc } | undefined;

/** The document without the nodes of hidden sets. */
function withoutHidden(doc: Doc, sets: readonly Id[]): Doc {
  if (sets.length === 0) return doc;
  if (without?.doc !== doc || without.sets !== sets) {
    const hidden = new Set(sets.flatMap((set) => membersOfSet(doc, set).map((node) => node.id)));
    without = { doc, sets, shown: withoutNodes(doc, hidden) };
  }
  return without.shown;
}

let extracted: { doc: Doc; surroundings: Surroundings; shown: Doc } | undefined;

/**
 * The document as it is shown: with the preview, where there is one; without hidden sets; the neighbourhood alone,
 * while that is open.
 */
export function shownDoc(state: EditorState): Doc {
  const doc = withoutHidden((state.showsBefore ? undefined : state.preview?.after) ?? state.doc, state.hiddenSets);
  const { surroundings } = state;
  if (!surroundings) return doc;
  if (extracted?.doc !== doc || extracted.surroundings !== surroundings)
    extracted = {
      doc,
      surroundings,
      shown: extract(doc, surroundings.area.graph, surroundings.ids, surroundings[surroundings.mode]),
    };
  return extracted.shown;
}

export function loadDocument({
  fileId,
  title,
  revision,
  doc,
  catalogue,
  readOnly,
}: Pick<EditorState, 'fileId' | 'title' | 'readOnly' | 'revision' | 'catalogue' | 'doc'>): void {
  setState({
    ...start,
    ...openSession({ fileId, title, revision, doc, kinds: new Kinds(catalogue) }),
    window: getState().window,
    catalogue,
    readOnly,
  });
}

/** What a change of the document ends. */
const settled = { moving: undefined, outlines: undefined } as const;

/** Takes a step of the session. What cannot be done changes nothing, and is given back. */
function dispatch(step: SessionStep, more: Partial<EditorState> = {}): Reduced {
  const state = getState();
  const reduced = reduce(state, step);
  if (reduced.failure !== undefined) return reduced;
  const { session } = reduced;
  setState({
    ...session,
    ...(session.doc !== state.doc && settled),
    ...(session.graph !== state.graph && { surroundings: undefined }),
    ...more,
  });
  return reduced;
}

/**
 * Does an edit and puts it into the history. Ids that are gone leave the selection. Throws where the edit was made on
 * another document.
 */
export function commit(title: string, edit: Edit, select?: readonly Id[], said?: string): void {
  const { failure } = dispatch(
    { type: 'do', title, said, edit, select, at: Date.now() },
    { preview: undefined, showsBefore: false, moving: undefined },
  );
  if (failure) throw refuse('graph-changed');
}

export const exists = (doc: Doc, id: Id): boolean =>
  doc.nodes.has(id) || doc.frames.has(id) || doc.wires.has(id) || doc.notes.has(id);

/**
 * Takes back the last act, or does it again, or goes to any act of the history. Gives back what others have changed
 * since, which stays; undefined where nothing was done.
 */
export function turn(step: SessionStep & { type: 'undo' | 'redo' | 'go' }): readonly Conflict[] | undefined {
  if (getState().preview) return undefined;
  const reduced = dispatch(step);
  return reduced.failure === undefined ? reduced.left : undefined;
}

/**
 * Notes that the document as it is now is on its way; undefined where there is nothing to save, or something is on its
 * way.
 */
export function startSaving(): Saving | undefined {
  return dispatch({ type: 'send' }).failure === undefined ? getState().saving : undefined;
}

/** It did not arrive, or there was nothing to send. */
export const endSaving = (saving: Saving): Reduced => dispatch({ type: 'unsent', saving });

/**
 * What was sent is a revision. What was done since is not in it; where another file was opened meanwhile, nothing
 * changes.
 */
export const markSaved = (saving: Saving, revision: number, title: string): Reduced =>
  dispatch({ type: 'stored', saving, revision, title });

/**
 * Takes in a newer revision under one's own changes; `choices` leads from theirs to both, where somebody chose. False
 * where it has to wait.
 */
export function takeInRevision(revision: number, theirs: Doc, title: string, choices?: Edit): boolean {
  const { preview, moving } = getState();
  if (preview || moving) return false;
  return (
    dispatch(
      { type: 'take in', revision, theirs, title, at: Date.now(), ...(choices && { choices }) },
      { surroundings: undefined },
    ).failure === undefined
  );
}

export function select(items: readonly Id[]): void {
  setState({ selection: items });
}

/**
 * Enters a graph, with nothing selected, and shows all of it; or with something selected, and shows that. One can go
 * back from there.
 */
export function enterGraph(graph: Id, items: readonly Id[] = []): void {
  remember();
  if (showGraph(graph, items)) lookAt(items.length > 0 ? 'selection' : 'all');
}

const mostStops = 100;

/** Notes where the window stands, so that one can go back to it. Whoever jumps calls this first. */
export function remember(): void {
  const { graph, view, been, surroundings } = getState();
  if (surroundings) return;
  const last = been.at(-1);
  if (last && last.graph === graph && last.view.x === view.x && last.view.y === view.y && last.view.zoom === view.zoom)
    return;
  setState({ been: [...been, { graph, view }].slice(-mostStops), ahead: [] });
}

function travel(from: 'been' | 'ahead', to: 'been' | 'ahead'): void {
  const state = getState();
  const stop = state[from].at(-1);
  if (!stop || state.preview) return;
  const here = { graph: state.graph, view: state.view };
  setState({ [from]: state[from].slice(0, -1), [to]: [...state[to], here] });
  if (!state.doc.graphs.has(stop.graph)) {
    travel(from, to);
    return;
  }
  if (stop.graph !== state.graph) showGraph(stop.graph, []);
  else setState({ surroundings: undefined });
  viewControl.set(stop.view);
}

export const goBack = (): void => travel('been', 'ahead');
export const goForward = (): void => travel('ahead', 'been');

/** The same without moving the window. False where there is no such graph, or a preview is open. */
export function showGraph(graph: Id, items: readonly Id[]): boolean {
  const state = getState();
  if (!state.doc.graphs.has(graph) || state.preview) return false;
  setState({ graph, selection: items, surroundings: undefined });
  return true;
}

export function lookAt(what: Sight): void {
  setState((state) => ({ lookAt: { what, count: state.lookAt.count + 1 } }));
}

/** Moves the window. The canvas, which holds the gestures, takes this over while it is there. */
export const viewControl: { set(view: View): void } = { set: (view) => setState({ view }) };

/** Zooms about the middle of the window. */
export function zoomTo(zoom: number): void {
  const { view, window } = getState();
  const [cx, cy] = [window.width / 2, window.height / 2];
  const factor = zoom / view.zoom;
  viewControl.set({ zoom, x: cx - (cx - view.x) * factor, y: cy - (cy - view.y) * factor });
}
