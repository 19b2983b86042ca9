import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { formatPage, schemaText } from './docs.ts';

it('the pages made from the code are up to date (else: npm run docs)', () => {
  expect(readFileSync('docs/format.md', 'utf8')).toBe(formatPage());
  expect(readFileSync('docs/format.schema.json', 'utf8')).toBe(schemaText());
});
