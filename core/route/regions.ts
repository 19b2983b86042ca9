import { connectedParts } from '../arrange/layered/parts.ts';
import { type Columns, findColumns } from './columns.ts';
import { channelLeast, type Ends } from './paths.ts';
import type { Boxes } from './space.ts';

/** Boxes that wires join, with all others that stand among them: what lies beside has columns of its own. */
export interface Region {
  readonly boxes: readonly number[];
  readonly wires: readonly number[];
  readonly columns: Columns;
}

/** The box that each end of a wire stands at, −1 where there is none. */
export interface Stand {
  readonly from: Int32Array;
  readonly to: Int32Array;
}

interface Area {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Parts that were packed side by side are routed apart from one another. Parts whose areas overlap are one region. O(boxes + parts²) at worst. */
export function findRegions(boxes: Boxes, ends: readonly (Ends | undefined)[], stand: Stand): Region[] {
  const wired: number[] = [];
  ends.forEach((end, i) => {
    if (end && stand.from[i]! >= 0 && stand.to[i]! >= 0) wired.push(i);
  });
  const parts = connectedParts(
    boxes.count,
    wired.map((i) => stand.from[i]!),
    wired.map((i) => stand.to[i]!),
  );
  const merged = mergeOverlapping(parts.map((part) => ({ part, area: areaOf(boxes, part) })));
  const regionOf = new Int32Array(boxes.count);
  merged.forEach(({ part }, r) => {
    for (const i of part) regionOf[i] = r;
  });
  const wires: number[][] = merged.map(() => []);
  for (const i of wired) wires[regionOf[stand.from[i]!]!]!.push(i);
  return merged
    .map(({ part }, r) => ({ part, wires: wires[r]! }))
    .filter((one) => one.wires.length > 0)
    .map((one) => ({ boxes: one.part, wires: one.wires, columns: findColumns(boxes, channelLeast, one.part) }));
}

function areaOf(boxes: Boxes, part: readonly number[]): Area {
  const area: Area = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const i of part) {
    area.left = Math.min(area.left, boxes.left[i]!);
    area.top = Math.min(area.top, boxes.top[i]!);
    area.right = Math.max(area.right, boxes.right[i]!);
    area.bottom = Math.max(area.bottom, boxes.bottom[i]!);
  }
  return area;
}

/** Sweeps from left to right and joins areas that overlap, until none do. */
function mergeOverlapping(items: { part: number[]; area: Area }[]): { part: number[]; area: Area }[] {
  let all = items;
  for (;;) {
    all.sort((a, b) => a.area.left - b.area.left || a.part[0]! - b.part[0]!);
    const kept: { part: number[]; area: Area }[] = [];
    let open: typeof kept = [];
    let joined = false;
    for (const item of all) {
      open = open.filter((one) => one.area.right > item.area.left);
      const hit = open.find((one) => one.area.top < item.area.bottom && one.area.bottom > item.area.top);
      if (!hit) {
        kept.push(item);
        open.push(item);
        continue;
      }
      joined = true;
      hit.part.push(...item.part);
      hit.area = {
        left: hit.area.left,
        top: Math.min(hit.area.top, item.area.top),
        right: Math.max(hit.area.right, item.area.right),
        bottom: Math.max(hit.area.bottom, item.area.bottom),
      };
    }
    all = kept;
    if (!joined) return all;
  }
}
