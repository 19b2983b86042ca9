import { type Crowd, findCrowds, laneCrowd } from './crowds.ts';
import { findGroups, type Group, type Lists, orderOf } from './track-order.ts';

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

/**
 * Places for parallel pieces that share their room: apart by `pitch`, in the order with the fewest crossings among
 * themselves, in the middle of the room they have. After the nudging of Wybrow, Marriott & Stuckey, “Orthogonal
 * connector routing” (2009);
 * the order is found by the heuristic of Eades, Lin & Smyth (1993) on the graph of which should lie before which, and
 * by sifting.
 * Where there is too little room the distance shrinks; pieces that still do not fit stay at the edge of their room, and
 * may then share it.
 * Where very many meet, they are not weighed pair by pair but given lanes as a crowd. O(n log n + pairs · rounds), with
 * a number of pairs that is in proportion to n.
 */
export function placeTracks(tracks: readonly Track[], pitch: number): Float64Array {
  const place = Float64Array.from(tracks, (track) => track.now);
  const { groups, crowds } = parted(tracks, pitch);
  for (const crowd of crowds) placeCrowd(tracks, crowd, pitch, place);
  for (const group of groups) {
    const { members } = group;
    if (members.length === 1) {
      const track = tracks[members[0]!]!;
      place[members[0]!] = track.stays
        ? Math.min(track.high, Math.max(track.low, track.now))
        : (track.low + track.high) / 2;
      continue;
    }
    const { order, before } = orderOf(group, tracks);
    settle(order, before, tracks, pitch, place);
    partNear(members, tracks, pitch, place);
  }
  return place;
}

/** So many pairs are weighed one by one: at least, and for each track. */
const [fewPairs, pairsEach] = [300_000, 60];

/** Tracks that meet in groups, and those that are too many for that as crowds. */
function parted(tracks: readonly Track[], pitch: number): { groups: readonly Group[]; crowds: readonly Crowd[] } {
  const most = Math.max(fewPairs, pairsEach * tracks.length);
  const groups = findGroups(tracks, pitch, most);
  if (groups) return { groups, crowds: [] };
  const { crowds, rest } = findCrowds(tracks, false);
  const others = findGroups(
    rest.map((i) => tracks[i]!),
    pitch,
    most,
  );
  if (!others) return { groups: [], crowds: findCrowds(tracks, true).crowds };
  return { groups: others.map((group) => ({ ...group, members: group.members.map((i) => rest[i]!) })), crowds };
}

/** Spreads the lanes of a crowd over its room, in the middle of it, as far apart as they have room for. */
function placeCrowd(tracks: readonly Track[], crowd: Crowd, pitch: number, place: Float64Array): void {
  const { members, low, high } = crowd;
  const { ahead, behind } = laneCrowd(tracks, crowd, pitch);
  members.forEach((i, k) => {
    const track = tracks[i]!;
    const lanes = ahead[k]! + behind[k]!;
    const distance = lanes === 0 ? pitch : Math.min(pitch, Math.max(0, high - low) / lanes);
    const at = track.stays ? track.now : (low + high + (ahead[k]! - behind[k]!) * distance) / 2;
    place[i] = Math.min(track.high, Math.max(track.low, at));
  });
}

/** How many tracks of a group are moved once more at the most. */
const mostMoved = 200;

/**
 * Tracks that the order has left too near to one another although there is room elsewhere go there, to the nearest such
 * place. O(n log n + tracks moved · n).
 */
function partNear(members: readonly number[], tracks: readonly Track[], pitch: number, place: Float64Array): void {
  const meets = (a: number, b: number): boolean =>
    tracks[a]!.net !== tracks[b]!.net && tracks[a]!.from < tracks[b]!.to && tracks[b]!.from < tracks[a]!.to;
  // rounding makes no conflict
  const least = pitch - 1e-6;
  const near: [number, number][] = [];
  const byPlace = [...members].sort((a, b) => place[a]! - place[b]! || a - b);
  byPlace.forEach((a, i) => {
    for (let k = i + 1; k < byPlace.length && place[byPlace[k]!]! - place[a]! < least; k++) {
      const b = byPlace[k]!;
      // the shorter of the two moves, if it can
      if (meets(a, b)) near.push(tracks[a]!.to - tracks[a]!.from <= tracks[b]!.to - tracks[b]!.from ? [a, b] : [b, a]);
    }
  });
  const move = (track: number): boolean => {
    const { low, high } = tracks[track]!;
    const others = members.filter((other) => other !== track && meets(track, other)).map((other) => place[other]!);
    const isClear = (at: number): boolean => others.every((other) => Math.abs(other - at) >= least);
    const free = [low, high, ...others.flatMap((other) => [other - pitch, other + pitch])].filter(
      (at) => at >= low && at <= high && isClear(at),
    );
    if (free.length > 0)
      place[track] = free.reduce((best, at) =>
        Math.abs(at - place[track]!) < Math.abs(best - place[track]!) ? at : best,
      );
    return free.length > 0;
  };
  for (const [one, other] of near.slice(0, mostMoved))
    if (Math.abs(place[one]! - place[other]!) < least && !move(one)) move(other);
}

/**
 * Packs to the low side and to the high side, and takes the middle; with smaller distances just where there is no room.
 */
function settle(
  order: readonly number[],
  before: Lists,
  tracks: readonly Track[],
  pitch: number,
  place: Float64Array,
): void {
  const n = order.length;
  const { start, list } = before;
  const { ahead, behind, room } = chains(order, before, tracks);
  const distance = Float64Array.from(order, (_, i) =>
    ahead[i]! + behind[i]! === 0 ? pitch : Math.min(pitch, Math.max(0, room[i]!) / (ahead[i]! + behind[i]!)),
  );
  const [low, high] = [new Float64Array(n), new Float64Array(n)];
  for (let i = 0; i < n; i++) {
    low[i] = tracks[order[i]!]!.low;
    for (let e = start[i]!; e < start[i + 1]!; e++)
      low[i] = Math.max(low[i]!, low[list[e]!]! + Math.min(distance[i]!, distance[list[e]!]!));
    high[i] = tracks[order[i]!]!.high;
  }
  for (let i = n - 1; i >= 0; i--)
    for (let e = start[i]!; e < start[i + 1]!; e++)
      high[list[e]!] = Math.min(high[list[e]!]!, high[i]! - Math.min(distance[i]!, distance[list[e]!]!));
  for (let i = 0; i < n; i++) {
    const track = tracks[order[i]!]!;
    let at = (low[i]! + high[i]!) / 2;
    if (track.stays) {
      at = Math.min(Math.max(track.now, low[i]!), high[i]!);
      for (let e = start[i]!; e < start[i + 1]!; e++)
        at = Math.max(at, place[order[list[e]!]!]! + Math.min(distance[i]!, distance[list[e]!]!));
    }
    place[order[i]!] = Math.min(track.high, Math.max(track.low, at));
  }
}

/** How many tracks stand before and behind each in the longest row through it, and the room that this row has. */
function chains(
  order: readonly number[],
  before: Lists,
  tracks: readonly Track[],
): { ahead: Int32Array; behind: Int32Array; room: Float64Array } {
  const n = order.length;
  const [ahead, behind] = [new Int32Array(n), new Int32Array(n)];
  const start = Float64Array.from(order, (track) => tracks[track]!.low);
  const end = Float64Array.from(order, (track) => tracks[track]!.high);
  for (let i = 0; i < n; i++) {
    for (let e = before.start[i]!; e < before.start[i + 1]!; e++) {
      const k = before.list[e]!;
      if (ahead[k]! + 1 < ahead[i]!) continue;
      start[i] = ahead[k]! + 1 > ahead[i]! ? start[k]! : Math.max(start[i]!, start[k]!);
      ahead[i] = ahead[k]! + 1;
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    for (let e = before.start[i]!; e < before.start[i + 1]!; e++) {
      const k = before.list[e]!;
      if (behind[i]! + 1 < behind[k]!) continue;
      end[k] = behind[i]! + 1 > behind[k]! ? end[i]! : Math.min(end[k]!, end[i]!);
      behind[k] = behind[i]! + 1;
    }
  }
  return { ahead, behind, room: start.map((low, i) => end[i]! - low) };
}

/**
 * How many tracks stand side by side at the most, in the order that `placeTracks` would put them in. Their room plays
 * no part.
 */
export function tracksAbreast(tracks: readonly Track[], pitch: number): number {
  let most = 0;
  const { groups, crowds } = parted(tracks, pitch);
  for (const crowd of crowds)
    for (const count of laneCrowd(tracks, crowd, pitch).ahead) most = Math.max(most, count + 1);
  for (const group of groups) {
    const { order, before } = orderOf(group, tracks);
    const { ahead } = chains(order, before, tracks);
    for (const count of ahead) most = Math.max(most, count + 1);
  }
  return most;
}
