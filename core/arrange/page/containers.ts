import { adjacency, type LayeredGraph } from '../layered/graph.ts';
import type { Unit } from './units.ts';

/**
 * What each frame of a graph holds by itself. The whole stands before all frames: frame f is at f + 1. O(nodes +
 * wires).
 */
export class Containers {
  /** Nodes that a frame holds but no frame within it. */
  readonly members: readonly (readonly number[])[];
  readonly inner: readonly (readonly number[])[];
  /** The wires at each node. */
  readonly wires: readonly (readonly number[])[];
  private readonly graph: LayeredGraph;

  constructor(graph: LayeredGraph) {
    this.graph = graph;
    const count = graph.frames?.parent.length ?? 0;
    const members: number[][] = Array.from({ length: count + 1 }, () => []);
    const inner: number[][] = Array.from({ length: count + 1 }, () => []);
    for (let v = 0; v < graph.count; v++) members[(graph.frames?.of[v] ?? -1) + 1]!.push(v);
    graph.frames?.parent.forEach((parent, f) => inner[parent + 1]!.push(f));
    const [out, into] = [adjacency(graph.count, graph.from), adjacency(graph.count, graph.to)];
    this.members = members;
    this.inner = inner;
    this.wires = Array.from({ length: graph.count }, (_, v) => [
      ...out.list.subarray(out.start[v]!, out.start[v + 1]!),
      ...into.list.subarray(into.start[v]!, into.start[v + 1]!),
    ]);
  }

  /** A node as a unit. */
  single(v: number): Unit {
    const { width, height, x, y, sign } = this.graph;
    return {
      width: width[v]!,
      height: height[v]!,
      x: x[v]!,
      y: y[v]!,
      nodes: [v],
      dx: [0],
      dy: [0],
      frame: -1,
      sign: sign?.[v] ?? 0,
    };
  }
}
