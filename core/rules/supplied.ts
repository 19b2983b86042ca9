import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import type { SaidFinding } from '../said.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { feedScope } from '../wiring/feeds.ts';
import { scopeTitle } from '../wiring/keep-supplied.ts';
import { choice, type Found, type Look, type Rule } from './rule.ts';
import { say } from './sentences.ts';

// What the wiring finds of standing feeds and names of beacons. Which of two was meant nobody can tell from the file:
// these offer choices, and no fix that is done unasked.

const feedsOf = (doc: Doc): readonly GraphNode[] => indexOf(doc).nodesOfKind(builtin.feed);

/** What the wiring says by itself, at the thing that it says it of. */
function* told({ doc, kinds }: Look, rule: string): Iterable<{ node: GraphNode; item: SaidFinding }> {
  for (const item of effectiveWiring(doc, kinds).linkFindings) {
    if (item.rule !== rule) continue;
    yield { node: must(doc.nodes.get(must(item.place.at(-1)))), item };
  }
}

const bypassing = (doc: Doc, feeds: Iterable<Id>): { choices: NonNullable<Found['choices']> } => ({
  choices: [...feeds].map((id) =>
    choice(`Bypass “${caption(must(doc.nodes.get(id)))}”`, 'bypass', [id], { to: 'bypassed' }),
  ),
});

/** The active feeds of one scope that are for a type in common with one of them. */
function rivals({ doc, kinds }: Look, feed: GraphNode): Id[] {
  const types = kinds.feedTypes(feed);
  return feedsOf(doc)
    .filter(
      (one) =>
        !one.bypassed &&
        feedScope(doc, one) === feedScope(doc, feed) &&
        kinds.feedTypes(one).some((type) => types.includes(type)),
    )
    .map(({ id }) => id);
}

export const feedClash: Rule = {
  id: 'feed-clash',
  title: 'Clashing feeds',
  severity: 'warning',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Two standing feeds for one type in one place supply nothing, so that inputs are dark without a sign.',
  instead: 'Bypass one of them, or give one a frame of its own.',
  *check(look: Look): Iterable<Found> {
    for (const { node, item } of told(look, 'feeds-clash'))
      yield {
        graph: node.graph,
        id: node.id,
        message: item.message,
        code: item.code,
        params: item.params,
        ...bypassing(look.doc, rivals(look, node)),
      };
  },
};

export const feedLoop: Rule = {
  id: 'feed-loop',
  title: 'Feeds in a ring',
  severity: 'warning',
  group: 'leftovers',
  subject: 'remote links',
  why: 'Feeds that supply what one another’s sources take have no order in which they could be computed.',
  instead: 'Wire what one of the sources takes, or bypass one of the feeds.',
  *check(look: Look): Iterable<Found> {
    const { doc, kinds } = look;
    const wiring = effectiveWiring(doc, kinds);
    for (const { node, item } of told(look, 'feed-loop')) {
      const ring = feedsOf(doc).filter(
        (one) => !one.bypassed && item.message.includes(`“${caption(one)}”`) && wiring.suppliedBy(one.id).length > 0,
      );
      yield {
        graph: node.graph,
        id: node.id,
        message: item.message,
        code: item.code,
        params: item.params,
        ...bypassing(
          doc,
          ring.map(({ id }) => id),
        ),
      };
    }
  },
};

export const idleFeed: Rule = {
  id: 'idle-feed',
  title: 'Feed that supplies nothing',
  severity: 'info',
  group: 'leftovers',
  subject: 'remote links',
  why: 'A standing feed that no input takes from looks as if it did something.',
  instead: 'Wire it, let it supply more than it does, or delete it.',
  *check(look: Look): Iterable<Found> {
    const { doc, kinds } = look;
    const wiring = effectiveWiring(doc, kinds);
    const over = shadowing(look);
    for (const feed of feedsOf(doc)) {
      if (feed.bypassed || wiring.suppliedBy(feed.id).length > 0) continue;
      // a clash is a finding of its own
      if (rivals(look, feed).length > 1) continue;
      const by = [...(over.get(feed.id)?.by ?? [])].map((id) => caption(must(doc.nodes.get(id))));
      const said = !wiring.source(feed.id, 'in')
        ? say('empty-feed', { feed: caption(feed) })
        : by.length > 0
          ? say('hidden-feed', { feed: caption(feed), by })
          : say('needless-feed', { feed: caption(feed), scope: scopeTitle(doc, feedScope(doc, feed)) });
      yield {
        graph: feed.graph,
        id: feed.id,
        ...said,
        choices: [choice('Delete it', 'delete', [feed.id]), ...bypassing(doc, [feed.id]).choices],
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
  instead: 'Nothing, where that is meant; else bypass the nearer one.',
  *check(look: Look): Iterable<Found> {
    const { doc, kinds } = look;
    const wiring = effectiveWiring(doc, kinds);
    for (const [feed, { by, count }] of shadowing(look)) {
      const supplied = wiring.suppliedBy(feed).length;
      // one that supplies nothing at all is told as such
      if (supplied === 0) continue;
      const node = must(doc.nodes.get(feed));
      const said = say('shadowed-feed', {
        feed: caption(node),
        supplied,
        count,
        by: [...by].map((id) => caption(must(doc.nodes.get(id)))),
      });
      yield { graph: node.graph, id: feed, ...said, ...bypassing(doc, by) };
    }
  },
};

/** The feeds that nearer ones keep from inputs: by which, and from how many. O(feedable inputs · depth). */
function shadowing({ doc, kinds }: Look): ReadonlyMap<Id, { readonly by: ReadonlySet<Id>; readonly count: number }> {
  const wiring = effectiveWiring(doc, kinds);
  const found = new Map<Id, { by: Set<Id>; count: number }>();
  if (feedsOf(doc).length < 2) return found;
  for (const node of kinds.feedableKinds().flatMap((kind) => indexOf(doc).nodesOfKind(kind)))
    for (const port of node.ports) {
      const [nearest = [], ...outer] = port.direction === 'in' ? wiring.feedLevels(node.id, port.id) : [];
      const [only] = nearest;
      if (only === undefined || nearest.length > 1) continue;
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
  instead: 'Give the beacons names of their own; their taps follow.',
  *check(look: Look): Iterable<Found> {
    for (const { node, item } of told(look, 'beacon-name-repeats'))
      yield { graph: node.graph, id: node.id, message: item.message, code: item.code, params: item.params };
  },
};
