import { type Doc, indexOf, nodePath } from '../document/doc.ts';
import { framesAround, titleOf } from '../document/geometry.ts';
import type { Json } from '../document/json.ts';
import { isExpression } from '../document/kinds.ts';
import type { GraphNode, PortRef } from '../document/schema.ts';
import { textOfUse } from '../inspect/uses.ts';
import { portOf } from '../wiring/types.ts';

const valueText = (value: Json): string =>
  isExpression(value) ? textOfUse(value) : typeof value === 'string' ? value : JSON.stringify(value);

/**
 * A document in words, a line for each fact, in an order that depends on names alone: so that two versions can be
 * compared as text, and a change of one thing is a change of one line. O(document · log).
 */
export function wordsOf(doc: Doc): string[] {
  const port = (ref: PortRef, direction: 'in' | 'out'): string => {
    const node = doc.nodes.get(ref.node);
    return `${node ? nodePath(doc, node) : ref.node}.${portOf(node, ref.port, direction)?.name ?? ref.port}`;
  };
  const lines = [...doc.nodes.values()].flatMap((node) => nodeWords(doc, node));
  for (const { from, to, off } of doc.wires.values())
    lines.push(`wire ${port(from, 'out')} → ${port(to, 'in')}${off ? ' (off)' : ''}`);
  for (const frame of doc.frames.values()) {
    const path = [...framesAround(doc, frame).reverse(), frame].map(titleOf).join(' / ');
    const members = indexOf(doc)
      .membersOf(frame.id)
      .map((node) => node.name)
      .sort();
    lines.push(`frame ${path}: ${members.join(', ') || 'empty'}${frame.color ? `; color ${frame.color}` : ''}`);
  }
  for (const note of doc.notes.values()) lines.push(`note: ${note.text.replace(/\s+/g, ' ').trim()}`);
  return [`title ${doc.head.title}`, ...lines.sort()];
}

function nodeWords(doc: Doc, node: GraphNode): string[] {
  const path = nodePath(doc, node);
  const facts = [
    // by its id, since git shows versions apart from their catalogue
    `kind ${node.kind}`,
    ...(node.label ? [`label ${node.label.replace(/\s+/g, ' ')}`] : []),
    ...(node.color ? [`color ${node.color}`] : []),
    ...(node.bypassed ? ['bypassed'] : []),
    ...(node.pinned ? ['pinned'] : []),
    `at ${Math.round(node.x)}, ${Math.round(node.y)}`,
    ...Object.entries(node.params ?? {}).map(([name, value]) => `${name} = ${valueText(value)}`),
  ];
  return facts.map((fact) => `node ${path}: ${fact}`);
}
