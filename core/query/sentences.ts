import { sentences } from '../said.ts';

/** What is said in this room when something cannot be done, or was found. */
export const { say, refuse, find } = sentences('query', {
  'word-expected': ({ found }: { found: string }) => `A word is expected in place of “${found}”`,
  'quote-open': () => 'A quote is not closed',
  'too-deep': ({ most }: { most: number }) => `Brackets are nested more than ${most} deep`,
  'bracket-open': () => 'A bracket is not closed',
  'word-missing': () => 'A word is missing at the end',
  'value-missing': ({ before }: { before: string }) => `A value is missing after “${before}”`,
  'closes-nothing': ({ found }: { found: string }) => `“${found}” closes nothing`,
  'has-of-nodes': () => '“has(…)” looks for nodes in files; it cannot be asked of nodes',
  'no-field': ({ field, known }: { field: string; known: readonly string[] }) =>
    `There is no field “${field}”: no kind has such a parameter, no node such an attribute, and the others are ${known.join(', ')}`,
  'number-wanted': ({ field, value }: { field: string; value: string }) => `“${field}” takes a number, not “${value}”`,
  'yes-or-no': ({ field, value }: { field: string; value: string }) => `“${field}” is yes or no, not “${value}”`,
  'no-field-of-files': ({ field, hint, known }: { field: string; hint: string; known: readonly string[] }) =>
    `Files have no field “${field}”.${hint || ` They have ${known.join(', ')}, and has(…) for their nodes.`}`,
  'is-text': ({ field }: { field: string }) => `“${field}” is text: write ${field}:… or ${field}=…`,
});
