import { type Shortcuts, shortcutsSchema } from '@basitax/api/settings';
import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { create } from 'zustand';
import { api } from '../../api/client.ts';
import { usualKeys } from '../commands.ts';
import { type Bindings, bindingsOf, type Sequence, spell } from './bindings.ts';
import { universalKeys } from './universal.ts';

/** What keys are bound to now. */
export interface Keys {
  readonly bindings: Bindings;
  /** Off: only what means the same everywhere works (WCAG 2.2, 2.1.4 Character Key Shortcuts). */
  readonly on: boolean;
  /** The first key of a sequence that was begun. */
  readonly first: Sequence | undefined;
}

export const useKeys = create<Keys>(() => ({ bindings: usualKeys, on: true, first: undefined }));

const nothingOwn: Shortcuts = { on: true, keys: {} };

/** The person's own keys, from the server; usual ones until they are there. */
export function useOwnShortcuts() {
  const query = useQuery({
    queryKey: ['setting', 'shortcuts'],
    queryFn: async () => (await api.setting('shortcuts', shortcutsSchema)) ?? nothingOwn,
    staleTime: 60_000,
  });
  const own = query.data;
  useEffect(() => {
    if (own) useKeys.setState({ on: own.on, bindings: bindingsOf(usualKeys, own.keys) });
  }, [own]);
  return query;
}

/** The keys of an act as they are shown beside it: its shortest own one, or the one that is the same everywhere. */
export function keyOf(
  id: string,
  { bindings, on }: Pick<Keys, 'bindings' | 'on'> = useKeys.getState(),
): string | undefined {
  const own = on ? [...(bindings.get(id) ?? [])].sort((a, b) => a.length - b.length)[0] : undefined;
  return own === undefined ? universalKeys[id] : spell(own);
}

/** A title with the keys of the act behind it. */
export function withKey(title: string, id: string): string {
  const keys = keyOf(id);
  return keys ? `${title} (${keys})` : title;
}
