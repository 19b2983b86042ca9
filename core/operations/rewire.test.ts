import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { rectOf } from '../document/geometry.ts';
import { Kinds } from '../document/kinds.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { act, into, portIds, ref } from '../tests/acts.ts';
import { plainDoc, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { rerouteLabel } from '../wiring/reroute.ts';

describe('rewire', () => {
  it('swaps the first two inputs that take the same, or any two, and says why not', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('t', 'src')
      .node('m', 'add')
      .node('c', 'tint')
      .wire('s.out', 'm.a')
      .wire('t.out', 'm.b')
      .wire('s.out', 'c.amount');
    const { doc } = await act('swap-inputs', pad.doc, ['m']);
    expect([into(doc, 'm.a'), into(doc, 'm.b')]).toEqual(['t.out', 's.out']);
    const named = (await act('swap-inputs', pad.doc, ['c'], { a: 'amount', b: 'base' })).doc;
    expect([into(named, 'c.amount'), into(named, 'c.base')]).toEqual([undefined, 's.out']);
    await expect(act('swap-inputs', pad.doc, ['c'])).rejects.toThrow('no two inputs that take the same');
    await expect(act('swap-inputs', pad.doc, ['s'])).rejects.toThrow('no two inputs');
    await expect(act('swap-inputs', pad.doc, ['m'], { a: 'zzz' })).rejects.toThrow('no input zzz');
  });

  it('replaces the kind with what fits by id, name, type, then order, and lists the rest by name', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('t', 'src')
      .node('m', 'add', { params: { gain: 2 } })
      .node('e', 'round')
      .wire('s.out', 'm.a')
      .wire('t.out', 'm.b')
      .wire('m.out', 'e.in');
    const sum = await act('replace-kind', pad.doc, ['m'], { kind: 'sum' });
    expect([into(sum.doc, 'm.in1'), into(sum.doc, 'm.in2'), into(sum.doc, 'e.in')]).toEqual([
      's.out',
      't.out',
      'm.out',
    ]);
    expect(portIds(sum.doc.nodes.get('m'))).toEqual(['in1', 'in2', 'in3', 'out']);
    expect(sum.report.findings.map((item) => item.message)).toEqual(['“gain” of “m”, 2, could not be kept.']);
    const tint = await act('replace-kind', pad.doc, ['m'], { kind: 'tint' });
    expect([into(tint.doc, 'm.amount'), into(tint.doc, 'm.base'), into(tint.doc, 'e.in')]).toEqual([
      's.out',
      't.out',
      undefined,
    ]);
    expect(tint.report.findings.map((item) => item.message)).toContain(
      'The wire from “out” of “m” to “in” of “e” could not be kept.',
    );
    await expect(act('replace-kind', pad.doc, ['m'], { kind: builtin.tap })).rejects.toThrow('cannot become a tap');
    await expect(act('replace-kind', pad.doc, ['m'], { kind: 'zzz' })).rejects.toThrow('has no kind “zzz”');
    const used = sketchDoc()
      .node('s', 'src', { params: { value: 4 } })
      .node('x', 'src', { params: { value: { expression: [{ node: 's', parameter: 'value' }] } } });
    expect(
      (await act('replace-kind', used.doc, ['s'], { kind: 'add' })).report.findings.map((item) => item.rule),
    ).toEqual(['parameter-lost', 'reference-lost']);
  });

  it('re-sources all consumers, or those selected between, and leaves what does not fit with its reason', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('n', 'round')
      .node('a', 'add')
      .node('b', 'tint')
      .node('t', 'src')
      .wire('s.out', 'a.a')
      .wire('s.out', 'b.base')
      .wire('s.out', 'n.in');
    const all = await act('re-source', pad.doc, ['s', 't']);
    expect([into(all.doc, 'a.a'), into(all.doc, 'b.base'), into(all.doc, 'n.in')]).toEqual(['t.out', 't.out', 't.out']);
    const some = await act('re-source', pad.doc, ['s', 'a', 't']);
    expect([into(some.doc, 'a.a'), into(some.doc, 'b.base')]).toEqual(['t.out', 's.out']);
    // behind its own old source it goes on taking from it
    const behind = await act('re-source', pad.doc, [], { from: ref('s.out'), to: ref('n.out') });
    expect([into(behind.doc, 'n.in'), into(behind.doc, 'a.a')]).toEqual(['s.out', 's.out']);
    expect(behind.report.findings.map((item) => item.message)[0]).toMatch(/still takes from “s”: “.*” takes/);
    await expect(act('re-source', pad.doc, ['s'])).rejects.toThrow('Select the node that is taken from');
    await expect(act('re-source', pad.doc, ['t', 's'])).rejects.toThrow('Nothing takes from “t”');
  });

  it('cuts and switches wires of a selection: the wires, else those between, else those that come in', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('a', 'add')
      .node('b', 'add')
      .wire('s.out', 'a.a')
      .wire('a.out', 'b.a')
      .wire('s.out', 'b.b');
    expect([...(await act('cut-wires', pad.doc, ['s.out>b.b'])).doc.wires.keys()]).toEqual(['s.out>a.a', 'a.out>b.a']);
    expect([...(await act('cut-wires', pad.doc, ['a', 'b'])).doc.wires.keys()]).toEqual(['s.out>a.a', 's.out>b.b']);
    expect([...(await act('cut-wires', pad.doc, ['b'])).doc.wires.keys()]).toEqual(['s.out>a.a']);
    const off = (await act('switch-wires', pad.doc, ['b'])).doc;
    expect(effectiveWiring(off, testKinds).source('b', 'a')).toBeUndefined();
    expect(plainDoc((await act('switch-wires', off, ['b'])).doc)).toEqual(plainDoc(pad.doc));
    await expect(act('cut-wires', pad.doc, ['s'])).rejects.toThrow('no wire here');
  });
});

describe('reroute points', () => {
  it('stand on wires and outputs, change nothing that is computed, and can be made larger around their middle', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('e', 'round', { x: 400 })
      .node('f', 'round', { x: 400, y: 200 })
      .wire('s.out', 'e.in')
      .wire('s.out', 'f.in');
    const one = await act('reroute', pad.doc, [], { at: [{ wire: 's.out>e.in', x: 200, y: 50 }] });
    expect(one.fresh.map(({ x, y }) => [x, y])).toEqual([[192, 42]]);
    expect(one.doc.wires.has('s.out>e.in')).toBe(true);
    const all = await act('reroute-outputs', pad.doc, ['s', 'e'], { which: 'all' });
    expect([all.fresh.length, into(all.doc, 'f.in')]).toEqual([2, into(all.doc, 'e.in')]);
    expect((await act('reroute-outputs', pad.doc, ['s', 'e'], { which: 'loose' })).fresh).toHaveLength(1);
    for (const { doc } of [one, all]) expect(fingerprint(doc, testKinds)).toEqual(fingerprint(pad.doc, testKinds));
    const big = (await act('reroute-size', one.doc, [], { size: 32 })).doc;
    expect(rectOf(big, testKinds, big.nodes.get(one.fresh[0]!.id)!)).toEqual({ x: 184, y: 34, width: 32, height: 32 });
    await expect(act('reroute-outputs', all.doc, ['s'], { which: 'wired' })).rejects.toThrow('without a reroute point');
  });

  it('take the label of the labelled one upstream', () => {
    const { doc } = sketchDoc()
      .node('s', 'src', { label: 'Moon' })
      .node('p', builtin.reroute, { label: 'Tide' })
      .node('q', builtin.reroute)
      .node('r', builtin.reroute)
      .wire('s.out', 'p.in')
      .wire('p.out', 'q.in')
      .wire('q.out', 'r.in');
    expect(['p', 'q', 'r'].map((id) => rerouteLabel(doc, doc.nodes.get(id)!))).toEqual([
      { text: 'Tide', isOwn: true },
      { text: 'Tide', isOwn: false },
      { text: 'Tide', isOwn: false },
    ]);
    expect(
      rerouteLabel(sketchDoc().node('x', builtin.reroute).doc, { ...doc.nodes.get('q')!, id: 'x' }),
    ).toBeUndefined();
  });
});

describe('clear out and share', () => {
  it('deletes what no end depends on, keeps what is switched off unless told otherwise, and wants an end', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('c', 'tint')
      .node('e', 'end')
      .node('idle', 'round')
      .node('x', 'src')
      .node('off', 'end', { bypassed: true })
      .node('y', 'tint')
      .wire('s.out', 'c.base')
      .wire('x.out', 'c.amount', { off: true })
      .wire('c.out', 'e.in')
      .wire('s.out', 'idle.in')
      .wire('y.out', 'off.in');
    expect([...(await act('clear-out', pad.doc, [])).doc.nodes.keys()]).toEqual(['s', 'c', 'e', 'x', 'off', 'y']);
    expect([...(await act('clear-out', pad.doc, [], { keepOff: false })).doc.nodes.keys()]).toEqual(['s', 'c', 'e']);
    await expect(act('clear-out', sketchDoc().node('s', 'src').doc, [])).rejects.toThrow('has no end');
  });

  it('makes a parameter a node that feeds all, by a wire where an input has its name, else by an expression; also as an output', async () => {
    const own = new Kinds({
      ...testCatalogue,
      kinds: [
        ...testCatalogue.kinds,
        {
          ...testCatalogue.kinds.find((kind) => kind.id === 'measure')!,
          id: 'dial',
          code: 'Di',
          parameters: [{ ...testCatalogue.kinds[0]!.parameters[0]!, id: 'scale', title: 'Scale' }],
        },
      ],
    });
    const make = (id: string, value: number) => ({ ports: own.startPorts('dial'), params: { scale: value }, name: id });
    const pad = sketchDoc()
      .node('a', 'dial', make('a', 5))
      .node('b', 'dial', make('b', 7))
      .node('r', 'src')
      .wire('r.out', 'b.scale');
    const { doc, fresh, report } = await act(
      'share-value',
      pad.doc,
      ['a', 'b'],
      { parameter: 'scale', expose: true },
      own,
    );
    const value = fresh.find((node) => node.kind === 'src')!;
    expect(value).toMatchObject({ label: 'Scale', params: { value: 5 } });
    expect(into(doc, 'a.scale')).toBe(`${value.id}.out`);
    expect(doc.nodes.get('b')?.params).toEqual({ scale: { expression: [{ node: value.id, parameter: 'value' }] } });
    expect(report.findings.map((item) => item.message)).toEqual(['“Scale” of “b” was 7 and is 5 now.']);
    const output = fresh.find((node) => node.kind === builtin.output)!;
    expect(into(doc, `${output.id}.in`)).toBe(`${value.id}.out`);
    await expect(act('share-value', pad.doc, ['r'], { parameter: 'nope' }, own)).rejects.toThrow('no parameter nope');
    await expect(
      act('share-value', sketchDoc().node('e', 'end').doc, ['e'], { parameter: 'note' }, own),
    ).rejects.toThrow('no kind that only gives a value');
  });
});
