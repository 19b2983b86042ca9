import { hexOf, parseColor } from '../color/contrast.ts';
import type { Doc } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { GraphNode, Wire } from '../document/schema.ts';
import { escapeXml } from './xml.ts';

/** An attribute as another program declares it. */
export interface Declared {
  readonly attributes: Readonly<Record<string, string>>;
  readonly fallback?: string;
  readonly options?: string;
}

/** What came with a file of others, and goes back as it came. */
export interface Kept {
  /** XML attributes that we do not read. */
  readonly attributes?: Readonly<Record<string, string>>;
  /** Values by the id of what was declared. */
  readonly values?: Readonly<Record<string, string>>;
  /** What the elements of the viz module hold beside places and colours, by their names. */
  readonly viz?: Readonly<Record<string, Readonly<Record<string, string>>>>;
  /** Of the whole file: what was declared of nodes and edges, and the attributes of the graph. */
  readonly declared?: Readonly<Record<'node' | 'edge', readonly Declared[]>>;
  readonly graph?: Readonly<Record<string, string>>;
}
export const keptOf = (record: object): Kept => (record as { gexf?: Kept }).gexf ?? {};

/** Our own attributes, by the ids that they are declared with. */
export const own = {
  node: { name: 'basitax-name', kind: 'basitax-kind', more: 'basitax-more' },
  edge: { from: 'basitax-from-port', to: 'basitax-to-port', more: 'basitax-more' },
} as const;

/**
 * Nodes and wires of all graphs as GEXF 1.3 (https://gexf.net): places and colours in its viz module, names, kinds,
 * ports and all other fields as attributes.
 * What is nested stands beside the rest; frames and notes have no place in it. What came with such a file goes back as
 * it came. O(nodes + wires).
 */
export function writeGexf(doc: Doc): string {
  const { declared, graph } = keptOf(doc.extra);
  const lines = [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<gexf xmlns="http://gexf.net/1.3" xmlns:viz="http://gexf.net/1.3/viz" version="1.3">',
    `<meta><creator>Basitax</creator><description>${escapeXml(doc.head.title)}</description></meta>`,
    `<graph${attributeText({ mode: 'static', defaultedgetype: 'directed', ...graph })}>`,
    ...declarations('node', Object.values(own.node), declared?.node ?? []),
    ...declarations('edge', Object.values(own.edge), declared?.edge ?? []),
    '<nodes>',
    ...[...doc.nodes.values()].map(node),
    '</nodes>',
    '<edges>',
    ...[...doc.wires.values()].map(edge),
    '</edges>',
    '</graph>',
    '</gexf>',
    '',
  ];
  return lines.join('\n');
}

const attributeText = (attributes: Readonly<Record<string, string>>): string =>
  Object.entries(attributes)
    .map(([name, value]) => ` ${name}="${escapeXml(value)}"`)
    .join('');

function declarations(of: 'node' | 'edge', ids: readonly string[], kept: readonly Declared[]): string[] {
  const theirs = kept.map(({ attributes, fallback, options }) => {
    const inside = `${fallback === undefined ? '' : `<default>${escapeXml(fallback)}</default>`}${options === undefined ? '' : `<options>${escapeXml(options)}</options>`}`;
    return `<attribute${attributeText(attributes)}>${inside}</attribute>`;
  });
  return [
    `<attributes class="${of}" mode="static">`,
    ...ids.map((id) => `<attribute id="${id}" title="${id}" type="string"/>`),
    ...theirs,
    '</attributes>',
  ];
}

function values(ours: Readonly<Record<string, string | undefined>>, kept: Kept): string {
  const all = Object.entries({ ...kept.values, ...ours }).flatMap(([id, value]) =>
    value === undefined ? [] : [`<attvalue for="${escapeXml(id)}" value="${escapeXml(value)}"/>`],
  );
  return `<attvalues>${all.join('')}</attvalues>`;
}

const viz = (elements: Readonly<Record<string, Readonly<Record<string, string>>>>): string =>
  Object.entries(elements)
    .map(([name, attributes]) => `<viz:${name}${attributeText(attributes)}/>`)
    .join('');

const jsonOf = (more: object): string | undefined => (Object.keys(more).length > 0 ? JSON.stringify(more) : undefined);

function node(one: GraphNode): string {
  const {
    id,
    graph: _graph,
    frame: _frame,
    inner: _inner,
    gexf: _gexf,
    name,
    kind,
    x,
    y,
    color,
    label,
    ...more
  } = one as GraphNode & { gexf?: Json };
  const kept = keptOf(one);
  const rgb = parseColor(color);
  // only what reading gives again in the same signs
  const hasColor = rgb !== undefined && hexOf(rgb) === color;
  const shown = {
    ...(hasColor && { color: { ...kept.viz?.color, r: String(rgb[0]), g: String(rgb[1]), b: String(rgb[2]) } }),
    position: { ...kept.viz?.position, x: String(x), y: String(y) },
    ...Object.fromEntries(
      Object.entries(kept.viz ?? {}).filter(([element]) => element !== 'position' && element !== 'color'),
    ),
  };
  // a label that could not be told from the name, and a colour that is none of red, green and blue, go with the rest
  const rest = {
    ...more,
    ...((label === name || label === '') && { label }),
    ...(color !== undefined && !hasColor && { color }),
  };
  const ours = { [own.node.name]: name, [own.node.kind]: kind, [own.node.more]: jsonOf(rest) };
  return `<node id="${escapeXml(id)}" label="${escapeXml(label || name)}"${attributeText(kept.attributes ?? {})}>${values(ours, kept)}${viz(shown)}</node>`;
}

function edge(one: Wire): string {
  const { id, from, to, gexf: _gexf, ...more } = one as Wire & { gexf?: Json };
  const kept = keptOf(one);
  const ours = { [own.edge.from]: from.port, [own.edge.to]: to.port, [own.edge.more]: jsonOf(more) };
  const ends = ` source="${escapeXml(from.node)}" target="${escapeXml(to.node)}"`;
  return `<edge id="${escapeXml(id)}"${ends}${attributeText(kept.attributes ?? {})}>${values(ours, kept)}${viz(kept.viz ?? {})}</edge>`;
}
