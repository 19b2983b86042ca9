import Flatbush from 'flatbush';
import FlatQueue from 'flatqueue';
import { type Area, unite } from './regions.ts';

/**
 * A place on a border where wires come into some lanes or leave them, at a level; the lanes lie to its left or right.
 */
export interface Gate {
  readonly x: number;
  readonly level: number;
  readonly lanes: 'left' | 'right';
  /** How many wires go through. */
  readonly wires: number;
}

/** One output with the gates that it leaves and comes in by. */
export interface Tree {
  readonly exit: Gate;
  readonly entries: readonly Gate[];
}

/** Corners of a way from the exit to an entry: x, y, x, y …, levels and uprights in turn. */
export type Trunk = readonly number[];

/** How far the lanes beside a region run from it: one for each of the trunks that share the room, on each side. */
const offsets = [10, 17, 24, 31];
/** What a turn costs, in pixels of way. */
const turnCost = 60;
/**
 * What each wire pays for each wire of another output that it runs across, and what it costs to share a lane. Which are
 * best hangs on the page, so several are tried.
 */
export const costs = [
  { cross: 12, share: 80 },
  { cross: 12, share: 20 },
  { cross: 18, share: 14 },
  { cross: 24, share: 20 },
  { cross: 4, share: 10 },
] as const;
/**
 * How much further than to the nearest corner of its tree a way is sought: a part of the page's width and height, and
 * in pixels of way at the most.
 */
const [detourShare, mostDetour] = [0.06, 1300];
/** Lines of one direction that are nearer than this are one, where one covers the other. */
const oneLine = 5;
/** How far beyond the page lanes go, and how far a gate reaches out from its region. */
const [beyond, gateReach] = [40, 240];

interface Line {
  readonly at: number;
  readonly from: number;
  readonly to: number;
}

const [upright, level] = [0, 1] as const;
const outside = -2;

/**
 * The lanes between regions as a graph: along each side of each region run lines, as far as they are free (the
 * orthogonal visibility graph of Wybrow,
 * Marriott & Stuckey 2009, thinned out). Trees of outputs grow in it one after the other; each entry joins its tree
 * where that costs least (Takahashi
 * & Matsuyama, “An approximate solution for the Steiner problem in graphs”, 1980), and crossing what runs there already
 * costs.
 * Made in O(lines²), growing an entry is O(corners · log corners).
 */
export class LaneGraph {
  private readonly areas: readonly Area[];
  private readonly page: Area;
  private readonly abreast: number;
  private readonly tree: Flatbush;
  private readonly x: number[] = [];
  private readonly y: number[] = [];
  /** Neighbours of each corner, four numbers a corner: up, down, left, right; −1 where there is none. */
  private readonly near: Int32Array;
  /** How many wires run over a corner up or down, and level. */
  private readonly used: readonly [Float64Array, Float64Array];
  private readonly gates = new Map<string, number>();
  private readonly taken = new Map<Gate, readonly (readonly [number, number, number])[]>();
  /**
   * The tree that is growing: where each of its corners comes from (−2: not in the tree), how many wires of others it
   * has met up to there, and whether it is a drop.
   */
  private readonly parent: Int32Array;
  private readonly met: Float64Array;
  private readonly isDrop: Uint8Array;
  private readonly cost: Float64Array;
  private readonly from: Int32Array;
  private readonly stamp: Int32Array;
  private searches = 0;
  /** What crossings and shared lanes cost when trees are grown from now on. */
  weighs: (typeof costs)[number] = costs[0];

  /** `areas` are in the way, `gates` are all that will be asked for; all lanes lie inside `around`. */
  constructor(areas: readonly Area[], gates: readonly Gate[], abreast: number, around?: Area) {
    this.abreast = abreast;
    this.areas = areas;
    this.page = around ?? grown(areas.reduce(unite), beyond);
    this.tree = new Flatbush(areas.length);
    for (const { left, top, right, bottom } of areas) this.tree.add(left, top, right, bottom);
    this.tree.finish();
    const [uprights, levels] = this.lines();
    const onUpright: number[][] = uprights.map(() => []);
    const onLevel: number[][] = levels.map(() => []);
    const byPlace = uprights.map((_, u) => u).sort((a, b) => uprights[a]!.at - uprights[b]!.at || a - b);
    const corner = (x: number, y: number): number => {
      this.x.push(x);
      this.y.push(y);
      return this.x.length - 1;
    };
    const crossLevel = (line: Line, list: number[]): void => {
      for (const u of byPlace) {
        const { at, from, to } = uprights[u]!;
        if (at < line.from || at > line.to || line.at < from || line.at > to) continue;
        const made = corner(at, line.at);
        onUpright[u]!.push(made);
        list.push(made);
      }
    };
    levels.forEach((line, l) => crossLevel(line, onLevel[l]!));
    for (const gate of gates) {
      const key = keyOf(gate);
      if (this.gates.has(key)) continue;
      const end = corner(gate.x, gate.level);
      this.gates.set(key, end);
      const list = [end];
      crossLevel(this.gateLine(gate), list);
      onLevel.push(list);
    }
    const { x, y } = this;
    const near = new Int32Array(x.length * 4).fill(-1);
    const chain = (list: number[], by: readonly number[], back: 0 | 2): void => {
      list.sort((a, b) => by[a]! - by[b]! || a - b);
      for (let i = 1; i < list.length; i++) {
        near[list[i]! * 4 + back] = list[i - 1]!;
        near[list[i - 1]! * 4 + back + 1] = list[i]!;
      }
    };
    for (const list of onUpright) chain(list, y, 0);
    for (const list of onLevel) chain(list, x, 2);
    this.near = near;
    this.used = [new Float64Array(x.length), new Float64Array(x.length)];
    this.parent = new Int32Array(x.length).fill(outside);
    this.met = new Float64Array(x.length);
    this.isDrop = new Uint8Array(x.length);
    this.cost = new Float64Array(2 * x.length);
    this.from = new Int32Array(2 * x.length);
    this.stamp = new Int32Array(2 * x.length);
  }

  private lines(): [Line[], Line[]] {
    const { page } = this;
    const [uprights, levels] = [new Lines(), new Lines()];
    const isIn = (x: number, y: number): boolean => x > page.left && x < page.right && y > page.top && y < page.bottom;
    for (const offset of offsets.slice(0, this.abreast)) {
      for (const { left, top, right, bottom } of this.areas) {
        for (const at of [left - offset, right + offset]) {
          if (!isIn(at, (top + bottom) / 2)) continue;
          const met = this.blocks(at - 0.5, page.top, at + 0.5, page.bottom).map((i): [number, number] => [
            this.areas[i]!.top,
            this.areas[i]!.bottom,
          ]);
          for (const [from, to] of freeParts(met, page.top, page.bottom))
            if (from < bottom + offset && to > top - offset) uprights.add({ at, from, to });
        }
        for (const at of [top - offset, bottom + offset]) {
          if (!isIn((left + right) / 2, at)) continue;
          const met = this.blocks(page.left, at - 0.5, page.right, at + 0.5).map((i): [number, number] => [
            this.areas[i]!.left,
            this.areas[i]!.right,
          ]);
          for (const [from, to] of freeParts(met, page.left, page.right))
            if (from < right + offset && to > left - offset) levels.add({ at, from, to });
        }
      }
    }
    return [uprights.all, levels.all];
  }

  /** From a gate out into the lanes before it, as far as they are free. */
  private gateLine({ x, lanes, level: at }: Gate): Line {
    const [from, to] =
      lanes === 'left'
        ? [Math.max(this.page.left, x - gateReach), x - 1]
        : [x + 1, Math.min(this.page.right, x + gateReach)];
    let [low, high] = [from, to];
    for (const i of this.blocks(from, at - 0.5, to, at + 0.5)) {
      if (lanes === 'left') low = Math.max(low, this.areas[i]!.right + 1);
      else high = Math.min(high, this.areas[i]!.left - 1);
    }
    return { at, from: low, to: high };
  }

  private blocks(left: number, top: number, right: number, bottom: number): number[] {
    const { areas } = this;
    return this.tree.search(
      left,
      top,
      right,
      bottom,
      (i) => areas[i]!.left < right && areas[i]!.right > left && areas[i]!.top < bottom && areas[i]!.bottom > top,
    );
  }

  /** Ways to all entries, each undefined where there is none. Its wires are then in the way of those that follow. */
  grow({ exit, entries }: Tree): (Trunk | undefined)[] {
    const { x, y, parent, met, isDrop } = this;
    const start = this.gates.get(keyOf(exit))!;
    parent[start] = -1;
    met[start] = 0;
    const grown = [start];
    const ends = entries.map((gate) => this.gates.get(keyOf(gate))!);
    const far = (v: number): number => Math.abs(x[v]! - x[start]!) + Math.abs(y[v]! - y[start]!);
    const order = entries.map((_, i) => i).sort((a, b) => far(ends[a]!) - far(ends[b]!) || a - b);
    const ways: (Trunk | undefined)[] = new Array(entries.length);
    const load = new Map<number, number>();
    for (const i of order) {
      const { wires } = entries[i]!;
      const branch = this.search(ends[i]!, wires, true) ?? this.search(ends[i]!, wires, false);
      if (!branch) continue;
      for (let k = branch.length - 2; k >= 0; k--) {
        const [v, before] = [branch[k]!, branch[k + 1]!];
        parent[v] = before;
        met[v] = met[before]! + this.used[x[v] === x[before] ? level : upright][v]!;
        grown.push(v);
      }
      // the last upright before a gate: others join the trunk in its lane, not there
      const turn = branch.findIndex((v, k) => k > 0 && k + 1 < branch.length && x[branch[k + 1]!] === x[v]);
      for (let k = 1; k < branch.length; k++) {
        const onDrop =
          turn >= 0 &&
          x[branch[k]!] === x[branch[turn]!] &&
          x[branch[Math.min(k + 1, branch.length - 1)]!] === x[branch[k]!];
        if (k < turn || onDrop) isDrop[branch[k]!] = 1;
        else if (k > turn) break;
      }
      const way: number[] = [];
      for (let v = ends[i]!; v !== -1; v = parent[v]!) {
        way.push(v);
        load.set(v, (load.get(v) ?? 0) + wires);
      }
      ways[i] = this.corners(way.reverse());
    }
    const taken: [number, number, number][] = [];
    for (const [v, wires] of load) {
      const before = parent[v]!;
      if (before < 0) continue;
      const which = x[v] === x[before] ? upright : level;
      taken.push([which, v, wires], [which, before, wires]);
    }
    for (const [which, v, wires] of taken) this.used[which]![v]! += wires;
    this.taken.set(exit, taken);
    for (const v of grown) {
      parent[v] = outside;
      isDrop[v] = 0;
    }
    return ways;
  }

  /** About how often wires of different trees cross, all pairs counted. O(corners of the trees). */
  crossings(): number {
    const all = new Map<number, [number, number]>();
    let own = 0;
    for (const taken of this.taken.values()) {
      const mine = new Map<number, [number, number]>();
      for (const [which, v, wires] of taken) {
        const at = mine.get(v) ?? [0, 0];
        at[which as 0 | 1] = Math.max(at[which as 0 | 1], wires);
        mine.set(v, at);
      }
      for (const [v, [up, along]] of mine) {
        own += up * along;
        const sum = all.get(v) ?? [0, 0];
        all.set(v, [sum[0] + up, sum[1] + along]);
      }
    }
    let crossed = 0;
    for (const [up, along] of all.values()) crossed += up * along;
    return crossed - own;
  }

  /** How much there is to search: corners times gates. */
  get size(): number {
    return this.x.length * this.gates.size;
  }

  /** Takes a tree out again. */
  fell({ exit }: Tree): void {
    for (const [which, v, wires] of this.taken.get(exit) ?? []) this.used[which]![v]! -= wires;
    this.taken.delete(exit);
  }

  /**
   * The cheapest way from a gate to any corner of the tree: corners from the gate on. With `keepOff` not over its
   * drops. Dijkstra over corners and the direction in which they were reached.
   */
  private search(gate: number, wires: number, keepOff: boolean): number[] | undefined {
    const { near, used, x, y, cost, from, stamp, parent, met, isDrop } = this;
    const { cross, share } = this.weighs;
    const search = ++this.searches;
    const detour = Math.min(
      mostDetour,
      detourShare * (this.page.right - this.page.left + this.page.bottom - this.page.top),
    );
    const heap = new FlatQueue<number>();
    const first = gate * 2 + level;
    cost[first] = 0;
    from[first] = -1;
    stamp[first] = search;
    heap.push(first, 0);
    let [least, best, nearest] = [Number.POSITIVE_INFINITY, -1, Number.POSITIVE_INFINITY];
    for (;;) {
      const key = heap.peekValue();
      const state = heap.pop();
      if (state === undefined || key === undefined) break;
      const v = state >> 1;
      const along = state & 1;
      const paid = cost[state]!;
      if (paid >= least || paid > nearest + detour) break;
      // a cheaper way to it was found since
      if (key > paid) continue;
      if (parent[v] !== outside) {
        // from here on these wires run along the trunk and meet all that it meets
        const whole = paid + met[v]! * wires * cross;
        if (whole < least) [least, best] = [whole, state];
        nearest = Math.min(nearest, paid);
        continue;
      }
      for (let d = 0; d < 4; d++) {
        const w = near[v * 4 + d]!;
        if (w < 0 || (keepOff && isDrop[w])) continue;
        const goes = d >= 2 ? level : upright;
        const turns = goes !== along;
        const shared = Math.min(used[goes][v]!, used[goes][w]!);
        // what shares a lane has to be left again, which is to cross about half of it
        const next =
          paid +
          Math.abs(x[w]! - x[v]!) +
          Math.abs(y[w]! - y[v]!) +
          (turns ? turnCost : 0) +
          used[1 - goes]![w]! * wires * cross +
          (shared > 0 ? share + (turns ? (shared * wires * cross) / 2 : 0) : 0);
        const reached = w * 2 + goes;
        if (stamp[reached] === search && next >= cost[reached]!) continue;
        stamp[reached] = search;
        cost[reached] = next;
        from[reached] = state;
        heap.push(reached, next);
      }
    }
    if (best < 0) return undefined;
    const way: number[] = [];
    for (let at = best; at !== -1; at = from[at]!) {
      // a corner that is passed level and upright is a loop, which can be left out
      const again = way.indexOf(at >> 1);
      if (again >= 0) way.length = again;
      way.push(at >> 1);
    }
    return way.reverse();
  }

  /** The corners of a way; those in the middle of a straight piece are left out. */
  private corners(way: readonly number[]): Trunk {
    const points: number[] = [];
    for (const v of way) {
      const [x, y] = [this.x[v]!, this.y[v]!];
      const n = points.length;
      if (n >= 2 && points[n - 2] === x && points[n - 1] === y) continue;
      if (
        n >= 4 &&
        ((points[n - 4] === points[n - 2] && points[n - 2] === x) ||
          (points[n - 3] === points[n - 1] && points[n - 1] === y))
      )
        points.splice(n - 2, 2);
      points.push(x, y);
    }
    return points;
  }
}

const keyOf = ({ x, lanes, level: at }: Gate): string => `${x} ${lanes} ${at}`;

const grown = ({ left, top, right, bottom }: Area, by: number): Area => ({
  left: left - by,
  top: top - by,
  right: right + by,
  bottom: bottom + by,
});

/** What of a line is free beside the parts that are taken, from end to end. O(n log n). */
function freeParts(taken: [number, number][], from: number, to: number): [number, number][] {
  taken.sort((a, b) => a[0] - b[0]);
  const free: [number, number][] = [];
  let at = from;
  for (const [start, end] of taken) {
    if (start - 1 > at) free.push([at, start - 1]);
    at = Math.max(at, end + 1);
  }
  if (at < to) free.push([at, to]);
  return free;
}

/** Lines of one direction, without those that another one is as good as. */
class Lines {
  readonly all: Line[] = [];
  private readonly known = new Map<number, Line[]>();

  add(line: Line): void {
    const slot = Math.floor(line.at / oneLine);
    for (const near of [slot - 1, slot, slot + 1])
      for (const one of this.known.get(near) ?? [])
        if (Math.abs(one.at - line.at) < oneLine && one.from <= line.from && one.to >= line.to) return;
    this.all.push(line);
    const list = this.known.get(slot);
    if (list) list.push(line);
    else this.known.set(slot, [line]);
  }
}
