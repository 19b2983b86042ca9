import fc from 'fast-check';
import modularity from 'graphology-metrics/graph/modularity.js';
import { describe, expect, it } from 'vitest';
import { type Doc, indexOf } from '../document/doc.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { act } from '../tests/acts.ts';
import { docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { kinship, proposeRegions } from './propose.ts';

const options = { least: 3, grain: 1, seed: 1 };
const nodesOf = (doc: Doc) => indexOf(doc).nodesIn('root');

/** Two chains of five with one wire between them, far apart. */
function chains(prefix: (group: number, i: number) => string = (group, i) => `N${group}${i}`): Doc {
  const pad = sketchDoc();
  for (const group of [0, 1]) {
    for (let i = 0; i < 5; i++)
      pad.node(`g${group}n${i}`, 'add', { name: prefix(group, i), x: i * 200, y: group * 2000 });
    for (let i = 1; i < 5; i++) pad.wire(`g${group}n${i - 1}.out`, `g${group}n${i}.a`);
  }
  return pad.wire('g0n4.out', 'g1n0.a').doc;
}

/** Modularity by its definition: Newman & Girvan (2004), with weights. */
function modularityOf(edges: readonly (readonly [string, string, number])[], of: (id: string) => number): number {
  const total = edges.reduce((sum, [, , weight]) => sum + weight, 0);
  const [inside, degree] = [new Map<number, number>(), new Map<number, number>()];
  for (const [a, b, weight] of edges) {
    if (of(a) === of(b)) inside.set(of(a), (inside.get(of(a)) ?? 0) + weight);
    for (const end of [a, b]) degree.set(of(end), (degree.get(of(end)) ?? 0) + weight);
  }
  return [...degree].reduce(
    (sum, [group, held]) => sum + (inside.get(group) ?? 0) / total - (held / (2 * total)) ** 2,
    0,
  );
}

describe('regions', () => {
  it('are what hangs together, titled by what their names share, and know who else would lie inside', () => {
    const found = proposeRegions(
      chains((group, i) => `${group === 0 ? 'Kelp' : 'Shoal'}_${['a', 'b', 'c', 'd', 'e'][i]}`),
      testKinds,
      nodesOf(chains()).map((node) => node),
      options,
    );
    expect(found).toHaveLength(2);
    const named = chains((group, i) => `${group === 0 ? 'Kelp' : 'Shoal'}_${['a', 'b', 'c', 'd', 'e'][i]}`);
    const regions = proposeRegions(named, testKinds, nodesOf(named), options);
    expect(regions.map(({ title, nodes, strangers }) => [title, nodes.length, strangers])).toEqual([
      ['Kelp', 5, 0],
      ['Shoal', 5, 0],
    ]);
    const crowded = sketchDoc(named).node('x', 'end', { x: 300, y: 0, name: 'Aside' }).doc;
    expect(
      proposeRegions(
        crowded,
        testKinds,
        nodesOf(crowded).filter((node) => node.id !== 'y'),
        { ...options, least: 6 },
      ),
    ).toEqual(expect.any(Array));
  });

  it('are found in what is in no frame, and only where enough hang together', () => {
    const framed = {
      ...chains(),
      nodes: new Map(
        [...chains().nodes].map(([id, node]) => [id, id.startsWith('g0') ? { ...node, frame: 'f' } : node]),
      ),
    };
    const doc = sketchDoc(framed).frame('f').doc;
    expect(
      proposeRegions(doc, testKinds, nodesOf(doc), options).map((region) =>
        region.nodes.every((id) => id.startsWith('g1')),
      ),
    ).toEqual([true]);
    expect(proposeRegions(chains(), testKinds, nodesOf(chains()), { ...options, least: 6 })).toEqual([]);
    expect(proposeRegions(sketchDoc().node('a', 'src').doc, testKinds, [], options)).toEqual([]);
  });

  it('cut the graph no worse than the two obvious halves, by modularity as defined and as the reference library counts it', () => {
    const doc = chains();
    const graph = kinship(doc, testKinds, [...nodesOf(doc)]);
    const regions = proposeRegions(doc, testKinds, nodesOf(doc), { ...options, least: 2 });
    const groupOf = new Map(regions.flatMap((region, i) => region.nodes.map((id) => [id, i])));
    const edges = graph.mapEdges((_, { weight }, a, b) => [a, b, weight as number] as const);
    const own = modularityOf(edges, (id) => groupOf.get(id)!);
    graph.forEachNode((id) => graph.setNodeAttribute(id, 'community', groupOf.get(id)));
    // graphology-metrics, graph/modularity
    expect(own).toBeCloseTo(modularity(graph, { getEdgeWeight: 'weight' }), 10);
    expect(own).toBeGreaterThanOrEqual(modularityOf(edges, (id) => Number(id[1])) - 1e-9);
  });

  it('never overlap in members, are the same for the same seed, and are framed without moving one of their nodes beside another', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 3, max: 40 }), async (seed, size) => {
        const doc = docFromSeed(seed, size);
        const regions = proposeRegions(doc, testKinds, nodesOf(doc), options);
        expect(
          proposeRegions(doc, testKinds, [...nodesOf(doc)].reverse(), options).map((region) => region.nodes),
        ).toEqual(regions.map((region) => region.nodes));
        const all = regions.flatMap((region) => region.nodes);
        expect(new Set(all).size).toBe(all.length);
        expect(all.every((id) => doc.nodes.get(id)!.frame === undefined)).toBe(true);
        if (regions.length === 0) return;
        const after = apply(
          doc,
          (await runOperation('propose-frames', createContext(testKinds, 1), doc, { graph: 'root', items: [] })).edit,
        );
        for (const node of doc.nodes.values())
          expect(after.nodes.get(node.id)!.frame !== node.frame).toBe(all.includes(node.id));
        for (const { nodes } of regions) {
          const shifts = nodes.map(
            (id) => `${after.nodes.get(id)!.x - doc.nodes.get(id)!.x} ${after.nodes.get(id)!.y - doc.nodes.get(id)!.y}`,
          );
          expect(new Set(shifts).size).toBe(1);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('may be accepted one by one, under other titles', async () => {
    const { doc, report } = await act('propose-frames', chains(), [], {
      regions: [{ title: ' Upper row ', nodes: ['g0n0', 'g0n1', 'gone'] }],
    });
    expect(doc.frames.get(report.select![0]!)!.title).toBe('Upper row');
    expect(report.findings.map((item) => item.message)).toEqual(['1 of “ Upper row ” are gone, or in a frame by now.']);
    await expect(act('propose-frames', sketchDoc().node('a', 'src').doc, [])).rejects.toThrow('No region was found');
  });
});
