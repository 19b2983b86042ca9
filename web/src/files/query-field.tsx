import { type FileFacts, offerFileQuery } from '@basitax/core/query/files';
import { type KeyboardEvent, type ReactNode, useId, useRef, useState } from 'react';
import { TextInput } from '../ui/controls.tsx';

/** A field for a query over files, with the words that may stand where one writes. */
export function FileQueryField({
  value,
  onChange,
  facts,
  problem,
  label,
  className,
}: {
  value: string;
  onChange: (value: string) => void;
  facts: readonly FileFacts[];
  problem: string | undefined;
  label: string;
  className?: string;
}): ReactNode {
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const [isOpen, setOpen] = useState(false);
  const [at, setAt] = useState(-1);
  const caret = input.current?.selectionStart ?? value.length;
  const offer = offerFileQuery(value.slice(0, caret), facts);
  const words = isOpen ? offer.words : [];
  const put = (text: string): void => {
    setAt(-1);
    setOpen(true);
    onChange(text);
  };
  const take = (word: string): void => {
    const rest = value.slice(caret);
    // a field goes on with its value, a value with the next word
    const end = /[:<(]$/.test(word) ? '' : ' ';
    put(`${value.slice(0, offer.from)}${word}${end}${rest.trimStart()}`);
    const place = offer.from + word.length + end.length;
    requestAnimationFrame(() => input.current?.setSelectionRange(place, place));
  };
  const keys = (event: KeyboardEvent): void => {
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      setOpen(true);
      const step = event.key === 'ArrowDown' ? 1 : -1;
      if (words.length > 0) setAt((at + step + words.length + (at < 0 && step < 0 ? 1 : 0)) % words.length);
    } else if (event.key === 'Enter' && words[at]) {
      event.preventDefault();
      take(words[at].word);
    } else if (event.key === 'Escape' && isOpen) {
      event.preventDefault();
      event.stopPropagation();
      setOpen(false);
    }
  };
  return (
    <div className={`relative ${className ?? ''}`}>
      <TextInput
        ref={input}
        role="combobox"
        aria-label={label}
        aria-expanded={words.length > 0}
        aria-controls={`${id}-words`}
        aria-activedescendant={at >= 0 ? `${id}-${at}` : undefined}
        aria-autocomplete="list"
        aria-invalid={problem !== undefined}
        aria-describedby={`${id}-problem`}
        autoComplete="off"
        spellCheck={false}
        className="w-full"
        placeholder="Find, such as tag:final readability<60 has(kind:blur)"
        value={value}
        onChange={(event) => put(event.target.value)}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onKeyDown={keys}
      />
      <span id={`${id}-problem`} className="sr-only" aria-live="polite">
        {problem}
      </span>
      {(words.length > 0 || (problem && isOpen)) && (
        <div className="absolute top-full left-0 z-20 mt-1 w-full min-w-80 rounded-sm border border-edge bg-panel text-sm shadow-md">
          {problem && (
            <p aria-hidden="true" className="border-b border-line px-2 py-1 text-xs text-warn">
              {problem}
            </p>
          )}
          {words.length > 0 && (
            <div
              role="listbox"
              id={`${id}-words`}
              aria-label="What you can type here"
              className="max-h-72 overflow-auto py-1"
            >
              {words.map(({ word, title }, i) => (
                // biome-ignore lint/a11y/useKeyWithClickEvents: the field has the keys
                <div
                  key={word}
                  id={`${id}-${i}`}
                  role="option"
                  aria-selected={i === at}
                  tabIndex={-1}
                  className={`flex cursor-pointer gap-3 px-2 py-0.5 ${i === at ? 'bg-accent-wash' : 'hover:bg-accent-wash'}`}
                  // the field keeps the cursor
                  onMouseDown={(event) => event.preventDefault()}
                  onClick={() => take(word)}
                >
                  <span className="w-32 shrink-0 truncate font-mono text-xs leading-5">{word}</span>
                  <span className="min-w-0 truncate text-soft">{title}</span>
                </div>
              ))}
            </div>
          )}
        </div>
      )}
    </div>
  );
}
