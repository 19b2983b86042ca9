import { expect, it } from 'vitest';
import { writeDoc } from '../document/file.ts';
import { askedBy } from '../rules/profile.ts';
import { profileSchema } from '../rules/profile-schema.ts';
import { checkAsked } from '../rules/rules.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { sarifLog } from './sarif.ts';

// Against “Static Analysis Results Interchange Format (SARIF) Version 2.1.0”, OASIS 2020, by section; the type of the
// log is made from its published schema (DefinitelyTyped).
const { doc } = sketchDoc()
  .frame('f', { title: '' })
  .node('a', 'src', { name: 'Kelp' })
  .node('b', 'lost.kind', { x: 10, frame: 'f' });
const asked = askedBy(profileSchema.parse({ rules: { overlap: { severity: 'error' } } }));
const file = {
  file: 'show files/reef night.graph.json',
  text: writeDoc(doc),
  doc,
  findings: checkAsked(doc, testKinds, asked),
};
const log = sarifLog([file], asked, '0.1.0');
const [run] = log.runs;

it('says which version it is of, and describes each rule once (3.13.2, 3.19.23, 3.49.3)', () => {
  expect(log.version).toBe('2.1.0');
  const ids = run!.tool.driver.rules!.map((rule) => rule.id);
  expect(new Set(ids).size).toBe(ids.length);
  expect(ids).toEqual(asked.map((one) => one.rule.id));
});

it('gives each finding a message, a level of the standard and the number of its rule (3.27.6, 3.27.10, 3.27.11)', () => {
  expect(run!.results!.map((result) => result.ruleId)).toEqual(file.findings.map((item) => item.rule));
  for (const result of run!.results!) {
    expect(['none', 'note', 'warning', 'error']).toContain(result.level);
    expect(run!.tool.driver.rules![result.ruleIndex!]!.id).toBe(result.ruleId);
    expect(result.message.text).not.toBe('');
  }
  expect(run!.results!.find((result) => result.ruleId === 'overlap')!.level).toBe('error');
  expect(run!.results!.find((result) => result.ruleId === 'default-name')?.level ?? 'note').toBe('note');
});

it('points to the line on which the record stands, counted from 1 (3.30.5), in a file by a relative reference (3.4.3, RFC 3986)', () => {
  const lines = file.text.split('\n');
  for (const [i, result] of run!.results!.entries()) {
    const { artifactLocation, region } = result.locations![0]!.physicalLocation!;
    expect(artifactLocation).toEqual({ uri: 'show%20files/reef%20night.graph.json', index: 0 });
    expect(new URL(artifactLocation!.uri!, 'file:///repository/').pathname).toBe(
      '/repository/show%20files/reef%20night.graph.json',
    );
    expect(lines[region!.startLine! - 1]).toContain(`{"id":${JSON.stringify(file.findings[i]!.place.at(-1))}`);
  }
  expect(run!.results!.find((result) => result.ruleId === 'unknown-kind')!.locations![0]!.logicalLocations![0]).toEqual(
    { name: 'b', fullyQualifiedName: 'b', kind: 'element' },
  );
});
