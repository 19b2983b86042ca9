import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { type Doc, indexOf } from '../document/doc.ts';
import { problems } from '../document/validate.ts';
import { apply, invert } from '../edit/step.ts';
import { fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { docFromSeed, plainDoc, sketchDoc, testKinds } from '../tests/arbitrary.ts';

const move = async (doc: Doc, graph: string, items: readonly string[], to: string) => {
  const { edit, report } = await runOperation(
    'to-graph',
    createContext(testKinds, 1),
    doc,
    { graph, items },
    { graph: to },
  );
  return { doc: apply(doc, edit), edit, report };
};
const nested = () =>
  sketchDoc()
    .graph('g1')
    .graph('g2')
    .node('h1', builtin.nested, { inner: 'g1' })
    .node('h2', builtin.nested, { inner: 'g2', graph: 'g1' })
    .node('a', 'src')
    .node('b', 'add', { x: 200 })
    .node('c', 'round', { x: 400 })
    .wire('a.out', 'b.b')
    .wire('b.out', 'c.in');

describe('moving nodes to another graph', () => {
  it('carries wires on over as many borders as lie between, and back again without a trace', async () => {
    const start = nested().doc;
    const deep = await move(start, 'root', ['b'], 'g2');
    expect(deep.doc.nodes.get('b')).toMatchObject({ graph: 'g2', name: 'b' });
    // in over two borders, out over two: four boundary nodes, each with a port on its host
    expect(
      [...deep.doc.nodes.values()].filter((node) => node.kind === builtin.input || node.kind === builtin.output),
    ).toHaveLength(4);
    expect(deep.doc.nodes.get('h1')!.ports.map((port) => [port.direction, port.type])).toEqual([
      ['in', 'num'],
      ['out', 'num'],
    ]);
    expect(fingerprint(deep.doc, testKinds)).toEqual(fingerprint(start, testKinds));
    expect(problems(deep.doc)).toEqual([]);
    const back = await move(deep.doc, 'g2', ['b'], 'root');
    expect(fingerprint(back.doc, testKinds)).toEqual(fingerprint(start, testKinds));
    expect([...back.doc.nodes.keys()].sort()).toEqual([...start.nodes.keys()].sort());
    expect(back.doc.nodes.get('h1')!.ports).toEqual([]);
    expect(plainDoc(apply(back.doc, invert(back.edit)))).toEqual(plainDoc(deep.doc));
  });

  it('uses a port again that carries the same data already', async () => {
    const once = (await move(nested().doc, 'root', ['b'], 'g1')).doc;
    const twice = (await move(once, 'root', ['c'], 'g1')).doc;
    // b and c lie together now: what led out for c alone is gone, what leads in for b stays
    expect(
      indexOf(twice)
        .nodesIn('g1')
        .filter((node) => node.kind === builtin.input),
    ).toHaveLength(1);
    expect(
      indexOf(twice)
        .nodesIn('g1')
        .filter((node) => node.kind === builtin.output),
    ).toHaveLength(0);
  });

  it('a source that enters the graph it fed reaches its consumers there, and the idle port goes', async () => {
    const fed = (await move(nested().doc, 'root', ['b', 'c'], 'g1')).doc;
    const inside = (await move(fed, 'root', ['a'], 'g1')).doc;
    expect(
      indexOf(inside)
        .nodesIn('g1')
        .map((node) => node.id)
        .sort(),
    ).toEqual(['a', 'b', 'c', 'h2']);
    expect(inside.nodes.get('h1')!.ports).toEqual([]);
    expect(fingerprint(inside, testKinds)).toEqual(fingerprint(fed, testKinds));
  });

  it('numbers names that are taken, and says so; a beacon keeps its taps', async () => {
    const { doc } = nested()
      .node('k', builtin.beacon, { name: 'Key' })
      .node('k1', 'src', { name: 'Key', graph: 'g1' })
      .node('t', builtin.tap, { beacon: { id: 'k', name: 'Key' } });
    const moved = await move(doc, 'root', ['k'], 'g1');
    expect(moved.doc.nodes.get('k')!.name).toBe('Key2');
    expect(moved.doc.nodes.get('t')!.beacon).toEqual({ id: 'k', name: 'Key2' });
    expect(moved.report.findings.map((item) => item.rule)).toContain('name-numbered');
  });

  it('refuses what cannot be: into itself, a port of a graph, the same graph, a bypassed border', async () => {
    await expect(move(nested().doc, 'root', ['h1'], 'g2')).rejects.toThrow('cannot be moved into itself');
    await expect(move(nested().doc, 'root', ['a'], 'root')).rejects.toThrow('in that graph already');
    await expect(move(nested().doc, 'root', ['a'], 'nope')).rejects.toThrow('no graph “nope”');
    await expect(move(nested().node('i', builtin.input).doc, 'root', ['i'], 'g1')).rejects.toThrow(
      'a port of its graph',
    );
    const off = nested().node('h1', builtin.nested, { inner: 'g1', bypassed: true }).doc;
    await expect(move(off, 'root', ['b'], 'g1')).rejects.toThrow('is bypassed');
  });

  it('keeps what any graph computes, in and out, and breaks no rule of the file', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 1, max: 5 }), async (seed, count) => {
        const doc = docFromSeed(seed, 14);
        fc.pre(doc.graphs.has('g1'));
        const movable = indexOf(doc)
          .nodesIn('root')
          .filter((node) => node.id !== 'host')
          .map((node) => node.id);
        const items = movable.slice(0, count);
        fc.pre(items.length > 0);
        const into = await move(doc, 'root', items, 'g1');
        expect(fingerprint(into.doc, testKinds)).toEqual(fingerprint(doc, testKinds));
        expect(problems(into.doc)).toEqual(problems(doc));
        const out = await move(into.doc, 'g1', items, 'root');
        expect(fingerprint(out.doc, testKinds)).toEqual(fingerprint(doc, testKinds));
        expect(problems(out.doc)).toEqual(problems(doc));
      }),
    );
  });
});

describe('moving nodes to a frame', () => {
  it('makes them members, or takes them out, and lists what feeds supply differently', async () => {
    const { doc } = sketchDoc()
      .frame('f')
      .node('s', 'src')
      .node('feed', builtin.feed, { frame: 'f', params: { types: 'num' } })
      .node('t', 'tint', { x: 400 })
      .wire('s.out', 'feed.in');
    const run = async (from: Doc, frame: string) =>
      runOperation('to-frame', createContext(testKinds, 1), from, { graph: 'root', items: ['t'] }, { frame });
    const into = await run(doc, 'f');
    expect(into.report.findings.map((item) => item.message)).toEqual([
      'Input “amount” of “t” is supplied by the feed “feed” now.',
    ]);
    const inside = apply(doc, into.edit);
    expect(inside.nodes.get('t')!.frame).toBe('f');
    expect((await run(inside, '')).report.findings.map((item) => item.message)).toEqual([
      '1 input that a feed supplied is wired now: “amount of t”.',
    ]);
    await expect(run(doc, 'nope')).rejects.toThrow('no frame “nope”');
  });
});
