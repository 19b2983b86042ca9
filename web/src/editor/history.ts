import type { Conflict } from '@basitax/core/edit/rebase';
import { isAct, lastSerial } from '@basitax/core/session/history';
import { plural } from '@basitax/core/words';
import { toast } from 'sonner';
import { whyInPreview } from './may-edit.ts';
import { type Editing, type EditorState, turn, useEditor } from './store.ts';

const { getState } = useEditor;

export const whyNoUndo = (state: Editing): string | undefined =>
  whyInPreview(state) ??
  (state.past.some(isAct) ? undefined : state.floor > 0 ? 'Earlier acts are no longer kept.' : 'No acts yet.');

export const whyNoRedo = (state: Editing): string | undefined =>
  whyInPreview(state) ?? (state.future.some(isAct) ? undefined : 'Nothing was undone.');

/** Says what others have changed since, so that it could not be taken back or done again. */
function sayLeft(left: readonly Conflict[] | undefined, done: string): void {
  if (!left || left.length === 0) return;
  const things = new Set(left.map((one) => one.mine.id)).size;
  toast.warning(`${done}, except ${plural(things, 'thing')} that others have changed since. Their version stays.`, {
    duration: 7000,
  });
}

export const undo = (): void => sayLeft(turn({ type: 'undo' }), 'Undone');
export const redo = (): void => sayLeft(turn({ type: 'redo' }), 'Done again');
/** Goes to any act of the history, or to the beginning of what is kept. */
export const goToAct = (serial: number): void => sayLeft(turn({ type: 'go', to: serial }), 'Moved there');

/** Where an act stands now: it is the last one, it is there with others after it, or it is undone or forgotten. */
export function whereIs(serial: number, state: EditorState = getState()): 'last' | 'there' | 'gone' {
  if (lastSerial(state) === serial && serial > state.floor) return 'last';
  return state.past.some((entry) => isAct(entry) && entry.serial === serial) ? 'there' : 'gone';
}
