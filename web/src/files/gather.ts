import { isGraphName, readEndings } from '@basitax/core/formats/endings';
import { isArchiveName, pathInArchive } from '@basitax/core/formats/import-place';

/** A file that is to be imported, with its path where it comes with a folder or an archive. */
export interface Gathered {
  readonly name: string;
  readonly content: Blob;
  /** Its path in the folder or archive, with that of the archive before it; empty where it comes by itself. */
  readonly path: string;
}

/** What was handed over: what is to be imported, and what cannot be. */
export interface Gathering {
  readonly files: readonly Gathered[];
  /** Archives that could not be unpacked, with the reason. */
  readonly problems: readonly { readonly name: string; readonly problem: string }[];
  /** Files within folders and archives that are not called like a graph. */
  readonly others: number;
}

/** Endings of the files that the list of files takes: graphs, packed graphs, and archives. */
export const importEndings: readonly string[] = [...readEndings, '.gz', '.zip', '.tar', '.tgz'];

type Unpacked = { readonly entries: readonly { path: string; bytes: Uint8Array }[] } | { readonly problem: string };

/** What an archive holds, unpacked in a worker. */
function unpack(bytes: Uint8Array): Promise<Unpacked> {
  const worker = new Worker(new URL('../work/unpack.worker.ts', import.meta.url), { type: 'module' });
  return new Promise<Unpacked>((done) => {
    worker.addEventListener('message', ({ data }: MessageEvent<Unpacked>) => done(data));
    worker.addEventListener('error', (event) =>
      done({ problem: event.message || 'the archive could not be unpacked.' }),
    );
    worker.postMessage(bytes, [bytes.buffer]);
  }).finally(() => worker.terminate());
}

/** A file with the path that it has in the folder that was handed over; empty where it was chosen by itself. */
export interface Handed {
  readonly file: File;
  readonly path: string;
}

/** Takes folders and archives apart: each graph in them by itself, with its path. */
export async function gather(handed: readonly Handed[]): Promise<Gathering> {
  const files: Gathered[] = [];
  const problems: { name: string; problem: string }[] = [];
  let others = 0;
  for (const { file, path } of handed) {
    if (isArchiveName(file.name)) {
      const made = await unpack(new Uint8Array(await file.arrayBuffer()));
      if ('problem' in made) {
        problems.push({ name: path || file.name, problem: made.problem });
        continue;
      }
      for (const { path: inner, bytes } of made.entries) {
        if (!isGraphName(inner)) {
          others++;
          continue;
        }
        files.push({
          name: inner.split('/').at(-1) ?? inner,
          content: new Blob([bytes as Uint8Array<ArrayBuffer>]),
          path: pathInArchive(path || file.name, inner),
        });
      }
    } else if (path === '' || isGraphName(path)) files.push({ name: file.name, content: file, path });
    else others++;
  }
  return { files, problems, others };
}

/** The files of what was dropped, folders walked through. */
export async function droppedFiles(items: DataTransferItemList, plain: readonly File[]): Promise<Handed[]> {
  const entries = [...items].map((item) => item.webkitGetAsEntry?.() ?? null);
  if (!entries.some((entry) => entry?.isDirectory)) return plain.map((file) => ({ file, path: '' }));
  const found: Handed[] = [];
  const walk = async (entry: FileSystemEntry, isTop: boolean): Promise<void> => {
    if (entry.name.startsWith('.')) return;
    if (entry.isFile) {
      const file = await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail));
      found.push({ file, path: isTop ? '' : entry.fullPath.replace(/^\//, '') });
      return;
    }
    const reader = (entry as FileSystemDirectoryEntry).createReader();
    // a browser gives a hundred at a time
    for (;;) {
      const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
      if (some.length === 0) break;
      for (const one of some) await walk(one, false);
    }
  };
  for (const entry of entries) if (entry) await walk(entry, true);
  return found;
}
