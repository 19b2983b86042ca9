import { type Rect, unite } from '../../document/geometry.ts';
import type { LayeredGraph } from '../layered/graph.ts';

/** What a container holds as one thing: a node, or a frame inside it that is laid out already. */
export interface Unit {
  readonly width: number;
  readonly height: number;
  /** Where it stands now, its top-left corner. */
  readonly x: number;
  readonly y: number;
  /** Its nodes, with their places from the unit's corner. */
  readonly nodes: readonly number[];
  readonly dx: readonly number[];
  readonly dy: readonly number[];
  /** The frame that it is; −1 for a node. */
  readonly frame: number;
  /** What it is like, but for names and values: equal numbers may be laid out alike. */
  readonly sign: number;
}

/**
 * Units of one container with the wires between them, numbered from 0. A wire's offsets are those of its ports from the
 * unit's top.
 */
export interface UnitGraph {
  readonly units: readonly Unit[];
  readonly from: readonly number[];
  readonly to: readonly number[];
  readonly fromOffset: readonly number[];
  readonly toOffset: readonly number[];
  readonly net: readonly number[];
  /** Which wire of the whole graph each is. */
  readonly wire: readonly number[];
  /** The wires of the whole graph that have just one end in the container. */
  readonly outer: readonly {
    readonly unit: number;
    readonly net: number;
    readonly offset: number;
    readonly comesIn: boolean;
  }[];
}

/** The wires between the units of a container. O(nodes of the container + wires at them). */
export function unitGraph(
  graph: LayeredGraph,
  units: readonly Unit[],
  wiresOf: (node: number) => readonly number[],
): UnitGraph {
  const unitOf = new Map<number, number>();
  const dy = new Map<number, number>();
  units.forEach((unit, u) => {
    unit.nodes.forEach((v, i) => {
      unitOf.set(v, u);
      dy.set(v, unit.dy[i]!);
    });
  });
  const made = {
    from: [] as number[],
    to: [] as number[],
    fromOffset: [] as number[],
    toOffset: [] as number[],
    net: [] as number[],
    wire: [] as number[],
  };
  const outer: UnitGraph['outer'][number][] = [];
  for (const [v, u] of unitOf) {
    for (const e of wiresOf(v)) {
      const comesIn = graph.to[e] === v;
      const other = unitOf.get(comesIn ? graph.from[e]! : graph.to[e]!);
      const offset = dy.get(v)! + (comesIn ? graph.toOffset[e]! : graph.fromOffset[e]!);
      if (other === undefined) outer.push({ unit: u, net: graph.net[e]!, offset, comesIn });
      else if (!comesIn && other !== u) {
        made.from.push(u);
        made.to.push(other);
        made.fromOffset.push(offset);
        made.toOffset.push(dy.get(graph.to[e]!)! + graph.toOffset[e]!);
        made.net.push(graph.net[e]!);
        made.wire.push(e);
      }
    }
  }
  return { units, ...made, outer };
}

/** Some of the units as a graph for layered layout. O(units + wires). */
export function layeredOf(
  { units, from, to, fromOffset, toOffset, net }: UnitGraph,
  some: readonly number[],
): LayeredGraph {
  const local = new Map(some.map((u, i) => [u, i]));
  const wires = from.flatMap((u, e) => (local.has(u) && local.has(to[e]!) ? [e] : []));
  const unit = (of: (one: Unit) => number): Float64Array => Float64Array.from(some, (u) => of(units[u]!));
  return {
    count: some.length,
    width: unit((one) => one.width),
    height: unit((one) => one.height),
    x: unit((one) => one.x),
    y: unit((one) => one.y),
    from: Int32Array.from(wires, (e) => local.get(from[e]!)!),
    to: Int32Array.from(wires, (e) => local.get(to[e]!)!),
    fromOffset: Float64Array.from(wires, (e) => fromOffset[e]!),
    toOffset: Float64Array.from(wires, (e) => toOffset[e]!),
    net: Int32Array.from(wires, (e) => net[e]!),
  };
}

/** Places of units, and what they cover. */
export interface Laid {
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly width: number;
  readonly height: number;
  /** Frames that were laid out anew together with what is around them, by unit. */
  readonly anew?: ReadonlyMap<number, Unit>;
}

/** Rectangles as what is laid out, moved to 0. */
export function laidAs(rects: readonly Rect[]): Laid {
  const around = unite(rects)!;
  return {
    x: Float64Array.from(rects, (rect) => rect.x - around.x),
    y: Float64Array.from(rects, (rect) => rect.y - around.y),
    width: around.width,
    height: around.height,
  };
}
