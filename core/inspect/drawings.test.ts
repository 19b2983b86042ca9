import { describe, expect, it } from 'vitest';
import { testKinds } from '../tests/arbitrary.ts';
import { type Drawing, drawings } from '../tests/drawings.ts';
import { readability } from './readability.ts';

const score = (name: Drawing): number => readability(drawings[name], testKinds, 'root').score;

/**
 * The same twenty nodes, drawn in twenty ways, as one orders the pictures by eye: what stands in a row before another
 * is read more easily.
 */
const byEye: readonly (readonly Drawing[])[] = [
  [
    'tidy',
    'tidy, but nothing named',
    'every column shuffled',
    'one long row',
    'random',
    'scattered over many windows',
    'stacked on one point',
  ],
  ['tidy in two frames', 'frames overlapping', 'every column shuffled'],
  ['tidy', 'a note on nodes', 'one high column', 'random'],
  [
    'tidy',
    'rows shuffled',
    'every column shuffled',
    'run backwards',
    'one high column',
    'crammed',
    'stacked in pairs',
    'stacked on one point',
  ],
  ['one long row', 'crammed', 'scattered over many windows'],
];

/** What must not raise a score: each second drawing is the first with a trick. */
const tricks: readonly (readonly [Drawing, Drawing])[] = [
  ['tidy, but nothing named', 'tidy, a full stop for a label'],
  ['tidy, but nothing named', 'tidy, the same label on all'],
  ['tidy', 'tidy with junk beside'],
  ['random', 'random with junk beside'],
  ['random', 'random, all folded'],
  ['tidy', 'stacked in pairs'],
];

describe('the score', () => {
  for (const row of byEye) {
    it(`orders as one does by eye: ${row.join(' > ')}`, () => {
      const scores = row.map(score);
      scores.slice(1).forEach((next, i) => {
        expect(next, `${row[i + 1]} after ${row[i]}`).toBeLessThan(scores[i]!);
      });
    });
  }

  for (const [plain, tricked] of tricks) {
    it(`does not rise by a trick: ${tricked}`, () => {
      expect(score(tricked)).toBeLessThanOrEqual(score(plain) + 1e-9);
    });
  }

  it('is near 100 for a tidy drawing and near 0 where nothing can be seen', () => {
    expect(score('tidy')).toBeGreaterThan(95);
    expect(score('stacked on one point')).toBeLessThan(5);
  });
});
