import type { LayeredGraph } from '../layered/graph.ts';
import { anyClash, type Box, boxOf, partBoth } from '../part-boxes.ts';
import { type Laid, laidAs, type Unit, type UnitGraph } from './units.ts';

/** Some units that move as one, and where they come to lie in it. */
export interface Block {
  readonly units: readonly number[];
  readonly laid: Laid;
}

/**
 * Blocks where they stand: each where most of its nodes move least, and then apart by no more than is needed. Places by
 * unit. What stands apart already stays. O(nodes + blocks²).
 */
export function placeInPlace(
  graph: Pick<LayeredGraph, 'x' | 'y'>,
  inside: UnitGraph,
  blocks: readonly Block[],
  gap: number,
): Laid {
  const unitIn = ({ laid }: Block, u: number): Unit => laid.anew?.get(u) ?? inside.units[u]!;
  const boxes = blocks.map((block): Box => {
    const { units, laid } = block;
    const shifts = units.flatMap((u, i) => {
      const unit = unitIn(block, u);
      return unit.nodes.map((v, k) => ({
        x: graph.x[v]! - laid.x[i]! - unit.dx[k]!,
        y: graph.y[v]! - laid.y[i]! - unit.dy[k]!,
      }));
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
export const asTheyStand = ({ units }: UnitGraph, group: readonly number[]): Laid =>
  laidAs(group.map((u) => units[u]!));

/** Of more wires, so many are counted against all: what each saves is asked, not how much all do. */
const mostCounted = 400;

/**
 * How much better a part reads when it is laid out than as it stands: crossings of straight wires and wires that run
 * back, for each wire; without end where units lie on one another. O(wires, or 400 of them, · wires + units · log
 * units).
 */
export function gainOf(inside: UnitGraph, group: readonly number[], now: Laid, laid: Laid): number {
  const { units } = inside;
  if (
    anyClash(
      group.map((u, i) => boxOf({ x: now.x[i]!, y: now.y[i]!, width: units[u]!.width, height: units[u]!.height }, u)),
    )
  )
    return Number.POSITIVE_INFINITY;
  const at = new Map(group.map((u, i) => [u, i]));
  const wires = inside.from.flatMap((u, e) => (at.has(u) && at.has(inside.to[e]!) ? [e] : []));
  const step = Math.ceil(wires.length / mostCounted);
  const hurts = ({ x, y }: Laid): number => {
    const lines = wires.map((e): Line => {
      const [a, b] = [at.get(inside.from[e]!)!, at.get(inside.to[e]!)!];
      return {
        net: inside.net[e]!,
        x1: x[a]! + units[group[a]!]!.width,
        y1: y[a]! + inside.fromOffset[e]!,
        x2: x[b]!,
        y2: y[b]! + inside.toOffset[e]!,
      };
    });
    let [sum, counted] = [0, 0];
    for (let i = 0; i < lines.length; i += step) {
      const one = lines[i]!;
      counted++;
      if (one.x2 < one.x1) sum++;
      // each crossing is met from both sides
      for (const other of lines) if (one.net !== other.net && doCross(one, other)) sum += 0.5;
    }
    return sum / Math.max(1, counted);
  };
  return hurts(now) - hurts(laid);
}

interface Line {
  readonly net: number;
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

const side = ({ x1, y1, x2, y2 }: Line, x: number, y: number): number =>
  Math.sign((x2 - x1) * (y - y1) - (y2 - y1) * (x - x1));

const doCross = (a: Line, b: Line): boolean =>
  side(a, b.x1, b.y1) * side(a, b.x2, b.y2) < 0 && side(b, a.x1, a.y1) * side(b, a.x2, a.y2) < 0;
