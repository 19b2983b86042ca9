import fc from 'fast-check';
import { builtin } from '../document/builtin.ts';
import { type Catalogue, catalogueSchema } from '../document/catalogue.ts';
import { type Doc, emptyDoc } from '../document/doc.ts';
import { type Id, seededRandom } from '../document/ids.ts';
import type { Json } from '../document/json.ts';
import { Kinds } from '../document/kinds.ts';
import { captions, type Frame, type Graph, type GraphNode, type Note, type Wire } from '../document/schema.ts';

/** A small catalogue that has one of everything the rules speak of. */
export const testCatalogue: Catalogue = catalogueSchema.parse({
  id: 'test',
  version: 1,
  title: 'Test kinds',
  loops: 'allowed',
  types: [
    {
      id: 'num',
      title: 'number',
      sign: 'circle',
      hue: 3,
      assignableTo: ['col'],
      conversions: [{ to: 'int', kind: 'round' }],
    },
    { id: 'int', title: 'whole number', sign: 'ring', hue: 3 },
    { id: 'col', title: 'colour', sign: 'diamond', hue: 6 },
    {
      id: 'vec',
      title: 'vector',
      sign: 'triangle',
      hue: 2,
      components: [
        { name: 'x', type: 'num' },
        { name: 'y', type: 'num' },
      ],
      conversions: [{ to: 'num', kind: 'measure' }],
    },
  ],
  categories: [{ id: 'math', title: 'Mathematics', hue: 2 }],
  kinds: [
    {
      id: 'src',
      title: 'Source',
      code: 'So',
      category: 'math',
      ports: [out('out', 'num')],
      parameters: [{ id: 'value', title: 'Value', type: 'number', min: 0, max: 100, default: 1 }],
    },
    {
      id: 'add',
      title: 'Add',
      code: 'Ad',
      category: 'math',
      ports: [inp('a', 'num'), inp('b', 'num'), out('out', 'num')],
      pass: { out: 'b' },
    },
    {
      id: 'tint',
      title: 'Tint',
      code: 'Ti',
      category: 'math',
      ports: [inp('amount', 'num', { feedable: true }), inp('base', 'col'), out('out', 'col')],
    },
    {
      id: 'shade',
      title: 'Shade',
      code: 'Sh',
      category: 'math',
      ports: [
        inp('steps', 'int', { feedable: true }),
        inp('base', 'col', { feedable: true }),
        out('out', 'col'),
        out('count', 'int'),
      ],
    },
    { id: 'round', title: 'Round', code: 'Ro', category: 'math', ports: [inp('in', 'num'), out('out', 'int')] },
    {
      id: 'sum',
      title: 'Sum',
      code: 'Su',
      category: 'math',
      ports: [inp('in1', 'num', { many: true }), out('out', 'num')],
    },
    {
      id: 'end',
      title: 'End',
      code: 'En',
      category: 'math',
      ports: [inp('in', 'col')],
      end: true,
      parameters: [{ id: 'note', title: 'Note', type: 'text', default: '', cosmetic: true }],
    },
    { id: 'wind', title: 'Wind', code: 'Wi', category: 'math', ports: [inp('speed', 'num'), out('out', 'vec')] },
    {
      id: 'bend',
      title: 'Bend',
      code: 'Be',
      category: 'math',
      ports: [inp('dir', 'vec'), inp('amount', 'num'), out('out', 'vec')],
    },
    {
      id: 'measure',
      title: 'Measure',
      code: 'Me',
      category: 'math',
      ports: [inp('vector', 'vec'), inp('scale', 'num'), out('out', 'num')],
    },
  ],
});

export const testKinds = new Kinds(testCatalogue);

const source = testCatalogue.kinds.find((kind) => kind.id === 'src')!;
/** The same with a kind that reads a file, and a shared kind. */
export const wideKinds = new Kinds({
  ...testCatalogue,
  kinds: [
    ...testCatalogue.kinds,
    {
      ...source,
      id: 'reader',
      title: 'Map reader',
      code: 'Rd',
      reads: ['exr'],
      parameters: [{ id: 'file', title: 'File', type: 'path', default: '', main: true, cosmetic: false }],
    },
    { ...source, id: 'shared.glow.1', code: 'Gl', shared: { name: 'glow', version: 1 } },
    {
      ...source,
      id: 'shared.glow.2',
      code: 'Gl',
      shared: { name: 'glow', version: 2 },
      parameters: source.parameters.map((one) => ({ ...one, default: 2 })),
    },
  ],
});

function inp(id: string, type: string, more: object = {}): object {
  return { id, name: id, type, direction: 'in', ...more };
}
function out(id: string, type: string): object {
  return { id, name: id, type, direction: 'out' };
}

export interface Sketchpad {
  readonly doc: Doc;
  node(id: Id, kind: string, more?: Partial<GraphNode>): Sketchpad;
  wire(from: string, to: string, more?: Partial<Wire>): Sketchpad;
  frame(id: Id, more?: Partial<Frame>): Sketchpad;
  graph(id: Id, more?: Partial<Graph>): Sketchpad;
}

/** Small documents by hand: ends are written `node.port`; a wire's id is `from>to`. */
export function sketchDoc(doc: Doc = emptyDoc('doc', 'Test', { id: 'test', version: 1 })): Sketchpad {
  const tables = {
    graphs: new Map(doc.graphs),
    nodes: new Map(doc.nodes),
    wires: new Map(doc.wires),
    frames: new Map(doc.frames),
    notes: new Map(doc.notes),
  };
  const end = (text: string): { node: Id; port: string } => ({ node: text.split('.')[0]!, port: text.split('.')[1]! });
  const pad: Sketchpad = {
    get doc() {
      return { ...doc, ...tables };
    },
    node(id, kind, more = {}) {
      const ports = testKinds.kind(kind) ? testKinds.startPorts(kind) : [];
      tables.nodes.set(id, { id, graph: 'root', kind, name: id, x: 0, y: 0, ports, ...more });
      return pad;
    },
    wire(from, to, more = {}) {
      const id = `${from}>${to}`;
      tables.wires.set(id, { id, from: end(from), to: end(to), ...more });
      return pad;
    },
    frame(id, more = {}) {
      tables.frames.set(id, { id, graph: 'root', title: id, x: 0, y: 0, width: 200, height: 100, ...more });
      return pad;
    },
    graph(id, more = {}) {
      tables.graphs.set(id, { id, name: id, ...more });
      return pad;
    },
  };
  return pad;
}

/** One grey pixel. */
export const smallPicture =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNoAAAAggCBd81ytgAAAABJRU5ErkJggg==';

const kindIds = ['src', 'add', 'tint', 'round', 'sum', 'end', builtin.reroute, 'unknown.kind'];

/**
 * A whole document from a seed: frames in frames, a nested graph, wires that fit (loops among them), unknown kinds and
 * fields.
 */
export function docFromSeed(seed: number, size: number, options: { acyclic?: boolean } = {}): Doc {
  const random = seededRandom(seed);
  const int = (below: number): number => Math.floor(random() * below);
  const graphs = new Map<Id, Graph>([['root', { id: 'root', name: 'Main' }]]);
  const frames = new Map<Id, Frame>();
  const nodes = new Map<Id, GraphNode>();
  const wires = new Map<Id, Wire>();
  const notes = new Map<Id, Note>();
  const frameCount = int(4);
  for (let i = 0; i < frameCount; i++) {
    const parent = i > 0 && random() < 0.5 ? `f${int(i)}` : undefined;
    frames.set(`f${i}`, {
      id: `f${i}`,
      graph: 'root',
      title: `Frame ${i}`,
      ...(parent && { parent }),
      x: int(500),
      y: int(500),
      width: 200,
      height: 100,
    });
  }
  const hasInner = random() < 0.5;
  if (hasInner) {
    graphs.set('g1', { id: 'g1', name: 'Inner', flow: 'down' });
    nodes.set('host', {
      id: 'host',
      graph: 'root',
      kind: builtin.nested,
      name: 'Host',
      x: int(800),
      y: int(800),
      inner: 'g1',
      ports: [
        { id: 'bin', name: 'Bin', type: 'num', direction: 'in' },
        { id: 'bout', name: 'Bout', type: 'num', direction: 'out' },
      ],
    });
    nodes.set('bin', {
      id: 'bin',
      graph: 'g1',
      kind: builtin.input,
      name: 'Bin',
      x: 0,
      y: 0,
      ports: [{ id: 'out', name: 'out', type: 'num', direction: 'out' }],
    });
    nodes.set('bout', {
      id: 'bout',
      graph: 'g1',
      kind: builtin.output,
      name: 'Bout',
      x: 0,
      y: 400,
      ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' }],
    });
  }
  for (let i = 0; i < size; i++) {
    const kind = kindIds[int(kindIds.length)]!;
    const graph = hasInner && random() < 0.25 ? 'g1' : 'root';
    const ports = testKinds.kind(kind)
      ? testKinds.startPorts(kind)
      : [
          { id: 'p', name: 'p', type: 'exotic', direction: 'in' as const },
          { id: 'q', name: 'q', type: 'exotic', direction: 'out' as const },
        ];
    const frame = graph === 'root' && frameCount > 0 && random() < 0.5 ? `f${int(frameCount)}` : undefined;
    nodes.set(`n${i}`, {
      id: `n${i}`,
      graph,
      kind,
      name: `Node_${i}`,
      ...(random() < 0.3 && { label: `Label ${i} – ünïcode ✓` }),
      x: int(2000) - 500,
      y: int(2000) - 500,
      ...(frame && { frame }),
      ...(random() < 0.1 && { bypassed: true as const }),
      ...(random() < 0.1 && { pinned: true as const }),
      ...(random() < 0.1 && { closed: true as const }),
      ...(random() < 0.15 && { show: random() < 0.5 ? { main: true as const } : { text: 'a' } }),
      ...(random() < 0.15 && { caption: captions[int(captions.length)]! }),
      ...(random() < 0.1 && { picture: smallPicture, ...(random() < 0.3 && { pictureOff: true as const }) }),
      ports,
      ...(kind === 'src' && random() < 0.7 && { params: { value: int(100) } as Record<string, Json> }),
      ...(random() < 0.1 && { color: '#d55e00' }),
      ...(random() < 0.15 && { sets: { s1: true as const } }),
      ...(random() < 0.1 && { locked: true as const }),
      ...(kind === 'src' && random() < 0.2 && { setting: 'Storm', settings: { Standard: { value: int(100) } } }),
      ...(random() < 0.2 && { futureField: { deep: [int(9), null, 'text'] } }),
    });
  }
  const ids = [...nodes.keys()];
  for (let i = 0; i < size * 2; i++) {
    const [from, to] = [nodes.get(ids[int(ids.length)]!)!, nodes.get(ids[int(ids.length)]!)!];
    if (from.graph !== to.graph || (options.acyclic && ids.indexOf(from.id) >= ids.indexOf(to.id))) continue;
    const outputs = from.ports.filter((port) => port.direction === 'out');
    const inputs = to.ports.filter((port) => port.direction === 'in');
    const [output, input] = [outputs[int(Math.max(1, outputs.length))], inputs[int(Math.max(1, inputs.length))]];
    if (!output || !input || !testKinds.accepts(input.type, output.type)) continue;
    const id = `w-${to.id}-${input.id}`;
    wires.set(id, {
      id,
      from: { node: from.id, port: output.id },
      to: { node: to.id, port: input.id },
      ...(random() < 0.05 && { off: true as const }),
    });
  }
  if (random() < 0.5)
    notes.set('t1', {
      id: 't1',
      graph: 'root',
      x: 10,
      y: 20,
      width: 200,
      height: 80,
      text: 'A note\nwith lines',
      ...(frameCount > 0 && random() < 0.5 && { tiedTo: 'f0' }),
    });
  if (random() < 0.3)
    notes.set('t2', {
      id: 't2',
      graph: 'root',
      x: 300,
      y: 20,
      width: 60,
      height: 40,
      text: '',
      mark: 'arrow',
      towards: 'top-left',
      color: '#0072b2',
    });
  const empty = emptyDoc(`doc${seed}`, 'Random', { id: 'test', version: 1 });
  const head = {
    ...empty.head,
    ...([...nodes.values()].some((node) => node.sets) && { sets: { s1: { name: 'Night' } } }),
  };
  return { ...empty, head, extra: random() < 0.3 ? { laterField: [1, 2] } : {}, graphs, frames, nodes, wires, notes };
}

// names that formats hold for themselves, and characters that they have to escape
const attributeNames = ['weight', 'x', 'label', 'row', 'shape', 'basitax', 'kind of thing', 'ä "<&>\\', '1', 'ID'];
const attributeTexts = ['', 'plain', '=1+1', '007', 'true', '{"a":1}', '<b>&amp;</b>', 'two\nlines\\', ' 北 ', "'"];

/** What other programs say beside, on about a third of what there is. */
export function withAttributes(doc: Doc, seed: number): Doc {
  const random = seededRandom(seed + 7);
  const int = (below: number): number => Math.floor(random() * below);
  const value = (): Json =>
    [
      attributeTexts[int(attributeTexts.length)]!,
      int(100),
      int(100) / 8 - 3,
      random() < 0.5,
      [int(9), 'a'],
      { b: null },
    ][int(6)]!;
  const named = Object.fromEntries(attributeNames.map((name) => [name, value()]));
  const bearing = <T extends { readonly id: Id }>(records: ReadonlyMap<Id, T>, more: () => object): Map<Id, T> =>
    new Map(
      [...records].map(([id, record]) => {
        if (random() < 0.65) return [id, record];
        const name = attributeNames[int(attributeNames.length)]!;
        // mostly of one type for a name, as programs write them
        const attributes = { [name]: random() < 0.8 ? named[name]! : value() };
        return [id, { ...record, ...more(), attributes }];
      }),
    );
  const direction = () => (random() < 0.3 ? { direction: (['undirected', 'both'] as const)[int(2)]! } : {});
  return {
    ...doc,
    graphs: bearing(doc.graphs, () => ({})),
    frames: bearing(doc.frames, () => ({})),
    nodes: bearing(doc.nodes, () => ({})),
    wires: bearing(doc.wires, direction),
    notes: bearing(doc.notes, () => ({})),
    ...(random() < 0.3 && {
      head: {
        ...doc.head,
        attributes: {
          'node weight': {
            of: 'node',
            name: 'weight',
            type: 'number',
            from: 'gexf',
            key: '4',
            more: { type: 'float' },
          },
          'wire ID': { of: 'wire', name: 'ID', type: 'text', title: 'ID (theirs)', default: 'none' },
        },
      },
    }),
  };
}

export const docArbitrary = (most = 24): fc.Arbitrary<Doc> =>
  fc
    .tuple(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 0, max: most }))
    .map(([seed, size]) => withAttributes(docFromSeed(seed, size), seed));

/** The document as plain sorted data, for comparing. */
export function plainDoc(doc: Doc): unknown {
  const sorted = (map: ReadonlyMap<Id, unknown>): unknown =>
    Object.fromEntries([...map].sort(([a], [b]) => (a < b ? -1 : 1)));
  return {
    head: doc.head,
    extra: doc.extra,
    graphs: sorted(doc.graphs),
    frames: sorted(doc.frames),
    nodes: sorted(doc.nodes),
    wires: sorted(doc.wires),
    notes: sorted(doc.notes),
  };
}

/** The same document with nothing pinned. */
export const unpinned = (doc: Doc): Doc => ({
  ...doc,
  nodes: new Map([...doc.nodes].map(([id, { pinned: _, ...node }]) => [id, node])),
});
