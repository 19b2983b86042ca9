import Flatbush from 'flatbush';

/** What wires keep clear of, in flow coordinates: x along the flow, y across. Pixels at 100 % zoom. */
export interface Boxes {
  readonly count: number;
  /**
   * The first so many are nodes, which make columns; those behind are ends of remote links and titles, which do not.
   */
  readonly hard: number;
  /**
   * Those from `hard` up to here are ends of remote links: they stand close before or behind the node that they serve.
   */
  readonly links: number;
  readonly left: Float64Array;
  readonly top: Float64Array;
  readonly right: Float64Array;
  readonly bottom: Float64Array;
}

/** The room between boxes: which way is free, and how far. All questions are O(log n + boxes found). */
export class Space {
  readonly boxes: Boxes;
  /** The numbers of the boxes that the last `find` met, at its front. */
  readonly found: Int32Array;
  private readonly tree: Flatbush | undefined;
  private readonly keep: (box: number) => boolean;
  private count = 0;
  private area = { left: 0, top: 0, right: 0, bottom: 0 };

  constructor(boxes: Boxes) {
    this.boxes = boxes;
    this.found = new Int32Array(boxes.count);
    const { left, top, right, bottom } = boxes;
    const { found, area } = this;
    // one for all questions: routing asks some hundred thousand of them. It never keeps anything, so that Flatbush
    // makes no list
    this.keep = (i) => {
      if (left[i]! < area.right && right[i]! > area.left && top[i]! < area.bottom && bottom[i]! > area.top)
        found[this.count++] = i;
      return false;
    };
    if (boxes.count === 0) return;
    this.tree = new Flatbush(boxes.count);
    for (let i = 0; i < boxes.count; i++) this.tree.add(left[i]!, top[i]!, right[i]!, bottom[i]!);
    this.tree.finish();
  }

  /** Puts each box that shares more than an edge with the area into `found`, and gives how many they are. */
  find(left: number, top: number, right: number, bottom: number): number {
    this.count = 0;
    const { area } = this;
    area.left = left;
    area.top = top;
    area.right = right;
    area.bottom = bottom;
    this.tree?.search(left, top, right, bottom, this.keep);
    return this.count;
  }

  isFree(left: number, top: number, right: number, bottom: number): boolean {
    return this.find(left, top, right, bottom) === 0;
  }

  /**
   * How far right a level piece at y, `margin` to each side, runs from x before it meets a box; `most` where it meets
   * none.
   */
  reachRight(x: number, y: number, margin: number, most: number): number {
    // in two steps: most pieces end soon, and a long thin search meets many boxes
    const near = Math.min(most, x + 400);
    let reach = this.leftmost(x, y, margin, near, most);
    if (reach === most && near < most) reach = this.leftmost(near, y, margin, most, most);
    return Math.max(x, reach);
  }

  private leftmost(from: number, y: number, margin: number, to: number, most: number): number {
    let reach = most;
    for (let k = this.find(from, y - margin, to, y + margin) - 1; k >= 0; k--)
      reach = Math.min(reach, this.boxes.left[this.found[k]!]!);
    return reach;
  }

  reachLeft(x: number, y: number, margin: number, least: number): number {
    const near = Math.max(least, x - 400);
    let reach = this.rightmost(near, y, margin, x, least);
    if (reach === least && near > least) reach = this.rightmost(least, y, margin, near, least);
    return Math.min(x, reach);
  }

  private rightmost(from: number, y: number, margin: number, to: number, least: number): number {
    let reach = least;
    for (let k = this.find(from, y - margin, to, y + margin) - 1; k >= 0; k--)
      reach = Math.max(reach, this.boxes.right[this.found[k]!]!);
    return reach;
  }

  /** How far an upright piece from y0 to y1 can slide to each side of x, inside [least, most]. */
  slideX(x: number, y0: number, y1: number, margin: number, least: number, most: number): [number, number] {
    let [low, high] = [least, most];
    const { left, right } = this.boxes;
    for (let k = this.find(least, Math.min(y0, y1) - margin, most, Math.max(y0, y1) + margin) - 1; k >= 0; k--) {
      const i = this.found[k]!;
      if (left[i]! >= x) high = Math.min(high, left[i]! - margin);
      else if (right[i]! <= x) low = Math.max(low, right[i]! + margin);
    }
    return [Math.min(low, x), Math.max(high, x)];
  }

  /** The same for a level piece from x0 to x1. */
  slideY(y: number, x0: number, x1: number, margin: number, least: number, most: number): [number, number] {
    let [low, high] = [least, most];
    const { top, bottom } = this.boxes;
    for (let k = this.find(Math.min(x0, x1) - margin, least, Math.max(x0, x1) + margin, most) - 1; k >= 0; k--) {
      const i = this.found[k]!;
      if (top[i]! >= y) high = Math.min(high, top[i]! - margin);
      else if (bottom[i]! <= y) low = Math.max(low, bottom[i]! + margin);
    }
    return [Math.min(low, y), Math.max(high, y)];
  }
}

/** Rectangles as boxes that are all hard. */
export function boxesFrom(
  rects: readonly { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number }[],
): Boxes {
  const pick = (side: 'left' | 'top' | 'right' | 'bottom'): Float64Array =>
    Float64Array.from(rects, (rect) => rect[side]);
  return {
    count: rects.length,
    hard: rects.length,
    links: rects.length,
    left: pick('left'),
    top: pick('top'),
    right: pick('right'),
    bottom: pick('bottom'),
  };
}
