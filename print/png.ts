import { LetterOutlines } from '@basitax/core/sheet/letters';
import type { Sheet } from '@basitax/core/sheet/shapes';
import { sheetSvg } from '@basitax/core/sheet/svg';
import { Resvg } from '@resvg/resvg-js';

/** No picture is larger than this, in pixels along either side and in all: more does not fit into memory. */
const longest = 16_384;
const most = 100_000_000;

/** How many pixels of a picture stand for one of a sheet: as many as are wanted, or as fit. */
export function pictureScale({ width, height }: Sheet, wanted: number): number {
  return Math.min(wanted, longest / width, longest / height, Math.sqrt(most / (width * height)));
}

/**
 * A sheet as PNG, its texts as outlines. `scale`: pixels for one of the sheet, as many as `pictureScale` allows.
 * O(shapes + pixels).
 */
export function sheetPng(sheet: Sheet, scale: number): Uint8Array {
  const svg = sheetSvg(sheet, { outlines: new LetterOutlines() });
  // what no shipped font has comes from those of the machine, where there are any
  return new Resvg(svg, { fitTo: { mode: 'zoom', value: scale } }).render().asPng();
}
