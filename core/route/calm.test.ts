import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moved } from '../arrange/selection.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { type Rect, rectOf, titleTabs } from '../document/geometry.ts';
import { measureGraph } from '../inspect/measure.ts';
import { act } from '../tests/acts.ts';
import { docArbitrary, testKinds } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';
import { CalmRoutes, routesAfter } from './calm.ts';
import { type Route, routesOf } from './route.ts';

const meets = (route: Route, { x, y, width, height }: Rect): boolean =>
  route.slice(1).some((b, i) => {
    const a = route[i]!;
    return (
      Math.min(a.x, b.x) < x + width &&
      Math.max(a.x, b.x) > x &&
      Math.min(a.y, b.y) < y + height &&
      Math.max(a.y, b.y) > y
    );
  });

/**
 * Wires that have to change when a node moves: its own, and those that it, or a title that moves with it, now stands in
 * the way of.
 */
function mayChange(doc: Doc, after: Doc, node: string, routes: ReadonlyMap<string, Route>): Set<string> {
  const tabs = titleTabs(after, testKinds, 'root');
  const blocks = [rectOf(after, testKinds, after.nodes.get(node)!), ...tabs];
  return new Set([
    ...indexOf(doc)
      .wiresOf(node)
      .map((wire) => wire.id),
    ...[...routes].flatMap(([id, route]) => (blocks.some((rect) => meets(route, rect)) ? [id] : [])),
  ]);
}

describe('calm routes', () => {
  it('change only at wires that a moved node has, or now stands in the way of', () => {
    fc.assert(
      fc.property(
        docArbitrary(18),
        fc.nat(),
        fc.integer({ min: -3, max: 3 }),
        fc.integer({ min: -3, max: 3 }),
        (doc, pick, dx, dy) => {
          const nodes = indexOf(doc).nodesIn('root');
          if (nodes.length === 0) return;
          const node = nodes[pick % nodes.length]!;
          const routes = routesOf(doc, testKinds, 'root');
          const after = moved(doc, new Map([[node.id, { x: node.x + 20 * dx, y: node.y + 20 * dy }]]));
          const now = routesAfter([{ doc, routes }], after, testKinds, 'root');
          if (doc.head.wireStyle === 'straight' || doc.head.wireStyle === 'curved') return expect(now).toBeUndefined();
          const changes = mayChange(doc, after, node.id, routes);
          const full = routesOf(after, testKinds, 'root');
          expect([...now!.keys()].sort()).toEqual([...full.keys()].sort());
          for (const [id, route] of now!) {
            if (!changes.has(id)) expect(route, id).toEqual(routes.get(id));
            expect([route[0], route.at(-1)]).toEqual([full.get(id)![0], full.get(id)!.at(-1)]);
          }
        },
      ),
    );
  });

  it('stay right over a row of acts on a whole page: none runs through a node', async () => {
    let { doc } = await act('arrange', modulesDoc(2), []);
    const calm = new CalmRoutes();
    calm.routes(doc, testKinds, 'root');
    const nodes = [...doc.nodes.keys()];
    for (let step = 0; step < 12; step++) {
      doc = (
        await act('nudge', doc, [nodes[(step * 37) % nodes.length]!], { direction: step % 2 === 0 ? 'down' : 'right' })
      ).doc;
      const routes = calm.routes(doc, testKinds, 'root');
      const boxes = indexOf(doc).nodesIn('root');
      const ends = new Map(
        indexOf(doc)
          .wiresIn('root')
          .map((wire) => [wire.id, [wire.from.node, wire.to.node]]),
      );
      const through = [...routes].filter(([id, route]) =>
        boxes.some((node) => !ends.get(id)!.includes(node.id) && meets(route, rectOf(doc, testKinds, node))),
      );
      expect(through.map(([id]) => id)).toEqual([]);
    }
    expect(measureGraph(doc, testKinds, 'root').overlaps).toBe(0);
  });

  it('are as they were when an act is undone', async () => {
    const { doc } = await act('arrange', modulesDoc(3), []);
    const calm = new CalmRoutes();
    const before = calm.routes(doc, testKinds, 'root');
    const away = moved(doc, new Map([['n4', { x: 5000, y: -900 }]]));
    expect(calm.routes(away, testKinds, 'root')).not.toEqual(before);
    const { x, y } = doc.nodes.get('n4')!;
    expect(calm.routes(moved(away, new Map([['n4', { x, y }]])), testKinds, 'root')).toEqual(before);
  });

  it('are those of the whole where much has changed at once', async () => {
    const doc = modulesDoc(1);
    const calm = new CalmRoutes();
    calm.routes(doc, testKinds, 'root');
    const { doc: after } = await act('arrange', doc, []);
    expect(calm.routes(after, testKinds, 'root')).toEqual(routesOf(after, testKinds, 'root'));
  });
});
