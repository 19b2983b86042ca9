import { type Adjacency, adjacency } from './graph.ts';
import type { Layers } from './layers.ts';
import type { Rows } from './rows.ts';

export const moving = 1;
export const passed = 2;

/**
 * Global sifting: Bachmaier, Brandenburg, Brunner & Hübner, “Global k-level crossing reduction”, J. Graph Algorithms
 * and Applications 15 (2011). A long wire, with all its lanes, is one block, and so is a node; the blocks stand in one
 * order over all layers, and each is moved to the place in it with the fewest crossings. So a long wire passes others
 * as a whole, which no layer by itself would gain from.
 * One round is O(blocks² + pairs that share a layer · their wires).
 */
export class Blocks {
  protected readonly layers: Layers;
  protected readonly blockOf: Int32Array;
  readonly count: number;
  /** First and last layer of each block. */
  protected readonly low: Int32Array;
  protected readonly high: Int32Array;
  /** The node of a block in layer r is nodes[start[b] + r − low[b]]. */
  protected readonly start: Int32Array;
  protected readonly nodes: Int32Array;
  /** Layers in which a block has wires to others, as node numbers; one flat array. */
  protected readonly busyStart: Int32Array;
  protected readonly busy: Int32Array;
  /** Blocks in their order, and the place of each. */
  protected readonly order: Int32Array;
  protected readonly place: Int32Array;
  protected readonly sequence: Int32Array;
  /** The blocks of each layer, in no order. */
  protected readonly layerStart: Int32Array;
  protected readonly layerBlocks: Int32Array;
  protected readonly seen: Int32Array;
  protected readonly found: Int32Array;
  /** What a node's passing another one has to save more than; nodes below it keep their order. Lanes pass freely. */
  resistance = 0;
  private stamp = 0;
  private kept: Int32Array[] = [];
  /** What part a block has in the pass that is being reckoned. */
  protected readonly role: Uint8Array;
  /** The block at the far end of each segment, in the order of the nodes' lists. */
  protected readonly inBlock: Int32Array;
  protected readonly outBlock: Int32Array;

  /** Blocks of nodes below `fixed` are not moved. */
  constructor(layers: Layers, fixed = 0) {
    this.layers = layers;
    const { total, real, rank, into, out, segFrom, segTo } = layers;
    this.blockOf = new Int32Array(total);
    let count = 0;
    for (let v = 0; v < real; v++) this.blockOf[v] = count++;
    const low: number[] = Array.from({ length: real }, (_, v) => rank[v]!);
    const high = low.slice();
    const nodes: number[] = Array.from({ length: real }, (_, v) => v);
    const start: number[] = nodes.slice();
    for (let v = real; v < total; v++) {
      const before = into.start[v] === into.start[v + 1] ? -1 : segFrom[into.list[into.start[v]!]!]!;
      // lanes of one trunk are numbered in a row
      if (before >= real && before === v - 1) {
        this.blockOf[v] = this.blockOf[before]!;
        high[this.blockOf[v]!] = rank[v]!;
      } else {
        this.blockOf[v] = count++;
        low.push(rank[v]!);
        high.push(rank[v]!);
        start.push(nodes.length);
      }
      nodes.push(v);
    }
    this.count = count;
    this.low = Int32Array.from(low);
    this.high = Int32Array.from(high);
    this.start = Int32Array.from(start);
    this.nodes = Int32Array.from(nodes);
    this.order = new Int32Array(count);
    this.place = new Int32Array(count);
    this.inBlock = Int32Array.from(into.list, (s) => this.blockOf[segFrom[s]!]!);
    this.outBlock = Int32Array.from(out.list, (s) => this.blockOf[segTo[s]!]!);
    const busy: number[] = [];
    this.busyStart = new Int32Array(count + 1);
    for (let b = 0; b < count; b++) {
      for (let r = this.low[b]!; r <= this.high[b]!; r++) {
        const v = this.nodes[this.start[b]! + r - this.low[b]!]!;
        let outside = false;
        for (let k = into.start[v]!; k < into.start[v + 1]!; k++) outside ||= this.inBlock[k] !== b;
        for (let k = out.start[v]!; k < out.start[v + 1]!; k++) outside ||= this.outBlock[k] !== b;
        if (outside) busy.push(r);
      }
      this.busyStart[b + 1] = busy.length;
    }
    this.busy = Int32Array.from(busy);
    this.layerStart = adjacency(layers.layerCount, rank).start;
    this.layerBlocks = adjacency(layers.layerCount, rank).list.map((v) => this.blockOf[v]!);
    this.seen = new Int32Array(count);
    this.role = new Uint8Array(count);
    this.found = new Int32Array(count);
    this.sequence = this.byDegree().filter((b) => b >= fixed);
  }

  /** Takes the order over from places across the flow: each block at the mean of its nodes. */
  startFrom(y: ArrayLike<number>): void {
    const key = new Float64Array(this.count);
    for (let b = 0; b < this.count; b++) {
      const size = this.high[b]! - this.low[b]! + 1;
      for (let i = 0; i < size; i++) {
        const v = this.nodes[this.start[b]! + i]!;
        key[b]! += (y[v]! + this.layers.height[v]! / 2) / size;
      }
      this.order[b] = b;
    }
    this.order.sort((a, b) => key[a]! - key[b]! || a - b);
    this.number();
  }

  protected number(): void {
    for (let i = 0; i < this.count; i++) this.place[this.order[i]!] = i;
  }

  /** One round over all blocks, each tried past `reach` others on each side; returns the crossings saved. */
  round(reach: number, tick: (fraction: number) => void): number {
    let saved = 0;
    this.sequence.forEach((b, i) => {
      if (i % 256 === 0) tick(i / this.count);
      saved += this.sift(b, reach);
    });
    return saved;
  }

  /** Blocks from the most wires to the fewest. */
  private byDegree(): Int32Array {
    const { into, out } = this.layers;
    const degree = new Int32Array(this.count);
    for (let v = 0; v < this.layers.total; v++)
      degree[this.blockOf[v]!]! += into.start[v + 1]! - into.start[v]! + out.start[v + 1]! - out.start[v]!;
    return Int32Array.from({ length: this.count }, (_, b) => b).sort((a, b) => degree[b]! - degree[a]! || a - b);
  }

  protected sift(b: number, reach: number): number {
    const { order, place } = this;
    const [near, size] = this.sharing(b, reach);
    const at = place[b]!;
    let middle = 0;
    while (middle < size && near[middle]! < at) middle++;
    this.role[b] = moving;
    let [best, to, gain] = [0, at, 0];
    for (let k = middle; k < Math.min(size, middle + reach); k++) {
      const i = near[k]!;
      gain += this.pass(b, order[i]!, true);
      if (gain > best) [best, to] = [gain, i];
    }
    gain = 0;
    for (let k = middle - 1; k >= Math.max(0, middle - reach); k--) {
      const i = near[k]!;
      gain += this.pass(b, order[i]!, false);
      if (gain > best) [best, to] = [gain, i];
    }
    this.role[b] = 0;
    if (to !== at) this.move(at, at, to);
    return best;
  }

  /** What it saves that b goes past c, forwards or backwards. */
  private pass(b: number, c: number, forwards: boolean): number {
    this.role[c] = passed;
    const gain = forwards ? this.gain(b, c, this.place[c]!) : this.gain(c, b, this.place[c]!);
    this.role[c] = 0;
    return gain - this.toll(b, c);
  }

  /**
   * Iterated local search: again and again one block is moved to a near place at random, and it and the blocks that it
   * is wired to are sifted; what is no better is taken back. Returns the crossings saved. O(iterations · blocks).
   */
  perturb(iterations: number, reach: number, random: () => number, tick: (fraction: number) => void): number {
    const { sequence } = this;
    let back = this.remember();
    let total = 0;
    for (let k = 0; k < iterations; k++) {
      if (k % 64 === 0) tick(k / iterations);
      const b = sequence[Math.floor(random() * sequence.length)]!;
      let saved = this.leap(b, random);
      for (const c of this.wiredTo(b)) saved += this.sift(c, reach);
      saved += this.sift(b, reach);
      if (saved < 0) back();
      else {
        total += saved;
        back = this.remember(back);
      }
    }
    return total;
  }

  /** Keeps the order as it is now; what it returns brings it back, and is given in to be used again. */
  protected remember(again?: () => void): () => void {
    const kept = again ? this.kept : [this.order.slice(), this.place.slice()];
    kept[0]!.set(this.order);
    kept[1]!.set(this.place);
    this.kept = kept;
    return () => {
      this.order.set(kept[0]!);
      this.place.set(kept[1]!);
    };
  }

  /**
   * Moves a block to the place of any other that shares a layer with it; returns what that saves, mostly less than
   * nothing.
   */
  protected leap(b: number, random: () => number): number {
    const [found, size] = this.sharing(b);
    if (size < 2) return 0;
    const near = found.slice(0, size);
    return this.jump(b, near, near[Math.floor(random() * size)]!);
  }

  /**
   * Moves a block to the place `to`, past those that share a layer with it; returns what that saves, mostly less than
   * nothing.
   */
  private jump(b: number, near: Int32Array, to: number): number {
    const at = this.place[b]!;
    let gain = 0;
    this.role[b] = moving;
    for (const i of near) {
      if (to > at && i > at && i <= to) gain += this.pass(b, this.order[i]!, true);
    }
    for (let k = near.length - 1; k >= 0; k--) {
      const i = near[k]!;
      if (to < at && i < at && i >= to) gain += this.pass(b, this.order[i]!, false);
    }
    this.role[b] = 0;
    if (to !== at) this.move(at, at, to);
    return gain;
  }

  /** The other blocks at the ends of a block's wires, each once. */
  private wiredTo(b: number): Set<number> {
    const { into, out } = this.layers;
    const found = new Set<number>();
    for (let r = this.low[b]!; r <= this.high[b]!; r++) {
      const v = this.nodes[this.start[b]! + r - this.low[b]!]!;
      for (let k = into.start[v]!; k < into.start[v + 1]!; k++) found.add(this.inBlock[k]!);
      for (let k = out.start[v]!; k < out.start[v + 1]!; k++) found.add(this.outBlock[k]!);
    }
    found.delete(b);
    return found;
  }

  /** What the present order of two blocks is worth. */
  protected toll(b: number, c: number): number {
    return this.resistance > 0 && b < this.layers.real && c < this.layers.real ? this.resistance : 0;
  }

  /**
   * Takes the blocks at places from … last out and puts them in so that they end (forwards) or begin (backwards) at
   * `to`.
   */
  protected move(from: number, last: number, to: number): void {
    const { order, place } = this;
    const size = last - from + 1;
    const taken = order.slice(from, last + 1);
    if (to > last) {
      order.copyWithin(from, last + 1, to + 1);
      order.set(taken, to - size + 1);
    } else {
      order.copyWithin(to + size, to, from);
      order.set(taken, to);
    }
    for (let i = Math.min(from, to); i <= Math.max(last, to); i++) place[order[i]!] = i;
  }

  /**
   * Places of the blocks that share a layer with b, ascending, without its own: the array and how many of it count. At
   * least the nearest `reach` on each side. O(blocks in its layers), or O(reach) in layers that hold a good part of all.
   */
  protected sharing(b: number, reach = this.count): [Int32Array, number] {
    const { low, high, order, place, layerStart, layerBlocks, seen, found } = this;
    const [lowest, highest] = [low[b]!, high[b]!];
    let size = 0;
    if (layerStart[highest + 1]! - layerStart[lowest]! < this.count >> 4) {
      this.stamp++;
      seen[b] = this.stamp;
      for (let k = layerStart[lowest]!; k < layerStart[highest + 1]!; k++) {
        const c = layerBlocks[k]!;
        if (seen[c] === this.stamp) continue;
        seen[c] = this.stamp;
        found[size++] = place[c]!;
      }
      found.subarray(0, size).sort();
    } else {
      const shares = (i: number): boolean => low[order[i]!]! <= highest && high[order[i]!]! >= lowest;
      const at = place[b]!;
      for (let i = at - 1; i >= 0 && size < reach; i--) if (shares(i)) found[size++] = i;
      found.subarray(0, size).reverse();
      const before = size;
      for (let i = at + 1; i < this.count && size - before < reach; i++) if (shares(i)) found[size++] = i;
    }
    return [found, size];
  }

  /**
   * What swapping saves when a lies directly before b in the order. Blocks in the role of moving are, just then, where
   * the passed ones are:
   * at the place `here`; wires between the two sides do not count, their order turns with that of the blocks.
   */
  protected gain(a: number, b: number, here: number): number {
    const first = Math.max(this.low[a]!, this.low[b]!);
    const last = Math.min(this.high[a]!, this.high[b]!);
    let saved = 0;
    // where neither has a wire to another block both run straight on
    let [i, k] = [this.busyStart[a]!, this.busyStart[b]!];
    const [iEnd, kEnd] = [this.busyStart[a + 1]!, this.busyStart[b + 1]!];
    for (;;) {
      const [ra, rb] = [i < iEnd ? this.busy[i]! : 0x7fffffff, k < kEnd ? this.busy[k]! : 0x7fffffff];
      const r = Math.min(ra, rb);
      if (r > last) break;
      if (ra === r) i++;
      if (rb === r) k++;
      if (r < first) continue;
      const [u, v] = [this.nodes[this.start[a]! + r - this.low[a]!]!, this.nodes[this.start[b]! + r - this.low[b]!]!];
      const { into, out, segFromPort, segToPort } = this.layers;
      saved +=
        this.gainAt(u, v, into, this.inBlock, segFromPort, here) +
        this.gainAt(u, v, out, this.outBlock, segToPort, here);
    }
    return saved;
  }

  private gainAt(u: number, v: number, side: Adjacency, far: Int32Array, port: Int32Array, here: number): number {
    const { place, role } = this;
    const { segWeight } = this.layers;
    let saved = 0;
    for (let i = side.start[u]!; i < side.start[u + 1]!; i++) {
      const p = far[i]!;
      const s = side.list[i]!;
      for (let k = side.start[v]!; k < side.start[v + 1]!; k++) {
        const q = far[k]!;
        const t = side.list[k]!;
        let difference: number;
        if (p === q) difference = port[s]! - port[t]!;
        else if (role[p] === role[q]) difference = place[p]! - place[q]!;
        else if (role[p] !== 0 && role[q] !== 0) continue;
        else difference = (role[p] === moving ? here : place[p]!) - (role[q] === moving ? here : place[q]!);
        if (difference > 0) saved += segWeight[s]! * segWeight[t]!;
        else if (difference < 0) saved -= segWeight[s]! * segWeight[t]!;
      }
    }
    return saved;
  }

  /** Gives each layer the order that the blocks have. */
  write(rows: Rows): void {
    const next = rows.start.slice();
    for (let i = 0; i < this.count; i++) {
      const b = this.order[i]!;
      for (let r = this.low[b]!; r <= this.high[b]!; r++)
        rows.row[next[r]!++] = this.nodes[this.start[b]! + r - this.low[b]!]!;
    }
    for (let r = 0; r < this.layers.layerCount; r++) rows.renumber(r);
  }
}
