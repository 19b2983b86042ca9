import { nodePath } from '../document/doc.ts';
import { titleOf } from '../document/geometry.ts';
import type { Checked } from './sarif.ts';
import { escapeXml } from './xml.ts';

/**
 * What house rules found, as JUnit XML for build servers: a suite for each file, a failing case for each error or
 * warning, and one that passes where there is none (the format has no standard; what build servers read is common
 * practice). O(findings).
 */
export function junitText(checked: readonly Checked[]): string {
  const suites = checked.map(({ file, doc, findings }) => {
    const failing = findings.filter((item) => item.severity !== 'info');
    const cases = failing.map((item) => {
      const id = item.place.at(-1) ?? '';
      const node = doc.nodes.get(id);
      const frame = doc.frames.get(id);
      const where = node ? nodePath(doc, node) : frame ? titleOf(frame) : doc.head.title;
      return `    <testcase classname="${escapeXml(file)}" name="${escapeXml(`${item.rule}: ${where}`)}"><failure type="${item.severity}" message="${escapeXml(item.message)}"/></testcase>`;
    });
    if (cases.length === 0) cases.push(`    <testcase classname="${escapeXml(file)}" name="house rules"/>`);
    return [
      `  <testsuite name="${escapeXml(file)}" tests="${cases.length}" failures="${failing.length}">`,
      ...cases,
      '  </testsuite>',
    ].join('\n');
  });
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<testsuites name="basitax check">',
    ...suites,
    '</testsuites>',
  ].join('\n');
}
