import type { Space } from './space.ts';

/** Straight piece that a wire keeps before its first and after its last turn. */
export const stub = 16;
/** How far a piece may slide sideways from where it was found. */
export const mostSlide = 300;
/** The distance that wires of different outputs keep. */
export const pitch = 6;
/** A channel between columns that is narrower than this is none: wires could not turn in it. */
export const channelLeast = 2 * stub - 2;
/** How far lanes keep from boxes. */
export const clearance = 7;
/** A port's own piece only has to miss the boxes: its port may stand near the next node's edge. */
const atPort = 1;
const turnCost = 60;
const mostTried = 90;
const mostLanes = 12;

/** One wire to route, in flow coordinates. */
export interface Ends {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
}

/**
 * A right-angled way: level at ys[0] to xs[0], upright to ys[1], level to xs[1] … level at the last of ys to the end.
 * There is one more of ys than of xs; the first and last of ys are the ports'.
 */
export interface Path {
  readonly xs: number[];
  readonly ys: number[];
  /** Which of xs lie between the regions of a page: from the first number up to the second. */
  readonly lanes?: readonly [number, number];
  /** Boxes that it runs through because no way round was found. */
  hits: number;
}

/** A way that others of its output may leave, and where it ends along the flow. */
export interface Trunk {
  readonly path: Path;
  readonly end: number;
}

interface State {
  readonly x: number;
  readonly y: number;
  readonly cost: number;
  readonly bound: number;
  readonly from: State | undefined;
}

/**
 * The way of one wire round the boxes: few turns, then little way across the flow. A* over the places where a level
 * piece that meets a box can go on: the gaps above and below it. Work is bounded; where nothing is found the way with
 * the fewest boxes is taken.
 */
export function findPath(space: Space, ends: Ends): Path {
  const { x1, y1, x2, y2 } = ends;
  if (x2 - x1 >= 2 * stub) {
    const straight = y1 === y2 && space.isFree(x1, y1 - atPort, x2, y1 + atPort);
    if (straight) return { xs: [], ys: [y1], hits: 0 };
    return forward(space, ends) ?? leastHits(space, ends);
  }
  return backward(space, ends);
}

function forward(space: Space, ends: Ends): Path | undefined {
  const { x1, y1, x2, y2 } = ends;
  const last = x2 - stub;
  // from here on the target's own row is free
  const entry = space.reachLeft(x2, y2, atPort, x1);
  if (entry > last) return undefined;
  const heap = new Heap();
  heap.push({ x: x1, y: y1, cost: 0, bound: Math.abs(y2 - y1), from: undefined });
  const seen = new Set<string>();
  for (let tried = 0; tried < mostTried; tried++) {
    const state = heap.pop();
    if (!state) return undefined;
    if (state.x === Number.POSITIVE_INFINITY) return unwind(space, state.from!, ends, Number(state.y));
    const key = `${Math.round(state.x)} ${Math.round(state.y)}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const start = state.from ? state.x : x1;
    const margin = state.from ? clearance : atPort;
    const reach = space.reachRight(start, state.y, margin, last);
    const earliest = state.from ? start : x1 + stub;
    // straight to the column of the target, then to its row
    const turn = uprightNear(
      space,
      Math.max(earliest, entry),
      Math.min(last, reach < last ? reach - clearance : last),
      state.y,
      y2,
      true,
    );
    if (turn !== undefined) {
      const cost = state.cost + Math.abs(y2 - state.y) + (state.y === y2 ? 0 : turnCost);
      heap.push({ x: Number.POSITIVE_INFINITY, y: turn, cost, bound: cost, from: state });
    }
    if (reach >= last) {
      if (turn === undefined) around(space, heap, state, earliest, last, last + 1, ends);
      continue;
    }
    around(space, heap, state, earliest, reach - clearance, reach, ends);
  }
  return undefined;
}

/**
 * A way that leaves one of the net's other ways, so that a fan-out is a trunk with branches; undefined where none is as
 * short as a way of its own could be. O(pieces of the net · log n).
 */
export function joinPath(space: Space, ends: Ends, trunks: readonly Trunk[]): Path | undefined {
  const { x1, x2, y1, y2 } = ends;
  const last = x2 - stub;
  const entry = space.reachLeft(x2, y2, atPort, x1);
  let best: Path | undefined;
  let least = Math.abs(y2 - y1) + turnCost + 1;
  for (const { path, end } of trunks) {
    const { xs, ys } = path;
    for (let i = 0; i < ys.length; i++) {
      const from = i === 0 ? x1 + stub : xs[i - 1]!;
      const to = Math.min(last, xs[i] ?? end);
      const cost = Math.abs(y2 - ys[i]!) + turnCost;
      if (cost >= least || to < Math.max(from, entry)) continue;
      const turn = uprightNear(space, Math.max(from, entry), to, ys[i]!, y2, true);
      if (turn === undefined) continue;
      best =
        ys[i] === y2
          ? { xs: xs.slice(0, i), ys: ys.slice(0, i + 1), hits: 0 }
          : { xs: [...xs.slice(0, i), turn], ys: [...ys.slice(0, i + 1), y2], hits: 0 };
      least = cost;
    }
  }
  return best;
}

/** Goes on above or below what stands at `column`, turning between `earliest` and `latest`. */
function around(
  space: Space,
  heap: Heap,
  state: State,
  earliest: number,
  latest: number,
  column: number,
  ends: Ends,
): void {
  if (latest < earliest) return;
  const window = Math.abs(ends.y2 - state.y) + 900;
  const nearest = rowsBetween(space, column - 1, column + 60, state.y - window, state.y + window)
    .map(([low, high]) => ({
      low,
      high,
      near: Math.min(Math.max(state.y, low), high),
      wanted: Math.min(Math.max(ends.y2, low), high),
    }))
    .sort(
      (a, b) =>
        Math.abs(a.near - state.y) +
        Math.abs(a.wanted - ends.y2) -
        Math.abs(b.near - state.y) -
        Math.abs(b.wanted - ends.y2),
    );
  for (const gap of nearest.slice(0, 5)) {
    for (const y of gap.near === gap.wanted ? [gap.near] : [gap.near, gap.wanted]) {
      if (y === state.y) continue;
      const turn = uprightNear(space, earliest, latest, state.y, y, true);
      if (turn === undefined) continue;
      const cost = state.cost + Math.abs(y - state.y) + turnCost;
      heap.push({
        x: turn,
        y,
        cost,
        bound: cost + Math.abs(ends.y2 - y) + (y === ends.y2 ? 0 : turnCost),
        from: state,
      });
    }
  }
}

/**
 * Where between `low` and `high` an upright piece from y0 to y1 stands free, as near to the high end as it goes (or the
 * low one). O(log n + boxes met · those that it passes).
 */
function uprightNear(
  space: Space,
  low: number,
  high: number,
  y0: number,
  y1: number,
  nearHigh: boolean,
): number | undefined {
  if (high < low) return undefined;
  const { found } = space;
  const { left, right } = space.boxes;
  const count = space.find(low - clearance, Math.min(y0, y1) - atPort, high + clearance, Math.max(y0, y1) + atPort);
  let x = nearHigh ? high : low;
  for (let k = 0; k < count; k++) {
    const i = found[k]!;
    if (left[i]! - clearance >= x || right[i]! + clearance <= x) continue;
    x = nearHigh ? left[i]! - clearance : right[i]! + clearance;
    if (x < low || x > high) return undefined;
    // those before may stand in the new place
    k = -1;
  }
  return x;
}

/**
 * Rows between the boxes that stand between left and right, from top to bottom; each is more than a line. O(n log n) in
 * the boxes met.
 */
function rowsBetween(space: Space, left: number, right: number, top: number, bottom: number): [number, number][] {
  const { found, boxes } = space;
  const met = found.subarray(0, space.find(left, top, right, bottom)).sort((a, b) => boxes.top[a]! - boxes.top[b]!);
  const rows: [number, number][] = [];
  let from = top;
  for (const i of met) {
    const start = boxes.top[i]! - clearance;
    if (start > from) rows.push([from, Math.min(start, bottom)]);
    from = Math.max(from, boxes.bottom[i]! + clearance);
    if (from > bottom) break;
  }
  if (from < bottom) rows.push([from, bottom]);
  return rows;
}

function unwind(space: Space, state: State, ends: Ends, lastTurn: number): Path {
  const states: State[] = [];
  for (let at: State | undefined = state; at; at = at.from) states.push(at);
  states.reverse();
  const xs = states.slice(1).map((one) => one.x);
  const ys = states.map((one) => one.y);
  if (ys[ys.length - 1] !== ends.y2) {
    xs.push(lastTurn);
    ys.push(ends.y2);
  }
  const path = { xs, ys, hits: 0 };
  straighten(space, path);
  return path;
}

/** Two inner levels that could be one become one, and save a turn. */
function straighten(space: Space, { xs, ys }: Path): void {
  for (let k = 1; k + 2 < ys.length; ) {
    const one = space.slideY(ys[k]!, xs[k - 1]!, xs[k]!, clearance, ys[k]! - mostSlide, ys[k]! + mostSlide);
    const two = space.slideY(ys[k + 1]!, xs[k]!, xs[k + 1]!, clearance, ys[k + 1]! - mostSlide, ys[k + 1]! + mostSlide);
    const [low, high] = [Math.max(one[0], two[0]), Math.min(one[1], two[1])];
    if (low > high) {
      k++;
      continue;
    }
    ys[k] = Math.min(Math.max(ys[k]!, low), high);
    ys.splice(k + 1, 1);
    xs.splice(k, 1);
  }
}

/** Out to the right, along a lane back, in from the left: the nearest free lane, or the one with the fewest boxes. */
function backward(space: Space, ends: Ends): Path {
  const { x1, y1, x2, y2 } = ends;
  const [left, right] = [Math.min(x1 + stub, x2 - stub), Math.max(x1 + stub, x2 - stub)];
  let best: Path | undefined;
  let least = Number.POSITIVE_INFINITY;
  // the nearest lanes of a wider reach are mostly those of the one before
  const tried = new Set<number>();
  for (const reach of [120, 600, 2400]) {
    for (const lane of freeLanes(space, left, right, Math.min(y1, y2) - reach, Math.max(y1, y2) + reach, [
      y1,
      y2,
      (y1 + y2) / 2,
    ])) {
      if (tried.has(lane)) continue;
      tried.add(lane);
      const out = uprightNear(space, x1 + stub, x1 + 240, y1, lane, false) ?? x1 + stub;
      const back = uprightNear(space, x2 - 240, x2 - stub, lane, y2, true) ?? x2 - stub;
      const path = { xs: [out, back], ys: [y1, lane, y2], hits: 0 };
      const length = Math.abs(lane - y1) + Math.abs(lane - y2);
      // a longer way has to run through fewer boxes
      const most = length < least ? (best?.hits ?? Number.POSITIVE_INFINITY) : best!.hits - 1;
      path.hits = hitsOf(space, path, ends, most);
      if (path.hits > most) continue;
      [best, least] = [path, length];
      if (path.hits === 0) return path;
    }
  }
  return best ?? { xs: [x1 + stub, x2 - stub], ys: [y1, Math.max(y1, y2) + 60, y2], hits: 1 };
}

/** Levels at which nothing stands between left and right, inside top and bottom; nearest to what is wanted first. */
function freeLanes(
  space: Space,
  left: number,
  right: number,
  top: number,
  bottom: number,
  wanted: readonly number[],
): number[] {
  const lanes: number[] = [];
  const away: number[] = [];
  for (const [low, high] of rowsBetween(space, left - clearance, right + clearance, top, bottom)) {
    const first = lanes.length;
    for (const one of wanted) {
      const lane = Math.min(Math.max(one, low), high);
      if (lanes.indexOf(lane, first) >= 0) continue;
      lanes.push(lane);
      let sum = 0;
      for (const other of wanted) sum += Math.abs(other - lane);
      away.push(sum);
    }
  }
  const order = lanes.map((_, i) => i).sort((a, b) => away[a]! - away[b]!);
  return order.slice(0, mostLanes).map((i) => lanes[i]!);
}

/** Where no way was found: turning early, late, or over a lane, whichever runs through the fewest boxes. */
function leastHits(space: Space, ends: Ends): Path {
  const { x1, y1, x2, y2 } = ends;
  const [early, late] = [x1 + stub, x2 - stub];
  const paths: Path[] = [early, late, (early + late) / 2].map((x) => ({ xs: [x], ys: [y1, y2], hits: 0 }));
  for (const lane of freeLanes(space, early, late, Math.min(y1, y2) - 1200, Math.max(y1, y2) + 1200, [y1, y2]))
    paths.push({ xs: [early, late], ys: [y1, lane, y2], hits: 0 });
  let best = paths[0]!;
  best.hits = hitsOf(space, best, ends);
  for (const path of paths.slice(1)) {
    path.hits = hitsOf(space, path, ends, best.hits);
    if (path.hits < best.hits) best = path;
  }
  return best;
}

/** Boxes that the inner part of a path runs through; counting ends where there are more than `most`. */
export function hitsOf(space: Space, { xs, ys }: Path, ends: Ends, most = Number.POSITIVE_INFINITY): number {
  let count = 0;
  for (let i = 0; i < ys.length && count <= most; i++) {
    const [a, b] = [i === 0 ? ends.x1 : xs[i - 1]!, i === xs.length ? ends.x2 : xs[i]!];
    count += space.find(Math.min(a, b), ys[i]! - 0.5, Math.max(a, b), ys[i]! + 0.5);
    if (i < xs.length)
      count += space.find(xs[i]! - 0.5, Math.min(ys[i]!, ys[i + 1]!), xs[i]! + 0.5, Math.max(ys[i]!, ys[i + 1]!));
  }
  return count;
}

class Heap {
  private readonly items: State[] = [];

  push(state: State): void {
    const { items } = this;
    let i = items.push(state) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (items[up]!.bound <= state.bound) break;
      items[i] = items[up]!;
      i = up;
    }
    items[i] = state;
  }

  pop(): State | undefined {
    const { items } = this;
    const top = items[0];
    const last = items.pop();
    if (items.length === 0 || !last) return top;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= items.length) break;
      if (down + 1 < items.length && items[down + 1]!.bound < items[down]!.bound) down++;
      if (items[down]!.bound >= last.bound) break;
      items[i] = items[down]!;
      i = down;
    }
    items[i] = last;
    return top;
  }
}
