import { existsSync, readdirSync, statSync } from 'node:fs';
import { basename, extname, join, relative } from 'node:path';
import { isGraphName } from '@basitax/core/formats/endings';
import { endingOf } from '@basitax/core/formats/formats';
import { globSync } from 'tinyglobby';
import { graphsInArchive, inArchive, isArchive, isZipName } from './archives.ts';
import { Unusable } from './command.ts';
import { endingNamed, standard } from './io.ts';

/** Graphs in a folder and those within it, by name. */
function graphsIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((entry) => {
      if (entry.name.startsWith('.') || entry.name === 'node_modules') return [];
      const path = join(folder, entry.name);
      if (entry.isDirectory()) return graphsIn(path);
      return isGraphName(entry.name) ? [path] : [];
    });
}

/**
 * The files that are meant: names, folders and archives with the graphs in them, and patterns such as `shots*.graph.json`.
 * What is not there stays as it was named, so that it is told as missing.
 */
export function filesNamed(names: readonly string[]): string[] {
  return names.flatMap((name) => {
    if (name === standard) return [name];
    if (existsSync(name)) {
      if (isArchive(name)) return graphsInArchive(name);
      if (!statSync(name).isDirectory()) return [name];
      const all = graphsIn(name);
      if (all.length === 0) throw new Unusable(`${name}: there are no graphs in this folder.`);
      return all;
    }
    if (!/[*?[{]/.test(name)) return [name];
    const found = globSync(name, { expandDirectories: false }).sort();
    if (found.length === 0) throw new Unusable(`${name}: no file fits this pattern.`);
    return found;
  });
}

/** Where a file is written to: as it was said, in a folder that was named, with another ending where one was. */
export function placeFor(
  file: string,
  { output, to }: { readonly output?: string | undefined; readonly to?: string | undefined },
): string {
  const ending = to === undefined ? undefined : endingNamed(to);
  const own = ending === undefined ? file : `${stemOf(file)}${ending}`;
  const packed = inArchive(file);
  if (output === undefined) return own;
  if (output === standard) return standard;
  if (isZipName(output)) return join(output, insideOf(own, packed));
  if (!isFolder(output)) return output;
  // what comes from an archive keeps its folders
  return join(output, packed ? insideOf(own, packed) : basename(own === standard ? `output${ending ?? ''}` : own));
}

/** What a file is called in an archive: as it was in the one that it comes from, or by its path from here. */
function insideOf(file: string, packed: ReturnType<typeof inArchive>): string {
  if (packed) return file.slice(packed.archive.length + 1);
  const way = relative('.', file === standard ? 'output' : file);
  return way.startsWith('..') ? basename(way) : way;
}

export const isFolder = (path: string): boolean =>
  /[\\/]$/.test(path) || (existsSync(path) && statSync(path).isDirectory());

/** A name without the ending of its format. */
export function stemOf(file: string): string {
  return file.slice(0, file.length - (endingOf(file) ?? extname(file)).length);
}
