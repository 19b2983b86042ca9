import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import { type Finding, finding } from '../finding.ts';
import { effectiveWiring } from './effective.ts';
import { portOf } from './types.ts';

const hasFeed = (doc: Doc): boolean => indexOf(doc).nodesOfKind(builtin.feed).length > 0;

/** Does a step add a feed, or make one of a node? */
const makesFeed = (step: Step): boolean =>
  step.type === 'add' ? (step.value as { kind?: unknown }).kind === builtin.feed : step.type === 'set' && step.path[0] === 'kind' && step.to === builtin.feed;

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

/** Which feed supplies which input. */
function supplies(doc: Doc, kinds: Kinds): Map<string, { at: PortRef; feed: Id }> {
  const wiring = effectiveWiring(doc, kinds);
  const found = new Map<string, { at: PortRef; feed: Id }>();
  for (const feed of indexOf(doc).nodesOfKind(builtin.feed)) for (const at of wiring.suppliedBy(feed.id)) found.set(`${at.node} ${at.port}`, { at, feed: feed.id });
  return found;
}

/** Inputs that a standing feed supplied before an edit and not after it, or the other way round, or another feed. O(feedable inputs), only where the file has a feed. */
export function feedChanges(doc: Doc, kinds: Kinds, edit: Edit): Finding[] {
  if (edit.steps.every((step) => step.type === 'set' && harmless.has(step.path[0] ?? ''))) return [];
  if (!hasFeed(doc) && !edit.steps.some((step) => step.type !== 'remove' && step.table === 'nodes' && makesFeed(step))) return [];
  const after = apply(doc, edit);
  const [then, now] = [supplies(doc, kinds), supplies(after, kinds)];
  const title = (id: Id): string => `“${caption((after.nodes.get(id) ?? doc.nodes.get(id)) as GraphNode)}”`;
  const found: Finding[] = [];
  for (const key of new Set([...now.keys(), ...then.keys()])) {
    const [before, behind] = [then.get(key)?.feed, now.get(key)?.feed];
    const { node: id, port } = (now.get(key) ?? then.get(key))!.at;
    const node = after.nodes.get(id);
    const input = portOf(node, port, 'in');
    if (before === behind || !node || !input) continue;
    const what =
      behind === undefined
        ? `is no longer supplied by the feed ${title(before!)}`
        : `is supplied by the feed ${title(behind)} now${before === undefined ? '' : `, not by ${title(before)}`}`;
    found.push(finding('feed-changed', 'info', placeOf(after, node.graph, node.id), `Input “${input.name}” of “${caption(node)}” ${what}.`));
  }
  return found;
}
