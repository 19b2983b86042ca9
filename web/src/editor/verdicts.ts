import { type Verdict, verdictWords } from '@basitax/core/inspect/fingerprint';

const said = (verdict: Verdict, short: string, look: string) => ({
  text: `Function fingerprint: ${verdictWords[verdict]}`,
  short,
  look,
});

/** What the function fingerprint says of two documents: in a line, in two words, and how it looks. */
export const verdicts: Readonly<Record<Verdict, ReturnType<typeof said>>> = {
  same: said('same', 'function same', 'text-good'),
  'ends-same': said('ends-same', 'ends same', 'text-warn'),
  changed: said('changed', 'function changed', 'text-warn'),
};
