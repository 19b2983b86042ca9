import { type ReactNode, useEffect, useRef, useState } from 'react';
import { TextInput } from '../../ui/controls.tsx';

/** A field that is taken with Enter or on leaving, and given back with Escape. */
export function Draft({ value, locked, onTake, mono }: { value: string; locked: boolean; onTake: (value: string) => Promise<void>; mono?: boolean }): ReactNode {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const latest = useRef(value);
  latest.current = value;
  const take = async (): Promise<void> => {
    if (text === latest.current) return;
    await onTake(text);
    // what was refused does not stay in the field as if it had been taken
    setTimeout(() => setText(latest.current), 0);
  };
  return (
    <TextInput
      className={mono ? 'font-mono' : ''}
      value={text}
      readOnly={locked}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => void take()}
      onKeyDown={(event) => {
        if (event.key === 'Enter') void take();
        if (event.key === 'Escape') setText(value);
      }}
    />
  );
}
