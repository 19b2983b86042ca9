import type { FileInfo } from '@basitax/api/files';
import { byName } from '@basitax/core/words';

// Which files are shown, and in which order: all of them are here, so that each letter typed is answered at once.

export const sorts = {
  title: 'Title',
  changed: 'Last change',
  readability: 'Readability, worst first',
  findings: 'Findings, most first',
  size: 'Size, largest first',
} as const;
export type Sort = keyof typeof sorts;

/** What is asked for. Without a project all are shown, and of a folder all that lies below it. */
export interface Wanted {
  readonly project?: string | undefined;
  readonly folder: string;
  readonly tags: readonly string[];
  readonly text: string;
  readonly sort: Sort;
}

const lies = (folder: string, within: string): boolean =>
  within === '' || folder === within || folder.startsWith(`${within}/`);

const byTitle = (a: FileInfo, b: FileInfo): number => byName(a.title, b.title);
/** Errors before warnings before the rest; files that nobody has asked about come last. */
const weight = ({ head: { findings } }: FileInfo): number =>
  findings ? findings.error * 1e8 + findings.warning * 1e4 + findings.info : -1;
const scoreOf = ({ head }: FileInfo): number => head.measures.score ?? 101;

const orders: Readonly<Record<Sort, (a: FileInfo, b: FileInfo) => number>> = {
  title: byTitle,
  changed: (a, b) => (a.head.createdAt < b.head.createdAt ? 1 : a.head.createdAt > b.head.createdAt ? -1 : 0),
  readability: (a, b) => scoreOf(a) - scoreOf(b),
  findings: (a, b) => weight(b) - weight(a),
  size: (a, b) => b.head.measures.nodes - a.head.measures.nodes,
};

/** The files that are asked for, in order, of those that fit the query. O(n log n). */
export function listed<F extends FileInfo>(
  files: readonly F[],
  { project, folder, tags, sort }: Omit<Wanted, 'text'>,
  fits: (file: F) => boolean,
): F[] {
  return files
    .filter((file) => {
      if (project !== undefined && (file.project !== project || !lies(file.folder, folder))) return false;
      return tags.every((tag) => file.tags.includes(tag)) && fits(file);
    })
    .sort((a, b) => orders[sort](a, b) || byTitle(a, b));
}

/** A folder, with how many files lie in it and below. */
export interface Folder {
  readonly path: string;
  readonly name: string;
  readonly depth: number;
  readonly count: number;
}

/** The folders of a project, each after the one that it lies in. */
export function foldersOf(files: readonly FileInfo[], project: string): Folder[] {
  const counts = new Map<string, number>();
  for (const file of files) {
    if (file.project !== project || file.folder === '') continue;
    const names = file.folder.split('/');
    for (let i = 1; i <= names.length; i++) {
      const path = names.slice(0, i).join('/');
      counts.set(path, (counts.get(path) ?? 0) + 1);
    }
  }
  const order = (path: string): string => path.replaceAll('/', '\u0000');
  return [...counts]
    .sort(([a], [b]) => (order(a) < order(b) ? -1 : 1))
    .map(([path, count]) => ({
      path,
      count,
      name: path.slice(path.lastIndexOf('/') + 1),
      depth: path.split('/').length,
    }));
}

/** All tags, with how many files have each. */
export function tagsOf(files: readonly FileInfo[]): { readonly tag: string; readonly count: number }[] {
  const counts = new Map<string, number>();
  for (const file of files) for (const tag of file.tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].sort(([a], [b]) => a.localeCompare(b, 'en')).map(([tag, count]) => ({ tag, count }));
}
