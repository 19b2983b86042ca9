import { describe, expect, it } from 'vitest';
import { sentencesIn } from './sentences.ts';

// What docs/wording.md asks of every sentence that people read.

const all = sentencesIn(['web/src', 'core', 'api', 'cli', 'server']);
const banned = [
  /\bwhoever\b/i,
  /\bone’s own\b/i,
  /\bas usual\b|\bthe usual (?:one|keys|rules)/i,
  /\btakes the role\b/i,
  /\b(?:none|nothing) was \w+ yet\b/i,
  /\bmeanwhile\b/i,
  /\bfor ever\b/i,
  /\b\d+ signs\b|\bsigns long\b|\bten signs\b/i,
  /\btaken back\b/i,
  /\bso many\b/i,
  /\b(?:Save|Go on|Keep) so\b/,
  /\bOK\b/,
  // “is not a colour”, not “is no colour”
  /(?<!here )\bis no (?!longer|more|such|one\b)[a-zA-Z]/,
];

/** Words for a program, in a row. */
const isList = (text: string): boolean => !/[,’“]|\b(?:the|a|is)\b/.test(text) || /[{}<=]/.test(text);
const at = ({ file, line, text }: (typeof all)[number]): string => `${file}:${line}: ${text}`;

describe('what people read', () => {
  it('is there to be read', () => {
    expect(all.length).toBeGreaterThan(3000);
  });

  it.each(banned.map((shape) => [shape]))('has none of %s', (shape) => {
    expect(all.filter(({ text }) => shape.test(text)).map(at)).toEqual([]);
  });

  it('has no sentence of more than 40 words', () => {
    const long = all.filter(({ text }) =>
      text.split(/[.:;?!…](?:\s|$)/).some((sentence) => sentence.split(/\s+/).length > 40 && !isList(sentence)),
    );
    expect(long.map(at)).toEqual([]);
  });
});
