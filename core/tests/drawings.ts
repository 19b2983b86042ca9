import { type Doc, emptyDoc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { GraphNode, Port, Wire } from '../document/schema.ts';

// Twenty nodes, drawn well and badly: four lanterns, each read, placed, lit and tinted, merged and written.

const rows = ['Kelp', 'Shoal', 'Reef', 'Glow'];
const steps = ['Read', 'Place', 'Light', 'Tint'];
const [stepX, stepY] = [220, 110];

interface Spot {
  readonly x: number;
  readonly y: number;
}

const port = (id: string, direction: 'in' | 'out'): Port => ({ id, name: id, type: 'any', direction });

/** The nodes at their tidy places. */
function tidyDoc(): Doc {
  const nodes = new Map<string, GraphNode>();
  const wires = new Map<string, Wire>();
  const add = (id: string, name: string, x: number, y: number, ins: number): void => {
    const ports = [...Array.from({ length: ins }, (_, i) => port(`in${i}`, 'in')), port('out', 'out')];
    nodes.set(id, { id, graph: 'root', kind: 'made.step', name, x, y, ports });
  };
  const wire = (from: string, to: string, input: string): void =>
    void wires.set(`w${wires.size}`, {
      id: `w${wires.size}`,
      from: { node: from, port: 'out' },
      to: { node: to, port: input },
    });
  rows.forEach((row, r) => {
    steps.forEach((step, s) => {
      add(`${row}${step}`, `${row}_${step}`, s * stepX, r * stepY, s === 0 ? 0 : 1);
      if (s > 0) wire(`${row}${steps[s - 1]}`, `${row}${step}`, 'in0');
    });
  });
  add('MergeA', 'Merge_upper', 4 * stepX, 0.5 * stepY, 2);
  add('MergeB', 'Merge_lower', 4 * stepX, 2.5 * stepY, 2);
  add('All', 'All_layers', 5 * stepX, 1.5 * stepY, 2);
  add('Write', 'Write_night', 6 * stepX, 1.5 * stepY, 1);
  rows.forEach((row, r) => wire(`${row}Tint`, r < 2 ? 'MergeA' : 'MergeB', `in${r % 2}`));
  wire('MergeA', 'All', 'in0');
  wire('MergeB', 'All', 'in1');
  wire('All', 'Write', 'in0');
  return { ...emptyDoc('drawings', 'Drawings', { id: 'test', version: 1 }), nodes, wires };
}

const each = (doc: Doc, change: (node: GraphNode, i: number) => Partial<GraphNode>): Doc => ({
  ...doc,
  nodes: new Map([...doc.nodes].map(([id, node], i) => [id, { ...node, ...change(node, i) }])),
});

const placed = (doc: Doc, at: (node: GraphNode, i: number) => Spot): Doc =>
  each(doc, (node, i) => {
    const { x, y } = at(node, i);
    return { x: Math.round(x), y: Math.round(y) };
  });

/** Named after their kind, as they were made. */
const unnamed = (doc: Doc): Doc => each(doc, (_, i) => ({ name: `Step_${i + 1}` }));

const framed = (doc: Doc, folded: boolean): Doc => {
  const frames = new Map(
    ['upper', 'lower'].map((id) => [
      id,
      {
        id,
        graph: 'root',
        title: id === 'upper' ? 'Kelp and shoal' : 'Reef and glow',
        x: 0,
        y: 0,
        width: 100,
        height: 100,
        ...(folded && { folded: true as const }),
      },
    ]),
  );
  const inUpper = (node: GraphNode): boolean =>
    node.id.startsWith('Kelp') || node.id.startsWith('Shoal') || node.id === 'MergeA';
  return each({ ...doc, frames }, (node) =>
    node.id === 'All' || node.id === 'Write' ? {} : { frame: inUpper(node) ? 'upper' : 'lower' },
  );
};

const junk = (doc: Doc, count: number): Doc => {
  const nodes = new Map(doc.nodes);
  const wires = new Map(doc.wires);
  for (let i = 0; i < count; i++) {
    const [x, y] = [(i % 10) * 420, 900 + Math.floor(i / 10) * 90];
    nodes.set(`j${i}`, {
      id: `j${i}`,
      graph: 'root',
      kind: 'made.step',
      name: `Left_over_${i}`,
      x,
      y,
      ports: [port('out', 'out')],
    });
    nodes.set(`k${i}`, {
      id: `k${i}`,
      graph: 'root',
      kind: 'made.step',
      name: `Right_over_${i}`,
      x: x + 200,
      y,
      ports: [port('in0', 'in')],
    });
    wires.set(`jw${i}`, { id: `jw${i}`, from: { node: `j${i}`, port: 'out' }, to: { node: `k${i}`, port: 'in0' } });
  }
  return { ...doc, nodes, wires };
};

const random = (doc: Doc, seed: number, width: number, height: number): Doc => {
  const next = seededRandom(seed);
  return placed(doc, () => ({ x: next() * width, y: next() * height }));
};

const wholeFrame = (doc: Doc): Doc =>
  each(
    {
      ...doc,
      frames: new Map([
        [
          'all',
          { id: 'all', graph: 'root', title: 'Everything', x: 0, y: 0, width: 100, height: 100, folded: true as const },
        ],
      ]),
    },
    () => ({
      frame: 'all',
    }),
  );

/** Where each row stands in each column. */
const shuffles = [
  [0, 1, 2, 3],
  [2, 0, 3, 1],
  [1, 3, 0, 2],
  [3, 2, 1, 0],
];

const tidy = tidyDoc();
const messy = random(tidy, 3, 1300, 500);

/** Each drawing by its name. */
export const drawings = {
  tidy,
  'tidy in two frames': framed(
    placed(tidy, (node) => ({
      x: node.x,
      y: node.y + (node.y >= 2 * stepY && node.id !== 'All' && node.id !== 'Write' ? 120 : 0),
    })),
    false,
  ),
  'tidy, but nothing named': unnamed(tidy),
  'tidy, a full stop for a label': each(unnamed(tidy), () => ({ label: '.' })),
  'tidy, the same label on all': each(unnamed(tidy), () => ({ label: 'Layer' })),
  'tidy with junk beside': junk(tidy, 60),
  'rows shuffled': placed(tidy, (node) => ({ x: node.x, y: node.id.endsWith('Light') ? 3 * stepY - node.y : node.y })),
  'every column shuffled': placed(tidy, (node, i) => ({
    x: node.x,
    y: i < 16 ? shuffles[i % 4]![Math.floor(i / 4)]! * stepY : node.y,
  })),
  'one long row': placed(tidy, (_, i) => ({ x: i * stepX, y: 0 })),
  'one high column': placed(tidy, (_, i) => ({ x: 0, y: i * stepY })),
  'run backwards': placed(tidy, (node) => ({ x: 6 * stepX - node.x, y: node.y })),
  'frames overlapping': framed(tidy, false),
  'a note on nodes': {
    ...tidy,
    notes: new Map([
      ['note', { id: 'note', graph: 'root', x: 200, y: 100, width: 500, height: 200, text: 'Ask about the moon.' }],
    ]),
  },
  crammed: placed(tidy, (node) => ({ x: node.x * 0.45, y: node.y * 0.45 })),
  'scattered over many windows': random(tidy, 5, 14_000, 9000),
  random: messy,
  'random with junk beside': junk(messy, 60),
  'random, all folded': wholeFrame(messy),
  'stacked in pairs': placed(tidy, (node, i) => ({ x: node.x, y: i < 16 ? Math.floor(i / 8) * 2 * stepY : node.y })),
  'stacked on one point': placed(tidy, () => ({ x: 0, y: 0 })),
} as const satisfies Record<string, Doc>;

export type Drawing = keyof typeof drawings;
