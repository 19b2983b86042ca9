import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { editedProblems } from '../document/file.ts';
import type { Kinds } from '../document/kinds.ts';
import { strictKinds } from '../tests/acts.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { actedWidely } from '../tests/random-act.ts';
import { forbiddenWiring } from '../wiring/check.ts';
import { diff } from './diff.ts';
import { rebase } from './rebase.ts';
import { conflictPoints, resolve } from './resolve.ts';
import { apply, type Edit } from './step.ts';

/** What the server would refuse an edit of a document for. */
function refusals(head: Doc, edit: Edit, kinds: Kinds): string[] {
  const after = apply(head, edit);
  return [...editedProblems(after, edit), ...forbiddenWiring(head, after, kinds, edit)].map((one) => one.message);
}

function met(base: Doc, mine: Doc, theirs: Doc, kinds = testKinds) {
  const rebased = rebase(diff(base, mine), diff(base, theirs), theirs, kinds);
  return {
    ...rebased,
    points: conflictPoints({ base, mine, theirs }, rebased.conflicts),
    versions: { base, mine, theirs },
    rebased,
  };
}

/** The same wire drawn by both is one wire, under the id that was stored first. */
const byEnds = (doc: Doc): unknown =>
  plainDoc({
    ...doc,
    wires: new Map([...doc.wires.values()].map((wire) => [JSON.stringify([wire.from, wire.to]), { ...wire, id: '' }])),
  });

const severalActs = (doc: Doc, seed: number, acts: number, kinds: Kinds): Doc => {
  let now = doc;
  for (let i = 0; i < acts; i++) now = actedWidely(now, seed * 31 + i, kinds).doc;
  return now;
};

const people = fc.record({
  base: fc.tuple(fc.nat(1_000_000), fc.integer({ min: 2, max: 14 })),
  one: fc.nat(1_000_000),
  other: fc.nat(1_000_000),
  acts: fc.integer({ min: 1, max: 3 }),
  isStrict: fc.boolean(),
});

/** Two people's documents over one base. */
function scene({
  base: [seed, size],
  one,
  other,
  acts,
  isStrict,
}: typeof people extends fc.Arbitrary<infer T> ? T : never) {
  const kinds = isStrict ? strictKinds : testKinds;
  const base = docFromSeed(seed, size, { acyclic: isStrict });
  return { kinds, base, mine: severalActs(base, one, acts, kinds), theirs: severalActs(base, other, acts, kinds) };
}

describe('what two people did', () => {
  it('is stored together, or meets in a conflict: the server never refuses it afterwards, whatever was chosen', () => {
    const counts = { clean: 0, met: 0, structure: 0 };
    fc.assert(
      fc.property(people, fc.array(fc.nat(20)), (who, some) => {
        const { kinds, base, mine, theirs } = scene(who);
        // what one of them could not save alone is no matter of two
        fc.pre(
          refusals(base, diff(base, mine), kinds).length === 0 &&
            refusals(base, diff(base, theirs), kinds).length === 0,
        );
        const { edit, conflicts, points, versions, rebased } = met(base, mine, theirs, kinds);
        if (conflicts.length === 0) counts.clean++;
        else counts.met++;
        if (conflicts.some((one) => one.kind === 'structure')) counts.structure++;
        expect(refusals(theirs, edit, kinds)).toEqual([]);
        for (const chosen of [new Set(conflicts.keys()), new Set(some)]) {
          const choice = resolve(versions, rebased, chosen);
          expect(editedProblems(apply(theirs, choice.edit), choice.edit)).toEqual([]);
        }
        expect(points.flatMap((point) => point.conflicts).sort((a, b) => a - b)).toEqual([...conflicts.keys()]);
        for (const { rows } of points) for (const row of rows) expect(row.mine).not.toBe(row.theirs);
      }),
      { numRuns: 250 },
    );
    expect(Math.min(counts.clean, counts.met, counts.structure)).toBeGreaterThan(0);
  });

  it('comes to the same document whoever saves first, where nothing meets and no name is numbered', () => {
    fc.assert(
      fc.property(people, (who) => {
        const { kinds, base, mine, theirs } = scene(who);
        const [over, under] = [met(base, mine, theirs, kinds), met(base, theirs, mine, kinds)];
        expect(over.conflicts.length === 0).toBe(under.conflicts.length === 0);
        fc.pre(over.conflicts.length === 0 && over.notes.length + under.notes.length === 0);
        expect(byEnds(apply(theirs, over.edit))).toEqual(byEnds(apply(mine, under.edit)));
      }),
      { numRuns: 300 },
    );
  });

  const wireEnds = (doc: Doc): string[] =>
    [...doc.wires.values()].map(({ from, to }) => `${from.node} ${to.node}`).sort();
  const changed = (doc: Doc, id: string, fields: object): Doc => ({
    ...doc,
    nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, ...fields }),
  });
  const said = ({ points }: ReturnType<typeof met>) =>
    points.map(({ rows }) => rows.map(({ mine, theirs }) => [mine, theirs]));
  const chosen = ({ versions, rebased }: ReturnType<typeof met>, which: 'mine' | 'theirs'): Doc =>
    apply(versions.theirs, resolve(versions, rebased, new Set(which === 'mine' ? rebased.conflicts.keys() : [])).edit);

  it('meets where one wires a port that the other took away, and choosing mine brings the port back', () => {
    const base = sketchDoc().node('a', 'src').node('b', 'add').doc;
    const mine = sketchDoc(base).wire('a.out', 'b.b').doc;
    const theirs = changed(base, 'b', { ports: base.nodes.get('b')!.ports.filter((port) => port.id !== 'b') });
    const both = met(base, mine, theirs);
    expect(said(both)).toEqual([[['Wire from out of “a” to b of “b” is added', '“b”, ports: changed']]]);
    expect([wireEnds(chosen(both, 'mine')), wireEnds(chosen(both, 'theirs'))]).toEqual([['a b'], []]);
  });

  it('meets where one wires a node that the other moved to another graph', () => {
    const base = sketchDoc()
      .graph('g')
      .node('h', 'std.nested', { inner: 'g', ports: [] })
      .node('a', 'src')
      .node('b', 'round').doc;
    const both = met(base, sketchDoc(base).wire('a.out', 'b.in').doc, changed(base, 'b', { graph: 'g' }));
    expect(both.conflicts.map((one) => one.kind)).toEqual(['structure']);
    expect(said(both)[0]![0]![1]).toContain('g');
    expect([chosen(both, 'mine').nodes.get('b')!.graph, chosen(both, 'theirs').nodes.get('b')!.graph]).toEqual([
      'root',
      'g',
    ]);
  });

  it('meets where each puts a frame into the other’s', () => {
    const base = sketchDoc().frame('A').frame('B').doc;
    const into = (id: string, parent: string): Doc => ({
      ...base,
      frames: new Map(base.frames).set(id, { ...base.frames.get(id)!, parent }),
    });
    const both = met(base, into('A', 'B'), into('B', 'A'));
    expect(said(both)).toEqual([[['Frame “A”, parent: B', 'Frame “B”, parent: A']]]);
    expect(
      ['mine' as const, 'theirs' as const].map((which) =>
        [...chosen(both, which).frames.values()].map((frame) => frame.parent),
      ),
    ).toEqual([
      ['B', undefined],
      [undefined, 'A'],
    ]);
  });

  it('meets where both together close a loop that the catalogue forbids, and the other wire is named', () => {
    const base = sketchDoc().node('a', 'add').node('b', 'add').node('c', 'add').wire('b.out', 'c.a').doc;
    const both = met(
      base,
      sketchDoc(base).wire('a.out', 'b.a').doc,
      sketchDoc(base).wire('c.out', 'a.b').doc,
      strictKinds,
    );
    expect(said(both)).toEqual([
      [['Wire from out of “a” to a of “b” is added', 'Wire from out of “c” to b of “a” is added']],
    ]);
    expect([wireEnds(chosen(both, 'mine')), wireEnds(chosen(both, 'theirs'))]).toEqual([
      ['a b', 'b c'],
      ['b c', 'c a'],
    ]);
  });

  it('meets where a wire of one and an expression of the other close such a loop, whoever comes second', () => {
    const base = sketchDoc().node('a', 'src').node('b', 'round').node('c', 'src').doc;
    const wired = sketchDoc(base).wire('a.out', 'b.in').doc;
    const reading = changed(base, 'a', { params: { value: { expression: [{ node: 'b', parameter: 'value' }] } } });
    const wire = 'Wire from out of “a” to in of “b” is added';
    for (const [mine, theirs] of [
      [wired, reading],
      [reading, wired],
    ] as const) {
      const both = met(base, mine, theirs, strictKinds);
      expect(both.conflicts.map((one) => one.kind)).toEqual(['structure']);
      expect(said(both).flat(2)).toContain(wire);
      expect(plainDoc(chosen(both, 'mine'))).toEqual(plainDoc(mine));
      expect(plainDoc(chosen(both, 'theirs'))).toEqual(plainDoc(theirs));
    }
    expect(met(base, wired, reading).conflicts).toEqual([]);
  });

  it('keeps a nested graph whole, in one choice, where one deletes it and the other works inside', () => {
    const base = sketchDoc()
      .graph('g')
      .node('h', 'std.nested', { inner: 'g', ports: [] })
      .node('a', 'src', { graph: 'g' })
      .node('b', 'round', { graph: 'g' })
      .wire('a.out', 'b.in').doc;
    const gone: Doc = {
      ...base,
      graphs: new Map([['root', base.graphs.get('root')!]]),
      nodes: new Map(),
      wires: new Map(),
    };
    const both = met(base, gone, changed(base, 'a', { label: 'Needed' }));
    expect(both.points).toHaveLength(1);
    expect(plainDoc(chosen(both, 'theirs'))).toEqual(plainDoc(changed(base, 'a', { label: 'Needed' })));
    expect(chosen(both, 'mine').nodes.size).toBe(0);
  });
});
