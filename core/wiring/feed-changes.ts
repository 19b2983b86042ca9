import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import type { Finding } from '../finding.ts';
import { must } from '../must.ts';
import { effectiveWiring } from './effective.ts';
import { find } from './sentences.ts';
import { portOf } from './types.ts';

const hasFeed = (doc: Doc): boolean => indexOf(doc).nodesOfKind(builtin.feed).length > 0;

/** Does a step add a feed, or make one of a node? */
const makesFeed = (step: Step): boolean =>
  step.type === 'add'
    ? (step.value as { kind?: unknown }).kind === builtin.feed
    : step.type === 'set' && step.path[0] === 'kind' && step.to === builtin.feed;

/** Fields whose change never changes what a feed supplies. */
const harmless = new Set([
  'x',
  'y',
  'name',
  'label',
  'color',
  'pinned',
  'closed',
  'show',
  'caption',
  'picture',
  'pictureOff',
  'size',
  'title',
  'note',
  'text',
  'width',
  'height',
  'pad',
]);

/** The nodes that an edit touches, with those at both ends of its wires, before and after. */
function touchedBy(doc: Doc, after: Doc, edit: Edit): Set<Id> {
  const ids = new Set<Id>();
  for (const step of edit.steps) {
    if (step.table === 'nodes') ids.add(step.id);
    if (step.table !== 'wires') continue;
    for (const wire of [doc.wires.get(step.id), after.wires.get(step.id)])
      if (wire) {
        ids.add(wire.from.node);
        ids.add(wire.to.node);
      }
  }
  return ids;
}

/**
 * May an edit change what is supplied to nodes that it does not touch? Where feeds, frames, nested graphs, or what
 * feeds stand on are changed. O(upstream of feeds).
 */
function reachesFar(doc: Doc, after: Doc, kinds: Kinds, edit: Edit, touched: ReadonlySet<Id>): boolean {
  if (edit.steps.some((step) => step.table === 'frames' || step.table === 'graphs')) return true;
  for (const id of touched)
    for (const node of [doc.nodes.get(id), after.nodes.get(id)])
      if (node?.kind === builtin.feed || node?.inner !== undefined) return true;
  const [then, now] = [effectiveWiring(doc, kinds), effectiveWiring(after, kinds)];
  return indexOf(doc)
    .nodesOfKind(builtin.feed)
    .some((feed) => {
      const [old, fresh] = [then.upstreamOf(feed.id), now.upstreamOf(feed.id)];
      return old.size !== fresh.size || [...old].some((id) => !fresh.has(id));
    });
}

/** Which feed supplies which input: of some nodes, or of all. */
function supplies(doc: Doc, kinds: Kinds, of: ReadonlySet<Id> | undefined): Map<string, { at: PortRef; feed: Id }> {
  const wiring = effectiveWiring(doc, kinds);
  const found = new Map<string, { at: PortRef; feed: Id }>();
  const note = (at: PortRef, feed: Id | undefined): unknown =>
    feed !== undefined && found.set(`${at.node} ${at.port}`, { at, feed });
  if (!of)
    for (const feed of indexOf(doc).nodesOfKind(builtin.feed))
      for (const at of wiring.suppliedBy(feed.id)) note(at, feed.id);
  for (const id of of ?? [])
    for (const port of doc.nodes.get(id)?.ports ?? [])
      if (port.direction === 'in') note({ node: id, port: port.id }, wiring.feedOf(id, port.id));
  return found;
}

/**
 * Inputs that a standing feed supplied before an edit and not after it, or the other way round, or another feed; only
 * where the file has a feed.
 * O(nodes touched + upstream of feeds), or O(feedable inputs) where feeds, frames or nested graphs are touched.
 */
export function feedChanges(doc: Doc, kinds: Kinds, edit: Edit): Finding[] {
  if (edit.steps.every((step) => step.type === 'set' && harmless.has(step.path[0] ?? ''))) return [];
  if (!hasFeed(doc) && !edit.steps.some((step) => step.type !== 'remove' && step.table === 'nodes' && makesFeed(step)))
    return [];
  const after = apply(doc, edit);
  const touched = touchedBy(doc, after, edit);
  const of = reachesFar(doc, after, kinds, edit, touched) ? undefined : touched;
  const [then, now] = [supplies(doc, kinds, of), supplies(after, kinds, of)];
  const title = (id: Id): string => `“${caption((after.nodes.get(id) ?? doc.nodes.get(id)) as GraphNode)}”`;
  const found: Finding[] = [];
  for (const key of new Set([...now.keys(), ...then.keys()])) {
    const [before, behind] = [then.get(key)?.feed, now.get(key)?.feed];
    const { node: id, port } = must(now.get(key) ?? then.get(key)).at;
    const node = after.nodes.get(id);
    const input = portOf(node, port, 'in');
    if (before === behind || !node || !input) continue;
    const what =
      behind === undefined
        ? `is no longer supplied by the feed ${title(must(before))}`
        : `is supplied by the feed ${title(behind)} now${before === undefined ? '' : `, not by ${title(before)}`}`;
    found.push(
      find('feed-changed', 'info', placeOf(after, node.graph, node.id), 'input-changed', {
        input: input.name,
        node: caption(node),
        what,
      }),
    );
  }
  return found;
}
