import { countCrossings } from './crossings.ts';
import type { Layers } from './layers.ts';

export interface OrderOptions {
  /** 0: order afresh; 1: keep the present order wherever wires allow; between: an inversion has to save more than k/(1−k) crossings. */
  readonly keep: number;
  /** Sweeps down and up at the most. */
  readonly sweeps: number;
  /** Called at each round; may throw to stop. */
  readonly tick?: (fraction: number) => void;
}

/**
 * The order of nodes in each layer with few crossings. Port-aware barycentre sweeps, as Gansner and others (1993), section 3, arrange them,
 * with adjacent exchange after each; the best order met is kept. With `keep` above 0 the present order is where it starts, and only
 * exchanges that save enough happen (Böhringer & Paulisch 1990: the present picture as a constraint). O(sweeps · E log E).
 */
export function orderLayers(layers: Layers, options: OrderOptions): number[][] {
  const order = new Orderer(layers);
  if (options.keep > 0) {
    order.sortByPresent();
    const threshold = options.keep >= 1 ? Number.POSITIVE_INFINITY : options.keep / (1 - options.keep);
    order.exchange(threshold, options.sweeps * 4);
    return order.rows;
  }
  let best: number[][] = [];
  let least = Number.POSITIVE_INFINITY;
  for (const start of [0, 1]) {
    order.start(start === 1);
    let stale = 0;
    for (let sweep = 0; sweep < options.sweeps && stale < 6 && least > 0; sweep++) {
      options.tick?.((start * options.sweeps + sweep) / (options.sweeps * 2));
      order.sweep(sweep % 2 === 0, sweep % 4 > 1);
      order.exchange(0, 3);
      const crossings = order.crossings();
      stale = crossings < least ? 0 : stale + 1;
      if (crossings < least) [least, best] = [crossings, order.rows.map((row) => [...row])];
    }
  }
  return best.length > 0 ? best : order.rows;
}

/** Crossings of the whole layering in the order given. */
export function layerCrossings(layers: Layers, rows: readonly (readonly number[])[]): number {
  const order = new Orderer(layers);
  order.rows = rows.map((row) => [...row]);
  order.place();
  return order.crossings();
}

class Orderer {
  rows: number[][];
  private readonly layers: Layers;
  private readonly position: Int32Array;
  /** Segments at each node in port order, outgoing and incoming. */
  private readonly outSorted: number[][];
  private readonly inSorted: number[][];

  constructor(layers: Layers) {
    this.layers = layers;
    this.position = new Int32Array(layers.total);
    this.rows = Array.from({ length: layers.layerCount }, () => []);
    for (let v = 0; v < layers.total; v++) this.rows[layers.rank[v]!]!.push(v);
    const sorted = (start: Int32Array, list: Int32Array, offset: Float64Array): number[][] =>
      Array.from({ length: layers.total }, (_, v) => Array.from(list.subarray(start[v]!, start[v + 1]!)).sort((a, b) => offset[a]! - offset[b]! || a - b));
    this.outSorted = sorted(layers.out.start, layers.out.list, layers.segFromOffset);
    this.inSorted = sorted(layers.into.start, layers.into.list, layers.segToOffset);
    this.place();
  }

  place(): void {
    for (const row of this.rows)
      row.forEach((v, i) => {
        this.position[v] = i;
      });
  }

  sortByPresent(): void {
    const { y, height } = this.layers;
    for (const row of this.rows) row.sort((a, b) => y[a]! + height[a]! / 2 - (y[b]! + height[b]! / 2) || a - b);
    this.place();
  }

  /** First order: depth first along the wires, from the sources on or from the sinks back, ports in their order. */
  start(backwards: boolean): void {
    const { total, rank } = this.layers;
    const seen = new Uint8Array(total);
    const rows: number[][] = this.rows.map(() => []);
    const roots = Array.from({ length: total }, (_, v) => v).sort(
      (a, b) => (backwards ? rank[b]! - rank[a]! : rank[a]! - rank[b]!) || this.layers.y[a]! - this.layers.y[b]! || a - b,
    );
    for (const root of roots) {
      if (seen[root]) continue;
      const todo = [root];
      seen[root] = 1;
      for (let v = todo.pop(); v !== undefined; v = todo.pop()) {
        rows[rank[v]!]!.push(v);
        const near = [...this.inSorted[v]!.map((segment) => this.layers.segFrom[segment]!), ...this.outSorted[v]!.map((segment) => this.layers.segTo[segment]!)];
        for (let i = near.length - 1; i >= 0; i--) {
          const w = near[i]!;
          if (seen[w]) continue;
          seen[w] = 1;
          todo.push(w);
        }
      }
    }
    this.rows = rows;
    this.place();
  }

  /** Sorts each layer by the mean place of the ports that its wires come from (down) or go to (up). Nodes without wires stay. */
  sweep(down: boolean, rightmostFirst: boolean): void {
    const { layerCount, segFrom, segTo, segFromOffset, segToOffset, height } = this.layers;
    const weight = new Float64Array(this.layers.total);
    for (let step = 1; step < layerCount; step++) {
      const row = this.rows[down ? step : layerCount - 1 - step]!;
      const movable: number[] = [];
      row.forEach((v) => {
        const segments = down ? this.inSorted[v]! : this.outSorted[v]!;
        if (segments.length === 0) return;
        let sum = 0;
        for (const segment of segments) {
          const w = down ? segFrom[segment]! : segTo[segment]!;
          const offset = down ? segFromOffset[segment]! : segToOffset[segment]!;
          const own = down ? segToOffset[segment]! : segFromOffset[segment]!;
          sum += this.position[w]! + (height[w]! > 0 ? offset / height[w]! : 0.5) - (height[v]! > 0 ? own / height[v]! : 0.5) * 0.25;
        }
        weight[v] = sum / segments.length;
        movable.push(v);
      });
      movable.sort((a, b) => weight[a]! - weight[b]! || (rightmostFirst ? this.position[b]! - this.position[a]! : this.position[a]! - this.position[b]!));
      let next = 0;
      const fixed = new Set(movable);
      for (let i = 0; i < row.length; i++) if (fixed.has(row[i]!)) row[i] = movable[next++]!;
      row.forEach((v, i) => {
        this.position[v] = i;
      });
    }
  }

  /** Swaps neighbours while a swap saves more than `threshold` crossings. */
  exchange(threshold: number, mostRounds: number): void {
    if (threshold === Number.POSITIVE_INFINITY) return;
    for (let round = 0; round < mostRounds; round++) {
      let saved = 0;
      for (const row of this.rows) {
        for (let i = 0; i + 1 < row.length; i++) {
          const [a, b] = [row[i]!, row[i + 1]!];
          const gain = this.pairCrossings(a, b) - this.pairCrossings(b, a);
          if (gain <= threshold) continue;
          saved += gain;
          row[i] = b;
          row[i + 1] = a;
          this.position[b] = i;
          this.position[a] = i + 1;
        }
      }
      if (saved === 0) break;
    }
  }

  /** Crossings between the segments of a and those of b while a lies before b. */
  private pairCrossings(a: number, b: number): number {
    const { segFrom, segTo, segFromOffset, segToOffset } = this.layers;
    return this.pairSide(this.inSorted[a]!, this.inSorted[b]!, segFrom, segFromOffset) + this.pairSide(this.outSorted[a]!, this.outSorted[b]!, segTo, segToOffset);
  }

  private pairSide(ofA: readonly number[], ofB: readonly number[], far: Int32Array, offset: Float64Array): number {
    let count = 0;
    for (const s of ofA) {
      const sNode = this.position[far[s]!]!;
      const sOffset = offset[s]!;
      for (const t of ofB) {
        const tNode = this.position[far[t]!]!;
        if (tNode < sNode || (tNode === sNode && offset[t]! < sOffset)) count++;
      }
    }
    return count;
  }

  crossings(): number {
    let sum = 0;
    for (let r = 0; r + 1 < this.rows.length; r++) sum += this.between(r);
    return sum;
  }

  private between(r: number): number {
    const { segFrom, segTo, segFromOffset, segToOffset } = this.layers;
    const segments: number[] = [];
    for (const v of this.rows[r]!) segments.push(...this.outSorted[v]!);
    const places = (node: Int32Array, offset: Float64Array): Int32Array => {
      const order = segments
        .map((_, i) => i)
        .sort((i, j) => this.position[node[segments[i]!]!]! - this.position[node[segments[j]!]!]! || offset[segments[i]!]! - offset[segments[j]!]!);
      const place = new Int32Array(segments.length);
      let at = -1;
      let last = -1;
      for (const i of order) {
        const s = segments[i]!;
        if (last === -1 || node[s] !== node[last] || offset[s] !== offset[last]) at++;
        place[i] = at;
        last = s;
      }
      return place;
    };
    return countCrossings(places(segFrom, segFromOffset), places(segTo, segToOffset));
  }
}
