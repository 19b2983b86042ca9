import fc from 'fast-check';
import { expect, it } from 'vitest';
import { docArbitrary, docFromSeed, sketchDoc } from '../tests/arbitrary.ts';
import { readingOrder } from './reading-order.ts';

it('goes from sources to what they feed, and by place where nothing leads', () => {
  const doc = sketchDoc()
    .node('late', 'src', { x: 900, y: 0 })
    .node('low', 'src', { x: 0, y: 300 })
    .node('high', 'src', { x: 0, y: 0 })
    // stands before its source, and is read after it
    .node('back', 'add', { x: -500, y: 0 })
    .wire('late.out', 'back.a').doc;
  expect(readingOrder(doc)).toEqual(['high', 'low', 'late', 'back']);
});

it('reads a loop by place, and what a nested node holds right after it', () => {
  const doc = sketchDoc()
    .node('a', 'add', { x: 0 })
    .node('b', 'add', { x: 100 })
    .wire('a.out', 'b.a')
    .wire('b.out', 'a.a')
    .node('end', 'add', { x: 50 })
    .wire('b.out', 'end.a').doc;
  expect(readingOrder(doc)).toEqual(['a', 'b', 'end']);
});

it('holds every node once, and no wire leads back but within a loop', () => {
  fc.assert(
    fc.property(fc.integer(), fc.integer({ min: 1, max: 60 }), (seed, size) => {
      const doc = docFromSeed(seed, size, { acyclic: true });
      const order = readingOrder(doc);
      const place = new Map(order.map((id, i) => [id, i]));
      expect([...order].sort()).toEqual([...doc.nodes.keys()].sort());
      for (const { from, to } of doc.wires.values())
        expect(place.get(from.node)).toBeLessThan(place.get(to.node) as number);
    }),
  );
  fc.assert(
    fc.property(docArbitrary(), (doc) => {
      expect(new Set(readingOrder(doc)).size).toBe(doc.nodes.size);
    }),
  );
});
