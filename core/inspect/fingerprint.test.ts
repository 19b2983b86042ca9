import { createHash } from 'node:crypto';
import fc from 'fast-check';
import Graph from 'graphology';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import type { Doc } from '../document/doc.ts';
import { seededRandom } from '../document/ids.ts';
import type { GraphNode } from '../document/schema.ts';
import { apply } from '../edit/step.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { Refused } from '../said.ts';
import { docArbitrary, docFromSeed, sketchDoc, testKinds } from '../tests/arbitrary.ts';
import { compareFingerprints, endsOf, fingerprint } from './fingerprint.ts';
import { stronglyConnected } from './graph/components.ts';
import { dependencyGraph, reachable } from './graph/dependency-graph.ts';

const print = (doc: Doc) => fingerprint(doc, testKinds);
const chain = () =>
  sketchDoc()
    .node('a', 'src', { params: { value: 2 } })
    .node('m', 'add')
    .node('e', 'end', { ports: [{ id: 'in', name: 'in', type: 'any', direction: 'in' }] })
    .wire('a.out', 'm.b')
    .wire('m.out', 'e.in');
const changed = (doc: Doc, id: string, more: Partial<GraphNode>): Doc => ({
  ...doc,
  nodes: new Map(doc.nodes).set(id, { ...doc.nodes.get(id)!, ...more }),
});

describe('the function fingerprint', () => {
  it('is SHA-256 over canonical JSON, worked by hand with Node’s own hash (FIPS 180-4)', () => {
    const sha = (text: string): string => createHash('sha256').update(text).digest('hex');
    const { doc } = sketchDoc()
      .node('a', 'src', { params: { value: 2 } })
      .node('r', 'round')
      .wire('a.out', 'r.in');
    const a = sha('{"inputs":[],"kind":"src","values":{"value":2}}');
    const r = sha(`{"inputs":[["in","out","${a}"]],"kind":"round","values":{}}`);
    // no end kind here, so the nodes without consumers are the ends
    expect(print(doc)).toEqual({ ends: sha(JSON.stringify([r])), everything: sha(JSON.stringify([a, r].sort())) });
  });

  it('does not count places, names, labels, frames, pins, notes, cosmetic parameters and defaults made explicit', () => {
    const { doc } = chain();
    const same = print(doc);
    expect(
      print(changed(doc, 'm', { x: 900, y: -3, name: 'Other', label: 'Words', pinned: true, color: '#123456' })),
    ).toEqual(same);
    expect(print(changed(doc, 'e', { params: { note: 'for the night shift' } }))).toEqual(same);
    const plain = sketchDoc().node('a', 'src').doc;
    expect(print(changed(plain, 'a', { params: { value: 1 } }))).toEqual(print(plain));
  });

  it('does not count reroute points, remote links, feeds and nesting', () => {
    const same = print(chain().doc);
    const rerouted = sketchDoc(chain().doc).node('r', builtin.reroute).wire('a.out', 'r.in');
    const doc = { ...rerouted.doc, wires: new Map(rerouted.doc.wires) };
    doc.wires.delete('a.out>m.b');
    expect(print(sketchDoc(doc).wire('r.out', 'm.b').doc)).toEqual(same);
    const linked = sketchDoc(doc)
      .node('b', builtin.beacon, { name: 'Moon' })
      .node('t', builtin.tap, { beacon: { id: 'b', name: 'Moon' } })
      .wire('r.out', 'b.in')
      .wire('t.out', 'm.b');
    expect(print(linked.doc)).toEqual(same);
    const nested = sketchDoc()
      .graph('g')
      .node('a', 'src', { params: { value: 2 } })
      .node('h', builtin.nested, {
        inner: 'g',
        ports: [
          { id: 'gi', name: 'i', type: 'num', direction: 'in' },
          { id: 'go', name: 'o', type: 'num', direction: 'out' },
        ],
      })
      .node('gi', builtin.input, { graph: 'g' })
      .node('m', 'add', { graph: 'g' })
      .node('go', builtin.output, { graph: 'g' })
      .node('e', 'end', { ports: [{ id: 'in', name: 'in', type: 'any', direction: 'in' }] })
      .wire('a.out', 'h.gi')
      .wire('gi.out', 'm.b')
      .wire('m.out', 'go.in')
      .wire('h.go', 'e.in');
    expect(print(nested.doc)).toEqual(same);
  });

  it('changes “ends” with anything that reaches an end, and only “everything” with what reaches none', () => {
    const { doc } = chain();
    expect(compareFingerprints(print(doc), print(changed(doc, 'a', { params: { value: 3 } })))).toBe('changed');
    expect(compareFingerprints(print(doc), print(changed(doc, 'm', { bypassed: true })))).toBe('changed');
    expect(compareFingerprints(print(doc), print(sketchDoc(doc).node('loose', 'src').doc))).toBe('ends-same');
    expect(compareFingerprints(print(doc), print(doc))).toBe('same');
  });

  it('replaces references in expressions by the hash of the node', () => {
    const value = (node: string) => ({ value: { expression: ['2 * ', { node, parameter: 'value' }] } });
    const build = (name: string) =>
      sketchDoc()
        .node(name, 'src', { params: { value: 4 } })
        .node('b', 'src', { params: value(name) }).doc;
    expect(print(build('a'))).toEqual(print(build('other')));
    const other = sketchDoc()
      .node('a', 'src', { params: { value: 5 } })
      .node('b', 'src', { params: value('a') }).doc;
    expect(print(other).ends).not.toBe(print(build('a')).ends);
  });

  it('tells cycles of different length and content apart, whatever the ids', () => {
    const ring = (ids: string[], first = 1) => {
      const pad = sketchDoc();
      ids.forEach((id, i) => pad.node(id, 'sum', i === 0 ? { params: { gain: first } } : {}));
      ids.forEach((id, i) => pad.wire(`${id}.out`, `${ids[(i + 1) % ids.length]}.in1`));
      return print(pad.doc);
    };
    expect(ring(['a', 'b', 'c'])).toEqual(ring(['z', 'x', 'y']));
    expect(ring(['a', 'b', 'c']).everything).not.toBe(ring(['a', 'b', 'c', 'd']).everything);
    expect(ring(['a', 'b', 'c'], 2).everything).not.toBe(ring(['a', 'b', 'c']).everything);
  });

  it('stays the same through every operation that says it tidies', async () => {
    for (let seed = 1; seed <= 20; seed++) {
      const doc = docFromSeed(seed, 20);
      const items = [...doc.nodes.values()]
        .filter((node) => node.graph === 'root')
        .slice(0, 6)
        .map((node) => node.id);
      if (items.length < 3) continue;
      for (const id of ['arrange', 'align-top', 'align-centre', 'distribute-x', 'move', 'pin', 'label']) {
        const { edit } = await runOperation(id, createContext(testKinds, seed), doc, { graph: 'root', items });
        expect(print(apply(doc, edit))).toEqual(print(doc));
      }
    }
  });

  it('is kept by layout, frames without feeds, captions, reroute points and remote links, whatever is done in a row', async () => {
    const acts: readonly (readonly [
      string,
      (doc: Doc, pick: number) => { items: readonly string[]; options?: object } | undefined,
    ])[] = [
      ['settle', () => ({ items: [] })],
      ['spread', (doc) => ({ items: nodesOf(doc), options: { x: 1.4, y: 0.8 } })],
      ['unstack', () => ({ items: [] })],
      ['frame', (doc, pick) => ({ items: nodesOf(doc).slice(pick % 3, 6) })],
      ['captions', (doc) => ({ items: nodesOf(doc), options: { target: 'label', pattern: '{kind} {n}' } })],
      [
        'rename',
        (doc, pick) =>
          nodesOf(doc)[pick % 5] === undefined
            ? undefined
            : { items: [nodesOf(doc)[pick % 5]!], options: { name: `Renamed_${pick % 97}` } },
      ],
      ['reroute', (doc, pick) => ({ items: [...doc.wires.keys()].sort().slice(pick % 4, (pick % 4) + 3) })],
      ['to-links', (doc, pick) => ({ items: [...doc.wires.keys()].sort().slice(pick % 4, (pick % 4) + 2) })],
      ['color', (doc) => ({ items: nodesOf(doc).slice(0, 2), options: { color: '#0072b2' } })],
    ];
    const nodesOf = (doc: Doc): string[] =>
      [...doc.nodes.values()]
        .filter((node) => node.graph === 'root')
        .map((node) => node.id)
        .sort();
    await fc.assert(
      fc.asyncProperty(
        docArbitrary(14),
        fc.array(fc.tuple(fc.nat({ max: acts.length - 1 }), fc.nat({ max: 1000 })), { minLength: 1, maxLength: 4 }),
        async (start, rows) => {
          let doc = start;
          for (const [which, pick] of rows) {
            const [id, plan] = acts[which]!;
            const planned = plan(doc, pick);
            if (!planned || (planned.items.length === 0 && !['settle', 'unstack'].includes(id))) continue;
            try {
              const { edit } = await runOperation(
                id,
                createContext(testKinds, pick),
                doc,
                { graph: 'root', items: planned.items },
                planned.options,
              );
              doc = apply(doc, edit);
            } catch (error) {
              // what cannot be done changes nothing
              if (!(error instanceof Refused)) throw error;
            }
            expect([id, print(doc)]).toEqual([id, print(start)]);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  it('changes at the ends by any value of a node that an end depends on, and by none of one that no end does', () => {
    fc.assert(
      fc.property(docArbitrary(18), fc.nat(), (doc, pick) => {
        const graph = dependencyGraph(doc, testKinds);
        const ends = endsOf(doc, testKinds, graph);
        const needed = reachable(graph.before, ends);
        const sources = graph.nodes.flatMap((node, i) => (node.kind === 'src' ? [i] : []));
        const i = sources[pick % Math.max(1, sources.length)];
        if (i === undefined) return;
        const before = print(doc);
        const after = print(changed(doc, graph.nodes[i]!.id, { params: { value: 12.345 } }));
        expect(after.ends !== before.ends).toBe(needed.has(i));
        expect(after.everything).not.toBe(before.everything);
      }),
    );
  });

  it('does not depend on ids or on the order of the tables', () => {
    fc.assert(
      fc.property(docArbitrary(18), (doc) => {
        const shuffled = { ...doc, nodes: new Map([...doc.nodes].reverse()), wires: new Map([...doc.wires].reverse()) };
        expect(print(shuffled)).toEqual(print(doc));
      }),
    );
  });
});

describe('strongly connected components (Tarjan 1972)', () => {
  it('are those that mutual reachability gives, over graphology graphs', () => {
    for (let seed = 1; seed <= 30; seed++) {
      const random = seededRandom(seed);
      const graph = new Graph({ type: 'directed' });
      for (let v = 0; v < 14; v++) graph.addNode(v);
      for (let i = 0; i < 22; i++) graph.mergeEdge(Math.floor(random() * 14), Math.floor(random() * 14));
      const reach = (from: string): Set<string> => {
        const seen = new Set([from]);
        const todo = [from];
        for (let v = todo.pop(); v !== undefined; v = todo.pop()) {
          for (const w of graph.outNeighbors(v)) {
            if (seen.has(w)) continue;
            seen.add(w);
            todo.push(w);
          }
        }
        return seen;
      };
      const reached = graph.mapNodes((v) => reach(v));
      const before = graph.mapNodes((v) => graph.outNeighbors(v).map(Number));
      const components = stronglyConnected(before);
      const of = new Map(components.flatMap((component, c) => component.map((v) => [v, c] as const)));
      for (let u = 0; u < 14; u++)
        for (let v = 0; v < 14; v++)
          expect(of.get(u) === of.get(v)).toBe(reached[u]!.has(String(v)) && reached[v]!.has(String(u)));
      // what others depend on comes first
      components.forEach((component, c) => {
        for (const v of component) for (const w of before[v]!) expect(of.get(w)!).toBeLessThanOrEqual(c);
      });
    }
  });
});
