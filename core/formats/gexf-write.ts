import { hexOf, parseColor } from '../color/contrast.ts';
import { attributesOf, columnsOf, isUndirected, type KnownAttribute, textOfValue } from '../document/attributes.ts';
import { foreignKind } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import type { Json } from '../document/json.ts';
import type { AttributeBearer, GraphNode, Wire } from '../document/schema.ts';
import { must } from '../must.ts';
import { ourHead, ourNamespace, own, places } from './gexf-words.ts';
import { OuterIds } from './outer-ids.ts';
import { attributesText, escapeXml, xmlTypes } from './xml.ts';

/**
 * Nodes and wires of all graphs as GEXF 1.3 (https://gexf.net): places and colours in its viz module, attributes as
 * attvalues; names, kinds, ports and all other fields as attributes of ours.
 * What is nested stands beside the rest; frames and notes have no place in it. What came with such a file goes back to
 * where it stood. O(nodes + wires).
 */
export function writeGexf(doc: Doc): string {
  return new Writer(doc).write();
}

/** An attribute as it is declared in the file, or the place that its values have elsewhere. */
interface Column extends KnownAttribute {
  /** Its id in the file, or the place in an element that it came from. */
  readonly id: string;
  readonly isPlace: boolean;
}

const seenNames: ReadonlySet<string> = new Set(['x', 'y', 'z', 'label', 'color', 'size', 'shape', 'thickness', 'id']);

class Writer {
  private readonly doc: Doc;
  private readonly nodeIds = new OuterIds();
  private readonly edgeIds = new OuterIds();
  private readonly columns: Readonly<Record<'graph' | 'node' | 'wire', ReadonlyMap<string, Column>>>;

  constructor(doc: Doc) {
    this.doc = doc;
    this.columns = { graph: this.columnsOf('graph'), node: this.columnsOf('node'), wire: this.columnsOf('wire') };
  }

  private columnsOf(of: AttributeBearer): ReadonlyMap<string, Column> {
    const isTheirs = (one: KnownAttribute): boolean => one.from === 'gexf' && one.key !== undefined;
    const taken = new Set<string>([...Object.values(own.node), ...Object.values(own.edge)]);
    // programs that know no places take a value of such a name for the place, the colour or the label
    const isSeen = (title: string, one: KnownAttribute): boolean =>
      !isTheirs(one) && seenNames.has(title.toLowerCase());
    return new Map(
      columnsOf(this.doc, of, isSeen, (title) => `_${title}`).map(({ column, ...one }): [string, Column] => {
        const isPlace = isTheirs(one) && /^(?:@|viz:|meta:|spells$)/.test(must(one.key));
        let id = isTheirs(one) ? must(one.key) : column;
        while (!isPlace && taken.has(id)) id = `${id}_`;
        taken.add(id);
        return [one.name, { ...one, title: isTheirs(one) ? (one.title ?? one.name) : column, id, isPlace }];
      }),
    );
  }

  write(): string {
    const { doc } = this;
    const root = must(doc.graphs.get(doc.head.root));
    const isDirected = root.undirected !== true;
    const about = this.placesOf('graph', root);
    const meta = new Map([['creator', 'Basitax'], ['description', doc.head.title], ...about.meta]);
    const inside = ['creator', 'keywords', 'description'].flatMap((name) =>
      meta.has(name) ? [`<${name}>${escapeXml(must(meta.get(name)), '')}</${name}>`] : [],
    );
    const outside = [...meta].filter(([name]) => !['creator', 'keywords', 'description'].includes(name));
    const isDynamic = (['node', 'wire'] as const).some((of) =>
      [...this.columns[of].values()].some((one) => one.more?.mode === 'dynamic' || one.id === places.spells),
    );
    const graph = new Map([
      ['mode', isDynamic ? 'dynamic' : 'static'],
      ['defaultedgetype', isDirected ? 'directed' : 'undirected'],
      ...about.xml,
      [ourHead, JSON.stringify(this.head())],
    ]);
    return [
      '<?xml version="1.0" encoding="UTF-8"?>',
      `<gexf xmlns="http://gexf.net/1.3" xmlns:viz="http://gexf.net/1.3/viz" xmlns:basitax="${ourNamespace}" version="1.3">`,
      `<meta${attributesText(outside)}>${inside.join('')}</meta>`,
      `<graph${attributesText(graph)}>`,
      ...this.declarations('node', Object.values(own.node)),
      ...this.declarations('edge', Object.values(own.edge)),
      '<nodes>',
      ...Array.from(doc.nodes.values(), (one) => this.node(one)),
      '</nodes>',
      '<edges>',
      ...Array.from(doc.wires.values(), (one) => this.edge(one)),
      '</edges>',
      '</graph>',
      '</gexf>',
      '',
    ].join('\n');
  }

  /** What we say of the whole beside. */
  private head(): Json {
    const { id, title, catalogue, sets, wireStyle, attributes, root } = this.doc.head;
    const { id: _id, attributes: _own, ...graph } = must(this.doc.graphs.get(root));
    const columns = (['node', 'wire'] as const).flatMap((of) =>
      [...this.columns[of].values()]
        .filter((one) => !(one.from === 'gexf') || one.holds !== one.type)
        .map((one) => ({ of: of === 'wire' ? 'edge' : of, id: one.id, name: one.name, type: one.holds })),
    );
    return JSON.parse(JSON.stringify({ id, title, catalogue, sets, wireStyle, attributes, graph, columns })) as Json;
  }

  private declarations(domain: 'node' | 'edge', ids: readonly string[]): string[] {
    const columns = [...this.columns[domain === 'edge' ? 'wire' : 'node'].values()].filter((one) => !one.isPlace);
    const textOf = (one: Column): string => {
      const isTheirs = one.from === 'gexf';
      const { options, mode: _mode, ...more } = isTheirs ? (one.more ?? {}) : {};
      const head = attributesText(
        Object.entries({ id: one.id, title: one.title ?? one.name, type: xmlTypes[one.holds], ...more }),
      );
      const inside = `${one.default === undefined ? '' : `<default>${escapeXml(textOfValue(one.default, one.holds), '')}</default>`}${options === undefined ? '' : `<options>${escapeXml(options, '')}</options>`}`;
      return inside === '' ? `<attribute${head}/>` : `<attribute${head}>${inside}</attribute>`;
    };
    const isDynamic = (one: Column): boolean => one.from === 'gexf' && one.more?.mode === 'dynamic';
    const [moving, still] = [columns.filter(isDynamic), columns.filter((one) => !isDynamic(one))];
    return [
      `<attributes class="${domain}" mode="static">`,
      ...ids.map((id) => `<attribute id="${id}" title="${id}" type="string"/>`),
      ...still.map(textOf),
      '</attributes>',
      ...(moving.length > 0
        ? [`<attributes class="${domain}" mode="dynamic">`, ...moving.map(textOf), '</attributes>']
        : []),
    ];
  }

  /** The attributes of a record by where they stand: in the element, in the viz module, among the values. */
  private placesOf(of: 'graph' | 'node' | 'wire', record: object) {
    const xml: [string, string][] = [];
    const meta: [string, string][] = [];
    const viz = new Map<string, [string, string][]>();
    const values: string[] = [];
    let spells = '';
    for (const [name, value] of Object.entries(attributesOf(record))) {
      const column = must(this.columns[of].get(name));
      const text = textOfValue(value, column.holds);
      if (!column.isPlace) values.push(...valueTexts(column, value));
      else if (column.id === places.spells) spells = spellsText(value);
      else if (column.id.startsWith('@')) xml.push([column.id.slice(1), text]);
      else if (column.id.startsWith('meta:')) meta.push([column.id.slice(5), text]);
      else {
        const [, element = '', part = ''] = column.id.split(':');
        viz.set(element, [...(viz.get(element) ?? []), [part, text]]);
      }
    }
    return { xml, meta, viz, values, spells };
  }

  private node(one: GraphNode): string {
    const {
      id: _id,
      graph: _graph,
      frame: _frame,
      inner: _inner,
      attributes: _attributes,
      name,
      kind,
      x,
      y,
      color,
      label,
      ...more
    } = one;
    const { xml, viz, values, spells } = this.placesOf('node', one);
    const rgb = parseColor(color);
    // only what reading gives again in the same characters
    const hasColor = rgb !== undefined && hexOf(rgb) === color;
    const look = new Map<string, readonly (readonly [string, string])[]>([
      ...(hasColor
        ? [
            [
              'color',
              [['r', String(rgb[0])], ['g', String(rgb[1])], ['b', String(rgb[2])], ...(viz.get('color') ?? [])],
            ] as const,
          ]
        : []),
      ['position', [['x', String(x)], ['y', String(y)], ...(viz.get('position') ?? [])]],
      ...[...viz].filter(([element]) => element !== 'position' && element !== 'color'),
    ]);
    // a label that could not be told from the name, and a colour that is none of red, green and blue, go with the rest
    const rest = {
      ...more,
      ...((label === name || label === '') && { label }),
      ...(color !== undefined && !hasColor && { color }),
    };
    const ours = [
      [own.node.name, name],
      ...(kind === foreignKind ? [] : [[own.node.kind, kind]]),
      ...(Object.keys(rest).length > 0 ? [[own.node.more, JSON.stringify(rest)]] : []),
    ] as [string, string][];
    const head = attributesText([['id', this.nodeIds.of(one)], ['label', label || name], ...xml]);
    return `<node${head}>${valuesText(values, ours)}${spells}${vizText(look)}</node>`;
  }

  private edge(one: Wire): string {
    const { id: _id, from, to, attributes: _attributes, direction: _direction, ...more } = one;
    const { xml, viz, values, spells } = this.placesOf('wire', one);
    const ours = [
      [own.edge.from, from.port],
      [own.edge.to, to.port],
      ...(Object.keys(more).length > 0 || one.direction !== undefined
        ? [[own.edge.more, JSON.stringify({ ...more, ...(one.direction && { direction: one.direction }) })]]
        : []),
    ] as [string, string][];
    const [source, target] = [must(this.doc.nodes.get(from.node)), must(this.doc.nodes.get(to.node))];
    const isPlain = isUndirected(this.doc, one) === (this.doc.graphs.get(this.doc.head.root)?.undirected === true);
    const type =
      one.direction === 'both'
        ? 'mutual'
        : isPlain
          ? undefined
          : isUndirected(this.doc, one)
            ? 'undirected'
            : 'directed';
    const head = attributesText([
      ...(one.foreignId === '' ? [] : [['id', this.edgeIds.of(one)] as const]),
      ['source', this.nodeIds.of(source)],
      ['target', this.nodeIds.of(target)],
      ...(type === undefined ? [] : [['type', type] as const]),
      ...xml,
    ]);
    const rgb = parseColor(viz.get('color')?.find(([part]) => part === 'rgb')?.[1]);
    const look = new Map(viz);
    if (rgb)
      look.set('color', [
        ...(['r', 'g', 'b'] as const).map((part, i): [string, string] => [part, String(rgb[i])]),
        ...(viz.get('color') ?? []).filter(([part]) => part !== 'rgb'),
      ]);
    return `<edge${head}>${valuesText(values, ours)}${spells}${vizText(look)}</edge>`;
  }
}

/** A value as it stands in the file: one, or one for each time. */
function valueTexts(column: Column, value: Json): string[] {
  const one = (text: string, times: readonly (readonly [string, string])[] = []): string =>
    `<attvalue${attributesText([['for', column.id], ['value', text], ...times])}/>`;
  if (column.from !== 'gexf' || !Array.isArray(value)) return [one(textOfValue(value, column.holds))];
  return value.map((at: Json) => {
    const { value: own, ...times } = at as Readonly<Record<string, Json>>;
    return one(
      textOfValue(own ?? ''),
      Object.entries(times).map(([name, time]) => [name, textOfValue(time)]),
    );
  });
}

const spellsText = (value: Json): string =>
  Array.isArray(value)
    ? `<spells>${value.map((one: Json) => `<spell${attributesText(Object.entries(one as Readonly<Record<string, Json>>).map(([name, time]) => [name, textOfValue(time)] as const))}/>`).join('')}</spells>`
    : '';

const valuesText = (values: readonly string[], ours: readonly (readonly [string, string])[]): string =>
  `<attvalues>${values.join('')}${ours
    .map(
      ([id, value]) =>
        `<attvalue${attributesText([
          ['for', id],
          ['value', value],
        ])}/>`,
    )
    .join('')}</attvalues>`;

const vizText = (elements: ReadonlyMap<string, readonly (readonly [string, string])[]>): string =>
  Array.from(elements, ([name, attributes]) => `<viz:${name}${attributesText(attributes)}/>`).join('');
