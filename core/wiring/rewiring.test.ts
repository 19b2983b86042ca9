import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin, isBoundary } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { idMaker, type Random, seededRandom } from '../document/ids.ts';
import { Kinds } from '../document/kinds.ts';
import type { GraphNode } from '../document/schema.ts';
import { problems } from '../document/validate.ts';
import { apply, invert } from '../edit/step.ts';
import { Transaction } from '../edit/transaction.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { stronglyConnected } from '../inspect/graph/components.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { copyText } from '../structure/clipboard.ts';
import { docFromSeed, plainDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { Candidates } from './candidates.ts';
import { connectProblem, portsAndParts, typeProblem } from './connect.ts';
import { type EffectiveWiring, effectiveWiring, type Source } from './effective.ts';
import { inputChanges } from './input-changes.ts';
import { replaceKind } from './replace.ts';
import { Wiring } from './wiring.ts';

// Random acts on random documents: what has to hold whatever was done.

const strict = new Kinds({ ...testCatalogue, loops: 'forbidden' });

type Act = readonly [operation: string, items: readonly string[], options?: unknown];

async function act(doc: Doc, [operation, items, options]: Act, kinds = testKinds, graph = 'root') {
  return runOperation(
    operation,
    createContext(kinds, doc.nodes.size * 1000 + doc.wires.size),
    doc,
    { graph, items },
    options,
  );
}

/** Does an act, or leaves the document where it is refused with a reason. */
async function tried(doc: Doc, one: Act, kinds = testKinds, graph = 'root'): Promise<Doc> {
  try {
    return apply(doc, (await act(doc, one, kinds, graph)).edit);
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    expect(error.message).toMatch(/[.!]$/);
    return doc;
  }
}

const pick = <T>(random: Random, list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
const chosen = <T>(random: Random, list: readonly T[], share: number): T[] => list.filter(() => random() < share);

/** Beacons and taps of all graphs. */
const linkEnds = (doc: Doc): string[] =>
  [builtin.beacon, builtin.tap].flatMap((kind) => indexOf(doc).nodesOfKind(kind)).map((node) => node.id);

/** An act of any kind on the root graph, with whatever ends and nodes are there. */
function anyAct(doc: Doc, random: Random): Act {
  const nodes = indexOf(doc).nodesIn('root');
  const wires = indexOf(doc).wiresIn('root');
  // now and then what lies in other graphs too, as the API could name it
  const ids = random() < 0.15 ? [...doc.nodes.keys()] : nodes.map((node) => node.id);
  const some = chosen(random, ids, 0.2);
  const wire = pick(random, random() < 0.15 ? [...doc.wires.values()] : wires);
  const end = (direction: 'in' | 'out', anywhere = false) => {
    const node = pick(random, anywhere ? [...doc.nodes.values()] : nodes);
    const port = node && pick(random, portsAndParts(testKinds, node, direction));
    return { node: node?.id ?? 'nobody', port: port?.id ?? 'none' };
  };
  const kind = pick(random, ['src', 'add', 'tint', 'round', 'sum', 'wind', 'bend', 'measure', builtin.reroute])!;
  const flip = random() < 0.5;
  const acts: (() => Act)[] = [
    () => ['connect', [], { from: end('out'), to: end('in'), replace: flip }],
    () => ['connect', [], { from: end('out', true), to: end('in', true), replace: flip, across: true }],
    () => ['connect', [], { from: { node: end('out').node }, to: { node: end('in').node } }],
    () => ['connect-selected', some, { pairs: flip ? 'all' : 'next', replace: random() < 0.5 }],
    () => ['connect-converted', [], { from: end('out'), to: end('in') }],
    () => [
      'carry-wire',
      [],
      {
        wire: wire?.id ?? 'none',
        end: flip ? 'from' : 'to',
        to: end(flip ? 'out' : 'in', true),
        replace: true,
        across: random() < 0.5,
      },
    ],
    () => [
      'add-node',
      flip && wire ? [wire.id] : some.slice(0, 1),
      { kind, where: pick(random, ['in line', 'alongside', 'by itself']) },
    ],
    () => ['add-node', [], { kind, ...(flip ? { from: end('out') } : { to: end('in') }) }],
    () => ['insert', some.slice(0, 1), { wire: wire?.id ?? 'none' }],
    () => ['pull-out', some],
    () => ['delete', some],
    () => ['delete-with-wires', some],
    () => ['cut-wires', flip && wire ? [wire.id] : some],
    () => ['switch-wires', flip && wire ? [wire.id] : some],
    () => ['bypass', some],
    () => ['swap-inputs', some.slice(0, 1)],
    () => ['replace-kind', some, { kind }],
    () => ['re-source', [], { from: wire ? wire.from : end('out'), to: end('out') }],
    () => ['reroute', wire ? [wire.id] : some],
    () => ['reroute-outputs', some, { which: pick(random, ['all', 'wired', 'loose']) }],
    () => ['components', some],
    () => ['share-value', some, { parameter: 'value', expose: flip }],
    () => ['clear-out', [], { keepOff: flip }],
    () => ['duplicate', some, { incoming: flip }],
    () => [
      'to-links',
      flip && wire ? [wire.id] : some,
      { which: pick(random, ['out', 'in', 'between']), taps: pick(random, ['input', 'node', 'frame']) },
    ],
    () => ['to-wires', flip ? linkEnds(doc) : some],
    () => ['beacon', some.slice(0, 1)],
    () => [
      'tap',
      some.slice(0, 1),
      { beacon: pick(random, linkEnds(doc)) ?? 'none', ...(flip && { to: end('in'), replace: random() < 0.5 }) },
    ],
    () => ['retune', flip ? linkEnds(doc) : some, { beacon: pick(random, linkEnds(doc)) ?? 'none' }],
    () => ['standing-feed', some.slice(0, 1), { scope: flip ? 'frame' : 'graph', takeWires: random() < 0.5 }],
    () => [
      'paste',
      [],
      {
        text: some.some((id) => doc.nodes.get(id)?.graph === 'root')
          ? copyText(doc, testKinds, { graph: 'root', items: some })
          : '',
        incoming: flip,
      },
    ],
  ];
  return pick(random, acts)!();
}

const trail = fc.tuple(
  fc.integer({ min: 0, max: 1_000_000 }),
  fc.integer({ min: 4, max: 18 }),
  fc.integer({ min: 1, max: 10 }),
);

/**
 * A document that random acts have been at, so that it has components, grown rows, reroute points and boundary ports.
 */
async function worn(seed: number, size: number, acts: number): Promise<Doc> {
  const random = seededRandom(seed);
  let doc = docFromSeed(seed, size);
  for (let i = 0; i < acts; i++) doc = await tried(doc, anyAct(doc, random));
  return doc;
}

describe('whatever is done', () => {
  it('leaves no wire at a missing port, no input with two wires, and is taken back exactly', async () => {
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const random = seededRandom(seed);
        let doc = docFromSeed(seed, size);
        for (let i = 0; i < acts; i++) {
          const one = anyAct(doc, random);
          let edit: Awaited<ReturnType<typeof act>>['edit'];
          try {
            edit = (await act(doc, one)).edit;
          } catch (error) {
            if (error instanceof Refused) continue;
            throw error;
          }
          const after = apply(doc, edit);
          expect([one[0], problems(after)]).toEqual([one[0], []]);
          expect(plainDoc(apply(after, invert(edit)))).toEqual(plainDoc(doc));
          doc = after;
        }
      }),
      { numRuns: 250 },
    );
  }, 120_000);

  it('makes no loop where the catalogue forbids them, however it is wired', async () => {
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const random = seededRandom(seed);
        let doc = docFromSeed(seed, size, { acyclic: true });
        // the nodes of the generator stand in the order of their wires, so that there is no loop to begin with
        for (let i = 0; i < acts; i++) doc = await tried(doc, anyAct(doc, random), strict);
        for (const graph of doc.graphs.keys()) expect(isAcyclic(doc, graph)).toBe(true);
        // over remote links and borders too; loops that feeds make are a finding
        if (indexOf(doc).nodesOfKind(builtin.feed).length > 0) return;
        const { nodes } = effectiveWiring(doc, strict);
        const numbers = new Map(nodes.map((node, i) => [node.id, i]));
        const before = nodes.map((node) =>
          node.ports.flatMap(
            (port) =>
              numbers.get(
                (port.direction === 'in' && effectiveWiring(doc, strict).source(node.id, port.id)?.node) || '',
              ) ?? [],
          ),
        );
        expect(
          stronglyConnected(before).filter((ring) => ring.length > 1 || before[ring[0]!]!.includes(ring[0]!)),
        ).toEqual([]);
      }),
      { numRuns: 150 },
    );
  }, 120_000);

  it('finds in a patched index what one made anew has', async () => {
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const doc = await worn(seed, size, acts);
        const fresh: Doc = {
          ...doc,
          nodes: new Map(doc.nodes),
          wires: new Map(doc.wires),
          frames: new Map(doc.frames),
          notes: new Map(doc.notes),
        };
        const [a, b] = [indexOf(doc), indexOf(fresh)];
        for (const graph of doc.graphs.keys()) {
          expect(a.nodesIn(graph)).toEqual(b.nodesIn(graph));
          expect(a.wiresIn(graph)).toEqual(b.wiresIn(graph));
          expect(a.hostOf(graph)).toEqual(b.hostOf(graph));
        }
        for (const frame of doc.frames.keys()) expect(a.membersOf(frame)).toEqual(b.membersOf(frame));
        for (const node of doc.nodes.keys()) expect(a.wiresOf(node)).toEqual(b.wiresOf(node));
      }),
      { numRuns: 60 },
    );
  });
});

/** Kahn’s order over the wires of a graph, as any textbook has it (common practice). */
function isAcyclic(doc: Doc, graph: string): boolean {
  const waits = new Map(
    indexOf(doc)
      .nodesIn(graph)
      .map((node) => [node.id, 0]),
  );
  const wires = indexOf(doc).wiresIn(graph);
  for (const wire of wires) waits.set(wire.to.node, waits.get(wire.to.node)! + 1);
  const ready = [...waits].flatMap(([id, count]) => (count === 0 ? [id] : []));
  let done = 0;
  for (let id = ready.pop(); id !== undefined; id = ready.pop()) {
    done++;
    for (const wire of wires) {
      if (wire.from.node !== id) continue;
      const left = waits.get(wire.to.node)! - 1;
      waits.set(wire.to.node, left);
      if (left === 0) ready.push(wire.to.node);
    }
  }
  return done === waits.size;
}

/** Does what comes to an input, or to the feed that supplies it, pass a remote link? */
const passesLink = (doc: Doc, wiring: EffectiveWiring, source: Source | undefined): boolean =>
  [source, source?.feed === undefined ? undefined : wiring.source(source.feed, 'in')].some((one) =>
    one?.through.some((id) => doc.nodes.get(id)?.kind === builtin.tap),
  );

describe('what an act does to inputs', () => {
  it('is found for each that takes something else, by whatever way, and said with a number', async () => {
    let changed = 0;
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const random = seededRandom(seed);
        let doc = docFromSeed(seed, size);
        for (const scope of ['graph', 'frame'])
          doc = await tried(doc, [
            'standing-feed',
            [pick(random, [...doc.nodes.keys()]) ?? ''],
            { scope, types: 'num' },
          ]);
        for (let i = 0; i < acts; i++) {
          const one = anyAct(doc, random);
          let outcome: Awaited<ReturnType<typeof act>>;
          try {
            outcome = await act(doc, one);
          } catch (error) {
            if (error instanceof Refused) continue;
            throw error;
          }
          const after = apply(doc, outcome.edit);
          // all inputs of both versions, one by one, beside those that are found without looking at all
          const [then, now] = [effectiveWiring(doc, testKinds), effectiveWiring(after, testKinds)];
          const told = ({ node, port, feed }: Partial<Source> = {}): string => `${node} ${port} ${feed}`;
          const expected: string[] = [];
          for (const node of now.nodes) {
            if (!doc.nodes.has(node.id) || node.bypassed) continue;
            for (const { id, direction } of node.ports)
              if (direction === 'in' && told(then.source(node.id, id)) !== told(now.source(node.id, id)))
                expected.push(`${node.id} ${id}`);
          }
          const found = inputChanges(doc, after, testKinds, outcome.edit);
          expect([one[0], found.map(({ node, input }) => `${node.id} ${input.id}`).sort()]).toEqual([
            one[0],
            expected.sort(),
          ]);
          const dark = found.filter((change) => change.before && !change.after).length;
          const { summary, findings } = outcome.report;
          expect(findings.filter((item) => item.rule === 'input-opened')).toHaveLength(dark);
          if (dark > 0) expect(summary).toMatch(new RegExp(`${dark} inputs? ha(s|ve) lost`));
          changed += found.length;
          doc = after;
        }
      }),
      { numRuns: 200 },
    );
    expect(changed).toBeGreaterThan(8);
  }, 120_000);
});

describe('healing', () => {
  it('gives the consumers outside exactly what they would have with the set bypassed', async () => {
    let compared = 0;
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const doc = await worn(seed, size, acts);
        const random = seededRandom(seed + 1);
        const set = chosen(
          random,
          indexOf(doc)
            .nodesIn('root')
            .filter((node) => !isBoundary(node.kind)),
          0.4,
        );
        fc.pre(set.length > 0);
        const gone = new Set(set.map((node) => node.id));
        const bypassed: Doc = {
          ...doc,
          nodes: new Map(
            [...doc.nodes].map(([id, node]) => [id, gone.has(id) ? { ...node, bypassed: true as const } : node]),
          ),
        };
        const deleted = apply(doc, (await act(doc, ['delete', [...gone]])).edit);
        const [then, now] = [effectiveWiring(bypassed, testKinds), effectiveWiring(deleted, testKinds)];
        for (const node of now.nodes) {
          // what a nested graph that went held is nobody’s consumer any more
          for (const port of node.ports) {
            if (port.direction !== 'in') continue;
            const [a, b] = [then.source(node.id, port.id), now.source(node.id, port.id)];
            // a remote link that loses an end is listed, not drawn
            if (passesLink(doc, then, a)) continue;
            expect([node.id, port.id, b && [b.node, b.port]]).toEqual([node.id, port.id, a && [a.node, a.port]]);
            compared++;
          }
        }
      }),
      { numRuns: 200 },
    );
    expect(compared).toBeGreaterThan(500);
  }, 120_000);

  it('insert then pull out is nothing', async () => {
    let inserted = 0;
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const random = seededRandom(seed + 2);
        const worked = await worn(seed, size, acts);
        const kind = pick(random, ['add', 'round', 'sum', 'tint', 'bend', 'measure', builtin.reroute])!;
        const doc = apply(worked, (await act(worked, ['add-node', [], { kind, where: 'by itself' }])).edit);
        const fresh = [...doc.nodes.keys()].find((id) => !worked.nodes.has(id))!;
        for (const wire of indexOf(doc).wiresIn('root')) {
          const inside = await tried(doc, ['insert', [fresh], { wire: wire.id }]);
          if (inside === doc) continue;
          inserted++;
          expect(plainDoc(apply(inside, (await act(inside, ['pull-out', [fresh]])).edit))).toEqual(plainDoc(doc));
        }
      }),
      { numRuns: 120 },
    );
    expect(inserted).toBeGreaterThan(100);
  }, 120_000);
});

describe('there and back', () => {
  it('swap twice is nothing', async () => {
    let swapped = 0;
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const doc = await worn(seed, size, acts);
        for (const node of indexOf(doc).nodesIn('root')) {
          const inputs = node.ports.filter((port) => port.direction === 'in');
          // the generator wires anything to what takes anything, so that not each wire fits where it is
          const wires = indexOf(doc)
            .wiresOf(node.id)
            .filter((wire) => wire.to.node === node.id);
          if (wires.some((wire) => typeProblem(doc, testKinds, wire.from, wire.to) !== undefined)) continue;
          for (const [a, b] of [
            [undefined, undefined] as const,
            ...inputs.slice(1).map((port) => [inputs[0]!.id, port.id] as const),
          ]) {
            const options = { ...(a && { a }), ...(b && { b }) };
            const once = await tried(doc, ['swap-inputs', [node.id], options]);
            if (once === doc) continue;
            swapped++;
            expect(plainDoc(await tried(once, ['swap-inputs', [node.id], options]))).toEqual(plainDoc(doc));
          }
        }
      }),
      { numRuns: 80 },
    );
    expect(swapped).toBeGreaterThan(50);
  }, 120_000);

  it('replace to the same kind is nothing, through the whole matching of ports and parameters', async () => {
    let replaced = 0;
    await fc.assert(
      fc.asyncProperty(trail, async ([seed, size, acts]) => {
        const doc = await worn(seed, size, acts);
        for (const node of doc.nodes.values()) {
          if (node.kind.startsWith('std.') || !testKinds.kind(node.kind) || !isTidy(doc, node)) continue;
          const wiring = new Wiring(new Transaction(doc), testKinds, idMaker(3));
          expect(replaceKind(wiring, node, node.kind)).toEqual([]);
          expect(plainDoc(wiring.tx.doc)).toEqual(plainDoc(doc));
          replaced++;
        }
      }),
      { numRuns: 80 },
    );
    expect(replaced).toBeGreaterThan(100);
  });
});

/** Is the node as acts of wiring leave one: components only where they are wired, rows that end in one open port? */
function isTidy(doc: Doc, node: GraphNode): boolean {
  const index = indexOf(doc);
  const isWired = (port: string, direction: 'in' | 'out'): boolean =>
    direction === 'in' ? index.wireInto(node.id, port) !== undefined : index.wiresOutOf(node.id, port).length > 0;
  if (node.ports.some((port) => port.of !== undefined && !isWired(port.id, port.direction))) return false;
  const growing = node.ports.map((port) => testKinds.growingRow(node, port.id)).find((row) => row !== undefined);
  if (!growing) return true;
  const { row, least } = growing;
  const open = row.filter((port) => !isWired(port.id, 'in'));
  return (
    open.length === 1 &&
    open[0] === row.at(-1) &&
    row.length >= least &&
    row.every((port, i) => port.id.endsWith(String(i + 1)))
  );
}

describe('clearing out', () => {
  it('keeps the fingerprint of the ends, and leaves nothing that could go', async () => {
    await fc.assert(
      fc.asyncProperty(trail, fc.boolean(), async ([seed, size, acts], keepOff) => {
        const doc = await worn(seed, size, acts);
        const cleared = await tried(doc, ['clear-out', [], { keepOff }]);
        fc.pre(cleared !== doc);
        expect(problems(cleared)).toEqual([]);
        expect(fingerprint(cleared, testKinds).ends).toBe(fingerprint(doc, testKinds).ends);
        const again = await tried(cleared, ['clear-out', [], { keepOff }]);
        expect(again.nodes.size).toBe(cleared.nodes.size);
      }),
      { numRuns: 120 },
    );
  });
});

describe('a wire in hand', () => {
  it.each([
    ['loops allowed', testKinds],
    ['loops forbidden', strict],
  ])('fits what may be wired, and gives the reason for what may not (%s)', async (_name, kinds) => {
    await fc.assert(
      fc.asyncProperty(trail, fc.boolean(), async ([seed, size, acts], isOut) => {
        const doc = await worn(seed, size, acts);
        const random = seededRandom(seed + 3);
        const direction = isOut ? 'out' : 'in';
        const node = pick(random, [...doc.nodes.values()]);
        const port = pick(random, node?.ports.filter((one) => one.direction === direction) ?? []);
        if (!node || !port) return;
        const candidates = new Candidates(doc, kinds, { fixed: { node: node.id, port: port.id }, direction });
        for (const other of doc.nodes.values()) {
          const found = candidates.of(other);
          for (const own of portsAndParts(kinds, other, isOut ? 'in' : 'out')) {
            const ends = [
              { node: node.id, port: port.id },
              { node: other.id, port: own.id },
            ] as const;
            const problem = connectProblem(doc, kinds, ends[isOut ? 0 : 1], ends[isOut ? 1 : 0], { across: true });
            expect(candidates.refusal(other, own)).toEqual(problem);
            expect(found.some((one) => one.port.id === own.id)).toBe(problem === undefined);
          }
          if (other.graph === node.graph) expect(candidates.fits(other)).toBe(found.length > 0);
        }
      }),
      { numRuns: 60 },
    );
  });
});
