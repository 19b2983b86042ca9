import { useState } from 'react';

/**
 * What a field holds while somebody edits it; a new value from outside takes its place. That happens while rendering:
 * an effect would come after the first key that is typed into a field just shown, and undo it.
 */
export function useDraft<T extends string | number | undefined>(value: T): [draft: T, set: (draft: T) => void] {
  const [draft, setDraft] = useState(value);
  const [from, setFrom] = useState(value);
  if (from === value) return [draft, setDraft];
  setFrom(value);
  setDraft(value);
  return [value, setDraft];
}
