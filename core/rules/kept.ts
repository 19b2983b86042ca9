import { caption, type Doc, indexOf } from '../document/doc.ts';
import { titleOf } from '../document/geometry.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { listed } from '../words.ts';
import { type Found, fix, type Look, type Rule } from './rule.ts';
import { say } from './sentences.ts';

export const defaultName: Rule = {
  id: 'default-name',
  title: 'Default name',
  severity: 'info',
  group: 'leftovers',
  subject: 'names',
  why: 'A kind and a number do not say what a node is for, so a reader of the list of nodes has to open each one.',
  instead: 'Name it after what it gives: after its frame, what it feeds, or what it comes from.',
  *check(look: Look): Iterable<Found> {
    for (const node of look.doc.nodes.values()) {
      if (node.label || !isDefaultName(node.name, node.kind, look.kinds) || look.kinds.isFixture(node.kind)) continue;
      const pattern = patternFor(look, node);
      const counts = look.kinds.kind(node.kind)?.nameMatters
        ? ' Its name matters: a different name changes the result.'
        : '';
      const said = say('default-name', { node: node.name, kind: look.kinds.title(node.kind), counts });
      yield {
        graph: node.graph,
        id: node.id,
        ...said,
        ...fix('captions', [node.id], { target: 'name', pattern, mend: true }),
      };
    }
  },
};

/** A name after its frame, after what it goes to or comes from, or after its category. */
function patternFor({ doc, kinds }: Look, node: GraphNode): string {
  if (node.frame !== undefined && doc.frames.get(node.frame)?.title.trim()) return '{frame}_{kind}';
  const index = indexOf(doc);
  const telling = (id: string): string[] => {
    const other = must(doc.nodes.get(id));
    return isDefaultName(other.name, other.kind, kinds) ? [] : [other.name];
  };
  const [to] = index.wiresFrom(node.id).flatMap((wire) => telling(wire.to.node));
  const [from] = index.wiresInto(node.id).flatMap((wire) => telling(wire.from.node));
  return `${to ?? from ?? '{category}'}_{kind}`;
}

export const emptyFrame: Rule = {
  id: 'empty-frame',
  title: 'Empty frame',
  severity: 'info',
  group: 'leftovers',
  subject: 'leftovers',
  why: 'A frame without members says that something should be there.',
  instead: 'Delete the frame, or put the nodes in it that it was made for.',
  *check({ doc }: Look): Iterable<Found> {
    const index = indexOf(doc);
    for (const frame of doc.frames.values())
      if (index.membersOf(frame.id).length === 0 && index.framesWithin(frame.id).length === 0)
        yield {
          graph: frame.graph,
          id: frame.id,
          ...say('empty-frame', { frame: titleOf(frame) }),
          ...fix('delete', [frame.id]),
        };
  },
};

export const missingAsset: Rule = {
  id: 'missing-asset',
  title: 'Missing asset',
  severity: 'error',
  group: 'reading',
  subject: 'parameters',
  why: 'A path to a missing file stops the render, late and somewhere else.',
  instead: 'Point it to where the file is now, or put the file back.',
  *check({ doc, kinds, facts }: Look): Iterable<Found> {
    if (!facts.assets) return;
    for (const { node, parameter, path } of readPaths(doc, kinds)) {
      const known = facts.assets[path];
      if (!known || known.exists) continue;
      const [only, ...more] = known.elsewhere;
      const where =
        only === undefined
          ? ''
          : more.length === 0
            ? ` A file of that name is at “${only}”.`
            : ` Files of that name lie at ${listed(known.elsewhere)}.`;
      const said = say('missing-asset', { node: caption(node), path, where });
      yield {
        graph: node.graph,
        id: node.id,
        ...said,
        ...(only !== undefined && more.length === 0 && fix('set-parameter', [node.id], { parameter, value: only })),
      };
    }
  },
};

/** Every path that nodes of a document read: what is written need not be there yet. O(parameters). */
export function readPaths(
  doc: Doc,
  kinds: Kinds,
): { readonly node: GraphNode; readonly parameter: string; readonly path: string }[] {
  return [...doc.nodes.values()].flatMap((node) =>
    kinds.pathsOf(node).flatMap(({ parameter, path, isRead }) => (isRead ? [{ node, parameter, path }] : [])),
  );
}
