import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Face } from '@basitax/core/document/metrics';

const require = createRequire(import.meta.url);

/** The shipped fonts, by face: what is printed has the letters that the measures were made with. */
const files: Readonly<Record<Face, string>> = {
  regular: '@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin-400-normal.woff',
  bold: '@fontsource/atkinson-hyperlegible/files/atkinson-hyperlegible-latin-700-normal.woff',
  mono: '@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff',
};
export const faces = Object.keys(files) as readonly Face[];

const read = new Map<Face, Buffer>();

/** A font as it ships. */
export function fontFile(face: Face): Buffer {
  const known = read.get(face) ?? readFileSync(require.resolve(files[face]));
  read.set(face, known);
  return known;
}

/** All of them as data addresses, to be put into a page or picture. */
export const embeddedFonts = (): Record<Face, string> =>
  Object.fromEntries(
    faces.map((face) => [face, `data:font/woff;base64,${fontFile(face).toString('base64')}`]),
  ) as Record<Face, string>;
