import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareFingerprints, fingerprint } from '../inspect/fingerprint.ts';
import { act, into } from '../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { equalNodes } from './merge.ts';

const twice = () =>
  sketchDoc()
    .node('a', 'src', { params: { value: 2 } })
    .node('b', 'src', { params: { value: 2 } })
    .node('c', 'src', { params: { value: 3 } })
    .node('m', 'add')
    .node('n', 'add')
    .node('t', 'tint', { params: { amount: { expression: [{ node: 'b', parameter: 'value' }] } } })
    .node('e', 'end')
    .wire('a.out', 'm.a')
    .wire('b.out', 'n.a')
    .wire('m.out', 't.amount')
    .wire('n.out', 't.base')
    .wire('t.out', 'e.in').doc;

describe('merging equal nodes', () => {
  it('finds what computes the same, sources and what is made of them alike', () => {
    expect(equalNodes(twice(), testKinds).map((group) => group.map((node) => node.id))).toEqual([
      ['a', 'b'],
      ['m', 'n'],
    ]);
  });

  it('keeps one of each for all that take from them, in wires and expressions', async () => {
    const { doc, report } = await act('merge', twice(), []);
    expect([...doc.nodes.keys()]).toEqual(['a', 'c', 'm', 't', 'e']);
    expect([into(doc, 't.amount'), into(doc, 't.base')]).toEqual(['m.out', 'm.out']);
    expect(doc.nodes.get('t')!.params).toEqual({ amount: { expression: [{ node: 'a', parameter: 'value' }] } });
    expect(report.summary).toBe('Merged 2 nodes into 2 equal ones.');
    expect(compareFingerprints(fingerprint(twice(), testKinds), fingerprint(doc, testKinds))).toBe('ends-same');
  });

  it('takes only what is selected, and says where nothing is equal', async () => {
    const { doc } = await act('merge', twice(), ['a', 'b', 'c']);
    expect(doc.nodes.has('n')).toBe(true);
    await expect(act('merge', twice(), ['a', 'c'])).rejects.toThrow('No two of these nodes compute the same');
  });

  it('keeps the fingerprint of the ends, and leaves no two that are equal', async () => {
    await fc.assert(
      fc.asyncProperty(docArbitrary(18), async (doc) => {
        if (equalNodes(doc, testKinds).every((group) => group[0]!.graph !== 'root')) return;
        const { doc: after, report } = await act('merge', doc, []);
        expect(fingerprint(after, testKinds).ends).toBe(fingerprint(doc, testKinds).ends);
        expect(after.nodes.size).toBeLessThanOrEqual(doc.nodes.size);
        if (report.findings.some((item) => item.rule === 'stays')) return;
        expect(equalNodes(after, testKinds).filter((group) => group[0]!.graph === 'root')).toEqual([]);
      }),
    );
  });
});
