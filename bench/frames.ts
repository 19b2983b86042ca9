import { compileGraph } from '@basitax/core/arrange/compile';
import { indexOf } from '@basitax/core/document/doc';
import { countRouteCrossings } from '@basitax/core/inspect/lines';
import { measureGraph } from '@basitax/core/inspect/measure';
import { propose } from '@basitax/core/inspect/proposals';
import { createContext } from '@basitax/core/operation';
import { elkWiresWithFrames } from '@basitax/core/tests/elk-frames';
import { arranged, filesWithHubs, kinds } from './hub-files.ts';

interface Row {
  readonly file: string;
  readonly elkjs: number;
  readonly page: string;
  readonly fewest: string;
  /** Time of ours with the fewest crossings over that of elkjs, in the same run. */
  readonly time: string;
}

/** Crossings of whole files with frames beside elkjs: frames as compound nodes, ports fixed, its own wires. */
export async function frames(only?: string): Promise<Row[]> {
  const rows: Row[] = [];
  for (const [file, doc] of filesWithHubs(only)) {
    const { graph } = compileGraph(doc, kinds, 'root', indexOf(doc).nodesIn('root'));
    const started = performance.now();
    const elkjs = countRouteCrossings((await elkWiresWithFrames(graph)).filter(({ route }) => route.length > 0));
    const elkMs = performance.now() - started;
    const page = measureGraph(arranged(doc, {}), kinds, 'root').crossings;
    const again = performance.now();
    const { crossings } = propose(createContext(kinds, 1), doc, { graph: 'root', items: [] }, 'crossings', {
      width: 1280,
      height: 800,
    });
    const ms = performance.now() - again;
    const share = (count: number): string => `${count}: ${(count / elkjs).toFixed(2)}`;
    rows.push({ file, elkjs, page: share(page), fewest: share(crossings), time: (ms / elkMs).toFixed(2) });
    console.log(rows.at(-1));
  }
  return rows;
}
