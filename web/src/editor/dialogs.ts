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
  | 'shortcuts'
  | { readonly operation: string }
  /** A nested node that is looked into without entering. */
  | { readonly peek: Id };

export const useDialogs = create<{ readonly opened: Opened | undefined }>(() => ({ opened: undefined }));

export const openDialog = (opened: Opened): void => useDialogs.setState((state) => (state.opened === undefined || typeof state.opened === 'object' ? { opened } : state));
export const closeDialog = (): void => useDialogs.setState({ opened: undefined });
