import { say } from './sentences.ts';
import { UnreadableFile } from './unreadable.ts';

// Looked at before anything is parsed: what is nested without end costs parsers their stack or their time.

/** How deep what is read may be nested; far beyond what people and programs write. */
export const mostNested = { json: 100, xml: 100, dot: 100 } as const;

/** Values and names that JSON may hold, whatever its size. */
export const mostValues = 20_000_000;

const lineAt = (text: string, at: number): number => {
  let line = 1;
  for (let i = text.indexOf('\n'); i !== -1 && i < at; i = text.indexOf('\n', i + 1)) line++;
  return line;
};

/** The place behind a text in quotes that begins at `from`; the end where it is not closed. */
function behindQuotes(text: string, from: number): number {
  const quote = text.charCodeAt(from);
  for (let i = from + 1; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === 92) i++;
    else if (code === quote) return i + 1;
  }
  return text.length;
}

/**
 * Throws UnreadableFile where JSON is nested too deep, or holds more values than `most`. Whether it is JSON at all is
 * for the parser to say. O(text).
 */
export function checkJson(text: string, most = mostValues): void {
  let depth = 0;
  let values = 0;
  for (let i = 0; i < text.length; i++) {
    switch (text.charCodeAt(i)) {
      case 34:
        i = behindQuotes(text, i) - 1;
        break;
      // { and [
      case 123:
      case 91:
        depth++;
        values++;
        if (depth > mostNested.json)
          throw new UnreadableFile(say('json-too-deep', { most: mostNested.json }), lineAt(text, i));
        break;
      case 125:
      case 93:
        depth--;
        break;
      // a comma and a colon
      case 44:
      case 58:
        values++;
        break;
      default:
    }
    if (values > most) throw new UnreadableFile(say('json-too-large', { most }));
  }
}
