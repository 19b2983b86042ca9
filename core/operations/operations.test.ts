import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf, type Selection } from '../document/doc.ts';
import { frameRects, overlaps, rectOf } from '../document/geometry.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { describeOperations, operations, runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { copyText } from '../structure/clipboard.ts';
import { docArbitrary, docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { effectiveWiring } from '../wiring/effective.ts';

const root = (items: readonly string[]): Selection => ({ graph: 'root', items });
const perform = async (id: string, doc: Doc, items: readonly string[], options: unknown = {}) => {
  const outcome = await runOperation(id, createContext(testKinds, 1), doc, root(items), options);
  return { ...outcome, doc: apply(doc, outcome.edit) };
};
const at = (doc: Doc, id: string) => rectOf(doc, testKinds, doc.nodes.get(id)!);
const boxes = () =>
  sketchDoc()
    .node('a', 'src', { x: 0, y: 10, size: { width: 100, height: 40 } })
    .node('b', 'src', { x: 300, y: 70, size: { width: 50, height: 60 } })
    .node('c', 'src', { x: 190, y: 200, size: { width: 80, height: 20 } }).doc;

describe('the registry', () => {
  it('has unique ids, words for everything, and options that are complete or say what is missing', () => {
    expect(new Set(operations.map((one) => one.id)).size).toBe(operations.length);
    for (const one of operations) expect([one.title, one.about].every((text) => text.length > 3)).toBe(true);
    expect(JSON.parse(JSON.stringify(describeOperations()))[0]).toMatchObject({
      id: 'arrange',
      changesFunction: false,
    });
  });

  it('refuses in one sentence: unknown operation, selection, option, graph', async () => {
    const doc = boxes();
    await expect(perform('fly', doc, [])).rejects.toThrow('no operation “fly”');
    await expect(perform('align-left', doc, ['a'])).rejects.toThrow('Select at least 2 nodes');
    await expect(perform('rename', doc, ['a', 'b'], { name: 'x' })).rejects.toThrow('no more than one node');
    await expect(perform('arrange', doc, [], { keep: 7 })).rejects.toThrow('option keep');
    await expect(
      runOperation('arrange', createContext(testKinds, 1), doc, { graph: 'nope', items: [] }),
    ).rejects.toThrow(Refused);
  });
});

describe('align and distribute', () => {
  it.each([
    ['align-left', 'x', (r: { x: number }) => r.x, 0],
    ['align-right', 'x', (r: { x: number; width: number }) => r.x + r.width, 350],
    ['align-centre', 'x', (r: { x: number; width: number }) => r.x + r.width / 2, 175],
    ['align-top', 'y', (r: { y: number }) => r.y, 10],
    ['align-bottom', 'y', (r: { y: number; height: number }) => r.y + r.height, 220],
    ['align-middle', 'y', (r: { y: number; height: number }) => r.y + r.height / 2, 115],
  ] as const)('%s puts every node at the place worked by hand', async (id, _axis, read, expected) => {
    const { doc } = await perform(id, boxes(), ['a', 'b', 'c']);
    for (const node of ['a', 'b', 'c']) expect((read as (rect: unknown) => number)(at(doc, node))).toBe(expected);
  });

  it('distributes by the gaps between edges; first and last stay', async () => {
    const { doc, report } = await perform('distribute-x', boxes(), ['a', 'b', 'c']);
    // span 0…350, widths 100 + 80 + 50: two gaps of 60
    expect([at(doc, 'a').x, at(doc, 'c').x, at(doc, 'b').x]).toEqual([0, 160, 300]);
    expect(report.summary).toContain('60 px');
  });

  it('gives equal gaps to within a pixel, on any nodes', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 3000 }), fc.integer({ min: 10, max: 200 })), {
          minLength: 3,
          maxLength: 12,
        }),
        async (rows) => {
          const pad = sketchDoc();
          rows.forEach(([y, height], i) => pad.node(`n${i}`, 'src', { y, size: { width: 50, height } }));
          const ids = rows.map((_, i) => `n${i}`);
          const { doc } = await perform('distribute-y', pad.doc, ids);
          const before = ids.map((id) => at(pad.doc, id)).sort((a, b) => a.y - b.y || a.height - b.height);
          const sorted = ids.map((id) => at(doc, id));
          expect(Math.min(...sorted.map((r) => r.y))).toBeLessThanOrEqual(before[0]!.y);
          sorted.sort((a, b) => a.y - b.y || a.y + a.height - b.y - b.height);
          // gaps of the order that the operation used: first by top edge
          const order = ids
            .map((id) => ({ was: at(pad.doc, id), is: at(doc, id), id }))
            .sort((p, q) => p.was.y - q.was.y || p.was.height - q.was.height || (p.id < q.id ? -1 : 1));
          const gaps = order.slice(1).map((item, i) => item.is.y - order[i]!.is.y - order[i]!.is.height);
          expect(Math.max(...gaps) - Math.min(...gaps)).toBeLessThanOrEqual(1);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('arrange', () => {
  it('leaves no two nodes overlapping, no backward wire on acyclic graphs, and changes nothing but positions', async () => {
    for (let seed = 1; seed <= 25; seed++) {
      const before = docFromSeed(seed, 30, { acyclic: true });
      const loose = { ...before, nodes: new Map([...before.nodes].map(([id, { pinned: _, ...node }]) => [id, node])) };
      const { doc, edit } = await perform('arrange', loose, []);
      for (const step of edit.steps)
        expect(step).toMatchObject({
          type: 'set',
          table: expect.stringMatching(/^(nodes|notes)$/),
          path: [expect.stringMatching(/^[xy]$/)],
        });
      const nodes = indexOf(doc).nodesIn('root');
      nodes.forEach((a, i) =>
        nodes
          .slice(i + 1)
          .forEach((b) => expect(overlaps(at(doc, a.id), at(doc, b.id)), `${a.id} ${b.id} seed ${seed}`).toBe(false)),
      );
      if (doc.frames.size > 0) continue;
      for (const wire of indexOf(doc).wiresIn('root'))
        if (wire.from.node !== wire.to.node) expect(at(doc, wire.to.node).x).toBeGreaterThan(at(doc, wire.from.node).x);
    }
  });

  it('keeps frames whole: no two overlap unless nested, and no stranger lies in one', async () => {
    for (let seed = 1; seed <= 25; seed++) {
      const before = docFromSeed(seed, 30);
      const loose = { ...before, nodes: new Map([...before.nodes].map(([id, { pinned: _, ...node }]) => [id, node])) };
      const { doc } = await perform('arrange', loose, []);
      const rects = frameRects(doc, testKinds, 'root');
      const within = (id: string | undefined, frame: string): boolean =>
        id !== undefined && (id === frame || within(doc.frames.get(id)?.parent, frame));
      const filled = (frame: string): boolean => [...doc.nodes.values()].some((node) => within(node.frame, frame));
      for (const [a, ra] of rects) {
        if (!filled(a)) continue;
        for (const [b, rb] of rects)
          if (a < b && filled(b) && !within(a, b) && !within(b, a))
            expect(overlaps(ra, rb), `seed ${seed}`).toBe(false);
        for (const node of indexOf(doc).nodesIn('root'))
          if (!within(node.frame, a))
            expect(overlaps(at(doc, node.id), ra), `${node.id} in ${a}, seed ${seed}`).toBe(false);
      }
    }
  });

  it('leaves pinned nodes where they are, and nothing on them', async () => {
    for (let seed = 1; seed <= 20; seed++) {
      const before = docFromSeed(seed, 24);
      const loose = {
        ...before,
        frames: new Map(),
        nodes: new Map([...before.nodes].map(([id, { frame: _, ...node }]) => [id, node])),
      };
      const { doc } = await perform('arrange', loose, []);
      const pinned = indexOf(doc)
        .nodesIn('root')
        .filter((node) => node.pinned);
      for (const node of pinned)
        expect([node.x, node.y]).toEqual([before.nodes.get(node.id)!.x, before.nodes.get(node.id)!.y]);
      for (const node of pinned)
        for (const other of indexOf(doc).nodesIn('root'))
          if (!other.pinned) expect(overlaps(at(doc, node.id), at(doc, other.id))).toBe(false);
    }
  });

  it('moves only what is selected, and goes the way the flow says', async () => {
    const pad = sketchDoc()
      .graph('root', { name: 'Main', flow: 'down' })
      .node('a', 'src')
      .node('b', 'round')
      .node('c', 'round', { x: 5, y: 5 })
      .wire('a.out', 'b.in')
      .wire('b.out', 'c.in');
    const down = await perform('arrange', pad.doc, []);
    const y = (id: string): number => down.doc.nodes.get(id)!.y;
    expect(y('a') < y('b') && y('b') < y('c')).toBe(true);
    const some = await perform('arrange', pad.doc, ['a', 'b']);
    expect(some.doc.nodes.get('c')).toBe(pad.doc.nodes.get('c'));
    for (const [flow, test] of [
      ['left', (p: Doc) => p.nodes.get('a')!.x > p.nodes.get('b')!.x],
      ['up', (p: Doc) => p.nodes.get('a')!.y > p.nodes.get('b')!.y],
    ] as const) {
      const turned = { ...pad.doc, graphs: new Map([['root', { id: 'root', name: 'Main', flow }]]) };
      expect(test((await perform('arrange', turned, [])).doc)).toBe(true);
    }
  });

  it('can be cancelled in the middle', async () => {
    let asked = 0;
    const context = createContext(testKinds, 1, { cancelled: () => ++asked > 2 });
    await expect(runOperation('arrange', context, docFromSeed(2, 60), root([]))).rejects.toThrow('Cancelled');
  });
});

describe('delete with healing', () => {
  it('gives consumers outside what bypassing the whole set would give them', async () => {
    for (let seed = 1; seed <= 60; seed++) {
      const doc = docFromSeed(seed, 24);
      const set = [...doc.nodes.values()]
        .filter((node, i) => node.graph === 'root' && node.kind !== builtin.nested && i % 4 === seed % 4)
        .map((node) => node.id);
      if (set.length === 0) continue;
      const bypassed = {
        ...doc,
        nodes: new Map(
          [...doc.nodes].map(([id, node]) => [id, set.includes(id) ? { ...node, bypassed: true as const } : node]),
        ),
      };
      const { doc: after } = await perform('delete', doc, set);
      expect(problems(after)).toEqual([]);
      const [want, have] = [effectiveWiring(bypassed, testKinds), effectiveWiring(after, testKinds)];
      for (const node of have.nodes) {
        for (const port of node.ports) {
          if (port.direction !== 'in') continue;
          const [a, b] = [want.source(node.id, port.id), have.source(node.id, port.id)];
          expect(b && [b.node, b.port], `seed ${seed} ${node.id}.${port.id}`).toEqual(a && [a.node, a.port]);
        }
      }
    }
  });

  it('says what stays open, and what loses its other end', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('r', 'round')
      .node('b', builtin.beacon, { name: 'Moon' })
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } })
      .wire('s.out', 'r.in');
    const { report } = await perform('delete', pad.doc, ['s', 'b']);
    expect(report.findings.map((item) => item.rule).sort()).toEqual(['input-opened', 'lost-tap']);
  });

  it('without healing takes every wire along', async () => {
    const pad = sketchDoc()
      .node('a', 'src')
      .node('m', 'add')
      .node('r', 'round')
      .wire('a.out', 'm.b')
      .wire('m.out', 'r.in');
    expect((await perform('delete-with-wires', pad.doc, ['m'])).doc.wires.size).toBe(0);
    expect([...(await perform('delete', pad.doc, ['m'])).doc.wires.values()][0]).toMatchObject({
      from: { node: 'a' },
      to: { node: 'r' },
    });
  });

  it('takes nested graphs along whole, and a boundary node’s port with it', async () => {
    const doc = [...Array(40).keys()].map((seed) => docFromSeed(seed, 12)).find((one) => one.graphs.size > 1)!;
    const gone = (await perform('delete', doc, ['host'])).doc;
    expect(gone.graphs.size).toBe(1);
    expect([...gone.nodes.values()].every((node) => node.graph === 'root')).toBe(true);
    const outcome = await runOperation('delete', createContext(testKinds, 1), doc, { graph: 'g1', items: ['bin'] });
    expect(
      apply(doc, outcome.edit)
        .nodes.get('host')!
        .ports.map((port) => port.id),
    ).toEqual(['bout']);
  });

  it('leaves a deleted frame’s members in the frame around', async () => {
    const pad = sketchDoc().frame('f').frame('g', { parent: 'f' }).node('a', 'src', { frame: 'g' });
    const { doc } = await perform('delete', pad.doc, ['g']);
    expect(doc.nodes.get('a')?.frame).toBe('f');
  });
});

describe('duplicate, copy and paste', () => {
  it('never lands on the original, keeps inner wires, brings incoming ones where asked', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('m', 'add')
      .node('r', 'round')
      .wire('s.out', 'm.a')
      .wire('m.out', 'r.in');
    const { doc, report } = await perform('duplicate', pad.doc, ['m', 'r']);
    const [m2, r2] = report.select!.map((id) => doc.nodes.get(id)!);
    expect([m2!.name, r2!.name]).toEqual(['m2', 'r2']);
    expect([m2!.x, m2!.y]).not.toEqual([0, 0]);
    expect(indexOf(doc).wireInto(r2!.id, 'in')?.from.node).toBe(m2!.id);
    expect(indexOf(doc).wireInto(m2!.id, 'a')?.from.node).toBe('s');
    const without = await perform('duplicate', pad.doc, ['m', 'r'], { incoming: false });
    expect(indexOf(without.doc).wireInto(without.report.select![0]!, 'a')).toBeUndefined();
  });

  it('pastes anything copied as a whole document, within and between files', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(16), docArbitrary(8), async (from, to) => {
        const items = indexOf(from)
          .nodesIn('root')
          .map((node) => node.id);
        fc.pre(items.length > 0);
        const text = copyText(from, testKinds, root(items));
        const { doc, report } = await perform('paste', to, [], { text, x: 100, y: 200, incoming: true });
        expect(problems(doc)).toEqual([]);
        expect(report.select!.length).toBeGreaterThanOrEqual(items.length);
        expect(doc.nodes.size).toBe(to.nodes.size + from.nodes.size);
        expect(doc.wires.size).toBe(to.wires.size + from.wires.size);
      }),
      { numRuns: 60 },
    );
  });

  it('refuses a clipboard that holds no graph', async () => {
    await expect(perform('paste', boxes(), [], { text: 'a shopping list' })).rejects.toThrow(
      'The clipboard holds no nodes',
    );
  });
});

describe('names, parameters, wires', () => {
  it('renames a beacon with its taps, and a boundary node with its host’s port', async () => {
    const pad = sketchDoc()
      .node('b', builtin.beacon, { name: 'Moon' })
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } });
    expect((await perform('rename', pad.doc, ['b'], { name: 'HighMoon' })).doc.nodes.get('t')?.beacon).toEqual({
      id: 'b',
      name: 'HighMoon',
    });
    await expect(perform('rename', pad.doc, ['b'], { name: 'high moon' })).rejects.toThrow('not a legal name');
    await expect(perform('rename', pad.doc, ['b'], { name: 't' })).rejects.toThrow('taken');
  });

  it('sets parameters where they are, skips and says where not, and refuses values that do not fit', async () => {
    const pad = sketchDoc().node('s', 'src').node('a', 'add');
    const { doc, report } = await perform('set-parameter', pad.doc, ['s', 'a'], { parameter: 'value', value: 9 });
    expect(doc.nodes.get('s')?.params).toEqual({ value: 9 });
    expect(report.findings[0]?.message).toContain('a');
    await expect(perform('set-parameter', pad.doc, ['s'], { parameter: 'value', value: -1 })).rejects.toThrow(
      'from 0 to 100',
    );
    expect(plainDoc((await perform('set-parameter', doc, ['s'], { parameter: 'value' })).doc)).toEqual(
      plainDoc(pad.doc),
    );
  });

  it('connects what fits, refuses the rest with the reason, and grows growing inputs', async () => {
    const pad = sketchDoc().node('s', 'src').node('s2', 'src').node('sum', 'sum').node('r', 'round').node('t', 'tint');
    const wire = (doc: Doc, from: string, to: string, more: object = {}) =>
      perform('connect', doc, [], {
        from: { node: from, port: 'out' },
        to: { node: to.split('.')[0], port: to.split('.')[1] },
        ...more,
      });
    const one = await wire(pad.doc, 's', 'sum.in1');
    expect(one.doc.nodes.get('sum')!.ports.map((port) => port.id)).toEqual(['in1', 'in2', 'out']);
    const two = await wire(one.doc, 's2', 'sum.in2');
    expect(two.doc.nodes.get('sum')!.ports.map((port) => port.id)).toEqual(['in1', 'in2', 'in3', 'out']);
    await expect(wire(two.doc, 's', 'sum.in2')).rejects.toThrow('has a wire already');
    expect(
      indexOf((await wire(two.doc, 's', 'sum.in2', { replace: true })).doc).wireInto('sum', 'in2')?.from.node,
    ).toBe('s');
    await expect(wire(pad.doc, 't', 'r.in')).rejects.toThrow('takes number');
    await expect(wire(pad.doc, 's', 'r.nope')).rejects.toThrow('no input nope');
  });
});
