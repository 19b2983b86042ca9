import { type Columns, channelAt } from './columns.ts';
import type { Ends, Path } from './paths.ts';
import { clearance, mostSlide, pitch, stub } from './paths.ts';
import type { Region } from './regions.ts';
import type { Space } from './space.ts';
import { type Branch, placeTracks, type Track, tracksAbreast } from './tracks.ts';

/** One upright or level piece of a path: the k-th of xs or ys. */
interface Piece {
  readonly wire: number;
  readonly k: number;
}

/**
 * Moves the pieces of all paths apart: first the levels of inner pieces, then the places of upright ones, so that wires
 * of different outputs keep their distance and cross little; those of one output stay together. Wires that `stays` says
 * it of are not moved, and others keep clear of them.
 */
export function nudge(
  space: Space,
  regions: readonly Region[],
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  paths: readonly (Path | undefined)[],
  lanes: Space = space,
  stays: (wire: number) => boolean = () => false,
): void {
  const columnsOf: (Columns | undefined)[] = new Array(ends.length);
  for (const { wires, columns } of regions) for (const wire of wires) columnsOf[wire] = columns;
  slideUprights(space, lanes, columnsOf, ends, nets, paths, stays);
  slideLevels(space, lanes, ends, nets, paths, stays);
  slideUprights(space, lanes, columnsOf, ends, nets, paths, stays);
}

/** Does the k-th upright of a path stand in the lanes between regions? */
const standsInLane = ({ lanes }: Path, k: number): boolean => lanes !== undefined && k >= lanes[0] && k < lanes[1];
/** Does its k-th level lie there, from upright to upright? */
const liesInLane = ({ lanes }: Path, k: number): boolean => lanes !== undefined && k > lanes[0] && k < lanes[1];

/** How far the k-th upright of a way between regions may slide without passing those before and behind it. */
function betweenTurns({ xs }: Path, { x1, x2 }: Ends, k: number): [number, number] {
  const x = xs[k]!;
  let [low, high] = [x - mostSlide, x + mostSlide];
  for (const [other, room] of [
    k === 0 ? ([x1 + stub, 0] as const) : ([xs[k - 1]!, 3] as const),
    k === xs.length - 1 ? ([x2 - stub, 0] as const) : ([xs[k + 1]!, 3] as const),
  ]) {
    const edge = room === 0 ? other : (other + x) / 2;
    if (other < x) low = Math.max(low, Math.min(edge + room, x));
    else high = Math.min(high, Math.max(edge - room, x));
  }
  return [low, high];
}

/** Upright pieces of one output that stand on one line. */
interface Bar {
  readonly pieces: Piece[];
  readonly net: number;
  readonly x: number;
  /** Where the level piece that it leaves turned before, if it did; and which way it goes. */
  readonly before: number | undefined;
  readonly isDown: boolean;
  /** It stands between regions, where trees have put it among others already. */
  readonly inLane: boolean;
  low: number;
  high: number;
  from: number;
  to: number;
}

function slideUprights(
  space: Space,
  lanes: Space,
  columnsOf: readonly (Columns | undefined)[],
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  paths: readonly (Path | undefined)[],
  stays: (wire: number) => boolean,
): void {
  const bars = gatherBars(space, lanes, columnsOf, ends, nets, paths, stays);
  const place = placeTracks(
    bars.map((bar) => trackOf(bar, ends, paths)),
    pitch,
  );
  bars.forEach((bar, i) => {
    for (const { wire, k } of bar.pieces) paths[wire]!.xs[k] = place[i]!;
  });
}

/** How many upright pieces stand side by side at the most in each channel of a region, were there room enough. */
export function abreast(
  space: Space,
  { columns }: Region,
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  paths: readonly (Path | undefined)[],
): Float64Array {
  const tracks: Track[][] = Array.from({ length: columns.left.length }, () => []);
  const columnsOf = ends.map(() => columns);
  for (const bar of gatherBars(space, space, columnsOf, ends, nets, paths, () => false)) {
    const channel = channelAt(columns, bar.x);
    tracks[channel]?.push({ ...trackOf(bar, ends, paths), low: columns.left[channel]!, high: columns.right[channel]! });
  }
  return Float64Array.from(tracks, (list) => tracksAbreast(list, pitch));
}

function gatherBars(
  space: Space,
  lanes: Space,
  columnsOf: readonly (Columns | undefined)[],
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  paths: readonly (Path | undefined)[],
  stays: (wire: number) => boolean,
): Bar[] {
  const byOrigin = new Map<number, Map<number, Bar[]>>();
  const bars: Bar[] = [];
  paths.forEach((path, wire) => {
    const end = ends[wire];
    if (!path || !end) return;
    const { xs, ys } = path;
    const forward = end.x2 - end.x1 >= 2 * stub;
    xs.forEach((x, k) => {
      const first = k === 0 ? end.x1 + stub : forward ? (xs[k - 1]! + x) / 2 + 3 : x - mostSlide;
      const final = k === xs.length - 1 ? end.x2 - stub : forward ? (xs[k + 1]! + x) / 2 - 3 : x + mostSlide;
      const [from, to] = [Math.min(ys[k]!, ys[k + 1]!), Math.max(ys[k]!, ys[k + 1]!)];
      // an upright piece stays in its channel, though outside the rows of nodes it could slide far
      const columns = columnsOf[wire];
      const channel = columns ? channelAt(columns, x) : -1;
      const [least, most] =
        !columns || channel < 0
          ? [x - mostSlide, x + mostSlide]
          : [columns.left[channel]! + clearance, columns.right[channel]! - clearance];
      const inLane = standsInLane(path, k);
      const [low, high] = stays(wire)
        ? [x, x]
        : path.lanes
          ? (inLane ? lanes : space).slideX(x, from, to, clearance, ...betweenTurns(path, end, k))
          : space.slideX(
              x,
              from,
              to,
              clearance,
              Math.max(Math.min(first, x), least),
              Math.min(Math.max(final, x), most),
            );
      // up and down apart: each can then stand where it crosses least
      const [before, isDown] = [k === 0 ? undefined : xs[k - 1]!, ys[k + 1]! > ys[k]!];
      const known = listAt(byOrigin, nets[wire]!, ys[k]!);
      // branches of one trunk that can stand on one line do
      const same = known.find(
        (bar) =>
          bar.before === before &&
          bar.isDown === isDown &&
          bar.inLane === inLane &&
          Math.max(bar.low, low) <= Math.min(bar.high, high),
      );
      if (same) {
        same.pieces.push({ wire, k });
        same.low = Math.max(same.low, low);
        same.high = Math.min(same.high, high);
        same.from = Math.min(same.from, from);
        same.to = Math.max(same.to, to);
        return;
      }
      const bar: Bar = { pieces: [{ wire, k }], net: nets[wire]!, x, before, isDown, inLane, low, high, from, to };
      known.push(bar);
      bars.push(bar);
    });
  });
  return bars;
}

function trackOf(bar: Bar, ends: readonly (Ends | undefined)[], paths: readonly (Path | undefined)[]): Track {
  const branches = new Branches();
  for (const { wire, k } of bar.pieces) {
    const { xs, ys } = paths[wire]!;
    const end = ends[wire]!;
    branches.add(ys[k]!, xs[k]!, k === 0 ? end.x1 : xs[k - 1]!);
    branches.add(ys[k + 1]!, xs[k]!, k === xs.length - 1 ? end.x2 : xs[k + 1]!);
  }
  return {
    net: bar.net,
    low: bar.low,
    high: bar.high,
    from: bar.from,
    to: bar.to,
    now: bar.x,
    branches: branches.all,
    ...(bar.inLane && { stays: true }),
  };
}

/** What lies at one level of one net. */
function listAt<T>(all: Map<number, Map<number, T[]>>, net: number, level: number): T[] {
  const levels = all.get(net) ?? new Map<number, T[]>();
  all.set(net, levels);
  const list = levels.get(level) ?? [];
  levels.set(level, list);
  return list;
}

type Growing<T> = { -readonly [K in keyof T]: T[K] };

/** Branches of one track; those at one place to one side are one, with their wires added up. */
class Branches {
  private readonly sides = [new Map<number, Growing<Branch>>(), new Map<number, Growing<Branch>>()] as const;
  readonly all: Branch[] = [];

  add(at: number, own: number, other: number): void {
    const side = other < own ? -1 : 1;
    const places = this.sides[side < 0 ? 0 : 1];
    const known = places.get(at);
    if (known) {
      known.wires++;
      known.reach = side < 0 ? Math.min(known.reach, other) : Math.max(known.reach, other);
    } else {
      const branch = { at, side, reach: other, wires: 1 } as const;
      places.set(at, branch);
      this.all.push(branch);
    }
  }
}

function slideLevels(
  space: Space,
  between: Space,
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  paths: readonly (Path | undefined)[],
  stays: (wire: number) => boolean,
): void {
  interface Lane {
    pieces: Piece[];
    net: number;
    y: number;
    from: number;
    to: number;
    fixed: boolean;
    inLane: boolean;
  }
  const lanes: Lane[] = [];
  const byNet = new Map<number, Map<number, Lane[]>>();
  paths.forEach((path, wire) => {
    const end = ends[wire];
    if (!path || !end) return;
    const last = path.ys.length - 1;
    for (let k = 0; k <= last; k++) {
      const [a, b] = [k === 0 ? end.x1 : path.xs[k - 1]!, k === last ? end.x2 : path.xs[k]!];
      const [from, to] = [Math.min(a, b), Math.max(a, b)];
      const fixed = k === 0 || k === last || stays(wire);
      const known = listAt(byNet, nets[wire]!, path.ys[k]!);
      const same = known.find((lane) => from <= lane.to && to >= lane.from);
      if (same) {
        same.pieces.push({ wire, k });
        same.from = Math.min(same.from, from);
        same.to = Math.max(same.to, to);
        same.fixed ||= fixed;
        same.inLane &&= liesInLane(path, k);
        continue;
      }
      const lane: Lane = {
        pieces: [{ wire, k }],
        net: nets[wire]!,
        y: path.ys[k]!,
        from,
        to,
        fixed,
        inLane: liesInLane(path, k),
      };
      known.push(lane);
      lanes.push(lane);
    }
  });
  const tracks = lanes.map((lane): Track => {
    const [low, high] = lane.fixed
      ? [lane.y, lane.y]
      : (lane.inLane ? between : space).slideY(
          lane.y,
          lane.from,
          lane.to,
          clearance,
          lane.y - mostSlide,
          lane.y + mostSlide,
        );
    const branches = new Branches();
    for (const { wire, k } of lane.pieces) {
      const { xs, ys } = paths[wire]!;
      if (k > 0) branches.add(xs[k - 1]!, lane.y, ys[k - 1]!);
      if (k < xs.length) branches.add(xs[k]!, lane.y, ys[k + 1]!);
    }
    return { net: lane.net, low, high, from: lane.from, to: lane.to, now: lane.y, stays: true, branches: branches.all };
  });
  const place = placeTracks(tracks, pitch);
  lanes.forEach((lane, i) => {
    if (!lane.fixed) for (const { wire, k } of lane.pieces) paths[wire]!.ys[k] = place[i]!;
  });
}
