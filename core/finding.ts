import type { Id } from './document/ids.ts';
import type { Json } from './document/json.ts';
import type { Params } from './said.ts';

/** The gravest first. */
export const severities = ['error', 'warning', 'info'] as const;
export type Severity = (typeof severities)[number];

/**
 * The one type for everything that is wrong or could be better: readers, rules, merges and scripts all report with it.
 * `place` is the path of ids from the outermost nested node inwards; empty means the document as a whole.
 */
export interface Finding {
  readonly rule: string;
  readonly severity: Severity;
  readonly place: readonly Id[];
  readonly message: string;
  /** What the message says, for programs: a room and a name as in `wiring.loop`, and what it is said of. */
  readonly code?: string;
  readonly params?: Params;
  readonly fix?: Fix;
  /** What a person may choose from, where each could be what is meant: none of it is done unasked. */
  readonly choices?: readonly (Fix & { readonly title: string })[];
}

/** An operation that mends a finding. */
export interface Fix {
  readonly operation: string;
  readonly selection: readonly Id[];
  readonly options?: Json;
}

export function finding(rule: string, severity: Severity, place: readonly Id[], message: string): Finding {
  return { rule, severity, place, message };
}

/** At most `most` findings of each rule; what is left out is said in a last one of that rule. */
export function limitFindings(findings: readonly Finding[], most = 20): Finding[] {
  const seen = new Map<string, number>();
  const kept = findings.filter((item) => {
    const count = (seen.get(item.rule) ?? 0) + 1;
    seen.set(item.rule, count);
    return count <= most;
  });
  for (const [rule, count] of seen) {
    if (count > most)
      kept.push(finding(rule, 'info', [], `${count - most} more of the kind “${rule}” are not listed.`));
  }
  return kept;
}
