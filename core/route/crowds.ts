import type { Track } from './tracks.ts';

/** Tracks that share their room, too many for each to be weighed against each. */
export interface Crowd {
  readonly members: readonly number[];
  /** The room that all of them have. */
  readonly low: number;
  readonly high: number;
}

/** More tracks beside each, on average, than this are a crowd. */
const mostBeside = 100;

/**
 * Parts tracks into crowds and the rest, by room: those of a crowd have at least half of their room in common. With
 * `all`, whatever shares its room is one. O(n log n).
 */
export function findCrowds(tracks: readonly Track[], all: boolean): { crowds: Crowd[]; rest: number[] } {
  const middle = (i: number): number => tracks[i]!.low + tracks[i]!.high;
  const byRoom = Array.from(tracks.keys()).sort((a, b) => middle(a) - middle(b) || a - b);
  const crowds: Crowd[] = [];
  const rest: number[] = [];
  let members: number[] = [];
  let [low, high] = [0, 0];
  const close = (): void => {
    const isCrowd = members.length > 1 && (all || pairsAmong(tracks, members) > (members.length * mostBeside) / 2);
    if (isCrowd) crowds.push({ members, low, high });
    else rest.push(...members);
    members = [];
  };
  for (const i of byRoom) {
    const track = tracks[i]!;
    if (members.length > 0) {
      const [nextLow, nextHigh] = [Math.max(low, track.low), Math.min(high, track.high)];
      const isShared = nextHigh - nextLow >= Math.min(high - low, track.high - track.low) / 2;
      if (isShared) {
        [low, high] = [nextLow, nextHigh];
        members.push(i);
        continue;
      }
      close();
    }
    [low, high] = [track.low, track.high];
    members = [i];
  }
  close();
  return { crowds, rest: rest.sort((a, b) => a - b) };
}

/** How many pairs lie beside one another: all, less those of which one ends before the other begins. O(n log n). */
function pairsAmong(tracks: readonly Track[], members: readonly number[]): number {
  const starts = Float64Array.from(members, (i) => tracks[i]!.from).sort();
  const ends = Float64Array.from(members, (i) => tracks[i]!.to).sort();
  let [apart, ended] = [0, 0];
  for (const start of starts) {
    while (ended < ends.length && ends[ended]! <= start) ended++;
    apart += ended;
  }
  return (members.length * (members.length - 1)) / 2 - apart;
}

/** Pieces of one net that touch: they stand on one line. */
interface Strand {
  readonly members: number[];
  readonly from: number;
  to: number;
}

/**
 * Lanes for a crowd: how many stand before and behind each in the longest row through it. The left-edge algorithm of
 * Hashimoto & Stevens, “Wire routing by optimizing channel assignment” (1971), over an order in which pieces that go
 * the same way do not cross one another. Tracks of one net that touch share a lane. O(n log n).
 */
export function laneCrowd(
  tracks: readonly Track[],
  { members }: Crowd,
  pitch: number,
): { readonly ahead: Int32Array; readonly behind: Int32Array } {
  const strands = strandsOf(tracks, members);
  const key = strands.map((strand) => wishOf(strand, (k) => tracks[members[k]!]!));
  const order = Array.from(strands.keys()).sort(
    (a, b) => key[a]!.group - key[b]!.group || key[a]!.at - key[b]!.at || a - b,
  );
  const edges = Float64Array.from(strands.flatMap(({ from, to }) => [from - pitch / 2, to + pitch / 2])).sort();
  const span = strands.map(
    ({ from, to }) => [placeOf(edges, from - pitch / 2), placeOf(edges, to + pitch / 2)] as const,
  );
  const count = (sequence: readonly number[]): Int32Array => {
    const heights = new Skyline(edges.length);
    const lanes = new Int32Array(strands.length);
    for (const i of sequence) {
      const [from, to] = span[i]!;
      lanes[i] = heights.most(from, to);
      heights.raise(from, to, lanes[i]! + 1);
    }
    return lanes;
  };
  const [before, after] = [count(order), count([...order].reverse())];
  const [ahead, behind] = [new Int32Array(members.length), new Int32Array(members.length)];
  strands.forEach((strand, i) => {
    for (const k of strand.members) {
      ahead[k] = before[i]!;
      behind[k] = after[i]!;
    }
  });
  return { ahead, behind };
}

/** The pieces of each net that touch one another, as places in `members`. */
function strandsOf(tracks: readonly Track[], members: readonly number[]): Strand[] {
  const at = (k: number): Track => tracks[members[k]!]!;
  const sorted = Array.from(members.keys()).sort((a, b) => at(a).net - at(b).net || at(a).from - at(b).from || a - b);
  const strands: Strand[] = [];
  let net: number | undefined;
  for (const k of sorted) {
    const { from, to } = at(k);
    const last = strands.at(-1);
    if (last && net === at(k).net && from <= last.to) {
      last.members.push(k);
      last.to = Math.max(last.to, to);
    } else strands.push({ members: [k], from, to });
    net = at(k).net;
  }
  return strands;
}

/**
 * Where a strand wants to stand: what turns back to the low side nearest to it, the shortest first; then what goes on,
 * in the order in which wires that go the same way do not cross; then what turns back to the high side.
 */
function wishOf({ members, from, to }: Strand, trackAt: (k: number) => Track): { group: number; at: number } {
  let [low, lows, high, highs] = [0, 0, 0, 0];
  for (const k of members) {
    for (const { at, side } of trackAt(k).branches) {
      if (side < 0) {
        low += at;
        lows++;
      } else {
        high += at;
        highs++;
      }
    }
  }
  if (highs === 0) return { group: 0, at: to - from };
  if (lows === 0) return { group: 2, at: from - to };
  const source = low / lows;
  return { group: 1, at: high / highs >= source ? -source : source };
}

/** The place of a value in a sorted row. */
function placeOf(row: Float64Array, value: number): number {
  let [low, high] = [0, row.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (row[middle]! < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Heights over a row of places: raised over a range, and the highest of a range. Each O(log n). */
class Skyline {
  private readonly size: number;
  /** By part of the row: what all of it was raised to, and the highest in it. */
  private readonly all: Int32Array;
  private readonly top: Int32Array;

  constructor(count: number) {
    let size = 1;
    while (size < count) size *= 2;
    this.size = size;
    this.all = new Int32Array(2 * size);
    this.top = new Int32Array(2 * size);
  }

  raise(from: number, to: number, height: number, part = 1, first = 0, last = this.size - 1): void {
    if (to < first || from > last) return;
    this.top[part] = Math.max(this.top[part]!, height);
    if (from <= first && last <= to) {
      this.all[part] = Math.max(this.all[part]!, height);
      return;
    }
    const middle = (first + last) >> 1;
    this.raise(from, to, height, 2 * part, first, middle);
    this.raise(from, to, height, 2 * part + 1, middle + 1, last);
  }

  most(from: number, to: number, part = 1, first = 0, last = this.size - 1): number {
    if (to < first || from > last) return 0;
    if (from <= first && last <= to) return this.top[part]!;
    const middle = (first + last) >> 1;
    return Math.max(
      this.all[part]!,
      this.most(from, to, 2 * part, first, middle),
      this.most(from, to, 2 * part + 1, middle + 1, last),
    );
  }
}
