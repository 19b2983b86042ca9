import type { Layers } from './layers.ts';

interface Alignment {
  /** Top of each node across the flow. */
  readonly y: Float64Array;
  readonly extent: number;
}

/**
 * Places across the flow: Brandes & Köpf, “Fast and simple horizontal coordinate assignment”, GD 2001, with the port offsets of
 * Rüegg, Schulze, Grevenitz & von Hanxleden, “Size- and port-aware horizontal node coordinate assignment”, GD 2015.
 * Blocks are compacted over the block graph in two passes, which needs none of the class shifts that the erratum of 2020 corrects.
 * Returns the top of each node, dummies too. O(nodes + segments).
 */
export function placeAcross(layers: Layers, rows: readonly (readonly number[])[], gap: number): Float64Array {
  const conflicts = markConflicts(layers, rows);
  const four: Alignment[] = [];
  for (const up of [false, true]) for (const last of [false, true]) four.push(alignment(layers, rows, conflicts, gap, up, last));
  return balance(four, layers);
}

/** Type 1 conflicts: segments that cross a segment between two dummies, which is to stay straight. */
function markConflicts(layers: Layers, rows: readonly (readonly number[])[]): Uint8Array {
  const marked = new Uint8Array(layers.segFrom.length);
  const position = new Int32Array(layers.total);
  for (const row of rows)
    row.forEach((v, i) => {
      position[v] = i;
    });
  const inner = (v: number): number => {
    if (v < layers.real) return -1;
    for (let k = layers.into.start[v]!; k < layers.into.start[v + 1]!; k++) {
      const u = layers.segFrom[layers.into.list[k]!]!;
      if (u >= layers.real) return u;
    }
    return -1;
  };
  for (let r = 1; r < rows.length; r++) {
    const [above, row] = [rows[r - 1]!, rows[r]!];
    let left = 0;
    let scanned = 0;
    for (let i = 0; i < row.length; i++) {
      const upper = inner(row[i]!);
      if (upper === -1 && i < row.length - 1) continue;
      const right = upper === -1 ? above.length - 1 : position[upper]!;
      for (; scanned <= i; scanned++) {
        const v = row[scanned]!;
        for (let k = layers.into.start[v]!; k < layers.into.start[v + 1]!; k++) {
          const segment = layers.into.list[k]!;
          const u = layers.segFrom[segment]!;
          const bothDummies = u >= layers.real && v >= layers.real;
          if (!bothDummies && (position[u]! < left || position[u]! > right)) marked[segment] = 1;
        }
      }
      left = right;
    }
  }
  return marked;
}

/** One of the four: aligned with neighbours above or below (`up`), packed to the first or the last side (`last`). */
function alignment(layers: Layers, rowsAsGiven: readonly (readonly number[])[], conflicts: Uint8Array, gap: number, up: boolean, last: boolean): Alignment {
  const rows = (up ? [...rowsAsGiven].reverse() : rowsAsGiven).map((row) => (last ? [...row].reverse() : row));
  const { total, height } = layers;
  const position = new Int32Array(total);
  for (const row of rows)
    row.forEach((v, i) => {
      position[v] = i;
    });
  const side = up ? layers.out : layers.into;
  const far = up ? layers.segTo : layers.segFrom;
  const farOffset = up ? layers.segToOffset : layers.segFromOffset;
  const ownOffset = up ? layers.segFromOffset : layers.segToOffset;
  // mirrored, a port's offset is counted from the other edge
  const mirrored = (offset: number, v: number): number => (last ? height[v]! - offset : offset);

  const root = Int32Array.from({ length: total }, (_, v) => v);
  const align = Int32Array.from({ length: total }, (_, v) => v);
  const shift = new Float64Array(total);
  for (let r = 1; r < rows.length; r++) {
    let reached = -1;
    let reachedPort = Number.NEGATIVE_INFINITY;
    for (const v of rows[r]!) {
      const segments = Array.from(side.list.subarray(side.start[v]!, side.start[v + 1]!));
      if (segments.length === 0) continue;
      segments.sort((a, b) => position[far[a]!]! - position[far[b]!]! || mirrored(farOffset[a]!, far[a]!) - mirrored(farOffset[b]!, far[b]!));
      const middle = (segments.length - 1) / 2;
      for (let m = Math.floor(middle); m <= Math.ceil(middle); m++) {
        const segment = segments[m]!;
        const u = far[segment]!;
        const port = mirrored(farOffset[segment]!, u);
        if (align[v] !== v || conflicts[segment] || position[u]! < reached || (position[u] === reached && port <= reachedPort) || align[u] !== root[u]) continue;
        align[u] = v;
        root[v] = root[u]!;
        align[v] = root[v]!;
        shift[v] = shift[u]! + port - mirrored(ownOffset[segment]!, v);
        reached = position[u]!;
        reachedPort = port;
      }
    }
  }
  const y = compact(rows, root, shift, height, gap, layers.real);
  if (last) for (let v = 0; v < total; v++) y[v] = -y[v]! - height[v]!;
  let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
  for (let v = 0; v < total; v++) {
    low = Math.min(low, y[v]!);
    high = Math.max(high, y[v]! + height[v]!);
  }
  return { y, extent: high - low };
}

/** Packs the blocks: as far to the first side as they go, then back towards their neighbours where there is room. */
function compact(rows: readonly (readonly number[])[], root: Int32Array, shift: Float64Array, height: Float64Array, gap: number, real: number): Float64Array {
  const total = root.length;
  const before: number[][] = Array.from({ length: total }, () => []);
  const after: number[][] = Array.from({ length: total }, () => []);
  const waiting = new Int32Array(total);
  const space: number[] = [];
  const edgeFrom: number[] = [];
  const edgeTo: number[] = [];
  for (const row of rows) {
    for (let i = 1; i < row.length; i++) {
      const [u, v] = [row[i - 1]!, row[i]!];
      const [a, b] = [root[u]!, root[v]!];
      // wires need less room than nodes: two of them lie half a gap apart
      const room = u >= real && v >= real ? gap * 0.4 : u >= real || v >= real ? gap * 0.7 : gap;
      const edge = space.length;
      space.push(shift[u]! + height[u]! + room - shift[v]!);
      edgeFrom.push(a);
      edgeTo.push(b);
      after[a]!.push(edge);
      before[b]!.push(edge);
      waiting[b]!++;
    }
  }
  const at = new Float64Array(total);
  const sequence: number[] = [];
  for (let v = 0; v < total; v++) if (root[v] === v && waiting[v] === 0) sequence.push(v);
  for (let i = 0; i < sequence.length; i++) {
    const b = sequence[i]!;
    let least = before[b]!.length > 0 ? Number.NEGATIVE_INFINITY : 0;
    for (const edge of before[b]!) least = Math.max(least, at[edgeFrom[edge]!]! + space[edge]!);
    at[b] = least;
    for (const edge of after[b]!) if (--waiting[edgeTo[edge]!]! === 0) sequence.push(edgeTo[edge]!);
  }
  for (let i = sequence.length - 1; i >= 0; i--) {
    const b = sequence[i]!;
    if (after[b]!.length === 0) continue;
    let most = Number.POSITIVE_INFINITY;
    for (const edge of after[b]!) most = Math.min(most, at[edgeTo[edge]!]! - space[edge]!);
    if (before[b]!.length === 0 || most > at[b]!) at[b] = Math.max(at[b]!, most);
  }
  const y = new Float64Array(total);
  for (let v = 0; v < total; v++) y[v] = at[root[v]!]! + shift[v]!;
  return y;
}

/** The four are laid on the narrowest one; each node goes to the mean of its two middle places. */
function balance(four: readonly Alignment[], layers: Layers): Float64Array {
  const { total, height } = layers;
  const narrowest = four.reduce((best, one) => (one.extent < best.extent ? one : best));
  const bounds = (one: Alignment): [number, number] => {
    let [low, high] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let v = 0; v < total; v++) {
      low = Math.min(low, one.y[v]!);
      high = Math.max(high, one.y[v]! + height[v]!);
    }
    return [low, high];
  };
  const [low, high] = bounds(narrowest);
  const delta = four.map((one, i) => (i % 2 === 0 ? low - bounds(one)[0] : high - bounds(one)[1]));
  const y = new Float64Array(total);
  const places = new Float64Array(4);
  for (let v = 0; v < total; v++) {
    four.forEach((one, i) => {
      places[i] = one.y[v]! + delta[i]!;
    });
    places.sort();
    y[v] = (places[1]! + places[2]!) / 2;
  }
  return y;
}
