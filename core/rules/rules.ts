import type { Doc } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Finding, Severity } from '../finding.ts';
import { equalParts, overlap, stackedDuplicate, throughNode } from './arranged.ts';
import { defaultName, emptyFrame, missingAsset } from './kept.ts';
import { type Facts, findingsOf, Look, type Rule } from './rule.ts';
import { cycle, longBypassed, lostEnd, unreachable, unused } from './wired.ts';

/** All rules, the gravest first; a new one is a value in a file of this folder and a line here. */
export const rules: readonly Rule[] = [
  lostEnd,
  missingAsset,
  cycle,
  overlap,
  stackedDuplicate,
  equalParts,
  throughNode,
  longBypassed,
  unused,
  unreachable,
  defaultName,
  emptyFrame,
];

export const ruleById = (id: string): Rule | undefined => rules.find((rule) => rule.id === id);

const severities: readonly Severity[] = ['error', 'warning', 'info'];

/** What some rules find in a document, the gravest first, then in the order of the rules. Cost: that of the rules, of which wires through nodes need all routes. */
export function checkRules(doc: Doc, kinds: Kinds, some: readonly Rule[] = rules, facts: Facts = {}): Finding[] {
  const look = new Look(doc, kinds, facts);
  const found = some.flatMap((rule) => findingsOf(rule, look));
  return severities.flatMap((severity) => found.filter((item) => item.severity === severity));
}

/** What could go, or was forgotten. */
export const leftoverRules: readonly Rule[] = rules.filter((rule) => rule.group === 'leftovers');
