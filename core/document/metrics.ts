import { must } from '../must.ts';
import bold from './fonts/bold.json' with { type: 'json' };
import mono from './fonts/mono.json' with { type: 'json' };
import regular from './fonts/regular.json' with { type: 'json' };

/** The shipped fonts. Drawing switches kerning and ligatures off, so that a width is the sum of its advances. */
export type Face = 'regular' | 'bold' | 'mono';

const missing = 1000;
const tableSize = 0x3000;
const tables: Record<Face, Float64Array> = { regular: flat(regular), bold: flat(bold), mono: flat(mono) };

function flat(widths: Record<string, number>): Float64Array {
  const table = new Float64Array(tableSize).fill(-1);
  for (const [code, width] of Object.entries(widths)) if (Number(code) < tableSize) table[Number(code)] = width;
  return table;
}

/** True where the shipped font has the sign; what it lacks is drawn at a fixed width of one em. */
export function hasGlyph(face: Face, code: number): boolean {
  return code < tableSize && (tables[face][code] ?? -1) >= 0;
}

/** Width of one sign in thousandths of the size. */
function advance(table: Float64Array, code: number): number {
  const width = code < tableSize ? must(table[code]) : -1;
  return width < 0 ? missing : width;
}

const isSurrogate = (unit: number): boolean => unit >= 0xd800 && unit < 0xe000;

/** Width of a text in pixels at `size` pixels, not rounded. O(length). */
export function textWidth(text: string, face: Face, size: number): number {
  const table = tables[face];
  let sum = 0;
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (isSurrogate(unit)) {
      const code = text.codePointAt(i) ?? 0;
      if (code > 0xffff) i++;
      sum += advance(table, code);
    } else sum += advance(table, unit);
  }
  return (sum * size) / 1000;
}

/** The text itself where it fits into `most` pixels, else its longest beginning that fits with an ellipsis. */
export function ellipsis(text: string, face: Face, size: number, most: number): string {
  if (textWidth(text, face, size) <= most) return text;
  const room = most - textWidth('…', face, size);
  let sum = 0;
  let kept = '';
  for (const sign of text) {
    sum += textWidth(sign, face, size);
    if (sum > room) break;
    kept += sign;
  }
  return `${kept.trimEnd()}…`;
}

/**
 * The text itself where it fits into `most` pixels, else its beginning and its end with an ellipsis between: names of
 * one shot or scene begin alike and differ at their ends, so the end gets two thirds. O(length).
 */
export function middleEllipsis(text: string, face: Face, size: number, most: number): string {
  if (textWidth(text, face, size) <= most) return text;
  const room = most - textWidth('…', face, size);
  const signs = [...text];
  let [from, to, sum] = [0, signs.length, 0];
  let head = 0;
  while (from < to) {
    const isHead = head < sum / 3;
    const width = textWidth(isHead ? must(signs[from]) : must(signs[to - 1]), face, size);
    if (sum + width > room) break;
    sum += width;
    if (isHead) {
      head += width;
      from++;
    } else to--;
  }
  return `${signs.slice(0, from).join('')}…${signs.slice(to).join('')}`;
}
