import type { Face } from '../document/metrics.ts';
import { must } from '../must.ts';

const escapes: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  "'": '&#39;',
};
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is to go
const unwritable = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g;

/** Text as XML and HTML take it; characters that XML 1.0 has no place for are left out. */
export const escaped = (text: string): string =>
  text.replace(unwritable, '').replace(/[&<>"']/g, (character) => must(escapes[character]));

/** A length as it is written: to a hundredth. */
export const short = (value: number): string => String(Math.round(value * 100) / 100);

/** The fonts that are meant, where they are not in the file: what a reader has instead is not far off. */
export const families: Readonly<Record<Face, string>> = {
  regular: `font-family="Atkinson Hyperlegible, Verdana, sans-serif"`,
  bold: `font-family="Atkinson Hyperlegible, Verdana, sans-serif" font-weight="700"`,
  mono: `font-family="Atkinson Hyperlegible Mono, monospace"`,
};
