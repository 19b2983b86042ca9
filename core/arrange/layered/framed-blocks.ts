import { Blocks, moving, passed } from './blocks.ts';
import type { FrameTree } from './graph.ts';
import type { Layers } from './layers.ts';

/**
 * Global sifting with frames: the blocks of a frame stand in one row in the order, so that in every layer no stranger
 * comes between them. A block is sifted within its own frame, past inner frames as wholes; a frame is sifted as a whole
 * among what lies beside it.
 */
export class FramedBlocks extends Blocks {
  private readonly frames: FrameTree;
  /** The innermost frame of each block, or −1. */
  private readonly frameOf: Int32Array;
  private readonly first: Int32Array;
  private readonly last: Int32Array;
  /** Frames from the innermost out. */
  private readonly inwardsOut: readonly number[];

  constructor(layers: Layers, frames: FrameTree) {
    super(layers);
    this.frames = frames;
    this.frameOf = new Int32Array(this.count);
    for (let b = 0; b < this.count; b++) this.frameOf[b] = layers.frame![this.nodes[this.start[b]!]!]!;
    this.first = new Int32Array(frames.parent.length);
    this.last = new Int32Array(frames.parent.length);
    const depth = (f: number): number => (f === -1 ? 0 : 1 + depth(frames.parent[f]!));
    this.inwardsOut = Array.from(frames.parent, (_, f) => f).sort((a, b) => depth(b) - depth(a) || a - b);
  }

  /**
   * As for single blocks, frames at the mean of all that they hold; then whatever a frame holds is put side by side.
   */
  override startFrom(y: ArrayLike<number>): void {
    super.startFrom(y);
    const count = this.frames.parent.length;
    const [sum, size] = [new Float64Array(count), new Int32Array(count)];
    const children: number[][] = Array.from({ length: count + 1 }, () => []);
    this.order.forEach((b, i) => {
      children[this.frameOf[b]! + 1]!.push(b);
      for (let f = this.frameOf[b]!; f !== -1; f = this.frames.parent[f]!) {
        sum[f]! += i;
        size[f]!++;
      }
    });
    const inner: number[][] = Array.from({ length: count + 1 }, () => []);
    this.frames.parent.forEach((parent, f) => {
      if (size[f]! > 0) inner[parent + 1]!.push(f);
    });
    const order: number[] = [];
    const place = this.place.slice();
    const write = (f: number): void => {
      const items = [
        ...children[f + 1]!.map((b) => ({ key: place[b]!, block: b, frame: -1 })),
        ...inner[f + 1]!.map((g) => ({ key: sum[g]! / size[g]!, block: -1, frame: g })),
      ];
      items.sort((a, b) => a.key - b.key || a.block - b.block || a.frame - b.frame);
      for (const item of items) {
        if (item.block >= 0) order.push(item.block);
        else write(item.frame);
      }
    };
    write(-1);
    this.order.set(order);
    this.number();
    this.mark();
  }

  /** Finds where each frame begins and ends in the order. */
  private mark(): void {
    this.first.fill(this.count);
    this.last.fill(-1);
    for (let i = 0; i < this.count; i++) {
      for (let f = this.frameOf[this.order[i]!]!; f !== -1; f = this.frames.parent[f]!) {
        this.first[f] = Math.min(this.first[f]!, i);
        this.last[f] = i;
      }
    }
  }

  override round(reach: number, tick: (fraction: number) => void): number {
    let saved = super.round(reach, tick);
    for (const f of this.inwardsOut)
      if (this.last[f]! >= 0) saved += this.siftUnit(this.first[f]!, this.last[f]!, this.frames.parent[f]!, reach);
    return saved;
  }

  protected override sift(b: number, reach: number): number {
    const at = this.place[b]!;
    return this.siftUnit(at, at, this.frameOf[b]!, reach);
  }

  /** The item beside place i in a frame: [first place, last place] of the inner frame, or of the one block. */
  private itemAt(i: number, scope: number): [number, number] {
    let f = this.frameOf[this.order[i]!]!;
    if (f === scope) return [i, i];
    while (this.frames.parent[f] !== scope) f = this.frames.parent[f]!;
    return [this.first[f]!, this.last[f]!];
  }

  private siftUnit(from: number, end: number, scope: number, reach: number): number {
    const [start, stop] = scope === -1 ? [0, this.count - 1] : [this.first[scope]!, this.last[scope]!];
    const unit = this.order.slice(from, end + 1);
    for (const b of unit) this.role[b] = moving;
    let [best, to, gain, tried] = [0, from, 0, 0];
    for (let i = end + 1; i <= stop && tried < reach; ) {
      const [a, z] = this.itemAt(i, scope);
      gain += this.passUnit(unit, a, z, true);
      tried += z - a + 1;
      if (gain > best) [best, to] = [gain, z];
      i = z + 1;
    }
    gain = tried = 0;
    for (let i = from - 1; i >= start && tried < reach; ) {
      const [a, z] = this.itemAt(i, scope);
      gain += this.passUnit(unit, a, z, false);
      tried += z - a + 1;
      if (gain > best) [best, to] = [gain, a];
      i = a - 1;
    }
    for (const b of unit) this.role[b] = 0;
    if (best > 0) {
      this.move(from, end, to);
      this.shiftFrames(from, end, to, scope);
    }
    return best;
  }

  protected override leap(b: number, random: () => number): number {
    const scope = this.frameOf[b]!;
    const [start, stop] = scope === -1 ? [0, this.count - 1] : [this.first[scope]!, this.last[scope]!];
    const at = this.place[b]!;
    const target = start + Math.floor(random() * (stop - start + 1));
    const unit = Int32Array.of(b);
    let [gain, to] = [0, at];
    this.role[b] = moving;
    for (let i = at + 1; i <= target; i = to + 1) {
      const [a, z] = this.itemAt(i, scope);
      gain += this.passUnit(unit, a, z, true);
      to = z;
    }
    for (let i = at - 1; i >= target; i = to - 1) {
      const [a, z] = this.itemAt(i, scope);
      gain += this.passUnit(unit, a, z, false);
      to = a;
    }
    this.role[b] = 0;
    if (to !== at) {
      this.move(at, at, to);
      this.shiftFrames(at, at, to, scope);
    }
    return gain;
  }

  protected override remember(again?: () => void): () => void {
    const back = super.remember(again);
    const [first, last] = [this.first.slice(), this.last.slice()];
    return () => {
      back();
      this.first.set(first);
      this.last.set(last);
    };
  }

  private passUnit(unit: Int32Array, a: number, z: number, forwards: boolean): number {
    const { order, role, low, high } = this;
    for (let i = a; i <= z; i++) role[order[i]!] = passed;
    let gain = 0;
    for (let i = a; i <= z; i++) {
      const c = order[i]!;
      for (const b of unit) {
        if (low[b]! > high[c]! || high[b]! < low[c]!) continue;
        gain += (forwards ? this.gain(b, c, i) : this.gain(c, b, i)) - this.toll(b, c);
      }
    }
    for (let i = a; i <= z; i++) role[order[i]!] = 0;
    return gain;
  }

  /** After a move inside `scope`: frames on the way give way, those that moved go along. */
  private shiftFrames(from: number, end: number, to: number, scope: number): void {
    const size = end - from + 1;
    const done = new Set<number>();
    for (let f = scope; f !== -1; f = this.frames.parent[f]!) done.add(f);
    const forwards = to > end;
    const [low, high] = forwards ? [from, to] : [to, end];
    const [unitFirst, unitLast] = forwards ? [to - size + 1, to] : [to, to + size - 1];
    for (let i = low; i <= high; i++) {
      const isUnit = i >= unitFirst && i <= unitLast;
      const by = isUnit ? unitFirst - from : forwards ? -size : size;
      for (let f = this.frameOf[this.order[i]!]!; f !== -1; f = this.frames.parent[f]!) {
        if (done.has(f)) continue;
        done.add(f);
        this.first[f]! += by;
        this.last[f]! += by;
      }
    }
  }
}
