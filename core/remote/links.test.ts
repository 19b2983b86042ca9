import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf, overlaps, rectOf } from '../document/geometry.ts';
import { seededRandom } from '../document/ids.ts';
import { apply } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { measureGraph } from '../inspect/measure.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { plainRoute } from '../route/route.ts';
import { Refused } from '../said.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { effectiveWiring } from '../wiring/effective.ts';
import { advise, figuresOf, plainLines } from './advice.ts';
import { leadsToBeacon } from './links.ts';

const run = async (doc: Doc, id: string, items: readonly string[], options: unknown = {}, graph = 'root') => {
  const outcome = await runOperation(id, createContext(testKinds, doc.nodes.size), doc, { graph, items }, options);
  return { ...outcome, doc: apply(doc, outcome.edit) };
};

/** The source of every input of every node that computes. */
function sources(doc: Doc): Record<string, string> {
  const wiring = effectiveWiring(doc, testKinds);
  const found: Record<string, string> = {};
  for (const node of wiring.nodes)
    for (const port of node.ports) {
      const source = port.direction === 'in' ? wiring.source(node.id, port.id) : undefined;
      if (source) found[`${node.id}.${port.id}`] = `${source.node}.${source.port}`;
    }
  return found;
}

const boundaries = (doc: Doc): number =>
  [builtin.input, builtin.output].reduce((sum, kind) => sum + indexOf(doc).nodesOfKind(kind).length, 0);

const seeds = fc.tuple(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 4, max: 22 }));
const sharing = (random: () => number) => (['input', 'node', 'frame'] as const)[Math.floor(random() * 3)]!;

/** Turns random wires of every graph into links. */
async function linked(doc: Doc, random: () => number): Promise<Doc> {
  let after = doc;
  for (const graph of doc.graphs.keys()) {
    const wires = indexOf(after)
      .wiresIn(graph)
      .filter((wire) => random() < 0.5 && !leadsToBeacon(after, wire))
      .map((wire) => wire.id);
    if (wires.length > 0) ({ doc: after } = await run(after, 'to-links', wires, { taps: sharing(random) }, graph));
  }
  return after;
}

describe('turning wires into links', () => {
  it('leaves what feeds what, and both fingerprints, as they were, in nested graphs too; twice over as well', async () => {
    let links = 0;
    await fc.assert(
      fc.asyncProperty(seeds, async ([seed, size]) => {
        const doc = docFromSeed(seed, size);
        const random = seededRandom(seed);
        const once = await linked(doc, random);
        const twice = await linked(once, random);
        for (const after of [once, twice]) {
          expect(sources(after)).toEqual(sources(doc));
          expect(fingerprint(after, testKinds)).toEqual(fingerprint(doc, testKinds));
        }
        links += indexOf(twice).nodesOfKind(builtin.tap).length;
      }),
      { numRuns: 150 },
    );
    expect(links).toBeGreaterThan(500);
  }, 60_000);

  it('and drawing all as wires again is nothing', async () => {
    await fc.assert(
      fc.asyncProperty(seeds, async ([seed, size]) => {
        const doc = docFromSeed(seed, size);
        let after = await linked(doc, seededRandom(seed));
        for (const graph of doc.graphs.keys()) {
          const ends = indexOf(after)
            .nodesIn(graph)
            .filter((node) => node.kind === builtin.beacon)
            .map((node) => node.id);
          if (ends.length > 0) ({ doc: after } = await run(after, 'to-wires', ends, {}, graph));
        }
        expect(plainDoc(after)).toEqual(plainDoc(doc));
      }),
      { numRuns: 150 },
    );
  }, 60_000);

  it('works over borders: a tap in another graph becomes wires through ports, and what feeds what stays', async () => {
    let crossed = 0;
    await fc.assert(
      fc.asyncProperty(seeds, async ([seed, size]) => {
        const random = seededRandom(seed);
        let doc = await linked(docFromSeed(seed, size), random);
        // taps into and out of the nested graph, wherever one may be
        for (const graph of doc.graphs.keys())
          for (const beacon of indexOf(doc).nodesOfKind(builtin.beacon)) {
            const takers = indexOf(doc).nodesIn(graph);
            const taker = takers[Math.floor(random() * takers.length)];
            if (!taker || random() < 0.5) continue;
            try {
              ({ doc } = await run(doc, 'tap', [taker.id], { beacon: beacon.id }, graph));
            } catch (error) {
              if (!(error instanceof Refused)) throw error;
            }
          }
        const before = sources(doc);
        for (const graph of doc.graphs.keys()) {
          const ends = indexOf(doc)
            .nodesIn(graph)
            .filter((node) => node.kind === builtin.tap)
            .map((node) => node.id);
          if (ends.length === 0) continue;
          const ports = boundaries(doc);
          ({ doc } = await run(doc, 'to-wires', ends, {}, graph));
          crossed += boundaries(doc) - ports;
          expect(sources(doc)).toEqual(before);
        }
      }),
      { numRuns: 150 },
    );
    expect(crossed).toBeGreaterThan(0);
  }, 60_000);

  it('puts beacons and taps where nothing lies, and moves nothing', async () => {
    await fc.assert(
      fc.asyncProperty(seeds, async ([seed, size]) => {
        const doc = docFromSeed(seed, size);
        const after = await linked(doc, seededRandom(seed));
        const fresh = [...after.nodes.values()].filter((node) => !doc.nodes.has(node.id));
        for (const node of doc.nodes.values())
          expect([after.nodes.get(node.id)!.x, after.nodes.get(node.id)!.y]).toEqual([node.x, node.y]);
        for (const node of fresh)
          for (const other of indexOf(after).nodesIn(node.graph))
            if (other.id !== node.id)
              expect(overlaps(rectOf(after, testKinds, node), rectOf(after, testKinds, other))).toBe(false);
      }),
      { numRuns: 60 },
    );
  }, 60_000);
});

describe('standing feeds', () => {
  it('never override a drawn wire, never feed what is upstream of their source, and supply each input once', async () => {
    let supplied = 0;
    await fc.assert(
      fc.asyncProperty(seeds, fc.integer({ min: 1, max: 4 }), async ([seed, size], count) => {
        const random = seededRandom(seed);
        let doc = docFromSeed(seed, size);
        for (let i = 0; i < count; i++) {
          const nodes = [...doc.nodes.values()];
          const node = nodes[Math.floor(random() * nodes.length)]!;
          try {
            ({ doc } = await run(
              doc,
              'standing-feed',
              [node.id],
              { scope: random() < 0.5 ? 'frame' : 'graph', types: random() < 0.5 ? 'num' : '' },
              node.graph,
            ));
          } catch (error) {
            if (!(error instanceof Refused)) throw error;
          }
        }
        const wiring = effectiveWiring(doc, testKinds);
        const seen = new Set<string>();
        for (const feed of indexOf(doc).nodesOfKind(builtin.feed)) {
          for (const { node, port } of wiring.suppliedBy(feed.id)) {
            expect(indexOf(doc).wireInto(node, port)).toBeUndefined();
            expect(seen.has(`${node}.${port}`)).toBe(false);
            seen.add(`${node}.${port}`);
            supplied++;
          }
        }
        // what is wired is as if there were no feed
        const bare = effectiveWiring(
          { ...doc, nodes: new Map([...doc.nodes].filter(([, node]) => node.kind !== builtin.feed)) },
          testKinds,
        );
        for (const wire of doc.wires.values()) {
          const [mine, theirs] = [wiring, bare].map((one) => one.source(wire.to.node, wire.to.port));
          expect(mine && [mine.node, mine.port]).toEqual(theirs && [theirs.node, theirs.port]);
        }
      }),
      { numRuns: 200 },
    );
    expect(supplied).toBeGreaterThan(10);
  }, 60_000);

  it('taking away the wires that a feed makes needless leaves what feeds what', async () => {
    await fc.assert(
      fc.asyncProperty(seeds, async ([seed, size]) => {
        const doc = docFromSeed(seed, size);
        for (const node of doc.nodes.values()) {
          let kept: Doc;
          let taken: Doc;
          try {
            ({ doc: kept } = await run(doc, 'standing-feed', [node.id], {}, node.graph));
            ({ doc: taken } = await run(doc, 'standing-feed', [node.id], { takeWires: true }, node.graph));
          } catch (error) {
            if (error instanceof Refused) continue;
            throw error;
          }
          expect(sources(taken)).toEqual(sources(kept));
        }
      }),
      { numRuns: 40 },
    );
  }, 60_000);
});

/** Sources on the left in one order, takers on the right in another, some far off. */
function tangle(seed: number, count: number): Doc {
  const random = seededRandom(seed);
  const pad = sketchDoc();
  for (let i = 0; i < count; i++) pad.node(`s${i}`, 'src', { x: random() * 200, y: i * 70 });
  for (let i = 0; i < count * 3; i++) {
    pad.node(`t${i}`, 'tint', { x: 700 + random() * 4000, y: random() * count * 90 });
    pad.wire(`s${Math.floor(random() * random() * count)}.out`, `t${i}.amount`);
  }
  return pad.doc;
}

describe('advice', () => {
  const context = createContext(testKinds, 1);

  it.each([1, 2, 3, 4, 5])('says of each candidate what counting again after it finds (seed %i)', async (seed) => {
    const doc = tangle(seed, 12);
    const advice = advise(context, doc, 'root', { share: 0.3 });
    expect(advice.candidates.length).toBeGreaterThan(1);
    expect(advice.before).toEqual(figuresOf(plainLines(doc, testKinds, 'root').lines));
    for (const { from, wires, name, saves } of advice.candidates) {
      const { doc: after } = await run(doc, 'to-links', [], { links: [{ from, wires, name }] });
      const now = figuresOf(plainLines(after, testKinds, 'root').lines);
      expect([now.crossings, now.windows]).toEqual([
        advice.before.crossings - saves.crossings,
        advice.before.windows - saves.windows,
      ]);
      // lengths are rounded once on each side
      expect(Math.abs(advice.before.length - saves.length - now.length)).toBeLessThanOrEqual(2);
    }
    // drawn in a style in which wires do not mind one another, these are the measures of the whole graph
    const straight = { ...doc, head: { ...doc.head, wireStyle: 'straight' as const } };
    const { before } = advise(context, straight, 'root', { share: 0.3 });
    const measured = measureGraph(straight, testKinds, 'root');
    expect(before).toEqual({ crossings: measured.crossings, length: measured.length, windows: measured.windows });
    expect(plainRoute(straight, testKinds, [...straight.wires.values()][0]!, flowOf(straight, 'root'))).toHaveLength(2);
  });

  it('keeps to its share of the wires, takes no wire twice, and halves the crossings', async () => {
    for (const seed of [1, 2, 3, 4, 5]) {
      const doc = tangle(seed, 14);
      const { candidates, before, wires } = advise(context, doc, 'root', { share: 0.5 });
      const advised = candidates.filter((one) => one.isAdvised).flatMap((one) => one.wires);
      expect(advised.length).toBeLessThanOrEqual(wires * 0.5);
      const all = candidates.flatMap((one) => one.wires);
      expect(new Set(all).size).toBe(all.length);
      const { doc: after } = await run(doc, 'link-advised', [], { share: 0.5 });
      expect(figuresOf(plainLines(after, testKinds, 'root').lines).crossings).toBeLessThanOrEqual(before.crossings / 2);
    }
  });

  it('has nothing to say where nothing hurts, and looks only at the nodes that are meant', () => {
    const pad = sketchDoc().node('a', 'src').node('b', 'round', { x: 200 }).wire('a.out', 'b.in');
    expect(advise(context, pad.doc, 'root', { share: 1 }).candidates).toEqual([]);
    const doc = tangle(3, 12);
    const { candidates } = advise(context, doc, 'root', { share: 0.3, at: new Set(['s0']) });
    expect(new Set(candidates.map((one) => one.from.node))).toEqual(new Set(['s0']));
  });

  it('is greedy: no single other output saves more for each wire than the first', () => {
    const doc = tangle(2, 12);
    const { candidates } = advise(context, doc, 'root', { share: 0.1 });
    const [first] = candidates;
    // hand-made check over all single wires: a beacon and one tap for one wire save at most what the first saves for
    // each of its wires and its beacon
    const { lines, wires } = plainLines(doc, testKinds, 'root');
    const alone = wires.map((wire, i) => {
      const rest = lines.filter((_, k) => k !== i);
      const [all, without] = [figuresOf(lines), figuresOf(rest)];
      return { wire, worth: (all.crossings - without.crossings + 2 * (all.windows - without.windows)) / 2 };
    });
    const chosen = alone.filter((one) => first!.wires.includes(one.wire.id));
    const worth = (chosen.reduce((sum, one) => sum + 2 * one.worth, 0) / (chosen.length + 1)) as number;
    for (const one of alone) expect(one.worth).toBeLessThanOrEqual(worth + 1e-9);
  });
});
