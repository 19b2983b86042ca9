import type { Doc } from '@basitax/core/document/doc';
import { geometryOf } from '@basitax/core/document/geometry';
import type { Id } from '@basitax/core/document/ids';
import { Builder, kinds } from '@basitax/demo/builder';

const steps = [
  'pic.grade',
  'pic.blur',
  'pic.over',
  'pic.over',
  'pic.tint',
  'pic.glow',
  'pic.switch',
  'pic.add',
  'pic.add',
  'pic.stack',
];

/**
 * A file of `nodeCount` nodes and `wireCount` wires, as a team's would be that never throws anything away: rows of
 * shots one under another, each in a frame, wired mostly to near neighbours and now and then far.
 */
export function bigScene(nodeCount: number, wireCount: number, seed = 9): Doc {
  const b = new Builder('bench-big', `Bench, ${nodeCount} nodes`, seed);
  const columns = 100;
  const perFrame = 60;
  const ids: Id[] = [];
  let frame: Id | undefined;
  for (let i = 0; i < nodeCount; i++) {
    const [column, row] = [i % columns, Math.floor(i / columns)];
    if (i % perFrame === 0)
      frame = i % (perFrame * 4) === 0 ? undefined : b.frame('root', `Shot ${i / perFrame + 1}`, 0, 0);
    const kind = column % 20 === 0 ? 'pic.read' : b.pick(steps);
    const [x, y] = [
      column * 230 + Math.floor(column / 20) * 120 + b.between(-20, 20),
      row * 150 + Math.floor(row / 5) * 120 + b.between(-15, 15),
    ];
    ids.push(b.node('root', kind, `${kind.slice(4)}_${i}`, x, y, { frame }));
  }
  let [made, tried] = [0, 0];
  while (made < wireCount && tried++ < wireCount * 20) {
    const from = Math.floor(b.between(0, nodeCount - 1));
    const isFar = b.chance(0.04);
    const ahead = isFar
      ? Math.floor(b.between(1, 2000))
      : 1 + Math.floor(b.between(0, 3)) + columns * Math.floor(b.between(0, 3));
    const to = from + ahead;
    if (to < nodeCount && b.feed(ids[from]!, 'image', ids[to]!)) made++;
  }
  if (made < wireCount)
    throw new Error(
      `Only ${made} of ${wireCount} wires found a place; the generator of the benchmark has to be changed.`,
    );
  return b.doc;
}

/** The same scene in the words of a general graph view: boxes with named handles, and edges between them. */
export interface PlainScene {
  readonly nodes: readonly {
    readonly id: string;
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    readonly title: string;
    readonly kind: string;
    readonly inputs: readonly string[];
    readonly outputs: readonly string[];
  }[];
  readonly edges: readonly {
    readonly id: string;
    readonly source: string;
    readonly sourceHandle: string;
    readonly target: string;
    readonly targetHandle: string;
  }[];
}

export function plainScene(doc: Doc): PlainScene {
  return {
    nodes: [...doc.nodes.values()].map((node) => {
      const { width, height } = geometryOf(doc, kinds, node);
      const ports = (direction: 'in' | 'out'): string[] =>
        node.ports.filter((port) => port.direction === direction).map((port) => port.id);
      return {
        id: node.id,
        x: node.x,
        y: node.y,
        width,
        height,
        title: node.name,
        kind: kinds.title(node.kind),
        inputs: ports('in'),
        outputs: ports('out'),
      };
    }),
    edges: [...doc.wires.values()].map(({ id, from, to }) => ({
      id,
      source: from.node,
      sourceHandle: from.port,
      target: to.node,
      targetHandle: to.port,
    })),
  };
}
