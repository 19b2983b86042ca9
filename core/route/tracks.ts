import Flatbush from 'flatbush';
import { Sets } from '../arrange/layered/parts.ts';

/** Another piece that ends at a track: where along it, which way it goes from there, and how far. */
export interface Branch {
  readonly at: number;
  /** −1 towards lower places of the track, +1 towards higher ones. */
  readonly side: -1 | 1;
  readonly reach: number;
  readonly wires: number;
}

/** A piece that can slide: its place lies between low and high; it spans from … to along itself. */
export interface Track {
  readonly net: number;
  readonly low: number;
  readonly high: number;
  readonly from: number;
  readonly to: number;
  /** Where it lies now. */
  readonly now: number;
  /** Stays where it is where it can, instead of going to the middle of its room. */
  readonly stays?: boolean;
  readonly branches: readonly Branch[];
}

interface Pair {
  readonly a: number;
  readonly b: number;
  /** What it costs to have a before b, less what it costs to have b before a. */
  readonly cost: number;
}

/** Two pieces of different nets on one line: worse than any number of crossings that could be saved. */
const onOneLine = 40;

/** Pieces that stay where they can change their order only where they lie close, in pixels. */
const fewApart = 4;

/**
 * Places for parallel pieces that share their room: apart by `pitch`, in the order with the fewest crossings among themselves, in the
 * middle of the room they have. After the nudging of Wybrow, Marriott & Stuckey, “Orthogonal connector routing” (2009); the order is found
 * by the heuristic of Eades, Lin & Smyth (1993) on the graph of which should lie before which, and by sifting.
 * Where there is too little room the distance shrinks; pieces that still do not fit stay at the edge of their room, and may then share it.
 * O(pairs that meet · rounds).
 */
export function placeTracks(tracks: readonly Track[], pitch: number): Float64Array {
  const place = Float64Array.from(tracks, (track) => track.now);
  for (const { members, pairs } of groups(tracks, pitch)) {
    if (members.length === 1) {
      const track = tracks[members[0]!]!;
      place[members[0]!] = track.stays ? Math.min(track.high, Math.max(track.low, track.now)) : (track.low + track.high) / 2;
      continue;
    }
    const order = orderTracks(members, pairs, tracks);
    settle(order, pairs, tracks, pitch, place);
  }
  return place;
}

interface Group {
  readonly members: number[];
  readonly pairs: Pair[];
}

/** Tracks that meet, directly or through others. */
function groups(tracks: readonly Track[], pitch: number): Group[] {
  if (tracks.length === 0) return [];
  const tree = new Flatbush(tracks.length);
  for (const track of tracks) tree.add(track.low, track.from, track.high, track.to);
  tree.finish();
  const sets = new Sets(tracks.length);
  const pairs: Pair[] = [];
  tracks.forEach((track, a) => {
    tree.search(track.low - pitch, track.from - pitch, track.high + pitch, track.to + pitch, (b) => {
      if (b <= a) return false;
      sets.join(a, b);
      pairs.push({ a, b, cost: track.net === tracks[b]!.net ? 0 : cost(track, tracks[b]!) - cost(tracks[b]!, track) });
      return false;
    });
  });
  const byRoot = new Map<number, Group>();
  tracks.forEach((_, i) => {
    const root = sets.find(i);
    const group = byRoot.get(root);
    if (group) group.members.push(i);
    else byRoot.set(root, { members: [i], pairs: [] });
  });
  for (const pair of pairs) byRoot.get(sets.find(pair.a))!.pairs.push(pair);
  return [...byRoot.values()];
}

/** What it costs that `a` lies before `b`: crossings of the branches of each with the other, and pieces that lie upon one another. */
function cost(a: Track, b: Track): number {
  let sum = 0;
  let [weightA, weightB] = [1, 1];
  for (const branch of a.branches) weightA = Math.max(weightA, branch.wires);
  for (const branch of b.branches) weightB = Math.max(weightB, branch.wires);
  for (const one of a.branches) {
    if (one.side !== 1 || one.reach <= b.low) continue;
    if (one.at > b.from && one.at < b.to) sum += one.wires * weightB;
    for (const other of b.branches) if (other.side === -1 && Math.abs(other.at - one.at) < 2 && other.reach < a.high) sum += onOneLine;
  }
  // no room for this order at all
  if (a.low + 1 > b.high || (a.stays && a.now > b.now + fewApart)) sum += 1000 * onOneLine;
  for (const one of b.branches) if (one.side === -1 && one.reach < a.high && one.at > a.from && one.at < a.to) sum += one.wires * weightA;
  return sum;
}

/** From first to last: a start by Eades, Lin & Smyth on the wishes, then each track sifted to its best place, a few rounds. */
function orderTracks(members: readonly number[], pairs: readonly Pair[], tracks: readonly Track[]): number[] {
  const local = new Map(members.map((track, i) => [track, i]));
  const n = members.length;
  const near: { other: number; cost: number }[][] = members.map(() => []);
  const balance = new Float64Array(n);
  for (const pair of pairs) {
    if (pair.cost === 0) continue;
    const [a, b] = [local.get(pair.a)!, local.get(pair.b)!];
    near[a]!.push({ other: b, cost: pair.cost });
    near[b]!.push({ other: a, cost: -pair.cost });
    balance[a]! += pair.cost;
    balance[b]! -= pair.cost;
  }
  // the one that most wants to be first goes first, again and again; equals by where they lie now
  const order: number[] = [];
  const taken = new Uint8Array(n);
  const queue = members.map((_, i) => i).sort((a, b) => tracks[members[a]!]!.now - tracks[members[b]!]!.now || members[a]! - members[b]!);
  if (tracks[members[0]!]!.stays) order.push(...queue);
  else if (n <= 400) {
    for (let k = 0; k < n; k++) {
      let best = -1;
      for (const i of queue) if (!taken[i] && (best === -1 || balance[i]! < balance[best]!)) best = i;
      taken[best] = 1;
      order.push(best);
      for (const { other, cost } of near[best]!) balance[other]! += cost;
    }
  } else order.push(...queue.sort((a, b) => balance[a]! - balance[b]!));
  sift(order, near);
  return order.map((i) => members[i]!);
}

function sift(order: number[], near: readonly { other: number; cost: number }[][]): void {
  const position = new Int32Array(order.length);
  const number = (): void => order.forEach((track, i) => (position[track] = i));
  number();
  for (let round = 0; round < 6; round++) {
    let saved = 0;
    for (const track of [...order]) {
      const others = near[track]!;
      if (others.length === 0) continue;
      const at = position[track]!;
      others.sort((a, b) => position[a.other]! - position[b.other]!);
      // going past one that lies behind costs its wish, going past one before gives it back
      let [best, to] = [0, at];
      let sum = 0;
      for (const { other, cost } of others) {
        if (position[other]! < at) continue;
        sum -= cost;
        if (sum < best) [best, to] = [sum, position[other]!];
      }
      sum = 0;
      for (let i = others.length - 1; i >= 0; i--) {
        const { other, cost } = others[i]!;
        if (position[other]! > at) continue;
        sum += cost;
        if (sum < best) [best, to] = [sum, position[other]!];
      }
      if (to === at) continue;
      order.splice(at, 1);
      order.splice(to, 0, track);
      for (let i = Math.min(at, to); i <= Math.max(at, to); i++) position[order[i]!] = i;
      saved -= best;
    }
    if (saved === 0) break;
  }
}

/** Packs to the low side and to the high side, and takes the middle; with smaller distances just where there is no room. */
function settle(order: readonly number[], pairs: readonly Pair[], tracks: readonly Track[], pitch: number, place: Float64Array): void {
  const n = order.length;
  const before = meetings(order, pairs, tracks);
  const { ahead, behind, room } = chains(order, before, tracks);
  const distance = Float64Array.from(order, (_, i) => (ahead[i]! + behind[i]! === 0 ? pitch : Math.min(pitch, Math.max(0, room[i]!) / (ahead[i]! + behind[i]!))));
  const [low, high] = [new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i < n; i++) {
    low[i] = tracks[order[i]!]!.low;
    for (const k of before[i]!) low[i] = Math.max(low[i]!, low[k]! + Math.min(distance[i]!, distance[k]!));
    high[i] = tracks[order[i]!]!.high;
  }
  for (let i = n - 1; i >= 0; i--) for (const k of before[i]!) high[k] = Math.min(high[k]!, high[i]! - Math.min(distance[i]!, distance[k]!));
  for (let i = 0; i < n; i++) {
    const track = tracks[order[i]!]!;
    let at = (low[i]! + high[i]!) / 2;
    if (track.stays) {
      at = Math.min(Math.max(track.now, low[i]!), high[i]!);
      for (const k of before[i]!) at = Math.max(at, place[order[k]!]! + Math.min(distance[i]!, distance[k]!));
    }
    place[order[i]!] = Math.min(track.high, Math.max(track.low, at));
  }
}

/** For each place in the order, the earlier places whose tracks it has to keep its distance from. */
function meetings(order: readonly number[], pairs: readonly Pair[], tracks: readonly Track[]): number[][] {
  const position = new Map(order.map((track, i) => [track, i]));
  const before: number[][] = order.map(() => []);
  for (const { a, b } of pairs) {
    if (tracks[a]!.net === tracks[b]!.net) continue;
    const [i, k] = [position.get(a)!, position.get(b)!];
    before[Math.max(i, k)]!.push(Math.min(i, k));
  }
  return before;
}

/** How many tracks stand before and behind each in the longest row through it, and the room that this row has. */
function chains(order: readonly number[], before: readonly (readonly number[])[], tracks: readonly Track[]): { ahead: Int32Array; behind: Int32Array; room: Float64Array } {
  const n = order.length;
  const [ahead, behind] = [new Int32Array(n), new Int32Array(n)];
  const start = Float64Array.from(order, (track) => tracks[track]!.low);
  const end = Float64Array.from(order, (track) => tracks[track]!.high);
  for (let i = 0; i < n; i++) {
    for (const k of before[i]!) {
      if (ahead[k]! + 1 < ahead[i]!) continue;
      start[i] = ahead[k]! + 1 > ahead[i]! ? start[k]! : Math.max(start[i]!, start[k]!);
      ahead[i] = ahead[k]! + 1;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    for (const k of before[i]!) {
      if (behind[i]! + 1 < behind[k]!) continue;
      end[k] = behind[i]! + 1 > behind[k]! ? end[i]! : Math.min(end[k]!, end[i]!);
      behind[k] = behind[i]! + 1;
    }
  }
  return { ahead, behind, room: start.map((low, i) => end[i]! - low) };
}

/** How many tracks stand side by side at the most, in the order that `placeTracks` would put them in. Their room plays no part. */
export function tracksAbreast(tracks: readonly Track[], pitch: number): number {
  let most = 0;
  for (const { members, pairs } of groups(tracks, pitch)) {
    const order = orderTracks(members, pairs, tracks);
    const { ahead } = chains(order, meetings(order, pairs, tracks), tracks);
    for (const count of ahead) most = Math.max(most, count + 1);
  }
  return most;
}
