import type { compareFingerprints } from '@basitax/core/inspect/fingerprint';

type Verdict = ReturnType<typeof compareFingerprints>;

/** What the function fingerprint says of two documents: in a line, in two words, and how it looks. */
export const verdicts: Readonly<Record<Verdict, { readonly text: string; readonly short: string; readonly look: string }>> = {
  same: { text: 'Function fingerprint: same', short: 'function same', look: 'text-good' },
  'ends-same': { text: 'Function fingerprint: same at the ends, changed elsewhere', short: 'ends same', look: 'text-warn' },
  changed: { text: 'Function fingerprint: changed', short: 'function changed', look: 'text-warn' },
};
