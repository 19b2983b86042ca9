import { seededRandom } from '../../document/ids.ts';
import { Blocks } from './blocks.ts';
import { FramedBlocks } from './framed-blocks.ts';
import { type FrameTree, normalSpacing } from './graph.ts';
import type { Layers } from './layers.ts';
import { placeAcross } from './place.ts';
import { Rows } from './rows.ts';

export type Quality = 'quick' | 'best';

export interface OrderOptions {
  /**
   * 0: order afresh; 1: keep the present order wherever wires allow; between: an inversion has to save more than
   * k/(1−k) crossings.
   */
  readonly keep: number;
  readonly quality: Quality;
  /** Frames whose nodes stand in one row in every layer. */
  readonly frames?: FrameTree;
  /** Called at each round; may throw to stop. */
  readonly tick?: (fraction: number) => void;
}

/**
 * The order of nodes in each layer with few crossings: port-aware barycentre and median sweeps from several starts
 * (Gansner and others 1993, section 3), with adjacent exchange after each, then global sifting; the best order met is
 * kept, and `best` searches on from it. With `keep` above 0 the present order is where it starts, and a node passes
 * others only where that saves enough crossings (Böhringer &
 * Paulisch 1990: the present picture as a constraint). O(sweeps · E log E + blocks · reach).
 */
export function orderLayers(layers: Layers, options: OrderOptions): Rows {
  const rows = new Rows(layers);
  const search = new Search(rows);
  if (layers.frame && options.frames) {
    search.runFramed(options.frames, options);
    return rows;
  }
  if (options.keep >= 1) return orderLanes(layers);
  if (options.keep > 0) {
    search.present();
    const blocks = new Blocks(layers);
    blocks.resistance = options.keep / (1 - options.keep);
    blocks.startFrom(layers.y);
    for (
      let k = 0;
      k < 4 &&
      blocks.round(effortFor(options.quality, blocks.count, layers.total).reach, options.tick ?? (() => {})) > 0;
      k++
    );
    blocks.write(rows);
    return rows;
  }
  search.run(options.quality, options.tick ?? (() => {}));
  return rows;
}

/**
 * The order of lanes between nodes that stay where they are: long wires are sifted as wholes, then lane by lane. For
 * routing.
 * Where much is to be ordered, each is tried past fewer others.
 */
export function orderLanes(layers: Layers): Rows {
  const rows = new Rows(layers);
  const search = new Search(rows);
  search.present();
  const blocks = new Blocks(layers, layers.real);
  const lanes = blocks.count - layers.real;
  if (lanes === 0) return rows;
  const reach = Math.max(16, Math.round((lanes > 3000 ? 500_000 : 2_000_000) / lanes));
  blocks.startFrom(layers.y);
  for (let k = 0; k < (lanes > 3000 ? 1 : 3) && blocks.round(reach, () => {}) > 0; k++);
  blocks.write(rows);
  const near = Math.max(4, Math.round(1_500_000 / layers.total));
  for (let k = 0; k < 2 && search.sift(near, layers.real) > 0; k++);
  return rows;
}

/** Nodes and lanes up to which a search places them in between. */
const mostPlaced = 60_000;

const starts = [
  { back: true, median: false },
  { back: false, median: false },
  { back: true, median: true },
  { back: false, median: true },
];

interface Effort {
  readonly starts: number;
  readonly sweeps: number;
  /**
   * Rounds of global sifting and of sifting each layer after a start, and how often both are done again on the best.
   */
  readonly rounds: number;
  readonly sifts: number;
  readonly again: number;
  /** Rounds of iterated local search, and its steps in each. */
  readonly turns: number;
  readonly shakes: number;
  /** How many others a node or a long wire is tried past, on each side. */
  readonly reach: number;
}

/**
 * How hard to search: all that pays on small graphs, less of it as `blocks` grows, so that time grows little faster
 * than the graph.
 */
function effortFor(quality: Quality, blocks: number, lanes: number): Effort {
  if (quality === 'quick') {
    if (blocks <= 600) return { starts: 2, sweeps: 12, rounds: 3, sifts: 2, again: 0, turns: 0, shakes: 0, reach: 1e9 };
    return {
      starts: 1,
      sweeps: lanes > 30_000 ? 5 : 7,
      rounds: 1,
      sifts: 0,
      again: 0,
      turns: 0,
      shakes: 0,
      reach: Math.max(30, Math.round(350_000 / blocks)),
    };
  }
  if (blocks <= 600)
    return { starts: 4, sweeps: 24, rounds: 12, sifts: 20, again: 6, turns: 6, shakes: 40 + blocks * 4, reach: 1e9 };
  if (blocks <= 1500)
    return { starts: 1, sweeps: 16, rounds: 6, sifts: 6, again: 2, turns: 2, shakes: blocks, reach: 1e9 };
  if (blocks <= 2500)
    return { starts: 1, sweeps: 16, rounds: 4, sifts: 4, again: 1, turns: 1, shakes: blocks, reach: 1e9 };
  if (blocks <= 5000)
    return { starts: 2, sweeps: 16, rounds: 4, sifts: 3, again: 1, turns: 1, shakes: blocks >> 1, reach: 3000 };
  return {
    starts: 1,
    sweeps: 16,
    rounds: 4,
    sifts: 3,
    again: 1,
    turns: 0,
    shakes: 0,
    reach: Math.round(12_000_000 / blocks),
  };
}

class Search {
  private readonly rows: Rows;
  private readonly layers: Layers;
  private readonly keys: Float64Array;
  private readonly held: Int32Array;
  private readonly dirty: Uint8Array;

  constructor(rows: Rows) {
    this.rows = rows;
    this.layers = rows.layers;
    let widest = 0;
    for (let r = 0; r < this.layers.layerCount; r++) widest = Math.max(widest, rows.size(r));
    this.keys = new Float64Array(widest);
    this.held = new Int32Array(widest);
    this.dirty = new Uint8Array(this.layers.layerCount + 2);
  }

  /** By where nodes lie now. */
  present(): void {
    const { y, height } = this.layers;
    for (let r = 0; r < this.layers.layerCount; r++) {
      this.rows.row
        .subarray(this.rows.start[r]!, this.rows.start[r + 1]!)
        .sort((a, b) => y[a]! + height[a]! / 2 - (y[b]! + height[b]! / 2) || a - b);
      this.rows.renumber(r);
    }
  }

  /**
   * Searches from one or several starts and leaves the best order met. Work is bounded by counts, so that results
   * repeat.
   */
  run(quality: Quality, tick: (fraction: number) => void): void {
    const { rows } = this;
    const blocks = new Blocks(this.layers);
    const effort = effortFor(quality, blocks.count, this.layers.total);
    const best = rows.row.slice();
    let least = Number.POSITIVE_INFINITY;
    const keep = (): void => {
      const crossings = rows.crossings();
      if (crossings >= least) return;
      least = crossings;
      best.set(rows.row);
    };
    const polish = (rounds: number, first?: (tick: (fraction: number) => void) => void): void => {
      blocks.startFrom(this.heights());
      first?.(tick);
      for (let k = 0; k < rounds && blocks.round(effort.reach, tick) > 0; k++);
      blocks.write(rows);
      keep();
      for (let k = 0; k < effort.sifts && this.sift(effort.reach) > 0; k++);
      this.exchange(8, false);
      keep();
    };
    starts.slice(0, effort.starts).forEach((start) => {
      this.first(start.back);
      this.sweeps(start.median, effort.sweeps, tick);
      keep();
      if (effort.rounds > 0) polish(effort.rounds);
    });
    for (let again = 0; again < effort.again; again++) {
      const before = least;
      rows.restore(best);
      polish(effort.rounds);
      if (least === before) break;
    }
    // what sifting alone cannot reach
    const random = seededRandom(1);
    for (let turn = 0; turn < effort.turns && least > 0; turn++) {
      rows.restore(best);
      polish(1, (fraction) => blocks.perturb(effort.shakes, effort.reach, random, fraction));
    }
    rows.restore(best);
  }

  /** As `run`, with frames: one start without them, then global sifting that keeps each in one piece. */
  runFramed(frames: FrameTree, { quality, keep, tick = () => {} }: OrderOptions): void {
    const { rows, layers } = this;
    const blocks = new FramedBlocks(layers, frames);
    const effort = effortFor(quality, blocks.count, layers.total);
    if (keep > 0) {
      this.present();
      blocks.startFrom(layers.y);
    } else {
      this.first(true);
      this.sweeps(false, effort.sweeps, tick);
      blocks.startFrom(this.heights());
    }
    if (keep < 1) {
      blocks.resistance = keep / (1 - keep);
      const sift = (): void => {
        for (let k = 0; k < (quality === 'quick' ? 2 : 8) && blocks.round(effort.reach, tick) > 0; k++);
      };
      sift();
      const random = seededRandom(1);
      for (let turn = 0; turn < (keep > 0 ? 0 : effort.turns); turn++) {
        blocks.perturb(effort.shakes, effort.reach, random, tick);
        sift();
      }
    }
    blocks.write(rows);
  }

  /**
   * About where everything lies across the flow in the present order; roughly, where placing it all would cost too
   * much.
   */
  private heights(): Float64Array {
    const { layers, rows } = this;
    if (layers.total <= mostPlaced) return placeAcross(layers, rows, normalSpacing.across);
    return Float64Array.from(
      { length: layers.total },
      (_, v) => (rows.position[v]! + 0.5) / rows.size(layers.rank[v]!),
    );
  }

  /** Sweeps to and fro with exchanges between; leaves the best order of them. */
  private sweeps(median: boolean, most: number, tick: (fraction: number) => void): void {
    const { rows } = this;
    let least = Number.POSITIVE_INFINITY;
    let stale = 0;
    const best = rows.row.slice();
    for (let sweep = 0; sweep < most && stale < 5 && least > 0; sweep++) {
      tick(sweep / most);
      this.sweep(sweep % 2 === 0, median, sweep % 4 > 1);
      this.exchange(this.layers.total > 30_000 ? 2 : 4, sweep % 4 > 1);
      const crossings = rows.crossings();
      stale = crossings < least * 0.995 ? 0 : stale + 1;
      if (crossings >= least) continue;
      least = crossings;
      best.set(rows.row);
    }
    rows.restore(best);
  }

  /** First order: breadth first along the wires from the sources on, or from the sinks back, ports in their order. */
  private first(back: boolean): void {
    const { rows, layers } = this;
    const { total, rank, into, out, segFrom, segTo } = layers;
    const seen = new Uint8Array(total);
    const queue = new Int32Array(total);
    const next = rows.start.slice();
    const roots = Int32Array.from({ length: total }, (_, v) => v).sort(
      (a, b) => (back ? rank[b]! - rank[a]! : rank[a]! - rank[b]!) || layers.y[a]! - layers.y[b]! || a - b,
    );
    let [head, tail] = [0, 0];
    for (const root of roots) {
      if (seen[root]) continue;
      seen[root] = 1;
      queue[tail++] = root;
      while (head < tail) {
        const v = queue[head++]!;
        rows.row[next[rank[v]!]!++] = v;
        const [one, oneEnd, other, otherEnd] = back ? [into, segFrom, out, segTo] : [out, segTo, into, segFrom];
        for (const [side, end] of [
          [one, oneEnd],
          [other, otherEnd],
        ] as const)
          for (let k = side.start[v]!; k < side.start[v + 1]!; k++) {
            const w = end[side.list[k]!]!;
            if (seen[w]) continue;
            seen[w] = 1;
            queue[tail++] = w;
          }
      }
    }
    for (let r = 0; r < layers.layerCount; r++) rows.renumber(r);
  }

  /** Sorts each layer by the mean or median slot that its wires come from (down) or go to. Nodes without wires stay. */
  private sweep(down: boolean, median: boolean, lastFirst: boolean): void {
    const { layers, rows, keys, held } = this;
    const slots: number[] = [];
    const { layerCount, segFrom, segTo, segFromPort, segToPort, segWeight } = layers;
    const side = down ? layers.into : layers.out;
    for (let step = 1; step < layerCount; step++) {
      const r = down ? step : layerCount - 1 - step;
      const first = rows.start[r]!;
      const size = rows.size(r);
      let movable = 0;
      for (let i = 0; i < size; i++) {
        const v = rows.row[first + i]!;
        const [start, end] = [side.start[v]!, side.start[v + 1]!];
        if (start === end) continue;
        let key = 0;
        if (median && end - start > 2) {
          slots.length = 0;
          for (let k = start; k < end; k++) {
            const s = side.list[k]!;
            slots.push(down ? rows.outBase[segFrom[s]!]! + segFromPort[s]! : rows.inBase[segTo[s]!]! + segToPort[s]!);
          }
          key = weightedMedian(slots);
        } else {
          let weights = 0;
          for (let k = start; k < end; k++) {
            const s = side.list[k]!;
            key +=
              (down ? rows.outBase[segFrom[s]!]! + segFromPort[s]! : rows.inBase[segTo[s]!]! + segToPort[s]!) *
              segWeight[s]!;
            weights += segWeight[s]!;
          }
          key /= weights;
        }
        // one number to sort by: the key in 1/1024ths of a slot, then the place held now
        keys[movable] = Math.round(key * 1024) * 1048576 + (lastFirst ? size - 1 - i : i);
        held[movable++] = i;
      }
      if (movable < 2) continue;
      const sorted = keys.subarray(0, movable).sort();
      const before = rows.row.slice(first, first + size);
      for (let m = 0; m < movable; m++) {
        const i = sorted[m]! % 1048576;
        rows.row[first + held[m]!] = before[lastFirst ? size - 1 - i : i]!;
      }
      rows.renumber(r);
    }
  }

  /**
   * Moves each node of each layer to the place within `reach` with the fewest crossings (Matuszewski, Schönfeld &
   * Molitor 1999); those below `from` stay.
   */
  sift(reach: number, from = 0): number {
    const { rows } = this;
    let saved = 0;
    for (let r = 0; r < this.layers.layerCount; r++) {
      const size = rows.size(r);
      if (size < 2) continue;
      const first = rows.start[r]!;
      for (const v of rows.row.slice(first, first + size)) {
        if (v < from) continue;
        const i = rows.position[v]!;
        let [best, place, gain] = [0, i, 0];
        for (let k = i + 1; k < Math.min(size, i + reach); k++) {
          gain += rows.gain(v, rows.row[first + k]!);
          if (gain > best) [best, place] = [gain, k];
        }
        gain = 0;
        for (let k = i - 1; k >= Math.max(0, i - reach); k--) {
          gain += rows.gain(rows.row[first + k]!, v);
          if (gain > best) [best, place] = [gain, k];
        }
        if (place === i) continue;
        rows.shift(r, i, place);
        saved += best;
      }
    }
    return saved;
  }

  /** Swaps neighbours while a swap saves crossings; with `even`, also where it saves none, once. */
  private exchange(mostRounds: number, even: boolean): void {
    const { rows, dirty } = this;
    const { layerCount } = this.layers;
    dirty.fill(1);
    for (let round = 0; round < mostRounds; round++) {
      let saved = 0;
      for (let r = 0; r < layerCount; r++) {
        if (!dirty[r + 1]) continue;
        dirty[r + 1] = 0;
        let moved = false;
        const size = rows.size(r);
        const first = rows.start[r]!;
        for (let i = 0; i + 1 < size; i++) {
          const gain = rows.gain(rows.row[first + i]!, rows.row[first + i + 1]!);
          if (gain > 0 || (even && round === 0 && gain === 0)) {
            rows.swap(r, i);
            saved += gain;
            if (gain > 0) moved = true;
          }
        }
        if (moved) dirty[r] = dirty[r + 1] = dirty[r + 2] = 1;
      }
      if (saved === 0) break;
    }
  }
}

/**
 * The weighted median of Gansner and others (1993), section 3.1: between the two middle ones, nearer the more crowded
 * side.
 */
function weightedMedian(slots: number[]): number {
  slots.sort((a, b) => a - b);
  const middle = slots.length >> 1;
  if (slots.length % 2 === 1) return slots[middle]!;
  const [left, right] = [slots[middle - 1]! - slots[0]!, slots[slots.length - 1]! - slots[middle]!];
  return left + right === 0
    ? (slots[middle - 1]! + slots[middle]!) / 2
    : (slots[middle - 1]! * right + slots[middle]! * left) / (left + right);
}
