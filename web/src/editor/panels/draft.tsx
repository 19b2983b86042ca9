import { type ReactNode, useRef } from 'react';
import { TextInput } from '../../ui/controls.tsx';
import { useDraft } from '../../ui/use-draft.ts';

interface DraftProps {
  readonly value: string;
  readonly locked: boolean;
  readonly onTake: (value: string) => Promise<void>;
  readonly mono?: boolean;
  /** Where no label stands around it. */
  readonly label?: string;
  /** Shown where the value is empty: what is there instead. */
  readonly placeholder?: string | undefined;
  /** Several lines: Enter begins another one, Ctrl+Enter takes it. */
  readonly long?: boolean;
}

/** A field that is taken with Enter or on leaving, and given back with Escape. */
export function Draft({ value, locked, onTake, mono, label, placeholder, long }: DraftProps): ReactNode {
  const [text, setText] = useDraft(value);
  const latest = useRef(value);
  latest.current = value;
  const take = async (): Promise<void> => {
    if (text === latest.current) return;
    await onTake(text);
    // what was refused does not stay in the field as if it had been taken
    setTimeout(() => setText(latest.current), 0);
  };
  const field = {
    'aria-label': label,
    placeholder,
    value: text,
    readOnly: locked,
    onBlur: () => void take(),
  };
  if (long) {
    return (
      <textarea
        {...field}
        rows={4}
        className={`min-w-0 resize-y rounded-sm border border-edge bg-ticket px-2 py-1 text-sm text-ink ${mono ? 'font-mono' : ''}`}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void take();
          if (event.key === 'Escape') setText(value);
        }}
      />
    );
  }
  return (
    <TextInput
      {...field}
      className={mono ? 'font-mono' : ''}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') void take();
        if (event.key === 'Escape') setText(value);
      }}
    />
  );
}
