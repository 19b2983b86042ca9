import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf, type Selection } from '../document/doc.ts';
import { flowOf, overlaps, portPoint, rectOf } from '../document/geometry.ts';
import { apply } from '../edit/step.ts';
import { measureGraph } from '../inspect/measure.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docArbitrary, docFromSeed, plainDoc, sketchDoc, testKinds, unpinned } from '../tests/arbitrary.ts';
import { modulesDoc } from '../tests/modules.ts';

const root = (items: readonly string[] = []): Selection => ({ graph: 'root', items });
const perform = async (id: string, doc: Doc, items: readonly string[] = [], options: unknown = {}) => {
  const outcome = await runOperation(id, createContext(testKinds, 1), doc, root(items), options);
  return { ...outcome, doc: apply(doc, outcome.edit) };
};
const at = (doc: Doc, id: string) => rectOf(doc, testKinds, doc.nodes.get(id)!);
const port = (doc: Doc, id: string, name: string, direction: 'in' | 'out') =>
  portPoint(doc, testKinds, doc.nodes.get(id)!, name, direction)!;

describe('arrange with keep 1', () => {
  it('moves nothing in an arrangement that was just made, of either quality', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const doc = unpinned(docFromSeed(seed, 20, { acyclic: true }));
      const { doc: once } = await perform('arrange', doc, [], { quality: seed % 2 === 0 ? 'best' : 'quick' });
      const { edit } = await perform('arrange', once, [], { keep: 1 });
      expect(edit.steps).toEqual([]);
    }
  });

  it('after a node is put in between, the others keep nearly all of their orders and hardly move across the flow', async () => {
    let [kept, pairs, moved, nodes] = [0, 0, 0, 0];
    for (let seed = 1; seed <= 8; seed++) {
      const { doc: once } = await perform('arrange', unpinned(docFromSeed(seed, 24, { acyclic: true })));
      const wire = indexOf(once).wiresIn('root')[0];
      if (!wire) continue;
      const source = once.nodes.get(wire.from.node)!;
      const fresh = {
        id: 'fresh',
        graph: 'root',
        kind: 'unknown.kind',
        name: 'Fresh',
        x: source.x + 40,
        y: source.y + 5,
        ports: [
          { id: 'p', name: 'p', type: 'any', direction: 'in' as const },
          { id: 'q', name: 'q', type: 'any', direction: 'out' as const },
        ],
      };
      const put: Doc = {
        ...once,
        nodes: new Map(once.nodes).set('fresh', fresh),
        wires: new Map(once.wires)
          .set(wire.id, { ...wire, to: { node: 'fresh', port: 'p' } })
          .set('new', { id: 'new', from: { node: 'fresh', port: 'q' }, to: wire.to }),
      };
      const { doc: after } = await perform('arrange', put, [], { keep: 1 });
      const others = indexOf(once)
        .nodesIn('root')
        .map((node) => node.id);
      for (const a of others) {
        moved += Math.abs(at(after, a).y - at(once, a).y);
        nodes++;
        for (const b of others) {
          if (at(once, a).y >= at(once, b).y) continue;
          pairs++;
          if (at(after, a).y <= at(after, b).y) kept++;
        }
      }
    }
    expect(kept / pairs).toBeGreaterThanOrEqual(0.95);
    // the lowest ticket is 34 px high
    expect(moved / nodes).toBeLessThan(34);
  });

  it('parts what overlaps in a messy graph, and turns no wire round', async () => {
    for (let seed = 30; seed <= 40; seed++) {
      const doc = unpinned(docFromSeed(seed, 20, { acyclic: true }));
      const { doc: after } = await perform('arrange', doc, [], { keep: 1 });
      const measures = measureGraph(after, testKinds, 'root');
      expect(measures.overlaps).toBe(0);
      expect(measures.backward).toBeLessThanOrEqual(measureGraph(doc, testKinds, 'root').backward);
    }
  });
});

describe('arrange with a keep between', () => {
  it('moves less the more it keeps, from where parts stay in place on, and nothing the second time', async () => {
    for (const seed of [1, 2, 3]) {
      const doc = modulesDoc(seed);
      const far: number[] = [];
      for (const keep of [0.3, 0.5, 0.75, 1]) {
        const { doc: after } = await perform('arrange', doc, [], { keep });
        far.push(
          [...doc.nodes.values()].reduce(
            (sum, node) => sum + Math.hypot(after.nodes.get(node.id)!.x - node.x, after.nodes.get(node.id)!.y - node.y),
            0,
          ),
        );
        expect(measureGraph(after, testKinds, 'root').overlaps).toBe(0);
        expect((await perform('arrange', after, [], { keep })).edit.steps).toEqual([]);
      }
      expect(far).toEqual([...far].sort((a, b) => b - a));
    }
  });
});

describe('arrange', () => {
  it('crosses no more in best quality than in quick, over many graphs, and neither draws a wire through a node', async () => {
    const sum = { quick: 0, best: 0 };
    for (let seed = 1; seed <= 10; seed++) {
      for (const quality of ['quick', 'best'] as const) {
        const { doc } = await perform('arrange', unpinned(docFromSeed(seed, 30, { acyclic: true })), [], { quality });
        const measures = measureGraph(doc, testKinds, 'root');
        expect(measures).toMatchObject({ throughNodes: 0, overlaps: 0, backward: 0 });
        sum[quality] += measures.crossings;
      }
    }
    expect(sum.best).toBeLessThanOrEqual(sum.quick);
  });

  it('lays a selection so that it overlaps nothing of the rest, which stays', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(20), fc.nat(), async (any, pick) => {
        const loose = {
          ...any,
          frames: new Map(),
          nodes: new Map([...any.nodes].map(([id, { frame: _, ...node }]) => [id, node])),
        };
        // pinned nodes may lie on others already: then those that are arranged go out of the way of both
        const doc = pick % 2 === 0 ? unpinned(loose) : loose;
        const nodes = indexOf(doc).nodesIn('root');
        const chosen = nodes.filter((_, i) => (pick >> (i % 20)) & 1).map((node) => node.id);
        if (chosen.length === 0) return;
        const { doc: after } = await perform('arrange', doc, chosen);
        for (const node of nodes) {
          if (chosen.includes(node.id)) continue;
          expect(at(after, node.id)).toEqual(at(doc, node.id));
          for (const id of chosen)
            if (!doc.nodes.get(id)!.pinned) expect(overlaps(at(after, id), at(after, node.id))).toBe(false);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('from chosen ends back takes all that feeds them, and nothing else', async () => {
    const pad = sketchDoc();
    for (const [i, id] of ['a', 'b', 'c', 'd', 'x'].entries()) pad.node(id, 'add', { x: 50 * i, y: 40 * i });
    const { doc } = pad.wire('a.out', 'b.a').wire('b.out', 'c.a').wire('c.out', 'd.a').wire('b.out', 'x.a');
    const { doc: after } = await perform('arrange', doc, ['c'], { what: 'upstream' });
    expect(['d', 'x'].map((id) => at(after, id))).toEqual(['d', 'x'].map((id) => at(doc, id)));
    expect(at(after, 'b').x).toBeGreaterThan(at(after, 'a').x + at(after, 'a').width);
    expect(at(after, 'c').x).toBeGreaterThan(at(after, 'b').x + at(after, 'b').width);
  });

  it('changes nothing but positions, whatever the options', async () => {
    await fc.assert(
      fc.asyncProperty(
        docArbitrary(18),
        fc.constantFrom(0, 0.3, 0.9, 1),
        fc.constantFrom('quick', 'best'),
        async (doc, keep, quality) => {
          const { edit } = await perform('arrange', doc, [], { keep, quality });
          for (const step of edit.steps)
            expect(step).toMatchObject({
              type: 'set',
              table: expect.stringMatching(/^(nodes|notes)$/),
              path: [expect.stringMatching(/^[xy]$/)],
            });
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('level and snap', () => {
  const pair = () =>
    sketchDoc()
      .node('a', 'add', { x: 0, y: 0 })
      .node('b', 'add', { x: 300, y: 217 })
      .node('c', 'add', { x: 600, y: 90 })
      .wire('a.out', 'b.b')
      .wire('b.out', 'c.a');
  it('makes the wires to the last selected straight, by port, and those behind them', async () => {
    const { doc, report } = await perform('level', pair().node('loose', 'src').doc, ['a', 'b', 'loose', 'c']);
    expect(port(doc, 'a', 'out', 'out').y).toBe(port(doc, 'b', 'b', 'in').y);
    expect(port(doc, 'b', 'out', 'out').y).toBe(port(doc, 'c', 'a', 'in').y);
    expect([doc.nodes.get('c')!.y, doc.nodes.get('a')!.x]).toEqual([90, 0]);
    expect(report.findings.map((item) => item.message)).toEqual(['“loose” has no wire to the others and stays.']);
    await expect(perform('level', pair().doc, ['a', 'c'])).rejects.toThrow('No wire runs between “c”');
  });

  it('snaps to a straight wire before an edge, no farther than it may', async () => {
    const near = sketchDoc()
      .node('a', 'add', { x: 0, y: 0 })
      .node('b', 'add', { x: 306, y: -11 })
      .node('c', 'src', { x: 300, y: 400 })
      .wire('a.out', 'b.b');
    const { doc } = await perform('snap', near.doc, ['b']);
    expect(port(doc, 'b', 'b', 'in').y).toBe(port(doc, 'a', 'out', 'out').y);
    expect(doc.nodes.get('b')!.x).toBe(300);
    expect((await perform('snap', near.doc, ['b'], { within: 2 })).edit.steps).toEqual([]);
  });
});

describe('spacing', () => {
  const row = () =>
    sketchDoc()
      .node('a', 'src', { x: 0, y: 0, size: { width: 100, height: 50 } })
      .node('b', 'src', { x: 150, y: 30, size: { width: 100, height: 50 } })
      .node('far', 'src', { x: 600, y: 20, size: { width: 100, height: 50 } }).doc;
  it('spreads, sets gaps, aligns and grids in this order, as single acts would', async () => {
    const { doc } = await perform('spacing', row(), ['a', 'b'], { gapX: 40, align: 'top' });
    expect(['a', 'b'].map((id) => [at(doc, id).x, at(doc, id).y])).toEqual([
      [0, 0],
      [140, 0],
    ]);
    const { doc: gridded } = await perform('spacing', row(), ['a', 'b'], { grid: 20 });
    for (const id of ['a', 'b']) expect([(at(gridded, id).x + 50) % 20, (at(gridded, id).y + 25) % 20]).toEqual([0, 0]);
  });

  it('carries what lies beside along by as much as the edge moves', async () => {
    const { doc } = await perform('spread', row(), ['a', 'b'], { x: 3, carry: true });
    // the mean of the two is 75: b goes from 150 to 300, and what lies right of it with it by 150
    expect([at(doc, 'a').x, at(doc, 'b').x, at(doc, 'far').x]).toEqual([-150, 300, 750]);
    expect(at((await perform('spread', row(), ['a', 'b'], { x: 3 })).doc, 'far').x).toBe(600);
  });
});

describe('flow', () => {
  it('turns the arrangement: what was behind lies in the new direction, without overlaps', async () => {
    const pad = sketchDoc();
    for (const [i, id] of ['a', 'b', 'c'].entries()) pad.node(id, 'add', { x: 300 * i, y: 60 * i });
    const { doc } = pad.wire('a.out', 'b.a').wire('b.out', 'c.a');
    for (const [to, ahead] of [
      ['down', (p: { y: number }, q: { y: number }) => q.y - p.y],
      ['up', (p: { y: number }, q: { y: number }) => p.y - q.y],
      ['left', (p: { x: number }, q: { x: number }) => p.x - q.x],
    ] as const) {
      const { doc: turned } = await perform('flow', doc, [], { to });
      expect(flowOf(turned, 'root')).toBe(to);
      expect((ahead as (p: unknown, q: unknown) => number)(at(turned, 'a'), at(turned, 'b'))).toBeGreaterThan(0);
      expect(measureGraph(turned, testKinds, 'root')).toMatchObject({ backward: 0, overlaps: 0 });
    }
  });

  it('sets the style of wires for the file, and back', async () => {
    const doc = sketchDoc().node('a', 'src').node('b', 'round', { x: 300, y: 90 }).wire('a.out', 'b.in').doc;
    const { doc: straight } = await perform('wire-style', doc, [], { style: 'straight' });
    expect(measureGraph(straight, testKinds, 'root')).toMatchObject({ bends: 0 });
    const { doc: curved } = await perform('wire-style', doc, [], { style: 'curved' });
    expect(measureGraph(curved, testKinds, 'root')).toMatchObject({ bends: 0 });
    const { doc: back } = await perform('wire-style', straight, [], { style: 'right-angled' });
    expect(plainDoc(back)).toEqual(plainDoc(doc));
  });
});

describe('unstack and make room', () => {
  it('says which lay exactly on one another, and parts them', async () => {
    const { doc, report } = await perform(
      'unstack',
      sketchDoc().node('a', 'src').node('b', 'src').node('c', 'src', { x: 900 }).doc,
    );
    expect(report.findings.map((item) => item.message)).toEqual(['“a”, “b” lay exactly on one another.']);
    expect(overlaps(at(doc, 'a'), at(doc, 'b'))).toBe(false);
    expect(at(doc, 'c').x).toBe(900);
  });

  it('pushes along the flow, or to the side that is asked for', async () => {
    const doc = sketchDoc().node('a', 'src').node('b', 'src', { x: 30, y: 10 }).doc;
    const { doc: right } = await perform('make-room', doc, ['a']);
    expect([at(right, 'a').x, at(right, 'b').x, at(right, 'b').y]).toEqual([0, at(doc, 'a').width + 40, 10]);
    expect(at((await perform('make-room', doc, ['a'], { side: 'down', gap: 10 })).doc, 'b')).toMatchObject({
      x: 30,
      y: at(doc, 'a').height + 10,
    });
  });
});
