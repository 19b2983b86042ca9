import type { Boxes } from './space.ts';

/** Boxes seen as columns: between two columns there is a channel that no box reaches into. Flow coordinates. */
export interface Columns {
  readonly count: number;
  /** The column of each box. */
  readonly of: Int32Array;
  /** Channel c lies between column c and the next: from left[c] to right[c]. */
  readonly left: Float64Array;
  readonly right: Float64Array;
  /**
   * In each column, what stands there from top to bottom as [top, bottom] one after the other; boxes that overlap
   * across the flow are one.
   */
  readonly solid: readonly Float64Array[];
}

/**
 * Finds the columns of some of the boxes (or of all); a channel is at least `least` wide. Messy arrangements have few
 * or only one.
 * O(n log n).
 */
export function findColumns(
  boxes: Boxes,
  least: number,
  among: readonly number[] = Array.from({ length: boxes.count }, (_, i) => i),
): Columns {
  const order = Int32Array.from(among.filter((i) => i < boxes.hard)).sort(
    (a, b) => boxes.left[a]! - boxes.left[b]! || a - b,
  );
  const of = new Int32Array(boxes.count).fill(-1);
  const [left, right] = [[] as number[], [] as number[]];
  let column = 0;
  let reach = Number.NEGATIVE_INFINITY;
  const members: number[][] = [];
  for (const i of order) {
    if (members.length > 0 && boxes.left[i]! - reach >= least) {
      left.push(reach);
      right.push(boxes.left[i]!);
      column++;
    }
    of[i] = column;
    if (members.length === column) members.push([]);
    members[column]!.push(i);
    reach = Math.max(reach, boxes.right[i]!);
  }
  // what is no node stands in the column that it covers most of; an end of a link in that which it is nearer to, and
  // narrows the channel where enough is left
  for (const i of among) {
    if (i < boxes.hard || members.length === 0) continue;
    const middle = (boxes.left[i]! + boxes.right[i]!) / 2;
    let at = 0;
    while (at < left.length && right[at]! < middle) at++;
    if (i < boxes.links && at < left.length) {
      const [behind, before] = [boxes.left[i]! - left[at]!, right[at]! - boxes.right[i]!];
      if (before < behind) {
        if (boxes.left[i]! - left[at]! >= least) right[at] = Math.min(right[at]!, boxes.left[i]!);
        at++;
      } else if (right[at]! - boxes.right[i]! >= least) left[at] = Math.max(left[at]!, boxes.right[i]!);
    }
    of[i] = at;
    members[at]!.push(i);
  }
  const solid = members.map((list) => {
    list.sort((a, b) => boxes.top[a]! - boxes.top[b]!);
    const spans: number[] = [];
    for (const i of list) {
      if (spans.length > 0 && boxes.top[i]! <= spans[spans.length - 1]!)
        spans[spans.length - 1] = Math.max(spans[spans.length - 1]!, boxes.bottom[i]!);
      else spans.push(boxes.top[i]!, boxes.bottom[i]!);
    }
    return Float64Array.from(spans);
  });
  return { count: members.length, of, left: Float64Array.from(left), right: Float64Array.from(right), solid };
}

/** The channel that holds x, or −1 where x lies in a column. O(log n). */
export function channelAt(columns: Columns, x: number): number {
  let [low, high] = [0, columns.left.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (columns.right[middle]! < x) low = middle + 1;
    else high = middle;
  }
  return low < columns.left.length && columns.left[low]! <= x ? low : -1;
}
