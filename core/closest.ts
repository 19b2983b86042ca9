import { distance } from 'fastest-levenshtein';

const sorted = (word: string): string => [...word].sort().join('');

/** The word that was probably meant: few letters away from what was typed; undefined where none is. O(words · letters²). */
export function closestTo(typed: string, words: readonly string[]): string | undefined {
  const small = typed.toLowerCase();
  // a short word may have two letters wrong: fewer would miss most slips
  const most = small.length <= 3 ? 1 : Math.max(2, Math.floor(small.length / 3));
  let best: string | undefined;
  let least = most + 1;
  for (const word of words) {
    const other = word.toLowerCase();
    // letters that changed places are the commonest slip
    const apart = sorted(small) === sorted(other) ? 1 : distance(small, other);
    if (apart < least) [best, least] = [word, apart];
  }
  return best;
}

/** `Did you mean “label”?`, with a space before it; nothing where no word is near. */
export function didYouMean(typed: string, words: readonly string[]): string {
  const meant = closestTo(typed, words);
  return meant === undefined ? '' : ` Did you mean “${meant}”?`;
}
