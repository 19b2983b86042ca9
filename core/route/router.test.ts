import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalSpacing } from '../arrange/layered/graph.ts';
import { layoutLayered, routeTaskOf } from '../arrange/layered/layered.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { overlaps, rectOf, titleTabs } from '../document/geometry.ts';
import { measureGraph } from '../inspect/measure.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { fileLike, randomFar, withSizes } from '../tests/graphs.ts';
import { judge } from '../tests/judge.ts';
import { channelAt, findColumns } from './columns.ts';
import { LiveRoutes } from './live.ts';
import { findPath, hitsOf, joinPath, pitch } from './paths.ts';
import { findRegions } from './regions.ts';
import { routeWires } from './route.ts';
import { cornersOf, routeAll } from './router.ts';
import { type Boxes, Space } from './space.ts';
import { placeTracks, type Track, tracksAbreast } from './tracks.ts';

const boxesOf = (...rects: [left: number, top: number, right: number, bottom: number][]): Boxes => ({
  count: rects.length,
  hard: rects.length,
  links: rects.length,
  left: Float64Array.from(rects, (rect) => rect[0]),
  top: Float64Array.from(rects, (rect) => rect[1]),
  right: Float64Array.from(rects, (rect) => rect[2]),
  bottom: Float64Array.from(rects, (rect) => rect[3]),
});

describe('routes of an arranged graph', () => {
  it('cross about as often as the layers say, keep clear, keep apart, and repeat', () => {
    for (const make of [fileLike, randomFar]) {
      for (const count of [20, 60, 150]) {
        const graph = withSizes(make(count, count));
        const laid = layoutLayered(graph, { spacing: normalSpacing, keep: 0, quality: 'best' });
        const task = routeTaskOf(graph, laid.x, laid.y);
        const draw = () => routeAll(task).map((path, e) => cornersOf(path!, task.ends[e]!));
        const wires = draw();
        const verdict = judge(graph, { ...laid, wires });
        expect(verdict).toMatchObject({ through: 0, overlaps: 0, backward: 0, shared: 0 });
        expect(verdict.crossings).toBeLessThanOrEqual(laid.crossings * 1.05 + 3);
        expect(draw()).toEqual(wires);
      }
    }
  });

  it('start and end at the ports, in right angles', () => {
    const graph = withSizes(randomFar(3, 50));
    const laid = layoutLayered(graph, { spacing: normalSpacing, keep: 0 });
    const task = routeTaskOf(graph, laid.x, laid.y);
    routeAll(task).forEach((path, e) => {
      const corners = cornersOf(path!, task.ends[e]!);
      const { x1, y1, x2, y2 } = task.ends[e]!;
      expect([corners[0], corners[1], corners.at(-2), corners.at(-1)]).toEqual([x1, y1, x2, y2]);
      for (let i = 0; i + 3 < corners.length; i += 2)
        expect(corners[i] === corners[i + 2] || corners[i + 1] === corners[i + 3]).toBe(true);
    });
  });
});

describe('columns and regions', () => {
  const boxes = boxesOf(
    [0, 0, 100, 40],
    [0, 60, 120, 100],
    [200, 0, 300, 40],
    [205, 30, 280, 80],
    [500, 900, 600, 940],
    [700, 900, 800, 940],
  );
  it('finds columns with free channels between, and what stands solid in each', () => {
    const columns = findColumns(boxes, 30, [0, 1, 2, 3]);
    expect([columns.count, [...columns.left], [...columns.right]]).toEqual([2, [120], [200]]);
    expect(columns.solid.map((spans) => [...spans])).toEqual([
      [0, 40, 60, 100],
      [0, 80],
    ]);
    expect([110, 150, 210].map((x) => channelAt(columns, x))).toEqual([-1, 0, -1]);
  });

  it('keeps parts apart that stand side by side, and together that overlap', () => {
    const wire = (x1: number, y1: number, x2: number, y2: number) => ({ x1, y1, x2, y2 });
    const ends = [wire(100, 20, 200, 20), wire(600, 920, 700, 920)];
    const apart = findRegions(boxes, ends, { from: Int32Array.of(0, 4), to: Int32Array.of(2, 5) });
    expect(apart.map((region) => region.wires)).toEqual([[0], [1]]);
    const crossed = findRegions(boxes, ends, { from: Int32Array.of(0, 1), to: Int32Array.of(5, 2) });
    expect(crossed).toHaveLength(1);
  });
});

describe('a way by itself', () => {
  it('is straight where it can be, turns once, or goes round what stands in the way', () => {
    const space = new Space(boxesOf([200, -20, 260, 60]));
    expect(findPath(space, { x1: 0, y1: 100, x2: 400, y2: 100 })).toMatchObject({ xs: [], ys: [100], hits: 0 });
    const round = findPath(space, { x1: 0, y1: 10, x2: 400, y2: 10 });
    expect(round.hits).toBe(0);
    expect(hitsOf(space, round, { x1: 0, y1: 10, x2: 400, y2: 10 })).toBe(0);
    const once = findPath(space, { x1: 0, y1: 100, x2: 400, y2: 200 });
    expect(once.xs).toHaveLength(1);
  });

  it('leads backwards over a free level', () => {
    const space = new Space(boxesOf([0, 0, 100, 40], [300, 0, 400, 40]));
    const ends = { x1: 400, y1: 20, x2: 0, y2: 20 };
    const path = findPath(space, ends);
    expect(hitsOf(space, path, ends)).toBe(0);
    expect(path.ys).toHaveLength(3);
  });

  it('leaves the trunk of its own output where that is no longer', () => {
    const space = new Space(boxesOf([0, 0, 50, 40]));
    const trunk = findPath(space, { x1: 50, y1: 20, x2: 900, y2: 300 });
    const branch = joinPath(space, { x1: 50, y1: 20, x2: 600, y2: 200 }, [{ path: trunk, end: 900 }]);
    expect(branch?.ys.slice(0, 1)).toEqual([20]);
    expect(branch?.xs.every((x) => x <= 600)).toBe(true);
  });

  it('never runs through a box where the boxes leave room on all sides', () => {
    const cell = fc.tuple(fc.integer({ min: 0, max: 5 }), fc.integer({ min: 0, max: 5 }));
    fc.assert(
      fc.property(
        fc.uniqueArray(cell, { minLength: 1, maxLength: 14, selector: ([x, y]) => x * 8 + y }),
        fc.integer({ min: 0, max: 700 }),
        fc.integer({ min: 0, max: 700 }),
        (cells, y1, y2) => {
          const space = new Space(
            boxesOf(
              ...cells.map(([c, r]): [number, number, number, number] => [
                100 + c * 160,
                r * 120,
                190 + c * 160,
                60 + r * 120,
              ]),
            ),
          );
          const ends = { x1: 0, y1, x2: 1200, y2 };
          expect(hitsOf(space, findPath(space, ends), ends)).toBe(0);
        },
      ),
      { numRuns: 200 },
    );
  });
});

describe('tracks', () => {
  const track = (net: number, from: number, to: number, more: Partial<Track> = {}): Track => ({
    net,
    low: 0,
    high: 100,
    from,
    to,
    now: 50,
    branches: [],
    ...more,
  });
  it('stand apart by the pitch in the middle of their room, and together where one net has both', () => {
    const [a, b] = placeTracks([track(1, 0, 50), track(2, 20, 80)], 6);
    expect(Math.abs(a! - b!)).toBeGreaterThanOrEqual(6);
    expect((a! + b!) / 2).toBeCloseTo(50, 5);
    expect([...placeTracks([track(1, 0, 50), track(1, 20, 80)], 6)]).toEqual([50, 50]);
    expect([...placeTracks([track(1, 0, 50), track(2, 200, 280)], 6)]).toEqual([50, 50]);
  });

  it('take the order that crosses nothing: of two falls the lower begins first (worked by hand)', () => {
    // a falls from 0 to 60, b from 30 to 90: with a first, both would be crossed by the other's level pieces
    const falls = (from: number, to: number): Track['branches'] => [
      { at: from, side: -1, reach: -500, wires: 1 },
      { at: to, side: 1, reach: 500, wires: 1 },
    ];
    const [a, b] = placeTracks(
      [track(1, 0, 60, { branches: falls(0, 60) }), track(2, 30, 90, { branches: falls(30, 90) })],
      6,
    );
    expect(b!).toBeLessThan(a!);
  });

  it('are nearer than the pitch only where neither has a place that is clear of all others', () => {
    const one = fc.record({
      net: fc.integer({ min: 1, max: 12 }),
      low: fc.integer({ min: 0, max: 80 }),
      room: fc.integer({ min: 0, max: 60 }),
      from: fc.integer({ min: 0, max: 300 }),
      long: fc.integer({ min: 20, max: 200 }),
    });
    fc.assert(
      fc.property(fc.array(one, { maxLength: 16 }), (some) => {
        const tracks = some.map(({ net, low, room, from, long }) =>
          track(net, from, from + long, { low, high: low + room, now: low + room / 2 }),
        );
        const placed = placeTracks(tracks, 6);
        const meet = (a: number, b: number) =>
          a !== b &&
          tracks[a]!.net !== tracks[b]!.net &&
          tracks[a]!.from < tracks[b]!.to &&
          tracks[b]!.from < tracks[a]!.to;
        const others = (a: number) => tracks.flatMap((_, b) => (meet(a, b) ? [placed[b]!] : []));
        const isClear = (a: number, at: number) => others(a).every((other) => Math.abs(other - at) >= 6 - 1e-6);
        tracks.forEach(({ low, high }, a) => {
          expect(placed[a]!).toBeGreaterThanOrEqual(low);
          expect(placed[a]!).toBeLessThanOrEqual(high);
          if (isClear(a, placed[a]!)) return;
          const [first] = tracks
            .map((_, b) => b)
            .filter((b) => meet(a, b) && Math.abs(placed[a]! - placed[b]!) < 6 - 1e-6);
          const free = (one: number) =>
            [tracks[one]!.low, tracks[one]!.high, ...others(one).flatMap((at) => [at - 6, at + 6])].filter(
              (at) => at >= tracks[one]!.low && at <= tracks[one]!.high && isClear(one, at),
            );
          expect([...free(a), ...free(first!)]).toEqual([]);
        });
      }),
      { numRuns: 300 },
    );
  });

  it('stay in their room when it is too small, with less between them, and count how many stand abreast', () => {
    const many = Array.from({ length: 30 }, (_, i) => track(i, 0, 100));
    const placed = [...placeTracks(many, 6)].sort((a, b) => a - b);
    expect(placed[0]).toBeGreaterThanOrEqual(0);
    expect(placed.at(-1)).toBeLessThanOrEqual(100);
    placed.slice(1).forEach((at, i) => expect(at - placed[i]!).toBeGreaterThan(1));
    expect(tracksAbreast(many, 6)).toBe(30);
    expect(tracksAbreast([track(1, 0, 10), track(2, 50, 60)], 6)).toBe(1);
  });
});

describe('routes of a document', () => {
  const near = () => {
    const pad = sketchDoc().frame('f', { title: 'A frame with a long title' });
    for (const [i, id] of ['a', 'b', 'c', 'd'].entries())
      pad.node(id, 'add', { x: i * 260, y: (i % 2) * 40, ...(i > 0 && i < 3 && { frame: 'f' }) });
    return pad.wire('a.out', 'b.a').wire('b.out', 'c.a').wire('c.out', 'd.a').wire('a.out', 'd.b').doc;
  };
  it('keep clear of frame titles', () => {
    const doc = near();
    const tabs = titleTabs(doc, testKinds, 'root');
    for (const route of routeWires(doc, testKinds, 'root').values())
      for (let i = 0; i + 1 < route.length; i++) {
        const [p, q] = [route[i]!, route[i + 1]!];
        const piece = {
          x: Math.min(p.x, q.x),
          y: Math.min(p.y, q.y),
          width: Math.abs(p.x - q.x),
          height: Math.abs(p.y - q.y),
        };
        for (const tab of tabs)
          expect(overlaps({ ...piece, width: piece.width + 0.1, height: piece.height + 0.1 }, tab)).toBe(false);
      }
  });

  it('follow the style of the file: two corners when straight, a row of points when curved', () => {
    const styled = (wireStyle: 'straight' | 'curved'): Doc => ({ ...near(), head: { ...near().head, wireStyle } });
    for (const route of routeWires(styled('straight'), testKinds, 'root').values()) expect(route).toHaveLength(2);
    for (const route of routeWires(styled('curved'), testKinds, 'root').values())
      expect(route.length).toBeGreaterThan(10);
  });

  it('of a node in hand go round what stands, and are those of the document once it is put down alone', () => {
    const doc = sketchDoc()
      .node('a', 'src')
      .node('wall', 'tint', { x: 250, y: -10 })
      .node('b', 'round', { x: 600, y: 300 })
      .wire('a.out', 'b.in').doc;
    const live = new LiveRoutes(doc, testKinds, 'root', new Set(['b']));
    const route = live.route(doc.wires.get('a.out>b.in')!, 0, -300)!;
    const wall = rectOf(doc, testKinds, doc.nodes.get('wall')!);
    for (let i = 0; i + 1 < route.length; i++) {
      const [p, q] = [route[i]!, route[i + 1]!];
      expect(
        overlaps(
          {
            x: Math.min(p.x, q.x),
            y: Math.min(p.y, q.y),
            width: Math.abs(p.x - q.x) + 0.1,
            height: Math.abs(p.y - q.y) + 0.1,
          },
          wall,
        ),
      ).toBe(false);
    }
    expect(indexOf(doc).wiresIn('root')).toHaveLength(1);
    expect(
      measureGraph({ ...doc, nodes: new Map(doc.nodes).set('b', { ...doc.nodes.get('b')!, y: 0 }) }, testKinds, 'root')
        .throughNodes,
    ).toBe(0);
    expect(pitch).toBeGreaterThan(0);
  });
});
