import { readFileSync } from 'node:fs';
import { scopeCases } from '@basitax/core/tests/scope-cases';
import { expect, it } from 'vitest';
import { formatPage, schemaText } from './docs.ts';
import { noticesText } from './notices.ts';
import { rulesPage } from './rules-page.ts';
import { pictureFile, pictureOf, withCases } from './scope-pictures.ts';
import { apiModule, libModule, modelModule } from './script-api.ts';
import { scriptingPage } from './scripting-page.ts';

it('the pages made from the code are up to date (else: npm run docs)', () => {
  expect(readFileSync('docs/format.md', 'utf8')).toBe(formatPage());
  expect(readFileSync('docs/format.schema.json', 'utf8')).toBe(schemaText());
  expect(readFileSync('docs/scripting.md', 'utf8')).toBe(scriptingPage());
  expect(readFileSync('docs/house-rules.md', 'utf8')).toBe(rulesPage());
  expect(readFileSync('core/script/generated/api.ts', 'utf8')).toBe(apiModule());
  expect(readFileSync('core/script/generated/lib.ts', 'utf8')).toBe(libModule());
  expect(readFileSync('core/script/generated/model.ts', 'utf8')).toBe(modelModule());
  expect(readFileSync('THIRD-PARTY-NOTICES', 'utf8')).toBe(noticesText());
  const links = readFileSync('docs/remote-links.md', 'utf8');
  expect(links).toBe(withCases(links));
});

it.each([...scopeCases.heard, ...scopeCases.fed].map((one) => [one.id, one] as const))(
  'the picture of the rule “%s” is up to date, and shows every answer',
  (_id, one) => {
    const text = readFileSync(pictureFile(one), 'utf8');
    expect(text).toBe(pictureOf(one));
    const answers = [...Object.values(one.hears ?? {}), ...Object.values(one.supplies ?? {})].filter(Boolean);
    expect(text.match(/stroke-dasharray="6 4"/g)?.length ?? 0).toBe(answers.length);
  },
);
