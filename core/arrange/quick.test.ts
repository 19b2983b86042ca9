import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { frameRects, overlaps, rectOf, unite } from '../document/geometry.ts';
import { docFromSeed, testKinds as kinds, sketchDoc } from '../tests/arbitrary.ts';
import { placeQuickly } from './quick.ts';

const placed = (doc: Doc): Doc => {
  const places = placeQuickly(doc, kinds, 'root', indexOf(doc).nodesIn('root'));
  return { ...doc, nodes: new Map([...doc.nodes].map(([id, node]) => [id, { ...node, ...places.get(id) }])) };
};
const rectsOf = (doc: Doc) =>
  indexOf(doc)
    .nodesIn('root')
    .map((node) => ({ node, rect: rectOf(doc, kinds, node) }));

describe('placing very many nodes quickly', () => {
  it('lays no two nodes on one another, whatever they are and however they are wired and framed', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.nat(40), (seed, size) => {
        const all = rectsOf(placed(docFromSeed(seed, size)));
        for (const [i, { rect }] of all.entries())
          for (const other of all.slice(i + 1)) expect(overlaps(rect, other.rect)).toBe(false);
      }),
    );
  });

  it('keeps frames apart but for those within one another, and strangers out of them', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.integer({ min: 4, max: 40 }), (seed, size) => {
        const doc = placed(docFromSeed(seed, size));
        const rects = frameRects(doc, kinds, 'root');
        const around = (id: string | undefined): string[] =>
          id === undefined ? [] : [id, ...around(doc.frames.get(id)?.parent)];
        const full = [...doc.frames.values()].filter((frame) => indexOf(doc).membersOf(frame.id).length > 0);
        for (const frame of full) {
          const rect = rects.get(frame.id)!;
          for (const other of full)
            if (other.id !== frame.id && !around(frame.id).includes(other.id) && !around(other.id).includes(frame.id))
              expect(overlaps(rect, rects.get(other.id)!)).toBe(false);
          for (const { node, rect: own } of rectsOf(doc))
            if (!around(node.frame).includes(frame.id)) expect(overlaps(rect, own)).toBe(false);
        }
      }),
    );
  });

  it('puts what is fed behind what feeds it within a band, along the flow', () => {
    for (const flow of ['right', 'left', 'down', 'up'] as const) {
      const chain = sketchDoc()
        .node('a', 'src')
        .node('b', 'round')
        .node('c', 'round')
        .wire('a.out', 'b.in')
        .wire('b.out', 'c.in').doc;
      const doc = placed({ ...chain, graphs: new Map([['root', { ...chain.graphs.get('root')!, flow }]]) });
      const [a, b] = [doc.nodes.get('a')!, doc.nodes.get('b')!];
      const along = { right: b.x - a.x, left: a.x - b.x, down: b.y - a.y, up: a.y - b.y }[flow];
      const across = flow === 'right' || flow === 'left' ? b.y - a.y : b.x - a.x;
      // three in a row are wrapped into bands as soon as they are longer than a window
      expect(along > 0 || across > 0).toBe(true);
    }
  });

  it('makes a page about as wide as a window, of a chain as of a star, and repeats itself', () => {
    for (const shape of ['chain', 'star'] as const) {
      let sketch = sketchDoc();
      for (let i = 0; i < 400; i++) sketch = sketch.node(`n${i}`, 'round');
      for (let i = 1; i < 400; i++) sketch = sketch.wire(`n${shape === 'chain' ? i - 1 : 0}.out`, `n${i}.in`);
      const doc = placed(sketch.doc);
      const page = unite(rectsOf(doc).map(({ rect }) => rect))!;
      expect(page.width / page.height).toBeGreaterThan(0.4);
      expect(page.width / page.height).toBeLessThan(4);
      expect([...placed(sketch.doc).nodes]).toEqual([...doc.nodes]);
    }
  });
});
