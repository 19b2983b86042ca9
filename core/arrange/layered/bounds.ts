import type { Rect } from '../../document/geometry.ts';
import type { LayeredGraph } from './graph.ts';

/** What some nodes cover at the places given, with the margins of all frames around them. O(nodes · depth). */
export function boundsOf(
  { width, height, frames }: LayeredGraph,
  nodes: Iterable<number>,
  { x, y }: { readonly x: ArrayLike<number>; readonly y: ArrayLike<number> },
): Rect {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const v of nodes) {
    let [before, above, after, below] = [0, 0, 0, 0];
    for (let f = frames?.of[v] ?? -1; frames && f !== -1; f = frames.parent[f]!) {
      before += frames.before[f]!;
      above += frames.above[f]!;
      after += frames.after[f]!;
      below += frames.below[f]!;
    }
    left = Math.min(left, x[v]! - before);
    top = Math.min(top, y[v]! - above);
    right = Math.max(right, x[v]! + width[v]! + after);
    bottom = Math.max(bottom, y[v]! + height[v]! + below);
  }
  return { x: left, y: top, width: right - left, height: bottom - top };
}
