import { compileGraph } from '@basitax/core/arrange/compile';
import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';
import { type Doc, indexOf } from '@basitax/core/document/doc';
import type { Kinds } from '@basitax/core/document/kinds';
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
    const id = [...doc.graphs.keys()].sort((a, b) => indexOf(doc).nodesIn(b).length - indexOf(doc).nodesIn(a).length)[0]!;
    return { name: file.title, family: 'demo', graph: compileGraph(doc, demoKinds, id, indexOf(doc).nodesIn(id)).graph, doc, id, kinds: demoKinds };
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
