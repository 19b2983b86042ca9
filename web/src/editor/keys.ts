import type { KeyboardEvent } from 'react';
import { applyPreview, dropPreview, perform } from './actions.ts';
import { runCommand } from './commands.ts';
import { goalOf, letGo, putToNode, useHand } from './hand.ts';
import { redo, undo } from './history.ts';
import { isStroke, setLayout, useLayout } from './layout.ts';
import { closeNeighbourhood, moveInView } from './neighbourhood.ts';
import { keyName, press } from './shortcuts/bindings.ts';
import { useKeys } from './shortcuts/keys-store.ts';
import { enterGraph, select, useEditor, viewControl } from './store.ts';

const { getState } = useEditor;

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/**
 * Keys of the canvas. Only while it, or a node in it, has the focus; never in a field, nor while an input method
 * composes.
 */
export function onKey(event: KeyboardEvent<HTMLElement>): void {
  if (event.nativeEvent.isComposing || event.keyCode === 229 || isField(event.target) || isPressed(event)) return;
  if (sequence(event) || handle(event)) {
    event.preventDefault();
    event.stopPropagation();
  }
}

const isField = (target: EventTarget): boolean =>
  target instanceof HTMLElement && target.closest('input, textarea, select, [contenteditable="true"]') !== null;

/** Enter and Space on a button that lies over the canvas are that button’s. */
const isPressed = ({ key, target }: KeyboardEvent<HTMLElement>): boolean =>
  (key === 'Enter' || key === ' ') && target instanceof HTMLElement && target.closest('button') !== null;

/** A sequence that was begun ends when the canvas loses the focus. */
export function onLeave(): void {
  if (useKeys.getState().first !== undefined) useKeys.setState({ first: undefined });
}

/**
 * Sequences of the person's own binding. What follows a first key is always swallowed, but for commands with Ctrl, Alt
 * or Meta.
 */
function sequence(event: KeyboardEvent<HTMLElement>): boolean {
  const { on, first, bindings } = useKeys.getState();
  const key = keyName(event);
  if (!on || key === undefined) {
    if (event.ctrlKey || event.metaKey || event.altKey) onLeave();
    return false;
  }
  const pressed = press(bindings, first, key);
  useKeys.setState({ first: pressed.type === 'wait' ? key : undefined });
  if (pressed.type === 'run') runCommand(pressed.act);
  return pressed.type !== 'none';
}

function handle(event: KeyboardEvent<HTMLElement>): boolean {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (event.ctrlKey || event.metaKey) return command(key, event.shiftKey);
  if (event.altKey) return travel(key);
  const arrow = arrows[key];
  if (arrow) return nudge(arrow, event.shiftKey);
  return universal(key, event);
}

function command(key: string, shift: boolean): boolean {
  switch (key) {
    case 'z':
      shift ? redo() : undo();
      return true;
    case 'y':
      redo();
      return true;
    case 'a':
      void perform('select-all');
      return true;
    case 'd':
      void perform('duplicate', { incoming: !shift });
      return true;
    case 'f':
      runCommand('find');
      return true;
    case '0':
      runCommand('show-all');
      return true;
    default:
      return false;
  }
}

/** Back and forward, as in a browser. */
function travel(key: string): boolean {
  if (key !== 'ArrowLeft' && key !== 'ArrowRight') return false;
  runCommand(key === 'ArrowLeft' ? 'back' : 'forward');
  return true;
}

function nudge([x, y]: [number, number], isFine: boolean): boolean {
  const state = getState();
  const far = isFine ? 1 : useLayout.getState().step;
  if (state.selection.length === 0 || state.preview)
    viewControl.set({ ...state.view, x: state.view.x - x * 60, y: state.view.y - y * 60 });
  else if (!moveInView(state.selection, x * far, y * far))
    void perform('nudge', {
      direction: x > 0 ? 'right' : x < 0 ? 'left' : y > 0 ? 'down' : 'up',
      by: isFine ? 'pixel' : 'grid',
      step: useLayout.getState().step,
    });
  return true;
}

function universal(key: string, event: KeyboardEvent<HTMLElement>): boolean {
  const state = getState();
  const { node, note } = (event.target as HTMLElement).dataset;
  const focused = node ?? note;
  switch (key) {
    case 'Delete':
    case 'Backspace':
      void perform(event.shiftKey ? 'delete-with-wires' : 'delete');
      return true;
    case 'Escape':
      if (state.preview || state.job) dropPreview();
      else if (useHand.getState().inHand) letGo();
      else if (isStroke(useLayout.getState().drag)) setLayout({ drag: 'pan' });
      else if (state.selection.length > 0) select([]);
      else closeNeighbourhood();
      return true;
    case 'Enter': {
      if (state.preview) {
        applyPreview();
        return true;
      }
      const { inHand } = useHand.getState();
      const goal = goalOf(inHand, state);
      if (inHand && goal !== undefined) {
        void putToNode(inHand, goal);
        return true;
      }
      const id = focused ?? (state.selection.length === 1 ? state.selection[0] : undefined);
      const inner = id === undefined ? undefined : state.doc.nodes.get(id)?.inner;
      const isFolded = id !== undefined && state.doc.frames.get(id)?.folded === true;
      if (inner !== undefined) enterGraph(inner);
      else if (isFolded) void perform('unfold', {}, [id]);
      else if (focused) select([focused]);
      return focused !== undefined || inner !== undefined || isFolded;
    }
    case ' ':
      if (focused === undefined) return false;
      select(
        state.selection.includes(focused)
          ? state.selection.filter((id) => id !== focused)
          : [...(event.shiftKey || state.selection.length > 0 ? state.selection : []), focused],
      );
      return true;
    default:
      return false;
  }
}
