import type { EditorState } from './store.ts';

// The one place that says whether this person may change anything now, as a sentence or undefined. What one act needs
// beside it is said with the act.

type Asked = Pick<EditorState, 'readOnly' | 'preview'>;

export const whyInPreview = ({ preview }: Pick<Asked, 'preview'>): string | undefined =>
  preview ? 'Apply or cancel the preview first.' : undefined;

export const whyNoEdit = (state: Asked): string | undefined => state.readOnly ?? whyInPreview(state);

export const mayEdit = (state: Asked): boolean => whyNoEdit(state) === undefined;

/** The same where nothing may be running either. */
export const whyNoAct = (state: Asked & Pick<EditorState, 'job'>): string | undefined =>
  whyNoEdit(state) ?? (state.job ? 'Wait for what is running, or cancel it.' : undefined);

/** Why nothing can be saved now. */
export const whyNoSave = (state: Pick<EditorState, 'readOnly' | 'saving'>, isDirty: boolean): string | undefined =>
  state.readOnly ??
  (state.saving ? 'It is being saved.' : isDirty ? undefined : 'Nothing has changed since the last revision.');
