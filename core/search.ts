import { distance } from 'fastest-levenshtein';

/** Something that is found by words. */
export interface Sought {
  readonly title: string;
  /** Other words for it: the trade’s, its id, its group. */
  readonly words?: readonly string[];
  /** What it does, in a sentence. */
  readonly about?: string;
}

const partsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** How many letters of a word may be wrong. */
const slips = (word: string): number => (word.length < 4 ? 0 : word.length < 7 ? 1 : 2);

/** How well one typed word fits some words: 1 at the best, 0 where it does not. */
function fitOf(typed: string, words: readonly string[]): number {
  let best = 0;
  for (const word of words) {
    if (word === typed) return 1;
    if (word.startsWith(typed)) best = Math.max(best, 0.9);
    else if (typed.length > 2 && word.includes(typed)) best = Math.max(best, 0.6);
    // “tidying” is “tidy”, and “frames” “frame”
    else if (word.length > 3 && typed.startsWith(word)) best = Math.max(best, 0.75);
    else if (best < 0.5 && slips(typed) > 0) {
      const begin = word.slice(0, Math.max(typed.length, Math.min(word.length, typed.length + 1)));
      if (Math.min(distance(typed, word), distance(typed, begin)) <= slips(typed)) best = 0.5;
    }
  }
  return best;
}

/**
 * How well something fits what was typed: every word has to fit its title, its other words, or what it does; the title
 * counts most. 0 where it does not fit. O(letters).
 */
export function rank(typed: string, { title, words = [], about = '' }: Sought): number {
  const wanted = partsOf(typed);
  if (wanted.length === 0) return 1;
  const [own, other, said] = [partsOf(title), words.flatMap(partsOf), partsOf(about)];
  let sum = 0;
  for (const [i, word] of wanted.entries()) {
    const inTitle = fitOf(word, own);
    // the word that the title begins with is what it is about
    const first = inTitle > 0.5 && i === 0 && (own[0] ?? '').startsWith(word) ? 0.15 : 0;
    const fit = Math.max(
      inTitle + first,
      fitOf(word, other) * 0.8,
      fitOf(
        word,
        said.filter((one) => one.length > 3),
      ) * 0.4,
    );
    if (fit === 0) return 0;
    sum += fit;
  }
  const isWhole = title.toLowerCase() === typed.trim().toLowerCase();
  return sum / wanted.length + (isWhole ? 1 : 0);
}

/**
 * What fits, the best first; what fits equally stays in its order, but for what was used lately, which comes first.
 * O(n · letters + n log n).
 */
export function ranked<T extends Sought>(typed: string, all: readonly T[], bonus: (one: T) => number = () => 0): T[] {
  return all
    .map((one) => ({ one, fit: rank(typed, one) }))
    .filter(({ fit }) => fit > 0)
    .map(({ one, fit }) => ({ one, fit: fit + bonus(one) }))
    .sort((a, b) => b.fit - a.fit)
    .map(({ one }) => one);
}
