import type { LayeredGraph } from '../layered/graph.ts';
import { type Box, clash, partBoth } from '../part-boxes.ts';
import type { Laid, Unit, UnitGraph } from './units.ts';

/** Some units that move as one, and where they come to lie in it. */
export interface Block {
  readonly units: readonly number[];
  readonly laid: Laid;
}

/**
 * Blocks where they stand: each where most of its nodes move least, and then apart by no more than is needed. Places by unit. What stands apart already
 * stays. O(nodes + blocks²).
 */
export function placeInPlace(graph: Pick<LayeredGraph, 'x' | 'y'>, inside: UnitGraph, blocks: readonly Block[], gap: number): Laid {
  const unitIn = ({ laid }: Block, u: number): Unit => laid.anew?.get(u) ?? inside.units[u]!;
  const boxes = blocks.map((block): Box => {
    const { units, laid } = block;
    const shifts = units.flatMap((u, i) => {
      const unit = unitIn(block, u);
      return unit.nodes.map((v, k) => ({ x: graph.x[v]! - laid.x[i]! - unit.dx[k]!, y: graph.y[v]! - laid.y[i]! - unit.dy[k]! }));
    });
    const [left, top] = [middleOf(shifts.map((one) => one.x)), middleOf(shifts.map((one) => one.y))];
    const first = Math.min(...units.map((u) => inside.units[u]!.nodes[0]!));
    return { left, right: left + laid.width, top, bottom: top + laid.height, first, weight: shifts.length };
  });
  partBoth(boxes, gap);
  const [left, top] = [Math.min(...boxes.map((box) => box.left)), Math.min(...boxes.map((box) => box.top))];
  const [x, y] = [new Float64Array(inside.units.length), new Float64Array(inside.units.length)];
  blocks.forEach(({ units, laid }, b) => {
    units.forEach((u, i) => {
      x[u] = boxes[b]!.left - left + laid.x[i]!;
      y[u] = boxes[b]!.top - top + laid.y[i]!;
    });
  });
  return {
    x,
    y,
    width: Math.max(...boxes.map((box) => box.right)) - left,
    height: Math.max(...boxes.map((box) => box.bottom)) - top,
    anew: new Map(blocks.flatMap(({ laid }) => [...(laid.anew ?? [])])),
  };
}

/** The lower of the middle values: as many are larger as are smaller. */
export function middleOf(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[(sorted.length - 1) >> 1] ?? 0;
}

/** Units as they stand now. */
export function asTheyStand({ units }: UnitGraph, group: readonly number[]): Laid {
  const some = group.map((u) => units[u]!);
  const [left, top] = [Math.min(...some.map((unit) => unit.x)), Math.min(...some.map((unit) => unit.y))];
  return {
    x: Float64Array.from(some, (unit) => unit.x - left),
    y: Float64Array.from(some, (unit) => unit.y - top),
    width: Math.max(...some.map((unit) => unit.x + unit.width)) - left,
    height: Math.max(...some.map((unit) => unit.y + unit.height)) - top,
  };
}

/** How much better a part reads when it is laid out than as it stands: crossings of straight wires and wires that run back, for each wire; without end where units lie on one another. O(wires² + units²). */
export function gainOf(inside: UnitGraph, group: readonly number[], now: Laid, laid: Laid): number {
  const at = new Map(group.map((u, i) => [u, i]));
  const wires = inside.from.flatMap((u, e) => (at.has(u) && at.has(inside.to[e]!) ? [e] : []));
  const boxes = group.map((u, i): Box => {
    const { width, height } = inside.units[u]!;
    return { left: now.x[i]!, right: now.x[i]! + width, top: now.y[i]!, bottom: now.y[i]! + height, first: u, weight: 1 };
  });
  if (boxes.some((a, i) => boxes.some((b, k) => k > i && clash(a, b)))) return Number.POSITIVE_INFINITY;
  const hurts = ({ x, y }: Laid): number => {
    const lines = wires.map((e): Line => {
      const [a, b] = [at.get(inside.from[e]!)!, at.get(inside.to[e]!)!];
      return { net: inside.net[e]!, x1: x[a]! + inside.units[group[a]!]!.width, y1: y[a]! + inside.fromOffset[e]!, x2: x[b]!, y2: y[b]! + inside.toOffset[e]! };
    });
    const back = lines.filter((line) => line.x2 < line.x1).length;
    return lines.reduce((sum, one, i) => sum + lines.slice(i + 1).filter((other) => one.net !== other.net && doCross(one, other)).length, back);
  };
  return (hurts(now) - hurts(laid)) / Math.max(1, wires.length);
}

interface Line {
  readonly net: number;
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

function doCross(a: Line, b: Line): boolean {
  const side = (line: Line, x: number, y: number): number => Math.sign((line.x2 - line.x1) * (y - line.y1) - (line.y2 - line.y1) * (x - line.x1));
  return side(a, b.x1, b.y1) * side(a, b.x2, b.y2) < 0 && side(b, a.x1, a.y1) * side(b, a.x2, a.y2) < 0;
}
