import { type Doc, indexOf } from '../document/doc.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import { foldedView } from '../structure/fold.ts';
import { judge } from './faults.ts';
import { lengthOf } from './lines.ts';

/**
 * What makes a graph hard to read, in numbers (after Purchase, “Metrics for graph drawing aesthetics”, J. Visual
 * Languages and Computing 2002).
 * Lengths in pixels at 100 % zoom, over the wires as they are drawn.
 */
export interface Measures {
  readonly nodes: number;
  readonly wires: number;
  readonly frames: number;
  /** Points at which wires of different sources cross. */
  readonly crossings: number;
  /** Pairs of a wire and a node that it runs through without belonging to it. */
  readonly throughNodes: number;
  readonly overlaps: number;
  readonly length: number;
  /** How many windows of 1280 × 800 wires reach beyond their own, all together. */
  readonly windows: number;
  readonly bends: number;
  /** Wires that run against the flow. */
  readonly backward: number;
  /** Nodes without a label that still have the name they were made with: their kind and a number. */
  readonly defaultNames: number;
}

export const noMeasures: Measures = {
  nodes: 0,
  wires: 0,
  frames: 0,
  crossings: 0,
  throughNodes: 0,
  overlaps: 0,
  length: 0,
  windows: 0,
  bends: 0,
  backward: 0,
  defaultNames: 0,
};

export function addMeasures(a: Measures, b: Measures): Measures {
  return Object.fromEntries(
    Object.keys(noMeasures).map((field) => [field, a[field as keyof Measures] + b[field as keyof Measures]]),
  ) as unknown as Measures;
}

/** All graphs of the document together, as they are drawn: with frames folded that are. */
export function measureDoc(doc: Doc, kinds: Kinds): Measures {
  return [...doc.graphs.keys()].reduce(
    (sum, graph) => addMeasures(sum, measureGraph(foldedView(doc, kinds), kinds, graph)),
    noMeasures,
  );
}

/** Measures one graph as the document has it. O((nodes + pieces) log n + crossings). */
export function measureGraph(doc: Doc, kinds: Kinds, graph: Id): Measures {
  const { lines, boxes, faults } = judge(doc, kinds, graph);
  const index = indexOf(doc);
  return {
    nodes: boxes.nodes.length,
    wires: index.wiresIn(graph).length,
    frames: index.framesIn(graph).length,
    crossings: faults.count('crossing'),
    throughNodes: faults.count('through'),
    overlaps: faults.count('overlap'),
    length: Math.round(lines.reduce((sum, line) => sum + lengthOf(line.route), 0)),
    windows: faults.count('far'),
    bends: faults.count('bend'),
    backward: faults.count('backward'),
    defaultNames: boxes.nodes.filter((node) => !node.label && isDefaultName(node.name, node.kind, kinds)).length,
  };
}
