import { Gunzip, unzipSync, zipSync } from 'fflate';
import { parseTar } from 'nanotar';
import { UnreadableFile } from '../document/unreadable.ts';
import { say } from './sentences.ts';

/** A file of an archive, with its path in it. */
export interface Entry {
  readonly path: string;
  readonly bytes: Uint8Array;
}

/** Bounds of what is unpacked: files, bytes of one, and bytes of all. */
const mostEntries = 5000;
export const mostOfOne = 64 * 1024 * 1024;
const mostOfAll = 512 * 1024 * 1024;

const mega = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;
const growsTooLarge = (what: string, most: number): UnreadableFile =>
  new UnreadableFile(say('unpacks-too-large', { what, most: mega(most) }));
/** What is said of a file that is refused before it is read. */
export const tooLarge = (what: string, size: number): UnreadableFile =>
  new UnreadableFile(say('too-large', { what, size: mega(size), most: mega(mostOfOne) }));

export const isGzip = (bytes: Uint8Array): boolean => bytes[0] === 0x1f && bytes[1] === 0x8b;
export const isZip = (bytes: Uint8Array): boolean =>
  bytes[0] === 0x50 && bytes[1] === 0x4b && (bytes[2] === 3 || bytes[2] === 5);
/** Tar says what it is behind the first name. */
export const isTar = (bytes: Uint8Array): boolean =>
  bytes.length > 512 && String.fromCharCode(...bytes.subarray(257, 262)) === 'ustar';

/** What gzip holds, unpacked as far as it may be. Throws UnreadableFile. O(bytes). */
export function gunzip(bytes: Uint8Array, most = mostOfOne): Uint8Array {
  const parts: Uint8Array[] = [];
  let size = 0;
  let isWhole = false;
  const gzip = new Gunzip((part, isLast) => {
    isWhole ||= isLast;
    size += part.length;
    if (size > most) throw growsTooLarge('the file', most);
    parts.push(part);
  });
  try {
    // in pieces, so that what grows without end is left before it has
    for (let at = 0; at < bytes.length; at += 65_536)
      gzip.push(bytes.subarray(at, at + 65_536), at + 65_536 >= bytes.length);
  } catch (error) {
    throw error instanceof UnreadableFile
      ? error
      : new UnreadableFile(say('broken', { what: 'gzip file', why: (error as Error).message }));
  }
  // a head and a sum take 18 bytes
  if (!isWhole || bytes.length < 18) throw new UnreadableFile(say('gzip-cut-short'));
  const whole = new Uint8Array(size);
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}

/** A path without what leads out of the archive. */
const safePath = (path: string): string =>
  path
    .split(/[\\/]+/)
    .filter((part) => part !== '' && part !== '.' && part !== '..')
    .join('/');

/** Files that systems put beside those of people. */
const isBeside = (path: string): boolean => path.split('/').some((part) => part.startsWith('.') || part === '__MACOSX');

/**
 * The files of a ZIP or tar archive, packed with gzip or not, by their paths; folders and hidden files are left out.
 * Throws UnreadableFile where it is broken, or larger than may be unpacked. O(bytes).
 */
export function entriesOf(bytes: Uint8Array): Entry[] {
  if (isGzip(bytes)) return entriesOf(gunzip(bytes, mostOfAll));
  const entries = isZip(bytes) ? fromZip(bytes) : fromTar(bytes);
  if (entries.length > mostEntries) throw new UnreadableFile(say('too-many-entries', { most: mostEntries }));
  return entries
    .map(({ path, bytes: own }) => ({ path: safePath(path), bytes: own }))
    .filter(({ path }) => path !== '' && !isBeside(path))
    .sort((a, b) => (a.path < b.path ? -1 : 1));
}

function fromZip(bytes: Uint8Array): Entry[] {
  let [count, sum] = [0, 0];
  try {
    // what it says of sizes is checked before anything is unpacked, and holds what is unpacked to it
    const all = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name.endsWith('/') || isBeside(safePath(name))) return false;
        if (++count > mostEntries) throw new UnreadableFile(say('too-many-entries', { most: mostEntries }));
        sum += originalSize;
        if (originalSize > mostOfOne) throw growsTooLarge(`“${name}” in the archive`, mostOfOne);
        if (sum > mostOfAll) throw growsTooLarge('the archive', mostOfAll);
        return true;
      },
    });
    return Object.entries(all).map(([path, own]) => ({ path, bytes: own }));
  } catch (error) {
    throw error instanceof UnreadableFile
      ? error
      : new UnreadableFile(say('broken', { what: 'ZIP archive', why: (error as Error).message }));
  }
}

function fromTar(bytes: Uint8Array): Entry[] {
  try {
    return parseTar(bytes).flatMap(({ name, type, data }) =>
      (type === 'file' || type === undefined) && data ? [{ path: name, bytes: data }] : [],
    );
  } catch (error) {
    throw new UnreadableFile(say('broken', { what: 'tar archive', why: (error as Error).message }));
  }
}

/** Files as a ZIP archive. O(bytes). */
export const zipOf = (entries: readonly Entry[]): Uint8Array =>
  zipSync(Object.fromEntries(entries.map(({ path, bytes }) => [path, bytes])));
