import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf, nodesWithin } from '../document/doc.ts';
import { overlaps, portPoint, rectOf } from '../document/geometry.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';
import { arrangeByWiring } from './by-wiring.ts';
import { packShelves } from './pack.ts';

const placed = (doc: Doc, keep = 0): Doc => {
  const places = arrangeByWiring(doc, testKinds, 'root', indexOf(doc).nodesIn('root'), { keep });
  return { ...doc, nodes: new Map([...doc.nodes].map(([id, node]) => [id, { ...node, ...places.get(id) }])) };
};

describe('packing of parts', () => {
  it('never lets two overlap, keeps to the top-left, and stays near the wanted shape', () => {
    const block = fc.record({ width: fc.integer({ min: 1, max: 400 }), height: fc.integer({ min: 1, max: 400 }) });
    fc.assert(
      fc.property(fc.array(block, { minLength: 1, maxLength: 30 }), fc.integer({ min: 0, max: 50 }), (blocks, gap) => {
        const rects = packShelves(blocks, gap).map((place, i) => ({ ...place, ...blocks[i]! }));
        expect(rects[0]).toMatchObject({ x: 0, y: 0 });
        rects.forEach((a, i) => rects.slice(i + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)));
        const width = Math.max(...rects.map((r) => r.x + r.width));
        const area = blocks.reduce((sum, one) => sum + (one.width + gap) * (one.height + gap), 0);
        expect(width).toBeLessThanOrEqual(Math.max(Math.sqrt(area * 1.6), ...blocks.map((one) => one.width)) + 1);
      }),
    );
  });
});

describe('arranging by wiring', () => {
  const chain = () =>
    sketchDoc()
      .node('a', 'src', { x: 300, y: 40 })
      .node('b', 'add', { x: 0, y: 0 })
      .node('c', 'round', { x: 100, y: 300 })
      .wire('a.out', 'b.b')
      .wire('b.out', 'c.in');

  it('draws the wires of a chain straight, port to port', () => {
    const after = placed(chain().doc);
    const at = (id: string, port: string, direction: 'in' | 'out') =>
      portPoint(after, testKinds, after.nodes.get(id)!, port, direction)!;
    expect(Math.abs(at('a', 'out', 'out').y - at('b', 'b', 'in').y)).toBeLessThanOrEqual(1);
    expect(Math.abs(at('b', 'out', 'out').y - at('c', 'in', 'in').y)).toBeLessThanOrEqual(1);
  });

  it('stays where the nodes were: the same top-left corner', () => {
    const nodes = [...placed(chain().doc).nodes.values()];
    expect([Math.min(...nodes.map((node) => node.x)), Math.min(...nodes.map((node) => node.y))]).toEqual([0, 0]);
  });

  it('puts parts without wires beside one another, and does the same again', () => {
    const pad = chain().node('x', 'src', { x: 9, y: 9 }).node('y', 'src', { x: 9, y: 9 });
    const once = placed(pad.doc);
    const rects = indexOf(once)
      .nodesIn('root')
      .map((node) => rectOf(once, testKinds, node));
    rects.forEach((a, i) => rects.slice(i + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)));
    expect([...placed(once).nodes.values()].map((node) => [node.x, node.y])).toEqual(
      [...once.nodes.values()].map((node) => [node.x, node.y]),
    );
  });

  it('holds a frame’s nodes together, inner frames too, and lets a frame be crossed by no stranger', () => {
    const pad = sketchDoc().frame('f').frame('g', { parent: 'f' });
    for (const id of ['a', 'b', 'c', 'd', 'e'])
      pad.node(id, 'sum', { ...(id === 'b' && { frame: 'f' }), ...(id === 'd' && { frame: 'g' }) });
    const { doc } = pad.wire('a.out', 'b.in1').wire('b.out', 'c.in1').wire('c.out', 'd.in1').wire('d.out', 'e.in1');
    const after = placed(doc);
    expect(
      nodesWithin(after, 'f')
        .map((node) => node.id)
        .sort(),
    ).toEqual(['b', 'd']);
    const [b, d] = [rectOf(after, testKinds, after.nodes.get('b')!), rectOf(after, testKinds, after.nodes.get('d')!)];
    const frame = {
      x: Math.min(b.x, d.x),
      y: Math.min(b.y, d.y),
      width: Math.max(b.x + b.width, d.x + d.width) - Math.min(b.x, d.x),
      height: Math.max(b.y + b.height, d.y + d.height) - Math.min(b.y, d.y),
    };
    for (const id of ['a', 'c', 'e'])
      expect(overlaps(rectOf(after, testKinds, after.nodes.get(id)!), frame), id).toBe(false);
  });

  it('survives cycles and wires of a node to itself', () => {
    const { doc } = sketchDoc()
      .node('a', 'add')
      .node('b', 'add')
      .node('c', 'add')
      .wire('a.out', 'b.a')
      .wire('b.out', 'c.a')
      .wire('c.out', 'a.a')
      .wire('b.out', 'b.b');
    const rects = [...placed(doc).nodes.values()].map((node) => rectOf(doc, testKinds, node));
    rects.forEach((a, i) => rects.slice(i + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)));
  });

  it('moves nodes less with more keep, from the usual one on', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), (seed) => {
        const doc = modulesDoc(seed, 8);
        const moved = (keep: number): number => {
          const after = placed(doc, keep);
          return [...doc.nodes.values()].reduce(
            (sum, { id, x, y }) => sum + Math.hypot(after.nodes.get(id)!.x - x, after.nodes.get(id)!.y - y),
            0,
          );
        };
        // those of places among themselves, and those of rows: from the one to the other it is a step down in any case
        for (const keeps of [
          [0.3, 0.49],
          [0.5, 0.7, 0.9, 1],
        ]) {
          const far = keeps.map(moved);
          far.forEach((one, i) => expect(one).toBeLessThanOrEqual(1.06 * Math.min(...far.slice(0, i + 1))));
        }
      }),
      { numRuns: 12 },
    );
  });

  it('with keep, an arrangement that is in order already comes back with the same order of every pair', () => {
    const pad = sketchDoc();
    for (let i = 0; i < 6; i++) pad.node(`s${i}`, 'src', { y: i * 100 }).node(`t${i}`, 'round', { x: 400, y: i * 100 });
    // two wires cross on purpose: the order people gave is worth more than one crossing at 0.9, and less at 0
    for (let i = 2; i < 6; i++) pad.wire(`s${i}.out`, `t${i}.in`);
    pad.wire('s0.out', 't1.in').wire('s1.out', 't0.in');
    const sum = pad.node('z', 'sum', {
      x: 800,
      ports: Array.from({ length: 6 }, (_, i) => ({
        id: `in${i + 1}`,
        name: `in${i + 1}`,
        type: 'any',
        direction: 'in' as const,
      })),
    });
    for (let i = 0; i < 6; i++) sum.wire(`t${i}.out`, `z.in${i + 1}`);
    const order = (doc: Doc) =>
      [...Array(6).keys()].sort((a, b) => doc.nodes.get(`s${a}`)!.y - doc.nodes.get(`s${b}`)!.y);
    expect(order(placed(sum.doc, 0.9))).toEqual([0, 1, 2, 3, 4, 5]);
    expect(order(placed(sum.doc, 1))).toEqual([0, 1, 2, 3, 4, 5]);
    expect(order(placed(sum.doc, 0))).toEqual([1, 0, 2, 3, 4, 5]);
  });
});
