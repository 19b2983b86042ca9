import type { LayeredGraph } from '../arrange/layered/graph.ts';
import { type Layers, makeLayers } from '../arrange/layered/layers.ts';
import { orderLanes } from '../arrange/layered/order.ts';
import type { Rows } from '../arrange/layered/rows.ts';
import type { Columns } from './columns.ts';
import { clearance, type Ends, type Path, pitch } from './paths.ts';
import type { Region, Stand } from './regions.ts';
import type { Space } from './space.ts';

/**
 * Ways of the wires of a region that run from column to column, found together: the boxes stay, and each long wire gets
 * its place between them in every column by the same search for few crossings that arranging uses; then lanes are made
 * as straight as that order lets them be. Wires of `through` have one end in the region alone: they get a way from or
 * to its border, at a level where they run straight on.
 * Wires that this does not fit (backwards, inside a column, shut in) get none. Writes into `paths`. O(lanes · reach).
 */
export function lanePaths(
  space: Space,
  region: Region,
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  stand: Stand,
  paths: (Path | undefined)[],
  through: readonly Through[] = [],
): void {
  const columns = borderedColumns(region, space);
  const local = new Map(region.boxes.map((box, i) => [box, i]));
  const inner = region.wires.filter((i) => fits(space, region.columns, ends[i]!, stand.from[i]!, stand.to[i]!));
  const half = through.filter(({ wire, comesIn }) =>
    halfFits(space, region, ends[wire]!, comesIn ? stand.to[wire]! : stand.from[wire]!, comesIn),
  );
  if (inner.length + half.length === 0) return;
  // the borders are columns of their own, beside them one place far out where all that crosses a border begins or ends
  const [source, sink] = [region.boxes.length, region.boxes.length + 1];
  const fit: Fit[] = [
    ...inner.map(
      (wire): Fit => ({
        wire,
        from: local.get(stand.from[wire]!)!,
        to: local.get(stand.to[wire]!)!,
        y1: ends[wire]!.y1,
        y2: ends[wire]!.y2,
      }),
    ),
    ...half.map(({ wire, comesIn }): Fit => {
      const { y1, y2 } = ends[wire]!;
      return comesIn
        ? { wire, from: source, to: local.get(stand.to[wire]!)!, y1: y2, y2 }
        : { wire, from: local.get(stand.from[wire]!)!, to: sink, y1, y2: y1 };
    }),
  ];
  const graph = compile(space, region, nets, fit);
  const ranks = Int32Array.from([
    ...region.boxes.map((box) => region.columns.of[box]! + 2),
    0,
    region.columns.count + 3,
  ]);
  const layers = makeLayers(graph, ranks, new Uint8Array(fit.length));
  const rows = orderLanes(layers);
  relieve(rows, space, region.boxes);
  const lanes = new LanePlacer(layers, rows, region, space);
  const chains = fit.map(({ from, to }, i) =>
    Int32Array.from({ length: Math.max(0, ranks[to]! - ranks[from]! - 1) }, (_, k) => layers.firstLane[i]! + k),
  );
  const order = chains.map((_, i) => i).sort((a, b) => chains[b]!.length - chains[a]!.length || a - b);
  for (const i of order) lanes.place(chains[i]!, fit[i]!);
  fit.forEach(({ wire, from, to }, i) => {
    if (from === source) half[i - inner.length]!.done(pathIn(fit[i]!, columns, chains[i]!, lanes.y));
    else if (to === sink) half[i - inner.length]!.done(pathOut(fit[i]!, columns, ranks[from]!, chains[i]!, lanes.y));
    else paths[wire] = pathOf(fit[i]!, columns, ranks[from]!, chains[i]!, lanes.y);
  });
}

/** A wire with one end in the region; `done` takes its way from or to the border. */
export interface Through {
  readonly wire: number;
  readonly comesIn: boolean;
  done(path: Path): void;
}

/** A wire between two of the region's boxes or places beyond its border, and the levels that it wants at its ends. */
interface Fit {
  readonly wire: number;
  readonly from: number;
  readonly to: number;
  readonly y1: number;
  readonly y2: number;
}

/**
 * From where to where the channel behind each column goes; two columns more at each side, the inner one being the
 * border.
 */
interface Bordered {
  readonly left: readonly number[];
  readonly right: readonly number[];
}

function borderedColumns({ columns, boxes, area }: Region, space: Space): Bordered {
  let [first, last] = [Infinity, -Infinity];
  for (const box of boxes) {
    first = Math.min(first, space.boxes.left[box]!);
    last = Math.max(last, space.boxes.right[box]!);
  }
  return {
    left: [0, area?.left ?? first, ...columns.left, last, 0],
    right: [0, first, ...columns.right, area?.right ?? last, 0],
  };
}

function fits(space: Space, columns: Columns, end: Ends, from: number, to: number): boolean {
  if (from < 0 || to < 0 || columns.of[from]! >= columns.of[to]!) return false;
  const [out, back] = [columns.left[columns.of[from]!]!, columns.right[columns.of[to]! - 1]!];
  return (
    end.x1 <= out &&
    end.x2 >= back &&
    space.isFree(end.x1, end.y1 - 0.5, out, end.y1 + 0.5) &&
    space.isFree(back, end.y2 - 0.5, end.x2, end.y2 + 0.5)
  );
}

/** Is the end that lies in the region free to the channel beside its column? */
function halfFits(
  space: Space,
  { columns, area }: Region,
  { x1, y1, x2, y2 }: Ends,
  box: number,
  comesIn: boolean,
): boolean {
  if (box < 0 || !area) return false;
  const column = columns.of[box]!;
  if (comesIn) {
    const back = column === 0 ? area.left : columns.right[column - 1]!;
    return x2 >= back && space.isFree(back, y2 - 0.5, x2, y2 + 0.5);
  }
  const out = column === columns.count - 1 ? area.right : columns.left[column]!;
  return x1 <= out && space.isFree(x1, y1 - 0.5, out, y1 + 0.5);
}

function compile({ boxes }: Space, region: Region, nets: ArrayLike<number>, fit: readonly Fit[]): LayeredGraph {
  let [top, bottom] = [Infinity, -Infinity];
  for (const box of region.boxes) {
    top = Math.min(top, boxes.top[box]!);
    bottom = Math.max(bottom, boxes.bottom[box]!);
  }
  const middle = (top + bottom) / 2;
  const each = (of: (box: number) => number, far: number): Float64Array =>
    Float64Array.from([...region.boxes.map(of), far, far]);
  const y = each((i) => boxes.top[i]!, middle);
  const inside = region.boxes.length;
  return {
    count: inside + 2,
    width: each((i) => boxes.right[i]! - boxes.left[i]!, 0),
    height: each((i) => boxes.bottom[i]! - boxes.top[i]!, 0),
    from: Int32Array.from(fit, (one) => one.from),
    to: Int32Array.from(fit, (one) => one.to),
    // beyond the border all is one place, so that no order is wanted there
    fromOffset: Float64Array.from(fit, ({ from, y1 }) => (from < inside ? y1 - y[from]! : 0)),
    toOffset: Float64Array.from(fit, ({ to, y2 }) => (to < inside ? y2 - y[to]! : 0)),
    net: Int32Array.from(fit, ({ wire }) => nets[wire]!),
    x: each((i) => boxes.left[i]!, 0),
    y,
  };
}

/**
 * Moves lanes out of gaps that are too narrow for all that pass there, past the box at the edge, towards the nearest
 * gap with room.
 * Above the first and below the last box of a column there is always room. O(lanes + boxes · gaps passed).
 */
function relieve(rows: Rows, space: Space, numbers: readonly number[]): void {
  const { layers } = rows;
  const { top, bottom } = space.boxes;
  for (let r = 0; r < layers.layerCount; r++) {
    const [first, size] = [rows.start[r]!, rows.size(r)];
    const gaps: number[][] = [[]];
    const boxes: number[] = [];
    for (let i = 0; i < size; i++) {
      const v = rows.row[first + i]!;
      if (v >= layers.real) gaps[gaps.length - 1]!.push(v);
      else {
        boxes.push(v);
        gaps.push([]);
      }
    }
    if (boxes.length === 0) continue;
    const room = gaps.map((_, g) => {
      if (g === 0 || g === boxes.length) return Number.POSITIVE_INFINITY;
      const height = top[numbers[boxes[g]!]!]! - bottom[numbers[boxes[g - 1]!]!]! - 2 * clearance;
      return height < 0 ? 0 : Math.floor(height / pitch) + 1;
    });
    let moved = false;
    for (let g = 1; g < boxes.length; g++) {
      while (gaps[g]!.length > room[g]!) {
        let [up, down] = [g - 1, g + 1];
        while (gaps[up]!.length >= room[up]!) up--;
        while (gaps[down]!.length >= room[down]!) down++;
        // each gap on the way hands its outermost lane on
        if (g - up <= down - g) for (let at = g; at > up; at--) gaps[at - 1]!.push(gaps[at]!.shift()!);
        else for (let at = g; at < down; at++) gaps[at + 1]!.unshift(gaps[at]!.pop()!);
        moved = true;
      }
    }
    if (!moved) continue;
    gaps
      .flatMap((lanes, g) => (g < boxes.length ? [...lanes, boxes[g]!] : lanes))
      .forEach((v, i) => (rows.row[first + i] = v));
    rows.renumber(r);
  }
}

/**
 * Gives lanes their level, long wires first; a lane leaves room for those that have none yet between it and what is
 * placed.
 */
class LanePlacer {
  readonly y: Float64Array;
  private readonly placed: Uint8Array;
  private readonly layers: Layers;
  private readonly rows: Rows;
  private readonly region: Region;
  private readonly space: Space;

  constructor(layers: Layers, rows: Rows, region: Region, space: Space) {
    this.layers = layers;
    this.rows = rows;
    this.region = region;
    this.space = space;
    this.y = new Float64Array(layers.total).fill(Number.NaN);
    this.placed = new Uint8Array(layers.total);
    this.placed.fill(1, 0, layers.real);
  }

  /** Runs of lanes that can lie on one level get one, as near as they can to the port that they come from or go to. */
  place(chain: Int32Array, ends: Pick<Ends, 'y1' | 'y2'>): void {
    let i = 0;
    let wanted = ends.y1;
    // what a wire of the same output has placed before stays
    while (i < chain.length && this.placed[chain[i]!]) wanted = this.y[chain[i++]!]!;
    while (i < chain.length) {
      let [low, high] = this.room(chain[i]!);
      let k = i + 1;
      for (; k < chain.length; k++) {
        const [nextLow, nextHigh] = this.room(chain[k]!);
        if (Math.max(low, nextLow) > Math.min(high, nextHigh)) break;
        [low, high] = [Math.max(low, nextLow), Math.min(high, nextHigh)];
      }
      const aim = wanted >= low && wanted <= high ? wanted : k === chain.length ? ends.y2 : wanted;
      const level = low > high ? (low + high) / 2 : Math.min(Math.max(aim, low), high);
      for (; i < k; i++) {
        this.y[chain[i]!] = level;
        this.placed[chain[i]!] = 1;
      }
      wanted = level;
    }
  }

  /**
   * Between what is placed above and below in the lane's column, less the room of the lanes between that are not placed
   * yet.
   */
  private room(lane: number): [number, number] {
    const { rows, layers } = this;
    const r = layers.rank[lane]!;
    const [first, size, at] = [rows.start[r]!, rows.size(r), rows.position[lane]!];
    let [low, high] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY];
    for (let i = at - 1, between = 1; i >= 0; i--, between++) {
      const v = rows.row[first + i]!;
      if (!this.placed[v]) continue;
      low = v < layers.real ? this.edge(v, 1) + clearance + pitch * (between - 1) : this.y[v]! + pitch * between;
      break;
    }
    for (let i = at + 1, between = 1; i < size; i++, between++) {
      const v = rows.row[first + i]!;
      if (!this.placed[v]) continue;
      high = v < layers.real ? this.edge(v, 0) - clearance - pitch * (between - 1) : this.y[v]! - pitch * between;
      break;
    }
    return [low, high];
  }

  /** Top (0) or bottom (1) of the solid part of its column that a box belongs to. */
  private edge(node: number, which: 0 | 1): number {
    const { columns, boxes } = this.region;
    const box = boxes[node]!;
    const spans = columns.solid[columns.of[box]!]!;
    const top = this.space.boxes.top[box]!;
    let [low, high] = [0, spans.length / 2 - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (spans[2 * middle]! <= top) low = middle;
      else high = middle - 1;
    }
    return spans[2 * low + which]!;
  }
}

/** Turns in the channel behind a column, to a level; nothing where the way is at that level already. */
function turn({ xs, ys }: Path, { left, right }: Bordered, column: number, to: number): void {
  if (ys[ys.length - 1] === to) return;
  xs.push((left[column]! + right[column]!) / 2);
  ys.push(to);
}

function pathOf(
  ends: Pick<Ends, 'y1' | 'y2'>,
  columns: Bordered,
  column: number,
  chain: Int32Array,
  y: Float64Array,
): Path {
  const path: Path = { xs: [], ys: [ends.y1], hits: 0 };
  chain.forEach((lane, k) => turn(path, columns, column + k, y[lane]!));
  turn(path, columns, column + chain.length, ends.y2);
  return path;
}

/** From the border on: the first lane lies in the border's own column. */
function pathIn(ends: Pick<Ends, 'y1' | 'y2'>, columns: Bordered, chain: Int32Array, y: Float64Array): Path {
  return pathOf({ y1: y[chain[0]!]!, y2: ends.y2 }, columns, 1, chain.subarray(1), y);
}

/** To the border: the last lane lies in the border's own column. */
function pathOut(
  ends: Pick<Ends, 'y1' | 'y2'>,
  columns: Bordered,
  column: number,
  chain: Int32Array,
  y: Float64Array,
): Path {
  return pathOf({ y1: ends.y1, y2: y[chain[chain.length - 1]!]! }, columns, column, chain.subarray(0, -1), y);
}
