import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { compileGraph } from '@basitax/core/arrange/compile';
import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import { emptyCatalogue } from '@basitax/core/document/catalogue';
import { type Doc, indexOf } from '@basitax/core/document/doc';
import { Kinds } from '@basitax/core/document/kinds';
import { readFile } from '@basitax/core/formats/formats';
import { fileLike, randomFar, withSizes } from '@basitax/core/tests/graphs';
import { kinds as demoKinds } from '@basitax/demo/builder';
import { demoFiles } from '@basitax/demo/files';
import { materialGraphs } from './materialx.ts';

export interface NamedGraph {
  readonly name: string;
  readonly family: 'like files' | 'random' | 'demo' | 'graphviz' | 'MaterialX';
  readonly graph: LayeredGraph;
}

/** Graphs of a library with fewer nodes say nothing. */
const least = 8;

/** The largest graph of each demo file, without its frames for the comparison; frames are measured apart. */
export function demoGraphs(): (NamedGraph & { readonly doc: Doc; readonly id: string; readonly kinds: Kinds })[] {
  return demoFiles.map((file) => {
    const doc = file.build();
    const id = [...doc.graphs.keys()].sort(
      (a, b) => indexOf(doc).nodesIn(b).length - indexOf(doc).nodesIn(a).length,
    )[0]!;
    return {
      name: file.title,
      family: 'demo',
      graph: compileGraph(doc, demoKinds, id, indexOf(doc).nodesIn(id)).graph,
      doc,
      id,
      kinds: demoKinds,
    };
  });
}

export function generatedGraphs(sizes: readonly number[]): NamedGraph[] {
  return sizes.flatMap((n): NamedGraph[] => [
    { name: `like a file, ${n}`, family: 'like files', graph: withSizes(fileLike(n, n)) },
    { name: `random, ${n}`, family: 'random', graph: withSizes(randomFar(n, n)) },
  ]);
}

export const libraryGraphs = (): NamedGraph[] =>
  materialGraphs()
    .filter(({ graph }) => graph.count >= least && graph.from.length >= least)
    .map(({ name, graph }) => ({ name, family: 'MaterialX', graph }));

const examples = '/usr/share/doc/graphviz/examples/graphs';

/**
 * The example graphs of Debian's graphviz-doc, laid from left to right; without their clusters, as all engines get
 * them.
 */
export function exampleGraphs(): NamedGraph[] {
  const kinds = new Kinds(emptyCatalogue);
  return ['directed', 'undirected'].flatMap((folder) =>
    readdirSync(`${examples}/${folder}`).flatMap((file): NamedGraph[] => {
      const stored = readFileSync(`${examples}/${folder}/${file}`);
      const bytes = file.endsWith('.gz') ? gunzipSync(stored) : stored;
      const { doc } = readFile(
        file.replace(/\.gz$/, ''),
        bytes.toString(file.startsWith('Latin1') ? 'latin1' : 'utf8'),
        kinds,
      );
      const right = {
        ...doc,
        graphs: new Map([...doc.graphs].map(([id, one]) => [id, { ...one, flow: 'right' as const }])),
      };
      const { graph } = compileGraph(right, kinds, 'root', indexOf(right).nodesIn('root'));
      const loops = [...graph.from.keys()].filter((e) => graph.from[e] !== graph.to[e]);
      const pick = <T extends Float64Array | Int32Array>(values: T): T =>
        values.filter((_, e) => loops.includes(e)) as T;
      const plain = {
        ...graph,
        from: pick(graph.from),
        to: pick(graph.to),
        fromOffset: pick(graph.fromOffset),
        toOffset: pick(graph.toOffset),
        net: pick(graph.net),
      };
      return plain.count < least || plain.from.length < least ? [] : [{ name: file, family: 'graphviz', graph: plain }];
    }),
  );
}
