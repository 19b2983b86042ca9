import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { act, into, portIds, ref, strictKinds } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { carriedType } from '../wiring/types.ts';

// What holds for all acts of wiring is in wiring/rewiring.test.ts.

describe('the pass rule, with components', () => {
  // node kind, what is wired into it, the output asked for, and what is passed: worked by hand from docs/semantics.md
  const io = (id: string, type: string, direction: 'in' | 'out', of?: string) => ({
    id,
    name: id,
    type,
    direction,
    ...(of && { of }),
  });
  it.each<[string, string, Partial<GraphNode>, Record<string, string>, string, string | undefined]>([
    [
      'the input that the kind names, though another stands first',
      'add',
      {},
      { a: 's.out', b: 't.out' },
      'out',
      't.out',
    ],
    ['the named input even where it is open and another is wired', 'add', {}, { a: 's.out' }, 'out', undefined],
    ['the first of exactly the type', 'tint', {}, { amount: 's.out', base: 'c.out' }, 'out', 'c.out'],
    [
      'the first of exactly the type, open, before an assignable one',
      'tint',
      {},
      { amount: 's.out' },
      'out',
      undefined,
    ],
    [
      'an assignable one where none is exact',
      'x',
      { ports: [io('a', 'num', 'in'), io('out', 'col', 'out')] },
      { a: 's.out' },
      'out',
      's.out',
    ],
    ['nothing where no input fits', 'round', {}, { in: 's.out' }, 'out', undefined],
    ['nothing from a source', 'src', {}, {}, 'out', undefined],
    ['the whole of a vector', 'bend', {}, { dir: 'w.out' }, 'out', 'w.out'],
    [
      'a component of what the whole input takes',
      'bend',
      { ports: [io('dir', 'vec', 'in'), io('out', 'vec', 'out'), io('out.y', 'num', 'out', 'out')] },
      { dir: 'w.out' },
      'out.y',
      'w.out.y',
    ],
    [
      'the component of the input where that is wired by itself',
      'bend',
      {
        ports: [
          io('dir', 'vec', 'in'),
          io('dir.y', 'num', 'in', 'dir'),
          io('out', 'vec', 'out'),
          io('out.y', 'num', 'out', 'out'),
        ],
      },
      { dir: 'w.out', 'dir.y': 's.out' },
      'out.y',
      's.out',
    ],
    [
      'no component for a whole, though it has the type',
      'x',
      { ports: [io('dir', 'vec', 'in'), io('dir.y', 'num', 'in', 'dir'), io('out', 'num', 'out')] },
      { 'dir.y': 's.out' },
      'out',
      undefined,
    ],
  ])('passes %s', async (_what, kind, more, wires, output, source) => {
    let pad = sketchDoc().node('s', 'src').node('t', 'src').node('w', 'wind').node('c', 'tint').node('m', kind, more);
    pad = pad.node('e', 'end', { ports: [io('in', 'any', 'in')] });
    for (const [input, from] of Object.entries(wires))
      pad = pad.wire(from, `m.${input}`, { to: { node: 'm', port: input } });
    const wired = pad.wire(`m.${output}`, 'e.in', { from: { node: 'm', port: output } }).doc;
    const bypassed = (await act('bypass', wired, ['m'])).doc;
    const found = effectiveWiring(bypassed, testKinds).source('e', 'in');
    expect(found && `${found.node}.${found.port}`).toBe(source);
    // and deleting it heals to the same
    const healed = effectiveWiring((await act('delete', wired, ['m'])).doc, testKinds).source('e', 'in');
    expect(healed && `${healed.node}.${healed.port}`).toBe(source);
  });

  it('says what passes, leaves carriers and ports alone, and comes back', async () => {
    const pad = sketchDoc().node('m', 'add').node('r', builtin.reroute).node('e', 'end');
    const { doc, report } = await act('bypass', pad.doc, ['m', 'r', 'e']);
    expect(report.findings.map((item) => item.message)).toEqual([
      '“m” passes “b” for “out”.',
      'The end “e” no longer computes anything.',
    ]);
    expect(doc.nodes.get('r')?.bypassed).toBeUndefined();
    expect(plainDoc((await act('bypass', doc, ['m', 'e'])).doc)).toEqual(plainDoc(pad.doc));
    await expect(act('bypass', pad.doc, ['r'])).rejects.toThrow('nothing to bypass');
  });
});

describe('connect', () => {
  it('takes the best pair of two bodies: the same type and name before what is only assignable', async () => {
    const pad = sketchDoc().node('a', 'src').node('m', 'tint').node('n', 'add').wire('a.out', 'n.a');
    expect(into((await act('connect', pad.doc, [], { from: { node: 'a' }, to: { node: 'm' } })).doc, 'm.amount')).toBe(
      'a.out',
    );
    expect(into((await act('connect', pad.doc, [], { from: { node: 'a' }, to: { node: 'n' } })).doc, 'n.b')).toBe(
      'a.out',
    );
    await expect(act('connect', pad.doc, [], { from: { node: 'm' }, to: { node: 'n' } })).rejects.toThrow(
      'No open input of “n” takes what “m” gives',
    );
  });

  it('opens a component that is wired, in the order of the type, and closes it again where it is free', async () => {
    const pad = sketchDoc().node('w', 'wind').node('b', 'bend').node('a', 'add');
    const one = (await act('connect', pad.doc, [], { from: ref('w.out.y'), to: ref('a.a') })).doc;
    expect(portIds(one.nodes.get('w'))).toEqual(['speed', 'out', 'out.y']);
    const two = (await act('connect', one, [], { from: ref('w.out.x'), to: ref('b.dir.x') })).doc;
    expect(portIds(two.nodes.get('w'))).toEqual(['speed', 'out', 'out.x', 'out.y']);
    expect(portIds(two.nodes.get('b'))).toEqual(['dir', 'dir.x', 'amount', 'out']);
    expect(into(two, 'b.dir.x')).toBe('w.out.x');
    const open = (await act('components', two, ['b'], { to: 'open' })).doc;
    expect(portIds(open.nodes.get('b'))).toEqual(['dir', 'dir.x', 'dir.y', 'amount', 'out', 'out.x', 'out.y']);
    const shut = (await act('components', open, ['b'], { to: 'closed' })).doc;
    expect(portIds(shut.nodes.get('b'))).toEqual(['dir', 'dir.x', 'amount', 'out']);
    await expect(act('components', pad.doc, ['a'])).rejects.toThrow('no compound port');
    await expect(act('connect', pad.doc, [], { from: ref('w.out.q'), to: ref('a.a') })).rejects.toThrow(
      'no output out.q',
    );
  });

  it('refuses with the reason: type, taken input, loop, border; through reroute points by what they carry and where they lead', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('r', 'round')
      .node('t', 'tint')
      .node('p', builtin.reroute)
      .node('q', builtin.reroute)
      .node('a', 'add')
      .node('b', 'add')
      .wire('t.out', 'p.in')
      .wire('q.out', 'r.in')
      .wire('a.out', 'b.a');
    const wire = (from: string, to: string, more: object = {}) =>
      act('connect', pad.doc, [], { from: ref(from), to: ref(to), ...more }, strictKinds);
    await expect(wire('t.out', 'r.in')).rejects.toThrow('“in” takes number, “out” gives colour');
    await expect(wire('p.out', 'a.a')).rejects.toThrow('“a” takes number, “out” gives colour');
    await expect(wire('t.out', 'q.in')).rejects.toThrow('at “r”, where this leads');
    await expect(wire('s.out', 'b.a')).rejects.toThrow('has a wire already');
    await expect(wire('b.out', 'a.a')).rejects.toThrow('would close a loop');
    expect(carriedType(pad.doc, testKinds, ref('p.out'))).toBe('col');
    expect(into((await wire('s.out', 'q.in')).doc, 'q.in')).toBe('s.out');
  });

  it('carries a wire over borders by ports that it makes, and refuses a loop that would come of it', async () => {
    const base = docFromSeed(3, 0);
    const nested = [...Array(30).keys()].map((seed) => docFromSeed(seed, 0)).find((doc) => doc.graphs.size > 1) ?? base;
    const pad = sketchDoc(nested).node('s', 'src').node('inside', 'add', { graph: 'g1' }).node('after', 'add');
    await expect(act('connect', pad.doc, [], { from: ref('s.out'), to: ref('inside.a') })).rejects.toThrow(
      'cannot cross the border',
    );
    const { doc } = await act('connect', pad.doc, [], { from: ref('s.out'), to: ref('inside.a'), across: true });
    expect(effectiveWiring(doc, testKinds).source('inside', 'a')).toMatchObject({ node: 's', port: 'out' });
    const out = (await act('connect', doc, [], { from: ref('inside.out'), to: ref('after.a'), across: true })).doc;
    expect(effectiveWiring(out, testKinds).source('after', 'a')).toMatchObject({ node: 'inside' });
    await expect(
      act('connect', out, [], { from: ref('after.out'), to: ref('inside.b'), across: true }, strictKinds),
    ).rejects.toThrow('would close a loop');
  });

  it('connects the selected one after the other, each to the next, or all; in place of others where that is wanted', async () => {
    const pad = sketchDoc().node('s', 'src').node('a', 'add').node('b', 'add').wire('s.out', 'b.a');
    const once = (await act('connect-selected', pad.doc, ['s', 'a'])).doc;
    expect([into(once, 'a.a'), into(once, 'a.b')]).toEqual(['s.out', undefined]);
    expect(into((await act('connect-selected', once, ['s', 'a'])).doc, 'a.b')).toBe('s.out');
    const row = (await act('connect-selected', pad.doc, ['s', 'a', 'b'], { pairs: 'each' })).doc;
    expect([into(row, 'a.a'), into(row, 'b.b'), into(row, 'b.a')]).toEqual(['s.out', 'a.out', 's.out']);
    const other = await act('connect-selected', pad.doc, ['a', 'b'], { pairs: 'all', replace: true });
    expect(other.report.findings.map((item) => item.message)).toEqual(['The wire from “s” into “a” gave way.']);
    await expect(
      act('connect-selected', pad.doc, ['a', 's'].reverse(), {}, new Kinds({ ...testCatalogue, types: [], kinds: [] })),
    ).resolves.toBeDefined();
    const none = sketchDoc().node('e', 'end').node('f', 'end');
    await expect(act('connect-selected', none.doc, ['e', 'f'])).rejects.toThrow('No open pair');
  });

  it('carries either end of a wire elsewhere, and the wire stays the same one', async () => {
    const pad = sketchDoc()
      .node('s', 'src')
      .node('t', 'src')
      .node('a', 'add')
      .node('b', 'add')
      .wire('s.out', 'a.a', { off: true })
      .wire('t.out', 'b.a');
    const to = await act('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'to', to: ref('b.a'), replace: true });
    expect([into(to.doc, 'a.a'), into(to.doc, 'b.a'), to.doc.wires.has('s.out>a.a')]).toEqual([
      undefined,
      's.out off',
      true,
    ]);
    expect(to.report.findings[0]!.message).toContain('from “t” gave way');
    const from = await act('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'from', to: { node: 't' } });
    expect(into(from.doc, 'a.a')).toBe('t.out off');
    await expect(act('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'to', to: ref('b.a') })).rejects.toThrow(
      'has a wire already',
    );
    await expect(act('carry-wire', pad.doc, [], { wire: 'gone', end: 'to', to: ref('b.a') })).rejects.toThrow(
      'not in this file',
    );
  });
});
