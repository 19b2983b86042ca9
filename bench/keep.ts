import type { Doc } from '@basitax/core/document/doc';
import { measureGraph } from '@basitax/core/inspect/measure';
import { arranged, filesWithHubs, kinds } from './hub-files.ts';

/** The steps of the curve. */
const keeps = [0, 0.15, 0.3, 0.45, 0.5, 0.6, 0.7, 0.8, 0.9, 1];

interface Row {
  readonly file: string;
  readonly before: number;
  /** Crossings, and how far nodes move on average in pixels, at each keep. */
  readonly [keep: string]: string | number;
}

/**
 * The curve of *keep*: what each step of it costs in crossings and saves in movement, on the files of the benchmark
 * `page`.
 */
export function keep(only?: string): Row[] {
  return filesWithHubs(only).map(([file, doc]): Row => {
    const steps = keeps.map((value): [string, string] => {
      const after = arranged(doc, { keep: value });
      return [`keep ${value}`, `${measureGraph(after, kinds, 'root').crossings}, ${movement(doc, after)} px`];
    });
    return { file, before: measureGraph(doc, kinds, 'root').crossings, ...Object.fromEntries(steps) };
  });
}

function movement(before: Doc, after: Doc): number {
  const nodes = [...before.nodes.values()].filter((node) => node.graph === 'root');
  const far = nodes.reduce(
    (sum, node) => sum + Math.hypot(after.nodes.get(node.id)!.x - node.x, after.nodes.get(node.id)!.y - node.y),
    0,
  );
  return Math.round(far / Math.max(1, nodes.length));
}
