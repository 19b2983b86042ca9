import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, testKinds as kinds } from '../tests/arbitrary.ts';
import { type Format, formats, readFile } from './formats.ts';

// What comes from elsewhere may be cut off, edited by hand, or made to do harm: it is read, or refused in a sentence,
// and never half.

const plain = [
  '',
  '__proto__',
  'constructor',
  'toString',
  '-1',
  '1e999',
  'NaN',
  'null',
  'true',
  'root',
  '🐙',
  'a'.repeat(300),
];
const words = [...plain, '"', '<', '>', '&', '&amp;', ']]>', '\u0000'];

/** One place of a text damaged: cut out, doubled, turned round, or with a word put in. */
const damage = fc.record({
  at: fc.double({ min: 0, max: 1, noNaN: true }),
  length: fc.integer({ min: 0, max: 60 }),
  how: fc.constantFrom('cut', 'double', 'turn', 'end', ...words),
});
function damaged(text: string, { at, length, how }: { at: number; length: number; how: string }): string {
  const start = Math.floor(at * text.length);
  const part = text.slice(start, start + length);
  if (how === 'cut') return text.slice(0, start) + text.slice(start + length);
  if (how === 'double') return text.slice(0, start) + part + text.slice(start);
  if (how === 'turn') return text.slice(0, start) + [...part].reverse().join('') + text.slice(start + length);
  if (how === 'end') return text.slice(0, start);
  return text.slice(0, start) + how + text.slice(start + length);
}

/** A value of an attribute, a string or a number of the text in place of another one. */
const swap = fc.record({ at: fc.double({ min: 0, max: 1, noNaN: true }), word: fc.constantFrom(...plain) });
function swapped(text: string, { at, word }: { at: number; word: string }): string {
  const values = [...text.matchAll(/(?<=")[^"<>{}\n]{0,80}(?=")|(?<=[:,] ?)-?\d+(?:\.\d+)?/g)];
  const value = values[Math.floor(at * values.length)];
  return value ? text.slice(0, value.index) + word + text.slice(value.index + value[0].length) : text;
}

function checkRead(format: Format, text: string): void {
  const name = `theirs${format.extensions[0]}`;
  let read: ReturnType<typeof readFile>;
  try {
    read = readFile(name, text, kinds);
  } catch (error) {
    if (!(error instanceof UnreadableFile)) throw error;
    expect(error.message).toMatch(/^[^\n]+\.$/);
    return;
  }
  expect(problems(read.doc)).toEqual([]);
  for (const { message } of read.findings) expect(message.length).toBeGreaterThan(3);
  // what was read can be written and read again
  const again = readFile(name, format.write(read.doc, kinds), kinds).doc;
  expect(problems(again)).toEqual([]);
  // a list of edges has no place for a node without one
  if (format.id !== 'edges') expect(again.nodes.size).toBe(read.doc.nodes.size);
}

describe.each(formats.filter((format) => format.read).map((format) => [format.title, format] as const))(
  '%s',
  (_title, format) => {
    it('damaged anywhere is read without a broken rule, or refused in one sentence', () => {
      fc.assert(
        fc.property(docArbitrary(12), fc.array(damage, { minLength: 1, maxLength: 3 }), (doc, all) =>
          checkRead(format, all.reduce(damaged, format.write(doc, kinds))),
        ),
        { numRuns: 80 },
      );
    });

    it('with other values in it is read without a broken rule, or refused in one sentence', () => {
      fc.assert(
        fc.property(docArbitrary(12), fc.array(swap, { minLength: 1, maxLength: 4 }), (doc, all) =>
          checkRead(format, all.reduce(swapped, format.write(doc, kinds))),
        ),
        { numRuns: 80 },
      );
    });

    it('of nothing, of blanks and of another format is refused', () => {
      for (const text of [
        '',
        ' \n ',
        '\uFEFF',
        '{',
        '<',
        '<a/>',
        '[]',
        'null',
        '42',
        '"text"',
        '{"a":1}',
        '<?xml version="1.0"?>',
      ]) {
        if (/csv$/.test(format.extensions[0]) && /[a-z4{[<"]/.test(text)) continue;
        if (format.id === 'dot' && text.trim().replace('\uFEFF', '') === '') continue;
        expect(() => readFile(`theirs${format.extensions[0]}`, text, kinds), text).toThrow(UnreadableFile);
      }
    });
  },
);
