import { type Face, textWidth } from '../document/metrics.ts';
import bold from './letters/bold.json' with { type: 'json' };
import mono from './letters/mono.json' with { type: 'json' };
import regular from './letters/regular.json' with { type: 'json' };
import type { Shape } from './shapes.ts';
import { escaped, families, short } from './svg-words.ts';

/** The outlines of the shipped fonts, in thousandths of the size, by code point. */
const letters: Readonly<Record<Face, Readonly<Record<string, string>>>> = { regular, bold, mono };

/** A piece of a text: letters that have an outline, or a run of others, each with its left end in thousandths. */
type Piece =
  | { readonly code: number; readonly x: number }
  | { readonly text: string; readonly x: number; readonly width: number };

function piecesOf(text: string, face: Face): Piece[] {
  const pieces: Piece[] = [];
  let x = 0;
  let other = '';
  let from = 0;
  const close = (): void => {
    if (other.trim() !== '') pieces.push({ text: other, x: from, width: x - from });
    other = '';
  };
  for (const letter of text) {
    const code = letter.codePointAt(0) ?? 0;
    const isKnown = letters[face][code] !== undefined;
    if (isKnown) {
      close();
      if (letters[face][code] !== '') pieces.push({ code, x });
    } else {
      if (other === '') from = x;
      other += letter;
    }
    x += textWidth(letter, face, 1000);
  }
  close();
  return pieces;
}

/**
 * Texts of a picture as outlines of the shipped fonts, so that any renderer draws them as wide as they were measured,
 * whatever fonts it has. Each letter and each text is there once. What the fonts lack stays text, pressed into the width
 * that it was given. O(text).
 */
export class LetterOutlines {
  private readonly used = new Map<string, string>();
  private readonly texts = new Map<string, { readonly id: string; readonly inside: string }>();

  /** A text where it is to stand. */
  of(shape: Extract<Shape, { type: 'text' }>): string {
    const { text, face, size, anchor, color } = shape;
    if (text.trim() === '') return '';
    const width = anchor === undefined ? 0 : textWidth(text, face, size);
    const left = anchor === 'end' ? shape.x - width : anchor === 'middle' ? shape.x - width / 2 : shape.x;
    const scale = Math.round(size * 1000) / 1e6;
    return `<use xlink:href="#${this.text(text, face)}" transform="translate(${short(left)} ${short(shape.y)}) scale(${scale})" fill="${color}" role="img" aria-label="${escaped(text)}"/>`;
  }

  private text(text: string, face: Face): string {
    const key = `${face} ${text}`;
    const known = this.texts.get(key);
    if (known) return known.id;
    const id = `t${this.texts.size + 1}`;
    const inside = piecesOf(text, face)
      .map((piece) =>
        'code' in piece
          ? `<use xlink:href="#${this.letter(piece.code, face)}"${piece.x === 0 ? '' : ` x="${short(piece.x)}"`}/>`
          : `<text x="${short(piece.x)}" ${families[face]} font-size="1000" textLength="${short(piece.width)}" lengthAdjust="spacingAndGlyphs">${escaped(piece.text)}</text>`,
      )
      .join('');
    this.texts.set(key, { id, inside });
    return id;
  }

  private letter(code: number, face: Face): string {
    const id = `${face.slice(0, 1)}${code.toString(36)}`;
    if (!this.used.has(id)) this.used.set(id, letters[face][code] ?? '');
    return id;
  }

  /** What all texts are made of, to stand before them. */
  definitions(): string {
    if (this.texts.size === 0) return '';
    const paths = [...this.used].map(([id, d]) => `<path id="${id}" d="${d}"/>`).join('');
    const groups = [...this.texts.values()].map(({ id, inside }) => `<g id="${id}">${inside}</g>`).join('\n');
    return `<defs>${paths}\n${groups}</defs>`;
  }
}
