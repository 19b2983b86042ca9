import type { Adjacency } from './graph.ts';
import type { Layers } from './layers.ts';

/**
 * The order of each layer as flat arrays, and what the search for a better one asks all the time: crossings of two
 * neighbours and of the whole. A *slot* is the place of one port in its layer, counted from the top; segments that
 * share a slot do not cross.
 */
export class Rows {
  readonly layers: Layers;
  /** Nodes layer by layer: those of layer r are row[start[r]] … row[start[r + 1] − 1]. */
  readonly row: Int32Array;
  readonly start: Int32Array;
  /** Place of a node in its layer. */
  readonly position: Int32Array;
  /** Slot of a node's first port on each side. */
  readonly inBase: Int32Array;
  readonly outBase: Int32Array;
  private readonly tree: Int32Array;

  constructor(layers: Layers) {
    this.layers = layers;
    const { total, layerCount, rank } = layers;
    this.start = new Int32Array(layerCount + 1);
    for (let v = 0; v < total; v++) this.start[rank[v]! + 1]!++;
    for (let r = 0; r < layerCount; r++) this.start[r + 1]! += this.start[r]!;
    this.row = new Int32Array(total);
    this.position = new Int32Array(total);
    this.inBase = new Int32Array(total);
    this.outBase = new Int32Array(total);
    const next = this.start.slice();
    for (let v = 0; v < total; v++) this.row[next[rank[v]!]!++] = v;
    let most = 1;
    for (let r = 0; r < layerCount; r++) {
      let slots = 1;
      for (let i = this.start[r]!; i < this.start[r + 1]!; i++) slots += layers.inPorts[this.row[i]!]!;
      most = Math.max(most, slots);
      this.renumber(r);
    }
    this.tree = new Int32Array(most + 1);
  }

  size(r: number): number {
    return this.start[r + 1]! - this.start[r]!;
  }

  /** After the nodes of a layer were put into another order. */
  renumber(r: number): void {
    let [slotIn, slotOut] = [0, 0];
    const first = this.start[r]!;
    for (let i = first; i < this.start[r + 1]!; i++) {
      const v = this.row[i]!;
      this.position[v] = i - first;
      this.inBase[v] = slotIn;
      this.outBase[v] = slotOut;
      slotIn += this.layers.inPorts[v]!;
      slotOut += this.layers.outPorts[v]!;
    }
  }

  restore(row: Int32Array): void {
    this.row.set(row);
    for (let r = 0; r < this.layers.layerCount; r++) this.renumber(r);
  }

  /** Swaps the node at place i of layer r with the next one. */
  swap(r: number, i: number): void {
    const at = this.start[r]! + i;
    const [a, b] = [this.row[at]!, this.row[at + 1]!];
    this.row[at] = b;
    this.row[at + 1] = a;
    this.position[b] = i;
    this.position[a] = i + 1;
    this.inBase[b] = this.inBase[a]!;
    this.inBase[a] = this.inBase[b]! + this.layers.inPorts[b]!;
    this.outBase[b] = this.outBase[a]!;
    this.outBase[a] = this.outBase[b]! + this.layers.outPorts[b]!;
  }

  /** Takes the node at place i of layer r out and puts it in at place k. O(distance). */
  shift(r: number, i: number, k: number): void {
    const first = this.start[r]!;
    const v = this.row[first + i]!;
    if (i < k) this.row.copyWithin(first + i, first + i + 1, first + k + 1);
    else this.row.copyWithin(first + k + 1, first + k, first + i);
    this.row[first + k] = v;
    this.renumber(r);
  }

  /**
   * What swapping saves when a lies directly before b: crossings with a first, less those with b first. O(degree of a ·
   * degree of b).
   */
  gain(a: number, b: number): number {
    const { into, out, segFrom, segTo, segFromPort, segToPort } = this.layers;
    return (
      this.gainOn(into, a, b, segFrom, segFromPort, this.outBase) +
      this.gainOn(out, a, b, segTo, segToPort, this.inBase)
    );
  }

  /** The same on one side: `base` and `port` say which slot a segment has at its far end. */
  private gainOn(side: Adjacency, a: number, b: number, far: Int32Array, port: Int32Array, base: Int32Array): number {
    const { segWeight } = this.layers;
    const { start, list } = side;
    const [bStart, bEnd] = [start[b]!, start[b + 1]!];
    if (bStart === bEnd) return 0;
    let saved = 0;
    for (let i = start[a]!; i < start[a + 1]!; i++) {
      const s = list[i]!;
      const slot = base[far[s]!]! + port[s]!;
      const weight = segWeight[s]!;
      for (let k = bStart; k < bEnd; k++) {
        const t = list[k]!;
        const other = base[far[t]!]! + port[t]!;
        if (slot > other) saved += weight * segWeight[t]!;
        else if (slot < other) saved -= weight * segWeight[t]!;
      }
    }
    return saved;
  }

  /** Crossings of edges of different outputs, in all layers. */
  crossings(): number {
    let sum = 0;
    for (let r = 0; r + 1 < this.layers.layerCount; r++) sum += this.between(r);
    return sum;
  }

  /**
   * Crossings between layers r and r + 1, each counted with the edges that run through both segments. After Barth,
   * Jünger & Mutzel, “Simple and efficient bilayer cross counting” (2002), with a Fenwick tree of weights. O(segments ·
   * log slots).
   */
  between(r: number): number {
    const { out, segTo, segToPort, segFromPort, segWeight, inPorts } = this.layers;
    let slots = 0;
    for (let i = this.start[r + 1]!; i < this.start[r + 2]!; i++) slots += inPorts[this.row[i]!]!;
    const tree = this.tree.fill(0, 0, slots + 1);
    let [count, passed] = [0, 0];
    for (let i = this.start[r]!; i < this.start[r + 1]!; i++) {
      const v = this.row[i]!;
      const end = out.start[v + 1]!;
      // the segments of one port are asked for together before any of them is entered: they do not cross one another
      for (let k = out.start[v]!; k < end; ) {
        const port = segFromPort[out.list[k]!]!;
        let next = k;
        for (; next < end && segFromPort[out.list[next]!] === port; next++) {
          const s = out.list[next]!;
          let before = 0;
          for (let at = this.inBase[segTo[s]!]! + segToPort[s]! + 1; at > 0; at -= at & -at) before += tree[at]!;
          count += (passed - before) * segWeight[s]!;
        }
        for (; k < next; k++) {
          const s = out.list[k]!;
          for (let at = this.inBase[segTo[s]!]! + segToPort[s]! + 1; at <= slots; at += at & -at)
            tree[at]! += segWeight[s]!;
          passed += segWeight[s]!;
        }
      }
    }
    return count;
  }
}
