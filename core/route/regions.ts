import { connectedParts } from '../arrange/layered/parts.ts';
import { groupBy } from '../group-by.ts';
import { type Columns, findColumns } from './columns.ts';
import { channelLeast, type Ends } from './paths.ts';
import type { Boxes } from './space.ts';

/** Boxes that wires join, with all others that stand among them: what lies beside has columns of its own. */
export interface Region {
  readonly boxes: readonly number[];
  /** The wires that have both ends in it. */
  readonly wires: readonly number[];
  readonly columns: Columns;
  /** What it covers, where wires run between regions: they cross its left and right border. */
  readonly area?: Area;
}

/** The box that each end of a wire stands at, −1 where there is none. */
export interface Stand {
  readonly from: Int32Array;
  readonly to: Int32Array;
}

export interface Area {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

/** Boxes by the leaf of the page that they belong to (−1: none, as titles), and the frames around leaves. */
export interface LeafBoxes {
  readonly of: ArrayLike<number>;
  /** The frame that each leaf lies in, or −1. */
  readonly frameOf: readonly number[];
  readonly frames: readonly Area[];
  /** The frame around each frame, or −1. */
  readonly parent: ArrayLike<number>;
}

/**
 * Something that stands by itself in the lanes of what is around it: a region, or a frame that holds several of such.
 */
export interface Stop {
  readonly area: Area;
  readonly region?: Region;
  readonly inner?: Lanes;
}

/** What lies beside one another in a frame or on the page, and what is in the way between. */
export interface Lanes {
  readonly stops: readonly Stop[];
  readonly titles: readonly Area[];
}

/**
 * Parts that were packed side by side are routed apart from one another. Parts whose areas overlap are one region.
 * O(boxes + parts²) at worst.
 */
export function findRegions(boxes: Boxes, ends: readonly (Ends | undefined)[], stand: Stand): Region[] {
  const wired = wiredOf(ends, stand);
  const parts = connectedParts(
    boxes.count,
    wired.map((i) => stand.from[i]!),
    wired.map((i) => stand.to[i]!),
  );
  const merged = mergeOverlapping(parts.map((part): Draft => ({ part, area: areaOf(boxes, part) })));
  const at = new Int32Array(boxes.count);
  merged.forEach(({ part }, r) => {
    for (const i of part) at[i] = r;
  });
  const wires: number[][] = merged.map(() => []);
  for (const i of wired) wires[at[stand.from[i]!]!]!.push(i);
  return merged
    .map(({ part }, r) => ({ part, wires: wires[r]! }))
    .filter((one) => one.wires.length > 0)
    .map((one) => ({ boxes: one.part, wires: one.wires, columns: findColumns(boxes, channelLeast, one.part) }));
}

/** The distance that stops keep; nearer ones are one region. Wires between them have their ways in that room. */
const leastLane = 20;
/**
 * What a leaf without a frame of its own covers around its nodes; and how far outside its edge a frame with several
 * stops has lanes of its own.
 */
const [marginOfLeaf, apron] = [6, 16];

/**
 * A page as stops in lanes, frame by frame: leaves are regions with borders, a frame that holds several is a stop that
 * has lanes inside. Stops that run into one another, as in files that nobody arranged, are one region with all that
 * they hold. Undefined where that leaves just one.
 * O(boxes + stops²) at worst.
 */
export function findLanes(
  boxes: Boxes,
  ends: readonly (Ends | undefined)[],
  stand: Stand,
  leaves: LeafBoxes,
): Lanes | undefined {
  const parts = new Map<number, number[]>();
  for (let i = 0; i < boxes.count; i++) {
    const leaf = leaves.of[i]!;
    if (leaf < 0) continue;
    const part = parts.get(leaf);
    if (part) part.push(i);
    else parts.set(leaf, [i]);
  }
  const titles = Array.from({ length: boxes.count }, (_, i) => i).filter((i) => leaves.of[i]! < 0);
  const leavesIn = groupBy([...parts.keys()], (leaf) => leaves.frameOf[leaf]!);
  const framesIn = groupBy([...leaves.frames.keys()], (frame) => leaves.parent[frame]!);
  const wired = wiredOf(ends, stand);
  const drafts = (frame: number): Draft[] => {
    const own = (leavesIn.get(frame) ?? []).map(
      (leaf): Draft => ({ part: parts.get(leaf)!, area: grow(areaOf(boxes, parts.get(leaf)!), marginOfLeaf) }),
    );
    const inner = (framesIn.get(frame) ?? []).flatMap((one): Draft[] => {
      const inside = drafts(one);
      const area = leaves.frames[one]!;
      if (inside.length === 0) return [];
      return [
        inside.length === 1 && !inside[0]!.inner
          ? { ...inside[0]!, area }
          : {
              part: inside.flatMap(({ part }) => part),
              area: { ...area, left: area.left - apron, right: area.right + apron },
              inner: inside,
            },
      ];
    });
    return mergeOverlapping([...own, ...inner], leastLane);
  };
  const inArea = ({ left, top, right, bottom }: Area, i: number): boolean =>
    boxes.left[i]! < right && boxes.right[i]! > left && boxes.top[i]! < bottom && boxes.bottom[i]! > top;
  const finish = (list: readonly Draft[], around: readonly number[]): Lanes => {
    const taken = new Set<number>();
    const stops = list.map(({ part, area, inner }): Stop => {
      const mine = around.filter((i) => inArea(area, i));
      for (const i of mine) taken.add(i);
      return inner
        ? { area, inner: finish(inner, mine) }
        : { area, region: regionOf(boxes, wired, stand, [...part, ...mine], area) };
    });
    return { stops, titles: around.filter((i) => !taken.has(i)).map((i) => areaOf(boxes, [i])) };
  };
  const top = drafts(-1);
  return top.length < 2 && !top[0]?.inner ? undefined : finish(top, titles);
}

interface Draft {
  readonly part: number[];
  readonly area: Area;
  readonly inner?: readonly Draft[];
}

function regionOf(boxes: Boxes, wired: readonly number[], stand: Stand, part: readonly number[], area: Area): Region {
  const inside = new Set(part);
  const wires = wired.filter((i) => inside.has(stand.from[i]!) && inside.has(stand.to[i]!));
  return { boxes: part, wires, area, columns: findColumns(boxes, channelLeast, part) };
}

export const regionsIn = ({ stops }: Lanes): Region[] =>
  stops.flatMap((stop) => stop.region ?? (stop.inner ? regionsIn(stop.inner) : []));

const grow = ({ left, top, right, bottom }: Area, by: number): Area => ({
  left: left - by,
  top: top - by,
  right: right + by,
  bottom: bottom + by,
});
export const unite = (a: Area, b: Area): Area => ({
  left: Math.min(a.left, b.left),
  top: Math.min(a.top, b.top),
  right: Math.max(a.right, b.right),
  bottom: Math.max(a.bottom, b.bottom),
});

function wiredOf(ends: readonly (Ends | undefined)[], stand: Stand): number[] {
  const wired: number[] = [];
  ends.forEach((end, i) => {
    if (end && stand.from[i]! >= 0 && stand.to[i]! >= 0) wired.push(i);
  });
  return wired;
}

function areaOf(boxes: Boxes, part: readonly number[]): Area {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const i of part) {
    left = Math.min(left, boxes.left[i]!);
    top = Math.min(top, boxes.top[i]!);
    right = Math.max(right, boxes.right[i]!);
    bottom = Math.max(bottom, boxes.bottom[i]!);
  }
  return { left, top, right, bottom };
}

/** Sweeps from left to right and joins areas that overlap or are nearer than `apart`, until none do. */
function mergeOverlapping(items: readonly Draft[], apart = 0): Draft[] {
  let all = [...items];
  for (;;) {
    all.sort((a, b) => a.area.left - b.area.left || a.part[0]! - b.part[0]!);
    const kept: Draft[] = [];
    let open: number[] = [];
    let joined = false;
    for (const item of all) {
      open = open.filter((k) => kept[k]!.area.right + apart > item.area.left);
      const hit = open.find(
        (k) => kept[k]!.area.top < item.area.bottom + apart && kept[k]!.area.bottom + apart > item.area.top,
      );
      if (hit === undefined) {
        open.push(kept.push(item) - 1);
        continue;
      }
      joined = true;
      const other = kept[hit]!;
      kept[hit] = { part: [...other.part, ...item.part], area: unite(other.area, item.area) };
    }
    all = kept;
    if (!joined) return all;
  }
}
