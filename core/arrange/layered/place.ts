import type { Layers } from './layers.ts';
import type { Rows } from './rows.ts';

/** Across the flow, in pixels: between two lanes, and between a lane and a node. Wires keep their distance in it. */
const laneGap = 10;
const besideNode = 14;

interface Alignment {
  /** Top of each node across the flow. */
  readonly y: Float64Array;
  readonly low: number;
  readonly high: number;
}

/**
 * Places across the flow: Brandes & Köpf, “Fast and simple horizontal coordinate assignment”, GD 2001, with the port
 * offsets of
 * Rüegg, Schulze, Grevenitz & von Hanxleden, “Size- and port-aware horizontal node coordinate assignment”, GD 2015.
 * Blocks are compacted over the block graph in two passes, which needs none of the class shifts that the erratum of
 * 2020 corrects.
 * Nodes from `borders` on are edges of frames, which stay straight before all else. Returns the top of each node, lanes
 * too.
 * O(nodes + segments).
 */
export function placeAcross(layers: Layers, rows: Rows, gap: number, borders = layers.total): Float64Array {
  const conflicts = new Uint8Array(layers.segFrom.length);
  if (borders < layers.total) markConflicts(layers, rows, borders, conflicts);
  markConflicts(layers, rows, layers.real, conflicts);
  markBranches(layers, conflicts);
  const four: Alignment[] = [];
  for (const up of [false, true])
    for (const last of [false, true]) four.push(alignment(layers, rows, conflicts, gap, borders, up, last));
  return balance(four, layers.total);
}

/**
 * The room that two neighbours of a layer keep: nodes, lanes (from `real` on) and edges of frames (from `borders` on),
 * which hold their margin.
 */
function roomBetween(u: number, v: number, real: number, borders: number, gap: number): number {
  if (u >= borders && v >= borders) return gap;
  if (u >= borders || v >= borders) return Math.min(u, v) >= real ? laneGap : 0;
  if (u >= real && v >= real) return laneGap;
  return u >= real || v >= real ? Math.min(besideNode, gap) : gap;
}

/**
 * Marks the branches of trunks that go on: a lane is to stay in line with the next lane, not with a node that is wired
 * on the way.
 */
function markBranches({ real, total, out, segTo }: Layers, marked: Uint8Array): void {
  for (let v = real; v < total; v++) {
    let goesOn = false;
    for (let k = out.start[v]!; k < out.start[v + 1]!; k++) goesOn ||= segTo[out.list[k]!]! >= real;
    if (goesOn)
      for (let k = out.start[v]!; k < out.start[v + 1]!; k++) if (segTo[out.list[k]!]! < real) marked[out.list[k]!] = 1;
  }
}

/**
 * Marks segments that cross one between two nodes of `least` and on, lanes or edges of frames, which is to stay
 * straight.
 */
function markConflicts(layers: Layers, rows: Rows, least: number, marked: Uint8Array): void {
  const { into, segFrom } = layers;
  const { position } = rows;
  const inner = (v: number): number => {
    if (v < least || into.start[v] === into.start[v + 1]) return -1;
    const u = segFrom[into.list[into.start[v]!]!]!;
    return u >= least ? u : -1;
  };
  for (let r = 1; r < layers.layerCount; r++) {
    const first = rows.start[r]!;
    const size = rows.size(r);
    let left = 0;
    let scanned = 0;
    for (let i = 0; i < size; i++) {
      const upper = inner(rows.row[first + i]!);
      if (upper === -1 && i < size - 1) continue;
      const right = upper === -1 ? rows.size(r - 1) - 1 : position[upper]!;
      for (; scanned <= i; scanned++) {
        const v = rows.row[first + scanned]!;
        for (let k = into.start[v]!; k < into.start[v + 1]!; k++) {
          const segment = into.list[k]!;
          const u = segFrom[segment]!;
          if (!(u >= least && v >= least) && (position[u]! < left || position[u]! > right)) marked[segment] = 1;
        }
      }
      left = Math.max(left, right);
    }
  }
}

/** One of the four: aligned with neighbours before or behind (`up`), packed to the first or the last side (`last`). */
function alignment(
  layers: Layers,
  rows: Rows,
  conflicts: Uint8Array,
  gap: number,
  borders: number,
  up: boolean,
  last: boolean,
): Alignment {
  const { total, height, layerCount } = layers;
  const { position } = rows;
  const side = up ? layers.out : layers.into;
  const far = up ? layers.segTo : layers.segFrom;
  const farOffset = up ? layers.segToOffset : layers.segFromOffset;
  const ownOffset = up ? layers.segFromOffset : layers.segToOffset;
  const sign = last ? -1 : 1;
  // mirrored, a port's offset is counted from the other edge
  const mirrored = (offset: number, v: number): number => (last ? height[v]! - offset : offset);

  const root = Int32Array.from({ length: total }, (_, v) => v);
  const align = root.slice();
  const shift = new Float64Array(total);
  const segments: number[] = [];
  const byPlace = (a: number, b: number): number =>
    sign * (position[far[a]!]! - position[far[b]!]!) ||
    mirrored(farOffset[a]!, far[a]!) - mirrored(farOffset[b]!, far[b]!) ||
    a - b;
  for (let step = 1; step < layerCount; step++) {
    const r = up ? layerCount - 1 - step : step;
    let reached = Number.NEGATIVE_INFINITY;
    let reachedPort = Number.NEGATIVE_INFINITY;
    const [first, size] = [rows.start[r]!, rows.size(r)];
    for (let i = 0; i < size; i++) {
      const v = rows.row[first + (last ? size - 1 - i : i)]!;
      const [start, end] = [side.start[v]!, side.start[v + 1]!];
      if (start === end) continue;
      segments.length = 0;
      for (let k = start; k < end; k++) {
        const segment = side.list[k]!;
        // a lane with a lane before or behind it has eyes for nothing else
        if (v >= layers.real && far[segment]! >= layers.real) {
          segments.length = 0;
          segments.push(segment);
          break;
        }
        segments.push(segment);
      }
      if (segments.length > 1) segments.sort(byPlace);
      const middle = (segments.length - 1) / 2;
      for (let m = Math.floor(middle); m <= Math.ceil(middle); m++) {
        const segment = segments[m]!;
        const u = far[segment]!;
        const port = mirrored(farOffset[segment]!, u);
        const at = sign * position[u]!;
        if (
          align[v] !== v ||
          conflicts[segment] ||
          at < reached ||
          (at === reached && port <= reachedPort) ||
          align[u] !== root[u]
        )
          continue;
        align[u] = v;
        root[v] = root[u]!;
        align[v] = root[v]!;
        shift[v] = shift[u]! + port - mirrored(ownOffset[segment]!, v);
        reached = at;
        reachedPort = port;
      }
    }
  }
  const y = compact(layers, rows, root, shift, gap, borders, last);
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let v = 0; v < total; v++) {
    if (last) y[v] = -y[v]! - height[v]!;
    low = Math.min(low, y[v]!);
    high = Math.max(high, y[v]! + height[v]!);
  }
  return { y, low, high };
}

/** Packs the blocks: as far to the first side as they go, then back towards their neighbours where there is room. */
function compact(
  layers: Layers,
  rows: Rows,
  root: Int32Array,
  shift: Float64Array,
  gap: number,
  borders: number,
  last: boolean,
): Float64Array {
  const { total, real, height, layerCount } = layers;
  const edges = total - layerCount;
  const [space, from, to] = [new Float64Array(edges), new Int32Array(edges), new Int32Array(edges)];
  const outStart = new Int32Array(total + 1);
  const waiting = new Int32Array(total);
  let count = 0;
  for (let r = 0; r < layerCount; r++) {
    const [first, size] = [rows.start[r]!, rows.size(r)];
    for (let i = 1; i < size; i++) {
      const u = rows.row[first + (last ? size - i : i - 1)]!;
      const v = rows.row[first + (last ? size - 1 - i : i)]!;
      space[count] = shift[u]! + height[u]! + roomBetween(u, v, real, borders, gap) - shift[v]!;
      from[count] = root[u]!;
      to[count] = root[v]!;
      outStart[root[u]! + 1]!++;
      waiting[root[v]!]!++;
      count++;
    }
  }
  for (let v = 0; v < total; v++) outStart[v + 1]! += outStart[v]!;
  const fill = outStart.slice();
  const out = new Int32Array(count);
  for (let e = 0; e < count; e++) out[fill[from[e]!]!++] = e;

  const at = new Float64Array(total).fill(Number.NEGATIVE_INFINITY);
  const sequence = new Int32Array(total);
  const hasBefore = Uint8Array.from(waiting, (n) => (n > 0 ? 1 : 0));
  let [head, tail] = [0, 0];
  for (let v = 0; v < total; v++)
    if (root[v] === v && waiting[v] === 0) {
      sequence[tail++] = v;
      at[v] = 0;
    }
  while (head < tail) {
    const b = sequence[head++]!;
    for (let k = outStart[b]!; k < outStart[b + 1]!; k++) {
      const e = out[k]!;
      const t = to[e]!;
      at[t] = Math.max(at[t]!, at[b]! + space[e]!);
      if (--waiting[t]! === 0) sequence[tail++] = t;
    }
  }
  for (let i = tail - 1; i >= 0; i--) {
    const b = sequence[i]!;
    if (outStart[b] === outStart[b + 1]) continue;
    let most = Number.POSITIVE_INFINITY;
    for (let k = outStart[b]!; k < outStart[b + 1]!; k++) most = Math.min(most, at[to[out[k]!]!]! - space[out[k]!]!);
    if (!hasBefore[b] || most > at[b]!) at[b] = Math.max(at[b]!, most);
  }
  const y = new Float64Array(total);
  for (let v = 0; v < total; v++) y[v] = at[root[v]!]! + shift[v]!;
  return y;
}

/** The four are laid on the narrowest one; each node goes to the mean of its two middle places. */
function balance(four: readonly Alignment[], total: number): Float64Array {
  const narrowest = four.reduce((best, one) => (one.high - one.low < best.high - best.low ? one : best));
  const delta = four.map((one, i) => (i % 2 === 0 ? narrowest.low - one.low : narrowest.high - one.high));
  const y = new Float64Array(total);
  const places = new Float64Array(4);
  for (let v = 0; v < total; v++) {
    for (let i = 0; i < 4; i++) places[i] = four[i]!.y[v]! + delta[i]!;
    places.sort();
    y[v] = (places[1]! + places[2]!) / 2;
  }
  return y;
}
