import type { Progress } from '@basitax/core/work/protocol';
import { useEditor } from './store.ts';

/**
 * Work in a worker that the person sees: its title, how far it is, and a button that ends it. One at a time: whatever
 * runs is ended for it. Gives what the work gives, and throws what it throws, Cancelled where it was ended.
 */
export async function withJob<T>(
  title: string,
  work: (options: { readonly signal: AbortSignal; readonly onProgress: (progress: Progress) => void }) => Promise<T>,
): Promise<T> {
  const { getState, setState } = useEditor;
  getState().job?.cancel();
  const abort = new AbortController();
  const cancel = (): void => abort.abort();
  const onProgress = ({ fraction, what }: Progress): void => {
    if (!abort.signal.aborted) setState({ job: { title, fraction, what, cancel } });
  };
  onProgress({ fraction: 0, what: '' });
  try {
    return await work({ signal: abort.signal, onProgress });
  } finally {
    // what came after it has a job of its own
    if (getState().job?.cancel === cancel) setState({ job: undefined });
  }
}
