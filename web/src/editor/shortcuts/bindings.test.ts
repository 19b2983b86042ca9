import { describe, expect, it } from 'vitest';
import {
  type Bindings,
  bindingsOf,
  clashes,
  following,
  isUniversal,
  type KeyLike,
  keyName,
  press,
  spell,
} from './bindings.ts';

const key = (name: string, held: Partial<KeyLike> & { altGraph?: boolean } = {}): KeyLike => ({
  key: name,
  shiftKey: false,
  ctrlKey: false,
  altKey: false,
  metaKey: false,
  getModifierState: (modifier) => modifier === 'AltGraph' && held.altGraph === true,
  ...held,
});

describe('what was pressed', () => {
  it.each([
    ['a letter', key('a'), 'a'],
    ['a letter with caps lock', key('A'), 'a'],
    ['a letter with Shift', key('A', { shiftKey: true }), 'Shift+a'],
    ['a slash, wherever it lies', key('/', { shiftKey: true }), '/'],
    ['a sign made with AltGr', key('@', { ctrlKey: true, altKey: true, altGraph: true }), '@'],
    ['a letter of another alphabet', key('Ж', { shiftKey: true }), 'Shift+ж'],
    ['a named key', key('F6', { shiftKey: true }), 'Shift+F6'],
    ['the space bar', key(' '), 'Space'],
    ['Shift alone', key('Shift', { shiftKey: true }), undefined],
    ['a command', key('a', { ctrlKey: true }), undefined],
    ['a command on another system', key('a', { metaKey: true }), undefined],
  ])('%s', (_what, event, name) => {
    expect(keyName(event)).toBe(name);
  });

  it('is never one of the keys that mean the same everywhere', () => {
    for (const one of ['Escape', 'Enter', 'Tab', 'Delete', 'ArrowLeft', 'Shift+ArrowLeft', 'Space'])
      expect(isUniversal(one)).toBe(true);
    for (const one of ['a', 'F6', '/', 'Shift+a']) expect(isUniversal(one)).toBe(false);
  });
});

describe('sequences', () => {
  const bindings: Bindings = new Map([
    ['arrange', ['a w']],
    ['find', ['/', 'g f']],
    ['pin', ['a p', 'p']],
  ]);

  it('run, wait, cancel, or are nothing', () => {
    expect(press(bindings, undefined, '/')).toEqual({ type: 'run', act: 'find' });
    expect(press(bindings, undefined, 'a')).toEqual({ type: 'wait' });
    expect(press(bindings, 'a', 'w')).toEqual({ type: 'run', act: 'arrange' });
    expect(press(bindings, 'a', '/')).toEqual({ type: 'cancel' });
    expect(press(bindings, undefined, 'x')).toEqual({ type: 'none' });
    expect(following(bindings, 'a')).toEqual([
      { key: 'w', act: 'arrange' },
      { key: 'p', act: 'pin' },
    ]);
  });

  it('can be taken by a person for other acts, or away; clashes are found', () => {
    const own = bindingsOf(bindings, { pin: [], arrange: ['g f'], gone: ['q'] });
    expect(own.get('pin')).toEqual([]);
    expect(own.has('gone')).toBe(false);
    expect(clashes(own)).toEqual([{ sequence: 'g f', acts: ['arrange', 'find'] }]);
    // a single key that begins a sequence would keep it from ever being typed
    expect(clashes(bindingsOf(bindings, { pin: ['a'] }))).toEqual([{ sequence: 'a', acts: ['pin', 'arrange'] }]);
    expect(clashes(bindings)).toEqual([]);
  });

  it('are written as the keys are labelled', () => {
    expect([spell('a w'), spell('/'), spell('Shift+a'), spell('F6')]).toEqual(['A W', '/', 'Shift+A', 'F6']);
  });
});
