import { isUndirected } from '../document/attributes.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import type { Frame, GraphNode } from '../document/schema.ts';
import { must } from '../must.ts';

const directions = { right: 'LR', left: 'RL', down: 'TB', up: 'BT' } as const;
/** Words that begin a statement of the language, and so cannot be the name of a node. */
const reserved =
  /^(?:end|graph|flowchart|subgraph|direction|class|classdef|style|linkstyle|click|default|call|href|interpolate)$/i;

/** Text in quotes: what has a meaning in the language goes as an entity. */
export const quotedText = (text: string): string =>
  `"${text
    .replace(/#/g, '#35;')
    .replace(/"/g, '#quot;')
    .replace(/</g, '#lt;')
    .replace(/>/g, '#gt;')
    .replace(/\r?\n/g, '<br/>')}"`;

/** The name of a node in the language: its own, which is unique in its graph. */
export const mermaidId = ({ name }: Pick<GraphNode, 'name'>): string => (reserved.test(name) ? `${name}_` : name);

/**
 * The outermost graph as a flowchart of Mermaid (https://mermaid.js.org/syntax/flowchart.html): what people see of nodes,
 * wires, and frames as subgraphs. The program that draws it places everything anew. O(nodes + wires).
 */
export function writeMermaid(doc: Doc, _kinds: Kinds): string {
  const { root } = doc.head;
  const index = indexOf(doc);
  const graph = must(doc.graphs.get(root));
  const lines = [
    '---',
    `title: ${JSON.stringify(doc.head.title)}`,
    '---',
    `flowchart ${directions[graph.flow ?? 'right']}`,
  ];
  const taken = new Set(index.nodesIn(root).map(mermaidId));
  const node = (one: GraphNode, indent: string): void => {
    const seen = one.label || one.name;
    lines.push(`${indent}${mermaidId(one)}${seen === mermaidId(one) ? '' : `[${quotedText(seen)}]`}`);
  };
  const frame = (one: Frame, indent: string): void => {
    lines.push(`${indent}subgraph ${freeId(`frame_${lines.length}`, taken)} [${quotedText(one.title || ' ')}]`);
    for (const inner of index.framesWithin(one.id)) frame(inner, `${indent}  `);
    for (const member of index.membersOf(one.id)) node(member, `${indent}  `);
    lines.push(`${indent}end`);
  };
  for (const one of index.framesIn(root)) if (one.parent === undefined || !doc.frames.has(one.parent)) frame(one, '  ');
  for (const one of index.nodesIn(root)) if (one.frame === undefined || !doc.frames.has(one.frame)) node(one, '  ');
  const id = (of: Id): string => mermaidId(must(doc.nodes.get(of)));
  for (const wire of index.wiresIn(root)) {
    const label = wire.attributes?.label;
    const said = typeof label === 'string' && label !== '' ? `|${quotedText(label)}|` : '';
    lines.push(`  ${id(wire.from.node)} ${isUndirected(doc, wire) ? '---' : '-->'}${said} ${id(wire.to.node)}`);
  }
  return `${lines.join('\n')}\n`;
}

function freeId(wanted: string, taken: Set<string>): string {
  let id = wanted;
  for (let i = 2; taken.has(id); i++) id = `${wanted}_${i}`;
  taken.add(id);
  return id;
}
