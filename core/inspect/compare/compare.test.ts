import fc from 'fast-check';
import fastJsonPatch, { type Operation } from 'fast-json-patch';
import { describe, expect, it } from 'vitest';
import { builtin } from '../../document/builtin.ts';
import type { Doc } from '../../document/doc.ts';
import { writeDoc } from '../../document/file.ts';
import type { Id } from '../../document/ids.ts';
import type { GraphNode, Wire } from '../../document/schema.ts';
import { jsonPatch } from '../../formats/json-patch.ts';
import { act } from '../../tests/acts.ts';
import { docArbitrary, sketchDoc, testKinds } from '../../tests/arbitrary.ts';
import { denseArbitrary } from '../../tests/dense.ts';
import { computes, sourceOf } from '../../tests/naive.ts';
import { compareDocs, withConsequences } from './compare.ts';
import { matchDocs } from './match.ts';

const kinds = { before: testKinds, after: testKinds };
const compare = (a: Doc, b: Doc) => compareDocs(a, b, kinds);
const told = (a: Doc, b: Doc): string[] =>
  compare(a, b).changes.map((change) => `${change.layer} ${change.type}: ${change.sentence}`);

const chain = () =>
  sketchDoc()
    .node('a', 'src', { params: { value: 2 } })
    .node('b', 'src', { y: 90 })
    .node('m', 'add', { x: 200 })
    .node('e', 'end', { x: 400 })
    .wire('a.out', 'm.b')
    .wire('m.out', 'e.in');
const set = (doc: Doc, id: Id, more: Partial<GraphNode>): Doc => ({
  ...doc,
  nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, ...more }),
});

/** The same document with other ids, as if somebody had built it a second time. */
function otherIds(doc: Doc): Doc {
  const to = (id: Id): Id => `other-${id}`;
  const nodes = [...doc.nodes.values()].map((node) => ({
    ...node,
    id: to(node.id),
    graph: node.graph === 'root' ? 'root' : to(node.graph),
    ...(node.inner !== undefined && { inner: to(node.inner) }),
    ...(node.frame !== undefined && { frame: to(node.frame) }),
    ports: node.ports.map((port) => (node.inner !== undefined ? { ...port, id: to(port.id) } : port)),
  }));
  const end = (ref: Wire['from']): Wire['from'] => ({
    node: to(ref.node),
    port: doc.nodes.get(ref.node)?.inner !== undefined ? to(ref.port) : ref.port,
  });
  return {
    ...doc,
    nodes: new Map(nodes.map((node) => [node.id, node as GraphNode])),
    wires: new Map(
      [...doc.wires.values()].map((wire) => [
        to(wire.id),
        { ...wire, id: to(wire.id), from: end(wire.from), to: end(wire.to) },
      ]),
    ),
    graphs: new Map(
      [...doc.graphs.values()].map((graph) =>
        graph.id === 'root' ? [graph.id, graph] : [to(graph.id), { ...graph, id: to(graph.id) }],
      ),
    ),
    frames: new Map(
      [...doc.frames.values()].map((frame) => [
        to(frame.id),
        { ...frame, id: to(frame.id), ...(frame.parent && { parent: to(frame.parent) }) },
      ]),
    ),
    notes: new Map(
      [...doc.notes.values()].map((note) => [
        to(note.id),
        { ...note, id: to(note.id), ...(note.tiedTo && { tiedTo: to(note.tiedTo) }) },
      ]),
    ),
  };
}

describe('comparing', () => {
  it('tells what is computed apart from words and layout, each in a sentence', () => {
    const before = chain().doc;
    let after = set(before, 'a', { params: { value: 3 }, x: 30, label: 'Swell' });
    after = set(after, 'm', { bypassed: true });
    after = sketchDoc({ ...after, wires: new Map([...after.wires].filter(([id]) => id !== 'a.out>m.b')) })
      .wire('b.out', 'm.b')
      .node('new', 'round').doc;
    expect(told(before, after)).toEqual([
      'function added: “new” (Round) came.',
      'function rewired: Input “b” of “m”: “a”.out → “b”.out.',
      'function parameter: Value of “Swell”: 2 → 3.',
      'function bypassed: “m” is bypassed: 1 input takes “b” now.',
      'words relabelled: “a” is labelled “Swell”.',
      'layout moved: “Swell” moved by 30, 0 px.',
    ]);
    expect(compare(before, after).fingerprint.verdict).toBe('changed');
  });

  it('is by cause: what follows from one act is folded under it', async () => {
    let pad = chain().node('f', builtin.beacon, { name: 'Light' }).wire('m.out', 'f.in');
    for (let i = 0; i < 5; i++)
      pad = pad
        .node(`t${i}`, builtin.tap, { beacon: { id: 'f', name: 'Light' } })
        .node(`x${i}`, 'round')
        .wire(`t${i}.out`, `x${i}.in`);
    const before = pad.doc;
    const one = (after: Doc, from = before): string[] => {
      const { changes, counts } = compare(from, after);
      expect(counts.function).toBe(changes.filter(({ layer }) => layer === 'function').length);
      return changes.filter(({ layer }) => layer === 'function').map((change) => change.sentence);
    };
    expect(one((await act('bypass', before, ['m'])).doc)).toEqual(['“m” is bypassed: 6 inputs take “a” now.']);
    expect(one((await act('delete', before, ['m'])).doc)).toEqual(['“m” (Add) went: 6 inputs take “a” now.']);
    const { doc: carried } = await act('connect', before, [], {
      from: { node: 'b', port: 'out' },
      to: { node: 'f', port: 'in' },
      replace: true,
    });
    expect(one(carried)).toEqual(['“Light” (Beacon) takes “b” now: 5 inputs take “b” now.']);
    expect(one((await act('replace-kind', before, ['m'], { kind: 'sum' })).doc)).toHaveLength(1);
    const { doc: nested } = await act('nest', before, ['m', 'e']);
    const [host] = [...nested.nodes.values()].filter((node) => node.inner !== undefined);
    const { doc: gone } = await act('delete-with-wires', nested, [host!.id]);
    expect(one(gone, nested)).toEqual([
      // the host itself carries data alone: what lay in it and what starves is told under it
      expect.stringMatching(/^“.*” \(Nested graph\) went: 5 inputs are open now and \d other changes\.$/),
    ]);
  });

  it('has one entry for the same change of many nodes, each folded under it with what follows', async () => {
    const pad = sketchDoc().node('s', 'src', { name: 'Sun' }).node('z', 'src', { name: 'Moon' });
    for (let i = 0; i < 4; i++)
      pad
        .node(`m${i}`, 'add')
        .node(`x${i}`, 'add')
        .wire('s.out', `m${i}.b`)
        .wire('z.out', `m${i}.a`)
        .wire(`m${i}.out`, `x${i}.a`);
    const off = await act('bypass', pad.doc, ['m0', 'm1', 'm2']);
    const { changes } = compare(pad.doc, off.doc);
    expect(changes.map((change) => [change.sentence, change.nodes])).toEqual([
      ['Bypassed: 3 nodes.', ['m0', 'm1', 'm2']],
    ]);
    expect(withConsequences(changes).filter((change) => change.type === 'rewired')).toHaveLength(3);
    // two are still told by name
    const two = compare(pad.doc, (await act('bypass', pad.doc, ['m0', 'm1'])).doc).changes;
    expect(two.map((change) => change.nodes)).toEqual([undefined, undefined]);
    const values = await act('set-parameter', pad.doc, ['s', 'z'], { parameter: 'value', value: 4 });
    expect(compare(pad.doc, values.doc).changes).toHaveLength(2);
    const replaced = await act('replace-kind', pad.doc, ['m0', 'm1', 'm2', 'm3'], { kind: 'sum' });
    expect(told(pad.doc, replaced.doc)[0]).toBe('function kind: Add → Sum: 4 nodes.');
  });

  it('loses no change by folding: each stands once, as a cause or under one', () => {
    fc.assert(
      fc.property(denseArbitrary(10), denseArbitrary(10), (one, other) => {
        const { changes } = compare(one, other);
        const all = withConsequences(changes);
        const keys = all.map(({ type, before, after, part }) => `${type} ${before} ${after} ${part}`);
        expect(new Set(keys).size).toBe(keys.length);
        for (const { node, port } of [...other.nodes.values()].flatMap((at) =>
          one.nodes.has(at.id) && computes(other, at)
            ? at.ports.filter(({ direction }) => direction === 'in').map((input) => ({ node: at.id, port: input.id }))
            : [],
        )) {
          const [was, is] = [sourceOf(one, testKinds, { node, port }), sourceOf(other, testKinds, { node, port })];
          if (was?.node === is?.node && was?.port === is?.port) continue;
          expect(keys.some((key) => key === `rewired ${node} ${node} ${port}`)).toBe(true);
        }
      }),
      { numRuns: 40 },
    );
  });

  it('takes reroute points, default values made explicit and cosmetic parameters as no change of function', async () => {
    const before = chain().doc;
    const { doc: rerouted } = await act('reroute', before, ['a.out>m.b']);
    expect(compare(before, rerouted).counts).toMatchObject({ function: 0 });
    expect(compare(before, rerouted).changes.map((change) => change.type)).toContain('rerouted');
    expect(told(before, set(before, 'b', { params: { value: 1 } }))).toEqual([
      'words parameter: Value of “b”: 1 (default) → 1.',
    ]);
    expect(told(before, set(before, 'e', { params: { note: 'for the night' } }))).toEqual([
      'words parameter: Note of “e”:  (default) → for the night.',
    ]);
  });

  it('finds nothing between a document and itself', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        expect(compare(doc, doc)).toMatchObject({ changes: [], fingerprint: { verdict: 'same' } });
      }),
    );
  });

  it('has no change of function where only places differ, and some where the fingerprint is another', () => {
    fc.assert(
      fc.property(docArbitrary(14), docArbitrary(14), (one, other) => {
        const shifted = {
          ...one,
          nodes: new Map([...one.nodes].map(([id, node]) => [id, { ...node, x: node.x + 13 }])),
        };
        expect(compare(one, shifted).counts).toEqual({ function: 0, words: 0, layout: one.nodes.size });
        const { counts, fingerprint } = compare(one, other);
        if (fingerprint.verdict !== 'same') expect(counts.function).toBeGreaterThan(0);
      }),
    );
  });

  it('goes by likeness where ids differ: the same document built twice is the same', () => {
    fc.assert(
      fc.property(docArbitrary(16), (doc) => {
        const copy = otherIds(doc);
        const found = matchDocs(doc, copy, kinds);
        // nested ports are called by ids of inner nodes, so that only what lies outside is asked
        for (const node of doc.nodes.values())
          if (node.graph === 'root') expect(found.nodes.get(node.id)).toBe(`other-${node.id}`);
      }),
    );
  });

  it('still knows nodes that were renamed and whose ids differ, by what they are wired to and set to', () => {
    const before = chain().doc;
    const copy = otherIds(before);
    const renamed = set(set(copy, 'other-m', { name: 'Blend' }), 'other-a', { name: 'Tide', params: { value: 2.5 } });
    const found = matchDocs(before, renamed, kinds);
    expect(found.nodes.get('m')).toBe('other-m');
    expect(found.nodes.get('a')).toBe('other-a');
    expect(compare(before, renamed).changes.map(({ type }) => type)).toEqual(['parameter', 'renamed', 'renamed']);
    expect(compare(before, renamed).matched).toEqual({ byId: 0, byLikeness: 4 });
  });

  it('matches each node once', () => {
    fc.assert(
      fc.property(docArbitrary(14), docArbitrary(14), (one, other) => {
        const b = otherIds(other);
        const found = matchDocs(one, b, kinds);
        expect(new Set(found.nodes.values()).size).toBe(found.nodes.size);
        for (const [x, y] of found.nodes) expect([one.nodes.has(x), b.nodes.has(y)]).toEqual([true, true]);
      }),
    );
  });

  it('names frames and notes', () => {
    const before = sketchDoc(chain().doc).frame('f', { title: 'Swell' }).doc;
    const after = set(sketchDoc(chain().doc).frame('f', { title: 'Tide', color: '#123456' }).doc, 'a', { frame: 'f' });
    const noted = {
      ...after,
      notes: new Map([['t', { id: 't', graph: 'root', x: 0, y: 0, width: 10, height: 10, text: 'Check this' }]]),
    };
    expect(told(before, noted)).toEqual([
      'words renamed: The frame “Swell” is called “Tide” now.',
      'words note: A note came: Check this.',
      'layout reframed: “a” is in the frame “Tide” now.',
      'layout look: The frame “Tide” looks otherwise: color.',
    ]);
  });

  it('tells a nested graph from inside', () => {
    const nested = (value: number) =>
      sketchDoc()
        .graph('g')
        .node('h', builtin.nested, { inner: 'g', ports: [] })
        .node('deep', 'src', { graph: 'g', params: { value } }).doc;
    expect(told(nested(1), nested(7))).toEqual(['function parameter: Value of “deep”: 1 → 7.']);
  });
});

describe('a difference as JSON Patch', () => {
  const json = (doc: Doc): unknown => JSON.parse(writeDoc(doc));

  it('applied by another implementation of RFC 6902 (fast-json-patch) gives the other file, its tests passing', () => {
    fc.assert(
      fc.property(docArbitrary(14), docArbitrary(14), (one, other) => {
        const patch = jsonPatch(one, other);
        const result = fastJsonPatch.applyPatch(json(one), patch as Operation[], true);
        expect(result.newDocument).toEqual(json(other));
      }),
    );
  });

  it('escapes ~ and / in pointers as RFC 6901 section 3 has it, and adds a map as a whole', () => {
    const before = set(chain().doc, 'a', { params: { 'gain/~x': 1 } });
    const after = set(before, 'a', { params: { 'gain/~x': 2 } });
    expect(jsonPatch(before, after)).toEqual([
      { op: 'test', path: '/nodes/0/params/gain~1~0x', value: 1 },
      { op: 'replace', path: '/nodes/0/params/gain~1~0x', value: 2 },
    ]);
    expect(jsonPatch(chain().doc, set(chain().doc, 'b', { params: { value: 4 } }))).toEqual([
      { op: 'add', path: '/nodes/1/params', value: { value: 4 } },
    ]);
  });

  it('fails on a file that has changed meanwhile, as the test operation of RFC 6902 section 4.6 asks', () => {
    const patch = jsonPatch(chain().doc, set(chain().doc, 'a', { params: { value: 3 } }));
    const changed = json(set(chain().doc, 'a', { params: { value: 9 } }));
    expect(() => fastJsonPatch.applyPatch(changed, patch as Operation[], true)).toThrow(/[Tt]est operation failed/);
  });

  it('of RFC 6902, appendix A: adding into and removing from an array', () => {
    // A.2 and A.4, as the reference implementation reads them: what our own patches rely on
    expect(
      fastJsonPatch.applyPatch({ foo: ['bar', 'baz'] }, [{ op: 'add', path: '/foo/1', value: 'qux' }]).newDocument,
    ).toEqual({ foo: ['bar', 'qux', 'baz'] });
    expect(
      fastJsonPatch.applyPatch({ foo: ['bar', 'qux', 'baz'] }, [{ op: 'remove', path: '/foo/1' }]).newDocument,
    ).toEqual({ foo: ['bar', 'baz'] });
    const three = (ids: string[]): Doc => ids.reduce((pad, id) => pad.node(id, 'src'), sketchDoc()).doc;
    expect(jsonPatch(three(['a', 'c']), three(['a', 'b', 'c'])).map(({ op, path }) => `${op} ${path}`)).toEqual([
      'add /nodes/1',
    ]);
    expect(jsonPatch(three(['a', 'b', 'c']), three(['a', 'c'])).map(({ op, path }) => `${op} ${path}`)).toEqual([
      'test /nodes/1/id',
      'remove /nodes/1',
    ]);
  });
});
