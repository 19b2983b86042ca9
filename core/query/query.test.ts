import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { parseQuery, QueryError, select } from './query.ts';

const { doc } = sketchDoc()
  .frame('f', { title: 'Far kelp' })
  .node('moon', 'src', { name: 'Moon', label: 'High moon', params: { value: 7 }, frame: 'f' })
  .node('sun', 'src', { name: 'Sun', params: { value: 70 } })
  .node('mix', 'add', { name: 'MoonMix', bypassed: true });
const found = (text: string) => select(text, doc, testKinds, 'root');

describe('queries', () => {
  it.each([
    ['', ['mix', 'moon', 'sun']],
    ['moon', ['mix', 'moon']],
    ['"high moon"', ['moon']],
    ['kind:add', ['mix']],
    ['moon not bypassed=true', ['moon']],
    ['kind:source value>10', ['sun']],
    ['value<=7', ['moon']],
    ['name=sun or (frame:kelp and value=7)', ['moon', 'sun']],
    ['not not moon', ['mix', 'moon']],
    ['value!=7 kind:src', ['sun']],
    ['value:x', []],
  ])('%s', (text, ids) => {
    expect(found(text)).toEqual(ids);
  });

  it.each([
    ['moon or', 7, 'missing at the end'],
    ['(moon', 0, 'not closed'],
    ['moon)', 4, 'closes nothing'],
    ['kind:', 5, 'value is missing'],
    ['"moon', 0, 'quote is not closed'],
    [':moon', 0, 'word is expected'],
  ])('says where the mistake in %s is', (text, at, message) => {
    try {
      parseQuery(text);
      expect.unreachable();
    } catch (error) {
      expect(error).toBeInstanceOf(QueryError);
      expect((error as QueryError).at).toBe(at);
      expect((error as QueryError).message).toContain(message);
    }
  });

  it('parses or complains, but never breaks', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        try {
          found(text);
        } catch (error) {
          expect(error).toBeInstanceOf(QueryError);
        }
      }),
      { numRuns: 300 },
    );
  });
});
