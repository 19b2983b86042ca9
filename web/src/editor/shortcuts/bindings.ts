import { must } from '@basitax/core/must';
/** One key, or the key of an area and then that of an act, with a space between. */
export type Sequence = string;

/** Keys by act. */
export type Bindings = ReadonlyMap<string, readonly Sequence[]>;

/** What means the same everywhere, and is therefore not to be had. */
const universal = new Set([
  'Escape',
  'Enter',
  'Tab',
  'Delete',
  'Backspace',
  'Space',
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Unidentified',
  'Dead',
  'Process',
]);
const modifiers = new Set([
  'Shift',
  'Control',
  'Alt',
  'Meta',
  'AltGraph',
  'CapsLock',
  'NumLock',
  'Fn',
  'Hyper',
  'Super',
  'OS',
]);

export interface KeyLike {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly altKey: boolean;
  readonly metaKey: boolean;
  getModifierState(name: string): boolean;
}

/**
 * What was pressed, by the sign that the keyboard layout gives (`event.key`), so that every layout works. Letters are
 * small, with `Shift+` where it is held; other signs have Shift in them already. Undefined for modifiers alone and for
 * commands with Ctrl, Alt or Meta.
 */
export function keyName(event: KeyLike): string | undefined {
  if (modifiers.has(event.key)) return undefined;
  // AltGr comes as Ctrl and Alt on some systems, and makes signs
  if ((event.ctrlKey || event.altKey || event.metaKey) && !event.getModifierState('AltGraph')) return undefined;
  const name = event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toLowerCase() : event.key;
  const isSign = Array.from(event.key).length === 1 && event.key.toLowerCase() === event.key.toUpperCase();
  return event.shiftKey && !isSign ? `Shift+${name}` : name;
}

export const isUniversal = (key: string): boolean => universal.has(key.replace(/^Shift\+/, ''));

/** The usual keys with a person's own in their place. */
export function bindingsOf(usual: Bindings, own: Readonly<Record<string, readonly Sequence[]>>): Bindings {
  return new Map([...usual].map(([id, keys]) => [id, Object.hasOwn(own, id) ? must(own[id]) : keys]));
}

export interface Clash {
  readonly sequence: Sequence;
  /** The acts that ask for it, or for sequences that begin with it. */
  readonly acts: readonly string[];
}

/** Sequences that two acts ask for, and single keys that would never let a longer sequence begin. O(bindings). */
export function clashes(bindings: Bindings): Clash[] {
  const asked = new Map<Sequence, string[]>();
  for (const [id, keys] of bindings) for (const key of new Set(keys)) asked.set(key, [...(asked.get(key) ?? []), id]);
  const found: Clash[] = [];
  for (const [sequence, acts] of asked) {
    const longer = sequence.includes(' ')
      ? []
      : [...asked].filter(([other]) => other.startsWith(`${sequence} `)).flatMap(([, ids]) => ids);
    if (acts.length + longer.length > 1) found.push({ sequence, acts: [...acts, ...longer] });
  }
  return found;
}

export type Pressed =
  | { readonly type: 'run'; readonly act: string }
  /** The first of two keys; the sheet shows what may follow. */
  | { readonly type: 'wait' }
  /** The second key says nothing: all is dropped, and nobody else is to act on it. */
  | { readonly type: 'cancel' }
  | { readonly type: 'none' };

/** What a key means after what was pressed before it. */
export function press(bindings: Bindings, first: string | undefined, key: string): Pressed {
  const wanted = first === undefined ? key : `${first} ${key}`;
  for (const [act, keys] of bindings) if (keys.includes(wanted)) return { type: 'run', act };
  if (first !== undefined) return { type: 'cancel' };
  const begins = [...bindings.values()].some((keys) => keys.some((sequence) => sequence.startsWith(`${key} `)));
  return begins ? { type: 'wait' } : { type: 'none' };
}

/** The acts that may follow a first key, by their second. */
export function following(bindings: Bindings, first: string): { key: string; act: string }[] {
  return [...bindings].flatMap(([act, keys]) =>
    keys
      .filter((sequence) => sequence.startsWith(`${first} `))
      .map((sequence) => ({ key: sequence.slice(first.length + 1), act })),
  );
}

/** A sequence as it is shown: letters large, as they stand on the keys. */
export function spell(sequence: Sequence): string {
  return sequence
    .split(' ')
    .map((key) =>
      key.replace(
        /^(Shift\+)?(.)$/u,
        (_, shift: string | undefined, sign: string) => `${shift ?? ''}${sign.toUpperCase()}`,
      ),
    )
    .join(' ');
}
