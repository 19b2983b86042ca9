import { type Doc, indexOf } from '../document/doc.ts';
import { rectOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { portAt } from '../document/port-at.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { inch } from './dot-read.ts';

const directions = { right: 'LR', left: 'RL', down: 'TB', up: 'BT' } as const;

type Kept = Readonly<Record<string, string>>;
const keptOf = (record: object): Kept => (record as { dot?: Kept }).dot ?? {};

/**
 * The outermost graph as DOT: nodes as records with their ports, places in points and sizes in inches, frames as
 * clusters; attributes that came with a DOT file go back as they came. DOT has no nested graphs, no parameters and no
 * notes: those are left out.
 * O(document).
 */
export function writeDot(doc: Doc, kinds: Kinds): string {
  return new Writer(doc, kinds).write();
}

class Writer {
  private readonly doc: Doc;
  private readonly kinds: Kinds;
  private readonly lines: string[] = [];
  private readonly isDirected: boolean;

  constructor(doc: Doc, kinds: Kinds) {
    this.doc = doc;
    this.kinds = kinds;
    this.isDirected = keptOf(doc.extra)[' undirected'] !== 'true';
  }

  write(): string {
    const { root } = this.doc.head;
    const graph = must(this.doc.graphs.get(root));
    const index = indexOf(this.doc);
    const kept = keptOf(this.doc.extra);
    const strict = kept[' strict'] === 'true' ? 'strict ' : '';
    this.lines.push(`${strict}${this.isDirected ? 'digraph' : 'graph'} ${quoted(graph.name)} {`);
    const own: Kept = { ...kept, rankdir: directions[graph.flow ?? 'right'] };
    for (const [name, value] of Object.entries(own))
      if (!name.startsWith(' ')) this.lines.push(`  ${quoted(name)}=${quoted(value)};`);
    for (const frame of index.framesIn(root))
      if (frame.parent === undefined || !this.doc.frames.has(frame.parent)) this.frame(frame.id, '  ');
    for (const node of index.nodesIn(root))
      if (node.frame === undefined || !this.doc.frames.has(node.frame)) this.node(node, '  ');
    for (const wire of index.wiresIn(root)) this.wire(wire);
    this.lines.push('}', '');
    return this.lines.join('\n');
  }

  private frame(id: Id, indent: string): void {
    const frame = must(this.doc.frames.get(id));
    const index = indexOf(this.doc);
    this.lines.push(`${indent}subgraph ${quoted(id.startsWith('cluster') ? id : `cluster_${id}`)} {`);
    const own: Kept = {
      ...keptOf(frame),
      label: keptOf(frame).label ?? frame.title,
      ...(frame.color && { color: frame.color }),
    };
    for (const [name, value] of Object.entries(own)) this.lines.push(`${indent}  ${quoted(name)}=${quoted(value)};`);
    for (const inner of index.framesWithin(id)) this.frame(inner.id, `${indent}  `);
    for (const node of index.membersOf(id)) this.node(node, `${indent}  `);
    this.lines.push(`${indent}}`);
  }

  private node(node: GraphNode, indent: string): void {
    const rect = rectOf(this.doc, this.kinds, node);
    const kept = keptOf(node);
    const own: Kept = {
      ...(isForeign(node) ? {} : { shape: 'record', label: recordOf(node) }),
      ...(node.color && { color: node.color }),
      ...kept,
      ...(isForeign(node) && kept.label === undefined && node.label && { label: escaped(node.label) }),
      pos: `${rect.x + rect.width / 2},${-(rect.y + rect.height / 2) + 0}`,
      width: String(rect.width / inch),
      height: String(rect.height / inch),
    };
    this.lines.push(`${indent}${quoted(node.id)}${attributes(own)};`);
  }

  private wire(wire: Wire): void {
    const end = (which: 'from' | 'to'): string => {
      const node = must(this.doc.nodes.get(wire[which].node));
      const port = portAt(node.ports, wire[which].port, which === 'from' ? 'out' : 'in');
      // an end that came without a port goes back without one
      const name =
        port === undefined || port.foreign === ''
          ? undefined
          : isForeign(node)
            ? (port.foreign ?? port.id)
            : portId(which === 'from' ? 'out' : 'in', port.id);
      return name === undefined ? quoted(node.id) : `${quoted(node.id)}:${quoted(name)}`;
    };
    this.lines.push(`  ${end('from')} ${this.isDirected ? '->' : '--'} ${end('to')}${attributes(keptOf(wire))};`);
  }
}

/** Nodes that came from elsewhere keep their shape and label; ours are records. */
const isForeign = (node: GraphNode): boolean => node.kind === 'foreign.node';

const portId = (direction: 'in' | 'out', id: string): string => `${direction}_${id}`;

/** Inputs, caption and outputs as three fields; in braces, so that they stand in the order of the flow. */
function recordOf(node: GraphNode): string {
  const field = (direction: 'in' | 'out'): string =>
    node.ports
      .filter((port) => port.direction === direction)
      .map((port) => `<${escaped(portId(direction, port.id))}> ${escaped(port.name)}`)
      .join('|');
  const [inputs, outputs] = [field('in'), field('out')];
  return [inputs && `{${inputs}}`, escaped(node.label || node.name), outputs && `{${outputs}}`]
    .filter(Boolean)
    .join('|');
}

const escaped = (text: string): string => text.replace(/[\\|{}<>]/g, '\\$&');

const attributes = (own: Kept): string =>
  Object.keys(own).length === 0
    ? ''
    : ` [${Object.entries(own)
        .map(([name, value]) => `${quoted(name)}=${quoted(value)}`)
        .join(', ')}]`;

/** A word as it is, HTML-like text in its own brackets, all else in quotes. */
function quoted(text: string): string {
  if (/^[A-Za-z_][A-Za-z0-9_]*$/.test(text) && !/^(node|edge|graph|digraph|subgraph|strict)$/i.test(text)) return text;
  if (/^<[\s\S]*>$/.test(text) && balanced(text)) return text;
  // a backslash before a quote or a line break would escape it
  const inside = text.replace(/(\\+)(["\n]?)|"/g, (found, slashes: string | undefined, behind: string, at: number) => {
    if (slashes === undefined) return '\\"';
    const escapes = behind !== '' || at + found.length === text.length;
    return `${slashes}${escapes && slashes.length % 2 === 1 ? '\\' : ''}${behind === '"' ? '\\"' : behind}`;
  });
  return `"${inside}"`;
}

function balanced(text: string): boolean {
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    if (text[i] === '<') depth++;
    else if (text[i] === '>' && --depth === 0 && i < text.length - 1) return false;
  }
  return depth === 0;
}
