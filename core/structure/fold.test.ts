import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf, nodesWithin } from '../document/doc.ts';
import { framePad, frameRects } from '../document/geometry.ts';
import { seededRandom } from '../document/ids.ts';
import { apply } from '../edit/step.ts';
import { measureDoc } from '../inspect/measure.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { routeWires } from '../route/route.ts';
import { Refused } from '../said.ts';
import { act } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { foldAround, foldedView, realPort } from './fold.ts';

const bay = () =>
  sketchDoc()
    .frame('bay', { title: 'Bay' })
    .frame('cove', { parent: 'bay' })
    .node('a', 'src', { x: 0, y: 0 })
    .node('b', 'add', { x: 200, y: 100, frame: 'bay' })
    .node('c', 'add', { x: 400, y: 0, frame: 'cove' })
    .node('d', 'add', { x: 700, y: 0 })
    .wire('a.out', 'c.b')
    .wire('a.out', 'b.a')
    .wire('b.out', 'c.a')
    .wire('c.out', 'd.a')
    .wire('c.out', 'd.b');

const foldAll = (doc: Doc, folded: (id: string) => boolean): Doc => ({
  ...doc,
  frames: new Map(
    [...doc.frames].map(([id, { folded: _, ...frame }]) => [
      id,
      { ...frame, ...(folded(id) && { folded: true as const }) },
    ]),
  ),
});

describe('a folded frame', () => {
  it('is one block at the corner of the frame, with a port for each end of a wire that crosses its edge, in the order in which they lie', async () => {
    const { doc } = await act('fold', bay().doc, ['bay']);
    const view = foldedView(doc, testKinds);
    const block = view.nodes.get('bay')!;
    expect(block).toMatchObject({ kind: builtin.fold, label: 'Bay', name: '2 nodes', x: 200 - framePad.left });
    expect(block.ports.map((port) => `${port.direction} ${port.name} ${port.type}`)).toEqual([
      'out c num',
      'in c num',
      'in b num',
    ]);
    expect([...view.nodes.keys()].sort()).toEqual(['a', 'bay', 'd']);
    expect([...view.frames.keys()]).toEqual([]);
    // the wire inside is left out; the two that leave one output share a port
    expect([...view.wires.keys()].sort()).toEqual(['a.out>b.a', 'a.out>c.b', 'c.out>d.a', 'c.out>d.b']);
    const wire = view.wires.get('c.out>d.b')!;
    expect(realPort(block, wire.from.port)).toEqual({ node: 'c', port: 'out' });
    expect(realPort(view.nodes.get('a')!, 'out')).toEqual({ node: 'a', port: 'out' });
    expect(foldAround(doc, doc.nodes.get('c')!)?.id).toBe('bay');
    // the same object as long as the document is the same, and the document itself where nothing is folded
    expect(foldedView(doc, testKinds)).toBe(view);
    expect(foldedView(bay().doc, testKinds).frames.size).toBe(2);
  });

  it('is moved, aligned and arranged as one, with all that it holds', async () => {
    const { doc } = await act('fold', bay().doc, ['bay']);
    const moved = await act('move', doc, ['bay'], { dx: 10, dy: 20 });
    expect([moved.doc.nodes.get('b')!.x, moved.doc.nodes.get('c')!.y]).toEqual([210, 20]);
    const aligned = await act('align-left', doc, ['a', 'bay']);
    // both go by as much, so that the picture inside is the same
    const by = aligned.doc.nodes.get('b')!.x - 200;
    expect(by).toBe(framePad.left - 200);
    expect([aligned.doc.nodes.get('c')!.x, aligned.doc.nodes.get('b')!.y]).toEqual([400 + by, 100]);
    expect(foldedView(aligned.doc, testKinds).nodes.get('bay')!.x).toBe(0);
    // who selects what is inside means the block
    const inside = await act('align-left', doc, ['a', 'b', 'c']);
    expect(inside.doc.nodes.get('c')!.x).toBe(400 + by);
    const pinned = await act('pin', doc, ['bay']);
    expect([pinned.doc.nodes.get('b')!.pinned, pinned.doc.nodes.get('c')!.pinned]).toEqual([true, true]);
  });

  it('says where there is nothing to fold', async () => {
    await expect(act('fold', sketchDoc().frame('f').doc, ['f'])).rejects.toThrow('is empty: there is nothing to fold');
    await expect(act('unfold', bay().doc, ['bay'])).rejects.toThrow('It is not folded.');
    await expect(act('fold', bay().doc, ['a'])).rejects.toThrow('Select a frame first');
  });

  it('holds in any document: no wire ends at what is hidden, every end has its port, and unfolding gives the same picture', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 0, max: 24 }), (seed, size) => {
        const random = seededRandom(seed);
        const doc = docFromSeed(seed, size);
        const folded = foldAll(doc, () => random() < 0.6);
        const view = foldedView(folded, testKinds);
        for (const wire of view.wires.values()) {
          for (const [ref, direction] of [
            [wire.from, 'out'],
            [wire.to, 'in'],
          ] as const) {
            const node = view.nodes.get(ref.node)!;
            expect(node.ports.some((port) => port.id === ref.port && port.direction === direction)).toBe(true);
          }
          const real = doc.wires.get(wire.id)!;
          expect([
            realPort(view.nodes.get(wire.from.node)!, wire.from.port),
            realPort(view.nodes.get(wire.to.node)!, wire.to.port),
          ]).toEqual([real.from, real.to]);
        }
        // what is not drawn lies wholly in one folded frame
        for (const wire of doc.wires.values()) {
          if (view.wires.has(wire.id)) continue;
          const [a, b] = [
            foldAround(folded, doc.nodes.get(wire.from.node)!),
            foldAround(folded, doc.nodes.get(wire.to.node)!),
          ];
          expect(a).toBeDefined();
          expect(a).toBe(b);
        }
        const listed = indexOf(view).nodesIn('root');
        expect(new Set(listed)).toEqual(new Set([...view.nodes.values()].filter((node) => node.graph === 'root')));
        const open = foldedView(
          foldAll(folded, () => false),
          testKinds,
        );
        expect(open.nodes).toBe(doc.nodes);
        const unfolded = foldAll(folded, () => false);
        expect([...frameRects(unfolded, testKinds, 'root')]).toEqual([...frameRects(doc, testKinds, 'root')]);
        expect([...routeWires(view, testKinds, 'root').keys()].every((id) => view.wires.has(id))).toBe(true);
        expect(measureDoc(folded, testKinds).nodes).toBe(view.nodes.size);
      }),
      { numRuns: 120 },
    );
  });

  it('keeps the picture inside, whatever is done to places while it is folded', async () => {
    const acts = ['arrange', 'align-left', 'unstack', 'spread', 'mirror-x', 'settle', 'snap'];
    await fc.assert(
      fc.asyncProperty(
        fc.integer({ min: 0, max: 1_000_000 }),
        fc.integer({ min: 2, max: 18 }),
        fc.constantFrom(...acts),
        async (seed, size, act) => {
          const random = seededRandom(seed);
          const doc = foldAll(docFromSeed(seed, size), () => random() < 0.7);
          const options = act === 'spread' ? { x: 1.5, y: 1.5 } : {};
          const items = [...foldedView(doc, testKinds).nodes.values()]
            .filter((node) => node.graph === 'root')
            .map((node) => node.id);
          let after: Doc;
          try {
            after = apply(
              doc,
              (await runOperation(act, createContext(testKinds, 1), doc, { graph: 'root', items }, options)).edit,
            );
          } catch (error) {
            if (error instanceof Refused) return;
            throw error;
          }
          for (const frame of doc.frames.values()) {
            if (!frame.folded || foldAround(doc, frame)) continue;
            const held = nodesWithin(doc, frame.id);
            const by = held.map(
              (node) =>
                `${Math.round((after.nodes.get(node.id)!.x - node.x) * 100)} ${Math.round((after.nodes.get(node.id)!.y - node.y) * 100)}`,
            );
            expect(new Set(by).size).toBeLessThanOrEqual(1);
            for (const node of held) expect(after.nodes.get(node.id)!.frame).toBe(node.frame);
          }
          expect(plainDoc({ ...after, nodes: new Map() })).toEqual(
            plainDoc({ ...doc, nodes: new Map(), frames: after.frames, notes: after.notes }),
          );
        },
      ),
      { numRuns: 100 },
    );
  }, 60_000);
});
