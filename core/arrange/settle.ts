import type { Rect } from '../document/geometry.ts';

export interface SettleOptions {
  /** How far apart edges may lie that are meant to be one line, in pixels. */
  readonly tolerance: number;
  /** Make gaps that are nearly equal equal. */
  readonly even: boolean;
}

/**
 * Lines up what was meant to be lined up: left edges that lie nearly on one line become a column, tops a row; gaps
 * between columns and rows that are nearly equal become equal. Both maps are monotone, so nothing changes its order to
 * the left or right, above or below.
 * O(n log n).
 */
export function settle(
  rects: readonly Rect[],
  options: SettleOptions,
): { x: Float64Array; y: Float64Array; columns: number; rows: number } {
  const x = settleAxis(rects, 'x', options);
  const y = settleAxis(rects, 'y', options);
  return { x: x.place, y: y.place, columns: x.lines, rows: y.lines };
}

function settleAxis(
  rects: readonly Rect[],
  axis: 'x' | 'y',
  { tolerance, even }: SettleOptions,
): { place: Float64Array; lines: number } {
  const extent = axis === 'x' ? 'width' : 'height';
  const order = rects.map((_, i) => i).sort((a, b) => rects[a]![axis] - rects[b]![axis] || a - b);
  const lines: number[][] = [];
  for (const i of order) {
    const line = lines[lines.length - 1];
    // a line is no wider than the tolerance from its first member to its last, and holds none that stand side by side
    // along the axis
    if (
      line &&
      rects[i]![axis] - rects[line[0]!]![axis] <= tolerance &&
      line.every((k) => rects[i]![axis] < rects[k]![axis] + rects[k]![extent])
    )
      line.push(i);
    else lines.push([i]);
  }
  const at = lines.map((line) => median(line.map((i) => rects[i]![axis])));
  if (even) evenGaps(at, lines, rects, extent);
  const place = new Float64Array(rects.length);
  lines.forEach((line, n) => {
    for (const i of line) place[i] = at[n]!;
  });
  return { place, lines: lines.length };
}

/**
 * Steps between lines that differ from the usual one by less than a third become the usual one; others stay as they
 * are.
 */
function evenGaps(at: number[], lines: readonly number[][], rects: readonly Rect[], extent: 'width' | 'height'): void {
  if (at.length < 3) return;
  const size = lines.map((line) => line.reduce((most, i) => Math.max(most, rects[i]![extent]), 0));
  const gaps = at.slice(1).map((place, n) => place - at[n]! - size[n]!);
  const usual = Math.round(median(gaps.filter((gap) => gap > 0)));
  if (!Number.isFinite(usual) || usual <= 0) return;
  const old = [...at];
  for (let n = 1; n < at.length; n++) {
    const gap = gaps[n - 1]!;
    const isUsual = Math.abs(gap - usual) <= usual / 3;
    at[n] = at[n - 1]! + (isUsual ? size[n - 1]! + usual : old[n]! - old[n - 1]!);
  }
}

function median(values: readonly number[]): number {
  if (values.length === 0) return Number.NaN;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}
