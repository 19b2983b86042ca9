import Flatbush from 'flatbush';

/** What wires keep clear of, in flow coordinates: x along the flow, y across. Pixels at 100 % zoom. */
export interface Boxes {
  readonly count: number;
  /** The first so many are nodes, which make columns; those behind are ends of remote links and titles, which do not. */
  readonly hard: number;
  /** Those from `hard` up to here are ends of remote links: they stand close before or behind the node that they serve. */
  readonly links: number;
  readonly left: Float64Array;
  readonly top: Float64Array;
  readonly right: Float64Array;
  readonly bottom: Float64Array;
}

/** The room between boxes: which way is free, and how far. All questions are O(log n + boxes found). */
export class Space {
  readonly boxes: Boxes;
  private readonly tree: Flatbush | undefined;

  constructor(boxes: Boxes) {
    this.boxes = boxes;
    if (boxes.count === 0) return;
    this.tree = new Flatbush(boxes.count);
    for (let i = 0; i < boxes.count; i++) this.tree.add(boxes.left[i]!, boxes.top[i]!, boxes.right[i]!, boxes.bottom[i]!);
    this.tree.finish();
  }

  /** Calls `visit` with each box that shares more than an edge with the area. */
  each(left: number, top: number, right: number, bottom: number, visit: (box: number) => void): void {
    const { boxes } = this;
    this.tree?.search(left, top, right, bottom, (i) => {
      if (boxes.left[i]! < right && boxes.right[i]! > left && boxes.top[i]! < bottom && boxes.bottom[i]! > top) visit(i);
      return false;
    });
  }

  isFree(left: number, top: number, right: number, bottom: number): boolean {
    const { boxes } = this;
    let free = true;
    // Flatbush cannot stop a search; a filter that has its answer only says no
    this.tree?.search(left, top, right, bottom, (i) => {
      if (free && boxes.left[i]! < right && boxes.right[i]! > left && boxes.top[i]! < bottom && boxes.bottom[i]! > top) free = false;
      return false;
    });
    return free;
  }

  /** How many boxes a piece runs through. */
  hits(left: number, top: number, right: number, bottom: number): number {
    let count = 0;
    this.each(left, top, right, bottom, () => count++);
    return count;
  }

  /** How far right a level piece at y, `margin` to each side, runs from x before it meets a box; `most` where it meets none. */
  reachRight(x: number, y: number, margin: number, most: number): number {
    let reach = most;
    // in two steps: most pieces end soon, and a long thin search meets many boxes
    const near = Math.min(most, x + 400);
    this.each(x, y - margin, near, y + margin, (i) => (reach = Math.min(reach, this.boxes.left[i]!)));
    if (reach === most && near < most) this.each(near, y - margin, most, y + margin, (i) => (reach = Math.min(reach, this.boxes.left[i]!)));
    return Math.max(x, reach);
  }

  reachLeft(x: number, y: number, margin: number, least: number): number {
    let reach = least;
    const near = Math.max(least, x - 400);
    this.each(near, y - margin, x, y + margin, (i) => (reach = Math.max(reach, this.boxes.right[i]!)));
    if (reach === least && near > least) this.each(least, y - margin, near, y + margin, (i) => (reach = Math.max(reach, this.boxes.right[i]!)));
    return Math.min(x, reach);
  }

  /** How far an upright piece from y0 to y1 can slide to each side of x, inside [least, most]. */
  slideX(x: number, y0: number, y1: number, margin: number, least: number, most: number): [number, number] {
    let [low, high] = [least, most];
    const { left, right } = this.boxes;
    this.each(least, Math.min(y0, y1) - margin, most, Math.max(y0, y1) + margin, (i) => {
      if (left[i]! >= x) high = Math.min(high, left[i]! - margin);
      else if (right[i]! <= x) low = Math.max(low, right[i]! + margin);
    });
    return [Math.min(low, x), Math.max(high, x)];
  }

  /** The same for a level piece from x0 to x1. */
  slideY(y: number, x0: number, x1: number, margin: number, least: number, most: number): [number, number] {
    let [low, high] = [least, most];
    const { top, bottom } = this.boxes;
    this.each(Math.min(x0, x1) - margin, least, Math.max(x0, x1) + margin, most, (i) => {
      if (top[i]! >= y) high = Math.min(high, top[i]! - margin);
      else if (bottom[i]! <= y) low = Math.max(low, bottom[i]! + margin);
    });
    return [Math.min(low, y), Math.max(high, y)];
  }
}
