import type { Point } from '../document/geometry.ts';
import { type Face, textWidth } from '../document/metrics.ts';

/** What is drawn on paper, one thing above the other, in the units of its sheet. Colours are `#rrggbb`. */
export type Shape =
  | {
      readonly type: 'rect';
      readonly x: number;
      readonly y: number;
      readonly width: number;
      readonly height: number;
      readonly look: Look;
    }
  /** Straight from point to point. */
  | { readonly type: 'line'; readonly points: readonly Point[]; readonly closed?: boolean; readonly look: Look }
  | {
      readonly type: 'ellipse';
      readonly x: number;
      readonly y: number;
      readonly rx: number;
      readonly ry: number;
      readonly look: Look;
    }
  /** On a base line; `x` is its left end, its middle or its right end. */
  | {
      readonly type: 'text';
      readonly x: number;
      readonly y: number;
      readonly text: string;
      readonly face: Face;
      readonly size: number;
      readonly color: string;
      readonly anchor?: 'middle' | 'end';
    }
  /** Shapes that are drawn at another place and size, cut off at a box of the sheet where there is one. */
  | {
      readonly type: 'group';
      readonly shapes: readonly Shape[];
      readonly x: number;
      readonly y: number;
      readonly scale: number;
      readonly clip?: Box;
    };

export interface Look {
  readonly fill?: string;
  readonly stroke?: string;
  readonly width?: number;
  readonly dash?: readonly number[];
}

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** A sheet of paper, in points of 1/72 inch, or a picture in pixels. */
export interface Sheet {
  readonly width: number;
  readonly height: number;
  readonly ground: string;
  readonly shapes: readonly Shape[];
}

export const rect = (box: Box, look: Look): Shape => ({ type: 'rect', ...box, look });
export const line = (points: readonly Point[], look: Look, closed = false): Shape => ({
  type: 'line',
  points,
  look,
  ...(closed && { closed }),
});

/**
 * What a shape takes of its sheet, a little more where it has a line. A group takes what it is cut off at; without that
 * it may be anywhere. O(its points).
 */
export function extentOf(shape: Shape): Box {
  switch (shape.type) {
    case 'rect':
      return { x: shape.x, y: shape.y, width: shape.width, height: shape.height };
    case 'ellipse':
      return { x: shape.x - shape.rx, y: shape.y - shape.ry, width: 2 * shape.rx, height: 2 * shape.ry };
    case 'line': {
      const [xs, ys] = [shape.points.map((p) => p.x), shape.points.map((p) => p.y)];
      const [x, y] = [Math.min(...xs), Math.min(...ys)];
      return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
    }
    case 'text': {
      const width = textWidth(shape.text, shape.face, shape.size);
      return {
        x: shape.x - (shape.anchor === 'end' ? width : shape.anchor === 'middle' ? width / 2 : 0),
        y: shape.y - shape.size,
        width,
        height: shape.size * 1.3,
      };
    }
    case 'group':
      return (
        shape.clip ?? {
          x: Number.NEGATIVE_INFINITY,
          y: Number.NEGATIVE_INFINITY,
          width: Number.POSITIVE_INFINITY,
          height: Number.POSITIVE_INFINITY,
        }
      );
  }
}
