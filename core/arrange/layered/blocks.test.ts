import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../document/ids.ts';
import { type Edges, randomFar, withSizes } from '../../tests/graphs.ts';
import { Blocks } from './blocks.ts';
import { FramedBlocks } from './framed-blocks.ts';
import type { FrameTree, LayeredGraph } from './graph.ts';
import { normalSpacing } from './graph.ts';
import { layoutLayered } from './layered.ts';
import { makeLayers } from './layers.ts';
import { layOut } from './layout.ts';
import { orderLayers } from './order.ts';
import { connectedParts } from './parts.ts';
import { ranks } from './rank.ts';
import { Rows } from './rows.ts';

const quiet = (): void => {};
const layersOf = (graph: LayeredGraph) =>
  makeLayers(graph, ranks(graph.count, graph.from, graph.to), new Uint8Array(graph.from.length));
const randomPlaces = (seed: number, count: number): Float64Array => {
  const random = seededRandom(seed);
  return Float64Array.from({ length: count }, () => random() * 1000);
};

describe('global sifting (Bachmaier, Brandenburg, Brunner & Hübner 2011)', () => {
  it('saves exactly the crossings that it says, round by round, and comes to rest', () => {
    for (let seed = 1; seed <= 12; seed++) {
      const layers = layersOf(withSizes(randomFar(seed, 40)));
      const rows = new Rows(layers);
      const blocks = new Blocks(layers);
      blocks.startFrom(randomPlaces(seed, layers.total));
      blocks.write(rows);
      let crossings = rows.crossings();
      for (let round = 0; round < 30; round++) {
        const saved = blocks.round(1e9, quiet);
        blocks.write(rows);
        expect(rows.crossings()).toBe(crossings - saved);
        crossings = rows.crossings();
        if (saved === 0) break;
        expect(round).toBeLessThan(29);
      }
    }
  });

  it('never ends with more crossings after a local search, and counts them right', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const layers = layersOf(withSizes(randomFar(seed, 30)));
      const rows = new Rows(layers);
      const blocks = new Blocks(layers);
      blocks.startFrom(randomPlaces(seed, layers.total));
      blocks.round(1e9, quiet);
      blocks.write(rows);
      const before = rows.crossings();
      const saved = blocks.perturb(60, 1e9, seededRandom(seed), quiet);
      blocks.write(rows);
      expect(saved).toBeGreaterThanOrEqual(0);
      expect(rows.crossings()).toBe(before - saved);
    }
  });

  it('leaves nodes that are fixed in their order, and with resistance those that would save too little', () => {
    const layers = layersOf(withSizes(randomFar(5, 40)));
    const places = randomPlaces(9, layers.total);
    const order = (blocks: Blocks): number[][] => {
      const rows = new Rows(layers);
      blocks.startFrom(places);
      for (let k = 0; k < 3; k++) blocks.round(1e9, quiet);
      blocks.write(rows);
      return Array.from({ length: layers.layerCount }, (_, r) =>
        [...rows.row.subarray(rows.start[r]!, rows.start[r + 1]!)].filter((v) => v < layers.real),
      );
    };
    const present = Array.from({ length: layers.layerCount }, (_, r) =>
      Array.from({ length: layers.real }, (_, v) => v)
        .filter((v) => layers.rank[v] === r)
        .sort((a, b) => places[a]! - places[b]!),
    );
    expect(order(new Blocks(layers, layers.real))).toEqual(present);
    const stubborn = new Blocks(layers);
    stubborn.resistance = 1e9;
    expect(order(stubborn)).toEqual(present);
    expect(order(new Blocks(layers))).not.toEqual(present);
  });
});

/** A graph whose nodes lie in frames by number: two outer ones, the first with one inside. */
function framed(seed: number, count: number): LayeredGraph & { frames: FrameTree } {
  const graph = withSizes(randomFar(seed, count));
  const random = seededRandom(seed + 100);
  const pads = (value: number): Float64Array => new Float64Array(3).fill(value);
  return {
    ...graph,
    frames: {
      of: Int32Array.from({ length: count }, () => Math.floor(random() * 4) - 1),
      parent: Int32Array.of(-1, -1, 0),
      before: pads(24),
      after: pads(24),
      above: pads(44),
      below: pads(24),
    },
  };
}

describe('frames in the order', () => {
  it('keep what they hold in one row in every layer, and the same order of frames in all of them', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const graph = framed(seed, 40);
      const layers = layersOf(graph);
      const rows = orderLayers(layers, { keep: 0, quality: seed % 2 === 0 ? 'best' : 'quick', frames: graph.frames });
      const holds = (f: number, v: number): boolean => {
        for (let g = layers.frame![v]!; g !== -1; g = graph.frames.parent[g]!) if (g === f) return true;
        return false;
      };
      const above = new Map<string, boolean>();
      for (let r = 0; r < layers.layerCount; r++) {
        const row = [...rows.row.subarray(rows.start[r]!, rows.start[r + 1]!)];
        for (let f = 0; f < 3; f++) {
          const inside = row.map((v) => holds(f, v));
          const first = inside.indexOf(true);
          if (first >= 0) expect(inside.slice(first, inside.lastIndexOf(true) + 1).every(Boolean)).toBe(true);
        }
        const places = [0, 1].map((f) => row.findIndex((v) => holds(f, v)));
        if (places.every((place) => place >= 0)) {
          const isAbove = places[0]! < places[1]!;
          expect(above.get('0 1') ?? isAbove).toBe(isAbove);
          above.set('0 1', isAbove);
        }
      }
    }
  });

  it('save exactly what they say, too', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const graph = framed(seed, 30);
      const layers = layersOf(graph);
      const rows = new Rows(layers);
      const blocks = new FramedBlocks(layers, graph.frames);
      blocks.startFrom(randomPlaces(seed, layers.total));
      blocks.write(rows);
      let crossings = rows.crossings();
      for (let round = 0; round < 4; round++) {
        const saved = blocks.round(1e9, quiet) + blocks.perturb(20, 1e9, seededRandom(seed), quiet);
        blocks.write(rows);
        expect(rows.crossings()).toBe(crossings - saved);
        crossings = rows.crossings();
      }
    }
  });

  it('keep strangers out of their rectangles, in any layer', () => {
    for (let seed = 1; seed <= 10; seed++) {
      const graph = framed(seed, 36);
      const { x, y } = layoutLayered(graph, { spacing: normalSpacing, keep: 0 });
      for (let f = 0; f < 3; f++) {
        const inside = (v: number): boolean => {
          for (let g = graph.frames.of[v]!; g !== -1; g = graph.frames.parent[g]!) if (g === f) return true;
          return false;
        };
        const members = [...Array(graph.count).keys()].filter(inside);
        if (members.length === 0) continue;
        const [left, top] = [Math.min(...members.map((v) => x[v]!)), Math.min(...members.map((v) => y[v]!))];
        const [right, bottom] = [
          Math.max(...members.map((v) => x[v]! + graph.width[v]!)),
          Math.max(...members.map((v) => y[v]! + graph.height[v]!)),
        ];
        for (let v = 0; v < graph.count; v++)
          if (!inside(v))
            expect(
              x[v]! + graph.width[v]! <= left || x[v]! >= right || y[v]! + graph.height[v]! <= top || y[v]! >= bottom,
            ).toBe(true);
      }
    }
  });
});

describe('parts', () => {
  it('are what wires join, as a walk finds them', () => {
    const edges = fc.array(fc.tuple(fc.nat(15), fc.nat(15)), { maxLength: 20 });
    fc.assert(
      fc.property(edges, (pairs) => {
        const parts = connectedParts(
          16,
          pairs.map((pair) => pair[0]),
          pairs.map((pair) => pair[1]),
        );
        expect(parts.flat().sort((a, b) => a - b)).toEqual([...Array(16).keys()]);
        const partOf = new Map(parts.flatMap((part, p) => part.map((v) => [v, p] as const)));
        for (const [a, b] of pairs) expect(partOf.get(a)).toBe(partOf.get(b));
        for (const part of parts) {
          const seen = new Set([part[0]!]);
          for (let grew = true; grew; ) {
            grew = false;
            for (const [a, b] of pairs) if (seen.has(a) !== seen.has(b)) grew = Boolean(seen.add(a).add(b));
          }
          expect(part.every((v) => seen.has(v))).toBe(true);
        }
      }),
    );
  });

  it('are packed without touching, towards the proportion of the window', () => {
    const loose: Edges = { count: 60, from: new Int32Array(0), to: new Int32Array(0) };
    const graph = withSizes(loose);
    for (const proportion of [0.5, 1.6, 4]) {
      const { x, y } = layOut(graph, { spacing: normalSpacing, keep: 0 }, proportion);
      const width = Math.max(...x.map((left, v) => left + graph.width[v]!));
      const height = Math.max(...y.map((top, v) => top + graph.height[v]!));
      expect(width / height / proportion).toBeGreaterThan(0.5);
      expect(width / height / proportion).toBeLessThan(2);
      for (let a = 0; a < 60; a++)
        for (let b = 0; b < a; b++)
          expect(
            x[a]! + graph.width[a]! <= x[b]! ||
              x[b]! + graph.width[b]! <= x[a]! ||
              y[a]! + graph.height[a]! <= y[b]! ||
              y[b]! + graph.height[b]! <= y[a]!,
          ).toBe(true);
    }
  });
});
