import type { signs } from '../document/catalogue.ts';
import type { NodeGeometry } from '../document/geometry.ts';

// The shapes of the chart, for the canvas and for paper alike.

export type Sign = (typeof signs)[number];
export type Polygon = readonly (readonly [number, number])[];

/** The outline of a type's sign around 0,0, as polygons or a circle; the second sign beside the colour. */
export const signOutlines: Partial<Record<Sign, Polygon>> = {
  square: [
    [-0.85, -0.85],
    [0.85, -0.85],
    [0.85, 0.85],
    [-0.85, 0.85],
  ],
  diamond: [
    [0, -1.15],
    [1.15, 0],
    [0, 1.15],
    [-1.15, 0],
  ],
  triangle: [
    [-0.9, -1],
    [1.1, 0],
    [-0.9, 1],
  ],
  bar: [
    [-0.45, -1.1],
    [0.45, -1.1],
    [0.45, 1.1],
    [-0.45, 1.1],
  ],
  hexagon: [
    [-1.1, 0],
    [-0.55, -0.95],
    [0.55, -0.95],
    [1.1, 0],
    [0.55, 0.95],
    [-0.55, 0.95],
  ],
  cross: [
    [-0.35, -1.05],
    [0.35, -1.05],
    [0.35, -0.35],
    [1.05, -0.35],
    [1.05, 0.35],
    [0.35, 0.35],
    [0.35, 1.05],
    [-0.35, 1.05],
    [-0.35, 0.35],
    [-1.05, 0.35],
    [-1.05, -0.35],
    [-0.35, -0.35],
  ],
};

/** Half the size of a port’s mark, in pixels at 100 % zoom. */
export const markSize = 4.5;

/** Rings are open: they show the ground inside. */
export const isHollow = (sign: Sign): boolean => sign === 'ring';

/**
 * How much a corner of a right-angled wire is cut off, at 45°: at most a third of the shorter leg. Lengths of the legs
 * in pixels at 100 % zoom.
 */
export const chamfer = (a: number, b: number): number => Math.min(9, a / 3, b / 3);

/**
 * How deep the tail of a pennant and the notch of a tap are cut, and how wide the band in their hue is, in pixels at
 * 100 %.
 */
export const linkCut = 7;
const [cut, band] = [linkCut, 6];

/**
 * A beacon is a pennant: a flag whose tail comes to a point. A tap is a notch: cut in where the pennant comes to a
 * point, so that one would fit into the other. Both carry a band in the hue of what they carry. In the node's own
 * pixels.
 */
export function linkShape({ shape, width: w, height: h }: Pick<NodeGeometry, 'shape' | 'width' | 'height'>): {
  outline: Polygon;
  band: Polygon;
} {
  if (shape === 'pennant')
    return {
      outline: [
        [0, 0],
        [w - cut, 0],
        [w, h / 2],
        [w - cut, h],
        [0, h],
      ],
      band: [
        [w - cut - band, 0],
        [w - cut, 0],
        [w, h / 2],
        [w - cut, h],
        [w - cut - band, h],
        [w - band, h / 2],
      ],
    };
  return {
    outline: [
      [0, 0],
      [w, 0],
      [w, h],
      [0, h],
      [cut, h / 2],
    ],
    band: [
      [0, 0],
      [band, 0],
      [cut + band, h / 2],
      [band, h],
      [0, h],
      [cut, h / 2],
    ],
  };
}

/** Left edge of a link's name, past the notch or at the flag's staff. */
export const linkTextLeft = (shape: NodeGeometry['shape']): number => (shape === 'pennant' ? 7 : cut + band + 4);
