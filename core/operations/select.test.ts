import fc from 'fast-check';
import Graph from 'graphology';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { connected, reach, seenFrom } from '../inspect/reach.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';

const select = async (id: string, doc: Doc, items: readonly string[], options: unknown = {}, graph = 'root') => {
  const { edit, report } = await runOperation(id, createContext(testKinds, 1), doc, { graph, items }, options);
  expect(edit.steps).toEqual([]);
  return report.select;
};

const row = () =>
  sketchDoc()
    .frame('f')
    .frame('g', { parent: 'f' })
    .node('c', 'add', { x: 200, frame: 'f' })
    .node('a', 'src', { x: 0, y: 50, frame: 'g' })
    .node('b', 'src', { x: 0, y: 10 })
    .node('d', 'round', { x: 400 })
    .node('e', 'src', { x: 900 })
    .wire('a.out', 'c.a')
    .wire('b.out', 'c.b')
    .wire('c.out', 'd.in').doc;

describe('selecting', () => {
  it.each([
    ['select-all', ['d'], {}, ['b', 'a', 'c', 'd', 'e']],
    ['select-none', ['d'], {}, []],
    ['select-invert', ['d', 'a'], {}, ['b', 'c', 'e']],
    ['select-same-kind', ['a'], {}, ['a', 'b', 'e']],
    ['select-in-frame', ['c'], {}, ['a', 'c']],
    ['select-in-frame', ['g'], {}, ['a']],
    ['select-in-frame', ['e', 'g'], { add: true }, ['e', 'g', 'a']],
    ['select-upstream', ['d'], {}, ['d', 'c', 'a', 'b']],
    ['select-upstream', ['d'], { steps: 1 }, ['d', 'c']],
    ['select-downstream', ['b'], {}, ['b', 'c', 'd']],
    ['select-connected', ['a'], {}, ['a', 'c', 'b', 'd']],
    ['select-by-query', ['d'], { query: 'kind:source x<500' }, ['b', 'a']],
    ['select-by-query', ['d'], { query: 'kind:source x<500', add: true }, ['d', 'b', 'a']],
  ])('%s from %j with %j, in the order worked by hand', async (id, items, options, expected) => {
    expect(await select(id, row(), items, options)).toEqual(expected);
  });

  it('says what is wrong with a query or a selection', async () => {
    await expect(select('select-by-query', row(), [], { query: 'kind:' })).rejects.toThrow(
      'A value is missing after “kind:” (at character 6)',
    );
    await expect(select('select-in-frame', row(), ['e'])).rejects.toThrow('Neither a frame nor a node inside one');
    await expect(select('select-upstream', row(), [])).rejects.toThrow('Select a node first');
  });
});

describe('what reaches what', () => {
  it('goes through remote links, reroute points, bypassed nodes and nested graphs, and counts hosts for what lies in them', async () => {
    const { doc } = sketchDoc()
      .graph('g1')
      .node('s', 'src')
      .node('r', builtin.reroute, {
        ports: [
          { id: 'in', name: 'in', type: 'any', direction: 'in' },
          { id: 'out', name: 'out', type: 'any', direction: 'out' },
        ],
      })
      .node('bc', builtin.beacon)
      .node('tp', builtin.tap, { beacon: { id: 'bc', name: 'bc' } })
      .node('h', builtin.nested, { inner: 'g1', ports: [{ id: 'bi', name: 'bi', type: 'num', direction: 'in' }] })
      .node('bi', builtin.input, { graph: 'g1', ports: [{ id: 'out', name: 'out', type: 'num', direction: 'out' }] })
      .node('deep', 'round', { graph: 'g1' })
      .node('away', 'src')
      .wire('s.out', 'r.in')
      .wire('r.out', 'bc.in')
      .wire('tp.out', 'h.bi')
      .wire('bi.out', 'deep.in');
    expect(new Set(reach(doc, testKinds, ['s'], 'down'))).toEqual(new Set(['r', 'bc', 'tp', 'bi', 'deep']));
    expect(new Set(reach(doc, testKinds, ['deep'], 'up'))).toEqual(new Set(['s', 'r', 'bc', 'tp', 'bi']));
    expect(seenFrom(doc, 'root', ['deep', 'bi', 's', 'gone'])).toEqual(['h', 's']);
    expect(await select('select-upstream', doc, ['h'])).toEqual(['h', 'tp', 'bc', 'r', 's']);
    expect(await select('select-downstream', doc, ['deep'], {}, 'g1')).toEqual(['deep']);
    expect(connected(doc, testKinds, ['away'])).toEqual([]);
  });

  it('a node that an expression refers to is upstream', () => {
    const { doc } = sketchDoc()
      .node('a', 'src')
      .node('b', 'src', { params: { value: { expression: ['2 * ', { node: 'a', parameter: 'value' }] } } });
    expect(reach(doc, testKinds, ['b'], 'up')).toEqual(['a']);
  });

  // reference: graphology 0.26, neighbours of a directed graph, on documents in which wires are all that links
  it('agrees with a walk over the same graph in graphology, both ways and for every start', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), (seed) => {
        const whole = docFromSeed(seed, 14);
        const nodes = new Map(
          [...whole.nodes]
            .filter(([, node]) => node.graph === 'root' && node.inner === undefined)
            .map(([id, { bypassed: _, ...node }]) => [id, node]),
        );
        const wires = new Map(
          [...whole.wires].filter(([, wire]) => nodes.has(wire.from.node) && nodes.has(wire.to.node) && !wire.off),
        );
        const doc: Doc = { ...whole, nodes, wires };
        const graph = new Graph({ type: 'directed', multi: true });
        for (const id of nodes.keys()) graph.addNode(id);
        for (const wire of wires.values()) graph.addEdge(wire.from.node, wire.to.node);
        const walk = (start: string, next: (id: string) => string[]): Set<string> => {
          const seen = new Set([start]);
          for (const id of seen) for (const other of next(id)) seen.add(other);
          seen.delete(start);
          return seen;
        };
        for (const id of nodes.keys()) {
          expect(new Set(reach(doc, testKinds, [id], 'up'))).toEqual(walk(id, (at) => graph.inNeighbors(at)));
          expect(new Set(reach(doc, testKinds, [id], 'down'))).toEqual(walk(id, (at) => graph.outNeighbors(at)));
          expect(new Set(connected(doc, testKinds, [id]))).toEqual(walk(id, (at) => graph.neighbors(at)));
        }
      }),
    );
  });
});
