import { describe, expect, it } from 'vitest';
import { Refused, sentences } from './said.ts';
import { plural } from './words.ts';

const { say, refuse, find } = sentences('reef', {
  'too-deep': ({ node, metres }: { node: string; metres: number }) => `“${node}” lies ${plural(metres, 'metre')} deep.`,
  empty: () => 'There is nothing here.',
});

describe('what is said', () => {
  it('has a code with its room, and what it is said of, beside the sentence', () => {
    const params = { node: 'Kelp', metres: 1200 };
    const said = { message: '“Kelp” lies 1,200 metres deep.', code: 'reef.too-deep', params };
    expect(say('too-deep', params)).toEqual(said);
    expect(find('depth', 'warning', ['k'], 'too-deep', params)).toEqual({
      ...{ rule: 'depth', severity: 'warning', place: ['k'] },
      ...said,
    });
    expect(say('empty')).toEqual({ message: 'There is nothing here.', code: 'reef.empty', params: {} });
  });

  it('is thrown as what is refused, and keeps all of that', () => {
    const refused = refuse('too-deep', { node: 'Kelp', metres: 1 });
    expect(refused).toBeInstanceOf(Refused);
    expect([refused.message, refused.code, refused.params]).toEqual([
      '“Kelp” lies 1 metre deep.',
      'reef.too-deep',
      { node: 'Kelp', metres: 1 },
    ]);
  });
});
