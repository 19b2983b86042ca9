import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { isExpression } from '../document/kinds.ts';
import { act } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { denseArbitrary } from '../tests/dense.ts';
import { computes, countsNow, sourceOf, upstream } from '../tests/naive.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { dependencies } from './dependencies.ts';
import { endsOf, nodeHashes } from './fingerprint.ts';
import { dependencyGraph } from './graph/dependency-graph.ts';
import { reach } from './reach.ts';
import { pathsBetween } from './ways.ts';

const asked = (doc: Doc, ...ids: string[]) => dependencies(doc, testKinds, ids);
const steps = (side: { nodes: readonly { id: string; steps: number }[] }): Record<string, number> =>
  Object.fromEntries(side.nodes.map(({ id, steps: n }) => [id, n]));

/** s → a → m → e, s → b → m, with a reroute point and a remote link on the way, and t that only b reads. */
const diamond = () =>
  sketchDoc()
    .node('s', 'src')
    .node('t', 'src')
    .node('a', 'add')
    .node('b', 'add')
    .node('r', builtin.reroute)
    .node('bc', builtin.beacon, { name: 'Moon' })
    .node('tp', builtin.tap, { beacon: { id: 'bc', name: 'Moon' } })
    .node('m', 'tint')
    .node('e', 'end')
    .wire('s.out', 'a.a')
    .wire('s.out', 'r.in')
    .wire('r.out', 'b.a')
    .wire('t.out', 'b.b')
    .wire('a.out', 'm.amount')
    .wire('b.out', 'bc.in')
    .wire('tp.out', 'm.base')
    .wire('m.out', 'e.in').doc;

describe('dependencies', () => {
  it('are counted by steps between nodes that compute, with what carries data apart', () => {
    const doc = diamond();
    const { up, down, ends } = asked(doc, 'b');
    expect(steps(up)).toEqual({ s: 1, t: 1 });
    expect(up.carriers).toEqual(['r']);
    expect(steps(down)).toEqual({ m: 1, e: 2 });
    expect(new Set(down.carriers)).toEqual(new Set(['bc', 'tp']));
    expect([up.depth, down.depth]).toEqual([1, 2]);
    expect(ends).toEqual(['e']);
  });

  it('say what would be open and what would serve nothing if nodes went', () => {
    const doc = diamond();
    // b passes its second input on: t still serves what b served
    expect(asked(doc, 'b').gone.idle).toEqual([]);
    // m passes its base on, so that the end keeps a source, and what that needs; a source passes nothing
    expect(asked(doc, 'm').gone.idle).toEqual(['a']);
    expect(asked(doc, 'm').gone.opened).toEqual([]);
    expect(asked(doc, 't').gone.opened.map((item) => item.message)).toEqual([
      'Input “b” of “b” is open now: it took “t”.',
    ]);
  });

  it('pass through nested graphs and expressions, and take a nested node as all inside', () => {
    const { doc } = sketchDoc(diamond()).node('x', 'src', {
      params: { value: { expression: ['2 * ', { node: 't', parameter: 'value' }] } },
    });
    expect(steps(asked(doc, 't').down)).toMatchObject({ b: 1, x: 1 });
  });

  it('are among the nodes that selecting upstream and downstream finds, and the other way round', () => {
    fc.assert(
      fc.property(denseArbitrary(), fc.nat(), (doc, pick) => {
        const ids = [...doc.nodes.keys()].sort();
        const id = ids[pick % ids.length]!;
        const found = asked(doc, id);
        for (const direction of ['up', 'down'] as const) {
          const { nodes, ifOn, carriers } = found[direction];
          const selected = new Set(reach(doc, testKinds, [id], direction));
          for (const one of nodes) expect(selected).toContain(one.id);
          const told = new Set([...nodes, ...ifOn].map((one) => one.id).concat(carriers));
          for (const one of selected) expect(told).toContain(one);
        }
      }),
    );
  });

  it('agree with one another, with the ways, and with what is worked out naively', () => {
    fc.assert(
      fc.property(denseArbitrary(9), (doc) => {
        const counts = countsNow(doc, testKinds);
        const nodes = [...doc.nodes.values()].filter((node) => computes(doc, node));
        const up = new Map(
          nodes.map(({ id }) => [id, counts.has(id) ? upstream(doc, testKinds, id) : new Set<string>()]),
        );
        const found = new Map(nodes.map(({ id }) => [id, asked(doc, id)]));
        for (const a of nodes)
          for (const b of nodes) {
            if (a === b) continue;
            const depends = up.get(b.id)!.has(a.id);
            expect(found.get(b.id)!.up.nodes.some(({ id }) => id === a.id)).toBe(depends);
            expect(found.get(a.id)!.down.nodes.some(({ id }) => id === b.id)).toBe(depends);
            const ways = pathsBetween(doc, testKinds, a.id, b.id);
            expect(ways !== undefined && !ways.ifOn).toBe(depends || up.get(a.id)!.has(b.id));
          }
      }),
      { numRuns: 60 },
    );
  });

  it('name exactly what computes something else when a parameter changes', () => {
    fc.assert(
      fc.property(denseArbitrary(), (doc) => {
        const graph = dependencyGraph(doc, testKinds);
        const hashes = nodeHashes(doc, testKinds);
        const counts = countsNow(doc, testKinds);
        for (const node of [...doc.nodes.values()].filter(({ kind }) => kind === 'src').slice(0, 3)) {
          const other = { ...doc, nodes: new Map(doc.nodes).set(node.id, { ...node, params: { value: 0.5 } }) };
          // an expression that goes changes what depends on what
          if (isExpression(node.params?.value ?? null)) continue;
          const now = nodeHashes(other, testKinds);
          const changed = graph.nodes.flatMap(({ id }, i) => (hashes[i] !== now[i] && counts.has(id) ? [id] : []));
          const told = [
            ...asked(doc, node.id).down.nodes.map(({ id }) => id),
            ...(counts.has(node.id) ? [node.id] : []),
          ];
          expect(new Set(told)).toEqual(new Set(changed));
        }
      }),
    );
  });

  it('foresee which ends lose an input, through every carrier and level', async () => {
    await fc.assert(
      fc.asyncProperty(denseArbitrary(12), fc.nat(), async (doc, pick) => {
        const ids = [...doc.nodes.values()].filter(({ graph }) => graph === 'root').map(({ id }) => id);
        const id = ids[pick % ids.length]!;
        const { gone } = asked(doc, id);
        const { doc: after } = await act('delete', doc, [id]);
        for (const { end, inputs } of gone.starved) {
          expect(after.nodes.has(end)).toBe(true);
          for (const { node, port, way } of inputs) {
            expect(sourceOf(doc, testKinds, { node, port })).toBeDefined();
            expect(sourceOf(after, testKinds, { node, port })).toBeUndefined();
            expect(upstream(after, testKinds, end).has(node)).toBe(true);
            expect([way[0], way.at(-1)]).toEqual([node, end]);
          }
        }
        // and none is missed
        const starved = new Set(gone.starved.map(({ end }) => end));
        const graph = dependencyGraph(doc, testKinds);
        for (const i of endsOf(doc, testKinds, graph)) {
          const end = graph.nodes[i]!.id;
          if (!after.nodes.has(end) || starved.has(end)) continue;
          for (const one of upstream(after, testKinds, end)) {
            const node = after.nodes.get(one)!;
            if (node.bypassed || !computes(after, node)) continue;
            for (const port of node.ports)
              if (port.direction === 'in' && sourceOf(doc, testKinds, { node: one, port: port.id }))
                expect(sourceOf(after, testKinds, { node: one, port: port.id })).toBeDefined();
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('foresee what deleting really leaves open', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(14), fc.nat(), async (doc, pick) => {
        const nodes = [...doc.nodes.values()].filter(
          (node) => node.graph === 'root' && node.inner === undefined && !testKinds.isFixture(node.kind),
        );
        const node = nodes[pick % Math.max(1, nodes.length)];
        if (!node) return;
        const foreseen = asked(doc, node.id).gone.opened.map((item) => item.message);
        const { report } = await act('delete', doc, [node.id]);
        expect(
          report.findings
            .filter((item) => item.rule === 'input-opened' || item.rule === 'lost-tap')
            .map((item) => item.message),
        ).toEqual(
          foreseen.filter((_, i) => ['input-opened', 'lost-tap'].includes(asked(doc, node.id).gone.opened[i]!.rule)),
        );
      }),
      { numRuns: 40 },
    );
  });
});

describe('paths between two nodes', () => {
  it('are counted, whichever is given first, with what each of them passes', () => {
    const doc = diamond();
    for (const paths of [pathsBetween(doc, testKinds, 's', 'e'), pathsBetween(doc, testKinds, 'e', 's')]) {
      expect(paths).toMatchObject({ from: 's', to: 'e', count: 2, passed: ['m'] });
      expect(new Set(paths!.all)).toEqual(new Set(['s', 'a', 'b', 'r', 'bc', 'tp', 'm', 'e']));
      expect(paths!.shortest).toHaveLength(4);
    }
    expect(pathsBetween(doc, testKinds, 't', 'a')).toBeUndefined();
  });

  it('begin and end at carriers too', () => {
    const doc = diamond();
    expect(pathsBetween(doc, testKinds, 'tp', 'e')).toMatchObject({ from: 'tp', to: 'e', count: 1 });
    expect(pathsBetween(doc, testKinds, 's', 'bc')).toMatchObject({ count: 1 });
  });

  it('pass what cuts the one off from the other when it is taken away', () => {
    fc.assert(
      fc.property(docArbitrary(18), fc.nat(), fc.nat(), (doc, i, k) => {
        const nodes = effectiveWiring(doc, testKinds).nodes;
        const [a, b] = [nodes[i % Math.max(1, nodes.length)], nodes[k % Math.max(1, nodes.length)]];
        if (!a || !b || a === b) return;
        const paths = pathsBetween(doc, testKinds, a.id, b.id);
        for (const id of paths?.passed ?? []) {
          const graph = dependencyGraph(doc, testKinds);
          const closed = new Set([graph.at.get(id)!]);
          const todo = [graph.at.get(paths!.from)!];
          const seen = new Set(todo);
          for (let at = todo.pop(); at !== undefined; at = todo.pop())
            for (const next of graph.after[at]!)
              if (!closed.has(next) && !seen.has(next)) {
                seen.add(next);
                todo.push(next);
              }
          expect(seen.has(graph.at.get(paths!.to)!)).toBe(false);
        }
      }),
    );
  });
});
