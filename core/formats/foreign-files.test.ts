import { describe, expect, it } from 'vitest';
import type { Doc } from '../document/doc.ts';
import { UnreadableFile } from '../document/unreadable.ts';
import { problems } from '../document/validate.ts';
import { testKinds as kinds } from '../tests/arbitrary.ts';
import { foreignFiles, materialxDocuments } from '../tests/outside.ts';
import { graphviz, judged } from '../tests/readers.ts';
import { decodeFile } from './decode.ts';
import { formatById, readBytes, written } from './formats.ts';

// Files of others, fetched with Debian's packages and the registry: read, counted by others, and written without a false
// alarm.

interface Foreign {
  readonly name: string;
  readonly text: string;
  readonly doc: Doc | undefined;
  readonly why: string | undefined;
}

const files: readonly Foreign[] = [
  ...foreignFiles(),
  ...materialxDocuments().map(({ name, text }) => ({ name, bytes: new TextEncoder().encode(text) })),
].map(({ name, bytes }) => {
  const { text } = decodeFile(bytes, name);
  try {
    return { name, text, doc: readBytes(name, bytes, kinds).doc, why: undefined };
  } catch (error) {
    if (!(error instanceof UnreadableFile)) throw error;
    return { name, text, doc: undefined, why: error.message };
  }
});
const read = files.flatMap(({ name, text, doc }) => (doc ? [{ name, text, doc }] : []));
const ending = (name: string): string => /\.(gv|dot|graphml|gml|mtlx)(?:\.gz)?$/.exec(name)?.[1] ?? '';

describe('files of others', () => {
  it('are more than 300, and read but for those that their own programs do not read either', () => {
    expect(files.length).toBeGreaterThan(300);
    for (const { name, text, why } of files.filter((one) => one.doc === undefined)) {
      // what graphviz itself calls wrong is said to be wrong, too
      expect(['gv', 'dot'], `${name}: ${why}`).toContain(ending(name));
      const { out, warnings } = graphviz('gc', ['-n'], text);
      expect(`${out}${warnings}`, `${name}: ${why}`).toMatch(/error/);
    }
  });

  it('break no rule', () => {
    for (const { name, doc } of read) expect([name, problems(doc)]).toEqual([name, []]);
  });

  it('have the nodes and edges that graphviz counts (gc)', () => {
    let compared = 0;
    for (const { name, text, doc } of read.filter((one) => ['gv', 'dot'].includes(ending(one.name)))) {
      const { out } = graphviz('gc', ['-n', '-e'], text.replace(/^\uFEFF/, ''));
      const sums = out
        .trim()
        .split('\n')
        .map((line) => line.trim().split(/\s+/).slice(0, 2).map(Number))
        .reduce((a, b) => a.map((value, i) => value + b[i]!), [0, 0]);
      const hosts = [...doc.nodes.values()].filter((node) => node.inner !== undefined).length;
      expect([name, doc.nodes.size - hosts, doc.wires.size]).toEqual([name, sums[0], sums[1]]);
      compared++;
    }
    expect(compared).toBeGreaterThan(250);
  });

  it('have the nodes and edges that networkx and igraph count (GraphML, GML)', () => {
    const wanted = read.filter((one) => ['graphml', 'gml'].includes(ending(one.name)) && one.doc.graphs.size === 1);
    const answers = judged(wanted.map(({ name, text }) => ({ reader: 'igraph' as const, format: ending(name), text })));
    let compared = 0;
    wanted.forEach(({ name, doc }, i) => {
      const answer = answers[i]!;
      // igraph knows no hyperedges and no edges between levels
      if (answer.error !== undefined) return;
      expect([name, answer.nodes.length, answer.edges.length]).toEqual([name, doc.nodes.size, doc.wires.size]);
      compared++;
    });
    expect(compared).toBeGreaterThanOrEqual(5);
  });

  it.each(['json', 'yaml', 'graphml', 'jgf', 'materialx', 'dot'] as const)(
    'are written as %s and nothing is said to be lost',
    (id) => {
      // DOT knows no ids of edges and no ports that no edge names, and says so
      const lossless = read.filter(
        ({ name, doc }) => id !== 'dot' || (doc.graphs.size === 1 && ['gv', 'dot'].includes(ending(name))),
      );
      const said = lossless.flatMap(({ name, doc }) => {
        const { lost } = written(formatById(id), doc, kinds);
        return lost.length > 0 ? [`${name}: ${lost.join(', ')}`] : [];
      });
      expect(said).toEqual([]);
    },
  );

  it('are in what we write as GraphML for igraph, node for node and edge for edge', () => {
    const docs = read.filter(({ doc }) => doc.graphs.size === 1 && doc.nodes.size > 0);
    const answers = judged(
      docs.map(({ doc }) => ({
        reader: 'igraph' as const,
        format: 'graphml',
        text: formatById('graphml').write(doc, kinds),
      })),
    );
    docs.forEach(({ name, doc }, i) => {
      const { error, nodes, edges } = answers[i]!;
      expect([name, error, nodes?.length, edges?.length]).toEqual([name, undefined, doc.nodes.size, doc.wires.size]);
    });
  });
});
