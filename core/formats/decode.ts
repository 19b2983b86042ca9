import { mayBeLatin1 } from './formats.ts';

// of the Encoding standard, which browsers and Node both have; core is given the types of neither
declare const TextDecoder: new (
  label: string,
  options?: { readonly fatal: boolean },
) => { decode(bytes: Uint8Array): string };

/** The text of a file: UTF-8, or Latin-1 in formats that may be; undefined where it is neither. O(bytes). */
export function decodeFile(bytes: Uint8Array, fileName: string): string | undefined {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return mayBeLatin1(fileName) ? new TextDecoder('latin1').decode(bytes) : undefined;
  }
}
