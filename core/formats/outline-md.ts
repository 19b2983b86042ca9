import { caption, type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { plural } from '../words.ts';

/** Text as Markdown takes it: what has a meaning there is told apart. */
const plain = (text: string): string => text.replace(/\s*\n\s*/g, ' ').replace(/[\\`*_[\]<>#|]/g, '\\$&');

/**
 * A document as an outline in Markdown, to be read: graphs as headings, frames with their notes as lists, nodes with
 * their kind and what feeds them. O(document).
 */
export function writeOutline(doc: Doc, kinds: Kinds): string {
  const index = indexOf(doc);
  const wiring = effectiveWiring(doc, kinds);
  const lines: string[] = [];
  const node = (one: GraphNode, indent: string): void => {
    const sources = [
      ...new Set(
        one.ports
          .filter(({ direction }) => direction === 'in')
          .flatMap(({ id }) => {
            const source = wiring.source(one.id, id);
            return source ? [caption(must(doc.nodes.get(source.node)))] : [];
          }),
      ),
    ];
    const marks = [one.bypassed && 'bypassed', one.locked && 'locked'].filter(Boolean).join(', ');
    lines.push(
      `${indent}- **${plain(caption(one))}** ${plain(kinds.title(one.kind))}${marks ? ` (${marks})` : ''}${sources.length > 0 ? ` ← ${sources.map(plain).join(', ')}` : ''}`,
    );
  };
  const frame = (one: Frame, indent: string): void => {
    lines.push(`${indent}- ${plain(one.title || 'Frame without a title')}${one.note ? `: ${plain(one.note)}` : ''}`);
    for (const inner of index.framesWithin(one.id)) frame(inner, `${indent}  `);
    for (const member of index.membersOf(one.id)) node(member, `${indent}  `);
  };
  const graph = (id: Id, path: string, depth: number): void => {
    const nodes = index.nodesIn(id);
    lines.push(
      '',
      `${'#'.repeat(Math.min(6, depth))} ${plain(path)}`,
      '',
      `${plural(nodes.length, 'node')}, ${plural(index.wiresIn(id).length, 'wire')}`,
      '',
    );
    for (const note of index.notesIn(id))
      if (note.text.trim() !== '') lines.push(`> ${note.text.replace(/\n/g, '\n> ')}`, '');
    for (const one of index.framesIn(id)) if (one.parent === undefined) frame(one, '');
    for (const one of nodes) if (one.frame === undefined) node(one, '');
    for (const one of nodes) if (one.inner !== undefined) graph(one.inner, `${path} / ${caption(one)}`, depth + 1);
  };
  graph(doc.head.root, doc.head.title, 1);
  return `${lines.join('\n').trim()}\n`;
}
