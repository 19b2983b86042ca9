import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { problems } from '../document/validate.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { acted } from '../tests/random-act.ts';
import { mergeDocs } from './merge.ts';

const move = (doc: Doc, id: string, x: number): Doc => ({
  ...doc,
  nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, x }),
});
const merged = (base: Doc, ours: Doc, theirs: Doc) => mergeDocs(base, ours, theirs, testKinds);

describe('merging two versions', () => {
  it('takes both where they touch different things', () => {
    const base = sketchDoc().node('a', 'src').node('b', 'round', { x: 300 }).doc;
    const { doc, conflicts, findings } = merged(
      base,
      move(base, 'a', 10),
      sketchDoc(base).node('c', 'src', { y: 300 }).wire('a.out', 'b.in').doc,
    );
    expect([conflicts, findings, doc.nodes.get('a')!.x, doc.nodes.has('c'), doc.wires.size]).toEqual([
      [],
      [],
      10,
      true,
      1,
    ]);
  });

  it('keeps ours in a conflict, and takes the rest of theirs', () => {
    const base = sketchDoc().node('a', 'src').node('b', 'round', { x: 300 }).doc;
    const { doc, conflicts } = merged(base, move(base, 'a', 10), move(move(base, 'a', 20), 'b', 400));
    expect(conflicts.map((one) => one.kind)).toEqual(['position']);
    expect([doc.nodes.get('a')!.x, doc.nodes.get('b')!.x]).toEqual([10, 400]);
  });

  it('says where a node takes what neither side meant: a feed of the one fills an input that the other opened', () => {
    const port = (direction: 'in' | 'out') => ({ id: direction, name: direction, type: 'any', direction });
    const base = sketchDoc()
      .node('a', 'src')
      .node('t', 'tint', { x: 300 })
      .node('s', 'src', { y: 300 })
      .wire('a.out', 't.amount').doc;
    const ours = sketchDoc(base)
      .node('f', builtin.feed, { x: 200, y: 300, params: { types: 'num' }, ports: [port('in'), port('out')] })
      .wire('s.out', 'f.in').doc;
    const theirs = { ...base, wires: new Map() };
    const { conflicts, findings, doc } = merged(base, ours, theirs);
    expect([conflicts.length, doc.wires.size]).toEqual([0, 1]);
    expect(findings.map((item) => item.message)).toEqual([
      '1 input takes “s” now, which neither side meant: “amount of t”. Look at what feeds it.',
    ]);
  });

  it('is what it should be where one side did nothing or both did the same, and can always be read', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(14), fc.nat(1000), fc.nat(1000), async (base, one, other) => {
        const [ours, theirs] = [await acted(base, one), await acted(base, other)];
        expect(writeDoc(merged(base, ours, base).doc)).toBe(writeDoc(ours));
        expect(writeDoc(merged(base, base, theirs).doc)).toBe(writeDoc(theirs));
        expect(writeDoc(merged(base, ours, ours).doc)).toBe(writeDoc(ours));
        const both = merged(base, ours, theirs);
        expect(problems(both.doc)).toEqual([]);
      }),
    );
  });
});
