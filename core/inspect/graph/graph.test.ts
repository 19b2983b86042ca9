import fc from 'fast-check';
import { DirectedGraph } from 'graphology';
import { topologicalSort } from 'graphology-dag';
import { bidirectional } from 'graphology-shortest-path/unweighted.js';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '../../document/ids.ts';
import { schedule } from './critical-path.ts';
import { reachable, reversed } from './dependency-graph.ts';
import { dominators } from './dominators.ts';
import { waysBetween } from './paths.ts';
import { transitiveReduction } from './reduction.ts';

type Edges = readonly (readonly number[])[];

/** Random edges; without cycles each leads to a higher number. */
function randomEdges(seed: number, nodes: number, degree: number, acyclic: boolean): number[][] {
  const random = seededRandom(seed);
  const sets = Array.from({ length: nodes }, () => new Set<number>());
  for (let e = 0; e < nodes * degree; e++) {
    const [a, b] = [Math.floor(random() * nodes), Math.floor(random() * nodes)];
    if (!acyclic || a < b) sets[a]!.add(b);
  }
  return sets.map((set) => [...set]);
}

const graphs = (acyclic: boolean) =>
  fc
    .record({
      seed: fc.nat(),
      nodes: fc.integer({ min: 1, max: 24 }),
      degree: fc.double({ min: 0, max: 3, noNaN: true }),
    })
    .map(({ seed, nodes, degree }) => randomEdges(seed, nodes, degree, acyclic));

function graphologyOf(edges: Edges): DirectedGraph {
  const graph = new DirectedGraph();
  edges.forEach((_, i) => {
    graph.addNode(String(i));
  });
  edges.forEach((list, i) => {
    for (const k of list) graph.mergeEdge(String(i), String(k));
  });
  return graph;
}

describe('dominators', () => {
  it('are those of the example of Lengauer and Tarjan (1979), figure 1, from memory', () => {
    const names = 'RABCDEFGHIJKL';
    const leads: Record<string, string> = {
      R: 'ABC',
      A: 'D',
      B: 'ADE',
      C: 'FG',
      D: 'L',
      E: 'H',
      F: 'I',
      G: 'IJ',
      H: 'EK',
      I: 'K',
      J: 'I',
      K: 'IR',
      L: 'H',
    };
    const edges = [...names].map((name) => [...leads[name]!].map((to) => names.indexOf(to)));
    const found = dominators(edges, reversed(edges), 0);
    expect(Object.fromEntries([...names].slice(1).map((name, i) => [name, names[found[i + 1]!]]))).toEqual({
      A: 'R',
      B: 'R',
      C: 'R',
      D: 'R',
      E: 'R',
      F: 'C',
      G: 'C',
      H: 'R',
      I: 'R',
      J: 'G',
      K: 'R',
      L: 'D',
    });
    expect(found[0]).toBe(-1);
  });

  it('are what cuts a node off when it is taken away, by definition', () => {
    fc.assert(
      fc.property(graphs(false), (edges) => {
        const back = reversed(edges);
        const found = dominators(edges, back, 0);
        const all = reachable(edges, [0]);
        for (let i = 0; i < edges.length; i++) {
          const chain = new Set<number>();
          for (let d = found[i]!; d !== -1; d = found[d]!) chain.add(d);
          const cutting = [...all].filter(
            (d) => d !== i && all.has(i) && i !== 0 && !reachable(edges, [0], new Set([d])).has(i),
          );
          expect(chain).toEqual(new Set(cutting));
        }
      }),
    );
  });
});

describe('ways between nodes', () => {
  it('count what stands on them as counting them one by one does, and the shortest is as short as graphology’s', () => {
    fc.assert(
      fc.property(graphs(true), (edges) => {
        const last = edges.length - 1;
        const ways: number[][] = [];
        const walk = (way: number[]): void => {
          const at = way.at(-1)!;
          if (at === last) ways.push(way);
          else for (const next of edges[at]!) walk([...way, next]);
        };
        walk([0]);
        const found = waysBetween(edges, reversed(edges), new Set([0]), new Set([last]));
        expect(found?.count ?? 0).toBe(ways.length);
        if (!found) return;
        expect(found.all).toEqual(new Set(ways.flat()));
        expect(new Set(found.passed)).toEqual(
          new Set(edges.map((_, i) => i).filter((i) => ways.every((way) => way.includes(i)))),
        );
        expect(found.shortest).toHaveLength(bidirectional(graphologyOf(edges), '0', String(last))!.length);
      }),
    );
  });

  it('have no end where a cycle lies on one', () => {
    const edges = [[1], [2], [1, 3], []];
    expect(waysBetween(edges, reversed(edges), new Set([0]), new Set([3]))).toMatchObject({
      count: undefined,
      shortest: [0, 1, 2, 3],
      passed: [0, 1, 2, 3],
    });
  });
});

describe('the critical path', () => {
  // A textbook network of eight activities (common practice in project planning; times and answer from memory): A 3, B
  // 4, C 2, D 5, E 1, F 2, G 4, H 3.
  it('is that of a textbook’s example, with its earliest and latest starts and slack', () => {
    const names = 'ABCDEFGH';
    const times = [3, 4, 2, 5, 1, 2, 4, 3];
    const waits: Record<string, string> = { A: '', B: 'A', C: 'A', D: 'B', E: 'C', F: 'C', G: 'DE', H: 'FG' };
    const before = [...names].map((name) => [...waits[name]!].map((one) => names.indexOf(one)));
    const found = schedule(before, times);
    expect(found.length).toBe(19);
    expect(found.path.map((i) => names[i])).toEqual(['A', 'B', 'D', 'G', 'H']);
    expect([...found.earliest]).toEqual([0, 3, 3, 7, 5, 5, 12, 16]);
    expect([...found.latest]).toEqual([0, 3, 9, 7, 11, 14, 12, 16]);
    expect([...found.slack]).toEqual([0, 0, 6, 0, 6, 9, 0, 0]);
  });

  it('is as long as the longest path found in graphology’s topological order', () => {
    fc.assert(
      fc.property(graphs(true), fc.nat(), (edges, seed) => {
        const random = seededRandom(seed);
        const times = edges.map(() => Math.floor(random() * 20));
        const longest = new Map<string, number>();
        const graph = graphologyOf(edges);
        for (const i of topologicalSort(graph))
          longest.set(i, times[Number(i)]! + Math.max(0, ...graph.inNeighbors(i).map((one) => longest.get(one)!)));
        const found = schedule(reversed(edges), times);
        expect(found.length).toBe(Math.max(...longest.values()));
        expect(found.path.reduce((sum, i) => sum + times[i]!, 0)).toBe(found.length);
        // what stands on the path leads from one to the next, and has no slack
        found.path.forEach((i, k) => {
          expect(found.slack[i]).toBe(0);
          if (k > 0) expect(edges[found.path[k - 1]!]).toContain(i);
        });
        // a node can begin at its latest only after all that it waits for
        edges.forEach((list, i) => {
          for (const k of list) expect(found.latest[i]! + times[i]!).toBeLessThanOrEqual(found.latest[k]!);
        });
      }),
    );
  });

  it('takes a cycle as one that lasts as long as all of it', () => {
    const found = schedule([[], [0, 2], [1], [2]], [1, 2, 3, 4]);
    expect(found.length).toBe(10);
    expect(found.path).toHaveLength(4);
  });
});

describe('the transitive reduction', () => {
  it('is that of a small case worked by hand: the edges that follow from others go', () => {
    expect(transitiveReduction([[1, 2, 3, 4], [3], [3], [4], []])).toEqual([[1, 2], [3], [3], [4], []]);
  });

  it('leads to the same nodes, and with none of its edges left out it would not, by definition (Aho, Garey & Ullman 1972)', () => {
    fc.assert(
      fc.property(graphs(true), (edges) => {
        const reduced = transitiveReduction(edges);
        edges.forEach((_, i) => {
          expect(reachable(reduced, [i])).toEqual(reachable(edges, [i]));
          for (const k of reduced[i]!) {
            expect(edges[i]).toContain(k);
            const less = reduced.map((list, from) => (from === i ? list.filter((to) => to !== k) : list));
            expect(reachable(less, [i]).has(k)).toBe(false);
          }
        });
      }),
    );
  });

  it('leads to the same nodes in graphs with cycles too', () => {
    fc.assert(
      fc.property(graphs(false), (edges) => {
        const reduced = transitiveReduction(edges);
        edges.forEach((_, i) => {
          expect(reachable(reduced, [i])).toEqual(reachable(edges, [i]));
        });
      }),
    );
  });
});
