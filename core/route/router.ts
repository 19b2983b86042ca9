import { findColumns } from './columns.ts';
import { lanePaths } from './lanes.ts';
import { abreast, nudge } from './nudge.ts';
import { pagePaths } from './page-paths.ts';
import { channelLeast, type Ends, findPath, hitsOf, joinPath, type Path, type Trunk } from './paths.ts';
import { findLanes, findRegions, type LeafBoxes, type Region, regionsIn, type Stand } from './regions.ts';
import { type Boxes, Space } from './space.ts';

/**
 * Wires to route, in flow coordinates; a wire without ends gets no way. Wires of one net come from one output and may
 * share pieces.
 */
export interface RouteTask {
  readonly boxes: Boxes;
  readonly ends: readonly (Ends | undefined)[];
  readonly nets: ArrayLike<number>;
  /** The box at each end of each wire, −1 where there is none. */
  readonly stand: Stand;
  /** The leaves of the page; routed as one where absent. */
  readonly leaves?: LeafBoxes;
}

/**
 * Right-angled ways of all wires: each finds its way round the boxes by itself, or leaves a trunk of its own output;
 * then all are moved apart. The same input gives the same ways. About O(wires · (log n + pieces) + pieces that meet).
 */
export function routeAll(task: RouteTask): (Path | undefined)[] {
  const { ends, nets } = task;
  const space = new Space(task.boxes);
  const paths: (Path | undefined)[] = new Array(ends.length);
  const page = task.leaves && findLanes(task.boxes, ends, task.stand, task.leaves);
  const regions = page ? regionsIn(page) : findRegions(task.boxes, ends, task.stand);
  const lanes = page && pagePaths(space, page, task, paths);
  if (!page) for (const region of regions) lanePaths(space, region, ends, nets, task.stand, paths);
  const byNet = new Map<number, number[]>();
  for (let i = 0; i < ends.length; i++) {
    if (!ends[i]) continue;
    const list = byNet.get(nets[i]!);
    if (list) list.push(i);
    else byNet.set(nets[i]!, [i]);
  }
  for (const wires of byNet.values()) {
    // the farthest first: it is the trunk
    wires.sort((a, b) => ends[b]!.x2 - ends[a]!.x2 || a - b);
    const trunks: Trunk[] = [];
    const add = (wire: number, path: Path) => trunks.push({ path, end: ends[wire]!.x2 });
    for (const wire of wires) if (paths[wire]) add(wire, paths[wire]!);
    for (const wire of wires) {
      if (paths[wire]) continue;
      const path = joinPath(space, ends[wire]!, trunks) ?? findPath(space, ends[wire]!);
      paths[wire] = path;
      if (path.hits === 0) add(wire, path);
    }
  }
  nudge(space, regions, ends, nets, paths, lanes);
  // what was moved onto a box, or had no way among the others, is sought anew by itself
  let again = false;
  for (let i = 0; i < ends.length; i++) {
    if (!paths[i] || hitsOf(space, paths[i]!, ends[i]!) === 0) continue;
    const path = findPath(space, ends[i]!);
    if (path.hits > 0) continue;
    paths[i] = path;
    again = true;
  }
  if (again) nudge(space, regions, ends, nets, paths, lanes);
  return paths;
}

/**
 * How many upright pieces will stand side by side in each channel of an arrangement in columns, so that arranging can
 * make the room.
 * Costs what finding the lanes costs.
 */
export function channelDemand({ boxes, ends, nets, stand }: RouteTask): Float64Array {
  const space = new Space(boxes);
  const columns = findColumns(boxes, channelLeast);
  const region: Region = { boxes: Array.from({ length: boxes.count }, (_, i) => i), wires: [...ends.keys()], columns };
  const paths: (Path | undefined)[] = new Array(ends.length);
  lanePaths(space, region, ends, nets, stand, paths);
  return abreast(space, region, ends, nets, paths);
}

/** The corners of a path from port to port, without points that add no turn: x, y, x, y … */
export function cornersOf(path: Path, ends: Ends): number[] {
  const points: number[] = [ends.x1, ends.y1];
  const add = (x: number, y: number): void => {
    const n = points.length;
    if (points[n - 2] === x && points[n - 1] === y) return;
    if (
      n >= 4 &&
      ((points[n - 4] === points[n - 2] && points[n - 2] === x) ||
        (points[n - 3] === points[n - 1] && points[n - 1] === y))
    ) {
      points[n - 2] = x;
      points[n - 1] = y;
      return;
    }
    points.push(x, y);
  };
  path.xs.forEach((x, k) => {
    add(x, path.ys[k]!);
    add(x, path.ys[k + 1]!);
  });
  add(ends.x2, ends.y2);
  return points;
}
