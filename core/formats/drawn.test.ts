import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, geometryOf, rectOf } from '../document/geometry.ts';
import { docFromSeed, testKinds as kinds } from '../tests/arbitrary.ts';
import { allGraphvizExamples } from '../tests/outside.ts';
import { graphviz } from '../tests/readers.ts';
import { decodeJson } from './dot-names.ts';
import { formatById, readFile } from './formats.ts';

// What others draw of DOT that we write: Debian's graphviz, which reads places and sizes with `neato -n2`.

interface Drawn {
  readonly name: string;
  readonly bb?: string;
  readonly pos?: string;
  readonly width?: string;
  readonly height?: string;
  readonly rects?: string;
}
interface Drawing {
  readonly objects?: readonly (Drawn & { readonly nodes?: readonly number[] })[];
  readonly edges?: readonly {
    readonly tail: number;
    readonly head: number;
    readonly pos?: string;
    readonly basitax?: string;
  }[];
}

const dot = formatById('dot');
const draw = (doc: Doc, routes = false): { drawing: Drawing; warnings: string } => {
  const { out, warnings } = graphviz('neato', ['-n2', '-Tjson'], dot.write(doc, kinds, { routes }));
  return { drawing: JSON.parse(out) as Drawing, warnings };
};
const theirs = allGraphvizExamples().map(({ name, text }) => ({ name, doc: readFile(name, text, kinds).doc }));
const single = theirs.filter(({ doc }) => doc.nodes.size > 0 && doc.nodes.size < 150 && doc.graphs.size === 1);
const ours = Array.from({ length: 12 }, (_, i) => docFromSeed(i + 40, 14)).filter((doc) => doc.nodes.size > 0);

/** Nodes of the outermost graph, as they were drawn, in points with y downwards; the whole is moved by as much. */
function placed(doc: Doc, drawing: Drawing) {
  const byName = new Map((drawing.objects ?? []).filter((one) => one.pos).map((one) => [one.name, one]));
  const nodes = indexOf(doc).nodesIn(doc.head.root);
  const all = nodes.map((node) => {
    const { pos = '', width, height } = byName.get(node.foreignId ?? node.id) ?? { name: '' };
    const [x = Number.NaN, y = Number.NaN] = pos.split(',').map(Number);
    return { node, x, y: -y, width: Number(width) * 72, height: Number(height) * 72, rect: rectOf(doc, kinds, node) };
  });
  const [first] = all;
  const shift = first
    ? { x: first.x - first.rect.x - first.rect.width / 2, y: first.y - first.rect.y - first.rect.height / 2 }
    : { x: 0, y: 0 };
  return { all, shift };
}

describe('DOT, drawn by graphviz', () => {
  it.each([
    ['graphs of others', single.map(({ doc }) => doc)],
    ['our own', ours],
  ] as const)('has every node where it is and as large as it is: %s', (_title, docs) => {
    for (const doc of docs) {
      const { drawing } = draw(doc);
      const { all, shift } = placed(doc, drawing);
      for (const { node, x, y, width, height, rect } of all) {
        expect(Math.abs(x - shift.x - rect.x - rect.width / 2), node.id).toBeLessThan(1.5);
        expect(Math.abs(y - shift.y - rect.y - rect.height / 2), node.id).toBeLessThan(1.5);
        // a polygon that is bent reaches out of the size that it is given
        if (['skew', 'distortion', 'orientation'].some((bend) => node.attributes?.[bend] !== undefined)) continue;
        const isRegular =
          /^(?:M?circle|doublecircle|M?square|point)$/.test(String(node.attributes?.shape)) ||
          node.attributes?.regular !== undefined;
        // what is round or square by its shape is as large as its smaller side
        const size = isRegular
          ? [Math.min(rect.width, rect.height), Math.min(rect.width, rect.height)]
          : [rect.width, rect.height];
        // slanted shapes reach a little out of the size that they are given
        const slack = /parallelogram|trapezium|house|triangle|polygon|gon$/.test(String(node.attributes?.shape))
          ? 0.08
          : 0;
        const isSize = (drawn: number, side: number) => Math.abs(drawn - side) < 1.5 + slack * side;
        expect([isSize(width, size[0]!), isSize(height, size[1]!)], `${node.id}: ${width} × ${height}`).toEqual([
          true,
          true,
        ]);
      }
    }
  });

  it('has text that fits into its node: graphviz warns where it does not', () => {
    for (const doc of ours) expect(draw(doc).warnings).toBe('');
    // HTML says its own sizes
    const isHtml = (doc: Doc) => [...doc.nodes.values()].some((node) => /^</.test(String(node.attributes?.label)));
    const overflowing = single.filter(({ doc }) => !isHtml(doc) && /too small/.test(draw(doc).warnings));
    expect(overflowing.map(({ name }) => name)).toEqual([]);
  });

  it('has frames where they are', () => {
    for (const doc of ours) {
      const { drawing } = draw(doc);
      const { shift } = placed(doc, drawing);
      const rects = frameRects(doc, kinds, doc.head.root);
      for (const frame of indexOf(doc).framesIn(doc.head.root)) {
        if (indexOf(doc).membersOf(frame.id).length === 0) continue;
        const { bb } = drawing.objects!.find((one) => one.name === `cluster_${frame.id}`)!;
        const [left, bottom, right, top] = bb!.split(',').map(Number) as [number, number, number, number];
        const rect = rects.get(frame.id)!;
        expect([left - shift.x, -top - shift.y, right - left, top - bottom].map(Math.round)).toEqual(
          [rect.x, rect.y, rect.width, rect.height].map(Math.round),
        );
      }
    }
  });

  it('has edges that end at the ports of their wires, with the ways of the wires and without', () => {
    for (const doc of ours)
      for (const routes of [true, false]) {
        const { drawing } = draw(doc, routes);
        const { shift } = placed(doc, drawing);
        const byName = new Map(
          indexOf(doc)
            .nodesIn(doc.head.root)
            .map((node) => [node.id, node]),
        );
        const byWire = new Map(drawing.edges?.map((edge) => [(decodeJson(edge.basitax!) as { id: string }).id, edge]));
        for (const wire of indexOf(doc).wiresIn(doc.head.root)) {
          const { pos = '', tail, head } = byWire.get(wire.id)!;
          expect([drawing.objects![tail]!.name, drawing.objects![head]!.name]).toEqual([wire.from.node, wire.to.node]);
          const points = pos.split(/[ ;]/).map(
            (point) =>
              point
                .replace(/^[se],/, '')
                .split(',')
                .map(Number) as [number, number],
          );
          const start = points.find((_, k) => !/^[se],/.test(pos.split(/[ ;]/)[k]!))!;
          const tip = points[pos.split(/[ ;]/).findIndex((point) => point.startsWith('e,'))] ?? points.at(-1)!;
          for (const [at, ref, side] of [
            [start, wire.from, 'out'],
            [tip, wire.to, 'in'],
          ] as const) {
            const node = byName.get(ref.node)!;
            const geometry = geometryOf(doc, kinds, node);
            const port = geometry.ports.find((one) => one.id === ref.port && one.direction === side);
            if (!port || geometry.shape !== 'ticket' || geometry.closed) continue;
            const expected = [node.x + port.x + shift.x, -(node.y + port.y) - shift.y];
            // without a way the arrow keeps a pixel or two from the node
            const distance = Math.hypot(at[0] - expected[0]!, at[1] + -expected[1]!);
            expect(distance, `${node.name} ${ref.port} ${routes}`).toBeLessThan(4);
          }
        }
      }
  });
});

describe('the example graphs of graphviz', () => {
  it('have the nodes, edges and clusters that its own tool counts (gc)', () => {
    let compared = 0;
    for (const { name, text } of allGraphvizExamples()) {
      const { out } = graphviz('gc', ['-n', '-e', '-C'], text.replace(/^\uFEFF/, ''));
      const lines = out.trim().split('\n');
      // a line for each graph of the file
      const sums = lines
        .map((line) => line.trim().split(/\s+/).slice(0, 3).map(Number))
        .reduce((a, b) => a.map((value, i) => value + b[i]!), [0, 0, 0]);
      const { doc } = readFile(name, text, kinds);
      const hosts = [...doc.nodes.values()].filter((node) => node.inner !== undefined).length;
      expect([name, doc.nodes.size - hosts, doc.wires.size]).toEqual([name, sums[0], sums[1]]);
      compared++;
    }
    expect(compared).toBeGreaterThanOrEqual(60);
  });
});
