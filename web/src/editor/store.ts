import { type Catalogue, emptyCatalogue } from '@basitax/core/document/catalogue';
import { type Doc, emptyDoc } from '@basitax/core/document/doc';
import type { Id } from '@basitax/core/document/ids';
import { Kinds } from '@basitax/core/document/kinds';
import { apply, type Edit, invert } from '@basitax/core/edit/step';
import type { Planned } from '@basitax/core/work/tasks';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';

/** Where the window stands: screen = graph · zoom + (x, y). */
export interface View {
  readonly x: number;
  readonly y: number;
  readonly zoom: number;
}

/** One line of the history: what was done, and what was selected before it. */
interface Entry {
  readonly title: string;
  readonly edit: Edit;
  readonly before: readonly Id[];
  readonly after: readonly Id[];
  readonly graph: Id;
}

/** An operation that was planned and is shown, but not done. */
export interface Preview {
  readonly operation: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly planned: Planned;
  readonly after: Doc;
  readonly select: readonly Id[];
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

export interface EditorState {
  readonly fileId: string;
  readonly title: string;
  /** Why nothing may be changed, as a sentence; undefined where it may. */
  readonly readOnly: string | undefined;
  /** The revision that `base` is. */
  readonly revision: number;
  readonly catalogue: Catalogue;
  readonly kinds: Kinds;
  readonly base: Doc;
  readonly doc: Doc;
  readonly past: readonly Entry[];
  /** The last entry of the history when it was saved. */
  readonly savedAt: Entry | undefined;
  readonly future: readonly Entry[];
  readonly graph: Id;
  /** In the order in which it was selected. */
  readonly selection: readonly Id[];
  readonly view: View;
  readonly window: { readonly width: number; readonly height: number };
  readonly preview: Preview | undefined;
  readonly job: Job | undefined;
  readonly moving: Moving | undefined;
  /** Where nodes would go, while an act is pointed at; where they were, for a moment after it. */
  readonly outlines: Outlines | undefined;
  /** Raised to ask the canvas to show everything, or the selection. */
  readonly lookAt: { readonly what: 'all' | 'selection'; readonly count: number };
}

const start: EditorState = {
  fileId: '',
  title: '',
  readOnly: undefined,
  revision: 0,
  catalogue: emptyCatalogue,
  kinds: new Kinds(emptyCatalogue),
  base: emptyDoc('none', ''),
  doc: emptyDoc('none', ''),
  past: [],
  savedAt: undefined,
  future: [],
  graph: 'root',
  selection: [],
  view: { x: 0, y: 0, zoom: 1 },
  window: { width: 0, height: 0 },
  preview: undefined,
  job: undefined,
  moving: undefined,
  outlines: undefined,
  lookAt: { what: 'all', count: 0 },
};

/** The one store of what is being edited: document, history, selection, window. React and the painter both read it. */
export const useEditor = create<EditorState>(() => start);

/** What panels read: everything but what changes with each frame of a gesture. */
export type Editing = Pick<
  EditorState,
  'fileId' | 'title' | 'readOnly' | 'revision' | 'catalogue' | 'kinds' | 'base' | 'doc' | 'past' | 'future' | 'graph' | 'selection' | 'preview' | 'job'
>;

/** The state for panels; they are not drawn anew while the window moves. */
export function useEditing(): Editing {
  return useEditor(
    useShallow(
      ({ fileId, title, readOnly, revision, catalogue, kinds, base, doc, past, future, graph, selection, preview, job }): Editing => ({
        fileId,
        title,
        readOnly,
        revision,
        catalogue,
        kinds,
        base,
        doc,
        past,
        future,
        graph,
        selection,
        preview,
        job,
      }),
    ),
  );
}

const { getState, setState } = useEditor;

/** The document as it is shown: with the preview, where there is one. */
export function shownDoc(state: EditorState): Doc {
  return state.preview?.after ?? state.doc;
}

/** Is there anything that is not in the revision that was saved last? */
export const isDirty = (state: EditorState): boolean => state.past.at(-1) !== state.savedAt;

export function loadDocument(loaded: Pick<EditorState, 'fileId' | 'title' | 'readOnly' | 'revision' | 'catalogue' | 'doc'>): void {
  setState({ ...start, window: getState().window, ...loaded, kinds: new Kinds(loaded.catalogue), base: loaded.doc, graph: loaded.doc.head.root });
}

/** Does an edit and puts it into the history. Ids that are gone leave the selection. */
export function commit(title: string, edit: Edit, select?: readonly Id[]): void {
  const state = getState();
  if (edit.steps.length === 0) {
    setState({ preview: undefined, moving: undefined });
    return;
  }
  const doc = apply(state.doc, edit);
  const after = (select ?? state.selection).filter((id) => exists(doc, id));
  const entry: Entry = { title, edit, before: state.selection, after, graph: state.graph };
  setState({ doc, past: [...state.past, entry], future: [], selection: after, preview: undefined, moving: undefined, outlines: undefined });
}

export const exists = (doc: Doc, id: Id): boolean => doc.nodes.has(id) || doc.frames.has(id) || doc.wires.has(id) || doc.notes.has(id);

function step(from: 'past' | 'future'): void {
  const state = getState();
  const entry = state[from].at(-1);
  if (!entry || state.preview) return;
  const undoing = from === 'past';
  const doc = apply(state.doc, undoing ? invert(entry.edit) : entry.edit);
  setState({
    doc,
    [from]: state[from].slice(0, -1),
    [undoing ? 'future' : 'past']: [...state[undoing ? 'future' : 'past'], entry],
    graph: doc.graphs.has(entry.graph) ? entry.graph : doc.head.root,
    selection: (undoing ? entry.before : entry.after).filter((id) => exists(doc, id)),
    moving: undefined,
    outlines: undefined,
  });
}

export const undo = (): void => step('past');
export const redo = (): void => step('future');

/** After a save: what is shown now is revision `number`. */
export function markSaved(number: number, base: Doc, title: string): void {
  setState((state) => ({ revision: number, base, title, savedAt: state.past.at(-1) }));
}

/** Replaces the document by another state of the same file: a newer revision, with or without one's own changes on top. */
export function replaceDocument(revision: number, base: Doc, mine: Edit | undefined): void {
  const state = getState();
  const doc = mine ? apply(base, mine) : base;
  const entry: Entry | undefined = mine && { title: 'Changes brought over', edit: mine, before: [], after: [], graph: state.graph };
  setState({
    revision,
    base,
    doc,
    past: entry ? [entry] : [],
    future: [],
    savedAt: undefined,
    preview: undefined,
    moving: undefined,
    graph: doc.graphs.has(state.graph) ? state.graph : doc.head.root,
    selection: state.selection.filter((id) => exists(doc, id)),
  });
}

export function select(items: readonly Id[]): void {
  setState({ selection: items });
}

/** Enters a graph, with nothing selected, and shows all of it. */
export function enterGraph(graph: Id, items: readonly Id[] = []): void {
  if (showGraph(graph, items)) lookAt(items.length > 0 ? 'selection' : 'all');
}

/** The same without moving the window. False where there is no such graph, or a preview is open. */
export function showGraph(graph: Id, items: readonly Id[]): boolean {
  const state = getState();
  if (!state.doc.graphs.has(graph) || state.preview) return false;
  setState({ graph, selection: items });
  return true;
}

export function lookAt(what: 'all' | 'selection'): void {
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
