import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { closesLoop } from './along.ts';
import { effectiveWiring } from './effective.ts';

const io = (type = 'num') => [
  { id: 'in', name: 'in', type, direction: 'in' as const },
  { id: 'out', name: 'out', type, direction: 'out' as const },
];

describe('effective wiring', () => {
  it('passes through reroute points', () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('r', builtin.reroute)
      .node('s', builtin.reroute)
      .node('b', 'round')
      .wire('a.out', 'r.in')
      .wire('r.out', 's.in')
      .wire('s.out', 'b.in');
    expect(effectiveWiring(doc, testKinds).source('b', 'in')).toEqual({ node: 'a', port: 'out', through: ['s', 'r'] });
    expect(effectiveWiring(doc, testKinds).consumers('a', 'out')).toEqual([{ node: 'b', port: 'in' }]);
  });

  // The pass rule, worked by hand: kind names b for add; tint has none, so the first of exactly the type, then the
  // first assignable.
  it.each([
    ['the input that the kind names', 'add', 'b', 'num', 'q'],
    ['the first input of exactly the type', 'tint', 'base', 'col', 'q'],
    ['the first assignable input where none is exact', 'tint2', 'amount', 'col', 'q'],
  ])('bypass takes %s', (_what, kind, input, type, source) => {
    const ports = [
      { id: 'amount', name: 'amount', type: 'num', direction: 'in' as const },
      { id: 'out', name: 'out', type, direction: 'out' as const },
    ];
    const { doc } = sketchDoc()
      .node('q', 'src')
      .node('m', kind, { bypassed: true, ...(kind === 'tint2' && { ports }) })
      .node('e', 'end', { ports: [{ id: 'in', name: 'in', type: 'any', direction: 'in' }] })
      .wire('q.out', `m.${input}`)
      .wire('m.out', 'e.in');
    expect(effectiveWiring(doc, testKinds).source('e', 'in')?.node).toBe(source);
  });

  it('leaves open what a bypassed source, an unwired pass, or a wire switched off would feed', () => {
    const base = () => sketchDoc().node('a', 'src').node('m', 'add').node('b', 'round');
    expect(
      effectiveWiring(
        sketchDoc().node('a', 'src', { bypassed: true }).node('b', 'round').wire('a.out', 'b.in').doc,
        testKinds,
      ).source('b', 'in'),
    ).toBeUndefined();
    expect(
      effectiveWiring(
        base().node('m', 'add', { bypassed: true }).wire('a.out', 'm.a').wire('m.out', 'b.in').doc,
        testKinds,
      ).source('b', 'in'),
    ).toBeUndefined();
    expect(
      effectiveWiring(base().wire('a.out', 'b.in', { off: true }).doc, testKinds).source('b', 'in'),
    ).toBeUndefined();
  });

  it('says where carriers run in a loop', () => {
    const { doc } = sketchDoc()
      .node('r', builtin.reroute)
      .node('s', builtin.reroute)
      .node('b', 'round')
      .wire('r.out', 's.in')
      .wire('s.out', 'r.in')
      .wire('r.out', 'b.in');
    const wiring = effectiveWiring(doc, testKinds);
    expect(wiring.source('b', 'in')).toBeUndefined();
    expect(wiring.findings.map((item) => item.rule)).toEqual(['carrier-loop']);
  });

  it('goes into and out of nested graphs', () => {
    const { doc } = sketchDoc()
      .graph('g')
      .node('a', 'src')
      .node('host', builtin.nested, {
        inner: 'g',
        ports: [
          { id: 'gi', name: 'In', type: 'num', direction: 'in' },
          { id: 'go', name: 'Out', type: 'num', direction: 'out' },
        ],
      })
      .node('gi', builtin.input, { graph: 'g' })
      .node('m', 'round', { graph: 'g' })
      .node('go', builtin.output, { graph: 'g' })
      .node('b', 'round', { ports: io() })
      .wire('a.out', 'host.gi')
      .wire('gi.out', 'm.in')
      .wire('m.out', 'go.in')
      .wire('host.go', 'b.in');
    const wiring = effectiveWiring(doc, testKinds);
    expect(wiring.source('m', 'in')).toEqual({ node: 'a', port: 'out', through: ['gi'] });
    expect(wiring.source('b', 'in')).toEqual({ node: 'm', port: 'out', through: ['host'] });
    expect(wiring.nodes.map((node) => node.id)).toEqual(['a', 'b', 'm']);
  });

  it('hears beacons by id anywhere, else by name outwards, the nearest first', () => {
    const tap = (beacon: { id?: string; name: string }) =>
      sketchDoc()
        .graph('g')
        .node('host', builtin.nested, { inner: 'g', ports: [] })
        .node('a', 'src')
        .node('far', 'src')
        .node('near', builtin.beacon, { name: 'Moon', graph: 'g' })
        .node('outer', builtin.beacon, { name: 'Moon' })
        .node('x', 'src', { graph: 'g' })
        .node('tap', builtin.tap, { graph: 'g', beacon })
        .node('b', 'round', { graph: 'g' })
        .wire('a.out', 'outer.in')
        .wire('x.out', 'near.in')
        .wire('tap.out', 'b.in').doc;
    const source = (beacon: { id?: string; name: string }) => effectiveWiring(tap(beacon), testKinds).source('b', 'in');
    expect(source({ name: 'Moon' })).toMatchObject({ node: 'x', through: ['tap', 'near'] });
    expect(source({ id: 'outer', name: 'Moon' })).toMatchObject({ node: 'a' });
    expect(source({ id: 'gone', name: 'Moon' })).toMatchObject({ node: 'x' });
    expect(source({ name: 'Sun' })).toBeUndefined();
    expect(effectiveWiring(tap({ name: 'Sun' }), testKinds).findings[0]?.rule).toBe('lost-tap');
  });

  describe('standing feeds', () => {
    const feed = (types = 'num') => ({ params: { types } });
    const base = () =>
      sketchDoc()
        .node('a', 'src')
        .node('z', 'src')
        .node('feed', builtin.feed, feed())
        .wire('a.out', 'feed.in')
        .node('t', 'tint');

    it('supply open feedable inputs of their type; a drawn wire wins', () => {
      expect(effectiveWiring(base().doc, testKinds).source('t', 'amount')).toEqual({
        node: 'a',
        port: 'out',
        through: [],
        feed: 'feed',
      });
      expect(effectiveWiring(base().doc, testKinds).source('t', 'base')).toBeUndefined();
      expect(effectiveWiring(base().wire('z.out', 't.amount').doc, testKinds).source('t', 'amount')).toEqual({
        node: 'z',
        port: 'out',
        through: [],
      });
      expect(
        effectiveWiring(base().wire('z.out', 't.amount', { off: true }).doc, testKinds).source('t', 'amount'),
      ).toBeUndefined();
    });

    it('of the nearest scope win: inner frame, outer frame, graph, then around the host', () => {
      const framed = base()
        .frame('f')
        .frame('g', { parent: 'f' })
        .node('t', 'tint', { frame: 'g' })
        .node('feed2', builtin.feed, { ...feed(), frame: 'f' })
        .wire('z.out', 'feed2.in');
      expect(effectiveWiring(framed.doc, testKinds).source('t', 'amount')?.node).toBe('z');
      const nested = base()
        .graph('n')
        .node('host', builtin.nested, { inner: 'n', ports: [] })
        .node('t', 'tint', { graph: 'n' });
      expect(effectiveWiring(nested.doc, testKinds).source('t', 'amount')?.node).toBe('a');
    });

    it('two for one type at one level: neither feeds, and that is said', () => {
      const wiring = effectiveWiring(
        base().node('feed2', builtin.feed, feed()).wire('z.out', 'feed2.in').doc,
        testKinds,
      );
      expect(wiring.source('t', 'amount')).toBeUndefined();
      expect(wiring.findings.map((item) => item.rule)).toContain('feeds-clash');
    });

    it('never supply what lies upstream of their own source', () => {
      const { doc } = sketchDoc()
        .node('t', 'tint')
        .node('r', 'round', { ports: io('any') })
        .node('feed', builtin.feed, feed())
        .node('u', 'tint')
        .wire('t.out', 'r.in')
        .wire('r.out', 'feed.in');
      const wiring = effectiveWiring(doc, testKinds);
      expect(wiring.source('t', 'amount')).toBeUndefined();
      expect(wiring.source('u', 'amount')?.node).toBe('r');
    });
  });

  it('ends on any document, and names only outputs that are there', () => {
    fc.assert(
      fc.property(docArbitrary(40), (doc) => {
        const wiring = effectiveWiring(doc, testKinds);
        for (const node of wiring.nodes) {
          for (const port of node.ports) {
            if (port.direction !== 'in') continue;
            const source = wiring.source(node.id, port.id);
            if (!source) continue;
            expect(
              doc.nodes.get(source.node)?.ports.some((one) => one.direction === 'out' && one.id === source.port),
            ).toBe(true);
            expect(wiring.consumers(source.node, source.port)).toContainEqual({ node: node.id, port: port.id });
          }
        }
      }),
      { numRuns: 150 },
    );
  });

  it('knows what would close a loop', () => {
    const { doc } = sketchDoc()
      .node('a', 'add')
      .node('b', 'add')
      .node('c', 'add')
      .wire('a.out', 'b.a')
      .wire('b.out', 'c.a');
    expect(closesLoop(doc, 'c', 'a')).toBe(true);
    expect(closesLoop(doc, 'a', 'c')).toBe(false);
    expect(closesLoop(doc, 'a', 'a')).toBe(true);
  });
});
