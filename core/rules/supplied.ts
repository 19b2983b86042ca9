import { caption, indexOf } from '../document/doc.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { SaidFinding } from '../said.ts';
import { remoteFindings } from '../wiring/carriers.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { feedScope, feedsOf, scopeTitle } from '../wiring/feeds.ts';
import { choice, type Found, foundAt, type Look, type Rule } from './rule.ts';
import { say } from './sentences.ts';

// What the wiring finds of standing feeds and names of beacons. Which of two was meant nobody can tell from the file:
// these offer choices, and no fix that is done unasked.

const bypassing = (feeds: Iterable<GraphNode>): { choices: NonNullable<Found['choices']> } => ({
  choices: [...feeds].map((feed) => choice(`Bypass “${caption(feed)}”`, 'bypass', [feed.id], { to: 'bypassed' })),
});

/** What the wiring says by itself, at the thing that it says it of. */
const told = ({ doc }: Look, item: SaidFinding): Found => foundAt(must(doc.nodes.get(must(item.place.at(-1)))), item);

/** Feeds of which it is not clear what they supply. */
function* tangled(look: Look, rule: 'feeds-clash' | 'feed-loop'): Iterable<Found> {
  for (const { feeds, finding } of effectiveWiring(look.doc, look.kinds).tangles)
    if (finding.rule === rule) yield { ...told(look, finding), ...bypassing(feeds) };
}

export const feedClash: Rule = {
  id: 'feed-clash',
  title: 'Clashing feeds',
  severity: 'warning',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Two standing feeds for one type in one place supply nothing, and nothing shows that the inputs are open.',
  instead: 'Bypass one of them, or put one in a separate frame.',
  check: (look: Look) => tangled(look, 'feeds-clash'),
};

export const feedLoop: Rule = {
  id: 'feed-loop',
  title: 'Feeds in a ring',
  severity: 'warning',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Feeds that supply what one another’s sources take have no order in which they could be computed.',
  instead: 'Wire what one of the sources takes, or bypass one of the feeds.',
  check: (look: Look) => tangled(look, 'feed-loop'),
};

export const idleFeed: Rule = {
  id: 'idle-feed',
  title: 'Feed that supplies nothing',
  severity: 'info',
  group: 'leftovers',
  subject: 'remote links',
  why: 'A standing feed that supplies no input looks as if it did something.',
  instead: 'Wire it, let it supply more than it does, or delete it.',
  *check(look: Look): Iterable<Found> {
    const { doc, kinds } = look;
    const wiring = effectiveWiring(doc, kinds);
    const over = shadowing(look);
    // a clash is a finding of its own
    const clashing = new Set(wiring.tangles.flatMap(({ feeds }) => feeds));
    for (const feed of feedsOf(doc)) {
      if (feed.bypassed || clashing.has(feed) || wiring.suppliedBy(feed.id).length > 0) continue;
      const by = [...(over.get(feed)?.by ?? [])].map(caption);
      const said = !wiring.source(feed.id, 'in')
        ? say('empty-feed', { feed: caption(feed) })
        : by.length > 0
          ? say('hidden-feed', { feed: caption(feed), by })
          : say('needless-feed', { feed: caption(feed), scope: scopeTitle(doc, feedScope(doc, feed)) });
      yield {
        ...foundAt(feed, said),
        choices: [choice('Delete it', 'delete', [feed.id]), ...bypassing([feed]).choices],
      };
    }
  },
};

export const shadowedFeed: Rule = {
  id: 'shadowed-feed',
  title: 'Feed with a nearer one',
  severity: 'info',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Inputs that a nearer feed supplies do not take what the outer one gives, which its frame or graph makes one expect.',
  instead: 'Nothing, if this is intended; otherwise bypass the nearer one.',
  *check(look: Look): Iterable<Found> {
    const { doc, kinds } = look;
    const wiring = effectiveWiring(doc, kinds);
    for (const [feed, { by, count }] of shadowing(look)) {
      const supplied = wiring.suppliedBy(feed.id).length;
      // one that supplies nothing at all is told as such
      if (supplied === 0) continue;
      const said = say('shadowed-feed', { feed: caption(feed), supplied, count, by: [...by].map(caption) });
      yield { ...foundAt(feed, said), ...bypassing(by) };
    }
  },
};

/** The feeds that nearer ones keep from inputs: by which, and from how many. O(feedable inputs · depth). */
function shadowing({ doc, kinds }: Look): ReadonlyMap<GraphNode, { by: ReadonlySet<GraphNode>; count: number }> {
  const wiring = effectiveWiring(doc, kinds);
  const found = new Map<GraphNode, { by: Set<GraphNode>; count: number }>();
  if (feedsOf(doc).length < 2) return found;
  for (const node of kinds.feedableKinds().flatMap((kind) => indexOf(doc).nodesOfKind(kind)))
    for (const port of node.ports) {
      const [nearest = [], ...outer] = port.direction === 'in' ? wiring.feedLevels(node.id, port.id) : [];
      const [only] = nearest;
      if (!only || nearest.length > 1) continue;
      for (const feed of outer.flat()) {
        const entry = found.get(feed) ?? { by: new Set(), count: 0 };
        entry.by.add(only);
        entry.count++;
        found.set(feed, entry);
      }
    }
  return found;
}

export const repeatedBeacon: Rule = {
  id: 'repeated-beacon',
  title: 'Beacon name that repeats',
  severity: 'info',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Where several beacons in reach have one name, it takes a look at ids to know which one a tap hears.',
  instead: 'Give each beacon a different name; the taps follow.',
  *check(look: Look): Iterable<Found> {
    for (const item of remoteFindings(look.doc)) if (item.rule === 'beacon-name-repeats') yield told(look, item);
  },
};
