import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { indexOf } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import { problems } from '../document/validate.ts';
import { apply, invert } from '../edit/step.ts';
import { compareFingerprints, fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { act, into } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';

// a feeds b and c; b and c go into d twice over; e is fed by d
const chain = () =>
  sketchDoc()
    .node('a', 'src', { x: 0, y: 0, name: 'Tide' })
    .node('b', 'add', { x: 200, y: 0 })
    .node('c', 'add', { x: 200, y: 200 })
    .node('d', 'add', { x: 400, y: 0 })
    .node('e', 'add', { x: 600, y: 0 })
    .wire('a.out', 'b.a')
    .wire('a.out', 'c.b')
    .wire('b.out', 'd.a')
    .wire('c.out', 'd.b', { off: true })
    .wire('d.out', 'e.a')
    .wire('b.out', 'e.b');

describe('nesting', () => {
  it('makes one port for each output that goes in or comes out, in the order in which they lie', async () => {
    const { doc, report } = await act('nest', chain().doc, ['b', 'c'], { name: 'Swell' });
    const host = doc.nodes.get(report.select![0]!)!;
    expect(host).toMatchObject({ kind: builtin.nested, name: 'Swell' });
    // one source goes in, b comes out above c; b's two wires share a port
    expect(host.ports.map((port) => `${port.direction} ${port.name}`)).toEqual(['in Tide', 'out b_out', 'out c_out']);
    const [, bOut, cOut] = host.ports;
    expect([into(doc, 'd.a'), into(doc, 'd.b'), into(doc, 'e.b')]).toEqual([
      `${host.id}.${bOut!.id}`,
      `${host.id}.${cOut!.id} off`,
      `${host.id}.${bOut!.id}`,
    ]);
    expect(into(doc, `${host.id}.${host.ports[0]!.id}`)).toBe('a.out');
    expect(into(doc, 'b.a')).toBe(`${host.ports[0]!.id}.out`);
    expect(report.summary).toBe('Nested 2 nodes as “Swell”, with 1 input and 2 outputs.');
  });

  it('takes frames that are whole inside, and puts each member back into the frame that it came from', async () => {
    const { doc: before } = chain().frame('bay').frame('cove', { parent: 'bay' });
    const framed = {
      ...before,
      nodes: new Map(
        [...before.nodes].map(([id, node]) => [
          id,
          id === 'b' ? { ...node, frame: 'cove' } : id === 'c' ? { ...node, frame: 'bay' } : node,
        ]),
      ),
    };
    const { doc, report } = await act('nest', framed, ['cove', 'c', 'd']);
    expect(doc.frames.get('cove')).toMatchObject({ graph: doc.nodes.get('b')!.graph, outerFrame: 'bay' });
    expect([doc.nodes.get('b')!.frame, doc.nodes.get('c')!.frame, doc.nodes.get('c')!.outerFrame]).toEqual([
      'cove',
      undefined,
      'bay',
    ]);
    const back = await act('unnest', doc, report.select!);
    expect(plainDoc(back.doc)).toEqual(plainDoc(framed));
  });

  it('follows the node that holds it when it is moved, and numbers names that were taken meanwhile', async () => {
    const { doc, report } = await act('nest', chain().doc, ['b', 'c']);
    const [host] = report.select!;
    const moved = (await act('move', doc, [host!], { dx: 30, dy: -40 })).doc;
    const other = {
      ...moved,
      nodes: new Map([...moved.nodes, ['x', { ...moved.nodes.get('d')!, id: 'x', name: 'b', ports: [] }]]),
    };
    const back = await act('unnest', other, [host!]);
    expect(back.doc.nodes.get('b')).toMatchObject({ x: 230, y: -40, name: 'b2' });
    expect(back.report.findings.map((item) => item.rule)).toEqual(['name-numbered']);
  });

  it('says what it cannot do', async () => {
    const { doc, report } = await act('nest', chain().doc, ['b']);
    const [host] = report.select!;
    const port = doc.nodes.get(host!)!.ports[0]!.id;
    const inner = doc.nodes.get('b')!.graph;
    const inside = runOperation('nest', createContext(testKinds, 1), doc, { graph: inner, items: [port] });
    await expect(inside).rejects.toThrow('is a port of its graph and stays with it');
    await expect(act('unnest', doc, ['d'])).rejects.toThrow('Select one nested graph.');
    const bypassed = (await act('bypass', doc, [host!])).doc;
    await expect(act('unnest', bypassed, [host!])).rejects.toThrow('is bypassed: switch it on first');
  });

  it('moves a port in its row, wires with it, and changes nothing else', async () => {
    const { doc, report } = await act('nest', chain().doc, ['b', 'c', 'd']);
    const [host] = report.select!;
    const names = (at: typeof doc): string[] => at.nodes.get(host!)!.ports.map((port) => port.name);
    expect(names(doc)).toEqual(['Tide', 'b_out', 'd_out']);
    const out = doc.nodes.get(host!)!.ports[2]!.id;
    const after = await act('port-place', doc, [host!], { port: out, by: -5 });
    expect(names(after.doc)).toEqual(['Tide', 'd_out', 'b_out']);
    expect(after.report.summary).toBe('“d_out” is output 1 of 2 now.');
    expect(fingerprint(after.doc, testKinds)).toEqual(fingerprint(doc, testKinds));
    await expect(act('port-place', doc, [host!], { port: 'nothing', by: 1 })).rejects.toThrow('has no port “nothing”');
  });

  it('changes nothing of what is computed, is undone exactly, and unnesting gives back exactly what was there', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 1, max: 24 }), async (seed, size) => {
        const random = seededRandom(seed);
        const doc = docFromSeed(seed, size, { acyclic: seed % 2 === 0 });
        const items = [...indexOf(doc).nodesIn('root'), ...indexOf(doc).framesIn('root')]
          .map((item) => item.id)
          .filter(() => random() < 0.4);
        let outcome: Awaited<ReturnType<typeof runOperation>>;
        try {
          outcome = await runOperation(
            'nest',
            createContext(testKinds, 7),
            doc,
            { graph: 'root', items },
            { name: 'Kelp' },
          );
        } catch (error) {
          if (error instanceof Refused) return;
          throw error;
        }
        const after = apply(doc, outcome.edit);
        expect(problems(after)).toEqual([]);
        expect(plainDoc(apply(after, invert(outcome.edit)))).toEqual(plainDoc(doc));
        expect(compareFingerprints(fingerprint(doc, testKinds), fingerprint(after, testKinds))).toBe('same');
        const back = await runOperation('unnest', createContext(testKinds, 8), after, {
          graph: 'root',
          items: outcome.report.select!,
        });
        expect(back.report.findings).toEqual([]);
        expect(plainDoc(apply(after, back.edit))).toEqual(plainDoc(doc));
      }),
      { numRuns: 200 },
    );
  }, 60_000);

  it('calls ports by what they carry, and for or from whom where several carry the same; others can be said', async () => {
    const { doc } = sketchDoc()
      .node('s', 'src', { name: 'Lamp' })
      .node('a', 'tint', { name: 'Kelp', label: 'Kelp bed' })
      .node('b', 'tint', { name: 'Coral', y: 100 })
      .node('w', 'wind', { y: 200 })
      .node('e', 'end', { x: 400 })
      .wire('s.out', 'a.amount')
      .wire('s.out', 'w.speed')
      .wire('a.out', 'b.base')
      .wire('b.out', 'e.in');
    const ports = async (options = {}) => {
      const { fresh } = await act('nest', doc, ['a', 'b', 'w'], options);
      return fresh.find((node) => node.inner !== undefined)!.ports.map(({ direction, name }) => `${direction} ${name}`);
    };
    // one output that goes to two inputs comes in once, after the one that gives it; “out” alone says nothing
    expect(await ports()).toEqual(['in Lamp', 'out Coral_out']);
    expect(await ports({ ports: [{ direction: 'in', row: 0, name: 'light' }] })).toEqual(['in light', 'out Coral_out']);
    await expect(ports({ ports: [{ direction: 'in', row: 0, name: 'no name' }] })).rejects.toThrow();
    const two = sketchDoc(doc).node('t', 'src', { name: 'Moon', y: 300 }).wire('t.out', 'b.amount');
    const apart = { ...two.doc, wires: new Map([...two.doc.wires].filter(([id]) => id !== 's.out>w.speed')) };
    const { fresh } = await act('nest', apart, ['a', 'b']);
    expect(fresh.find((node) => node.inner !== undefined)!.ports.map(({ name }) => name)).toEqual([
      'amount_Kelp_bed',
      'amount_Coral',
      'Coral_out',
    ]);
  });

  it('gives the new node a port, too, for what a standing feed cannot reach any more', async () => {
    const { doc } = sketchDoc()
      .frame('bay')
      .node('s', 'src', { frame: 'bay' })
      .node('f', builtin.feed, { frame: 'bay', params: { types: ['num'] } })
      .node('k', 'tint', { frame: 'bay', x: 200 })
      .node('o', 'src', { x: 200, y: 300 })
      .wire('s.out', 'f.in');
    // `act` refuses what could not be stored
    const { fresh, doc: after } = await act('nest', doc, ['k', 'o']);
    const host = fresh.find((node) => node.inner !== undefined)!;
    expect(host.ports.map(({ direction }) => direction)).toEqual(['in']);
    expect(into(after, `${host.id}.${host.ports[0]!.id}`)).toBe('s.out');
  });
});
