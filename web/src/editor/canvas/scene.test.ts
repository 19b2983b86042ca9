import { type Doc, indexOf } from '@basitax/core/document/doc';
import type { Point, Rect } from '@basitax/core/document/geometry';
import { routeWires } from '@basitax/core/route/route';
import { docFromSeed, testKinds } from '@basitax/core/tests/arbitrary';
import { kinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Corners, type KnownRoute, Scene } from './scene.ts';

const cues = demoFiles.find((file) => file.slug === 'tide-cues')!.build();
const meets = (a: Rect, b: Rect): boolean =>
  a.x <= b.x + b.width && b.x <= a.x + a.width && a.y <= b.y + b.height && b.y <= a.y + a.height;
const boxOf = (points: readonly Point[]): Rect => {
  const [xs, ys] = [points.map((p) => p.x), points.map((p) => p.y)];
  return {
    x: Math.min(...xs),
    y: Math.min(...ys),
    width: Math.max(...xs) - Math.min(...xs),
    height: Math.max(...ys) - Math.min(...ys),
  };
};

const pointsOf = ({ points, start, end }: Corners): Point[] =>
  Array.from({ length: (end - start) / 2 }, (_, i) => ({ x: points[start + 2 * i]!, y: points[start + 2 * i + 1]! }));

/** Routes packed as the worker packs them. */
function packed(doc: Doc): ReadonlyMap<string, KnownRoute> {
  const routes = new Map<string, KnownRoute>();
  for (const [id, route] of routeWires(doc, kinds, 'root')) {
    const wire = doc.wires.get(id)!;
    const corners = Float64Array.from(route.flatMap((p) => [p.x, p.y]));
    routes.set(id, {
      from: doc.nodes.get(wire.from.node)!,
      to: doc.nodes.get(wire.to.node)!,
      corners,
      start: 0,
      end: corners.length,
    });
  }
  return routes;
}

describe('the scene', () => {
  it('finds what a window shows, as a look at everything does', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 500 }),
        fc.integer({ min: -600, max: 1500 }),
        fc.integer({ min: -600, max: 1500 }),
        fc.integer({ min: 1, max: 1200 }),
        (seed, x, y, size) => {
          const doc = docFromSeed(seed, 25);
          const scene = new Scene(doc, testKinds, 'root');
          const area = { x, y, width: size, height: size };
          expect(scene.nodesWithin(area).map((item) => item.node.id)).toEqual(
            scene.nodes.filter((item) => meets(item.rect, area)).map((item) => item.node.id),
          );
          expect(scene.wiresWithin(area).map((wire) => wire.id)).toEqual(
            indexOf(doc)
              .wiresIn('root')
              .filter((wire) => meets(boxOf(scene.path(wire)), area))
              .map((wire) => wire.id),
          );
        },
      ),
      { numRuns: 80 },
    );
  });

  it('draws elbows first and routes once they come, but none that was made for another place', () => {
    const scene = new Scene(cues, kinds, 'root');
    const routes = packed(cues);
    const wire = scene.wires.find(
      (one) => routeWires(cues, kinds, 'root').get(one.id)!.length !== scene.path(one).length,
    )!;
    const elbow = scene.path(wire);
    scene.takeRoutes(routes);
    expect(scene.path(wire)).toEqual(routeWires(cues, kinds, 'root').get(wire.id));
    const target = cues.nodes.get(wire.to.node)!;
    const moved = new Scene(
      { ...cues, nodes: new Map(cues.nodes).set(target.id, { ...target, y: target.y + 1 }) },
      kinds,
      'root',
    );
    moved.takeRoutes(routes);
    expect(moved.path(wire)).toHaveLength(elbow.length);
    expect(moved.path(wire).at(-1)!.y).toBe(elbow.at(-1)!.y + 1);
  });

  it('hits ports before nodes, nodes before wires, and frames by their tabs', () => {
    const scene = new Scene(cues, kinds, 'root');
    const item = scene.nodes.find((one) => one.node.name === 'NarrationMix')!;
    const port = item.geometry.ports[0]!;
    expect(scene.hit({ x: item.rect.x + port.x - 3, y: item.rect.y + port.y }, 8)).toMatchObject({
      type: 'port',
      port: port.id,
      direction: 'in',
    });
    expect(scene.hit({ x: item.rect.x + 60, y: item.rect.y + 8 }, 8)).toEqual({ type: 'node', id: item.node.id });
    const dome = new Scene(demoFiles[0]!.build(), kinds, 'root');
    const wire = dome.wires.find((one) => dome.doc.nodes.get(one.to.node)?.name === 'HouseGrade')!;
    const start = dome.path(wire)[0]!;
    expect(dome.hit({ x: start.x + 13, y: start.y + 2 }, 4)).toEqual({ type: 'wire', id: wire.id });
    const { frame, rect } = scene.frames[0]!;
    expect(['frame', 'node', 'wire']).toContain(scene.hit({ x: rect.x + 4, y: rect.y + 4 }, 1)?.type);
    const alone = new Scene({ ...cues, nodes: new Map(), wires: new Map() }, kinds, 'root');
    expect(alone.hit({ x: cues.frames.get(frame.id)!.x + 4, y: cues.frames.get(frame.id)!.y + 4 }, 4)?.type).toBe(
      'frame',
    );
    expect(scene.hit({ x: -99999, y: 0 }, 8)).toBeUndefined();
  });

  it('lets wires follow what is in hand: whole where both ends are, anew where one is', () => {
    const scene = new Scene(cues, kinds, 'root');
    scene.takeRoutes(packed(cues));
    for (const wire of scene.wires.slice(0, 40)) {
      const still = scene.path(wire);
      const both = pointsOf(
        scene.movedCorners(wire, { ids: new Set([wire.from.node, wire.to.node]), dx: 30, dy: -20 }),
      );
      expect(both).toEqual(still.map((p) => ({ x: p.x + 30, y: p.y - 20 })));
      const one = pointsOf(scene.movedCorners(wire, { ids: new Set([wire.to.node]), dx: 30, dy: -20 }));
      expect(one[0]).toEqual(still[0]);
      expect(one.at(-1)).toEqual({ x: still.at(-1)!.x + 30, y: still.at(-1)!.y - 20 });
      expect(scene.movedCorners(wire, { ids: new Set(), dx: 30, dy: -20 })).toBe(scene.corners(wire));
    }
  });

  it('orders frames so that inner ones lie above outer ones', () => {
    const kelp = new Scene(demoFiles.find((file) => file.slug === 'kelp-growth')!.build(), kinds, 'root');
    const place = new Map(kelp.frames.map((item, i) => [item.frame.id, i]));
    for (const { frame } of kelp.frames)
      if (frame.parent !== undefined) expect(place.get(frame.parent)!).toBeLessThan(place.get(frame.id)!);
  });
});
