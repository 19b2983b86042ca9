import type { LayeredGraph } from '../arrange/layered/graph.ts';
import { type Layers, makeLayers } from '../arrange/layered/layers.ts';
import { orderLanes } from '../arrange/layered/order.ts';
import type { Rows } from '../arrange/layered/rows.ts';
import type { Columns } from './columns.ts';
import { clearance, type Ends, type Path, pitch } from './paths.ts';
import type { Region, Stand } from './regions.ts';
import type { Space } from './space.ts';

/**
 * Ways of the wires of a region that run from column to column, found together: the boxes stay, and each long wire gets its place
 * between them in every column by the same search for few crossings that arranging uses; then lanes are made as straight as that order
 * lets them be. Wires that this does not fit (backwards, inside a column, shut in) get none. Writes into `paths`. O(lanes · reach).
 */
export function lanePaths(space: Space, region: Region, ends: readonly (Ends | undefined)[], nets: ArrayLike<number>, stand: Stand, paths: (Path | undefined)[]): void {
  const { columns } = region;
  const fit = region.wires.filter((i) => fits(space, columns, ends[i]!, stand.from[i]!, stand.to[i]!));
  if (fit.length === 0) return;
  const local = new Map(region.boxes.map((box, i) => [box, i]));
  const graph = compile(space, region, local, ends, nets, stand, fit);
  const layers = makeLayers(
    graph,
    Int32Array.from(region.boxes, (box) => columns.of[box]!),
    new Uint8Array(fit.length),
  );
  const rows = orderLanes(layers);
  relieve(rows, space, region.boxes);
  const lanes = new LanePlacer(layers, rows, region, space);
  const chains = chainsOf(layers, graph, fit.length);
  const order = chains.map((_, i) => i).sort((a, b) => chains[b]!.length - chains[a]!.length || a - b);
  for (const i of order) lanes.place(chains[i]!, ends[fit[i]!]!);
  fit.forEach((wire, i) => {
    paths[wire] = pathOf(ends[wire]!, columns, columns.of[stand.from[wire]!]!, chains[i]!, lanes.y);
  });
}

function fits(space: Space, columns: Columns, end: Ends, from: number, to: number): boolean {
  if (from < 0 || to < 0 || columns.of[from]! >= columns.of[to]!) return false;
  const [out, back] = [columns.left[columns.of[from]!]!, columns.right[columns.of[to]! - 1]!];
  return end.x1 <= out && end.x2 >= back && space.isFree(end.x1, end.y1 - 0.5, out, end.y1 + 0.5) && space.isFree(back, end.y2 - 0.5, end.x2, end.y2 + 0.5);
}

function compile(
  { boxes }: Space,
  region: Region,
  local: ReadonlyMap<number, number>,
  ends: readonly (Ends | undefined)[],
  nets: ArrayLike<number>,
  stand: Stand,
  fit: readonly number[],
): LayeredGraph {
  return {
    count: region.boxes.length,
    width: Float64Array.from(region.boxes, (i) => boxes.right[i]! - boxes.left[i]!),
    height: Float64Array.from(region.boxes, (i) => boxes.bottom[i]! - boxes.top[i]!),
    from: Int32Array.from(fit, (i) => local.get(stand.from[i]!)!),
    to: Int32Array.from(fit, (i) => local.get(stand.to[i]!)!),
    fromOffset: Float64Array.from(fit, (i) => ends[i]!.y1 - boxes.top[stand.from[i]!]!),
    toOffset: Float64Array.from(fit, (i) => ends[i]!.y2 - boxes.top[stand.to[i]!]!),
    net: Int32Array.from(fit, (i) => nets[i]!),
    x: Float64Array.from(region.boxes, (i) => boxes.left[i]!),
    y: Float64Array.from(region.boxes, (i) => boxes.top[i]!),
  };
}

/**
 * Moves lanes out of gaps that are too narrow for all that pass there, past the box at the edge, towards the nearest gap with room.
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
    gaps.flatMap((lanes, g) => (g < boxes.length ? [...lanes, boxes[g]!] : lanes)).forEach((v, i) => (rows.row[first + i] = v));
    rows.renumber(r);
  }
}

/** The lanes of each wire in order along the flow. */
function chainsOf(layers: Layers, graph: LayeredGraph, wires: number): Int32Array[] {
  const { out, segTo, segFromOffset, real, rank } = layers;
  const next = (at: number, offset: number): number => {
    for (let k = out.start[at]!; k < out.start[at + 1]!; k++) {
      const s = out.list[k]!;
      if (segTo[s]! >= real && (at >= real || segFromOffset[s] === offset)) return segTo[s]!;
    }
    return -1;
  };
  return Array.from({ length: wires }, (_, i) => {
    const [u, v] = [graph.from[i]!, graph.to[i]!];
    const chain = new Int32Array(rank[v]! - rank[u]! - 1);
    let at = u;
    for (let k = 0; k < chain.length; k++) {
      at = next(at, graph.fromOffset[i]!);
      chain[k] = at;
    }
    return chain;
  });
}

/** Gives lanes their level, long wires first; a lane leaves room for those that have none yet between it and what is placed. */
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
  place(chain: Int32Array, ends: Ends): void {
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

  /** Between what is placed above and below in the lane's column, less the room of the lanes between that are not placed yet. */
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

function pathOf(ends: Ends, columns: Columns, column: number, chain: Int32Array, y: Float64Array): Path {
  const [xs, ys] = [[] as number[], [ends.y1]];
  const turn = (channel: number, to: number): void => {
    if (ys[ys.length - 1] === to) return;
    xs.push((columns.left[channel]! + columns.right[channel]!) / 2);
    ys.push(to);
  };
  chain.forEach((lane, k) => turn(column + k, y[lane]!));
  turn(column + chain.length, ends.y2);
  return { xs, ys, hits: 0 };
}
