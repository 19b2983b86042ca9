import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { builtin } from '../document/builtin.ts';
import { catalogueSchema, type KindSpec } from '../document/catalogue.ts';
import type { Doc } from '../document/doc.ts';
import { writeDoc } from '../document/file.ts';
import { Kinds } from '../document/kinds.ts';
import { problems } from '../document/validate.ts';
import { apply } from '../edit/step.ts';
import { compareFingerprints, fingerprint } from '../inspect/fingerprint.ts';
import { createContext } from '../operation.ts';
import { runOperation } from '../operations.ts';
import { act, into } from '../tests/acts.ts';
import { docFromSeed, sketchDoc, testCatalogue, testKinds } from '../tests/arbitrary.ts';
import { addableKinds } from '../wiring/fitting.ts';
import { publishable, publishProblems, sharedKindId } from './shared-kinds.ts';

/** A version of a shared kind as the server would make it. */
const versionOf = (version: number, ports: KindSpec['ports'], name = 'swell'): KindSpec => ({
  id: sharedKindId(name, version),
  title: 'Swell',
  code: 'Sw',
  category: 'math',
  ports,
  parameters: [],
  pass: {},
  end: false,
  reads: [],
  nameMatters: false,
  shared: { name, version },
});

const withKinds = (...kinds: KindSpec[]): Kinds =>
  new Kinds(catalogueSchema.parse({ ...testCatalogue, kinds: [...testCatalogue.kinds, ...kinds] }));

const nested = async () => {
  const { doc } = sketchDoc()
    .node('a', 'src', { name: 'Tide' })
    .node('b', 'add', { x: 200 })
    .node('c', 'add', { x: 400 })
    .node('d', 'add', { x: 600 })
    .wire('a.out', 'b.a')
    .wire('b.out', 'c.a')
    .wire('c.out', 'd.b');
  const { doc: after, report } = await act('nest', doc, ['b', 'c'], { name: 'Swell' });
  return { doc: after, host: report.select![0]!, before: doc };
};

describe('shared kinds', () => {
  it('are made of a nested graph alone, with its ports by name', async () => {
    const { doc, host } = await nested();
    const { body, ports, end } = publishable(doc, testKinds, doc.nodes.get(host)!);
    expect(ports.map((port) => `${port.direction} ${port.id} ${port.type}`)).toEqual(['in a num', 'out c_out num']);
    expect(end).toBe(false);
    expect(problems(body)).toEqual([]);
    expect([...body.graphs.keys()]).toEqual([body.head.root]);
    expect([...body.nodes.values()].filter((node) => !node.kind.startsWith('std.')).map((node) => node.id)).toEqual([
      'b',
      'c',
    ]);
  });

  it('are used in its place, and made a graph of one’s own again, with the same computed at each step as far as a kind can be told', async () => {
    const { doc, host } = await nested();
    const { body, ports } = publishable(doc, testKinds, doc.nodes.get(host)!);
    const kinds = withKinds(versionOf(1, ports));
    const used = await act('use-shared', doc, [host], { name: 'swell' }, kinds);
    expect(used.doc.nodes.get(host)).toMatchObject({ kind: 'shared.swell.1' });
    expect([used.doc.graphs.size, used.doc.nodes.has('b')]).toEqual([1, false]);
    expect([into(used.doc, `${host}.a`), into(used.doc, 'd.b')]).toEqual(['a.out', `${host}.c_out`]);
    const own = await act('make-own', used.doc, [host], { body: writeDoc(body) }, kinds);
    expect(compareFingerprints(fingerprint(doc, kinds), fingerprint(own.doc, kinds))).toBe('same');
    await expect(act('make-own', doc, ['d'], { body: writeDoc(body) }, kinds)).rejects.toThrow(
      '“d” is of no shared kind',
    );
    await expect(act('make-own', used.doc, [host], { body: '{}' }, kinds)).rejects.toThrow(
      'What the version held cannot be read',
    );
    await expect(act('use-shared', doc, [host], { name: 'calm' }, kinds)).rejects.toThrow(
      'There is no shared kind “calm”.',
    );
    await expect(act('use-shared', doc, ['d'], { name: 'swell' }, kinds)).rejects.toThrow('“d” holds no graph');
  });

  it('are updated to the newest version, or another; what has no port any more is listed', async () => {
    const { doc, host } = await nested();
    const { ports } = publishable(doc, testKinds, doc.nodes.get(host)!);
    const fewer = ports.filter((port) => port.direction === 'in');
    const kinds = withKinds(
      versionOf(1, ports),
      versionOf(2, [...ports, { ...ports[0]!, id: 'gust', name: 'gust' }]),
      versionOf(3, fewer),
    );
    const one = {
      ...doc,
      nodes: new Map([...doc.nodes].filter(([id]) => ['a', 'd', host].includes(id)).map(([id, node]) => [id, node])),
    };
    const used = (await act('use-shared', doc, [host], { name: 'swell' }, withKinds(versionOf(1, ports)))).doc;
    expect(one.nodes.size).toBe(3);
    const second = await act('update-shared', used, [], { version: 2 }, kinds);
    expect(second.doc.nodes.get(host)!.ports.map((port) => port.id)).toEqual(['a', 'c_out', 'gust']);
    expect(second.report.findings.map((item) => item.message)).toEqual(['“Swell” goes from version 1 to 2.']);
    const newest = await act('update-shared', second.doc, [host], {}, kinds);
    expect(newest.doc.nodes.get(host)!.kind).toBe('shared.swell.3');
    expect(newest.report.findings.map((item) => item.rule)).toEqual(['shared-updated', 'wire-lost', 'input-opened']);
    await expect(act('update-shared', newest.doc, [], {}, kinds)).rejects.toThrow('Nothing is behind');
    // only the newest is offered
    expect(
      addableKinds(kinds)
        .filter((kind) => kind.shared)
        .map((kind) => kind.id),
    ).toEqual(['shared.swell.3']);
    expect([kinds.sharedNames(), kinds.newestShared('swell')?.shared?.version]).toEqual([['swell'], 3]);
  });

  it('take nothing from outside but through ports: each thing that would is named', async () => {
    const { doc } = sketchDoc()
      .graph('g')
      .node('h', builtin.nested, { inner: 'g' })
      .node('t', builtin.tap, {
        graph: 'g',
        name: 'Ear',
        beacon: { id: 'far', name: 'Tide' },
        ports: [{ id: 'out', name: 'out', type: 'any', direction: 'out' }],
      })
      .node('far', builtin.beacon, { name: 'Tide' })
      .node('e', 'src', { graph: 'g', params: { value: { expression: [{ node: 'x', parameter: 'value' }] } } })
      .node('x', 'src')
      .node('in', 'tint', { graph: 'g', name: 'Glow' })
      .node('f', builtin.feed, {
        name: 'Feed',
        params: { types: 'num' },
        ports: [{ id: 'in', name: 'in', type: 'num', direction: 'in' }],
      })
      .wire('x.out', 'f.in');
    expect(publishProblems(doc, testKinds, doc.nodes.get('h')!).map((item) => item.message)).toEqual([
      'The tap “Ear” listens to “Tide”, which lies outside: lead it in through a port.',
      'An expression of “e” refers to something outside.',
      '“amount” of “Glow” is supplied by the feed “Feed” outside: lead it in through a port.',
    ]);
    expect(() => publishable(doc, testKinds, doc.nodes.get('x')!)).toThrow(
      '“x” holds no graph that could be published.',
    );
  });

  it('hold what any nested graph held', async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 0, max: 1_000_000 }), fc.integer({ min: 2, max: 20 }), async (seed, size) => {
        const start = docFromSeed(seed, size, { acyclic: true });
        const items = [...start.nodes.values()]
          .filter((node) => node.graph === 'root')
          .slice(0, 5)
          .map((node) => node.id);
        const { edit, report } = await runOperation(
          'nest',
          createContext(testKinds, 1),
          start,
          { graph: 'root', items },
          { name: 'Part' },
        );
        const doc: Doc = apply(start, edit);
        const host = doc.nodes.get(report.select![0]!)!;
        const { body, ports } = publishable(doc, testKinds, host);
        const kinds = withKinds(versionOf(1, ports, 'part'));
        const used = (await act('use-shared', doc, [host.id], { name: 'part' }, kinds)).doc;
        const own = (await act('make-own', used, [host.id], { body: writeDoc(body) }, kinds)).doc;
        expect(compareFingerprints(fingerprint(doc, kinds), fingerprint(own, kinds))).toBe('same');
      }),
      { numRuns: 60 },
    );
  }, 60_000);
});

it('a file is pinned to another version of the catalogue', async () => {
  const { doc } = sketchDoc().node('a', 'src');
  expect((await act('read-with', doc, [], { id: 'test', version: 4 })).doc.head.catalogue).toEqual({
    id: 'test',
    version: 4,
  });
});
