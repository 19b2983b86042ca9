import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { overlaps, portPoint, rectOf } from '../document/geometry.ts';
import { act, into, ref } from '../tests/acts.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { bridges } from '../wiring/convert.ts';
import { fittingKinds } from '../wiring/fitting.ts';

describe('add, insert, pull out', () => {
  const row = () =>
    sketchDoc()
      .node('s', 'src')
      .node('e', 'round', { x: 400 })
      .node('f', 'round', { x: 420, y: 200 })
      .wire('s.out', 'e.in')
      .wire('s.out', 'f.in');

  it('goes in line behind an output, so that all its consumers take from it, straight and in free room', async () => {
    const { doc, fresh, report } = await act('add-node', row().doc, ['s'], { kind: 'add' });
    const [node] = fresh;
    expect([into(doc, `${node!.id}.b`), into(doc, 'e.in'), into(doc, 'f.in')]).toEqual([
      's.out',
      `${node!.id}.out`,
      `${node!.id}.out`,
    ]);
    expect(report.select).toEqual([node!.id]);
    const [out, inp] = [
      portPoint(doc, testKinds, doc.nodes.get('s')!, 'out', 'out')!,
      portPoint(doc, testKinds, node!, 'b', 'in')!,
    ];
    expect(inp.y).toBeCloseTo(out.y, 0);
    const rects = [...doc.nodes.values()].map((one) => rectOf(doc, testKinds, one));
    expect(rects.some((a, i) => rects.slice(i + 1).some((b) => overlaps(a, b)))).toBe(false);
  });

  it('pushes what is in the way along the flow, and nothing else', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('e', 'round', { x: 150 })
      .node('far', 'src', { x: 0, y: 900 })
      .wire('s.out', 'e.in');
    const { doc } = await act('add-node', pad.doc, ['s.out>e.in'], { kind: 'add' });
    expect(doc.nodes.get('e')!.x).toBeGreaterThan(150);
    expect([doc.nodes.get('s')!.x, doc.nodes.get('far')!.x]).toEqual([0, 0]);
    expect((await act('add-node', pad.doc, ['s.out>e.in'], { kind: 'add', room: false })).doc.nodes.get('e')!.x).toBe(
      150,
    );
  });

  it('goes alongside as a branch, from the output that is chosen, and says where it cannot', async () => {
    const { doc, fresh } = await act('add-node', row().doc, ['s'], { kind: 'round', where: 'alongside' });
    expect([into(doc, `${fresh[0]!.id}.in`), into(doc, 'e.in')]).toEqual(['s.out', 's.out']);
    await expect(act('add-node', row().doc, ['s'], { kind: 'round' })).rejects.toThrow('It can stand alongside.');
    await expect(act('add-node', row().doc, ['s'], { kind: 'src' })).rejects.toThrow('takes nothing that “s” gives');
    await expect(act('add-node', row().doc, ['s'], { kind: 'add', output: 'nope' })).rejects.toThrow('no output nope');
    await expect(act('add-node', row().doc, [], { kind: 'nonesuch' })).rejects.toThrow('has no kind “nonesuch”');
    await expect(act('add-node', row().doc, [], { kind: 'src', params: { value: 900 } })).rejects.toThrow(
      'from 0 to 100',
    );
  });

  it('hangs on an open end, either way, and stands by itself with its parameters', async () => {
    const behind = await act('add-node', row().doc, [], { kind: 'tint', from: ref('s.out'), x: 10, y: 500 });
    expect(into(behind.doc, `${behind.fresh[0]!.id}.amount`)).toBe('s.out');
    const before = await act('add-node', row().doc, [], { kind: 'measure', to: ref('e.in') });
    expect(into(before.doc, 'e.in')).toBe(`${before.fresh[0]!.id}.out`);
    const alone = await act('add-node', row().doc, ['s'], {
      kind: 'src',
      where: 'by itself',
      x: 5,
      y: 7,
      params: { value: 3 },
    });
    expect(alone.fresh[0]).toMatchObject({ x: 5, y: 7, params: { value: 3 }, name: 'Source' });
    await expect(act('add-node', row().doc, [], { kind: 'end', to: ref('e.in') })).rejects.toThrow('no port that fits');
  });

  it('lists the kinds that fit, the best first, a reroute point last', () => {
    const ids = (type: string, direction: 'in' | 'out') =>
      fittingKinds(testKinds, { type, name: 'value' }, direction).map(({ kind }) => kind.id);
    expect(ids('vec', 'out')).toEqual(['bend', 'measure', builtin.reroute]);
    expect(ids('int', 'in')).toEqual(['round', 'shade', builtin.reroute]);
    expect(ids('num', 'out').indexOf('end')).toBeGreaterThan(ids('num', 'out').indexOf('add'));
  });

  it('is put into a wire by the input that passes, and refuses what would not come out again', async () => {
    const pad = row().node('n', 'add').node('m', 'add').wire('s.out', 'm.b');
    const { doc } = await act('insert', pad.doc, ['n'], { wire: 's.out>e.in' });
    expect([into(doc, 'n.b'), into(doc, 'e.in'), into(doc, 'f.in')]).toEqual(['s.out', 'n.out', 's.out']);
    expect(into((await act('insert', pad.doc, ['n', 's.out>e.in'])).doc, 'e.in')).toBe('n.out');
    await expect(act('insert', pad.doc, ['m'], { wire: 's.out>e.in' })).rejects.toThrow('is wired at “b” already');
    await expect(act('insert', pad.doc, ['e'], { wire: 's.out>f.in' })).rejects.toThrow('passes nothing on');
    await expect(act('insert', pad.doc, ['n'])).rejects.toThrow('the wire that it is to stand in');
  });

  it('is pulled out with healing; wires among what is pulled stay, and losses are listed', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('a', 'add')
      .node('b', 'add')
      .node('e', 'round')
      .wire('s.out', 'a.b')
      .wire('a.out', 'b.b')
      .wire('b.out', 'e.in');
    const { doc } = await act('pull-out', pad.doc, ['a', 'b'], { dx: 5 });
    expect([into(doc, 'e.in'), into(doc, 'b.b'), into(doc, 'a.b'), doc.nodes.get('a')!.x]).toEqual([
      's.out',
      'a.out',
      undefined,
      5,
    ]);
    const lossy = await act('pull-out', pad.doc, ['e', 's']);
    expect(lossy.report.findings.map((item) => item.message)).toEqual([
      'Input “b” of “a” is open now: it took “s”.',
      'Input “in” of “e” is open now: it took “b”.',
    ]);
    await expect(act('pull-out', sketchDoc().node('x', 'src').doc, ['x'])).rejects.toThrow('no wires to others');
  });
});

describe('conversions', () => {
  it('offers components first, then the kinds of the catalogue, and nothing where it fits', () => {
    const { doc } = sketchDoc().node('w', 'wind').node('a', 'add').node('s', 'src').node('b', 'bend').node('t', 'tint');
    const ways = (from: string, to: string) => bridges(doc, testKinds, ref(from), ref(to)).map((way) => way.id);
    expect(ways('w.out', 'a.a')).toEqual(['part:x', 'part:y', 'kind:measure']);
    expect(ways('s.out', 'b.dir')).toEqual(['into:x', 'into:y']);
    expect(ways('s.out', 'a.a')).toEqual([]);
    expect(ways('t.out', 'a.a')).toEqual([]);
  });

  it('puts the converting node between, with the other wires that it needs from what stands around', async () => {
    const pad = sketchDoc()
      .node('w', 'wind')
      .node('s', 'src')
      .node('b', 'bend')
      .node('a', 'add', { x: 600 })
      .wire('w.out', 'b.dir')
      .wire('s.out', 'b.amount');
    const { doc, fresh, report } = await act('connect-converted', pad.doc, [], {
      from: ref('b.out'),
      to: ref('a.a'),
      way: 'kind:measure',
    });
    const [node] = fresh;
    expect(node!.kind).toBe('measure');
    expect([into(doc, 'a.a'), into(doc, `${node!.id}.vector`), into(doc, `${node!.id}.scale`)]).toEqual([
      `${node!.id}.out`,
      'b.out',
      's.out',
    ]);
    expect(report.findings.map((item) => item.message)).toEqual(['“scale” of “Measure” takes “out” of “s”.']);
    const part = await act('connect-converted', pad.doc, [], { from: ref('b.out'), to: ref('a.a'), way: 'part:y' });
    expect(into(part.doc, 'a.a')).toBe('b.out.y');
    const bare = sketchDoc().node('w', 'wind').node('a', 'add');
    expect(
      (await act('connect-converted', bare.doc, [], { from: ref('w.out'), to: ref('a.a'), way: 'kind:measure' })).report
        .findings[0]!.message,
    ).toContain('stays open');
    await expect(
      act('connect-converted', bare.doc, [], { from: ref('w.out'), to: ref('w.speed'), way: 'kind:nope' }),
    ).rejects.toThrow('There is no way “kind:nope”');
    await expect(
      act('connect-converted', sketchDoc().node('s', 'src').node('a', 'add').doc, [], {
        from: ref('s.out'),
        to: ref('a.a'),
      }),
    ).rejects.toThrow('fit as they are');
  });
});
