import type { Id } from '@basitax/core/document/ids';
import { create } from 'zustand';

/** What lies above the editor: at most one at a time. */
export type Opened =
  | 'save'
  | 'revisions'
  | 'palette'
  | 'find'
  | 'query'
  | 'save-view'
  /** The menu of saved views. */
  | 'views'
  | 'shortcuts'
  | { readonly operation: string }
  /** A nested node that is looked into without entering. */
  | { readonly peek: Id };

interface Dialogs {
  readonly opened: Opened | undefined;
  /** What was closed last leads to the canvas, whatever had the focus before. */
  readonly toCanvas: boolean;
}

export const useDialogs = create<Dialogs>(() => ({ opened: undefined, toCanvas: false }));

export const openDialog = (opened: Opened): void => useDialogs.setState((state) => (state.opened === undefined || typeof state.opened === 'object' ? { opened } : state));
export const closeDialog = (): void => useDialogs.setState({ opened: undefined, toCanvas: false });

/** Closes what is open and gives the keyboard to the canvas: for what goes to a place, or selects. */
export const closeToCanvas = (): void => useDialogs.setState({ opened: undefined, toCanvas: true });

/** Gives the keyboard to the canvas, where it acts. */
export const focusCanvas = (): void => document.querySelector<HTMLElement>('[data-canvas]')?.focus({ preventScroll: true });
