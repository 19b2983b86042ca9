import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { operate } from '../operations.ts';
import { Refused } from '../said.ts';
import { copyText } from '../structure/clipboard.ts';
import { act } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { denseArbitrary } from '../tests/dense.ts';
import { computes, sourceOf } from '../tests/naive.ts';
import { effectiveWiring } from './effective.ts';

const feedPorts = {
  ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' as const }],
  params: { types: 'num' },
};

/** A lamp feeds two renders over a standing feed; one of them stands beside it. */
const rig = () =>
  sketchDoc()
    .node('s', 'src', { name: 'Lamp' })
    .node('f', builtin.feed, { name: 'Light', ...feedPorts })
    .node('x', 'tint', { name: 'Kelp' })
    .node('y', 'tint', { name: 'Coral', x: 900 })
    .wire('s.out', 'f.in');
const supplied = (doc: Doc, feed = 'f'): string[] =>
  effectiveWiring(doc, testKinds)
    .suppliedBy(feed)
    .map(({ node }) => node);

describe('what feeds supply when they or what they supply go elsewhere', () => {
  it('stays when the feed is framed, and the new frame can be said to be enough', async () => {
    const kept = await act('frame', rig().doc, ['s', 'f', 'x'], { title: 'Night rig' });
    expect(supplied(kept.doc)).toEqual(['x', 'y']);
    const [told] = kept.report.findings.filter((item) => item.rule === 'feed-kept');
    expect(told!.message).toBe(
      '“Light” stands in “Night rig” and still supplies “Main”: 2 inputs, 1 of them outside “Night rig”, at “Coral”.',
    );
    const narrowed = await act(told!.fix!.operation, kept.doc, [...told!.fix!.selection], told!.fix!.options);
    expect(supplied(narrowed.doc)).toEqual(['x']);
    expect(narrowed.report.summary).toContain('1 input has lost its number: “Coral”.');
    expect(supplied((await act('frame', rig().doc, ['s', 'f', 'x'], { supply: 'let go' })).doc)).toEqual(['x']);
  });

  it('stays when the feed is nested, and when it is put back', async () => {
    const nested = await act('nest', rig().doc, ['s', 'f']);
    expect(supplied(nested.doc)).toEqual(['x', 'y']);
    const host = nested.fresh.find((node) => node.inner !== undefined)!;
    expect(supplied((await act('unnest', nested.doc, [host.id])).doc)).toEqual(['x', 'y']);
  });

  it('is wired to what moves out of reach, over the borders between', async () => {
    const { doc } = rig()
      .graph('g', { name: 'Reef' })
      .frame('bay')
      .node('h', builtin.nested, { inner: 'g', ports: [] })
      .node('f2', builtin.feed, { name: 'Moonlight', ...feedPorts, frame: 'bay' })
      .node('m', 'src', { name: 'Moon' })
      .node('z', 'tint', { name: 'Weed', frame: 'bay' })
      .wire('m.out', 'f2.in');
    expect(supplied(doc, 'f2')).toEqual(['z']);
    const left = await act('leave-frame', doc, ['z']);
    expect(effectiveWiring(left.doc, testKinds).source('z', 'amount')).toMatchObject({ node: 'm' });
    expect(left.report.findings.map((item) => item.message)).toContain(
      '1 input that a feed supplied is wired now: “amount of Weed”.',
    );
    const away = await act('to-graph', doc, ['z'], { graph: 'g' });
    expect(effectiveWiring(away.doc, testKinds).source('z', 'amount')).toMatchObject({ node: 'm' });
  });

  it('is not broken by a copy of the feed beside it', async () => {
    const copied = await act('duplicate', rig().doc, ['f'], { incoming: true });
    expect(supplied(copied.doc)).toEqual(['x', 'y']);
    expect(copied.fresh[0]).toMatchObject({ bypassed: true });
    const text = copyText(rig().doc, testKinds, { graph: 'root', items: ['s', 'f'] });
    expect(supplied((await act('paste', rig().doc, [], { text })).doc)).toEqual(['x', 'y']);
    // who wants both to clash may have that, and is told
    const both = await act('duplicate', rig().doc, ['f'], { supply: 'let go' });
    expect(both.report.summary).toContain('2 inputs have lost their number: “Coral” and “Kelp”.');
  });

  it('is wired where the feed itself is deleted and that is wanted', async () => {
    const gone = await act('delete', rig().doc, ['f']);
    expect(gone.report.summary).toContain('2 inputs have lost their number');
    const kept = await act('delete', rig().doc, ['f'], { supply: 'keep' });
    expect([...indexOf(kept.doc).wiresFrom('s')].map((wire) => wire.to.node).sort()).toEqual(['x', 'y']);
  });

  it('goes up to the frame around with the frame that it covers', async () => {
    const { doc } = rig().frame('bay').frame('nook', { parent: 'bay' }).node('z', 'tint', { frame: 'bay' });
    const inside = {
      ...doc,
      nodes: new Map(doc.nodes).set('f', { ...doc.nodes.get('f')!, frame: 'nook', covers: 'bay' }),
    };
    expect(supplied(inside)).toEqual(['z']);
    expect(supplied((await act('delete', inside, ['bay'])).doc)).toEqual(['x', 'y', 'z']);
  });

  it('never changes by an act that keeps it, whatever the document', () => {
    fc.assert(
      fc.property(denseArbitrary(10), fc.nat(), fc.nat(), (doc, pick, more) => {
        const ids = [...doc.nodes.values()].filter(({ graph }) => graph === 'root').map(({ id }) => id);
        const items = [...new Set([ids[pick % ids.length]!, ids[more % ids.length]!])];
        const frames = [...doc.frames.keys()];
        const [id, options] = (
          [
            ['frame', {}],
            ['nest', {}],
            ['leave-frame', {}],
            ['to-frame', { frame: frames[more % Math.max(1, frames.length)] ?? '' }],
            ['duplicate', {}],
            ['to-graph', { graph: 'g1' }],
          ] as const
        )[(pick + more) % 6]!;
        let after: Doc;
        try {
          after = apply(doc, operate(id, createContext(testKinds, 1), doc, { graph: 'root', items }, options).edit);
        } catch (error) {
          if (error instanceof Refused) return;
          throw error;
        }
        // over a bypassed nested graph no wire leads
        if ([...after.nodes.values()].some((node) => node.inner !== undefined && node.bypassed)) return;
        const wiring = effectiveWiring(doc, testKinds);
        for (const node of doc.nodes.values())
          for (const port of node.ports) {
            if (port.direction !== 'in' || wiring.feedOf(node.id, port.id) === undefined) continue;
            const at = { node: node.id, port: port.id };
            expect(computes(doc, node)).toBe(true);
            expect(sourceOf(after, testKinds, at)).toEqual(sourceOf(doc, testKinds, at));
          }
      }),
      { numRuns: 300 },
    );
  });
});
