import type { Id } from '@basitax/core/document/ids';
import { must } from '@basitax/core/must';
import { type EditorState, exists, lookAt, showGraph, useEditor, type View, viewControl } from './store.ts';

/** What an address says beside file and revision: a graph, what is selected in it, and the window. */
export function readAddress(search: string): { graph?: Id; items: Id[]; view?: View } {
  const params = new URLSearchParams(search);
  const numbers = params.get('view')?.split(',').map(Number) ?? [];
  const [x, y, zoom] = numbers;
  const isView = numbers.length === 3 && numbers.every(Number.isFinite) && must(zoom) > 0;
  return {
    ...(params.has('graph') && { graph: must(params.get('graph')) }),
    items: params.getAll('node'),
    ...(isView && { view: { x: must(x), y: must(y), zoom: must(zoom) } }),
  };
}

const mostNodes = 40;

export function writeAddress(state: EditorState): string {
  const params = new URLSearchParams();
  if (state.graph !== state.doc.head.root) params.set('graph', state.graph);
  if (state.selection.length <= mostNodes) for (const id of state.selection) params.append('node', id);
  params.set(
    'view',
    [state.view.x, state.view.y]
      .map((n) => Math.round(n))
      .concat(Math.round(state.view.zoom * 1000) / 1000)
      .join(','),
  );
  return `?${params}`;
}

/** Goes where the address says; what is not there any more is passed over. */
export function goTo(search: string): void {
  const { graph, items, view } = readAddress(search);
  const { doc } = useEditor.getState();
  const there = items.filter((id) => exists(doc, id));
  const at = graph ?? (there[0] !== undefined ? doc.nodes.get(there[0])?.graph : undefined);
  showGraph(at ?? doc.head.root, there);
  if (view) viewControl.set(view);
  else lookAt(there.length > 0 ? 'selection' : 'all');
}

/** Keeps the address of the window true, so that it can be copied at any time. Returns a way to stop. */
export function followAddress(): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stop = useEditor.subscribe((state, before) => {
    if (state.view === before.view && state.selection === before.selection && state.graph === before.graph) return;
    clearTimeout(timer);
    timer = setTimeout(
      () => history.replaceState(history.state, '', location.pathname + writeAddress(useEditor.getState())),
      400,
    );
  });
  return () => {
    stop();
    clearTimeout(timer);
  };
}
