import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { diff } from '../edit/diff.ts';
import { docArbitrary, sketchDoc } from '../tests/arbitrary.ts';
import { acted } from '../tests/random-act.ts';
import { wordsOf } from './words.ts';

describe('a document in words', () => {
  it('tells each fact on a line of its own, by names', () => {
    const { doc } = sketchDoc()
      .frame('f', { title: 'Far', x: 0, y: 0 })
      .node('n', 'src', { name: 'Moon', frame: 'f', params: { value: 7 }, label: 'Ebb\nand flood' })
      .node('m', 'add', { name: 'Mix', x: 400, y: 8, bypassed: true })
      .wire('n.out', 'm.a');
    const lines = wordsOf(doc);
    for (const line of [
      'frame Far: holds Moon',
      'node Moon: value = 7',
      'node Moon: label Ebb and flood',
      'node Mix: at 400, 8',
      'node Mix: bypassed',
    ])
      expect(lines).toContain(line);
    expect(lines.filter((line) => line.startsWith('wire '))).toEqual([
      expect.stringMatching(/^wire Moon\..* → Mix\..*: here$/),
    ]);
  });

  it('says something else of whatever was done to it, and the same of the same', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(12), fc.nat(10_000), async (doc, seed) => {
        const after = await acted(doc, seed);
        const isSame = diff(doc, after).steps.length === 0;
        expect(wordsOf(after).join('\n') === wordsOf(doc).join('\n')).toBe(isSame);
      }),
      { numRuns: 150 },
    );
  });
});
