import { indexOf } from '@basitax/core/document/doc';
import type { KeyboardEvent } from 'react';
import { applyPreview, dropPreview, perform, selectAll } from './actions.ts';
import { enterGraph, lookAt, redo, select, undo, useEditor, viewControl } from './store.ts';

const { getState } = useEditor;

const isMac = navigator.platform.startsWith('Mac');
export const mod = isMac ? '⌘' : 'Ctrl+';

const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Keys of the canvas. Only while it, or a node in it, has the focus; never in a field. */
export function onKey(event: KeyboardEvent<HTMLElement>): void {
  if (event.nativeEvent.isComposing) return;
  const command = event.ctrlKey || event.metaKey;
  if (handle(event, command)) {
    event.preventDefault();
    event.stopPropagation();
  }
}

function handle(event: KeyboardEvent<HTMLElement>, command: boolean): boolean {
  const state = getState();
  const focused = (event.target as HTMLElement).dataset.node;
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (command) {
    switch (key) {
      case 'z':
        event.shiftKey ? redo() : undo();
        return true;
      case 'y':
        redo();
        return true;
      case 'a':
        selectAll();
        return true;
      case 'd':
        void perform('duplicate');
        return true;
      case '0':
        lookAt('all');
        return true;
      default:
        return false;
    }
  }
  const arrow = arrows[key];
  if (arrow) {
    const far = event.shiftKey ? 1 : 16;
    if (state.selection.length > 0 && !state.preview) void perform('move', { dx: arrow[0] * far, dy: arrow[1] * far });
    else viewControl.set({ ...state.view, x: state.view.x - arrow[0] * 60, y: state.view.y - arrow[1] * 60 });
    return true;
  }
  switch (key) {
    case 'Delete':
    case 'Backspace':
      void perform(event.shiftKey ? 'delete-with-wires' : 'delete');
      return true;
    case 'Escape':
      if (state.preview || state.job) dropPreview();
      else select([]);
      return true;
    case 'Enter': {
      if (state.preview) {
        applyPreview();
        return true;
      }
      const id = focused ?? (state.selection.length === 1 ? state.selection[0] : undefined);
      const inner = id === undefined ? undefined : state.doc.nodes.get(id)?.inner;
      if (inner !== undefined) enterGraph(inner);
      else if (focused) select([focused]);
      return focused !== undefined || inner !== undefined;
    }
    case ' ':
      if (focused === undefined) return false;
      select(
        state.selection.includes(focused) ? state.selection.filter((id) => id !== focused) : [...(event.shiftKey || state.selection.length > 0 ? state.selection : []), focused],
      );
      return true;
    case 'f':
      lookAt(state.selection.length > 0 && !event.shiftKey ? 'selection' : 'all');
      return true;
    case 'u': {
      const host = indexOf(state.doc).hostOf(state.graph);
      if (host) enterGraph(host.graph, [host.id]);
      return host !== undefined;
    }
    default:
      return false;
  }
}
