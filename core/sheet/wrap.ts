import { ellipsis, type Face, textWidth } from '../document/metrics.ts';

/**
 * Text as lines that fit a width; a word that is longer than a line is cut. Line breaks of the text are kept.
 * O(length).
 */
export function wrapped(text: string, face: Face, size: number, width: number): string[] {
  const lines: string[] = [];
  for (const paragraph of text.split('\n')) {
    let line = '';
    for (const word of paragraph.split(/\s+/).filter(Boolean)) {
      const longer = line === '' ? word : `${line} ${word}`;
      if (line !== '' && textWidth(longer, face, size) > width) {
        lines.push(ellipsis(line, face, size, width));
        line = word;
      } else line = longer;
    }
    lines.push(ellipsis(line, face, size, width));
  }
  return lines;
}

/** Markdown without its signs. */
export const plainText = (text: string): string => text.replace(/^\s*(?:#+|[-*>])\s+/gm, '').replace(/[*_`]/g, '');
