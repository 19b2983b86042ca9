import { must } from '@basitax/core/must';
import type { Operation } from '@basitax/core/operation';
import type { Sequence } from './shortcuts/bindings.ts';
import type { Editing } from './store.ts';

/** A group of acts with the key that begins their sequences. */
export interface Area {
  readonly id: Operation['area'] | 'inspect' | 'go' | 'app';
  readonly title: string;
  readonly key: string;
}

export const areas: readonly Area[] = [
  { id: 'arrange', title: 'Arrange', key: 'a' },
  { id: 'wire', title: 'Wire', key: 'w' },
  { id: 'edit', title: 'Edit', key: 'e' },
  { id: 'frame', title: 'Frame', key: 'f' },
  { id: 'link', title: 'Link', key: 'l' },
  { id: 'select', title: 'Select', key: 's' },
  { id: 'inspect', title: 'Inspect', key: 'q' },
  { id: 'view', title: 'View', key: 'v' },
  { id: 'go', title: 'Go', key: 'g' },
  { id: 'app', title: 'Application', key: 'b' },
];
export const areaOf = new Map(areas.map((area) => [area.id, area]));

/**
 * Something that can be done by name or by key: an operation of the registry, or something that the application does.
 */
export interface Command {
  readonly id: string;
  readonly title: string;
  readonly about: string;
  readonly area: Area;
  readonly keys: readonly Sequence[];
  /** Why it cannot be done now; undefined where it can. */
  dim(state: Editing): string | undefined;
  run(): void;
}

/** A command that the application adds to those of the registry. */
export const own = (
  area: Area['id'],
  id: string,
  title: string,
  about: string,
  keys: readonly Sequence[],
  run: () => void,
  dim: Command['dim'] = () => undefined,
): Command => ({
  id,
  title,
  about,
  area: must(areaOf.get(area)),
  keys,
  dim,
  run,
});

// Why not now, as a sentence, or undefined.

export const someSelected = (state: Editing): string | undefined =>
  state.selection.length > 0 ? undefined : 'Select something first.';
