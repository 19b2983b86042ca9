import { csvParse } from 'd3-dsv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { readTimes, writeTimes } from '../formats/times-csv.ts';
import { sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { denseArbitrary } from '../tests/dense.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { cost, heatOf, measurable } from './cost.ts';

/** s → a → e and t → e, a nested graph with one node, a frame around s and the nested one. */
const small = (): Doc =>
  sketchDoc()
    .graph('g1')
    .frame('f')
    .node('s', 'src', { frame: 'f' })
    .node('a', 'round')
    .node('t', 'src')
    .node('m', 'tint')
    .node('e', 'end')
    .node('host', builtin.nested, { frame: 'f', inner: 'g1', ports: [] })
    .node('deep', 'src', { graph: 'g1' })
    .wire('s.out', 'a.in')
    .wire('a.out', 'm.amount')
    .wire('t.out', 'm.base')
    .wire('m.out', 'e.in').doc;

const times = new Map([
  ['s', 4],
  ['a', 6],
  ['t', 3],
  ['m', 5],
  ['deep', 2],
]);

describe('cost', () => {
  it('is added up over frames and nested graphs, with shares, slack and the critical path', () => {
    const found = cost(small(), testKinds, times);
    expect(found.total).toBe(20);
    expect(found.nodes.map(({ id, ms, share, slack }) => [id, ms, share, slack])).toEqual([
      ['a', 6, 0.3, 0],
      ['m', 5, 0.25, 0],
      ['s', 4, 0.2, 0],
      ['t', 3, 0.15, 7],
      // no end needs what lies in the nested graph
      ['deep', 2, 0.1, undefined],
    ]);
    expect(found.frames).toEqual([{ id: 'f', ms: 6, share: 0.3, measured: 2 }]);
    expect(found.nested).toEqual([{ id: 'host', ms: 2, share: 0.1, measured: 1 }]);
    expect(found.critical).toEqual({ ms: 15, path: ['s', 'a', 'm'] });
    expect(found.unmeasured).toEqual(['e']);
  });

  it('is told by end: what it needs, how long one waits for it, what it shares, and apart what serves none', () => {
    const { doc } = sketchDoc(small())
      .node('n', 'tint')
      .node('e2', 'end')
      .node('loose', 'src')
      .node('o', 'tint', { bypassed: true })
      .wire('t.out', 'n.amount')
      .wire('n.out', 'e2.in')
      .wire('loose.out', 'o.amount');
    const found = cost(doc, testKinds, new Map([...times, ['n', 7], ['e2', 1], ['loose', 90], ['o', 30]]));
    expect(found.ends).toEqual([
      {
        id: 'e',
        ms: 18,
        share: 18 / 118,
        own: 15,
        shared: 3,
        measured: 4,
        critical: { ms: 15, path: ['s', 'a', 'm'] },
      },
      {
        id: 'e2',
        ms: 11,
        share: 11 / 118,
        own: 8,
        shared: 3,
        measured: 3,
        critical: { ms: 11, path: ['t', 'n', 'e2'] },
      },
    ]);
    expect(found.shared).toEqual({ ms: 3, nodes: [{ id: 't', ms: 3 }] });
    expect(found.waste.nodes.map(({ id }) => id)).toEqual(['loose', 'deep']);
    expect(found.off).toEqual({ ms: 30, nodes: [{ id: 'o', ms: 30 }] });
    // what is wired to nothing is not what one waits for
    expect(found.critical).toEqual({ ms: 15, path: ['s', 'a', 'm'] });
  });

  it('counts what lies in a bypassed nested graph by the same rule as what is bypassed', () => {
    const doc = small();
    const host = { ...doc.nodes.get('host')!, bypassed: true as const };
    const found = cost({ ...doc, nodes: new Map(doc.nodes).set('host', host) }, testKinds, times);
    expect([found.total, found.off.nodes.map(({ id }) => id), found.nested]).toEqual([18, ['deep'], []]);
  });

  it('takes bypassed nodes as free, and is nothing where nothing was measured', () => {
    const doc = small();
    const bypassed = {
      ...doc,
      nodes: new Map(doc.nodes).set('a', { ...doc.nodes.get('a')!, bypassed: true as const }),
    };
    expect(cost(bypassed, testKinds, times).total).toBe(14);
    expect(cost(doc, testKinds, new Map())).toMatchObject({ total: 0, nodes: [], critical: { ms: 0, path: [] } });
    expect(measurable(doc, testKinds)).toEqual(['a', 'deep', 'e', 'm', 's', 't']);
  });

  it('never has a critical path longer than the sum, and its parts add up', () => {
    fc.assert(
      fc.property(denseArbitrary(20), fc.nat(), (doc, salt) => {
        const all = new Map(
          effectiveWiring(doc, testKinds).nodes.map((node, i) => [node.id, ((i * 7 + salt) % 23) / 2]),
        );
        const found = cost(doc, testKinds, all);
        expect(found.critical.ms).toBeLessThanOrEqual(found.total + 1e-9);
        for (const end of found.ends) {
          expect(end.own + end.shared).toBeCloseTo(end.ms, 9);
          expect(end.critical.ms).toBeLessThanOrEqual(Math.min(found.critical.ms, end.ms) + 1e-9);
        }
        expect(Math.max(0, ...found.ends.map((end) => end.critical.ms))).toBeCloseTo(found.critical.ms, 9);
        const alone = found.ends.reduce((sum, end) => sum + end.own, 0);
        expect(alone + found.shared.ms + found.waste.ms).toBeCloseTo(found.total, 9);
        expect(found.nodes.reduce((sum, node) => sum + node.ms, 0)).toBeCloseTo(found.total, 9);
        expect(found.nodes.reduce((sum, node) => sum + node.share, 0)).toBeCloseTo(found.total > 0 ? 1 : 0, 9);
        const on = new Map(found.nodes.map((node) => [node.id, node]));
        for (const id of found.critical.path) expect(on.get(id)!.slack).toBeCloseTo(0, 9);
      }),
    );
  });

  it('is warm by powers of two below the dearest', () => {
    expect([100, 51, 50, 49, 25, 12.5, 6.25, 1].map((ms) => heatOf(ms, 100))).toEqual([4, 4, 3, 3, 2, 1, 0, 0]);
    expect(heatOf(0, 100)).toBeUndefined();
  });
});

describe('a table of times', () => {
  it('is read by the paths of nodes, with or without titles; what cannot be read is said by its row', () => {
    const { times: read, findings } = readTimes(
      small(),
      'node,milliseconds\r\ns,4\n"host/deep",2.5\nnobody,3\nt,soon\n\n/a,1\na,2\n',
    );
    expect([...read]).toEqual([
      ['s', 4],
      ['deep', 2.5],
      ['a', 3],
    ]);
    expect(findings.map((item) => item.message)).toEqual([
      'Row 4: there is no node “nobody”; a path is the names of nested nodes and the node with / between.',
      'Row 5: “soon” is not a time; give milliseconds, such as 12.5.',
    ]);
    expect([...readTimes(small(), 's,4').times]).toEqual([['s', 4]]);
  });

  it('is CSV as RFC 4180 has it, and comes back as it was', () => {
    const text = writeTimes(small(), times);
    expect(csvParse(text)).toHaveLength(5);
    expect(text.split('\n')[5]).toBe('host/deep,2');
    expect(readTimes(small(), text)).toEqual({ times, findings: [] });
  });
});
