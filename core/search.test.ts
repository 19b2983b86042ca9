import { describe, expect, it } from 'vitest';
import { rank, ranked } from './search.ts';

const things = [
  { title: 'Arrange by wiring', words: ['layout tidy clean up'], about: 'Puts nodes into columns along their wires.' },
  { title: 'Unstack', words: ['overlap overlapping separate'], about: 'Moves nodes apart.' },
  { title: 'Frame the selection', words: ['group backdrop'], about: 'Draws a frame around what is selected.' },
  { title: 'Title of the frame', words: ['backdrop name'], about: 'Writes the title.' },
  { title: 'Merge equal nodes', words: ['duplicates combine'], about: 'One node stays for all that are the same.' },
];
const titles = (typed: string): string[] => ranked(typed, things).map((one) => one.title);

describe('search by words', () => {
  it.each([
    ['arrange', 'Arrange by wiring'],
    ['arr wir', 'Arrange by wiring'],
    ['tidy', 'Arrange by wiring'],
    ['overlap', 'Unstack'],
    ['group', 'Frame the selection'],
    ['merge duplicates', 'Merge equal nodes'],
    // slips: letters that changed places, that are missing, and that are wrong
    ['arragne', 'Arrange by wiring'],
    ['unstak', 'Unstack'],
    ['backdrob', 'Frame the selection'],
    ['tidying', 'Arrange by wiring'],
    ['columns', 'Arrange by wiring'],
  ])('finds by %j first %j', (typed, title) => expect(titles(typed)[0]).toBe(title));

  it('asks that every word fits somewhere, and that a title counts more than other words', () => {
    expect(titles('tidy zebra')).toEqual([]);
    expect(titles('frame')).toEqual(['Frame the selection', 'Title of the frame']);
    expect(titles('backdrop')).toEqual(['Frame the selection', 'Title of the frame']);
    expect(rank('', { title: 'Anything' })).toBe(1);
    expect(rank('unstack', { title: 'Unstack' })).toBeGreaterThan(rank('unstack', { title: 'Unstack all' }));
  });

  it('takes short words as they are typed', () => {
    expect(titles('ab')).toEqual([]);
    expect(rank('ad', { title: 'Add a node' })).toBeGreaterThan(0);
    expect(rank('at', { title: 'Add a node' })).toBe(0);
  });

  it('puts ahead what is given a bonus, among what fits', () => {
    expect(ranked('frame', things, (one) => (one.title === 'Title of the frame' ? 1 : 0))[0]?.title).toBe(
      'Title of the frame',
    );
    expect(ranked('frame', things, () => 5).map((one) => one.title)).not.toContain('Unstack');
  });
});
