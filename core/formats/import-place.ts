// Where files go that come in with a folder or an archive: the same in the browser and on the command line.

/** How long paths and folders may be that the server takes. */
const longestPath = 600;
const longestFolder = 300;

const archiveName = /\.(?:zip|tar|tgz|tar\.gz)$/i;
/** Is it called like an archive of several files? */
export const isArchiveName = (path: string): boolean => archiveName.test(path);
/** The path of a file in an archive, with the name of that before it, as if that were a folder. */
export const pathInArchive = (archive: string, inner: string): string => `${archive.replace(archiveName, '')}/${inner}`;

/**
 * What a file is known by when it comes again, and the folder that it goes into, below another one: by its path in the
 * folder or archive that it comes with, which is empty where it comes by itself.
 */
export function importPlace(path: string, below = ''): { readonly path: string; readonly folder: string } {
  const within = path.split('/').slice(0, -1);
  const folders = [below, ...within.map((name) => name.trim())].filter((name) => name !== '');
  // what is cut may end in the middle of a name, and not before one
  const folder = folders
    .join('/')
    .slice(0, longestFolder)
    .replace(/[\s/]+$/, '');
  return { path: path.slice(-longestPath), folder };
}
