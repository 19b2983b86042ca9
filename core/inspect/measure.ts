import { type Doc, indexOf } from '../document/doc.ts';
import { flowOf } from '../document/geometry.ts';
import type { Id } from '../document/ids.ts';
import type { Kinds } from '../document/kinds.ts';
import { isDefaultName } from '../document/names.ts';
import type { Flow } from '../document/schema.ts';
import { type Route, routesOf } from '../route/route.ts';
import { foldedView } from '../structure/fold.ts';
import { Boxes } from './boxes.ts';
import { countRouteCrossings, lengthOf, lineOf, windowsOf } from './lines.ts';

/**
 * What makes a graph hard to read, in numbers (after Purchase, “Metrics for graph drawing aesthetics”, J. Visual Languages and Computing 2002).
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

export const noMeasures: Measures = { nodes: 0, wires: 0, frames: 0, crossings: 0, throughNodes: 0, overlaps: 0, length: 0, windows: 0, bends: 0, backward: 0, defaultNames: 0 };

export function addMeasures(a: Measures, b: Measures): Measures {
  return Object.fromEntries(Object.keys(noMeasures).map((field) => [field, a[field as keyof Measures] + b[field as keyof Measures]])) as unknown as Measures;
}

/** All graphs of the document together, as they are drawn: with frames folded that are. */
export function measureDoc(doc: Doc, kinds: Kinds): Measures {
  return [...doc.graphs.keys()].reduce((sum, graph) => addMeasures(sum, measureGraph(foldedView(doc, kinds), kinds, graph)), noMeasures);
}

/** Measures one graph. O((nodes + pieces) log n + crossings). */
export function measureGraph(doc: Doc, kinds: Kinds, graph: Id, routes: ReadonlyMap<Id, Route> = routesOf(doc, kinds, graph)): Measures {
  const index = indexOf(doc);
  const nodes = index.nodesIn(graph);
  const flow = flowOf(doc, graph);
  const wires = index.wiresIn(graph);
  let [length, windows, bends, backward] = [0, 0, 0, 0];
  for (const wire of wires) {
    const route = routes.get(wire.id);
    if (!route) continue;
    length += lengthOf(route);
    windows += windowsOf(route);
    // the points of a curve are no bends
    if (doc.head.wireStyle !== 'curved') bends += Math.max(0, route.length - 2);
    if (runsBackward(route, flow)) backward++;
  }
  const boxes = new Boxes(doc, kinds, graph);
  const lines = wires.flatMap((wire) => lineOf(wire, routes.get(wire.id)) ?? []);
  return {
    nodes: nodes.length,
    wires: wires.length,
    frames: index.framesIn(graph).length,
    crossings: countRouteCrossings(lines),
    throughNodes: lines.reduce((sum, line) => sum + boxes.under(line).size, 0),
    overlaps: boxes.overlapping().length,
    length: Math.round(length),
    windows,
    bends,
    backward,
    defaultNames: nodes.filter((node) => !node.label && isDefaultName(node.name, node.kind, kinds)).length,
  };
}

/** Does a wire end before it began, along the flow? */
export function runsBackward(route: Route, flow: Flow): boolean {
  const [start, end] = [route[0]!, route[route.length - 1]!];
  const along = { right: end.x - start.x, left: start.x - end.x, down: end.y - start.y, up: start.y - end.y }[flow];
  return along < 0;
}
