import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { type Finding, type Severity, severities } from '../finding.ts';
import { select } from '../query/query.ts';
import { equalParts, overlap, stackedDuplicate, throughNode } from './arranged.ts';
import type { Facts } from './facts.ts';
import {
  crowdedFrame,
  frameless,
  frameOverlap,
  offPalette,
  paleColor,
  silentFrame,
  strangerInFrame,
  untitledFrame,
} from './framed.ts';
import { defaultName, emptyFrame, missingAsset } from './kept.ts';
import {
  backwardWires,
  deepNesting,
  largeGraph,
  longWires,
  lowReadability,
  manyCrossings,
  rerouteChain,
  switchedOff,
} from './legible.ts';
import {
  absolutePath,
  badValue,
  cutCaption,
  doubledLabel,
  likeBeacons,
  nameStyle,
  nearLink,
  oldShared,
  unknownKind,
} from './named.ts';
import { type Found, findingsOf, Look, type Rule, type RuleOptions } from './rule.ts';
import { feedClash, feedLoop, idleFeed, repeatedBeacon, shadowedFeed } from './supplied.ts';
import { cycle, longBypassed, lostEnd, unreachable, unused } from './wired.ts';

/** All rules, the gravest first; a new one is a value in a file of this folder and a line here. */
export const rules: readonly Rule[] = [
  lostEnd,
  feedClash,
  feedLoop,
  missingAsset,
  unknownKind,
  badValue,
  cycle,
  overlap,
  stackedDuplicate,
  equalParts,
  throughNode,
  strangerInFrame,
  frameOverlap,
  untitledFrame,
  likeBeacons,
  absolutePath,
  lowReadability,
  longBypassed,
  unused,
  unreachable,
  switchedOff,
  idleFeed,
  shadowedFeed,
  repeatedBeacon,
  defaultName,
  emptyFrame,
  nameStyle,
  cutCaption,
  doubledLabel,
  nearLink,
  oldShared,
  backwardWires,
  longWires,
  manyCrossings,
  rerouteChain,
  frameless,
  crowdedFrame,
  silentFrame,
  offPalette,
  paleColor,
  largeGraph,
  deepNesting,
];

/** Those that are looked for where nobody says otherwise. */
export const usualRules: readonly Rule[] = rules.filter((rule) => !rule.optional);

export const ruleById = (id: string): Rule | undefined => rules.find((rule) => rule.id === id);

/** A rule as it is asked for: how grave, about what, and as it is set; as the rule has it where that is left out. */
export interface Asked {
  readonly rule: Rule;
  readonly severity?: Severity | undefined;
  /** Only findings about nodes that match this query. */
  readonly where?: string | undefined;
  readonly options?: RuleOptions | undefined;
}

/**
 * What some rules find in a document, the gravest first, then in the order of the rules. Cost: that of the rules, of
 * which those about wires need all routes.
 */
export const checkRules = (doc: Doc, kinds: Kinds, some: readonly Rule[] = usualRules, facts: Facts = {}): Finding[] =>
  checkAsked(
    doc,
    kinds,
    some.map((rule) => ({ rule })),
    facts,
  );

/** The same for rules as a team has set them. Throws QueryError where a query cannot be read. */
export function checkAsked(doc: Doc, kinds: Kinds, asked: readonly Asked[], facts: Facts = {}): Finding[] {
  const look = new Look(doc, kinds, facts);
  const scopes = new Map<string, ReadonlySet<Id>>();
  const within = (where: string): ReadonlySet<Id> => {
    const known =
      scopes.get(where) ?? new Set([...doc.graphs.keys()].flatMap((graph) => select(where, doc, kinds, graph)));
    scopes.set(where, known);
    return known;
  };
  const found = asked.flatMap(({ rule, severity, where, options }) =>
    findingsOf(rule, look, {
      ...(severity && { severity }),
      ...(options && { options }),
      ...(where?.trim() && { concerns: (one: Found) => concerns(doc, one, within(where)) }),
    }),
  );
  return severities.flatMap((severity) => found.filter((item) => item.severity === severity));
}

/** Is a finding about one of some nodes? One about a frame is where a member is one of them. */
function concerns(doc: Doc, { id }: Found, nodes: ReadonlySet<Id>): boolean {
  return doc.frames.has(id)
    ? indexOf(doc)
        .membersOf(id)
        .some((node) => nodes.has(node.id))
    : nodes.has(id);
}

/** What could go, or was forgotten. */
export const leftoverRules: readonly Rule[] = usualRules.filter((rule) => rule.group === 'leftovers');
