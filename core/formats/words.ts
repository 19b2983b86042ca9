import { type Doc, graphPath, indexOf, nodePath } from '../document/doc.ts';
import { framesAround, titleOf } from '../document/geometry.ts';
import type { Json } from '../document/json.ts';
import { isExpression } from '../document/kinds.ts';
import type { Frame, GraphNode, PortRef } from '../document/schema.ts';
import { textOfUse } from '../inspect/uses.ts';
import { portOf } from '../wiring/types.ts';

const longest = 300;
const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();

function valueText(value: Json): string {
  const text = oneLine(
    isExpression(value) ? textOfUse(value) : typeof value === 'string' ? value : JSON.stringify(value),
  );
  // pictures and the like: enough to see that they are others
  return text.length > longest ? `${text.slice(0, 40)} … ${text.slice(-20)} (${text.length} characters)` : text;
}

/** What a record says beside the fields that are told in another way, a fact each. */
const factsOf = (record: object, told: readonly string[]): string[] =>
  Object.entries(record)
    .filter(([field, value]) => value !== undefined && !told.includes(field))
    .map(([field, value]) => (value === true ? field : `${field} ${valueText(value as Json)}`));

/**
 * A document in words, a line for each fact, in an order that depends on names alone: so that two versions can be
 * compared as text, and a change of one thing is a change of one line. Everything that a file holds is told. O(document ·
 * log).
 */
export function wordsOf(doc: Doc): string[] {
  const lines: string[] = [];
  const say = (what: string, facts: readonly string[]): void => {
    for (const fact of facts) lines.push(`${what}: ${fact}`);
  };
  const port = (ref: PortRef, direction: 'in' | 'out'): string => {
    const node = doc.nodes.get(ref.node);
    return `${node ? nodePath(doc, node) : ref.node}.${portOf(node, ref.port, direction)?.name ?? ref.port}`;
  };
  say('file', [...factsOf(doc.head, ['id', 'root']), ...factsOf(doc.extra, [])]);
  for (const graph of doc.graphs.values()) {
    const path = graphPath(doc, graph.id).map((id) => doc.graphs.get(id)?.name ?? id);
    say(`graph ${path.join(' / ')}`, ['here', ...factsOf(graph, ['id', 'name'])]);
  }
  for (const node of doc.nodes.values()) say(`node ${nodePath(doc, node)}`, nodeFacts(node));
  for (const wire of doc.wires.values())
    say(`wire ${port(wire.from, 'out')} → ${port(wire.to, 'in')}`, ['here', ...factsOf(wire, ['id', 'from', 'to'])]);
  for (const frame of doc.frames.values()) say(`frame ${framePath(doc, frame)}`, frameFacts(doc, frame));
  for (const { text, ...note } of doc.notes.values())
    say(`note ${valueText(text)}`, ['here', ...factsOf(note, ['id'])]);
  return lines.sort();
}

function nodeFacts({ x, y, ports, params, ...node }: GraphNode): string[] {
  return [
    `at ${x}, ${y}`,
    ...ports.map(({ direction, ...port }) => `${direction}put ${factsOf(port, []).join(', ')}`),
    ...Object.entries(params ?? {}).map(([name, value]) => `${name} = ${valueText(value)}`),
    // a frame tells its members
    ...factsOf(node, ['id', 'graph', 'name', 'frame']),
  ];
}

const framePath = (doc: Doc, frame: Frame): string =>
  [...framesAround(doc, frame).reverse(), frame].map(titleOf).join(' / ');

function frameFacts(doc: Doc, frame: Frame): string[] {
  const members = indexOf(doc).membersOf(frame.id);
  return [
    `holds ${
      members
        .map((node) => node.name)
        .sort()
        .join(', ') || 'nothing'
    }`,
    ...factsOf(frame, ['id', 'graph', 'parent', 'title']),
  ];
}
