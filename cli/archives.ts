import { existsSync, readFileSync, statSync } from 'node:fs';
import { dirname } from 'node:path';
import { UnreadableFile } from '@basitax/core/document/unreadable';
import { type Entry, entriesOf } from '@basitax/core/formats/archive';
import { isGraphName } from '@basitax/core/formats/endings';
import { isArchiveName } from '@basitax/core/formats/import-place';
import { Unusable } from './command.ts';

// Files of archives are named by paths that go on behind the archive: shots.zip/act 1/ebb.gv.

export const isArchive = (path: string): boolean => isArchiveName(path) && existsSync(path) && statSync(path).isFile();
/** Is it the name of an archive that we write? */
export const isZipName = (path: string): boolean => /\.zip$/i.test(path);

const opened = new Map<string, readonly Entry[]>();

/** What an archive holds, unpacked once. Throws Unusable where it is broken or too large. */
function entriesIn(archive: string): readonly Entry[] {
  const known = opened.get(archive);
  if (known) return known;
  try {
    const entries = entriesOf(readFileSync(archive));
    opened.set(archive, entries);
    return entries;
  } catch (error) {
    if (error instanceof UnreadableFile) throw new Unusable(`${archive}: ${error.message}`);
    throw error;
  }
}

/** The graphs in an archive, as paths. Throws Unusable where there are none. */
export function graphsInArchive(archive: string): string[] {
  const paths = entriesIn(archive).map((entry) => entry.path);
  const graphs = paths.filter(isGraphName);
  if (graphs.length === 0) throw new Unusable(`${archive}: none of its ${paths.length} files is called like a graph.`);
  return graphs.map((path) => `${archive}/${path}`);
}

/** The archive that a path goes into, and the path in it; undefined where it goes into none. */
export function inArchive(path: string): { readonly archive: string; readonly inner: string } | undefined {
  for (let outer = dirname(path); outer !== dirname(outer); outer = dirname(outer))
    if (isArchive(outer)) return { archive: outer, inner: path.slice(outer.length + 1) };
  return undefined;
}

/** What a file of an archive holds; undefined where the path goes into none, or to nothing. */
export function bytesInArchive(path: string): Uint8Array | undefined {
  const found = existsSync(path) ? undefined : inArchive(path);
  return found && entriesIn(found.archive).find((entry) => entry.path === found.inner)?.bytes;
}
