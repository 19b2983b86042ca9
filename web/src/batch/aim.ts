import type { BatchRun } from '@basitax/api/batches';
import type { FileAim } from '@basitax/core/batch/recipe';

/** What a batch run is started with from elsewhere: goes along with the way to its page. */
export interface Aimed {
  readonly ids: readonly string[];
}

/** Aims a batch run at files that were chosen elsewhere. */
export const aimAt = (files: readonly { readonly id: string }[]): Aimed => ({ ids: files.map((file) => file.id) });

/** The page of batch runs, aimed at what a query finds. */
export const batchOver = (query: string): string => `/batches?${new URLSearchParams({ files: query })}`;

/** The page of batch runs, aimed at files: for a link that opens another tab, which nothing else goes along with. */
export const batchOf = (files: readonly string[]): string =>
  `/batches?${new URLSearchParams(files.map((id) => ['file', id]))}`;

/** A run that is to be started once more: its recipe, title and choice of files go along. */
export interface Repeated {
  readonly repeat: Pick<BatchRun, 'id' | 'title' | 'recipe' | 'files'>;
}

export const repeatOf = ({ id, title, recipe, files }: BatchRun): Repeated => ({
  repeat: { id, title, recipe, files },
});

/** The run that the page was opened to repeat. */
export const repeatedIn = (state: unknown): Repeated['repeat'] | undefined =>
  typeof state === 'object' && state !== null && 'repeat' in state ? (state as Repeated).repeat : undefined;

const isAimed = (state: unknown): state is Aimed =>
  typeof state === 'object' && state !== null && Array.isArray((state as Partial<Aimed>).ids);

/** What the page was opened with: files that were chosen, or a query in the address. */
export function aimOf(state: unknown, search: URLSearchParams): FileAim {
  const repeated = repeatedIn(state);
  if (repeated) return repeated.files;
  const query = search.get('files') ?? '';
  const ids = isAimed(state) ? state.ids : search.getAll('file');
  return ids.length > 0 ? { query: '', ids: [...ids] } : { query };
}
