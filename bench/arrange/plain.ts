import type { LayeredGraph } from '@basitax/core/arrange/layered/graph';

const kinds = {
  width: Float64Array,
  height: Float64Array,
  x: Float64Array,
  y: Float64Array,
  fromOffset: Float64Array,
  toOffset: Float64Array,
  from: Int32Array,
  to: Int32Array,
  net: Int32Array,
};

/**
 * A graph as plain lists, for the way between processes; frames are left out, since the libraries that are compared get
 * none.
 */
export function plainGraph(graph: LayeredGraph): object {
  return {
    count: graph.count,
    ...Object.fromEntries(
      Object.keys(kinds).map((key) => [key, [...(graph[key as keyof typeof kinds] as Iterable<number>)]]),
    ),
  };
}

export function reviveGraph(plain: Record<string, number[]>): LayeredGraph {
  const arrays = Object.fromEntries(Object.entries(kinds).map(([key, of]) => [key, of.from(plain[key]!)]));
  return { count: Number(plain.count), ...arrays } as unknown as LayeredGraph;
}
