import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { overlaps, portPoint, rectOf } from '../document/geometry.ts';
import { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docFromSeed, plainDoc, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { forbiddenWiring, misfits } from '../wiring/check.ts';
import { bridges } from '../wiring/convert.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { fittingKinds } from '../wiring/fitting.ts';
import { rerouteLabel } from '../wiring/reroute.ts';
import { carriedType } from '../wiring/types.ts';

// Each act of wiring by hand; what holds for all of them is in wiring/rewiring.test.ts.

const strict = new Kinds({ ...testCatalogue, loops: 'forbidden' });
const perform = async (id: string, doc: Doc, items: readonly string[], options: unknown = {}, kinds = testKinds, graph = 'root') => {
  const { edit, report } = await runOperation(id, createContext(kinds, 1), doc, { graph, items }, options);
  const after = apply(doc, edit);
  expect(problems(after)).toEqual([]);
  return { doc: after, edit, report, fresh: [...after.nodes.values()].filter((node) => !doc.nodes.has(node.id)) };
};
const into = (doc: Doc, end: string): string | undefined => {
  const [node, ...port] = end.split('.');
  const wire = indexOf(doc).wireInto(node!, port.join('.'));
  return wire && `${wire.from.node}.${wire.from.port}${wire.off ? ' off' : ''}`;
};
const ref = (end: string): { node: string; port: string } => ({ node: end.slice(0, end.indexOf('.')), port: end.slice(end.indexOf('.') + 1) });
const ports = (node: GraphNode | undefined): string[] => node!.ports.map((port) => port.id);

describe('the pass rule, with components', () => {
  // node kind, what is wired into it, the output asked for, and what is passed: worked by hand from docs/semantics.md
  const io = (id: string, type: string, direction: 'in' | 'out', of?: string) => ({ id, name: id, type, direction, ...(of && { of }) });
  it.each<[string, string, Partial<GraphNode>, Record<string, string>, string, string | undefined]>([
    ['the input that the kind names, though another stands first', 'add', {}, { a: 's.out', b: 't.out' }, 'out', 't.out'],
    ['the named input even where it is open and another is wired', 'add', {}, { a: 's.out' }, 'out', undefined],
    ['the first of exactly the type', 'tint', {}, { amount: 's.out', base: 'c.out' }, 'out', 'c.out'],
    ['the first of exactly the type, open, before an assignable one', 'tint', {}, { amount: 's.out' }, 'out', undefined],
    ['an assignable one where none is exact', 'x', { ports: [io('a', 'num', 'in'), io('out', 'col', 'out')] }, { a: 's.out' }, 'out', 's.out'],
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
      { ports: [io('dir', 'vec', 'in'), io('dir.y', 'num', 'in', 'dir'), io('out', 'vec', 'out'), io('out.y', 'num', 'out', 'out')] },
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
    for (const [input, from] of Object.entries(wires)) pad = pad.wire(from, `m.${input}`, { to: { node: 'm', port: input } });
    const wired = pad.wire(`m.${output}`, 'e.in', { from: { node: 'm', port: output } }).doc;
    const bypassed = (await perform('bypass', wired, ['m'])).doc;
    const found = effectiveWiring(bypassed, testKinds).source('e', 'in');
    expect(found && `${found.node}.${found.port}`).toBe(source);
    // and deleting it heals to the same
    const healed = effectiveWiring((await perform('delete', wired, ['m'])).doc, testKinds).source('e', 'in');
    expect(healed && `${healed.node}.${healed.port}`).toBe(source);
  });

  it('says what passes, leaves carriers and ports alone, and comes back', async () => {
    const pad = sketchDoc().node('m', 'add').node('r', builtin.reroute).node('e', 'end');
    const { doc, report } = await perform('bypass', pad.doc, ['m', 'r', 'e']);
    expect(report.findings.map((item) => item.message)).toEqual(['“m” passes “b” for “out”.', '“e” is no end any more.']);
    expect(doc.nodes.get('r')?.bypassed).toBeUndefined();
    expect(plainDoc((await perform('bypass', doc, ['m', 'e'])).doc)).toEqual(plainDoc(pad.doc));
    await expect(perform('bypass', pad.doc, ['r'])).rejects.toThrow('nothing to bypass');
  });
});

describe('connect', () => {
  it('takes the best pair of two bodies: the same type and name before what is only assignable', async () => {
    const pad = sketchDoc().node('a', 'src').node('m', 'tint').node('n', 'add').wire('a.out', 'n.a');
    expect(into((await perform('connect', pad.doc, [], { from: { node: 'a' }, to: { node: 'm' } })).doc, 'm.amount')).toBe('a.out');
    expect(into((await perform('connect', pad.doc, [], { from: { node: 'a' }, to: { node: 'n' } })).doc, 'n.b')).toBe('a.out');
    await expect(perform('connect', pad.doc, [], { from: { node: 'm' }, to: { node: 'n' } })).rejects.toThrow('No open input of “n” takes what “m” gives');
  });

  it('opens a component that is wired, in the order of the type, and closes it again where it is free', async () => {
    const pad = sketchDoc().node('w', 'wind').node('b', 'bend').node('a', 'add');
    const one = (await perform('connect', pad.doc, [], { from: ref('w.out.y'), to: ref('a.a') })).doc;
    expect(ports(one.nodes.get('w'))).toEqual(['speed', 'out', 'out.y']);
    const two = (await perform('connect', one, [], { from: ref('w.out.x'), to: ref('b.dir.x') })).doc;
    expect(ports(two.nodes.get('w'))).toEqual(['speed', 'out', 'out.x', 'out.y']);
    expect(ports(two.nodes.get('b'))).toEqual(['dir', 'dir.x', 'amount', 'out']);
    expect(into(two, 'b.dir.x')).toBe('w.out.x');
    const open = (await perform('components', two, ['b'], { to: 'open' })).doc;
    expect(ports(open.nodes.get('b'))).toEqual(['dir', 'dir.x', 'dir.y', 'amount', 'out', 'out.x', 'out.y']);
    const shut = (await perform('components', open, ['b'], { to: 'closed' })).doc;
    expect(ports(shut.nodes.get('b'))).toEqual(['dir', 'dir.x', 'amount', 'out']);
    await expect(perform('components', pad.doc, ['a'])).rejects.toThrow('no compound port');
    await expect(perform('connect', pad.doc, [], { from: ref('w.out.q'), to: ref('a.a') })).rejects.toThrow('no output out.q');
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
    const wire = (from: string, to: string, more: object = {}) => perform('connect', pad.doc, [], { from: ref(from), to: ref(to), ...more }, strict);
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
    await expect(perform('connect', pad.doc, [], { from: ref('s.out'), to: ref('inside.a') })).rejects.toThrow('cannot cross the border');
    const { doc } = await perform('connect', pad.doc, [], { from: ref('s.out'), to: ref('inside.a'), across: true });
    expect(effectiveWiring(doc, testKinds).source('inside', 'a')).toMatchObject({ node: 's', port: 'out' });
    const out = (await perform('connect', doc, [], { from: ref('inside.out'), to: ref('after.a'), across: true })).doc;
    expect(effectiveWiring(out, testKinds).source('after', 'a')).toMatchObject({ node: 'inside' });
    await expect(perform('connect', out, [], { from: ref('after.out'), to: ref('inside.b'), across: true }, strict)).rejects.toThrow('would close a loop');
  });

  it('connects the selected one after the other, each to the next, or all; in place of others where that is wanted', async () => {
    const pad = sketchDoc().node('s', 'src').node('a', 'add').node('b', 'add').wire('s.out', 'b.a');
    const once = (await perform('connect-selected', pad.doc, ['s', 'a'])).doc;
    expect([into(once, 'a.a'), into(once, 'a.b')]).toEqual(['s.out', undefined]);
    expect(into((await perform('connect-selected', once, ['s', 'a'])).doc, 'a.b')).toBe('s.out');
    const row = (await perform('connect-selected', pad.doc, ['s', 'a', 'b'], { pairs: 'each' })).doc;
    expect([into(row, 'a.a'), into(row, 'b.b'), into(row, 'b.a')]).toEqual(['s.out', 'a.out', 's.out']);
    const other = await perform('connect-selected', pad.doc, ['a', 'b'], { pairs: 'all', replace: true });
    expect(other.report.findings.map((item) => item.message)).toEqual(['The wire from “s” into “a” gave way.']);
    await expect(perform('connect-selected', pad.doc, ['a', 's'].reverse(), {}, new Kinds({ ...testCatalogue, types: [], kinds: [] }))).resolves.toBeDefined();
    const none = sketchDoc().node('e', 'end').node('f', 'end');
    await expect(perform('connect-selected', none.doc, ['e', 'f'])).rejects.toThrow('No open pair');
  });

  it('carries either end of a wire elsewhere, and the wire stays the same one', async () => {
    const pad = sketchDoc().node('s', 'src').node('t', 'src').node('a', 'add').node('b', 'add').wire('s.out', 'a.a', { off: true }).wire('t.out', 'b.a');
    const to = await perform('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'to', to: ref('b.a'), replace: true });
    expect([into(to.doc, 'a.a'), into(to.doc, 'b.a'), to.doc.wires.has('s.out>a.a')]).toEqual([undefined, 's.out off', true]);
    expect(to.report.findings[0]!.message).toContain('from “t” gave way');
    const from = await perform('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'from', to: { node: 't' } });
    expect(into(from.doc, 'a.a')).toBe('t.out off');
    await expect(perform('carry-wire', pad.doc, [], { wire: 's.out>a.a', end: 'to', to: ref('b.a') })).rejects.toThrow('has a wire already');
    await expect(perform('carry-wire', pad.doc, [], { wire: 'gone', end: 'to', to: ref('b.a') })).rejects.toThrow('not in this file');
  });
});

describe('add, insert, pull out', () => {
  const row = () => sketchDoc().node('s', 'src').node('e', 'round', { x: 400 }).node('f', 'round', { x: 420, y: 200 }).wire('s.out', 'e.in').wire('s.out', 'f.in');

  it('goes in line behind an output, so that all its consumers take from it, straight and in free room', async () => {
    const { doc, fresh, report } = await perform('add-node', row().doc, ['s'], { kind: 'add' });
    const [node] = fresh;
    expect([into(doc, `${node!.id}.b`), into(doc, 'e.in'), into(doc, 'f.in')]).toEqual(['s.out', `${node!.id}.out`, `${node!.id}.out`]);
    expect(report.select).toEqual([node!.id]);
    const [out, inp] = [portPoint(doc, testKinds, doc.nodes.get('s')!, 'out', 'out')!, portPoint(doc, testKinds, node!, 'b', 'in')!];
    expect(inp.y).toBeCloseTo(out.y, 0);
    const rects = [...doc.nodes.values()].map((one) => rectOf(doc, testKinds, one));
    expect(rects.some((a, i) => rects.slice(i + 1).some((b) => overlaps(a, b)))).toBe(false);
  });

  it('pushes what is in the way along the flow, and nothing else', async () => {
    const pad = sketchDoc().node('s', 'src').node('e', 'round', { x: 150 }).node('far', 'src', { x: 0, y: 900 }).wire('s.out', 'e.in');
    const { doc } = await perform('add-node', pad.doc, ['s.out>e.in'], { kind: 'add' });
    expect(doc.nodes.get('e')!.x).toBeGreaterThan(150);
    expect([doc.nodes.get('s')!.x, doc.nodes.get('far')!.x]).toEqual([0, 0]);
    expect((await perform('add-node', pad.doc, ['s.out>e.in'], { kind: 'add', room: false })).doc.nodes.get('e')!.x).toBe(150);
  });

  it('goes alongside as a branch, from the output that is chosen, and says where it cannot', async () => {
    const { doc, fresh } = await perform('add-node', row().doc, ['s'], { kind: 'round', where: 'alongside' });
    expect([into(doc, `${fresh[0]!.id}.in`), into(doc, 'e.in')]).toEqual(['s.out', 's.out']);
    await expect(perform('add-node', row().doc, ['s'], { kind: 'round' })).rejects.toThrow('It can stand alongside.');
    await expect(perform('add-node', row().doc, ['s'], { kind: 'src' })).rejects.toThrow('takes nothing that “s” gives');
    await expect(perform('add-node', row().doc, ['s'], { kind: 'add', output: 'nope' })).rejects.toThrow('no output nope');
    await expect(perform('add-node', row().doc, [], { kind: 'nonesuch' })).rejects.toThrow('has no kind “nonesuch”');
    await expect(perform('add-node', row().doc, [], { kind: 'src', params: { value: 900 } })).rejects.toThrow('from 0 to 100');
  });

  it('hangs on an open end, either way, and stands by itself with its parameters', async () => {
    const behind = await perform('add-node', row().doc, [], { kind: 'tint', from: ref('s.out'), x: 10, y: 500 });
    expect(into(behind.doc, `${behind.fresh[0]!.id}.amount`)).toBe('s.out');
    const before = await perform('add-node', row().doc, [], { kind: 'measure', to: ref('e.in') });
    expect(into(before.doc, 'e.in')).toBe(`${before.fresh[0]!.id}.out`);
    const alone = await perform('add-node', row().doc, ['s'], { kind: 'src', where: 'by itself', x: 5, y: 7, params: { value: 3 } });
    expect(alone.fresh[0]).toMatchObject({ x: 5, y: 7, params: { value: 3 }, name: 'Source' });
    await expect(perform('add-node', row().doc, [], { kind: 'end', to: ref('e.in') })).rejects.toThrow('no port that fits');
  });

  it('lists the kinds that fit, the best first, a reroute point last', () => {
    const ids = (type: string, direction: 'in' | 'out') => fittingKinds(testKinds, { type, name: 'value' }, direction).map(({ kind }) => kind.id);
    expect(ids('vec', 'out')).toEqual(['bend', 'measure', builtin.reroute]);
    expect(ids('int', 'in')).toEqual(['round', builtin.reroute]);
    expect(ids('num', 'out').indexOf('end')).toBeGreaterThan(ids('num', 'out').indexOf('add'));
  });

  it('is put into a wire by the input that passes, and refuses what would not come out again', async () => {
    const pad = row().node('n', 'add').node('m', 'add').wire('s.out', 'm.b');
    const { doc } = await perform('insert', pad.doc, ['n'], { wire: 's.out>e.in' });
    expect([into(doc, 'n.b'), into(doc, 'e.in'), into(doc, 'f.in')]).toEqual(['s.out', 'n.out', 's.out']);
    expect(into((await perform('insert', pad.doc, ['n', 's.out>e.in'])).doc, 'e.in')).toBe('n.out');
    await expect(perform('insert', pad.doc, ['m'], { wire: 's.out>e.in' })).rejects.toThrow('is wired at “b” already');
    await expect(perform('insert', pad.doc, ['e'], { wire: 's.out>f.in' })).rejects.toThrow('passes nothing on');
    await expect(perform('insert', pad.doc, ['n'])).rejects.toThrow('the wire that it is to stand in');
  });

  it('is pulled out with healing; wires among what is pulled stay, and losses are listed', async () => {
    const pad = sketchDoc().node('s', 'src').node('a', 'add').node('b', 'add').node('e', 'round').wire('s.out', 'a.b').wire('a.out', 'b.b').wire('b.out', 'e.in');
    const { doc } = await perform('pull-out', pad.doc, ['a', 'b'], { dx: 5 });
    expect([into(doc, 'e.in'), into(doc, 'b.b'), into(doc, 'a.b'), doc.nodes.get('a')!.x]).toEqual(['s.out', 'a.out', undefined, 5]);
    const lossy = await perform('pull-out', pad.doc, ['e', 's']);
    expect(lossy.report.findings.map((item) => item.message)).toEqual(['Input “b” of “a” is open now, since nothing passes for it.']);
    await expect(perform('pull-out', sketchDoc().node('x', 'src').doc, ['x'])).rejects.toThrow('no wires to others');
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
    const pad = sketchDoc().node('w', 'wind').node('s', 'src').node('b', 'bend').node('a', 'add', { x: 600 }).wire('w.out', 'b.dir').wire('s.out', 'b.amount');
    const { doc, fresh, report } = await perform('connect-converted', pad.doc, [], { from: ref('b.out'), to: ref('a.a'), way: 'kind:measure' });
    const [node] = fresh;
    expect(node!.kind).toBe('measure');
    expect([into(doc, 'a.a'), into(doc, `${node!.id}.vector`), into(doc, `${node!.id}.scale`)]).toEqual([`${node!.id}.out`, 'b.out', 's.out']);
    expect(report.findings.map((item) => item.message)).toEqual(['“scale” of “Measure” takes “out” of “s”.']);
    const part = await perform('connect-converted', pad.doc, [], { from: ref('b.out'), to: ref('a.a'), way: 'part:y' });
    expect(into(part.doc, 'a.a')).toBe('b.out.y');
    const bare = sketchDoc().node('w', 'wind').node('a', 'add');
    expect((await perform('connect-converted', bare.doc, [], { from: ref('w.out'), to: ref('a.a'), way: 'kind:measure' })).report.findings[0]!.message).toContain('stays open');
    await expect(perform('connect-converted', bare.doc, [], { from: ref('w.out'), to: ref('w.speed'), way: 'kind:nope' })).rejects.toThrow('There is no way “kind:nope”');
    await expect(perform('connect-converted', sketchDoc().node('s', 'src').node('a', 'add').doc, [], { from: ref('s.out'), to: ref('a.a') })).rejects.toThrow('fit as they are');
  });
});

describe('rewire', () => {
  it('swaps the first two inputs that take the same, or any two, and says why not', async () => {
    const pad = sketchDoc().node('s', 'src').node('t', 'src').node('m', 'add').node('c', 'tint').wire('s.out', 'm.a').wire('t.out', 'm.b').wire('s.out', 'c.amount');
    const { doc } = await perform('swap-inputs', pad.doc, ['m']);
    expect([into(doc, 'm.a'), into(doc, 'm.b')]).toEqual(['t.out', 's.out']);
    const named = (await perform('swap-inputs', pad.doc, ['c'], { a: 'amount', b: 'base' })).doc;
    expect([into(named, 'c.amount'), into(named, 'c.base')]).toEqual([undefined, 's.out']);
    await expect(perform('swap-inputs', pad.doc, ['c'])).rejects.toThrow('no two inputs that take the same');
    await expect(perform('swap-inputs', pad.doc, ['s'])).rejects.toThrow('no two inputs');
    await expect(perform('swap-inputs', pad.doc, ['m'], { a: 'zzz' })).rejects.toThrow('no input zzz');
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
    const sum = await perform('replace-kind', pad.doc, ['m'], { kind: 'sum' });
    expect([into(sum.doc, 'm.in1'), into(sum.doc, 'm.in2'), into(sum.doc, 'e.in')]).toEqual(['s.out', 't.out', 'm.out']);
    expect(ports(sum.doc.nodes.get('m'))).toEqual(['in1', 'in2', 'in3', 'out']);
    expect(sum.report.findings.map((item) => item.message)).toEqual(['“gain” of “m”, 2, could not be kept.']);
    const tint = await perform('replace-kind', pad.doc, ['m'], { kind: 'tint' });
    expect([into(tint.doc, 'm.amount'), into(tint.doc, 'm.base'), into(tint.doc, 'e.in')]).toEqual(['s.out', 't.out', undefined]);
    expect(tint.report.findings.map((item) => item.message)).toContain('The wire from “out” of “m” to “in” of “e” could not be kept.');
    await expect(perform('replace-kind', pad.doc, ['m'], { kind: builtin.tap })).rejects.toThrow('cannot become a tap');
    await expect(perform('replace-kind', pad.doc, ['m'], { kind: 'zzz' })).rejects.toThrow('has no kind “zzz”');
    const used = sketchDoc()
      .node('s', 'src', { params: { value: 4 } })
      .node('x', 'src', { params: { value: { expression: [{ node: 's', parameter: 'value' }] } } });
    expect((await perform('replace-kind', used.doc, ['s'], { kind: 'add' })).report.findings.map((item) => item.rule)).toEqual(['parameter-lost', 'reference-lost']);
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
    const all = await perform('re-source', pad.doc, ['s', 't']);
    expect([into(all.doc, 'a.a'), into(all.doc, 'b.base'), into(all.doc, 'n.in')]).toEqual(['t.out', 't.out', 't.out']);
    const some = await perform('re-source', pad.doc, ['s', 'a', 't']);
    expect([into(some.doc, 'a.a'), into(some.doc, 'b.base')]).toEqual(['t.out', 's.out']);
    // behind its own old source it goes on taking from it
    const behind = await perform('re-source', pad.doc, [], { from: ref('s.out'), to: ref('n.out') });
    expect([into(behind.doc, 'n.in'), into(behind.doc, 'a.a')]).toEqual(['s.out', 's.out']);
    expect(behind.report.findings.map((item) => item.message)[0]).toMatch(/still takes from “s”: “.*” takes/);
    await expect(perform('re-source', pad.doc, ['s'])).rejects.toThrow('Select the node that is taken from');
    await expect(perform('re-source', pad.doc, ['t', 's'])).rejects.toThrow('Nothing takes from “t”');
  });

  it('cuts and switches wires of a selection: the wires, else those between, else those that come in', async () => {
    const pad = sketchDoc().node('s', 'src').node('a', 'add').node('b', 'add').wire('s.out', 'a.a').wire('a.out', 'b.a').wire('s.out', 'b.b');
    expect([...(await perform('cut-wires', pad.doc, ['s.out>b.b'])).doc.wires.keys()]).toEqual(['s.out>a.a', 'a.out>b.a']);
    expect([...(await perform('cut-wires', pad.doc, ['a', 'b'])).doc.wires.keys()]).toEqual(['s.out>a.a', 's.out>b.b']);
    expect([...(await perform('cut-wires', pad.doc, ['b'])).doc.wires.keys()]).toEqual(['s.out>a.a']);
    const off = (await perform('switch-wires', pad.doc, ['b'])).doc;
    expect(effectiveWiring(off, testKinds).source('b', 'a')).toBeUndefined();
    expect(plainDoc((await perform('switch-wires', off, ['b'])).doc)).toEqual(plainDoc(pad.doc));
    await expect(perform('cut-wires', pad.doc, ['s'])).rejects.toThrow('no wire here');
  });
});

describe('reroute points', () => {
  it('stand on wires and outputs, change nothing that is computed, and can be made larger around their middle', async () => {
    const pad = sketchDoc().node('s', 'src').node('e', 'round', { x: 400 }).node('f', 'round', { x: 400, y: 200 }).wire('s.out', 'e.in').wire('s.out', 'f.in');
    const one = await perform('reroute', pad.doc, [], { at: [{ wire: 's.out>e.in', x: 200, y: 50 }] });
    expect(one.fresh.map(({ x, y }) => [x, y])).toEqual([[192, 42]]);
    expect(one.doc.wires.has('s.out>e.in')).toBe(true);
    const all = await perform('reroute-outputs', pad.doc, ['s', 'e'], { which: 'all' });
    expect([all.fresh.length, into(all.doc, 'f.in')]).toEqual([2, into(all.doc, 'e.in')]);
    expect((await perform('reroute-outputs', pad.doc, ['s', 'e'], { which: 'loose' })).fresh).toHaveLength(1);
    for (const { doc } of [one, all]) expect(fingerprint(doc, testKinds)).toEqual(fingerprint(pad.doc, testKinds));
    const big = (await perform('reroute-size', one.doc, [], { size: 32 })).doc;
    expect(rectOf(big, testKinds, big.nodes.get(one.fresh[0]!.id)!)).toEqual({ x: 184, y: 34, width: 32, height: 32 });
    await expect(perform('reroute-outputs', all.doc, ['s'], { which: 'wired' })).rejects.toThrow('without a reroute point');
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
    expect(rerouteLabel(sketchDoc().node('x', builtin.reroute).doc, { ...doc.nodes.get('q')!, id: 'x' })).toBeUndefined();
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
    expect([...(await perform('clear-out', pad.doc, [])).doc.nodes.keys()]).toEqual(['s', 'c', 'e', 'x', 'off', 'y']);
    expect([...(await perform('clear-out', pad.doc, [], { keepOff: false })).doc.nodes.keys()]).toEqual(['s', 'c', 'e']);
    await expect(perform('clear-out', sketchDoc().node('s', 'src').doc, [])).rejects.toThrow('has no end');
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
    const pad = sketchDoc().node('a', 'dial', make('a', 5)).node('b', 'dial', make('b', 7)).node('r', 'src').wire('r.out', 'b.scale');
    const { doc, fresh, report } = await perform('share-value', pad.doc, ['a', 'b'], { parameter: 'scale', expose: true }, own);
    const value = fresh.find((node) => node.kind === 'src')!;
    expect(value).toMatchObject({ label: 'Scale', params: { value: 5 } });
    expect(into(doc, 'a.scale')).toBe(`${value.id}.out`);
    expect(doc.nodes.get('b')?.params).toEqual({ scale: { expression: [{ node: value.id, parameter: 'value' }] } });
    expect(report.findings.map((item) => item.message)).toEqual(['“Scale” of “b” was 7 and is 5 now.']);
    const output = fresh.find((node) => node.kind === builtin.output)!;
    expect(into(doc, `${output.id}.in`)).toBe(`${value.id}.out`);
    await expect(perform('share-value', pad.doc, ['r'], { parameter: 'nope' }, own)).rejects.toThrow('no parameter nope');
    await expect(perform('share-value', sketchDoc().node('e', 'end').doc, ['e'], { parameter: 'note' }, own)).rejects.toThrow('no kind that gives a value');
  });
});

describe('what is read and what is saved', () => {
  it('lists wires that do not fit and loops where they are forbidden; nothing where all is well', () => {
    const pad = sketchDoc().node('t', 'tint').node('r', 'round').node('a', 'add').node('b', 'add').wire('t.out', 'r.in').wire('a.out', 'b.a').wire('b.out', 'a.a');
    expect(misfits(pad.doc, strict).map((item) => item.rule)).toEqual(['misfit', 'loop']);
    expect(misfits(pad.doc, testKinds).map((item) => item.rule)).toEqual(['misfit']);
  });

  it('finds what an edit wires that is forbidden, and lets healing and pasting be', async () => {
    const pad = sketchDoc().node('t', 'tint').node('r', 'round').node('a', 'add').node('b', 'add').wire('a.out', 'b.a');
    const adding = (from: string, to: string) => {
      const wire = { id: 'new', from: ref(from), to: ref(to) };
      const edit = { steps: [{ type: 'add' as const, table: 'wires' as const, id: 'new', value: wire }] };
      return forbiddenWiring(pad.doc, apply(pad.doc, edit), strict, edit).map((item) => item.message);
    };
    expect(adding('t.out', 'r.in')).toEqual(['“in” takes number, “out” gives colour.']);
    expect(adding('b.out', 'a.a')).toEqual(['A wire from “b” to “a” would close a loop, which this catalogue forbids.']);
    expect(adding('a.out', 'b.b')).toEqual([]);
    const healed = await perform('delete', pad.doc, ['a'], {}, strict);
    expect(forbiddenWiring(pad.doc, healed.doc, strict, healed.edit)).toEqual([]);
  });
});
