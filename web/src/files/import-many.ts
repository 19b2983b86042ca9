import type { importedSchema } from '@basitax/api/files';
import { importPlace } from '@basitax/core/formats/import-place';
import { must } from '@basitax/core/must';
import type { z } from 'zod';
import { create } from 'zustand';
import { api } from '../api/client.ts';
import { gather, type Handed } from './gather.ts';
import { askAboutTables } from './table-asking.ts';

type Imported = z.output<typeof importedSchema>;

/** What has become of one of the files that were handed over. */
export interface Row {
  readonly name: string;
  readonly imported?: Imported;
  readonly problem?: string;
  /** Why it was not read by itself. */
  readonly left?: string;
}

interface Import {
  /** Undefined while none is going on or told of. */
  readonly rows: readonly Row[] | undefined;
  readonly isRunning: boolean;
  /** Files of folders and archives that are not called like a graph. */
  readonly others: number;
}

export const useImport = create<Import>(() => ({ rows: undefined, isRunning: false, others: 0 }));
let abort = new AbortController();

/** How many are on their way at once: the server reads them side by side. */
const atOnce = 2;

/**
 * Imports files, folders and archives into a folder of a project, each graph by itself: one that cannot be read keeps no
 * other out. Resolves when all are done.
 */
export async function importMany(
  handed: readonly Handed[],
  place: { project?: string; folder?: string },
): Promise<void> {
  if (useImport.getState().isRunning) return;
  abort = new AbortController();
  const { signal } = abort;
  useImport.setState({ rows: handed.map(({ file }) => ({ name: file.name })), isRunning: true, others: 0 });
  const { files, problems, others } = await gather(handed);
  const { planned, left, stopped } = await askAboutTables(files);
  if (stopped) {
    useImport.setState({ rows: undefined, isRunning: false });
    return;
  }
  useImport.setState({ rows: [...files.map(({ name, path }) => ({ name: path || name })), ...problems], others });
  const put = (i: number, row: Partial<Row>): void =>
    useImport.setState(({ rows }) => ({ rows: rows?.map((one, k) => (k === i ? { ...one, ...row } : one)) }));
  let next = 0;
  const work = async (): Promise<void> => {
    while (next < files.length) {
      const i = next++;
      if (signal.aborted || left.has(i)) {
        put(i, { left: left.get(i) ?? 'left out' });
        continue;
      }
      try {
        const { name, content, path } = must(files[i]);
        const where = { ...place, ...importPlace(path, place.folder) };
        const table = planned.get(i);
        put(i, {
          imported: table
            ? await api.uploadTable({ name, ...where, ...table }, signal)
            : await api.upload(name, content, where, signal),
        });
      } catch (error) {
        put(i, signal.aborted ? { left: 'left out' } : { problem: (error as Error).message });
      }
    }
  };
  await Promise.all(Array.from({ length: atOnce }, work));
  useImport.setState({ isRunning: false });
}

/** Ends it: what is in stays in, what is not is left out. */
export const cancelImport = (): void => abort.abort();
export const closeImport = (): void => useImport.setState({ rows: undefined });
