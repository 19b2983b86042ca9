import Flatbush from 'flatbush';
import { Sets } from '../arrange/layered/parts.ts';
import type { Branch, Track } from './tracks.ts';

/** Lists one behind the other: those of i are list[start[i]] to list[start[i + 1] − 1]. */
export interface Lists {
  readonly start: Int32Array;
  readonly list: Int32Array;
}

/**
 * Tracks that meet, directly or through others, and the pairs that do: rows of numbers, since there are ten times as
 * many as tracks.
 */
export interface Group {
  readonly members: number[];
  /**
   * Two members of each pair, by their place in `members`, and what it costs to have the first before the second, less
   * what the other order costs.
   */
  readonly first: number[];
  readonly second: number[];
  readonly cost: number[];
}

/** Two pieces of different nets on one line: worse than any number of crossings that could be saved. */
const onOneLine = 40;

const mostRounds = 6;

/** Pieces that stay where they can change their order only where they lie close, in pixels. */
const fewApart = 4;

/**
 * Tracks that come nearer to each other than `pitch`, in groups; undefined where more than `most` pairs do. O(n log n +
 * pairs · branches).
 */
export function findGroups(tracks: readonly Track[], pitch: number, most: number): Group[] | undefined {
  if (tracks.length === 0) return [];
  const tree = new Flatbush(tracks.length);
  for (const track of tracks) tree.add(track.low, track.from, track.high, track.to);
  tree.finish();
  const sets = new Sets(tracks.length);
  const [first, second]: [number[], number[]] = [[], []];
  let a = 0;
  const meet = (b: number): boolean => {
    if (b <= a) return false;
    sets.join(a, b);
    first.push(a);
    second.push(b);
    return false;
  };
  for (; a < tracks.length; a++) {
    const track = tracks[a]!;
    tree.search(track.low - pitch, track.from - pitch, track.high + pitch, track.to + pitch, meet);
    if (first.length > most) return undefined;
  }
  const groups: Group[] = [];
  const groupAt = new Int32Array(tracks.length).fill(-1);
  const place = new Int32Array(tracks.length);
  for (let i = 0; i < tracks.length; i++) {
    const root = sets.find(i);
    if (groupAt[root] === -1) groupAt[root] = groups.push({ members: [], first: [], second: [], cost: [] }) - 1;
    groupAt[i] = groupAt[root]!;
    place[i] = groups[groupAt[i]!]!.members.push(i) - 1;
  }
  const sides = tracks.map(sidesOf);
  for (let e = 0; e < first.length; e++) {
    const [one, other] = [sides[first[e]!]!, sides[second[e]!]!];
    const group = groups[groupAt[first[e]!]!]!;
    group.first.push(place[first[e]!]!);
    group.second.push(place[second[e]!]!);
    group.cost.push(one.track.net === other.track.net ? 0 : cost(one, other) - cost(other, one));
  }
  return groups;
}

/** A track with its branches by the side that they go to, and the wires of the thickest. */
interface Sides {
  readonly track: Track;
  readonly lower: readonly Branch[];
  readonly higher: readonly Branch[];
  readonly weight: number;
}

function sidesOf(track: Track): Sides {
  const [lower, higher]: [Branch[], Branch[]] = [[], []];
  let weight = 1;
  for (const branch of track.branches) {
    (branch.side === 1 ? higher : lower).push(branch);
    weight = Math.max(weight, branch.wires);
  }
  return { track, lower, higher, weight };
}

/**
 * What it costs that `one` lies before `other`: crossings of the branches of each with the other, and pieces that lie
 * upon one another.
 */
function cost(one: Sides, other: Sides): number {
  const { track: a, higher } = one;
  const { track: b, lower } = other;
  let sum = 0;
  for (let i = 0; i < higher.length; i++) {
    const branch = higher[i]!;
    if (branch.reach <= b.low) continue;
    if (branch.at > b.from && branch.at < b.to) sum += branch.wires * other.weight;
    for (let k = 0; k < lower.length; k++)
      if (Math.abs(lower[k]!.at - branch.at) < 2 && lower[k]!.reach < a.high) sum += onOneLine;
  }
  // no room for this order at all
  if (a.low + 1 > b.high || (a.stays && a.now > b.now + fewApart)) sum += 1000 * onOneLine;
  for (let k = 0; k < lower.length; k++) {
    const branch = lower[k]!;
    if (branch.reach < a.high && branch.at > a.from && branch.at < a.to) sum += branch.wires * one.weight;
  }
  return sum;
}

/**
 * The members of a group from first to last: a start by Eades, Lin & Smyth on the wishes, then each track sifted to its
 * best place, a few rounds. With it, for each place in the order, the earlier places whose tracks it has to keep its
 * distance from.
 */
export function orderOf(
  { members, first, second, cost }: Group,
  tracks: readonly Track[],
): { order: number[]; before: Lists } {
  const n = members.length;
  const near = new Near(n, first, second, cost);
  const balance = new Float64Array(n);
  for (let e = 0; e < cost.length; e++) {
    balance[first[e]!]! += cost[e]!;
    balance[second[e]!]! -= cost[e]!;
  }
  // the one that most wants to be first goes first, again and again; equals by where they lie now
  const order = new Int32Array(n);
  const queue = Int32Array.from(members.keys()).sort(
    (a, b) => tracks[members[a]!]!.now - tracks[members[b]!]!.now || a - b,
  );
  if (tracks[members[0]!]!.stays) order.set(queue);
  else if (n <= 400) {
    for (let k = 0; k < n; k++) {
      const left = n - k;
      let at = 0;
      for (let i = 1; i < left; i++) if (balance[queue[i]!]! < balance[queue[at]!]!) at = i;
      const best = queue[at]!;
      queue.copyWithin(at, at + 1, left);
      order[k] = best;
      for (let e = near.start[best]!; e < near.start[best + 1]!; e++) balance[near.list[e]!]! += near.cost[e]!;
    }
  } else order.set(queue.sort((a, b) => balance[a]! - balance[b]!));
  near.sift(order);
  return {
    order: Array.from(order, (i) => members[i]!),
    before: beforeOf(order, { members, first, second, cost }, tracks),
  };
}

function beforeOf(order: Int32Array, { members, first, second }: Group, tracks: readonly Track[]): Lists {
  const n = order.length;
  const position = new Int32Array(n);
  for (let i = 0; i < n; i++) position[order[i]!] = i;
  const start = new Int32Array(n + 1);
  const isApart = (e: number): boolean => tracks[members[first[e]!]!]!.net !== tracks[members[second[e]!]!]!.net;
  for (let e = 0; e < first.length; e++)
    if (isApart(e)) start[Math.max(position[first[e]!]!, position[second[e]!]!) + 1]!++;
  for (let i = 0; i < n; i++) start[i + 1]! += start[i]!;
  const list = new Int32Array(start[n]!);
  const next = start.slice();
  for (let e = 0; e < first.length; e++) {
    if (!isApart(e)) continue;
    const [i, k] = [position[first[e]!]!, position[second[e]!]!];
    list[next[Math.max(i, k)]!++] = Math.min(i, k);
  }
  return { start, list };
}

/**
 * Whom each member meets, and what it costs to be before them: both ways round. Pairs to which the order is all the
 * same are left out.
 */
class Near implements Lists {
  readonly start: Int32Array;
  list: Int32Array;
  cost: Float64Array;
  private readonly n: number;

  constructor(n: number, first: readonly number[], second: readonly number[], cost: readonly number[]) {
    this.n = n;
    this.start = new Int32Array(n + 1);
    for (let e = 0; e < cost.length; e++) {
      if (cost[e] === 0) continue;
      this.start[first[e]! + 1]!++;
      this.start[second[e]! + 1]!++;
    }
    for (let i = 0; i < n; i++) this.start[i + 1]! += this.start[i]!;
    this.list = new Int32Array(this.start[n]!);
    this.cost = new Float64Array(this.start[n]!);
    const next = this.start.slice();
    for (let e = 0; e < cost.length; e++) {
      if (cost[e] === 0) continue;
      const [a, b] = [next[first[e]!]!++, next[second[e]!]!++];
      this.list[a] = second[e]!;
      this.cost[a] = cost[e]!;
      this.list[b] = first[e]!;
      this.cost[b] = -cost[e]!;
    }
  }

  /** Puts the lists into an order: each tells the others of itself in turn. O(pairs). */
  private arrange(order: Int32Array): void {
    const { start, list, cost } = this;
    const next = start.slice();
    const [newList, newCost] = [new Int32Array(list.length), new Float64Array(list.length)];
    for (const track of order) {
      for (let e = start[track]!; e < start[track + 1]!; e++) {
        const at = next[list[e]!]!++;
        newList[at] = track;
        newCost[at] = -cost[e]!;
      }
    }
    this.list = newList;
    this.cost = newCost;
  }

  /** Keeps a list in order where some have moved: most have not. */
  private resort(track: number, position: Int32Array): void {
    const { start, list, cost } = this;
    for (let e = start[track]! + 1; e < start[track + 1]!; e++) {
      const [other, own] = [list[e]!, cost[e]!];
      const at = position[other]!;
      let k = e - 1;
      for (; k >= start[track]! && position[list[k]!]! > at; k--) {
        list[k + 1] = list[k]!;
        cost[k + 1] = cost[k]!;
      }
      list[k + 1] = other;
      cost[k + 1] = own;
    }
  }

  /**
   * Moves each to where it costs least among those that it meets, a few rounds. Who has not moved since, and met none
   * that has, is not asked again.
   */
  sift(order: Int32Array): void {
    this.arrange(order);
    const { start, list, cost, n } = this;
    const position = new Int32Array(n);
    for (let i = 0; i < n; i++) position[order[i]!] = i;
    const isSettled = new Uint8Array(n);
    for (let round = 0; round < mostRounds; round++) {
      let saved = 0;
      for (const track of order.slice()) {
        if (isSettled[track]) continue;
        isSettled[track] = 1;
        const [begin, end] = [start[track]!, start[track + 1]!];
        if (begin === end) continue;
        this.resort(track, position);
        const at = position[track]!;
        let middle = begin;
        while (middle < end && position[list[middle]!]! < at) middle++;
        // going past one that lies behind costs its wish, going past one before gives it back
        let [best, to] = [0, at];
        let sum = 0;
        for (let e = middle; e < end; e++) {
          sum -= cost[e]!;
          if (sum < best) [best, to] = [sum, position[list[e]!]!];
        }
        sum = 0;
        for (let e = middle - 1; e >= begin; e--) {
          sum += cost[e]!;
          if (sum < best) [best, to] = [sum, position[list[e]!]!];
        }
        if (to === at) continue;
        if (to > at) order.copyWithin(at, at + 1, to + 1);
        else order.copyWithin(to + 1, to, at);
        order[to] = track;
        for (let i = Math.min(at, to); i <= Math.max(at, to); i++) position[order[i]!] = i;
        isSettled[track] = 0;
        for (let e = begin; e < end; e++) isSettled[list[e]!] = 0;
        saved -= best;
      }
      if (saved === 0) break;
    }
  }
}
