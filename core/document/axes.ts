import { isVertical, type Point, type Rect } from './geometry.ts';
import type { Flow } from './schema.ts';

/** Between the page and flow coordinates, in which data flows right: x along the flow, y across. One for each flow. */
export class Axes {
  private static readonly known = new Map<Flow, Axes>();
  readonly vertical: boolean;
  private readonly sign: number;
  /** To the right, flow coordinates are those of the page. */
  private readonly same: boolean;

  private constructor(flow: Flow) {
    this.vertical = isVertical(flow);
    this.sign = flow === 'left' || flow === 'up' ? -1 : 1;
    this.same = flow === 'right';
  }

  static of(flow: Flow): Axes {
    const axes = Axes.known.get(flow) ?? new Axes(flow);
    Axes.known.set(flow, axes);
    return axes;
  }

  in(p: Point): Point {
    if (this.same) return p;
    const turned = this.vertical ? { x: p.y, y: p.x } : p;
    return { x: turned.x * this.sign, y: turned.y };
  }

  out(p: Point): Point {
    if (this.same) return p;
    const back = { x: p.x * this.sign, y: p.y };
    return this.vertical ? { x: back.y, y: back.x } : { x: back.x, y: back.y };
  }

  outAll(points: Point[]): Point[] {
    return this.same ? points : points.map((p) => this.out(p));
  }

  /** A rectangle's place is its top-left corner on both sides. */
  rectIn(rect: Rect): Rect {
    const turned = this.vertical ? { x: rect.y, y: rect.x, width: rect.height, height: rect.width } : rect;
    return this.sign < 0 ? { ...turned, x: -turned.x - turned.width } : turned;
  }

  rectOut(rect: Rect): Rect {
    const back = this.sign < 0 ? { ...rect, x: -rect.x - rect.width } : rect;
    return this.vertical ? { x: back.y, y: back.x, width: back.height, height: back.width } : back;
  }
}
