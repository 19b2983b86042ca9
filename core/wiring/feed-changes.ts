import { builtin } from '../document/builtin.ts';
import { caption, type Doc, indexOf, placeOf } from '../document/doc.ts';
import type { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { apply, type Edit, type Step } from '../edit/step.ts';
import { type Finding, finding } from '../finding.ts';
import { effectiveWiring } from './effective.ts';

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

/** Inputs that a standing feed supplied before an edit and not after it, or the other way round, or another feed. O(ports), only where the file has a feed. */
export function feedChanges(doc: Doc, kinds: Kinds, edit: Edit): Finding[] {
  if (edit.steps.every((step) => step.type === 'set' && harmless.has(step.path[0] ?? ''))) return [];
  if (!hasFeed(doc) && !edit.steps.some((step) => step.type !== 'remove' && step.table === 'nodes' && makesFeed(step))) return [];
  const after = apply(doc, edit);
  const [then, now] = [effectiveWiring(doc, kinds), effectiveWiring(after, kinds)];
  const title = (id: string | undefined): string => `“${caption((after.nodes.get(id ?? '') ?? doc.nodes.get(id ?? '')) as GraphNode)}”`;
  const found: Finding[] = [];
  for (const node of now.nodes) {
    for (const port of node.ports) {
      if (port.direction !== 'in') continue;
      const [before, behind] = [doc.nodes.has(node.id) ? then.source(node.id, port.id)?.feed : undefined, now.source(node.id, port.id)?.feed];
      if (before === behind) continue;
      const what =
        behind === undefined
          ? `is no longer supplied by the feed ${title(before)}`
          : `is supplied by the feed ${title(behind)} now${before === undefined ? '' : `, not by ${title(before)}`}`;
      found.push(finding('feed-changed', 'info', placeOf(after, node.graph, node.id), `Input “${port.name}” of “${caption(node)}” ${what}.`));
    }
  }
  return found;
}
