import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { attributesOf } from '../document/attributes.ts';
import { type Doc, nodePath } from '../document/doc.ts';
import { compareIds } from '../document/ids.ts';
import { problems } from '../document/validate.ts';
import { docFromSeed, testKinds as kinds, withAttributes } from '../tests/arbitrary.ts';
import { allGraphvizExamples } from '../tests/outside.ts';
import { type Judged, judged, type Wanted } from '../tests/readers.ts';
import type { FormatId } from './endings.ts';
import { formatById, readFile } from './formats.ts';

// What we write, read by programs that nobody here wrote: networkx, igraph and Python's csv, as Debian has them.

/** Documents of one graph: those programs know none within another. */
const random = fc
  .sample(fc.tuple(fc.nat(1e6), fc.nat(14)), { numRuns: 40, seed: 11 })
  .map(([seed, size]) => withAttributes(docFromSeed(seed, size), seed))
  .filter((doc) => doc.graphs.size === 1 && doc.nodes.size > 0);
const theirs = allGraphvizExamples().map(({ name, text }) => ({ name, doc: readFile(name, text, kinds).doc }));
const plain = theirs.filter(({ doc }) => doc.graphs.size === 1 && doc.nodes.size > 0);
const docs: readonly Doc[] = [...random, ...plain.map(({ doc }) => doc)];

/** networkx knows no graph of which some edges have a direction and some have none. */
const unmixed = docs.filter((doc) => ![...doc.wires.values()].some((wire) => wire.direction));

const wanted = (reader: Wanted['reader'], format: FormatId, all = docs): Wanted[] =>
  all.map((doc) => ({ reader, format, text: formatById(format).write(doc, kinds) }));

/** Does each side of the comparison say the same of a value? Programs that know fewer types have text for the rest. */
const same = (ours: unknown, other: unknown): boolean =>
  JSON.stringify(ours) === JSON.stringify(other) ||
  (typeof ours === 'number' && typeof other === 'number'
    ? Math.abs(ours - other) <= 1e-6 * Math.max(1, Math.abs(ours))
    : JSON.stringify(ours) === other || (typeof ours === 'boolean' && Number(ours) === other));

/** The ends of edges, sorted; without their order where they have no direction. */
const pairs = (all: readonly (readonly [string, string])[], isDirected: boolean): string[] =>
  all.map((ends) => JSON.stringify(isDirected ? ends : [...ends].sort())).sort();

function check(
  doc: Doc,
  read: Judged,
  idOf: (node: string) => string,
  places: readonly [string, string] | undefined,
  titleOf: (name: string) => string = (name) => name,
): void {
  expect(read.error).toBeUndefined();
  const isDirected = doc.graphs.get(doc.head.root)?.undirected !== true;
  const byId = new Map(read.nodes);
  expect([...byId.keys()].sort()).toEqual([...doc.nodes.keys()].map(idOf).sort());
  expect(
    pairs(
      read.edges.map(([from, to]) => [from, to]),
      isDirected,
    ),
  ).toEqual(
    pairs(
      [...doc.wires.values()].map(({ from, to }) => [idOf(from.node), idOf(to.node)]),
      isDirected,
    ),
  );
  if (![...doc.wires.values()].some((wire) => wire.direction)) expect(read.directed).toBe(isDirected);
  for (const node of doc.nodes.values()) {
    const other = byId.get(idOf(node.id))!;
    expect(other.label || other.name).toBe(node.label || node.name);
    if (places) expect([Number(other[places[0]]), Number(other[places[1]])]).toEqual([node.x, node.y]);
    for (const [name, value] of Object.entries(attributesOf(node)))
      expect(same(value, other[titleOf(name)]), `${name}: ${JSON.stringify([value, other])}`).toBe(true);
  }
}

/** Attributes whose names mean something to a program already, or that its format has no characters for, aside. */
function withoutNames(doc: Doc, names: readonly string[]): Doc {
  const clean = <T extends object>(records: ReadonlyMap<string, T>): Map<string, T> =>
    new Map(
      [...records].map(([id, record]) => {
        const { attributes, ...rest } = record as T & { attributes?: Record<string, never> };
        const kept = Object.entries(attributes ?? {}).filter(([name]) => !names.includes(name));
        return [id, { ...rest, ...(kept.length > 0 && { attributes: Object.fromEntries(kept) }) } as T];
      }),
    );
  return { ...doc, nodes: clean(doc.nodes), wires: clean(doc.wires) };
}

describe('what we write is read by others with all its nodes, edges, directions, names, places and attributes', () => {
  it('GraphML, by networkx and igraph', () => {
    // both put attributes beside what they hold themselves, and igraph reads no & in the names of keys
    const all = unmixed.map((doc) => withoutNames(doc, ['id', 'ID', 'label', 'name', 'x', 'shape', 'ä "<&>\\']));
    const read = judged([...wanted('networkx', 'graphml', all), ...wanted('igraph', 'graphml', all)]);
    const outer = (doc: Doc) => {
      const text = formatById('graphml').write(doc, kinds);
      const ids = [...text.matchAll(/<node id="([^"]*)">/g)].map(([, id]) =>
        id!
          .replace(/&lt;/g, '<')
          .replace(/&gt;/g, '>')
          .replace(/&quot;/g, '"')
          .replace(/&amp;/g, '&'),
      );
      const nodes = [...doc.nodes.keys()].sort(compareIds);
      return new Map(nodes.map((id, i) => [id, ids[i]!]));
    };
    all.forEach((doc, i) => {
      const ids = outer(doc);
      check(doc, read[i]!, (id) => ids.get(id)!, ['x', 'y']);
      check(doc, read[all.length + i]!, (id) => ids.get(id)!, ['x', 'y']);
    });
  });

  it('GEXF, by networkx', () => {
    const all = unmixed.map((doc) => withoutNames(doc, ['id', 'ID', 'label', 'x', 'shape', 'weight', 'color']));
    // Debian's networkx knows GEXF up to 1.2, which has the same elements under another name
    const older = (text: string): string => text.replaceAll('http://gexf.net/1.3', 'http://www.gexf.net/1.2draft');
    const asked = wanted('networkx', 'gexf', all).map((one) => ({ ...one, text: older(one.text) }));
    judged(asked).forEach((read, i) => {
      const doc = all[i]!;
      expect(read.error).toBeUndefined();
      const nodes = read.nodes.map(([id, { viz, ...data }]) => {
        const at = (viz as { position?: { x: number; y: number } } | undefined)?.position;
        return [id, { ...data, x: at?.x, y: at?.y }] as const;
      });
      check(doc, { ...read, nodes }, (id) => id, ['x', 'y']);
    });
  });

  it('GML, by networkx and igraph', () => {
    const all = docs.map((doc) =>
      withoutNames(doc, ['id', 'ID', 'label', 'x', 'ä "<&>\\', 'kind of thing', '1', 'basitax']),
    );
    const read = judged([...wanted('networkx', 'gml', all), ...wanted('igraph', 'gml', all)]);
    all.forEach((doc, i) => {
      const numbers = new Map([...doc.nodes.keys()].map((id, at) => [id, String(at)]));
      const title = (name: string) => name.replace(/[^A-Za-z0-9]/g, '');
      check(doc, read[i]!, (id) => numbers.get(id)!, undefined, title);
      const other = read[all.length + i]!;
      expect([other.error, other.nodes.length, other.edges.length]).toEqual([
        undefined,
        doc.nodes.size,
        doc.wires.size,
      ]);
    });
  });

  it('node-link JSON, by networkx', () => {
    const all = docs.map((doc) => withoutNames(doc, ['id', 'label', 'x', 'basitax', 'key']));
    judged(wanted('networkx', 'nodelink', all)).forEach((read, i) =>
      check(all[i]!, read, (id) => nodePath(all[i]!, all[i]!.nodes.get(id)!), ['x', 'y']),
    );
  });

  it('tables of edges and nodes and matrices, by Python’s csv', () => {
    const [edges, nodes, matrices] = (['edges', 'nodes', 'matrix'] as const).map((format) =>
      judged(wanted('csv', format)),
    ) as [Judged[], Judged[], Judged[]];
    docs.forEach((doc, i) => {
      const path = (id: string) => nodePath(doc, doc.nodes.get(id)!);
      const ends = [...doc.wires.values()].map(({ from, to }) => [path(from.node), path(to.node)] as const);
      expect(
        pairs(
          edges[i]!.rows!.map((row) => [row.source!, row.target!]),
          true,
        ),
      ).toEqual(pairs(ends, true));
      expect(nodes[i]!.rows!.map((row) => [row.id, Number(row.x), Number(row.y)])).toEqual(
        [...doc.nodes.values()].map((node) => [path(node.id), node.x, node.y]),
      );
      const joined = matrices[i]!.rows!.flatMap(({ '': from, ...row }) =>
        Object.entries(row).flatMap(([to, value]) => (value === '0' ? [] : [JSON.stringify([from, to])])),
      );
      // edges of no weight weigh nothing
      const weighty = [...doc.wires.values()].filter((wire) => attributesOf(wire).weight !== 0);
      expect(new Set(joined)).toEqual(
        new Set(weighty.map(({ from, to }) => JSON.stringify([path(from.node), path(to.node)]))),
      );
    });
  });
});

describe('what others drew goes through us and comes back without a word', () => {
  it.each(['graphml', 'jgf', 'gexf', 'dot', 'csv', 'json', 'yaml'] as const)('in %s', (format) => {
    for (const { name, doc } of plain) {
      const again = readFile(`x${formatById(format).extensions[0]}`, formatById(format).write(doc, kinds), kinds);
      expect(problems(again.doc), name).toEqual([]);
      expect(
        again.findings.filter(({ severity }) => severity !== 'info'),
        name,
      ).toEqual([]);
      for (const node of doc.nodes.values()) {
        const other = again.doc.nodes.get(node.id);
        expect([name, other?.label, attributesOf(other ?? {})]).toEqual([name, node.label, attributesOf(node)]);
      }
    }
  });
});
