import { type Adjacency, adjacency } from './graph.ts';

export interface RankResult {
  /** The layer of each node, from 0. */
  readonly rank: Int32Array;
  /** Edges of the spanning tree and the cut value of each, for tests against the paper's worked example. */
  readonly treeEdges: readonly number[];
  readonly cutValues: readonly number[];
}

export interface RankOptions {
  readonly weight?: Float64Array;
  /** Least number of layers that an edge spans. */
  readonly minLength?: Int32Array;
  /** Pivots at the most; work is bounded by iterations, never by the clock. */
  readonly mostPivots?: number;
  /** Start from these ranks where they are feasible, instead of from the longest paths. */
  readonly start?: Int32Array;
  /** Spread nodes that could lie in several layers evenly. */
  readonly balance?: boolean;
}

/**
 * Layers by network simplex: Gansner, Koutsofios, North & Vo, “A technique for drawing directed graphs”, IEEE TSE 19
 * (1993), section 2.
 * Minimises the weighted sum of edge lengths. The graph has to be acyclic and connected; see `ranks` for any graph.
 * Throws RangeError where it is not connected.
 */
export class NetworkSimplex {
  readonly rank: Int32Array;
  private readonly count: number;
  private readonly from: Int32Array;
  private readonly to: Int32Array;
  private readonly weight: Float64Array;
  private readonly minLength: Int32Array;
  private readonly out: Adjacency;
  private readonly into: Adjacency;
  private readonly inTree: Uint8Array;
  private readonly cut: Float64Array;
  private readonly treeEdges: number[] = [];
  private readonly treeAt: number[][];
  private readonly parentEdge: Int32Array;
  private readonly low: Int32Array;
  private readonly lim: Int32Array;
  private searchFrom = 0;

  constructor(count: number, from: Int32Array, to: Int32Array, options: RankOptions = {}) {
    this.count = count;
    this.from = from;
    this.to = to;
    this.weight = options.weight ?? new Float64Array(from.length).fill(1);
    this.minLength = options.minLength ?? new Int32Array(from.length).fill(1);
    this.out = adjacency(count, from);
    this.into = adjacency(count, to);
    this.rank = options.start ? options.start.slice() : this.longestPaths();
    this.inTree = new Uint8Array(from.length);
    this.cut = new Float64Array(from.length);
    this.treeAt = Array.from({ length: count }, () => []);
    this.parentEdge = new Int32Array(count).fill(-1);
    this.low = new Int32Array(count);
    this.lim = new Int32Array(count);
  }

  run(mostPivots = Number.POSITIVE_INFINITY, balance = true): RankResult {
    if (this.count === 0) return { rank: this.rank, treeEdges: [], cutValues: [] };
    this.tightTree();
    this.number(0, -1, 1);
    this.initCutValues();
    for (let i = 0; i < mostPivots; i++) {
      const leaving = this.leaveEdge();
      if (leaving === -1) break;
      this.exchange(leaving, this.enterEdge(leaving));
    }
    this.normalise();
    if (balance) this.balance();
    return {
      rank: this.rank,
      treeEdges: [...this.treeEdges],
      cutValues: this.treeEdges.map((edge) => this.cut[edge]!),
    };
  }

  private slack(edge: number): number {
    return this.rank[this.to[edge]!]! - this.rank[this.from[edge]!]! - this.minLength[edge]!;
  }

  /** Earliest layers in topological order. Throws RangeError on a cycle. */
  private longestPaths(): Int32Array {
    const rank = new Int32Array(this.count);
    const waiting = new Int32Array(this.count);
    for (const v of this.to) waiting[v]!++;
    const ready: number[] = [];
    for (let v = 0; v < this.count; v++) if (waiting[v] === 0) ready.push(v);
    for (let i = 0; i < ready.length; i++) {
      const u = ready[i]!;
      for (let k = this.out.start[u]!; k < this.out.start[u + 1]!; k++) {
        const edge = this.out.list[k]!;
        const v = this.to[edge]!;
        rank[v] = Math.max(rank[v]!, rank[u]! + this.minLength[edge]!);
        if (--waiting[v]! === 0) ready.push(v);
      }
    }
    if (ready.length < this.count) throw new RangeError('Ranking wants an acyclic graph.');
    return rank;
  }

  /**
   * Joins tight parts, always the smallest one to its nearest neighbour, until one tree of tight edges spans all. O(E
   * log V).
   */
  private tightTree(): void {
    const part = new Int32Array(this.count);
    const members: number[][] = [];
    for (let v = 0; v < this.count; v++) {
      part[v] = v;
      members.push([v]);
    }
    const join = (edge: number): void => {
      this.addTreeEdge(edge);
      let [keep, lose] = [part[this.from[edge]!]!, part[this.to[edge]!]!];
      if (members[keep]!.length < members[lose]!.length) [keep, lose] = [lose, keep];
      for (const v of members[lose]!) part[v] = keep;
      members[keep]!.push(...members[lose]!);
      members[lose] = [];
    };
    for (let edge = 0; edge < this.from.length; edge++)
      if (part[this.from[edge]!] !== part[this.to[edge]!] && this.slack(edge) === 0) join(edge);

    const bySize: number[][] = [];
    const push = (p: number): void => {
      const size = members[p]!.length;
      bySize[size] ??= [];
      bySize[size].push(p);
    };
    for (let p = 0; p < this.count; p++) if (members[p]!.length > 0) push(p);
    let size = 1;
    while (this.treeEdges.length < this.count - 1) {
      while (!bySize[size]?.length) {
        size++;
        if (size > this.count) throw new RangeError('Ranking wants a connected graph.');
      }
      const p = bySize[size]!.pop()!;
      if (members[p]!.length !== size) continue;
      let best = -1;
      let least = Number.POSITIVE_INFINITY;
      let direction = 1;
      for (const v of members[p]!) {
        for (let k = this.out.start[v]!; k < this.out.start[v + 1]!; k++) {
          const edge = this.out.list[k]!;
          if (part[this.to[edge]!] !== p && this.slack(edge) < least)
            [best, least, direction] = [edge, this.slack(edge), 1];
        }
        for (let k = this.into.start[v]!; k < this.into.start[v + 1]!; k++) {
          const edge = this.into.list[k]!;
          if (part[this.from[edge]!] !== p && this.slack(edge) < least)
            [best, least, direction] = [edge, this.slack(edge), -1];
        }
      }
      if (best === -1) throw new RangeError('Ranking wants a connected graph.');
      for (const v of members[p]!) this.rank[v]! += direction * least;
      join(best);
      const joined = part[this.from[best]!]!;
      push(joined);
      size = Math.min(size, members[joined]!.length);
    }
  }

  private addTreeEdge(edge: number): void {
    this.inTree[edge] = 1;
    this.treeEdges.push(edge);
    this.treeAt[this.from[edge]!]!.push(edge);
    this.treeAt[this.to[edge]!]!.push(edge);
  }

  private otherEnd(edge: number, v: number): number {
    return this.from[edge] === v ? this.to[edge]! : this.from[edge]!;
  }

  /** Postorder numbers below a node: `lim` its own, `low` the least below it. Returns the next free number. */
  private number(root: number, parentEdge: number, first: number): number {
    let clock = first;
    const nodes: number[] = [root];
    const at: number[] = [0];
    this.parentEdge[root] = parentEdge;
    this.low[root] = clock;
    while (nodes.length > 0) {
      const v = nodes[nodes.length - 1]!;
      const i = at[at.length - 1]!++;
      const edges = this.treeAt[v]!;
      if (i < edges.length) {
        const edge = edges[i]!;
        if (edge === this.parentEdge[v]) continue;
        const w = this.otherEnd(edge, v);
        this.parentEdge[w] = edge;
        this.low[w] = clock;
        nodes.push(w);
        at.push(0);
      } else {
        this.lim[v] = clock++;
        nodes.pop();
        at.pop();
      }
    }
    return clock;
  }

  /** Is v in the part below w? */
  private below(v: number, w: number): boolean {
    return this.low[w]! <= this.lim[v]! && this.lim[v]! <= this.lim[w]!;
  }

  private initCutValues(): void {
    const order = Array.from({ length: this.count }, (_, v) => v).sort((a, b) => this.lim[a]! - this.lim[b]!);
    for (const v of order) if (this.parentEdge[v] !== -1) this.cut[this.parentEdge[v]!] = this.cutValue(v);
  }

  /** The cut value of the tree edge above v, from the edges at v and the cut values below it. */
  private cutValue(v: number): number {
    const above = this.parentEdge[v]!;
    const vIsTail = this.from[above] === v;
    let sum = this.weight[above]!;
    const add = (edge: number, isOut: boolean): void => {
      if (edge === above) return;
      const same = isOut === vIsTail;
      const other = this.otherEnd(edge, v);
      if (this.inTree[edge] && this.parentEdge[other] === edge) {
        sum += same ? -(this.cut[edge]! - this.weight[edge]!) : this.cut[edge]! - this.weight[edge]!;
      } else sum += same ? this.weight[edge]! : -this.weight[edge]!;
    };
    for (let k = this.out.start[v]!; k < this.out.start[v + 1]!; k++) add(this.out.list[k]!, true);
    for (let k = this.into.start[v]!; k < this.into.start[v + 1]!; k++) add(this.into.list[k]!, false);
    return sum;
  }

  /** The most negative of the next few tree edges with a negative cut value, searched round robin. */
  private leaveEdge(): number {
    let best = -1;
    let seen = 0;
    const n = this.treeEdges.length;
    for (let i = 0; i < n; i++) {
      const at = (this.searchFrom + i) % n;
      const edge = this.treeEdges[at]!;
      if (this.cut[edge]! < -1e-9) {
        if (best === -1 || this.cut[edge]! < this.cut[best]!) best = edge;
        if (++seen >= 30) {
          this.searchFrom = at;
          return best;
        }
      }
    }
    return best;
  }

  /** The edge of least slack that leads back over the cut that the leaving edge makes. */
  private enterEdge(leaving: number): number {
    const tail = this.from[leaving]!;
    const head = this.to[leaving]!;
    // search on the side that lies below the leaving edge: the smaller of the two, and known by its numbers
    const tailBelow = this.lim[tail]! < this.lim[head]!;
    const root = tailBelow ? tail : head;
    let best = -1;
    let least = Number.POSITIVE_INFINITY;
    const todo = [root];
    for (let v = todo.pop(); v !== undefined; v = todo.pop()) {
      const side = tailBelow ? this.into : this.out;
      for (let k = side.start[v]!; k < side.start[v + 1]!; k++) {
        const edge = side.list[k]!;
        if (this.inTree[edge]) continue;
        if (!this.below(this.otherEnd(edge, v), root)) {
          const slack = this.slack(edge);
          if (slack < least || (slack === least && edge < best)) [best, least] = [edge, slack];
        }
      }
      for (const edge of this.treeAt[v]!) if (edge !== this.parentEdge[v]) todo.push(this.otherEnd(edge, v));
    }
    return best;
  }

  private exchange(leaving: number, entering: number): void {
    const delta = this.slack(entering);
    const root =
      this.lim[this.from[leaving]!]! < this.lim[this.to[leaving]!]! ? this.from[leaving]! : this.to[leaving]!;
    if (delta > 0) {
      const shift = root === this.from[leaving] ? -delta : delta;
      for (let v = 0; v < this.count; v++) if (this.below(v, root)) this.rank[v]! += shift;
    }
    const change = this.cut[leaving]!;
    const meet = this.updatePath(this.from[entering]!, this.to[entering]!, change, true);
    this.updatePath(this.to[entering]!, this.from[entering]!, change, false);
    this.cut[entering] = -change;
    this.cut[leaving] = 0;
    this.swapTreeEdge(leaving, entering);
    this.number(meet, this.parentEdge[meet]!, this.low[meet]!);
  }

  /** Adds the change along the tree path up from v until it also holds w; returns where the two paths meet. */
  private updatePath(start: number, w: number, change: number, forward: boolean): number {
    let v = start;
    while (!this.below(w, v)) {
      const edge = this.parentEdge[v]!;
      const along = v === this.from[edge] ? forward : !forward;
      this.cut[edge]! += along ? change : -change;
      v = this.otherEnd(edge, v);
    }
    return v;
  }

  private swapTreeEdge(leaving: number, entering: number): void {
    this.inTree[leaving] = 0;
    this.inTree[entering] = 1;
    this.treeEdges[this.treeEdges.indexOf(leaving)] = entering;
    for (const v of [this.from[leaving]!, this.to[leaving]!])
      this.treeAt[v]!.splice(this.treeAt[v]!.indexOf(leaving), 1);
    for (const v of [this.from[entering]!, this.to[entering]!]) this.treeAt[v]!.push(entering);
  }

  private normalise(): void {
    let least = Number.POSITIVE_INFINITY;
    for (const r of this.rank) least = Math.min(least, r);
    for (let v = 0; v < this.count; v++) this.rank[v]! -= least;
  }

  /**
   * Nodes with equal weight in and out may lie anywhere between their neighbours: they go to the emptiest layer there.
   */
  private balance(): void {
    const filled = new Map<number, number>();
    for (const r of this.rank) filled.set(r, (filled.get(r) ?? 0) + 1);
    for (let v = 0; v < this.count; v++) {
      let [weightIn, weightOut, low, high] = [0, 0, 0, Number.POSITIVE_INFINITY];
      for (let k = this.into.start[v]!; k < this.into.start[v + 1]!; k++) {
        const edge = this.into.list[k]!;
        weightIn += this.weight[edge]!;
        low = Math.max(low, this.rank[this.from[edge]!]! + this.minLength[edge]!);
      }
      for (let k = this.out.start[v]!; k < this.out.start[v + 1]!; k++) {
        const edge = this.out.list[k]!;
        weightOut += this.weight[edge]!;
        high = Math.min(high, this.rank[this.to[edge]!]! - this.minLength[edge]!);
      }
      if (weightIn !== weightOut || weightIn === 0 || high === Number.POSITIVE_INFINITY) continue;
      const old = this.rank[v]!;
      let best = old;
      for (let r = low; r <= high; r++)
        if ((filled.get(r) ?? 0) < (filled.get(best) ?? 0) - (best === old ? 1 : 0)) best = r;
      if (best === old) continue;
      filled.set(old, filled.get(old)! - 1);
      filled.set(best, (filled.get(best) ?? 0) + 1);
      this.rank[v] = best;
    }
  }
}

/** Layers for a connected acyclic graph; edges of a node to itself have to be left out before. */
export function ranks(count: number, from: Int32Array, to: Int32Array, options: RankOptions = {}): Int32Array {
  return new NetworkSimplex(count, from, to, options).run(options.mostPivots, options.balance).rank;
}
