import { UnreadableFile } from '../document/unreadable.ts';
import { entriesOf, gunzip, isGzip, isTar, isZip, mostOfOne, tooLarge } from './archive.ts';
import { isGraphName, readEndings } from './endings.ts';
import { say } from './sentences.ts';

// of the Encoding standard, which browsers and Node both have; core is given the types of neither
declare const TextDecoder: new (
  label: string,
  options?: { readonly fatal: boolean },
) => { decode(bytes: Uint8Array): string };

/** The text of a file, and what it was found in. */
export interface Decoded {
  readonly text: string;
  /** Its name, without what packing put behind it; the name of the one file of an archive. */
  readonly name: string;
  /** The encoding, where it is not UTF-8. */
  readonly encoding?: string;
}

/** What binary files begin with, and what to say of them. */
const binary = [
  [[0x89, 0x50, 0x4e, 0x47], 'is-png'],
  [[0xff, 0xd8, 0xff], 'is-jpeg'],
  [[0x47, 0x49, 0x46, 0x38], 'is-gif'],
  [[0x25, 0x50, 0x44, 0x46], 'is-pdf'],
  [[0xd0, 0xcf, 0x11, 0xe0], 'is-old-office'],
  [[0x53, 0x51, 0x4c, 0x69], 'is-sqlite'],
  [[0x42, 0x5a, 0x68], 'is-bzip2'],
  [[0xfd, 0x37, 0x7a, 0x58], 'is-xz'],
  [[0x37, 0x7a, 0xbc, 0xaf], 'is-7z'],
] as const;

/**
 * The text of a file, whatever it is encoded in or packed with: UTF-8, UTF-16 by its mark or its zeros, what XML declares,
 * else Windows Latin; gzip, and archives that hold one graph. Throws UnreadableFile with what the file is, and what to do,
 * where it is no text. O(bytes).
 */
export function decodeFile(bytes: Uint8Array, name: string): Decoded {
  if (isGzip(bytes)) {
    const inner = gunzip(bytes);
    return isTar(inner) ? oneOf(inner, name) : decodeFile(inner, name.replace(/\.gz$/i, ''));
  }
  if (isZip(bytes) || isTar(bytes)) return oneOf(bytes, name);
  if (bytes.length > mostOfOne) throw tooLarge('the file', bytes.length);
  for (const [head, code] of binary)
    if (head.every((byte, i) => bytes[i] === byte)) throw new UnreadableFile(say(code));
  const decode = (label: string, fatal = true): string => new TextDecoder(label, { fatal }).decode(bytes);
  const wide = wideOf(bytes);
  if (wide)
    return { text: decode(wide, false), name, encoding: wide === 'utf-16le' ? 'UTF-16' : 'UTF-16, big end first' };
  if (bytes.subarray(0, 4096).includes(0)) throw new UnreadableFile(say('not-text'));
  try {
    return { text: decode('utf-8'), name };
  } catch {
    // what is no UTF-8 may say what it is; most that does not is Windows Latin, which holds Latin-1
    const declared = /^(?:\uFEFF)?<\?xml[^>]*\sencoding=["']([\w.-]+)["']/.exec(
      String.fromCharCode(...bytes.subarray(0, 200)),
    )?.[1];
    for (const label of [declared, 'windows-1252']) {
      if (label === undefined || /^utf-?8$/i.test(label)) continue;
      try {
        return { text: decode(label), name, encoding: label === 'windows-1252' ? 'Windows Latin (1252)' : label };
      } catch (error) {
        if (!(error instanceof RangeError) && !(error instanceof TypeError)) throw error;
      }
    }
    throw new UnreadableFile(say('unknown-encoding'));
  }
}

/** UTF-16 by its mark, or by the zeros that Latin letters have in it. */
function wideOf(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | undefined {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const [first, second, third, fourth] = bytes;
  if (first && second === 0 && third && fourth === 0) return 'utf-16le';
  return first === 0 && second && third === 0 && fourth ? 'utf-16be' : undefined;
}

/** The one graph that an archive holds. */
function oneOf(bytes: Uint8Array, name: string): Decoded {
  const all = entriesOf(bytes);
  if (all.some(({ path }) => path === '[Content_Types].xml')) throw new UnreadableFile(say('is-office'));
  // among others only what says more than .json counts; alone that may be a graph too
  const telling = all.filter(({ path }) => isGraphName(path));
  const graphs =
    telling.length > 0
      ? telling
      : all.filter(({ path }) => readEndings.some((ending) => path.toLowerCase().endsWith(ending)));
  const [only] = graphs;
  if (graphs.length === 1 && only) return decodeFile(only.bytes, only.path.split('/').at(-1) ?? only.path);
  throw new UnreadableFile(
    graphs.length === 0
      ? say('archive-without-graph', { name, files: all.length, endings: readEndings.slice(0, 6) })
      : say('archive-of-graphs', { name, graphs: graphs.length }),
  );
}
